"""The balance tool: circuits evened out over the legs of a board, with the proof."""

from __future__ import annotations

import re
from typing import Any

from voltaje.design.balancing import Balanced, Circuit, Legs, even_out, places_of
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import AMPS, FLAG, LEGS, NAMEPLATE, SYSTEM, TEXT, Json, Shape, whole
from voltaje.limits import MOST_ITEMS
from voltaje.message import Figure, Message
from voltaje.quantity import Rating
from voltaje.sheet import Sheet
from voltaje.systems import System
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import OfABook
from voltaje.tools.tool import Answered, Group, Head, Tool

_BOARD, _CIRCUITS = Message("Board"), Message("Circuits")
_BETWEEN = re.compile(r"[\s,/+–—-]+")
_THREE = 3


def _legs(raw: Any, _unit: str) -> Legs:
    parts = raw if isinstance(raw, list) else [part for part in _BETWEEN.split(str(raw).strip()) if part]
    named = [str(part).upper() for part in parts]
    if not named or any(part not in LEGS for part in named) or len({*named}) < len(named):
        raise InputError("", Message("must be legs: L1, or L1-L2"))
    return tuple(sorted(named))


_LEGS = Shape(_legs, {"type": ["string", "array"]})


class CircuitItem(Asked):
    """A circuit of the board."""

    name: str = declared(TEXT, "what it feeds", "Name", shown="")
    load: Rating = declared(NAMEPLATE, "what it draws: VA, W or A", "Load", required=True)
    poles: int = declared(whole(1, 3), "of its breaker", "Poles", shown=1)
    leg: Legs | None = declared(_LEGS, "where it stands: L1, or L1-L2; by the order of ways where not given", "Leg")
    pinned: bool = declared(FLAG, "that it stays where it is", "Stays", shown=False, more=True)
    shares_neutral_with: str = declared(
        TEXT,
        "name of a circuit whose neutral it uses: they keep to legs of their own",
        "Shares a neutral with",
        shown="",
        more=True,
    )


class BalanceAsked(OfABook):
    """What evening out is asked by."""

    system: System = declared(SYSTEM, "that the board is on", "Supply", _BOARD, required=True)
    device_a: float | None = declared(AMPS, "of the board's main", "Main breaker", _BOARD, "A")
    most_moves: int | None = declared(
        whole(0, MOST_ITEMS), "that may be made; as many as help where not given", "Moves at most", _BOARD
    )
    circuits: list[CircuitItem] = many(CircuitItem, _CIRCUITS, Message("circuit"), required=True)


def solve(asked: BalanceAsked) -> Answered:
    """Return the best assignment of circuits to legs. Raises InputError at the circuit's field."""
    system, names = asked.system, _names(asked)
    if len(system.legs) < len(("L1", "L2")):
        raise InputError("system", Message("{name} has one leg: nothing to even out", name=system.name))
    circuits = _circuits(asked, names)
    found = even_out(circuits, system, most_moves=asked.most_moves)
    after = {name: each.legs for name, each in zip(names, circuits, strict=True)} | {
        str(move.key): move.after for move in found.moves
    }
    limit = asked.device_a
    over = [{"leg": leg, "amps": amps} for leg, amps in found.amps.items() if limit and amps > limit]
    result: Json = {
        "legs": found.amps,
        "legs_before": found.amps_before,
        "neutral_a": found.neutral_a,
        "neutral_before_a": found.neutral_before_a,
        "moves": [
            {"name": str(move.key), "from": "-".join(move.before), "to": "-".join(move.after)} for move in found.moves
        ],
        "largest_a": found.largest_a,
        "bound_a": found.bound_a,
        "proven": found.proven,
        "cut": found.cut,
        "over": over,
        "assignment": {name: "-".join(legs) for name, legs in after.items()},
    }
    sheet = Sheet()
    for leg, amps in found.amps_before.items():
        sheet.read(
            amps,
            Message("{leg} as it stands", leg=leg),
            "A",
            asked.book.load_rule,
            Message("volt-amperes of its circuits by volts to neutral"),
        )
    mean = Message("no assignment brings the largest leg under it")
    sheet.read(found.bound_a, Message("Bound"), "A", None, mean)
    facts = {"asked": asked, "found": found, "circuits": circuits, "names": names, "after": after}
    return Answered(asked.book, result, sheet.steps, _findings(asked, found), _heads(found), facts.copy)


def _names(asked: BalanceAsked) -> list[str]:
    """Return a name for each circuit, each once. Raises InputError for a neutral shared with none."""
    names = [item.name or f"circuit {at + 1}" for at, item in enumerate(asked.circuits)]
    for at, name in enumerate(names):
        if name in names[:at]:
            raise InputError(f"circuits[{at}].name", Message("{name} is there already", name=name))
    for at, item in enumerate(asked.circuits):
        if item.shares_neutral_with and item.shares_neutral_with not in names:
            message = Message("there is no circuit {name}", name=item.shares_neutral_with)
            raise InputError(f"circuits[{at}].shares_neutral_with", message)
    return names


