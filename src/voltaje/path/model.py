"""Nodes, runs and loads of a job, typed; nothing here is computed yet."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from voltaje.path.surroundings import Surroundings
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
    WATER_HEATER = "water_heater"
    CHARGER = "charger"
    RANGE = "range"
    DRYER = "dryer"
    GENERAL = "general"


class Role(StrEnum):
    """What a run is to the supply, as grounding rules tell runs apart."""

    SERVICE = "service"
    FEEDER = "feeder"
    DERIVED = "derived"


class Terminals(StrEnum):
    """What the terminals on a job are marked for."""

    MARKED_60 = "60"
    MARKED_75 = "75"
    UNMARKED = "unmarked"


class DwellingsMethod(StrEnum):
    """The two ways to reckon several dwellings on one board."""

    STANDARD = "standard"
    OPTIONAL = "optional"


@dataclass(frozen=True)
class PathPins:
    """What a person fixed on a run by hand, and why."""

    device_a: float | None = None
    size: str | None = None
    sets: int | None = None
    length_m: float | None = None
    demand_va: float | None = None
    reason: str = ""


@dataclass(frozen=True)
class RunSpec:
    """The run that feeds a node, as entered; None and "" are left to the book's defaults.

    role: None is told by what the run comes from
    """

    length_m: float | None = None
    material: str = "Cu"
    insulation: str = ""
    method: str = ""
    cable: str = ""
    raceway: str = ""
    ambient_c: float | None = None
    bundled: int = 0
    arrangement: str = ""
    sets: int | None = None
    terminal_c: int | None = None
    role: Role | None = None
    surroundings: Surroundings = field(default_factory=Surroundings)
    pins: PathPins = field(default_factory=PathPins)

    @property
    def long_m(self) -> float | None:
        """The length that counts [m]: the pinned one, else the entered one."""
        return self.pins.length_m if self.pins.length_m is not None else self.length_m


@dataclass(frozen=True)
class LoadSpec:
    """A load as entered: rating of one, how many, on which poles and legs, and how it runs.

    poles: 0 leaves them to the system; way: place in the board, 0 where it takes the next one
    volts: what the equipment is rated for, None where it is the supply's own
    continuous, nonlinear: shares of it, 0 to 1; continuous is None where its kind says
    group: of the noncoincident loads of one board only the largest counts
    neutral_group: circuits of one board that share a neutral
    household: whether the household tables of ranges and dryers are for it
    diversity: entered by the designer (IEC family), 1 where none is entered
    """

    kind: LoadKind
    rating: Rating
    phases: int = 1
    poles: int = 1
    legs: tuple[str, ...] = ()
    way: int = 0
    volts: float | None = None
    count: int = 1
    power_factor: float = 1.0
    continuous: float | None = None
    nonlinear: float = 0.0
    group: str = ""
    neutral_group: str = ""
    diversity: float = 1.0
    household: bool = False

    @property
    def counts_as(self) -> LoadKind:
        """What rules take it for: whatever is rated in horsepower is a motor."""
        return LoadKind.MOTOR if self.rating.unit == "hp" else self.kind


@dataclass(frozen=True)
class TransformerSpec:
    """A transformer as entered; its secondary is a system of its own."""

    kva: float
    secondary: System
    connection: str = ""
    impedance_percent: float | None = None


@dataclass(frozen=True)
class BoardSpec:
    """How a board's demand is reckoned, where it is not its circuits alone.

    floor_area_ft2, occupancy: general lighting by area; va_per_ft2: a unit load entered in place of the table's
    dwellings: the method for several dwellings on it
    diversity: entered by the designer (IEC family)
    """

    floor_area_ft2: float = 0.0
    occupancy: str = ""
    va_per_ft2: float | None = None
    dwellings: DwellingsMethod = DwellingsMethod.STANDARD
    diversity: float = 1.0


@dataclass(frozen=True)
class Amendment:
    """A local amendment beside the book: a limit or a least size, and the reason for it."""

    limit: str
    value: str | float
    reason: str


@dataclass(frozen=True)
class Node:
    """A node of the path; the run, device first, comes from its parent.

    legs: of a board, transformer or dwelling that takes only some of its parent's
    """

    id: str
    kind: Kind
    name: str
    parent: str | None = None
    system: System | None = None
    run: RunSpec = field(default_factory=RunSpec)
    load: LoadSpec | None = None
    transformer: TransformerSpec | None = None
    dwelling: dict[str, Any] | None = None
    board: BoardSpec = field(default_factory=BoardSpec)
    legs: tuple[str, ...] = ()


@dataclass(frozen=True)
class Job:
    """One site: its book, its practices, its nodes in the order they were entered.

    supply: public or private, for the IEC profiles' drop limits
    ambient_c: of runs that say none [°C]; solved: what an earlier solution gave
    """

    name: str
    book: str
    terminals: Terminals
    region: str
    supply: str
    ambient_c: float | None
    amendments: tuple[Amendment, ...]
    solved: dict[str, Any] | None
    nodes: tuple[Node, ...]
    raw: dict[str, Any]

    def node(self, node_id: str) -> Node:
        """Return a node by its id. Raises KeyError."""
        return next(node for node in self.nodes if node.id == node_id)
