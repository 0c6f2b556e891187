"""The inverter-breaker tool: the breaker and the conductors of an inverter, and the board that it feeds."""

from __future__ import annotations

from typing import Any

from voltaje.books.answers import sets_of
from voltaje.books.machines import InverterAsked, InverterRule
from voltaje.design.chain import Pins, RunDesign, size_run
from voltaje.design.equipment.inverter import inverter_device, inverter_run, usual_factors
from voltaje.errors import InputError, Refused
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, KEEPS, KVA, TEMPERATURE, VOLTS, Json, Shape, number, one_number, one_word
from voltaje.message import Figure, Message
from voltaje.quantity import read_amps
from voltaje.sheet import Sheet, off
from voltaje.tools.conductors import OnARun, conductor_of, earth_of, exactly, run_node, standing
from voltaje.tools.tool import Answered, Group, Head, Tool

_SINGLE, _THREE = Formula("output * 1000 / volts"), Formula("output * 1000 / (sqrt(3) * volts)")

_INVERTER, _BREAKER, _BOARD = Message("Inverter"), Message("Breaker"), Message("Board that it feeds")
_PHASES, _MOST_RATINGS = 3, 12
_SERIES = {"domestic": Message("domestic (30 °C)"), "industrial": Message("industrial (40 °C)")}
_YES = {"no": Message("others beside it"), "yes": Message("alone")}


def _outputs(raw: Any, unit: str) -> tuple[float, ...]:
    """Return one output [kVA], or several of them."""
    items = raw if isinstance(raw, list) else [raw]
    if not items or len(items) > _MOST_RATINGS:
        raise InputError("", Message("must be a list of at most {most}", most=_MOST_RATINGS))
    return tuple(KVA.read(item, unit) for item in items)


_OUTPUTS = Shape(
    _outputs,
    {"type": ["string", "number", "array"], "items": {"type": ["string", "number"]}},
    typed=True,
    edges=([KVA.edges[0]] * _MOST_RATINGS, [KVA.edges[0]] * (_MOST_RATINGS + 1)) if KVA.edges else None,
)


class InverterSheet(OnARun):
    """What an inverter's breaker is asked by."""

    output: tuple[float, ...] | None = declared(
        _OUTPUTS, "rated output in kVA or kW; a list of several gives a table", "Output", _INVERTER, "kW"
    )
    greatest_current: float | None = declared(
        AMPS, "the data sheet's greatest output current; stands before the output", "Greatest current", _INVERTER, "A"
    )
    volts: float = declared(VOLTS, "line to line on three phases", "Volts", _INVERTER, "V", required=True)
    phases: int = declared(one_number(1, _PHASES), "1 or 3", "Phases", _INVERTER, shown=1)
    ambient_c: float | None = declared(
        TEMPERATURE,
        "at the breaker and along the run",
        "Ambient",
        _BREAKER,
        hint="degrees",
        by_family={"nec": "30 °C", "iec": "30 °C"},
    )
    series: str = declared(
        one_word("domestic", "industrial"),
        "IEC: reference temperature of the breaker",
        "Series",
        _BREAKER,
        shown="domestic",
        more=True,
        titles=_SERIES,
        family="iec",
    )
    alone: str = declared(
        one_word("no", "yes"),
        "IEC: yes where no other loaded device is beside it",
        "Neighbours",
        _BREAKER,
        shown="no",
        titles=_YES,
        family="iec",
    )
    grouping_factor: float | None = declared(
        KEEPS,
        "what it keeps beside its neighbours; 0.9 usual from two devices up (IEC), 1 (NEC)",
        "Keeps beside neighbours",
        _BREAKER,
        by_family={"iec": "0.9"},
        family="iec",
    )
    enclosure_factor: float | None = declared(
        KEEPS,
        "what it keeps in its enclosure; 0.9 usual (IEC), 1 (NEC)",
        "Keeps in its enclosure",
        _BREAKER,
        by_family={"iec": "0.9"},
        family="iec",
    )
    ambient_factor: float | None = declared(
        KEEPS, "what it keeps at its ambient, by its maker", "Keeps at its ambient", _BREAKER, more=True, family="iec"
    )
    busbar_a: float | None = declared(AMPS, "rating of the busbar that it feeds", "Busbar", _BOARD, "A")
    main_a: float | None = declared(AMPS, "the main device of that board", "Main breaker", _BOARD, "A")
    other_devices_a: float | None = declared(
        number(-1e-9, 60_000, "A", read_amps),
        "NEC: all devices on that busbar but the main, summed, without this one; for the other way to judge it",
        "Other breakers, summed",
        _BOARD,
        "A",
        more=True,
        family="nec",
    )


