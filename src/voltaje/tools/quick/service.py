"""The service tool: what a utility's transformer can serve, and the service that takes it."""

from __future__ import annotations

import math

from voltaje.books.answers import NeutralLoad, sets_of
from voltaje.books.machines import EarthingAsked
from voltaje.books.questions import Book, Demands, Earthings
from voltaje.design.chain import Pins, RunDesign, size_run
from voltaje.design.neutrals import taken_as_line
from voltaje.errors import NotCovered
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, AMPS_OR_NONE, KVA, SYSTEM, Json
from voltaje.message import Figure, Message
from voltaje.path.model import USUAL_EARTHING
from voltaje.sheet import Sheet, off
from voltaje.systems import SYSTEMS, THREE_PHASE, System
from voltaje.tools.conductors import OnARun, conductor_of, neutral_of, run_node
from voltaje.tools.tool import Answered, Group, Head, Tool

_SINGLE, _THREE = Formula("kva * 1000 / volts"), Formula("kva * 1000 / (sqrt(3) * volts)")

_UTILITY, _LOAD = Message("Utility's transformer"), Message("Load")
_BESIDE = {"nec": ("120/240 1ph 3w", "208 1ph", "240 1ph", "208Y/120", "480Y/277"), "iec": ("230 1ph", "230/400")}


class ServiceAsked(OnARun):
    """What a service is asked by."""

    kva: float = declared(KVA, "of the transformer that serves it", "Rating", _UTILITY, "kVA", required=True)
    system: System = declared(SYSTEM, "that it makes", "Supply", _UTILITY, required=True)
    load_a: float | None = declared(AMPS, "load where it is less than all of it", "Load", _LOAD, "A")
    neutral_a: float | None = declared(AMPS_OR_NONE, "greatest unbalanced load", "Neutral load", _LOAD, "A")


def solve(asked: ServiceAsked) -> Answered:
    """Return the service that takes what a transformer can serve. Raises InputError at its field."""
    book, sheet, system = asked.book, Sheet(), asked.system
    rated = _amps(asked.kva, system, book, sheet)
    amps = asked.load_a or rated
    least = book.asked(Demands).least_service_a(_SEVERAL)
    run = asked.run(
        amps,
        system.line_to_line_v,
        _phases(system),
        role="service",
        feeder=True,
        least_device_a=least,
        installed_a=max(amps, least),
        neutral=_neutral(asked, amps),
    )
    design = size_run(run, Pins(sets=asked.sets), book, sheet)
    choice = design.choice
    result = {
        "amps": rated,
        "load_a": amps,
        "device_a": choice.device_a,
        "device_at_conductor_a": design.capacity.device_below_a,
        "conductor": conductor_of(design),
        "neutral": neutral_of(design),
        "grounded_conductor": None,
        "electrode_conductors": {},
        "beside": [
            {"system": name, "amps": _amps(asked.kva, SYSTEMS[name], book, off())}
            for name in _BESIDE[book.terms.family]
        ],
    }
    findings = list(design.findings)
    if system.line_to_neutral_v:
        _earth(asked, design, result, book, sheet)
        if asked.neutral_a is None and result["grounded_conductor"]:
            findings.append(taken_as_line(amps, book, "neutral_a"))
    if amps > rated:
        message = Message(
            "{load} are over the {rated} of the transformer.", load=Figure(amps, "A", 1), rated=Figure(rated, "A", 1)
        )
        findings.append(Finding(Severity.WARN, "service.over_transformer", message, None, "load_a"))
    if choice.device_a > design.capacity.ampacity_a:
        message = Message(
            "{device} stands by the next rating up over {carries}; at the conductor it would be {below}. A size is not "
            "changed in the field without the designer: device, conductor and jumpers go together.",
            device=Figure(choice.device_a, "A"),
            carries=Figure(design.capacity.ampacity_a, "A"),
            below=Figure(design.capacity.device_below_a, "A"),
        )
        findings.append(Finding(Severity.NOTE, "service.rounded_up", message, book.rule("round_up"), "size"))
    return Answered(
        book,
        result,
        sheet.steps,
        findings,
        _heads(asked, result, design.capacity.ampacity_a),
        {"asked": asked, "design": design}.copy,
        (_node(asked, amps),),
    )


