"""The bank tool: single-phase units joined so that a supply gives the volts that are wanted."""

from __future__ import annotations

from voltaje.design.windings.bank import (
    MOST_PERCENT,
    OPEN,
    OPEN_OF_THREE,
    OPEN_OF_TWO,
    Candidate,
    Thought,
    Unit,
    alike,
    candidates,
    reasoning,
)
from voltaje.design.windings.groups import HIGH, LOW, group_of
from voltaje.design.windings.groups import Group as VectorGroup
from voltaje.errors import InputError, NoLawfulAnswer
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import FLAG, KVA, Json, number, one_number, one_word, several
from voltaje.message import Figure, Message
from voltaje.path.transformer import MadeAs
from voltaje.physics.transformer import rated_amps
from voltaje.physics.windings import three_phase, wound
from voltaje.quantity import read_volts
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet
from voltaje.systems import system_of
from voltaje.tools.autos import NEAR_PERCENT
from voltaje.tools.conductors import OfABook
from voltaje.tools.tool import WINDINGS, Answered, Group, Head, Tool

_UNITS, _WANTED = Message("Units"), Message("Wanted")
_VOLTS = number(0, 800_000, "V", read_volts)
_TAP = number(-25, 25, "%")
_USUAL_TAPS = (0.0,)
_MOST_TAPS, _THREE, _TWO = 12, 3, 2
_TOLD_PERCENT = 0.05  # what is nearer is told as 0.0 %
_OF_SYSTEM, _MOST_OF_A_JOB_V = 0.03, 1000.0  # so near its volts are a system's; a job's equipment ends there

_WINDING = Formula("supply / turns * low")
_WINDING_STAR = Formula("supply / sqrt(3) / turns * low")
_STAR, _DELTA = Formula("winding * sqrt(3)"), Formula("winding * 1")
_SUM = Formula("units * kva")
_OPEN = Formula("units * kva * sqrt(3) / 2")


class BankAsked(OfABook):
    """What a bank is asked by."""

    units: int = declared(one_number(2, 3), "single-phase units; two make an open delta", "How many", _UNITS, shown=3)
    kva_each: float | None = declared(KVA, "of each", "Each", _UNITS, "kVA")
    primary_v: float = declared(
        _VOLTS, "rated, of the winding on the supply", "Primary winding", _UNITS, "V", required=True
    )
    secondary_v: float = declared(_VOLTS, "rated, of the other", "Secondary winding", _UNITS, "V", required=True)
    taps_on: str = declared(
        one_word("primary", "secondary"), "which winding has taps", "Taps on", _UNITS, shown="primary"
    )
    taps: list[float] | None = declared(
        several(_TAP, _MOST_TAPS), "per cent of the winding: 5; 2.5; 0; -2.5; -5", "Taps", _UNITS, "%"
    )
    supply_v: float = declared(_VOLTS, "measured, line to line", "Supply, measured", _WANTED, "V", required=True)
    wanted_v: float = declared(_VOLTS, "line to line", "Line volts wanted", _WANTED, "V", required=True)
    neutral: bool = declared(
        FLAG, "that loads stand between a line and neutral: a star point", "Loads to neutral", _WANTED, shown=False
    )
    winding_percent: float = declared(
        number(50, 200, "%"),
        "of rated volts per turn that a winding may stand",
        "Winding may stand",
        _WANTED,
        "%",
        shown=105,
        default=MOST_PERCENT,
    )