def solve(asked: InverterSheet) -> Answered:
    """Return an inverter's breaker and conductors. Raises InputError unless output or greatest current is given."""
    if asked.output is None and asked.greatest_current is None:
        raise InputError("output", Message("give its output, or the data sheet's greatest current"))
    sheet, book = Sheet(), asked.book
    amps = _amps(asked, asked.output[0] if asked.output else None, sheet)
    rule, device, design, findings = _sized(asked, amps, sheet)
    busbar_ok, judged = _busbar(asked, rule, device)
    table = []
    for output in asked.output or ():
        each = _amps(asked, output, off())
        _own, rating, one, _found = _sized(asked, each, off())
        table.append(
            {"output": output, "amps": each, "device_a": rating, "conductor": conductor_of(one) if one else None}
        )
    plain = rule.needed_a
    at_one = next((rating for rating in book.devices() if rating >= plain - 1e-6), None)
    result = {
        "amps": amps,
        "device_a": device,
        "needed_a": rule.needed_a,
        "factors": {
            "ambient": rule.factors.ambient,
            "neighbours": rule.factors.neighbours,
            "enclosure": rule.factors.enclosure,
            "usual": list(rule.factors.usual),
        },
        "device_at_factors_of_1_a": at_one,
        "poles": rule.poles,
        "kind": "modular"
        if rule.modular_to_a and device <= rule.modular_to_a
        else "moulded case"
        if rule.modular_to_a
        else "",
        "conductor": conductor_of(design) if design else None,
        "equipment_ground": earth_of(design.earth) if design else None,
        "busbar_ok": busbar_ok,
        "busbar_min_a": rule.busbar_needed_a,
        "table": table,
    }
    findings += judged + _said(asked, rule, amps, device)
    facts = {"asked": asked, "rule": rule, "design": design}.copy
    return Answered(
        book,
        result,
        sheet.steps,
        findings,
        _heads(asked, rule, amps, device, design),
        facts,
        (_node(asked, amps, rule),),
    )


def _amps(asked: InverterSheet, output: float | None, sheet: Sheet) -> float:
    rule = asked.book.load_rule
    if asked.greatest_current is not None:
        own = Message("the data sheet's own stands before its output")
        return sheet.read(asked.greatest_current, Message("Output current"), "A", rule, own)
    three = asked.phases == _PHASES
    because = Message("three lines share it: √3") if three else None
    return sheet.apply(
        _THREE if three else _SINGLE,
        Message("Output current"),
        "A",
        rule,
        because,
        output=output or 0.0,
        volts=asked.volts,
    )


def _asked(asked: InverterSheet, amps: float) -> InverterAsked:
    entered = {
        "ambient": asked.ambient_factor,
        "neighbours": asked.grouping_factor,
        "enclosure": asked.enclosure_factor,
    }
    given = {key: value for key, value in entered.items() if value is not None}
    return InverterAsked(
        amps,
        asked.phases,
        asked.ambient_c,
        asked.series,
        asked.alone == "yes",
        given,
        asked.main_a,
        asked.other_devices_a,
    )


def _sized(
    asked: InverterSheet, amps: float, sheet: Sheet
) -> tuple[InverterRule, float, RunDesign | None, list[Finding]]:
    """Return the rule's answer, the device, the run by it; where no conductor is to be had, the device stands alone."""
    rule, device = inverter_device(_asked(asked, amps), asked.book, sheet)
    run = inverter_run(asked.run(amps, asked.volts, asked.phases), rule, device)
    try:
        design = size_run(run, Pins(sets=asked.sets), asked.book, sheet)
    except Refused as error:
        if error.field not in ("amps", "device_a", "size", "sets"):
            raise
        message = Message("No conductor for it here: {why}", why=error.message)
        found = Finding(Severity.WARN, "inverter.no_conductor", message, None, error.field)
        return rule, device, None, [found]
    return rule, device, design, list(design.findings)


