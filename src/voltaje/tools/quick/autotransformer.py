"""The autotransformer tool: two windings stacked, a tapped winding, three-phase by series and common windings."""

from __future__ import annotations

import math
from typing import Any

from voltaje.design.windings.auto import Stacked, every_stacking, three_phase_stack
from voltaje.design.windings.bank import MOST_PERCENT
from voltaje.design.windings.groups import HIGH, LOW
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, KVA, VOLTS, Json, Shape, number, one_word, several
from voltaje.limits import MOST_VA
from voltaje.message import Figure, Message
from voltaje.physics.windings import three_phase, wound
from voltaje.quantity import read_in, read_plain, read_rating, require_between
from voltaje.sheet import Sheet
from voltaje.tools.autos import node_of, said_of
from voltaje.tools.conductors import OfABook
from voltaje.tools.tapped import volts_of
from voltaje.tools.tool import WINDINGS, Answered, Group, Head, Tool

_KIND, _VOLTS_OF, _LOAD = Message("Kind"), Message("Volts"), Message("Load")
TWO, TAPPED, WYE, OPEN = "two_winding", "tapped", "wye", "open_delta"
_NEAR = 0.025  # so near to what is wanted one serves as well as another
_THREE, _TWO = 3, 2

_QUICK_SUM, _QUICK_DIFFERENCE = Formula("high + low"), Formula("high - low")
_OUTPUT = Formula("given * load_turns / source_turns")
_SERIES = Formula("volts * amps")
_SERIES_3 = Formula("3 * volts * amps")
_TWO_SERIES = Formula("2 * volts * amps")
_DIFFERENCE = Formula("max(one, other) - min(one, other)")
_PHASE = Formula("line / sqrt(3)")
_LINE_A = Formula("va / (sqrt(3) * volts)")
_AMPERE_TURNS = Formula("amps * volts / common")
_SHARE = Formula("built / load * 100")


def _rating(raw: Any) -> float:
    rating = read_rating(raw)
    if rating.unit != "VA":
        raise InputError("", Message("give it in VA or kVA"))
    return rating.value


def _tap(raw: Any, _unit: str) -> tuple[float, bool]:
    """Return a tap, and whether it is in per cent of the winding: `80 %`, else turns."""
    text = str(raw).strip()
    percent = text.endswith("%")
    value = read_in(raw, "%") if percent else read_plain(raw)
    require_between(value, 0, _MOST_TAP if percent else _MOST_TURNS, above=True)
    return value, percent


_MOST_TURNS = 1_000_000
_MOST_TAP = 150  # per cent
_VA = number(0, MOST_VA, "VA", _rating)
_TAP = Shape(_tap, {"type": ["number", "string"]}, edges=(_MOST_TURNS, _MOST_TURNS + 1))


class AutoAsked(OfABook):
    """What an autotransformer is asked by."""

    kind: str = declared(
        one_word(TWO, TAPPED, WYE, OPEN),
        "two_winding: from a unit of two windings; tapped: one winding with taps; wye, open_delta: three-phase",
        "Kind",
        _KIND,
        shown=TWO,
        titles={
            TWO: Message("two windings"),
            TAPPED: Message("tapped"),
            WYE: Message("wye"),
            OPEN: Message("open delta"),
        },
    )
    high_v: float | None = declared(
        VOLTS, "rated, of the unit's larger winding", "Winding H", _KIND, "V", when=("kind", (TWO,))
    )
    low_v: float | None = declared(VOLTS, "rated, of the other", "Winding X", _KIND, "V", when=("kind", (TWO,)))
    kva: float | None = declared(
        KVA, "of the unit, as a two-winding transformer", "Unit", _KIND, "kVA", when=("kind", (TWO,))
    )
    turns: float | None = declared(
        number(0, _MOST_TURNS), "of the whole winding", "Turns", _KIND, when=("kind", (TAPPED,))
    )
    taps: list[float] | None = declared(
        several(number(0, _MOST_TAP, "%"), 20),
        "per cent of the winding; over 100 where it goes on beyond",
        "Taps",
        _KIND,
        "%",
        when=("kind", (TAPPED,)),
    )
    from_tap: tuple[float, bool] | None = declared(
        _TAP,
        "where it is fed, in turns or per cent; by the volts wanted, or the whole winding, where not given",
        "Fed at",
        _KIND,
        when=("kind", (TAPPED,)),
    )
    to_tap: tuple[float, bool] | None = declared(
        _TAP, "where it is loaded, or give the volts", "Loaded at", _KIND, when=("kind", (TAPPED,))
    )
    from_v: float = declared(
        VOLTS, "that it is fed with; line to line on three phase", "Fed with", _VOLTS_OF, "V", required=True
    )
    to_v: float | None = declared(VOLTS, "wanted", "Wanted", _VOLTS_OF, "V")
    load_va: float | None = declared(_VA, "that it carries", "Load", _LOAD)
    load_a: float | None = declared(AMPS, "in place of VA", "Load in A", _LOAD, "A", more=True)


