"""The voltage-drop tool: segments in a row, with what leaves at the end of each."""

from __future__ import annotations

import math
from typing import NamedTuple

from voltaje.books.answers import Choice, DropLimit, Run
from voltaje.books.questions import Book
from voltaje.errors import InputError, NoLawfulAnswer, NotCovered, Refused
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.shapes import Json
from voltaje.message import Figure, Message
from voltaje.quantity import length_in
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE
from voltaje.tools.asked.voltage_drop import DC, EFFECTIVE, MILLIVOLTS, DropAsked, SegmentItem
from voltaje.tools.tool import Answered, Group, Head, Tool

_AMPS_1, _AMPS_3 = Formula("va / volts"), Formula("va / (sqrt(3) * volts)")
_ALL = Formula("sum(amps)")
_ENTERED_MV = Formula("length * amps * millivolts / 1000")
_OHM_1, _OHM_3 = (Formula("2 * amps * length * ohms / 1000"), Formula("sqrt(3) * amps * length * ohms / 1000"))
_DC_1, _DC_3 = (
    Formula("2 * amps * length * resistance / 1000"),
    Formula("sqrt(3) * amps * length * resistance / 1000"),
)
_Z_1 = Formula("2 * amps * length * (resistance * cosine + reactance * sine) / 1000")
_Z_3 = Formula("sqrt(3) * amps * length * (resistance * cosine + reactance * sine) / 1000")
_TOTAL = Formula("sum(parts)")
_PERCENT = Formula("drop / volts * 100")
_LONGEST = Formula("length * (limit - others) / own")


class _Segment(NamedTuple):
    """A segment worked: what it carries [A], its size, what it loses [V], how that was reckoned."""

    item: SegmentItem
    amps: float
    size: str
    drop_v: float
    method: str


def solve(asked: DropAsked) -> Answered:
    """Return the drop of segments in a row. Raises InputError at the segment's field."""
    book, sheet = asked.book, Sheet()
    amps = _amps(asked, sheet)
    limit, rule = _limit(asked, amps)
    found = _segments(asked, amps, limit, sheet)
    total = sheet.apply(_TOTAL, Message("Drop in all"), "V", None, None, parts=[each.drop_v for each in found])
    percent = sheet.apply(_PERCENT, Message("Of the nominal"), "%", rule.rule, None, drop=total, volts=asked.volts)
    longest = _longest(found, limit * asked.volts / 100, sheet)
    smallest = _smallest(asked, amps, limit)
    unit = asked.segments[-1].length[0]
    result: Json = {
        "segments": [
            {
                "amps": each.amps,
                "drop_v": each.drop_v,
                "size": each.size or None,
                "method": each.method,
                "volts_at_end": asked.volts - sum(other.drop_v for other in found[: at + 1]),
            }
            for at, each in enumerate(found)
        ],
        "total_v": total,
        "total_percent": percent,
        "limit_percent": limit,
        "limit_v": limit * asked.volts / 100,
        "within": percent <= limit + _DUST,
        "longest_last": None if longest is None else length_in(longest, unit),
        "smallest_size": smallest,
        "beside": _beside(asked, amps),
    }
    findings = []
    if exceeds(percent, limit):
        severity = Severity.STOP if rule.mandatory and asked.limit_percent is None else Severity.WARN
        message = Message("{percent} is over {limit}.", percent=Figure(percent, "%", 2), limit=Figure(limit, "%", 1))
        findings.append(Finding(severity, "drop.over_limit", message, rule.rule, "segments"))
    findings += _over_ampacity(asked, found)
    heads = (
        Head(Message("Drop"), Figure(total, "V", 2), "", Message("of {volts}", volts=Figure(asked.volts, "V"))),
        Head(Message("That is"), Figure(percent, "%", 2), "", Message("of {limit}", limit=Figure(limit, "%", 1))),
        Head(Message("At the end"), Figure(asked.volts - total, "V", 1)),
        Head(
            Message("Smallest size"),
            smallest or "–",
            book.terms.gauge(smallest) if smallest else "",
            Message("of one size all along, by drop alone"),
            main=False,
        ),
    )
    facts = {"asked": asked, "found": found, "limit": limit, "ends_unit": unit}
    return Answered(book, result, sheet.steps, findings, heads, facts.copy)


_DUST = 1e-9