def _busbar(asked: InverterSheet, rule: InverterRule, device: float) -> tuple[bool | None, list[Finding]]:
    """Return whether the board's busbar bears both, None where it is not known."""
    if asked.busbar_a is None:
        return None, []
    found: list[tuple[bool, float]] = []
    if rule.busbar_needed_a is not None:
        found.append((rule.busbar_needed_a <= asked.busbar_a + 1e-6, rule.busbar_needed_a))
    if asked.other_devices_a is not None:
        found.append((asked.other_devices_a + device <= asked.busbar_a + 1e-6, asked.other_devices_a + device))
    if not found:
        return None, []
    holds, need = any(ok for ok, _need in found), min(need for _ok, need in found)
    if holds:
        message = Message(
            "The busbar of {busbar} bears it; its breaker stands at the far end from the main.",
            busbar=Figure(asked.busbar_a, "A"),
        )
        return True, [Finding(Severity.NOTE, "inverter.busbar", message, rule.busbar_rule, "busbar_a")]
    message = Message(
        "The busbar of {busbar} is under the {need} that main and inverter ask for.",
        busbar=Figure(asked.busbar_a, "A"),
        need=Figure(need, "A", 1),
    )
    mend = Message("A smaller main, a larger board, or connect ahead of the main.")
    return False, [Finding(Severity.STOP, "inverter.busbar", message, rule.busbar_rule, "busbar_a", mend)]


def _said(asked: InverterSheet, rule: InverterRule, amps: float, device: float) -> list[Finding]:
    said = usual_factors(rule, device, asked.book, "grouping_factor")
    message = Message(
        "A device equal to the current is not enough: {amps} flow for hours on end, and a breaker in a warm box trips "
        "under its rating.",
        amps=Figure(amps, "A", 1),
    )
    said.append(Finding(Severity.NOTE, "inverter.not_equal", message, rule.busbar_rule, "device_a"))
    if asked.phases == _PHASES:
        message = Message("All lines open together; a fourth pole where the neutral must open too.")
        said.append(Finding(Severity.NOTE, "inverter.poles", message, None, "phases"))
    return said


def _heads(
    asked: InverterSheet, rule: InverterRule, amps: float, device: float, design: RunDesign | None
) -> tuple[Head, ...]:
    kept = Message("keeps {share} of its rating", share=Figure(rule.factors.all * 100, "%"))
    if rule.factors.all == 1:
        kept = Message("{need} needed", need=Figure(rule.needed_a, "A", 1))
    heads = [
        Head(Message("Output current"), Figure(amps, "A", 1), "", Message("each line"), main=False),
        Head(Message("Breaker, {poles}-pole", poles=rule.poles), Figure(device, "A"), "", kept),
    ]
    if design:
        terms, lines = asked.book.terms, 3 if asked.phases == _PHASES else 2
        heads += [
            Head(
                Message("Lines"),
                f"{lines} × {sets_of(design.choice.size, design.choice.sets)}",
                f"{terms.gauge(design.choice.size)} {asked.material}",
                Message("carries {amps}", amps=Figure(design.capacity.ampacity_a, "A", 1)),
            ),
            Head(
                Message("Ground") if terms.family == "nec" else Message("Earth"),
                design.earth.size,
                f"{terms.gauge(design.earth.size)} {design.earth.material}",
                main=False,
            ),
        ]
    return tuple(heads)


def _node(asked: InverterSheet, amps: float, rule: InverterRule) -> Json:
    load = {"rating": f"{exactly(amps)} A", **standing(asked.volts, asked.phases, asked.book)}
    entered = {
        "breaker_ambient": asked.ambient_factor,
        "breaker_neighbours": asked.grouping_factor,
        "breaker_enclosure": asked.enclosure_factor,
    }
    kept = {key: share for key, share in entered.items() if share is not None}
    # A path has no words for a breaker that stands alone, or of another series: what they keep says the same.
    kept = {"breaker_neighbours": 1.0, **kept} if asked.alone == "yes" else kept
    kept |= {"breaker_ambient": rule.factors.ambient} if asked.series != "domestic" else {}
    return {"kind": "inverter", "name": "Inverter", "load": load, "run": {**run_node(asked), **kept}}


TOOL = Tool(
    name="inverter-breaker",
    title=Message("Inverter breaker"),
    question=Message("What breaker and cable for this inverter, and does the board bear it?"),
    group=Group.SUPPLY,
    place=0,
    words=("solar", "photovoltaic", "pv", "battery", "backfeed", "busbar", "120 %", "705.12", "551.7", "derating"),
    asks=InverterSheet,
    solve=solve,
    example={
        "nec": {"output": "7.6 kW", "volts": "240 V", "busbar_a": "200 A", "main_a": "200 A", "length": "40 ft"},
        "iec": {
            "output": "30 kW",
            "volts": "400 V",
            "phases": 3,
            "length": "20 m",
            "main_a": "100 A",
            "busbar_a": "160 A",
        },
    },
    caution=Message(
        "An inverter feeds from its own side: isolate both sides, prove dead, and the array or battery "
        "stays live. The licensed person and the utility decide."
    ),
)
