"""The usual-circuit tool: a circuit of a house at 230 V, from its load to its RCD, solved as a job solves it."""

from __future__ import annotations

from dataclasses import replace

from voltaje.books.answers import Household
from voltaje.books.questions import Households
from voltaje.design.solution import NodeSolution
from voltaje.design.solve import solve as solve_job
from voltaje.errors import InputError, NoLawfulAnswer
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, NAMEPLATE, TEXT, VOLTS, Json, number, one_word
from voltaje.message import Figure, Message
from voltaje.path.document import read_job
from voltaje.path.kinds import Kind, LoadKind
from voltaje.quantity import Rating, read_ohms
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet
from voltaje.systems import SYSTEMS
from voltaje.tools.conductors import TYPED_LENGTH, OfAnIecBook, exactly, said_length
from voltaje.tools.tool import PUT, Answered, Group, Head, Tool

_WHAT, _CABLE, _SUPPLY = Message("Circuit"), Message("Cable"), Message("Supply")
_RING, _RADIAL = "ring sockets", "radial sockets"
_KINDS = {
    _RING: LoadKind.SOCKETS,
    _RADIAL: LoadKind.SOCKETS,
    "lighting": LoadKind.LIGHTING,
    "cooker": LoadKind.RANGE,
    "shower": LoadKind.SHOWER,
    "water heater": LoadKind.WATER_HEATER,
    "storage heater": LoadKind.HEATING,
    "charger": LoadKind.CHARGER,
    "heat pump": LoadKind.COOLING,
    "inverter": LoadKind.GENERAL,
}
_USUAL_A = {_RING: 32.0, _RADIAL: 20.0, "lighting": 6.0}  # of circuits that are named by their device: common practice
_SYSTEM = SYSTEMS["230 1ph"]
_AT_THE_SUPPLY = "0.000000000001 m"  # its board stands where the loop was measured
_INPUTS = ("device_a", "length", "method", "cable", "insulated_mm", "load")


class CircuitAsked(OfAnIecBook):
    """What a usual circuit is asked by."""

    circuit: str = declared(one_word(*_KINDS), "what it feeds", "Circuit", _WHAT, shown=_RING)
    load: Rating | None = declared(NAMEPLATE, "what it draws; of sockets and lights all of its device", "Load", _WHAT)
    rated_v: float | None = declared(VOLTS, "that its plate is for, where not 230 V", "Rated at", _WHAT, "V", more=True)
    device_a: float | None = declared(AMPS, "its breaker, by hand", "Breaker", _WHAT, "A")
    floor_m2: float | None = declared(
        number(0, 10_000, "m²"), "that its sockets serve", "Floor", _WHAT, "m²", more=True
    )
    length: tuple[str, float] = declared(
        TYPED_LENGTH, "one way; of a ring the whole of it", "Length", _CABLE, required=True
    )
    cable: str = declared(
        TEXT, "flat twin where the book has it, else multicore", "Cable", _CABLE, choices="cable", more=True, default=""
    )
    method: str = declared(
        TEXT, "A to F, flat twin 100 to 103; C by default", "Method", _CABLE, choices="method", default=""
    )
    insulated_mm: float | None = declared(
        number(0, 10_000), "of its length in thermal insulation", "In insulation", _CABLE, "mm", more=True
    )
    earthing: str = declared(
        one_word("TN-S", "TN-C-S", "TT"), "how the supply is earthed", "Earthing system", _SUPPLY, shown="TN-C-S"
    )
    ze_ohm: float | None = declared(
        number(0, 10_000, "Ω", read_ohms), "loop at its board; the usual greatest where not given", "Ze", _SUPPLY, "Ω"
    )


