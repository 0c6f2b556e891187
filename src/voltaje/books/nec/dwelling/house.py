"""What a house is made of, as the dwelling rules take it: typed, checked, in volt-amperes."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.message import Message
from voltaje.path.house import CookingKind, HeatingKind, Occupancy, Terminals
from voltaje.rounding import HalfReading
from voltaje.sheet import Citation, Step
from voltaje.systems import System


@dataclass(frozen=True)
class Load:
    """A load in volt-amperes: the field it came from, its text, its horsepower if so rated, its conversion."""

    field: str
    typed: str
    va: float
    hp: float | None = None
    working: Step | None = None


@dataclass(frozen=True)
class Appliance:
    """An appliance; `on_neutral` where it is wired line to neutral, or its voltage is not known."""

    name: str
    load: Load
    motor: bool
    fastened: bool
    on_neutral: bool
    volts_known: bool


@dataclass(frozen=True)
class Cooking:
    """Household cooking units of one rating; `load` is of one."""

    kind: CookingKind
    load: Load
    count: int


@dataclass(frozen=True)
class Heating:
    """Space heating: load in all, and its separately controlled units.

    locked_out: a supplement that never runs with the compressor
    """

    kind: HeatingKind
    load: Load
    units: int
    locked_out: bool


@dataclass(frozen=True)
class House:
    """A dwelling as it is entered, or several taken together.

    three_phase: fed from a three-phase four-wire board, cooking units and dryers spread over its legs
    largest_cooling_va: of several dwellings the largest cooling load of one; 0 where it is the whole
    """

    system: System
    occupancy: Occupancy
    floor_area_ft2: float
    floor_area_typed: str
    small_appliance_circuits: int
    laundry_circuits: int
    appliances: tuple[Appliance, ...]
    dryers: tuple[Load, ...]
    cooking: tuple[Cooking, ...]
    heating: tuple[Heating, ...]
    cooling: Load | None
    chargers: tuple[Load, ...]
    material: str
    terminals: Terminals
    half: HalfReading
    three_phase: bool = False
    largest_cooling_va: float = 0.0


@dataclass(frozen=True)
class Part:
    """What a line of the worksheet is made of: a name, how it is reckoned, its load."""

    name: Message
    reckoned: Message
    va: float


@dataclass(frozen=True)
class DemandLine:
    """One line of the worksheet: what is connected, what of it counts, and the rule."""

    key: str
    label: Message
    summary: Message
    connected_va: float
    demand_va: float
    rule: Citation
    parts: tuple[Part, ...] = ()
