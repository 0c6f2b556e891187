"""The edison tool: a three-wire ladder, junction by junction and loop by loop, and its neutral opened."""

from __future__ import annotations

import cmath
import math
from typing import NamedTuple

from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import AMPS_OR_NONE, TEXT, VOLTS, Json, number, several, whole
from voltaje.message import Figure, Message
from voltaje.physics.ladder import Found, Rung, Section, ladder
from voltaje.quantity import read_ohms, read_watts
from voltaje.sheet import Sheet
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import OfABook
from voltaje.tools.tool import Answered, Group, Head, Tool

_SUPPLY, _SECTIONS, _NEUTRAL = Message("Supply"), Message("Sections"), Message("Neutral")
_MOST = 12
_OHM = number(-1e-12, 1e6, "Ω", read_ohms)
_LOAD_OHM = number(0, 1e9, "Ω", read_ohms)
_WATTS = number(-1e-12, 1e6, "W", read_watts)
_ANGLE = number(0, 180, "°")
_SIDES = ("1", "2", "line")
_HALF_TURN = 180.0

_JUNCTION = Formula("line2 - line1")
_SUM = Formula("sum(parts)")
_LOOP_1 = Formula("before - line_ohm * line_amps + neutral_ohm * neutral_amps")
_LOOP_2 = Formula("before - line_ohm * line_amps - neutral_ohm * neutral_amps")
_TOGETHER = Formula("1 / sum(parts)")
_SHARE = Formula("volts * own / (own + other)")


class SectionItem(Asked):
    """A section of the ladder: its conductors and the loads at its end. A load is in A, W or Ω."""

    line1_ohm: float = declared(_OHM, "of its line 1", "Line 1", hint="Ω", shown=0, default=0.0)
    neutral_ohm: float = declared(_OHM, "of its neutral", "Neutral", hint="Ω", shown=0, default=0.0)
    line2_ohm: float = declared(_OHM, "of its line 2", "Line 2", hint="Ω", shown=0, default=0.0)
    load1_a: float | None = declared(AMPS_OR_NONE, "on line 1", "Load on line 1", hint="A")
    load2_a: float | None = declared(AMPS_OR_NONE, "on line 2", "Load on line 2", hint="A")
    line_load_a: float | None = declared(AMPS_OR_NONE, "between the lines", "Between the lines", hint="A", more=True)
    name1: str = declared(TEXT, "what hangs on line 1", "Its name, line 1", shown="", more=True)
    name2: str = declared(TEXT, "what hangs on line 2", "Its name, line 2", shown="", more=True)
    load1_w: float | None = declared(_WATTS, "in place of A: at its nominal volts", "Line 1 in W", hint="W", more=True)
    load2_w: float | None = declared(_WATTS, "in place of A: at its nominal volts", "Line 2 in W", hint="W", more=True)
    line_load_w: float | None = declared(_WATTS, "in place of A", "Between lines in W", hint="W", more=True)
    load1_ohm: float | None = declared(_LOAD_OHM, "in place of A", "Line 1 in Ω", hint="Ω", more=True)
    load2_ohm: float | None = declared(_LOAD_OHM, "in place of A", "Line 2 in Ω", hint="Ω", more=True)
    line_load_ohm: float | None = declared(_LOAD_OHM, "in place of A", "Between lines in Ω", hint="Ω", more=True)

    def rung(self, side: str, nominal: float, at: int) -> Rung:
        """Return a load as it was given. Raises InputError where it was given twice."""
        prefix = "line_load" if side == "line" else f"load{side}"
        given = [unit for unit in ("a", "w", "ohm") if getattr(self, f"{prefix}_{unit}") is not None]
        if len(given) > 1:
            message = Message("give it once: in A, W or Ω")
            raise InputError(f"sections[{at}].{prefix}_{given[1]}", message)
        if not given:
            return Rung()
        value = getattr(self, f"{prefix}_{given[0]}")
        if given[0] == "w":
            return Rung(ohms=nominal**2 / value) if value else Rung()
        return Rung(ohms=value) if given[0] == "ohm" else Rung(amps=value)

    def name(self, side: str, at: int) -> str:
        """Return what a load is called."""
        own = {"1": self.name1, "2": self.name2}.get(side, "")
        return own or f"{at + 1}{'ab-'[_SIDES.index(side)]}"


