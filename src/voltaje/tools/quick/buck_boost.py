"""The buck-boost tool: which small unit, wired as an autotransformer, brings the volts that are wanted."""

from __future__ import annotations

from voltaje.books.questions import Motors, Transformers
from voltaje.design.transformers.proposed import entries_of
from voltaje.design.windings.bank import MOST_PERCENT
from voltaje.design.windings.boost import BOOST, OPEN_DELTA, SINGLE, WYE, Offer, at_work, chosen, offers, to_ground
from voltaje.errors import NoLawfulAnswer, NotCovered, OutsideTable
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import FLAG, NAMEPLATE, VOLTS, Json, number, one_number
from voltaje.message import Figure, Message
from voltaje.physics.motor_curve import running
from voltaje.quantity import Rating
from voltaje.sheet import Sheet
from voltaje.systems import system_of
from voltaje.tools.conductors import OfABook
from voltaje.tools.tool import WINDINGS, Answered, Group, Head, Tool

_SUPPLY, _LOAD = Message("Supply"), Message("Load")
_TWO, _THREE, _FOUR = 2, 3, 4
_OF_SYSTEM = 0.03  # of the volts wanted: nearer names are one system
_SHOWN = 12

_AMPS_1, _AMPS_3 = Formula("kva * 1000 / volts"), Formula("kva * 1000 / (sqrt(3) * volts)")
_KVA_1, _KVA_3 = Formula("volts * amps / 1000"), Formula("sqrt(3) * volts * amps / 1000")
_RAISED, _LOWERED = Formula("line * (primary + secondary) / primary"), Formula("line * primary / (primary + secondary)")
_UNIT = Formula("amps * secondary / 1000")
_TORQUE = Formula("(volts / rated) * (volts / rated) * 100")


class BoostAsked(OfABook):
    """What buck and boost is asked by."""

    line_v: float = declared(VOLTS, "measured, line to line", "Measured", _SUPPLY, "V", required=True)
    phases: int = declared(one_number(1, 3), "1 or 3", "Phases", _SUPPLY, shown=1)
    supply_wires: int = declared(
        one_number(3, 4), "of a three-phase supply: 4 with its neutral", "Wires", _SUPPLY, shown=3
    )
    frequency: float = declared(
        one_number(50, 60), "of the supply", "Frequency", _SUPPLY, "Hz", by_family={"nec": "60", "iec": "50"}, default=0
    )
    load_v: float = declared(VOLTS, "wanted, line to line", "Wanted", _LOAD, "V", required=True)
    load: Rating = declared(NAMEPLATE, "kVA, A or hp", "Load", _LOAD, required=True)
    neutral_needed: bool = declared(FLAG, "by the load", "Neutral needed", _LOAD, shown=False, more=True)
    tolerance_percent: float = declared(
        number(0, 20, "%"), "that the output may be off", "Near enough", _LOAD, "%", shown=2.5, more=True
    )


def solve(asked: BoostAsked) -> Answered:
    """Return the unit to take, how it is joined, and why the others lost. Raises InputError at its field."""
    book, sheet = asked.book, Sheet()
    load_a = _load_a(asked, sheet)
    found = offers(asked.line_v, asked.load_v, load_a, _arrangements(asked), _frequency(asked), MOST_PERCENT)
    best = chosen(found, asked.tolerance_percent)
    if best is None or best.size is None:
        message = Message("no small unit is made for it: windings over their rating, or too large a load")
        raise NoLawfulAnswer("load" if found else "line_v", message)
    wiring = best.wiring
    formula = _RAISED if wiring.way == BOOST else _LOWERED
    because = (
        Message("the secondary stands on top of the primary")
        if wiring.way == BOOST
        else Message("the input stands across both, the load across the primary")
    )
    sheet.apply(
        formula,
        Message("Output"),
        "V",
        None,
        because,
        line=asked.line_v,
        primary=wiring.primary_v,
        secondary=wiring.secondary_v,
    )
    amps = load_a if wiring.way == BOOST else best.input_a
    sheet.apply(
        _UNIT,
        Message("Each unit, at least"),
        "kVA",
        None,
        Message("only its secondary's part is transformed"),
        amps=amps,
        secondary=wiring.secondary_v,
    )
    load_kva = sheet.apply(
        _KVA_3 if asked.phases == _THREE else _KVA_1,
        Message("Load"),
        "kVA",
        None,
        None,
        volts=asked.load_v,
        amps=load_a,
    )
    isolating = next((each for each in book.asked(Transformers).sizes(asked.phases) if each >= load_kva - 1e-9), None)
    result: Json = {
        "unit_kva": best.size,
        "units": best.units,
        "isolating_kva": isolating,
        "primary_v": wiring.primary_v,
        "secondary_v": wiring.secondary_v,
        "connection": wiring.way,
        "arrangement": best.arrangement,
        "output_v": best.volts[0],
        "output_low_v": best.volts[1],
        "output_high_v": best.volts[2],
        "error_percent": best.error_percent,
        "capacity_kva": best.capacity_kva,
        "capacity_a": best.capacity_a,
        "load_a": load_a,
        "input_a": best.input_a,
        "voltage_to_ground": to_ground(best, asked.line_v),
        "joints": ["-".join(joint) for joint in wiring.joints],
        "winding_percent": best.winding_percent,
        "others": [_other(each, best, asked) for each in _ranked(found, best)],
    }
    findings = list(_findings(asked, best, result, sheet))
    drawn = {"asked": asked, "best": best, "wound": at_work(wiring, asked.line_v, load_a)[0]}
    return Answered(
        book,
        result,
        sheet.steps,
        findings,
        _heads(result, best),
        drawn.copy,
        _nodes(asked, best),
        _onward(asked, best, load_a),
    )