def solve(asked: BankAsked) -> Answered:
    """Return the best connection of a bank, and all others. Raises InputError at its field."""
    unit = Unit(
        asked.primary_v, asked.secondary_v, asked.taps_on, tuple(asked.taps or _USUAL_TAPS), asked.kva_each or 0.0
    )
    how = asked.units, asked.supply_v, asked.wanted_v, asked.winding_percent
    if asked.neutral and asked.units == _TWO:
        raise InputError("neutral", Message("two units make an open delta, which has no star point: three are needed"))
    found = candidates(unit, *how, asked.neutral)
    best = found[0]
    if best.struck:
        message = Message(
            "every connection puts its windings over {most} of their rating", most=Figure(asked.winding_percent, "%")
        )
        raise NoLawfulAnswer("supply_v", message)
    sheet = Sheet()
    _steps(asked, best, sheet)
    group = None if best.connection == OPEN else group_of(best.windings)
    result: Json = {
        "best": _json(best) | {"group": group.name if group else OPEN},
        "candidates": [_json(each) | {"struck": each.struck} for each in found],
        **_capacity(asked, best, sheet),
    }
    thoughts = reasoning(unit, *how, asked.neutral)
    held = dict(zip(HIGH, three_phase(asked.supply_v), strict=True))
    at_work = wound(best.windings.coils, best.windings.joints, held)
    drawn = {"windings": best.windings, "found": at_work, "high": HIGH, "low": LOW}
    facts = {
        **drawn,
        "asked": asked,
        "candidates": found,
        "best": best,
        "thoughts": [*(_said(each) for each in thoughts), *_tap_taken(found, best)],
        "group": group,
    }
    findings, heads = _findings(asked, found), _heads(asked, result, best)
    onward = _onward(asked, best, group)
    return Answered(asked.book, result, sheet.steps, findings, heads, facts.copy, _nodes(asked, best), onward)


def _nodes(asked: BankAsked, best: Candidate) -> tuple[Json, ...]:
    """Return the bank as a transformer of a job; nothing where there is no such system, or no kVA."""
    star, opened = best.has_neutral, best.connection == OPEN
    secondary = system_of(asked.wanted_v, _THREE, star, _OF_SYSTEM)
    if secondary is None or not asked.kva_each or asked.primary_v > _MOST_OF_A_JOB_V:
        return ()
    entries = {
        "made_as": MadeAs.BANK.value,
        "kva": f"{asked.kva_each:g}",
        "secondary": secondary.name,
        "connection": "" if opened else best.connection,
        "units": str(_TWO if opened else _THREE),
        "unit_primary_v": f"{asked.primary_v:g}",
        "unit_secondary_v": f"{asked.secondary_v:g}",
        "tap": f"{best.tap:g}",
        "taps_on": asked.taps_on,
    }
    return ({"kind": "transformer", "name": "Bank", "transformer": {key: on for key, on in entries.items() if on}},)


def _onward(asked: BankAsked, best: Candidate, group: VectorGroup | None) -> Json:
    """Return the bank as a vector group, where it makes one."""
    if group is None or group.hour is None:
        return {}
    return {"vector-group": {"group": group.name, "high_v": asked.supply_v, "low_v": round(best.line_v, 1)}}


def _json(each: Candidate) -> Json:
    return {
        "connection": each.connection,
        "tap": each.tap,
        "line_v": each.line_v,
        "winding_percent": each.winding_percent,
        "error_percent": each.error_percent,
    }


def _steps(asked: BankAsked, best: Candidate, sheet: Sheet) -> None:
    part = 1 + best.tap / 100
    on_primary = asked.taps_on == "primary"
    turns, low = asked.primary_v * (part if on_primary else 1), asked.secondary_v * (1 if on_primary else part)
    star = best.connection[0] == "Y"
    because = (
        Message("a star puts 1 ÷ √3 of the line on each winding") if star else Message("each winding between two lines")
    )
    winding = sheet.apply(
        _WINDING_STAR if star else _WINDING,
        Message("Secondary winding, tap {tap}", tap=Figure(best.tap, "%", 1)),
        "V",
        None,
        because,
        supply=asked.supply_v,
        turns=turns,
        low=low,
    )
    label = Message("Line to line")
    sheet.apply(_STAR if best.connection[-1] == "y" else _DELTA, label, "V", None, None, winding=winding)