class EdisonAsked(OfABook):
    """What a three-wire ladder is asked by."""

    volts: list[float] | None = declared(
        several(VOLTS, 2),
        "of each line to neutral",
        "Volts, each side",
        _SUPPLY,
        "V; V",
        by_family={"nec": "120; 120", "iec": "230; 230"},
    )
    angle_deg: float = declared(
        _ANGLE,
        "between the lines: 180 of a split phase, 120 of two legs of a wye",
        "Angle between them",
        _SUPPLY,
        hint="°",
        shown=180,
        more=True,
        default=_HALF_TURN,
    )
    band_percent: float | None = declared(
        number(0, 50, "%"),
        "that volts may lie off nominal; the supply's where not given",
        "Band",
        _SUPPLY,
        hint="%",
        more=True,
    )
    opened_section: int | None = declared(
        whole(1, _MOST),
        "its number, from the source; the answer is then the opened one's",
        "Opened in section",
        _NEUTRAL,
    )
    sections: list[SectionItem] = many(SectionItem, _SECTIONS, Message("section"), most=_MOST, required=True)

    @property
    def opened(self) -> int | None:
        """Return how many sections stand before the one whose neutral is opened [count]; None where it is whole."""
        return None if self.opened_section is None else self.opened_section - 1


def solve(asked: EdisonAsked) -> Answered:
    """Return what flows and what stands in a ladder. Raises InputError at the field that stands in the way."""
    sheet, opened = Sheet(), asked.opened
    if opened is not None and opened >= len(asked.sections):
        message = Message("there is no such section: the last is {last}", last=len(asked.sections))
        raise InputError("opened_section", message)
    nominal = _nominal(asked)
    volts = (complex(nominal[0]), cmath.rect(nominal[1], math.radians(asked.angle_deg)))
    across = (*nominal, abs(volts[0] - volts[1]))
    sections = [
        Section((each.line1_ohm, each.neutral_ohm, each.line2_ohm), _rungs(each, across, at))
        for at, each in enumerate(asked.sections)
    ]
    whole_ = ladder(volts, sections)
    found = whole_ if opened is None else ladder(volts, sections, opened)
    straight = asked.angle_deg == _HALF_TURN
    band, made_for = _Band.of(asked), _made_for(asked, nominal)
    if straight:
        _by_junctions(whole_, sheet)
        _by_loops(asked, whole_, nominal, sheet)
        if opened is not None:
            _in_series(found, opened, sheet)
    else:
        _as_phasors(asked, found, sheet)
    result: Json = {
        "sections": _rows(found, straight),
        "whole": _rows(whole_, straight),
        "band_v": [[side * (1 - band.low), side * (1 + band.high)] for side in made_for],
    }
    findings = list(_findings(asked, found, made_for, band))
    drawn = {
        "asked": asked,
        "whole": whole_,
        "found": found,
        "nominal": made_for,
        "band": band,
        "straight": straight,
        "seen": _seen(asked, found, made_for, band),
        "names": _names(asked),
    }
    return Answered(asked.book, result, sheet.steps, findings, _heads(asked, found, whole_), drawn.copy)


_MEASURED = 0.25  # volts this near the usual ones are those of such a supply, measured


def _made_for(asked: EdisonAsked, stands: tuple[float, float]) -> tuple[float, float]:
    """Return the volts that loads are made for [V]: a supply's nominal ones, however far what was measured lies off."""
    usual = _usual(asked)
    near = all(abs(volts / usual - 1) <= _MEASURED for volts in stands)
    return (usual, usual) if near else stands


def _usual(asked: EdisonAsked) -> float:
    return 230.0 if asked.book.terms.family == "iec" else 120.0


def _nominal(asked: EdisonAsked) -> tuple[float, float]:
    if asked.volts is None:
        usual = _usual(asked)
        return usual, usual
    if len(asked.volts) != len(("1", "2")):
        raise InputError("volts", Message("must be two: of line 1 and of line 2"))
    return asked.volts[0], asked.volts[1]


def _rungs(item: SectionItem, across: tuple[float, ...], at: int) -> tuple[Rung, Rung, Rung]:
    one, two, both = (item.rung(side, volts, at) for side, volts in zip(_SIDES, across, strict=True))
    return one, two, both


class _Band(NamedTuple):
    """How far volts may lie under and over nominal [share]."""

    low: float
    high: float

    @classmethod
    def of(cls, asked: EdisonAsked) -> _Band:
        if asked.band_percent is not None:
            return cls(asked.band_percent / 100, asked.band_percent / 100)
        low, high = asked.book.supply_band
        return cls(low / 100, high / 100)


def _rows(found: list[Found], straight: bool) -> list[Json]:
    """Return each section's figures; sizes alone where the lines are not half a turn apart."""

    def said(each: complex) -> float:
        return each.real if straight else abs(each)

    return [
        {
            "line1_a": said(each.line1),
            "neutral_a": said(each.neutral),
            "line2_a": said(each.line2),
            "load1_v": said(each.volts[0]),
            "load2_v": said(each.volts[1]),
            "line_v": said(each.volts[2]),
            "load1_a": said(each.amps[0]),
            "load2_a": said(each.amps[1]),
            "line_load_a": said(each.amps[2]),
        }
        for each in found
    ]