def _nodes(asked: BoostAsked, best: Offer) -> tuple[Json, ...]:
    """Return the units as a transformer of a job; nothing where its supplies have no system of the wanted volts."""
    legs = _THREE if asked.phases == _THREE else _TWO
    secondary = system_of(asked.load_v, legs, best.arrangement == WYE, _OF_SYSTEM)
    if secondary is None:
        return ()
    name = best.wiring.way.capitalize()
    return ({"kind": "transformer", "name": name, "transformer": entries_of(best, secondary)},)


def _onward(asked: BoostAsked, best: Offer, load_a: float) -> Json:
    """Return the unit taken as an autotransformer."""
    if asked.phases == _THREE:
        three = {"kind": "wye" if best.arrangement == WYE else "open_delta", "from_v": asked.line_v}
        return {"autotransformer": {**three, "to_v": round(best.volts[0], 2), "load_a": round(load_a, 2)}}
    two = {"high_v": best.wiring.primary_v, "low_v": best.wiring.secondary_v, "kva": best.size}
    return {
        "autotransformer": {**two, "from_v": asked.line_v, "to_v": round(best.volts[0], 2), "load_a": round(load_a, 2)}
    }


def _frequency(asked: BoostAsked) -> float:
    return asked.frequency or (50.0 if asked.book.terms.family == "iec" else 60.0)


def _load_a(asked: BoostAsked, sheet: Sheet) -> float:
    """Return the load's current at the wanted volts [A]."""
    load, three = asked.load, asked.phases == _THREE
    if load.unit == "A":
        return load.value
    if load.unit == "hp":
        try:
            amps = asked.book.asked(Motors).amps(load.value, asked.phases, asked.load_v, "load")
        except NotCovered as error:
            raise error.at("load") from None
        return sheet.read(amps, Message("Motor, by the table"), "A", asked.book.rule("motor_current"))
    return sheet.apply(
        _AMPS_3 if three else _AMPS_1,
        Message("Load current"),
        "A",
        asked.book.load_rule,
        None,
        kva=load.value / 1000,
        volts=asked.load_v,
    )


def _arrangements(asked: BoostAsked) -> tuple[str, ...]:
    """Return how units may stand. Raises NoLawfulAnswer where a neutral is needed and none comes in."""
    if asked.phases != _THREE:
        return (SINGLE,)
    if asked.neutral_needed:
        if asked.supply_wires != _FOUR:
            message = Message(
                "an open delta makes no neutral, and a wye of three needs a four-wire supply: take an "
                "isolating transformer"
            )
            raise NoLawfulAnswer("neutral_needed", message)
        return (WYE,)
    return (OPEN_DELTA, WYE) if asked.supply_wires == _FOUR else (OPEN_DELTA,)


def _ranked(found: list[Offer], best: Offer) -> list[Offer]:
    """Return what lost, the nearest first; of wirings that come to the same, one."""
    ranked = sorted(found, key=lambda each: (abs(each.error_percent), each.total_kva))
    told, kept = {_as_told(best)}, []
    for each in ranked:
        if _as_told(each) not in told:
            told.add(_as_told(each))
            kept.append(each)
    return kept[:_SHOWN]


def _as_told(each: Offer) -> tuple[object, ...]:
    wiring = each.wiring
    return wiring.way, wiring.primary_v, wiring.secondary_v, each.arrangement, each.size


def _other(each: Offer, best: Offer, asked: BoostAsked) -> Json:
    why = Message("no size carries the load")
    if each.size:
        off = abs(each.error_percent)
        why = (
            Message("off by {off}", off=Figure(off, "%", 1))
            if off > asked.tolerance_percent
            else Message("more nameplate: {kva}", kva=Figure(each.total_kva, "kVA", 2))
            if each.total_kva > best.total_kva
            else Message("farther off, {off}", off=Figure(off, "%", 1))
        )
    return {
        "connection": each.wiring.way,
        "arrangement": each.arrangement,
        "primary_v": each.wiring.primary_v,
        "secondary_v": each.wiring.secondary_v,
        "output_v": each.volts[0],
        "unit_kva": each.size,
        "why": str(why),
    }


