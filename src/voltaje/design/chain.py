"""The chain of one run, written once over the questions of a book: device, conductor, drop, earth."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass
from functools import lru_cache

from voltaje.books.answers import MOST_SETS, Capacity, Choice, EarthConductor, Run
from voltaje.books.questions import Book
from voltaje.design.amended import unamended
from voltaje.design.drop import Drop, drop_of
from voltaje.errors import InputError, NoLawfulAnswer
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.rounding import exceeds
from voltaje.sheet import Citation, Sheet, off

NEXT = Formula("min(ratings)")
NOT_UNDER = Formula("max(need, least)")

_DESIGNS_KEPT = 32_000
DUST_A = 1e-6  # sums of entered decimals carry binary dust


@dataclass(frozen=True)
class Pins:
    """What a person fixed by hand; None is left to the engine.

    protective: the protective conductor's size
    by_rule: whether the size is what a rule asks beside the load, not a person's: nothing is larger than it must be
    """

    device_a: float | None = None
    size: str | None = None
    sets: int | None = None
    protective: str | None = None
    by_rule: bool = False

    @property
    def any(self) -> bool:
        """Whether anything is fixed."""
        return bool(self.device_a or self.size or self.sets)


@dataclass(frozen=True, slots=True)
class RunDesign:
    """A run sized: the choice, what it carries, its neutral, drop and earth, and what is to be said of it.

    neutral: size of the neutral, "" where the run has none
    other: the conductor by the other practice of terminals, None where it makes no difference
    drop: None where the run has no length
    """

    run: Run
    choice: Choice
    need_a: float
    capacity: Capacity
    neutral: str
    earth: EarthConductor
    conduit: str
    other: Choice | None
    drop: Drop | None
    findings: tuple[Finding, ...]


def size_run(run: Run, pins: Pins, book: Book, sheet: Sheet) -> RunDesign:
    """Return a run sized by its book; pins are kept, and what they break is a finding.

    Raises: InputError at the key that stands in the way, where there is no lawful answer at all.
    """
    book.check(run)
    _check_pins(pins, run, book)
    with sheet.section("device"):
        need, wanted = _device(run, pins, book, sheet)
        device = pins.device_a or wanted
        if pins.device_a:
            sheet.read(device, Message("Device, pinned"), "A", book.device_rule)
    with sheet.section("conductor"):
        choice = _choose(run, wanted, pins, book)._replace(device_a=device)
        capacity = book.capacity(run, choice, sheet)
        if sheet.on and pins.size is None:
            _not_smaller(run, choice, book, sheet)
    # A conductor that was chosen here complies; what was pinned may not.
    objections = book.objections(run, choice) if pins.any else ()
    findings = [_stop(_OBJECTED[each.what or each.key], each.message, each.rule, each.key) for each in objections]
    if pins.device_a and not run.guard and pins.device_a not in book.made_devices(run):
        message = Message("{device} is not a standard rating.", device=Figure(pins.device_a, "A"))
        findings.append(_stop("device.no_standard_rating", message, book.device_rule, "device_a"))
    with sheet.section("earth"):
        earth = book.earth(run, choice, _by_load(run, choice, pins, book), sheet)
        if pins.protective:
            earth = earth._replace(size=pins.protective)
            sheet.read(float(earth.size), Message("Protective conductor, pinned"), "mm²", earth.rule)
    with sheet.section("conductor"):
        neutral = neutral_of(run, choice, earth, book, sheet)
    with sheet.section("drop"):
        drop = drop_of(run, choice, neutral, book, sheet)
    if drop is not None and exceeds(drop.percent, drop.limit.percent):
        findings.append(_over(drop))
    findings += book.remarks(run, choice, pins.any)
    conduit = book.conduit(run, choice, earth, neutral if run.neutral else "") if sheet.on else ""
    other = _other_terminals(run, choice, pins, book) if sheet.on else None
    return RunDesign(run, choice, need, capacity, neutral, earth, conduit, other, drop, tuple(findings))


def _by_load(run: Run, choice: Choice, pins: Pins, book: Book) -> Choice:
    """Return the smallest conductor that the load and the device ask for, whatever was pinned or is local custom."""
    plain = unamended(book)
    if (pins.size is None or pins.by_rule) and plain is book:
        return choice
    return least_choice(run, choice.device_a, choice.sets, plain) or choice


@lru_cache(maxsize=_DESIGNS_KEPT)
def sized(run: Run, pins: Pins, book: Book) -> RunDesign:
    """Return `size_run` without its steps.

    An edit solves the whole job again; that most of its runs are as they were need not be found out again.
    """
    return size_run(run, pins, book, off())


def neutral_of(run: Run, choice: Choice, earth: EarthConductor, book: Book, sheet: Sheet) -> str:
    """Return the size of the neutral beside the lines, "" where the run has none."""
    return book.neutral(run, choice, earth, sheet) if run.neutral else ""


def _device(run: Run, pins: Pins, book: Book, sheet: Sheet) -> tuple[float, float]:
    """Return the current that is needed, and the device that the conductors are chosen for [A]."""
    if run.guard:
        return plain_need(run, book), pins.device_a or run.guard.device_a  # its rule is on the sheet already
    need = _need(run, book, sheet)
    pinned = pins.device_a if pins.device_a and pins.device_a >= need - DUST_A else None
    if run.fuse_a and not pinned and need <= run.fuse_a + DUST_A:
        because = Message("a fuse under the smallest breaker, by the rule of what it feeds")
        return need, sheet.read(run.fuse_a, Message("Device"), "A", book.device_rule, because)
    return need, pinned or next_device(need, run, book, sheet)


def _need(run: Run, book: Book, sheet: Sheet) -> float:
    need = book.device_need(run, sheet)
    if run.least_device_a <= need:
        return need
    because = Message("such a circuit is never rated less")
    label = Message("Need, and the least rating")
    return sheet.apply(NOT_UNDER, label, "A", book.device_rule, because, need=need, least=run.least_device_a)


_OBJECTED = {
    "device_a": "device.under_load",
    "size": "conductor.too_small",
    "sets": "conductor.parallel_too_small",
    "ceiling": "device.over_ceiling",
}


def _stop(code: str, message: Message, rule: Citation, field: str) -> Finding:
    return Finding(Severity.STOP, code, message, rule, field)


def _over(drop: Drop) -> Finding:
    limit = drop.limit
    message = Message(
        "The drop is {percent}, over {limit}.",
        percent=Figure(drop.percent, "%", 2),
        limit=Figure(limit.percent, "%", 2),
    )
    mend = Message("Take a larger size from the options, or shorten the run.")
    return Finding(
        Severity.STOP if limit.mandatory else Severity.WARN, "drop.over_limit", message, limit.rule, "length", mend
    )


def _check_pins(pins: Pins, run: Run, book: Book) -> None:
    if pins.size is not None and pins.size not in book.sizes(run):
        message = Message("{size} is not in the table, which has: {known}", size=pins.size, known=list(book.sizes(run)))
        raise InputError("size", message)


def next_device(need: float, run: Run, book: Book, sheet: Sheet) -> float:
    """Return the smallest standard rating not under a need [A]. Raises InputError above the largest."""
    ratings = book.devices(run)
    enough = ratings[bisect_left(ratings, need - DUST_A) :]
    if not enough:
        most = Figure(ratings[-1], "A")
        raise NoLawfulAnswer(
            "amps", Message("{need} is above the largest rating, {most}", need=Figure(need, "A"), most=most)
        )
    if not sheet.on:
        return enough[0]
    because = Message("the smallest standard rating not under {need}", need=Figure(need, "A", 1))
    below = ratings[: len(ratings) - len(enough)]
    if below:
        because = Message(
            "the smallest standard rating not under {need}; {below} is under it",
            need=Figure(need, "A", 1),
            below=Figure(below[-1], "A"),
        )
    device = sheet.apply(NEXT, Message("Device"), "A", book.device_rule, because, ratings=enough[:3])
    sheet.decides()
    return device


def _not_smaller(run: Run, choice: Choice, book: Book, sheet: Sheet) -> None:
    """Write why the next smaller size does not serve: the first test that it fails, with both numbers."""
    known = book.sizes(run)
    at = known.index(choice.size)
    if at == 0:
        return
    smaller = choice._replace(size=known[at - 1])
    why = next(iter(book.objections(run, smaller)), None)
    if why is not None:
        label = Message("Not {size} {material}", size=smaller.size, material=run.material)
        sheet.read(book.capacity(run, smaller, off()).ampacity_a, label, "A", why.rule, why.message)
        sheet.decides()


def least_choice(run: Run, device: float, sets: int | None, book: Book) -> Choice | None:
    """Return the smallest lawful conductor for a device: the fewest sets of sizes pulled by choice, then of any."""
    known, by_choice = book.sizes(run), book.sizes_by_choice(run)
    for usable in (known,) if sets else (by_choice, known):
        for each in [sets] if sets else range(1, MOST_SETS + 1):
            holds = book.complying(run, device, each)
            if usable and holds(usable[-1]):
                return Choice(device, usable[bisect_left(usable, True, key=holds)], each)
    return None


def _choose(run: Run, device: float, pins: Pins, book: Book) -> Choice:
    if pins.size is not None:
        return Choice(device, pins.size, pins.sets or 1)
    found = least_choice(run, device, pins.sets, book)
    if found is None:
        # What the largest conductor is still refused for tells which key stands in the way.
        largest = book.sizes(run)[-1]
        last = book.objections(run, Choice(device, largest, pins.sets or MOST_SETS))
        if not pins.sets and all(each.key == "sets" for each in last):
            last = book.objections(run, Choice(device, largest, 1))  # it is not made large enough to lie in parallel
        key = "sets" if pins.sets else "device_a" if pins.device_a else last[0].key
        raise NoLawfulAnswer(key, last[0].message, str(last[0].rule))
    return found


def _other_terminals(run: Run, choice: Choice, pins: Pins, book: Book) -> Choice | None:
    other = book.other_terminals(run, choice)
    found = least_choice(other, choice.device_a, pins.sets, book) if other else None
    return found if found and found != choice else None


def plain_need(run: Run, book: Book) -> float:
    """Return the current that a run's device may not be under [A], unrecorded."""
    return max(book.device_need(run, off()), run.least_device_a)
