"""Nodes, runs and loads of a job, typed; nothing here is computed yet."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from voltaje.quantity import Rating
from voltaje.systems import System


class Kind(StrEnum):
    """What a node is."""

    SOURCE = "source"
    BOARD = "board"
    TRANSFORMER = "transformer"
    LOAD = "load"
    INVERTER = "inverter"
    DWELLING = "dwelling"


class LoadKind(StrEnum):
    """What a load is, as demand rules tell loads apart."""

    LIGHTING = "lighting"
    SOCKETS = "sockets"
    KITCHEN = "kitchen"
    HEATING = "heating"
    COOLING = "cooling"
    MOTOR = "motor"
    CHARGER = "charger"
    GENERAL = "general"


class Terminals(StrEnum):
    """What the terminals on a job are marked for."""

    MARKED_60 = "60"
    MARKED_75 = "75"
    UNMARKED = "unmarked"


@dataclass(frozen=True)
class PathPins:
    """What a person fixed on a run by hand, and why."""

    device_a: float | None = None
    size: str | None = None
    sets: int | None = None
    demand_va: float | None = None
    reason: str = ""


@dataclass(frozen=True)
class RunSpec:
    """The run that feeds a node, as entered; None and "" are left to the book's defaults."""

    length_m: float | None = None
    material: str = "Cu"
    insulation: str = ""
    method: str = ""
    cable: str = ""
    ambient_c: float | None = None
    bundled: int = 0
    arrangement: str = "bunched"
    device_factor: float = 1.0
    pins: PathPins = field(default_factory=PathPins)


@dataclass(frozen=True)
class LoadSpec:
    """A load as entered: rating of one, how many, on which poles and legs, and how it runs.

    continuous, nonlinear: shares of it, 0 to 1; group: of noncoincident loads only the largest counts
    diversity: entered by the designer (IEC family), 1 where none is entered
    """

    kind: LoadKind
    rating: Rating
    phases: int = 1
    poles: int = 1
    legs: tuple[str, ...] = ()
    count: int = 1
    power_factor: float = 1.0
    continuous: float = 0.0
    nonlinear: float = 0.0
    group: str = ""
    diversity: float = 1.0


@dataclass(frozen=True)
class TransformerSpec:
    """A transformer as entered; its secondary is a system of its own."""

    kva: float
    secondary: System
    connection: str = ""
    impedance_percent: float | None = None


@dataclass(frozen=True)
class Node:
    """A node of the path; the run, device first, comes from its parent."""

    id: str
    kind: Kind
    name: str
    parent: str | None = None
    system: System | None = None
    run: RunSpec = field(default_factory=RunSpec)
    load: LoadSpec | None = None
    transformer: TransformerSpec | None = None
    dwelling: dict[str, Any] | None = None
    diversity: float = 1.0


@dataclass(frozen=True)
class Job:
    """One site: its book, its practices, its nodes in the order they were entered, parents first."""

    name: str
    book: str
    terminals: Terminals
    region: str
    nodes: tuple[Node, ...]
    raw: dict[str, Any]

    def node(self, node_id: str) -> Node:
        """Return a node by its id. Raises KeyError."""
        return next(node for node in self.nodes if node.id == node_id)