def _findings(asked: BoostAsked, best: Offer, result: Json, sheet: Sheet) -> list[Finding]:
    said = [
        Finding(
            Severity.NOTE,
            "auto.not_isolated",
            Message(
                "No isolation: output lines have up to {volts} to ground.",
                volts=Figure(result["voltage_to_ground"], "V", 0),
            ),
            asked.book.rule("auto_restricted"),
            "load_v",
        )
    ]
    if abs(best.error_percent) > asked.tolerance_percent:
        message = Message(
            "None comes within {near}: this is the nearest, {off} off.",
            near=Figure(asked.tolerance_percent, "%", 1),
            off=Figure(abs(best.error_percent), "%", 1),
        )
        said.append(Finding(Severity.WARN, "boost.not_near", message, None, "load_v"))
    gain = Message(
        "{small} of nameplate carries {load}: only what the secondary adds is transformed, the rest goes "
        "straight through.",
        small=Figure(best.total_kva, "kVA", 2),
        load=Figure(result["capacity_kva"], "kVA", 1),
    )
    said.append(Finding(Severity.NOTE, "boost.gain", gain, None, "load"))
    if asked.load.unit == "hp":
        before = sheet.apply(
            _TORQUE,
            Message("Torque before"),
            "%",
            None,
            Message("it goes with the square of the volts"),
            volts=asked.line_v,
            rated=asked.load_v,
        )
        after = sheet.apply(_TORQUE, Message("Torque after"), "%", None, None, volts=best.volts[0], rated=asked.load_v)
        heat = running(asked.line_v / asked.load_v)
        result["motor"] = {
            "torque_before_percent": before,
            "torque_after_percent": after,
            "heat_before": heat.heat if heat else None,
        }
        message = Message(
            "At {low} the motor has {before} of its torque, slips more and its rotor has {heat} times the heat; with "
            "this it has {after}.",
            low=Figure(asked.line_v, "V", 0),
            before=Figure(before, "%"),
            heat=Figure(heat.heat, "", 2) if heat else "–",
            after=Figure(after, "%"),
        )
        said.append(Finding(Severity.NOTE, "boost.motor", message, None, "load"))
    try:
        side = asked.book.asked(Transformers).side(best.input_a, "primary", "autotransformer", sheet)
    except OutsideTable:
        return said
    words = Message("Device ahead of it: {most} at most, none in the common winding.", most=Figure(side.most_a, "A"))
    said.append(Finding(Severity.NOTE, "auto.device", words, side.rule, "line_v"))
    return said


def _heads(result: Json, best: Offer) -> tuple[Head, ...]:
    each = f"{best.units} × " if best.units > 1 else ""
    return (
        Head(
            Message("Take"),
            f"{each}{best.size:g}",
            "kVA",
            Message(
                "{primary} to {secondary}, {way}",
                primary=Figure(best.wiring.primary_v, "V"),
                secondary=Figure(best.wiring.secondary_v, "V"),
                way=Message("boost") if best.wiring.way == BOOST else Message("buck"),
            ),
        ),
        Head(
            Message("Gives"),
            Figure(best.volts[0], "V", 1),
            "",
            Message("{off} off", off=Figure(best.error_percent, "%", 1)),
        ),
        Head(
            Message("Carries"),
            Figure(best.capacity_a, "A", 1),
            "",
            Message("{load} asked", load=Figure(result["load_a"], "A", 1)),
        ),
        Head(
            Message("Isolating instead"),
            Figure(result["isolating_kva"], "kVA", 1) if result["isolating_kva"] else "–",
            main=False,
        ),
    )


TOOL = Tool(
    name="buck-boost",
    title=Message("Buck and boost"),
    question=Message("Which small transformer mends these volts?"),
    group=Group.SUPPLY,
    place=9,
    words=(
        "step up",
        "step down",
        "buck",
        "boost",
        "buck-boost",
        "low voltage",
        "208 to 240",
        "autotransformer",
        "450.4",
        "kiln",
        "motor",
    ),
    studio=WINDINGS,
    asks=BoostAsked,
    solve=solve,
    example={
        "nec": {"line_v": "208 V", "load_v": "240 V", "load": "8.6 kVA"},
        "iec": {"line_v": "215 V", "load_v": "230 V", "load": "5 kVA", "frequency": 50},
    },
    caution=Message(
        "No isolation: the output stands on the supply. Join coils with everything dead, measure before the load "
        "is on. Local code and the licensed person decide."
    ),
)