def solve(asked: AutoAsked) -> Answered:
    """Return an autotransformer's volts and currents. Raises InputError at its field."""
    sheet = Sheet()
    work = {TWO: _two_winding, TAPPED: _tapped, WYE: _three_phase, OPEN: _three_phase}[asked.kind]
    result, facts = work(asked, sheet)
    findings = list(said_of(asked, result, sheet))
    nodes: tuple[Json, ...] = ()
    if asked.kind in (WYE, OPEN):
        load_va = result["load_va"]
        node = node_of(asked.kind == WYE, (asked.from_v, result["output_v"]), load_va) if load_va else None
        nodes = (node,) if node else ()
    return Answered(asked.book, result, sheet.steps, findings, _heads(result), {"asked": asked, **facts}.copy, nodes)


def _two_winding(asked: AutoAsked, sheet: Sheet) -> tuple[Json, Json]:
    if asked.high_v is None or asked.low_v is None:
        raise InputError("high_v" if asked.high_v is None else "low_v", Message("must be given"))
    turns = (asked.high_v, asked.low_v)
    tried = every_stacking(turns, asked.from_v, 1.0)
    fitting = [each for each in tried if each.winding_percent <= MOST_PERCENT]
    if asked.to_v is not None:
        wanted = asked.to_v
        if not fitting:
            raise InputError(
                "from_v",
                Message(
                    "no stacking stands that: a winding would be over {most} of its rating",
                    most=Figure(MOST_PERCENT, "%"),
                ),
            )
        # Where several serve, the one that is built smallest; else the nearest.
        near = [each for each in fitting if abs(each.output_v / wanted - 1) <= _NEAR]
        best = (
            min(near, key=lambda each: each.built_va)
            if near
            else min(fitting, key=lambda each: abs(each.output_v - wanted))
        )
    else:
        best = (fitting or tried)[0]
    load = _load(asked, best)
    at_work = {each.stacking: each for each in every_stacking(turns, asked.from_v, load or 1.0)}
    best = at_work[best.stacking]
    sheet.apply(_QUICK_SUM, Message("Quick test, aiding: the sum"), "V", None, None, high=turns[0], low=turns[1])
    sheet.apply(_QUICK_DIFFERENCE, Message("Opposing: the difference"), "V", None, None, high=turns[0], low=turns[1])
    rated = {"H": turns[0], "X": turns[1], "H+X": sum(turns), "H-X": turns[0] - turns[1]}
    sheet.apply(
        _OUTPUT,
        Message("Output, {name}", name=best.stacking.name),
        "V",
        None,
        Message("volts go with turns"),
        given=asked.from_v,
        load_turns=abs(rated[best.stacking.output]),
        source_turns=abs(rated[best.stacking.input]),
    )
    if load is not None:
        _split((best.series_v, best.series_a), best.common_v, sheet)
        _built(best.series_v, best.series_a, load, _SERIES, sheet)
    found = [_json(each, load is not None) for each in at_work.values()]
    result = _json(best, load is not None) | {"candidates": found, "windings": _by_rating(asked, best)}
    return result, {"best": best, "coils": best.coils, "joints": best.joints, "found": best.found}


def _load(asked: AutoAsked, best: Stacked) -> float | None:
    """Return the load [VA]: as given, in amperes, or what the unit's windings carry; None where nothing tells."""
    if asked.load_va is not None:
        return asked.load_va
    if asked.load_a is not None:
        return asked.load_a * best.output_v
    if asked.kva is None:
        return None
    rated_a = {"H": asked.kva * 1000 / (asked.high_v or 1), "X": asked.kva * 1000 / (asked.low_v or 1)}
    # At one volt-ampere each winding carries so much: the first to reach its rating sets what the unit can.
    each = ((best.stacking.series, best.series_a), (best.stacking.common, best.common_a))
    return min(rated_a[coil] / amps for coil, amps in each if amps > 0)


