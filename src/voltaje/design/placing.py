"""What a board feeds, on its legs: entered legs and ways stay, the others take legs by the order of ways."""

from __future__ import annotations

from collections.abc import Iterable

from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.path.kinds import EMPTY, Kind
from voltaje.path.model import LoadSpec, Node
from voltaje.systems import System

Legs = tuple[str, ...]

_THREE_PHASE = 3
_TWO_LEGS = 2


def poles_of(load: LoadSpec, system: System) -> int:
    """Return a load's poles: as entered, else to neutral where the system has one, else line to line [count]."""
    if load.poles:
        return load.poles
    return 1 if system.line_to_neutral_v else min(_TWO_LEGS, len(system.legs))


def place(circuits: Iterable[Node], system: System, legs: Legs, way_columns: int) -> dict[str, Legs]:
    """Return the legs of each node that a board feeds.

    legs: those that the board itself has; way_columns: how many neighbouring ways share a leg
    Raises: InputError where the board or its system has no such connection.
    """
    to_neutral = tuple(leg for leg in legs if leg != system.high_leg)
    placed: dict[str, Legs] = {}
    place_of = 0
    for node in circuits:
        poles = _poles(node, system, legs)
        entered = node.load.legs if node.load else node.legs
        if node.transformer and (node.transformer.secondary.phases == _THREE_PHASE) != (poles == _THREE_PHASE):
            message = Message("{secondary} does not come from {poles} legs", secondary=node.transformer.secondary.name,
                              poles=poles)  # fmt: skip
            raise InputError(f"{node.id}.transformer.secondary", message)
        if poles == len(legs) and not entered and node.load is None and node.kind not in EMPTY:
            placed[node.id] = legs
            continue
        if entered or poles > len(legs) or not system.line_to_neutral_v:
            _check(node, poles, entered, system, legs)
        if entered:
            placed[node.id] = entered
            continue
        order = to_neutral if poles == 1 or _keeps_low(node, poles) else legs
        if poles > len(order):
            raise InputError(_key(node, "legs"), _NOT_ON_HIGH)
        if node.way:
            first = (node.way - 1) // way_columns
        else:
            first = place_of
            place_of += poles
        placed[node.id] = tuple(order[(first + step) % len(order)] for step in range(poles))
    return placed


def _poles(node: Node, system: System, legs: Legs) -> int:
    if node.load is not None:
        return poles_of(node.load, system)
    if node.kind in EMPTY:
        return node.place.poles or 1
    if node.legs:
        return len(node.legs)
    # A dwelling takes two legs of a wye; a single-phase transformer two legs of any three.
    single = node.kind is Kind.DWELLING or (node.transformer and node.transformer.secondary.phases == 1)
    return _TWO_LEGS if single and len(legs) == _THREE_PHASE else len(legs)


def _check(node: Node, poles: int, entered: Legs, system: System, legs: Legs) -> None:
    if poles > len(legs):
        message = Message("{poles} poles on {system}, where there are {legs}", poles=poles, system=system.name,
                          legs=len(legs))  # fmt: skip
        raise InputError(_key(node, "poles"), message)
    if poles == 1 and not system.line_to_neutral_v:
        raise InputError(_key(node, "poles"), Message("{system} has no neutral", system=system.name))
    if entered and (len(entered) != poles or len(set(entered)) != poles or not set(entered) <= set(legs)):
        raise InputError(_key(node, "legs"), Message("must name {poles} of {legs}", poles=poles, legs=list(legs)))
    if system.high_leg in entered and (poles == 1 or _keeps_low(node, poles)):
        raise InputError(_key(node, "legs"), _NOT_ON_HIGH)


_NOT_ON_HIGH = Message("the high leg feeds no load to neutral, nor equipment that needs one")


def _keeps_low(node: Node, poles: int) -> bool:
    """Return whether what stands on two poles needs a neutral in their middle: ranges, dryers, dwellings."""
    return poles == _TWO_LEGS and (node.kind is Kind.DWELLING or bool(node.load and node.load.household))


def _key(node: Node, key: str) -> str:
    return f"{node.id}.load.{key}" if node.load else f"{node.id}.{key}"
