"""What rises from a node to everything that feeds it: its loads with their currents."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import NamedTuple

from voltaje.books.answers import AreaBelow, Connected, DwellingDemand, NeutralLoad
from voltaje.path.kinds import LoadKind
from voltaje.path.model import Node
from voltaje.physics.currents import Currents, Placed, leg_currents, total
from voltaje.systems import THREE_PHASE, System


class Leaf(NamedTuple):
    """A load at the end of the path, or what stands for several, as every board above it sees it.

    lagging, level: its current by leg at `connected.va`, with its own lag and as if it had none [A, as phasors]
    continuous: the share that counts as continuous in a feeder; steady: that part by leg, where no one share tells it
    to_neutral: what it puts on the neutral from each leg, full where reduction is not allowed [A]
    """

    node: Node
    connected: Connected
    lagging: Currents
    level: Currents
    continuous: float
    steady: Currents | None
    to_neutral: dict[str, float]
    to_neutral_full: dict[str, float]
    nonlinear: float
    entered_va: float


class Flow(NamedTuple):
    """The currents of a node while one set of its loads runs [A, as phasors]: as they lag, as if none did.

    steady: the part of `level` that is continuous
    """

    lagging: Currents
    level: Currents
    steady: Currents


@dataclass(slots=True)
class Drawn:
    """What a node draws beside its amperes.

    flows: first what the demand counts, then what runs instead where loads exclude each other
    continuous: by leg, with the current it goes with: of the flow that asks most of the leg [A]
    installed_factor: its conductors carry so many times its current as installed
    dwelling: a dwelling's own sheet, which says what its run is made of
    shared: of a circuit that shares its neutral: what all of them draw together, None of any other
    """

    flows: list[Flow] = field(default_factory=list)
    needs: dict[str, tuple[float, float]] = field(default_factory=dict)
    neutral: NeutralLoad | None = None
    nonlinear_share: float = 0.0
    installed_factor: float = 1.0
    dwelling: DwellingDemand | None = None
    shared: Shared | None = None


class Shared(NamedTuple):
    """What circuits of one neutral draw together while all run, and what share of it is nonlinear."""

    flow: Flow
    nonlinear: float


@dataclass(slots=True)
class Rising:
    """All that a node passes up: its leaves; names whose load is not known; what can flow back, by leg [A].

    areas: of itself and of the boards below it; sockets_va: what all receptacles of it count [VA]
    """

    leaves: list[Leaf] = field(default_factory=list)
    drawn: Drawn = field(default_factory=Drawn)
    unknown: list[str] = field(default_factory=list)
    back: dict[str, float] = field(default_factory=dict)
    areas: tuple[AreaBelow, ...] = ()
    sockets_va: float = 0.0


def lump(
    node: Node,
    va: float,
    flow: Flow,
    to_neutral: dict[str, float],
    nonlinear: float,
    entered_va: float,
    sockets_va: float = 0.0,
) -> Leaf:
    """Return a leaf that stands for a node as a whole: what it draws counts in full in everything above it."""
    amps = max((abs(each) for each in flow.level.values()), default=0.0)
    connected = Connected(node.id, LoadKind.GENERAL.value, va, amps=amps, settled=True, sockets_va=sockets_va)
    return Leaf(
        node, connected, flow.lagging, flow.level, 0.0, flow.steady, to_neutral, to_neutral, nonlinear, entered_va
    )


def reduced(leaf: Leaf, factor: float) -> Leaf:
    """Return a load as a board further up sees it, where demand cascades."""
    home = leaf.connected.home if factor == 1 else None  # household practice takes nothing off twice
    connected = replace(leaf.connected, va=leaf.connected.va * factor, diversity=1.0, home=home)
    return _scaled(leaf, factor)._replace(connected=connected)


def _scaled(leaf: Leaf, factor: float) -> Leaf:
    if factor == 1:
        return leaf
    level = {leg: amps * factor for leg, amps in leaf.level.items()}
    return leaf._replace(
        lagging=level if leaf.lagging is leaf.level else {leg: amps * factor for leg, amps in leaf.lagging.items()},
        level=level,
        steady=None if leaf.steady is None else {leg: amps * factor for leg, amps in leaf.steady.items()},
        to_neutral={leg: amps * factor for leg, amps in leaf.to_neutral.items()},
        to_neutral_full={leg: amps * factor for leg, amps in leaf.to_neutral_full.items()},
    )


def spread(va: float, system: System, legs: tuple[str, ...]) -> Currents:
    """Return the current of a load that is spread evenly over legs [A], to neutral where the system has one."""
    low = tuple(leg for leg in legs if leg != system.high_leg)
    if not system.line_to_neutral_v or (len(legs) == THREE_PHASE and not system.high_leg):
        return leg_currents(Placed(va, 1.0, legs), system)
    each = [leg_currents(Placed(va / len(low), 1.0, (leg,)), system) for leg in low]
    return {leg: amps for leg, amps in total(each, system).items() if leg in legs}