def _by_rating(asked: AutoAsked, best: Stacked) -> list[Json]:
    """Return what each winding carries of its own rating [A, %]; none where the unit's kVA was not given."""
    if asked.kva is None:
        return []
    found = []
    for coil, amps in ((best.stacking.series, best.series_a), (best.stacking.common, best.common_a)):
        rated = asked.kva * 1000 / ((asked.high_v if coil == "H" else asked.low_v) or 1)
        found.append({"winding": coil, "amps": amps, "rated_a": rated, "percent": amps / rated * 100})
    return found


def _built(volts: float, amps: float, load: float, formula: Formula, sheet: Sheet) -> float:
    because = Message("the series winding alone is transformed; the rest goes straight through")
    built = sheet.apply(formula, Message("Built for"), "VA", None, because, volts=volts, amps=amps)
    sheet.apply(_SHARE, Message("Of its load"), "%", None, None, built=built, load=load)
    return built


def _split(series: tuple[float, float], common_v: float, sheet: Sheet) -> float:
    """Return what the common winding carries [A]; series: the other's volts and amperes."""
    because = Message("ampere-turns of the two cancel on the core: where they meet, the rest goes straight through")
    return sheet.apply(
        _AMPERE_TURNS, Message("Common winding"), "A", None, because, amps=series[1], volts=series[0], common=common_v
    )


def _json(each: Stacked, loaded: bool) -> Json:
    """Return a stacking; without a load its amperes are not known, its ratio and its volts are."""
    known = {
        "connection": each.stacking.name,
        "additive": each.stacking.additive,
        "output_v": each.output_v,
        "ratio": each.ratio,
        "input_a": each.input_a,
        "output_a": each.output_a,
        "series_v": each.series_v,
        "series_a": each.series_a,
        "common_v": each.common_v,
        "common_a": each.common_a,
        "built_va": each.built_va,
        "load_va": each.load_va,
        "built_percent": each.built_va / each.load_va * 100,
        "winding_percent": each.winding_percent,
    }
    carried = ("input_a", "output_a", "series_a", "common_a", "built_va", "load_va")
    return known if loaded else known | dict.fromkeys(carried)


def _tapped(asked: AutoAsked, sheet: Sheet) -> tuple[Json, Json]:
    found = volts_of(asked, sheet)
    at_work = found.pop("found")
    volts = found["output_v"]
    load = asked.load_va or (asked.load_a * volts if asked.load_a else None)
    result = {
        "connection": TAPPED,
        **found,
        "ratio": asked.from_v / volts,
        **_carried(asked.from_v, volts, load, sheet),
        "candidates": [],
    }
    return result, {"found": at_work(load or 0.0)}


def _carried(from_v: float, to_v: float, load: float | None, sheet: Sheet) -> Json:
    """Return what the two parts of one winding stand at, and where a load is known what they carry [V, A, VA]."""
    high, low = max(from_v, to_v), min(from_v, to_v)
    series_v = high - low
    known: Json = {"series_v": series_v, "common_v": low, "load_va": load, "built_percent": series_v / high * 100}
    if load is None:
        return known | dict.fromkeys(("input_a", "output_a", "series_a", "common_a", "built_va"))
    input_a, output_a = load / from_v, load / to_v
    series_a = min(input_a, output_a)  # the series part lies in the line of the higher volts
    common_a = _split((series_v, series_a), low, sheet)
    return known | {
        "input_a": input_a,
        "output_a": output_a,
        "series_a": series_a,
        "common_a": common_a,
        "built_va": _built(series_v, series_a, load, _SERIES, sheet),
    }