def _circuits(asked: BalanceAsked, names: list[str]) -> list[Circuit]:
    system, order = asked.system, [leg for leg, _angle in asked.system.legs]
    groups = _shared(asked, names)
    found, way = [], 0
    for at, (item, name) in enumerate(zip(asked.circuits, names, strict=True)):
        may = places_of(item.poles, system)
        if item.poles > len(order):
            raise InputError(
                f"circuits[{at}].poles", Message("{name} has {count} legs", name=system.name, count=len(order))
            )
        legs = item.leg or tuple(sorted(order[(way + step) % len(order)] for step in range(item.poles)))
        legs = legs if item.leg or legs in may else may[0]
        way += item.poles
        if legs not in may:
            message = Message(
                "a circuit of {poles} stands on one of: {known}",
                poles=item.poles,
                known=["-".join(each) for each in may],
            )
            raise InputError(f"circuits[{at}].leg", message)
        each_a = _each_a(item, system, at)
        found.append(
            Circuit(name, each_a, legs, (legs,) if item.pinned else may, item.poles == 1, groups.get(name, ""))
        )
    return found


def _shared(asked: BalanceAsked, names: list[str]) -> dict[str, str]:
    """Return by name the group that a circuit shares its neutral with."""
    group = {name: name for name in names}

    def head(name: str) -> str:
        while group[name] != name:
            name = group[name]
        return name

    joined = [(name, item.shares_neutral_with) for name, item in zip(names, asked.circuits, strict=True)]
    for name, other in joined:
        if other and other != name:
            group[head(name)] = head(other)
    heads = [head(name) for name in names]
    return {name: own for name, own in zip(names, heads, strict=True) if heads.count(own) > 1}


def _each_a(item: CircuitItem, system: System, at: int) -> float:
    """Return what a circuit puts on each of its legs, by volts to neutral [A]."""
    to_neutral = system.line_to_neutral_v or system.to_middle_v(system.legs[0][0])
    rating = item.load
    if rating.unit == "hp":
        raise InputError(f"circuits[{at}].load", Message("give it in VA, W or A"))
    if rating.unit == "VA":
        return rating.value / item.poles / to_neutral
    if item.poles in (1, _THREE):
        return rating.value
    return rating.value * system.line_to_line_v / item.poles / to_neutral


def _findings(asked: BalanceAsked, found: Balanced) -> list[Finding]:
    said = []
    for leg, amps in found.amps.items():
        if asked.device_a and amps > asked.device_a:
            message = Message(
                "{leg} carries {amps}, over the {device} of the main however the circuits stand: the main opens, and "
                "all of the board goes dark.",
                leg=leg,
                amps=Figure(amps, "A", 1),
                device=Figure(asked.device_a, "A"),
            )
            said.append(Finding(Severity.STOP, "legs.over", message, None, "device_a"))
    gap = found.largest_a - found.bound_a
    if not found.proven:
        message = Message("The largest leg is {gap} over the bound: better may exist.", gap=Figure(gap, "A", 1))
        if found.cut:
            message = Message(
                "The largest leg is {gap} over the bound, and this machine was too busy to look further: ask again.",
                gap=Figure(gap, "A", 1),
            )
        said.append(Finding(Severity.NOTE, "legs.not_proven", message, None, "circuits"))
    return said


def _heads(found: Balanced) -> tuple[Head, ...]:
    moves = str(len(found.moves))
    proof = (
        Message("bound met: proven")
        if found.proven
        else Message("{gap} over the bound", gap=Figure(found.largest_a - found.bound_a, "A", 1))
    )
    return (
        Head(
            Message("Fullest leg"),
            Figure(found.largest_a, "A", 1),
            "",
            Message("{before} before", before=Figure(max(found.amps_before.values()), "A", 1)),
        ),
        Head(Message("Moves"), moves, "", proof),
        Head(
            Message("Neutral"),
            Figure(found.neutral_a, "A", 1),
            "",
            Message("{before} before", before=Figure(found.neutral_before_a, "A", 1)),
        ),
    )


TOOL = Tool(
    name="balance",
    title=Message("Even out the legs"),
    question=Message("Which circuits move so that the legs carry alike?"),
    group=Group.SUPPLY,
    place=5,
    words=("balance", "legs", "phases", "phase balance", "load balance", "neutral", "panel", "even out", "move"),
    asks=BalanceAsked,
    solve=solve,
    example={
        "nec": {
            "system": "120/240 1ph 3w",
            "device_a": "100 A",
            "circuits": [
                {"name": "range", "load": "8 kW", "poles": 2, "leg": "L1-L2"},
                {"name": "kitchen 1", "load": "1500 VA", "leg": "L1"},
                {"name": "kitchen 2", "load": "1500 VA", "leg": "L1"},
                {"name": "laundry", "load": "1500 VA", "leg": "L1"},
                {"name": "dishwasher", "load": "1200 VA", "leg": "L1"},
                {"name": "lights", "load": "900 VA", "leg": "L2"},
                {"name": "microwave", "load": "1400 VA", "leg": "L2"},
            ],
        },
        "iec": {
            "system": "230/400",
            "device_a": "63 A",
            "circuits": [
                {"name": "hob", "load": "7.2 kW", "leg": "L1"},
                {"name": "sockets", "load": "3 kW", "leg": "L1"},
                {"name": "lighting", "load": "800 VA", "leg": "L1"},
                {"name": "water heater", "load": "3 kW", "leg": "L2"},
                {"name": "workshop", "load": "11 kW", "poles": 3},
                {"name": "charger", "load": "7.4 kW", "leg": "L2"},
            ],
        },
    },
    caution=Message(
        "Isolate the board and prove it dead before a wire moves; label anew. Local code and the licensed "
        "person decide."
    ),
)