def _capacity(asked: BankAsked, best: Candidate, sheet: Sheet) -> Json:
    """Return what the bank carries, and what is left with one unit lost [kVA]."""
    if not asked.kva_each:
        return {"bank_kva": None, "one_lost_kva": None, "line_a": None}
    opened = best.connection == OPEN
    whole = sheet.apply(
        _OPEN if opened else _SUM,
        Message("The bank carries"),
        "kVA",
        None,
        Message("86.6 % of its two units") if opened else None,
        units=_TWO if opened else asked.units,
        kva=asked.kva_each,
    )
    lost = None
    if best.connection == "Dd":
        lost = sheet.apply(
            _OPEN,
            Message("With one unit lost, as an open delta"),
            "kVA",
            None,
            Message("57.7 % of the three, 86.6 % of the two"),
            units=_TWO,
            kva=asked.kva_each,
        )
    return {
        "bank_kva": whole,
        "one_lost_kva": lost if lost is not None else 0.0,
        "line_a": rated_amps(whole, best.line_v, _THREE),
    }


def _said(thought: Thought) -> Message:
    """Say a step of the reasoning."""
    figures = [Figure(each, "V", 1) for each in thought.figures]
    if thought.matter == "open":
        return Message(
            "Two units make an open delta: they carry {of_three} of what three would, {of_two} of their own.",
            of_three=Figure(OPEN_OF_THREE * 100, "%", 1),
            of_two=Figure(OPEN_OF_TWO * 100, "%", 1),
        )
    if thought.matter in ("neutral", "star"):
        return _said_of_star(thought, figures)
    if thought.matter == "primary":
        supply, rated, _under = figures
        if thought.kept == "Y":
            return Message(
                "{supply} is above the {rated} of the winding: star on that side; delta would overdrive it.",
                supply=supply,
                rated=rated,
            )
        return Message(
            "{supply} fits the {rated} winding: delta there; star leaves it at {under}.",
            supply=supply,
            rated=rated,
            under=Figure(thought.figures[2], "%"),
        )
    if thought.matter == "secondary":
        wanted, winding, star = figures
        if thought.kept == "y":
            return Message(
                "{wanted} is more than the {winding} of one winding: star there, {star}.",
                wanted=wanted,
                winding=winding,
                star=star,
            )
        return Message(
            "{wanted} is what one winding gives, {winding}: delta there; star would give {star}.",
            wanted=wanted,
            winding=winding,
            star=star,
        )
    now, wanted = figures
    if thought.kept == "high":
        return Message(
            "Now {now}, over {wanted}: more turns on the primary, or fewer on the secondary, bring it down.",
            now=now,
            wanted=wanted,
        )
    return Message(
        "Now {now}, under {wanted}: fewer turns on the primary, or more on the secondary, bring it up.",
        now=now,
        wanted=wanted,
    )


def _said_of_star(thought: Thought, figures: list[Figure]) -> Message:
    """Say a step of the reasoning where the secondary must be a star."""
    if thought.matter == "neutral":
        return Message("Loads to neutral hang on a star point: star on the secondary.")
    star, delta, wanted = figures
    kept = Message("star") if thought.kept == "Y" else Message("delta")
    return Message(
        "Star on the primary gives {star}, delta {delta}; for {wanted}, {kept} there.",
        star=star,
        delta=delta,
        wanted=wanted,
        kept=kept,
    )


def _tap_taken(found: list[Candidate], best: Candidate) -> list[Message]:
    """Say which tap was taken, and what the next nearest would have given."""
    others = [each for each in found if each.connection == best.connection and each is not best]
    if not others:
        return []
    other = min(others, key=lambda each: abs(each.error_percent))
    return [
        Message(
            "Tap {tap}: {volts}, {off} off. The next, {other}, gives {less}: farther.",
            tap=Figure(best.tap, "%", 1),
            volts=Figure(best.line_v, "V", 1),
            off=Figure(abs(best.error_percent), "%", 1),
            other=Figure(other.tap, "%", 1),
            less=Figure(other.line_v, "V", 1),
        )
    ]


def _findings(asked: BankAsked, found: list[Candidate]) -> list[Finding]:
    best, said = found[0], _of_its_volts(asked, found)
    if best.has_neutral:
        message = Message("The star point of the secondary is earthed, once, at the bank: loads to neutral hang on it.")
        said.append(Finding(Severity.NOTE, "bank.star_point", message, asked.book.rule("derived"), "secondary_v"))
    if best.connection == "Yy":
        message = Message(
            "Star to star: the primary's star point goes to the supply's neutral, else loads to neutral and "
            "third harmonics push it about."
        )
        said.append(Finding(Severity.WARN, "bank.star_star", message, None, "units"))
    elif best.connection.startswith("Y"):
        message = Message(
            "The primary's star point is left unearthed: earthed, the delta would feed every fault of the "
            "supply's lines."
        )
        said.append(Finding(Severity.NOTE, "bank.primary_star", message, None, "units"))
    if best.connection == OPEN and asked.units == _THREE:
        message = Message("An open delta uses two of the three units.")
        said.append(Finding(Severity.NOTE, "bank.open", message, None, "units"))
    return said


