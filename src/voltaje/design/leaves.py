"""What rises from a node to everything that feeds it: its loads with their currents."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from voltaje.books.answers import Connected, DwellingDemand, NeutralLoad
from voltaje.path.model import Node
from voltaje.physics.currents import Currents


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
    """

    flows: list[Flow] = field(default_factory=list)
    needs: dict[str, tuple[float, float]] = field(default_factory=dict)
    neutral: NeutralLoad | None = None
    nonlinear_share: float = 0.0
    installed_factor: float = 1.0
    dwelling: DwellingDemand | None = None


@dataclass(slots=True)
class Rising:
    """All that a node passes up: its leaves; names whose load is not known; what can flow back, by leg [A]."""

    leaves: list[Leaf] = field(default_factory=list)
    drawn: Drawn = field(default_factory=Drawn)
    unknown: list[str] = field(default_factory=list)
    back: dict[str, float] = field(default_factory=dict)