def _by_junctions(found: list[Found], sheet: Sheet) -> None:
    """Write the currents of each section: what its loads and those beyond draw, and what they do not cancel."""
    for at, each in enumerate(found):
        beyond = found[at + 1] if at + 1 < len(found) else None
        one = [each.amps[0].real, each.amps[2].real, *([beyond.line1.real] if beyond else [])]
        two = [each.amps[1].real, each.amps[2].real, *([beyond.line2.real] if beyond else [])]
        line1 = sheet.apply(_SUM, Message("Section {at}, line 1", at=at + 1), "A", None, None, parts=_some(one))
        line2 = sheet.apply(_SUM, Message("Section {at}, line 2", at=at + 1), "A", None, None, parts=_some(two))
        back = line1 - line2  # what the loads on line 1 send back
        because = Message("toward the source") if back > 0 else Message("toward the loads") if back < 0 else None
        sheet.apply(
            _JUNCTION, Message("Section {at}, neutral", at=at + 1), "A", None, because, line1=line1, line2=line2
        )


def _some(parts: list[float]) -> list[float]:
    return [each for each in parts if each] or [0.0]


def _by_loops(asked: EdisonAsked, found: list[Found], nominal: tuple[float, float], sheet: Sheet) -> None:
    """Write the volts of each load by going round its loop."""
    before = nominal
    for at, (each, item) in enumerate(zip(found, asked.sections, strict=True)):
        one = sheet.apply(
            _LOOP_1,
            Message("{name}, on line 1", name=item.name("1", at)),
            "V",
            None,
            None,
            before=before[0],
            line_ohm=item.line1_ohm,
            line_amps=each.line1.real,
            neutral_ohm=item.neutral_ohm,
            neutral_amps=each.neutral.real,
        )
        two = sheet.apply(
            _LOOP_2,
            Message("{name}, on line 2", name=item.name("2", at)),
            "V",
            None,
            None,
            before=before[1],
            line_ohm=item.line2_ohm,
            line_amps=each.line2.real,
            neutral_ohm=item.neutral_ohm,
            neutral_amps=each.neutral.real,
        )
        before = one, two


def _as_phasors(asked: EdisonAsked, found: list[Found], sheet: Sheet) -> None:
    """Write what flows and stands where the lines are not half a turn apart: sums have angles there."""
    because = Message("summed as phasors, {angle} apart", angle=Figure(asked.angle_deg, "°"))
    for at, (each, item) in enumerate(zip(found, asked.sections, strict=True)):
        for name, amps in (("line 1", each.line1), ("line 2", each.line2), ("neutral", each.neutral)):
            sheet.read(abs(amps), Message("Section {at}, {wire}", at=at + 1, wire=name), "A", None, because)
        for side in (0, 1):
            label = Message("{name}, on line {side}", name=item.name(_SIDES[side], at), side=side + 1)
            sheet.read(abs(each.volts[side]), label, "V", None, because)


def _in_series(found: list[Found], opened: int, sheet: Sheet) -> None:
    """Write how the loads beyond a break share the volts between the lines: two groups in a row."""
    groups = []
    for side in (0, 1):
        parts = [each.amps[side].real / each.volts[side].real for each in found[opened:] if each.amps[side]]
        if not parts:
            return
        label = Message("Beyond the break, on line {side}", side=side + 1)
        groups.append(sheet.apply(_TOGETHER, label, "Ω", None, Message("its loads side by side"), parts=parts))
    between = found[opened].volts[2].real
    because = Message(
        "in a row across both lines: the lighter side gets the most; what the conductors beyond lose is left out"
    )
    for side in (0, 1):
        label = Message("Volts of the group on line {side}, about", side=side + 1)
        sheet.apply(_SHARE, label, "V", None, because, volts=between, own=groups[side], other=groups[1 - side])


def _names(asked: EdisonAsked) -> list[tuple[str, str]]:
    return [(item.name("1", at), item.name("2", at)) for at, item in enumerate(asked.sections)]


class Seen(NamedTuple):
    """A load's volts as a person sees them: which, where, volts, share of nominal, whether out of band, in words."""

    name: str
    section: int
    side: int
    volts: float
    share: float
    out: bool
    words: Message


# What a person sees at a share of the nominal volts: common practice.
_WORDS = (
    (1.25, Message("far too bright, too fast, then smoke")),
    (1.0, Message("too bright, wears out early")),
    (0.8, Message("dim; motors run hot")),
    (0.0, Message("a dull glow; motors stall and overheat")),
)


