"""Circuits on legs: entered ones stay, the others take legs by the order of ways."""

from __future__ import annotations

from collections.abc import Iterable

from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.path.model import LoadSpec, Node
from voltaje.systems import System


def poles_of(load: LoadSpec, system: System) -> int:
    """Return a load's poles: as entered, else to neutral where the system has one, else line to line."""
    if load.poles:
        return load.poles
    return 1 if system.line_to_neutral_v else min(2, len(system.legs))


def place(circuits: Iterable[Node], system: System) -> dict[str, tuple[str, ...]]:
    """Return each circuit's legs. Raises InputError where the system has no such connection."""
    legs = [leg for leg, _angle in system.legs]
    to_neutral = [leg for leg in legs if leg != system.high_leg]
    placed: dict[str, tuple[str, ...]] = {}
    way = 0
    for node in circuits:
        if node.load is None:
            placed[node.id] = tuple(legs)
            continue
        poles = poles_of(node.load, system)
        _check(node, poles, system)
        if node.load.legs:
            placed[node.id] = node.load.legs
            continue
        order = to_neutral if poles == 1 else legs
        placed[node.id] = tuple(order[(way + step) % len(order)] for step in range(poles))
        way += poles
    return placed


def _check(node: Node, poles: int, system: System) -> None:
    load = node.load
    if load is None:
        return
    legs = [leg for leg, _angle in system.legs]
    if poles > len(legs):
        message = Message(
            "{poles} poles on {system}, which has {legs}", poles=poles, system=system.name, legs=len(legs)
        )
        raise InputError(f"{node.id}.load.poles", message)
    if poles == 1 and not system.line_to_neutral_v:
        raise InputError(f"{node.id}.load.poles", Message("{system} has no neutral", system=system.name))
    if load.legs and (len(load.legs) != poles or len(set(load.legs)) != poles or not set(load.legs) <= set(legs)):
        raise InputError(f"{node.id}.load.legs", Message("must name {poles} of {legs}", poles=poles, legs=legs))
    if poles == 1 and load.legs == (system.high_leg,):
        raise InputError(f"{node.id}.load.legs", Message("the high leg feeds no load to neutral"))