def _neutral(asked: ServiceAsked, amps: float) -> NeutralLoad | None:
    """Return what the neutral carries: its load, where none was given as a line; in full, what is nonlinear unsaid."""
    if not asked.system.line_to_neutral_v:
        return None
    return NeutralLoad(amps if asked.neutral_a is None else asked.neutral_a, reducible=False)


def _phases(system: System) -> int:
    return THREE_PHASE if len(system.legs) == THREE_PHASE else 1


def _amps(kva: float, system: System, book: Book, sheet: Sheet) -> float:
    """Return what a transformer serves in each line of a system [A]."""
    three = _phases(system) == THREE_PHASE
    because = Message("three lines share it: √3") if three else None
    return sheet.apply(
        _THREE if three else _SINGLE,
        Message("It serves"),
        "A",
        book.load_rule,
        because,
        kva=kva,
        volts=system.line_to_line_v,
    )


_SEVERAL = 3  # circuits: what such a transformer feeds


def _earth(asked: ServiceAsked, design: RunDesign, result: Json, book: Book, sheet: Sheet) -> None:
    """Fill in the grounded conductor and the electrode conductors, where the book has their rules.

    The neutral is that of its run.
    """
    choice = design.choice
    inputs = EarthingAsked(
        choice.size, asked.material, choice.sets, choice.sets, neutral=design.neutral, system=USUAL_EARTHING
    )
    try:
        found = book.asked(Earthings).earthing(inputs, sheet)
    except NotCovered:
        return
    parts = {part.key: part for part in found.parts}
    if "grounded" in parts:
        grounded = parts["grounded"]
        result["grounded_conductor"] = {"size": grounded.size, "sets": grounded.sets, "material": asked.material}
        result["main_bonding_jumper"] = found.size("jumper")
        result["electrode_conductors"] = {key: parts[key].size for key in _ELECTRODES}
    else:
        result["earth"] = {key: part.size for key, part in parts.items()}


_ELECTRODES = ("water_pipe", "steel", "concrete_encased", "rod", "ring")


def _heads(asked: ServiceAsked, result: Json, ampacity_a: float) -> tuple[Head, ...]:
    terms, conductor = asked.book.terms, result["conductor"]
    heads = [
        Head(Message("It serves"), Figure(result["amps"], "A", 1), "", Message("each line")),
        Head(
            Message("Service"),
            Figure(result["device_a"], "A"),
            "",
            Message("{below} at the conductor", below=Figure(result["device_at_conductor_a"], "A")),
        ),
        Head(
            Message("Lines"),
            sets_of(conductor["size"], conductor["sets"]),
            f"{terms.gauge(conductor['size'])} {asked.material}",
            Message("carries {amps}", amps=Figure(ampacity_a, "A", 1)),
        ),
    ]
    grounded = result["grounded_conductor"]
    if grounded:
        heads.append(
            Head(
                Message("Grounded conductor"),
                sets_of(grounded["size"], grounded["sets"]),
                f"{terms.gauge(grounded['size'])} {asked.material}",
                main=False,
            )
        )
    return tuple(heads)


def _node(asked: ServiceAsked, amps: float) -> Json:
    three = _phases(asked.system) == THREE_PHASE
    demand_va = amps * asked.system.line_to_line_v * (math.sqrt(THREE_PHASE) if three else 1.0)
    run = run_node(asked, demand_va=demand_va, neutral_a=asked.neutral_a)
    return {"kind": "board", "name": "Service", "run": {**run, "role": "service"}}


TOOL = Tool(
    name="service",
    title=Message("Service from a transformer"),
    question=Message("What can so many kVA serve, and what service takes it?"),
    group=Group.SUPPLY,
    place=2,
    words=("utility", "kva", "amps", "main", "230.42", "240.4", "grounded conductor", "meter"),
    asks=ServiceAsked,
    solve=solve,
    example={
        "nec": {"kva": "75 kVA", "system": "208Y/120", "neutral_a": "120 A", "terminal_c": 75},
        "iec": {"kva": "100 kVA", "system": "230/400"},
    },
    caution=Message(
        "Ahead of the service disconnect no breaker of yours protects you: the utility isolates. The "
        "licensed person decides."
    ),
)
