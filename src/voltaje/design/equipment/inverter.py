"""An inverter on its breaker: the rule of its book, the device by what it keeps of its rating, the run."""

from __future__ import annotations

from voltaje.books.answers import Run
from voltaje.books.machines import InverterAsked, InverterRule
from voltaje.books.questions import Book, Inverters
from voltaje.errors import NoLawfulAnswer
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.rounding import DUST
from voltaje.sheet import Sheet

OVER = Formula("amps / (ambient * neighbours * enclosure)")


def inverter_device(inverter: InverterAsked, book: Book, sheet: Sheet) -> tuple[InverterRule, float]:
    """Return what an inverter's breaker is taken by, and its rating [A]. Raises NoLawfulAnswer above the largest."""
    with sheet.section("device"):
        rule = book.asked(Inverters).breaker(inverter, sheet)
        factors = rule.factors
        need = sheet.apply(
            OVER,
            Message("Rating, at least"),
            "A",
            book.device_rule,
            Message("what the breaker keeps of its rating where it stands"),
            amps=rule.needed_a,
            ambient=factors.ambient,
            neighbours=factors.neighbours,
            enclosure=factors.enclosure,
        )
        enough = [rating for rating in book.devices() if rating >= need - DUST]
        if not enough:
            raise NoLawfulAnswer("output", Message("{need} is above the largest rating", need=Figure(need, "A")))
        because = Message("the smallest standard rating not under it")
        return rule, sheet.read(enough[0], Message("Breaker"), "A", book.device_rule, because)


def usual_factors(rule: InverterRule, device_a: float, book: Book, where: str) -> list[Finding]:
    """Return what there is to say where usual values stand for factors that nobody entered."""
    if not rule.factors.usual:
        return []
    plain = next((rating for rating in book.devices() if rating >= rule.needed_a - DUST), device_a)
    names = {"ambient": Message("ambient"), "neighbours": Message("neighbours"), "enclosure": Message("enclosure")}
    message = Message(
        "Usual values stand for what was not entered: {which}. At 1 it would be {plain}.",
        which=[names[each] for each in rule.factors.usual],
        plain=Figure(plain, "A"),
    )
    mend = Message("Enter the maker's factors.")
    return [Finding(Severity.WARN, "inverter.usual_factors", message, None, where, mend)]


def inverter_run(run: Run, rule: InverterRule, device_a: float) -> Run:
    """Return the run of an inverter: it carries what the rule asks, behind that device."""
    return run._replace(amps=rule.needed_a, continuous_a=0.0, least_device_a=device_a)
