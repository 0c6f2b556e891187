"""What a board feeds, on its legs: entered legs and ways stay, the others take legs by the order of ways."""

from __future__ import annotations

import itertools
from collections.abc import Iterable

from voltaje.design.ways import Legs, Placed, legs_at, next_free, span
from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.path.kinds import EMPTY, Kind
from voltaje.path.load import LoadSpec
from voltaje.path.model import Job, Node
from voltaje.systems import THREE_PHASE, System

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
    circuits = list(circuits)
    given = [(node.way, _poles(node, system, legs)) for node in circuits if node.way]
    taken = {way for first, poles in given for way in span(first, poles, way_columns)}
    place_of = 0
    for node in circuits:
        poles = _poles(node, system, legs)
        entered = node.load.legs if node.load else node.legs
        if node.transformer and (node.transformer.secondary.phases == THREE_PHASE) != (poles == THREE_PHASE):
            message = Message(
                "{secondary} does not come from {poles} legs", secondary=node.transformer.secondary.name, poles=poles
            )
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
        if node.way:
            placed[node.id] = legs_at(node.way, poles, legs, way_columns)
            if system.high_leg in placed[node.id] and order is to_neutral:
                raise InputError(_key(node, "way"), _WAY_ON_HIGH)
            continue
        if poles > len(order):
            raise InputError(_key(node, "legs"), _NOT_ON_HIGH)
        shunned = system.high_leg if order is to_neutral else ""
        free = next_free(taken, legs, way_columns, poles, shunned) if given else ()
        if free:  # beside circuits that have their ways, it takes the next that is free
            taken.update(free)
            placed[node.id] = legs_at(free[0], poles, legs, way_columns)
            continue
        start = place_of
        if poles == 1 and node.load and node.load.neutral_group:
            start += _step_aside(order, place_of, _neighbours(node.load.neutral_group, circuits, placed))
        placed[node.id] = tuple(order[(start + step) % len(order)] for step in range(poles))
        place_of += poles
    return placed


def _neighbours(group: str, circuits: Iterable[Node], placed: dict[str, Legs]) -> set[str]:
    """Return the legs that are taken by circuits which share a neutral."""
    sharing = [each for each in circuits if each.load and each.load.neutral_group == group]
    return {leg for each in sharing for leg in placed.get(each.id, ())}


def _step_aside(order: Legs, place_of: int, taken: set[str]) -> int:
    """Return how many legs further one is free of those taken [count]; none where all are."""
    return next((at for at in range(len(order)) if order[(place_of + at) % len(order)] not in taken), 0)


def circuits_on(job: Job, board: str, columns: int) -> tuple[dict[str, Placed], Legs]:
    """Return what a board of a job feeds, placed, and the board's own legs.

    Raises: InputError where something there, or above it, cannot be connected as it says.
    """
    line = [job.node(board)]
    while line[0].parent:
        line.insert(0, job.node(line[0].parent))
    fed: dict[str, list[Node]] = {node.id: [] for node in line}
    for node in job.nodes:
        if node.parent in fed:
            fed[node.parent].append(node)
    system = line[0].system
    legs: Legs = tuple(leg for leg, _angle in system.legs) if system else ()
    for above, node in itertools.pairwise(line):
        if system:
            legs = place(fed[above.id], system, legs, columns)[node.id]
        if node.transformer:
            system = node.transformer.secondary
            legs = tuple(leg for leg, _angle in system.legs)
    placed = place(fed[board], system, legs, columns) if system else {}
    return {node.id: Placed(node.way, placed[node.id]) for node in fed[board] if node.id in placed}, legs


def _poles(node: Node, system: System, legs: Legs) -> int:
    if node.load is not None:
        return poles_of(node.load, system)
    if node.kind in EMPTY:
        return node.place.poles or 1
    if node.legs:
        return len(node.legs)
    # A dwelling takes two legs of a wye; a single-phase transformer two legs of any three.
    single = node.kind is Kind.DWELLING or (node.transformer and node.transformer.secondary.phases == 1)
    return _TWO_LEGS if single and len(legs) == THREE_PHASE else len(legs)


def _check(node: Node, poles: int, entered: Legs, system: System, legs: Legs) -> None:
    if poles > len(legs):
        message = Message(
            "{poles} poles on {system}, where there are {legs}", poles=poles, system=system.name, legs=len(legs)
        )
        raise InputError(_key(node, "poles"), message)
    if poles == 1 and not system.line_to_neutral_v:
        raise InputError(_key(node, "poles"), Message("{system} has no neutral", system=system.name))
    if entered and (len(entered) != poles or len(set(entered)) != poles or not set(entered) <= set(legs)):
        raise InputError(_key(node, "legs"), Message("must name {poles} of {legs}", poles=poles, legs=list(legs)))
    if system.high_leg in entered and (poles == 1 or _keeps_low(node, poles)):
        raise InputError(_key(node, "legs"), _NOT_ON_HIGH)


_NOT_ON_HIGH = Message("the high leg feeds no load to neutral, nor equipment that needs one")


_WAY_ON_HIGH = Message("this way lies on the high leg, which feeds no load to neutral: take another way")


def _keeps_low(node: Node, poles: int) -> bool:
    """Return whether what stands on two poles needs a neutral in their middle: ranges, dryers, dwellings."""
    return poles == _TWO_LEGS and (node.kind is Kind.DWELLING or bool(node.load and node.load.household))


def _key(node: Node, key: str) -> str:
    return f"{node.id}.load.{key}" if node.load else f"{node.id}.{key}"