def _three_phase(asked: AutoAsked, sheet: Sheet) -> tuple[Json, Json]:
    if asked.to_v is None:
        raise InputError("to_v", Message("must be given"))
    wye = asked.kind == WYE
    output = asked.to_v
    load = asked.load_va or (asked.load_a * output * math.sqrt(_THREE) if asked.load_a else None)
    from_phase = to_phase = None
    if wye:
        from_phase = sheet.apply(_PHASE, Message("Phase, fed"), "V", None, None, line=asked.from_v)
        to_phase = sheet.apply(_PHASE, Message("Phase, load"), "V", None, None, line=output)
    low, high = sorted((from_phase, to_phase) if from_phase and to_phase else (asked.from_v, output))
    series_v = sheet.apply(_QUICK_DIFFERENCE, Message("Series winding"), "V", None, None, high=high, low=low)
    carried: Json = dict.fromkeys(("input_a", "output_a", "series_a", "common_a", "built_va"))
    if load is not None:
        input_a = sheet.apply(
            _LINE_A, Message("Line current, fed"), "A", None, Message("√3"), va=load, volts=asked.from_v
        )
        output_a = sheet.apply(_LINE_A, Message("Line current, load"), "A", None, Message("√3"), va=load, volts=output)
        series_a, most = sorted((input_a, output_a))  # the series winding lies in the line of the higher volts
        because = Message("what the two lines do not share: ampere-turns cancel on the core")
        label = Message("Common winding")
        common_a = sheet.apply(_QUICK_DIFFERENCE, label, "A", None, because, high=most, low=series_a)
        built = _built(series_v, series_a, load, _SERIES_3 if wye else _TWO_SERIES, sheet)
        carried = {
            "input_a": input_a,
            "output_a": output_a,
            "series_a": series_a,
            "common_a": common_a,
            "built_va": built,
        }
    # Of a star the windings' share is that of the volts; two in open delta carry √3 of a phase between them.
    share = series_v / high * 100 * (1.0 if wye else _TWO / math.sqrt(_THREE))
    result: Json = {
        "connection": asked.kind,
        "output_v": output,
        "ratio": asked.from_v / output,
        "input_phase_v": from_phase,
        "output_phase_v": to_phase,
        **carried,
        "series_v": series_v,
        "common_v": low,
        "built_percent": share,
        "load_va": load,
        "candidates": [],
    }
    windings = three_phase_stack(wye, asked.from_v, output)
    held = dict(zip(HIGH, three_phase(asked.from_v), strict=True))
    found = wound(windings.coils, windings.joints, held)
    return result, {"windings": windings, "found": found, "high": HIGH, "low": LOW}


def _heads(result: Json) -> tuple[Head, ...]:
    named = Message("{name}", name=result["connection"].replace("_", " "))
    gives = Head(Message("Gives"), Figure(result["output_v"], "V", 1), "", named)
    if result["load_va"] is None:
        part = Message("of what goes through it; enter a load for its amperes")
        return (
            gives,
            Head(Message("Built for"), Figure(result["built_percent"], "%", 1), "", part),
            Head(Message("Series"), Figure(result["series_v"], "V", 1), "", Message("across it")),
            Head(Message("Common"), Figure(result["common_v"], "V", 1), "", Message("across it"), main=False),
        )
    carries = Message("carries {load}", load=Figure(result["load_va"] / 1000, "kVA", 3))
    return (
        gives,
        Head(Message("Built for"), Figure(result["built_va"] / 1000, "kVA", 3), "", carries),
        Head(Message("Series"), Figure(result["series_a"], "A", 2), "", _across_it(result, 0, "series_v")),
        Head(Message("Common"), Figure(result["common_a"], "A", 2), "", _across_it(result, 1, "common_v"), main=False),
    )


def _across_it(result: Json, at: int, volts: str) -> Message:
    """Return the volts across a winding; where its rating is known, what it carries of that."""
    across = Figure(result[volts], "V", 1)
    if not result.get("windings"):
        return Message("{volts} across it", volts=across)
    mine = result["windings"][at]
    return Message(
        "{percent} of its {rated} · {volts} across it",
        percent=Figure(mine["percent"], "%"),
        rated=Figure(mine["rated_a"], "A", 1),
        volts=across,
    )


TOOL = Tool(
    name="autotransformer",
    title=Message("Autotransformer"),
    question=Message("What does an autotransformer give, and how small may it be?"),
    group=Group.SUPPLY,
    place=7,
    words=(
        "autotransformer",
        "series winding",
        "common winding",
        "additive",
        "subtractive",
        "tap",
        "450.4",
        "210.9",
        "215.11",
        "variac",
        "turns",
        "step up",
        "step down",
    ),
    studio=WINDINGS,
    asks=AutoAsked,
    solve=solve,
    example={
        "nec": {
            "kind": "two_winding",
            "high_v": "240 V",
            "low_v": "24 V",
            "kva": "1 kVA",
            "from_v": "208 V",
            "to_v": "230 V",
        },
        "iec": {"kind": "wye", "from_v": "400 V", "to_v": "380 V", "load_va": "20 kVA"},
    },
    caution=Message(
        "No isolation: the high side stands on the low one. Earthing, device and where it may be used are for the "
        "local code and the licensed person."
    ),
)