def solve(asked: CircuitAsked) -> Answered:
    """Return a circuit of a house. Raises InputError at the field that stands in the way of one."""
    book = asked.book
    rules, node = book.asked(Households), _node(asked)
    solved = _solved(asked, node)
    device = solved.design.choice.device_a if solved.design else 0.0
    usual = rules.usual(asked.circuit, device)
    if usual and solved.design and float(solved.design.choice.size) < float(usual.size):
        node["run"].setdefault("pins", {}).update(size=usual.size, reason="usual for its sockets")
        solved = _solved(asked, node)
    if solved.rcd and not solved.rcd.entered:  # what a rule wants is part of the answer
        node["run"]["rcd_ma"] = f"{exactly(solved.rcd.rated_ma)} mA"
        solved = _solved(asked, node)
    if solved.design is None:
        raise _refusal(solved)
    design, loop, rcd = solved.design, solved.loop, solved.rcd
    drop, found = design.drop, [_at_input(finding) for finding in solved.findings]
    if usual and usual.floor_m2 and asked.floor_m2 and exceeds(asked.floor_m2, usual.floor_m2):
        message = Message(
            "{floor} m² of floor: one such circuit serves {most} m² by practice.",
            floor=f"{asked.floor_m2:g}",
            most=f"{usual.floor_m2:g}",
        )
        found.append(Finding(Severity.WARN, "circuit.floor", message, None, "floor_m2", Message("Take two circuits.")))
    drop_longest = drop.longest_m if drop else None
    loop_longest = loop.longest_m if loop else None
    longest = min((each for each in (drop_longest, loop_longest) if each is not None), default=None)
    over = drop is not None and exceeds(drop.percent, drop.limit.percent)
    result: Json = {
        "design_a": max(solved.amps.values()),
        "device_a": design.choice.device_a,
        "device_kind": loop.kind if loop else None,
        "line_mm2": design.choice.size,
        "protective_mm2": design.earth.size,
        "rcd_ma": rcd.rated_ma if rcd else None,
        "rcd_type": rcd.type if rcd else None,
        "rcd_rule": str(rcd.rule) if rcd and rcd.rule else None,
        "drop_v": drop.volts if drop else None,
        "limit_v": drop.limit.percent / 100 * solved.nominal_v if drop else None,
        "zs_ohm": loop.loop.zs_ohm if loop else None,
        "max_zs_ohm": loop.loop.most_ohm if loop else None,
        "holds": not (over or any(finding.severity is Severity.STOP for finding in found)),
        "longest_m": longest,
        "longest_by": None if longest is None else "loop" if longest == loop_longest else "drop",
    }
    facts = {"asked": asked, "length": said_length(asked.length), "solved": solved, "loop": loop.loop if loop else None}
    return Answered(book, result, solved.sheet.steps, found, _heads(result, solved), facts.copy, (node,))


def _solved(asked: CircuitAsked, node: Json) -> NodeSolution:
    """Return the circuit solved on a house's board that stands at the supply."""
    supply = {"earthing": asked.earthing, **({} if asked.ze_ohm is None else {"ze_ohm": asked.ze_ohm})}
    nodes = [
        {"id": "supply", "kind": "source", "system": _SYSTEM.name, "supply": supply},
        {"id": "board", "kind": "board", "parent": "supply", "household": True, "run": {"length": _AT_THE_SUPPLY}},
        {"id": PUT, "parent": "board", **node},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "", "book": asked.book.name, "nodes": nodes}
    return solve_job(read_job(job, "m"), PUT).nodes[PUT]


def _node(asked: CircuitAsked) -> Json:
    """Return the circuit as the open job file has it."""
    kind, amps = _KINDS[asked.circuit], asked.device_a or _USUAL_A.get(asked.circuit)
    if asked.load is None and asked.circuit not in _USUAL_A:
        raise InputError("load", Message("give what it draws"))
    if asked.load is not None and asked.load.unit not in ("A", "VA"):
        raise InputError("load", Message("give it in kW, W or A"))
    rating = f"{exactly(amps or 0.0)} A"
    if asked.load is not None:
        unit = "W" if asked.load.is_watts else asked.load.unit
        rating = f"{exactly(asked.load.value)} {unit}"
    load: Json = {"kind": kind.value, "rating": rating, "poles": 1, "volts": f"{asked.rated_v or _VOLTS:g} V"}
    run: Json = {"length": said_length(asked.length), "cable": asked.cable or _usual_cable(asked)}
    pins: Json = {}
    if asked.method:
        run["method"] = asked.method
    if asked.insulated_mm:
        run["insulated_mm"] = asked.insulated_mm
    if asked.circuit == _RING:
        run["ring"] = True
    if asked.device_a or asked.circuit in _USUAL_A:
        pins["device_a"] = amps
    if asked.circuit == "cooker" and asked.load is not None:
        pins |= _cooker(asked, asked.load)
    node_kind = Kind.INVERTER if asked.circuit == "inverter" else Kind.LOAD
    name = asked.circuit[0].upper() + asked.circuit[1:]
    return {"kind": node_kind.value, "name": name, "load": load, "run": {**run, **({"pins": pins} if pins else {})}}