def _over_ampacity(asked: DropAsked, found: list[_Segment]) -> list[Finding]:
    """Return which segments carry more than their size may, whatever they lose."""
    said = []
    for at, each in enumerate(found):
        if not each.size:
            continue
        try:
            capacity = asked.book.capacity(asked.run(each.item, each.amps), Choice(each.amps, each.size, 1), off())
        except Refused:
            continue  # no ampacity of such a size here
        if exceeds(each.amps, capacity.ampacity_a):
            message = Message(
                "Segment {at}: {size} carries {carries}, under the {amps} that flow in it.",
                at=at + 1,
                size=each.size,
                carries=Figure(capacity.ampacity_a, "A", 1),
                amps=Figure(each.amps, "A", 1),
            )
            where = f"segments[{at}].size"
            said.append(Finding(Severity.STOP, "drop.over_ampacity", message, asked.book.device_rule, where))
    return said


def _amps(asked: DropAsked, sheet: Sheet) -> list[float]:
    """Return what each segment carries [A]: all that leaves at its end and beyond, or its own. Raises InputError."""
    leaving = []
    for at, item in enumerate(asked.segments):
        leaving.append(_leaves(asked, item, at, sheet) if item.load else 0.0)
    found = []
    for at, item in enumerate(asked.segments):
        if item.amps is not None:
            found.append(
                sheet.read(item.amps, Message("Segment {at} carries", at=at + 1), "A", None, Message("entered"))
            )
            continue
        beyond = [each for each in leaving[at:] if each]
        if not beyond:
            raise InputError(
                f"segments[{at}].load", Message("nothing leaves here or beyond: give a load, or its current")
            )
        label = Message("Segment {at} carries", at=at + 1)
        found.append(sheet.apply(_ALL, label, "A", None, Message("all that leaves beyond"), amps=beyond))
    return found


def _leaves(asked: DropAsked, item: SegmentItem, at: int, sheet: Sheet) -> float:
    load = item.load
    if load is None or load.unit == "A":
        return load.value if load else 0.0
    if load.unit != "VA":
        raise InputError(f"segments[{at}].load", Message("give it in A, VA or W"))
    va = load.value / item.power_factor if load.is_watts else load.value
    return sheet.apply(
        _AMPS_3 if asked.phases == THREE_PHASE else _AMPS_1,
        Message("Leaves at {at}", at=at + 1),
        "A",
        asked.book.load_rule,
        None,
        va=va,
        volts=asked.volts,
    )


def _limit(asked: DropAsked, amps: list[float]) -> tuple[float, DropLimit]:
    run = asked.run(asked.segments[-1], amps[-1])
    run = run._replace(before_m=sum(item.length[1] for item in asked.segments[:-1]))
    found = asked.book.drop_limit(run, asked.reach != "branch" or asked.book.terms.family == "iec")
    return asked.limit_percent or found.percent, found


def _segments(asked: DropAsked, amps: list[float], limit: float, sheet: Sheet) -> list[_Segment]:
    """Return the segments worked; those without a size by the smallest that holds the limit."""
    unsized = [item for item in asked.segments if not item.size and not item.entered]
    size = _smallest(asked, amps, limit, keep=True) if unsized else ""
    if unsized and not size:
        raise NoLawfulAnswer("limit_percent", Message("no size in the table holds this limit"))
    found = []
    for at, (item, each) in enumerate(zip(asked.segments, amps, strict=True)):
        own = "" if item.entered else item.size or size or ""
        drop, method = _drop(asked, item, each, own, item.method, at, sheet)
        found.append(_Segment(item, each, own, drop, method))
    return found


def _drop(
    asked: DropAsked, item: SegmentItem, amps: float, size: str, method: str, at: int, sheet: Sheet
) -> tuple[float, str]:
    """Return what a segment loses [V], and how it was reckoned. Raises InputError at its field."""
    label, three = Message("Lost in segment {at}", at=at + 1), asked.phases == THREE_PHASE
    run = asked.run(item, amps)
    length_m = item.length[1]
    if item.mv_per_a_m is not None:
        return sheet.apply(
            _ENTERED_MV,
            label,
            "V",
            None,
            Message("millivolts entered"),
            length=length_m,
            amps=amps,
            millivolts=item.mv_per_a_m,
        ), "entered"
    if item.ohm_per_km is not None:
        return sheet.apply(
            _OHM_3 if three else _OHM_1,
            label,
            "V",
            None,
            Message("ohms entered"),
            length=length_m,
            amps=amps,
            ohms=item.ohm_per_km,
        ), "entered"
    try:
        asked.book.check(run)
        if not method or (method == MILLIVOLTS) == (asked.book.terms.family == "iec"):
            return _by_book(asked, run, size, method, label, sheet)
    except Refused as error:
        field = f"segments[{at}].size" if error.field in ("size", "") else error.field
        raise error.at(field) from None
    here = MILLIVOLTS if asked.book.terms.family == "iec" else DC
    message = Message("this book has no table for {method}: take {here}, or enter the figure", method=method, here=here)
    raise NotCovered(f"segments[{at}].method", message)