def _seen(asked: EdisonAsked, found: list[Found], nominal: tuple[float, float], band: _Band) -> list[Seen]:
    seen = []
    for at, (each, item) in enumerate(zip(found, asked.sections, strict=True)):
        for side in (0, 1):
            if not each.amps[side]:
                continue
            volts = abs(each.volts[side])
            share = volts / nominal[side]
            out = not 1 - band.low <= share <= 1 + band.high
            words = next(words for least, words in _WORDS if share >= least) if out else Message("as before")
            seen.append(Seen(item.name(_SIDES[side], at), at, side, volts, share, out, words))
    return seen


def _findings(asked: EdisonAsked, found: list[Found], nominal: tuple[float, float], band: _Band) -> list[Finding]:
    opened = asked.opened
    said = []
    for each in _seen(asked, found, nominal, band):
        if each.out:
            severity = Severity.STOP if opened is not None else Severity.WARN
            message = Message(
                "{name}: {volts}, outside {low} to {high}: {words}.",
                name=each.name,
                volts=Figure(each.volts, "V", 1),
                words=each.words,
                low=Figure(nominal[each.side] * (1 - band.low), "V", 1),
                high=Figure(nominal[each.side] * (1 + band.high), "V", 1),
            )
            field = f"sections[{each.section}].load{each.side + 1}_a"
            said.append(Finding(severity, "ladder.out_of_band", message, None, field))
    if opened is not None:
        most = max(abs(each.line1) for each in found[opened:])
        message = Message(
            "No breaker opens: {amps} flow beyond the break, in both groups alike.", amps=Figure(most, "A", 1)
        )
        said.append(Finding(Severity.NOTE, "ladder.opened", message, None, "opened_section"))
        rule = asked.book.rule("spliced_neutral")
        if rule:
            message = Message("A shared neutral is spliced, so that no device taken out opens it.")
            said.append(Finding(Severity.NOTE, "ladder.spliced", message, rule, "opened_section"))
    return said


def _heads(asked: EdisonAsked, found: list[Found], whole_: list[Found]) -> tuple[Head, ...]:
    most = max(abs(each.neutral) for each in found)
    each_a = ", ".join(f"{abs(each.neutral):.1f}" for each in found[:_SHOWN])
    seen = [abs(each.volts[side]) for each in found for side in (0, 1) if each.amps[side]] or [0.0]
    heads = [Head(Message("Neutral, most"), Figure(most, "A", 1), "", Message("by section: {each} A", each=each_a))]
    if asked.opened is None:
        heads.append(Head(Message("Lowest"), Figure(min(seen), "V", 1)))
        heads.append(Head(Message("Highest"), Figure(max(seen), "V", 1)))
    else:
        before = [abs(each.volts[side]) for each in whole_ for side in (0, 1) if each.amps[side]] or [0.0]
        heads.append(Head(Message("Lowest, whole"), Figure(min(before), "V", 1), main=False))
        heads.append(Head(Message("Highest, opened"), Figure(max(seen), "V", 1)))
        heads.append(Head(Message("Lowest, opened"), Figure(min(seen), "V", 1)))
    return tuple(heads)


_SHOWN = 4

TOOL = Tool(
    name="edison",
    title=Message("Three-wire ladder"),
    question=Message("What flows in a shared neutral, and what happens when it is lost?"),
    group=Group.CIRCUIT,
    place=7,
    words=(
        "three-wire",
        "edison",
        "lost neutral",
        "open neutral",
        "shared neutral",
        "multiwire",
        "300.13",
        "ladder",
        "kirchhoff",
        "neutral",
    ),
    asks=EdisonAsked,
    solve=solve,
    example={
        family: {
            "volts": [volts, volts],
            "opened_section": 2,
            "sections": [
                {
                    "line1_ohm": 0.06,
                    "neutral_ohm": 0.06,
                    "line2_ohm": 0.06,
                    "load1_a": 24,
                    "load2_a": 5,
                    "name1": "kitchen",
                    "name2": "lights",
                },
                {
                    "line1_ohm": 0.13,
                    "neutral_ohm": 0.13,
                    "line2_ohm": 0.13,
                    "load1_a": 3,
                    "load2_a": 13,
                    "name1": "television",
                    "name2": "heater",
                },
                {
                    "line1_ohm": 0.08,
                    "neutral_ohm": 0.08,
                    "line2_ohm": 0.08,
                    "load1_a": 2.5,
                    "load2_a": 10,
                    "name1": "refrigerator",
                    "name2": "kettle",
                },
            ],
        }
        for family, volts in (("nec", 120), ("iec", 230))
    },
    caution=Message(
        "A lost neutral is live. Open both lines before you touch it, prove dead. Local code and the "
        "licensed person decide."
    ),
)