_VOLTS = _SYSTEM.line_to_line_v


def _usual_cable(asked: CircuitAsked) -> str:
    return "flat twin" if asked.book.terms.rings else asked.book.terms.cable


def _cooker(asked: CircuitAsked, load: Rating) -> Json:
    """Return a cooker's demand by household practice, which holds on whatever board the circuit is put."""
    va = load.value * _VOLTS if load.unit == "A" else load.value * (_VOLTS / (asked.rated_v or _VOLTS)) ** 2
    unit = Household(LoadKind.RANGE.value, va, _VOLTS, with_socket=False)
    counted = asked.book.asked(Households).own_circuit_va(unit, Sheet())
    return {} if counted == va else {"demand_va": exactly(counted) + " VA", "reason": "household practice of cookers"}


def _at_input(finding: Finding) -> Finding:
    """Return a finding at the input of the sheet that it is mended by."""
    last = finding.field.rsplit(".", 1)[-1]
    known = {"size": "circuit", "rating": "load", "rcd_ma": "earthing"}
    return replace(finding, field=last if last in _INPUTS else known.get(last, "circuit"))


def _refusal(solved: NodeSolution) -> NoLawfulAnswer:
    stop = next(finding for finding in solved.findings if finding.severity is Severity.STOP)
    return NoLawfulAnswer(_at_input(stop).field, stop.message, str(stop.rule or ""))


def _heads(result: Json, solved: NodeSolution) -> tuple[Head, ...]:
    rcd, loop = solved.rcd, solved.loop
    no_rcd = Head(Message("RCD"), "–", "", Message("no rule here wants one"))
    most = "–" if result["max_zs_ohm"] is None else Figure(result["max_zs_ohm"], "Ω", 2)
    by = Message("by the loop") if result["longest_by"] == "loop" else Message("by the drop")
    heads = [
        Head(
            Message("Breaker"),
            Figure(result["device_a"], "A"),
            "",
            Message("type {kind}", kind=result["device_kind"]) if result["device_kind"] else None,
        ),
        Head(Message("Cable"), f"{result['line_mm2']} / {result['protective_mm2']}", "mm²", Message("line and cpc")),
        Head(Message("RCD"), Figure(rcd.rated_ma, "mA"), "", Message("type {type}", type=rcd.type)) if rcd else no_rcd,
    ]
    if loop:
        zs = Figure(loop.loop.zs_ohm, "Ω", 2)
        heads.append(Head(Message("Zs, once round"), zs, "", Message("of {most} at most", most=most), main=False))
    if result["longest_m"] is not None:
        heads.append(Head(Message("Longest run"), Figure(result["longest_m"], "m", 0), "", by, main=False))
    return tuple(heads)


TOOL = Tool(
    name="usual-circuit",
    title=Message("Circuit of a house"),
    question=Message("What does this circuit of a house need?"),
    group=Group.CIRCUIT,
    place=1,
    words=(
        *("ring final", "ring main", "radial", "cooker circuit", "shower circuit", "lighting circuit", "immersion"),
        *("twin and earth", "t&e", "rcbo", "rcd", "charger", "433.1.204", "411.3.3"),
    ),
    asks=CircuitAsked,
    solve=solve,
    example={"iec": {"circuit": "shower", "load": "9.5 kW", "rated_v": "240 V", "length": "15 m"}},
    caution=Message("Isolate, lock off, prove dead. The local code and the licensed person decide."),
    families=("iec",),
)