def _by_book(asked: DropAsked, run: Run, size: str, method: str, label: Message, sheet: Sheet) -> tuple[float, str]:
    book, three = asked.book, run.phases == THREE_PHASE
    if size not in book.sizes(run):
        raise InputError(
            "size", Message("unknown size {size}; known here: {known}", size=size, known=list(book.sizes(run)))
        )
    if book.terms.family == "iec":
        return book.drop_v(run, Choice(0, size, 1), sheet), MILLIVOLTS
    method = method or (DC if run.power_factor == 1 else EFFECTIVE)
    table = book.impedance(run, size, unity=method == DC)
    values = {"amps": run.amps, "length": (run.length_m or 0.0) / table.unit_m, "resistance": table.resistance}
    because = Message("by its table, {unit} long", unit=book.terms.length_unit)
    if method == DC:
        return sheet.apply(_DC_3 if three else _DC_1, label, "V", table.rule, because, **values), method
    cosine = run.power_factor
    drop = sheet.apply(
        _Z_3 if three else _Z_1,
        label,
        "V",
        table.rule,
        because,
        **values,
        reactance=table.reactance,
        cosine=cosine,
        sine=math.sqrt(1 - cosine**2),
    )
    return drop, method


def _total_percent(asked: DropAsked, amps: list[float], sizes: list[str], method: str) -> float:
    drops = [
        _drop(asked, item, each, size, method or item.method, at, off())[0]
        for at, (item, each, size) in enumerate(zip(asked.segments, amps, sizes, strict=True))
    ]
    return sum(drops) / asked.volts * 100


def _smallest(asked: DropAsked, amps: list[float], limit: float, keep: bool = False) -> str:
    """Return the smallest size that holds the limit all along, "" for none; keep: sizes that were given stay."""
    book: Book = asked.book
    items = asked.segments
    if all(item.entered for item in items):
        return ""
    first = next(item for item in items if not item.entered)
    for size in book.sizes_by_choice(asked.run(first, max(amps))):
        sizes = [item.size if keep and item.size else size for item in items]
        try:
            if _total_percent(asked, amps, sizes, "") <= limit + _DUST:
                return size
        except Refused:
            continue
    return ""


def _longest(found: list[_Segment], limit_v: float, sheet: Sheet) -> float | None:
    """Return how long the last segment may be [m], None where nothing drops in it or the others take all."""
    *others, last = found
    before = sum(each.drop_v for each in others)
    if last.drop_v <= 0 or before >= limit_v:
        return None
    unit = last.item.length[0]
    label = Message("Longest last segment")
    sheet.apply(
        _LONGEST,
        label,
        unit,
        None,
        None,
        length=length_in(last.item.length[1], unit),
        limit=limit_v,
        others=before,
        own=last.drop_v,
    )
    return last.item.length[1] * (limit_v - before) / last.drop_v


def _beside(asked: DropAsked, amps: list[float]) -> list[Json]:
    """Return the whole by each way of reckoning that the book has tables for."""
    if asked.book.terms.family == "iec" or any(not item.size and not item.entered for item in asked.segments):
        return []
    sizes = [item.size or "" for item in asked.segments]
    found = ((method, _total_percent(asked, amps, sizes, method)) for method in (DC, EFFECTIVE))
    return [
        {"method": method, "total_percent": percent, "total_v": percent * asked.volts / 100}
        for method, percent in found
    ]


TOOL = Tool(
    name="voltage-drop",
    title=Message("Voltage drop"),
    question=Message("How many volts are left at the end?"),
    group=Group.CIRCUIT,
    place=5,
    words=(
        "voltage drop",
        "segments",
        "length",
        "resistance",
        "impedance",
        "mV/A/m",
        "210.19",
        "215.2",
        "525",
        "chapter 9",
        "table 8",
        "table 9",
        "longest",
        "pole lights",
    ),
    asks=DropAsked,
    solve=solve,
    example={
        "nec": {
            "volts": "120 V",
            "segments": [
                {"length": "100 ft", "size": "10", "load": "6 A"},
                {"length": "80 ft", "size": "10", "load": "4 A"},
                {"length": "80 ft", "size": "12", "load": "4 A"},
            ],
        },
        "iec": {
            "volts": "230 V",
            "segments": [
                {"length": "30 m", "size": "4", "load": "8 A"},
                {"length": "25 m", "size": "4", "load": "6 A"},
            ],
        },
    },
    caution=Message(
        "Measuring at the far end is live work: rated leads, PPE, a second person. Local code and the "
        "licensed person decide."
    ),
)