def _of_its_volts(asked: BankAsked, found: list[Candidate]) -> list[Finding]:
    """Say where the best is far from what is wanted, and what else gives the same volts."""
    best, said = found[0], []
    if exceeds(abs(best.error_percent), NEAR_PERCENT):
        # A nearer one may be struck out for its windings, or have no star point: the words claim no more than that.
        which = Message("with a star point") if asked.neutral else Message("within its windings' rating")
        message = Message(
            "The nearest {which} gives {volts}, {off} off the {wanted} wanted.",
            which=which,
            volts=Figure(best.line_v, "V", 1),
            off=Figure(best.error_percent, "%", 1),
            wanted=Figure(asked.wanted_v, "V", 1),
        )
        mend = Message("Other units or taps, or a boost beside it.")
        said.append(Finding(Severity.WARN, "bank.not_near", message, None, "wanted_v", mend))
    others = [each for each in alike(found) if each.connection != best.connection]
    if others:
        named = ", ".join(dict.fromkeys(each.connection for each in others))
        why = (
            Message("what has a star point")
            if asked.neutral
            else Message("what has all units at work, its windings nearest their rating")
        )
        message = Message("The same volts come from {others} too. Taken: {why}.", others=named, why=why)
        said.append(Finding(Severity.NOTE, "bank.alike", message, None, "wanted_v"))
    return said


def _heads(asked: BankAsked, result: Json, best: Candidate) -> tuple[Head, ...]:
    error = Figure(abs(best.error_percent), "%", 1)
    if abs(best.error_percent) < _TOLD_PERCENT:
        off = Message("what is wanted")
    elif best.error_percent > 0:
        off = Message("{error} over what is wanted", error=error)
    else:
        off = Message("{error} under what is wanted", error=error)
    heads = [
        Head(Message("Connect it"), result["best"]["group"], "", Message("tap {tap}", tap=Figure(best.tap, "%", 1))),
        Head(Message("Gives"), Figure(best.line_v, "V", 1), "", off),
        Head(
            Message("Winding at"),
            Figure(best.winding_percent, "%"),
            "",
            Message("{most} allowed", most=Figure(asked.winding_percent, "%")),
        ),
    ]
    if result["bank_kva"]:
        heads.append(
            Head(
                Message("Carries"),
                Figure(result["bank_kva"], "kVA", 1),
                "",
                Message("{amps} a line", amps=Figure(result["line_a"], "A", 1)),
                main=False,
            )
        )
    return tuple(heads)


TOOL = Tool(
    name="bank",
    title=Message("Bank of transformers"),
    question=Message("How are three single-phase units joined for these volts?"),
    group=Group.SUPPLY,
    place=6,
    words=("bank", "star", "delta", "wye", "open delta", "vv", "single-phase units", "connection", "taps", "pole"),
    studio=WINDINGS,
    asks=BankAsked,
    solve=solve,
    example={
        "nec": {
            "units": 3,
            "kva_each": "25 kVA",
            "primary_v": "480 V",
            "secondary_v": "120 V",
            "taps": [5, 2.5, 0, -2.5, -5],
            "supply_v": "498 V",
            "wanted_v": "208 V",
        },
        "iec": {
            "units": 3,
            "kva_each": "25 kVA",
            "primary_v": "6350 V",
            "secondary_v": "230 V",
            "taps": [5, 2.5, 0, -2.5, -5],
            "supply_v": "11000 V",
            "wanted_v": "400 V",
        },
    },
    caution=Message(
        "Before loading, measure between every two lines: one coil turned round shows there. Utility and licensed "
        "person decide; above 1,000 V only those trained for it."
    ),
)
