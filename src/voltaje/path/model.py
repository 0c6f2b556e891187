"""Nodes, runs and loads of a job, typed; nothing here is computed yet."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import Any

from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import (
    AMPS,
    AMPS_OR_NONE,
    FLAG,
    LEG_NAMES,
    LENGTH,
    RATING,
    SHARE,
    SIZE,
    TEMPERATURE,
    TEXT,
    VOLTS,
    number,
    one_number,
    one_of,
    one_word,
    whole,
)
from voltaje.limits import MOST_COUNT, MOST_VA, MOST_WAYS
from voltaje.path.board import BoardSpec, WaySpec
from voltaje.path.cookers import COOKERS, CookerSpec
from voltaje.path.electrodes import ELECTRODES
from voltaje.path.kinds import HOUSEHOLD, LOAD_KINDS, Kind, LoadKind, Traits
from voltaje.path.machines import DUTIES, WELDERS, Design, DeviceKind, MotorType
from voltaje.path.surroundings import PLAIN, Surroundings
from voltaje.path.transformer import TransformerSpec
from voltaje.quantity import Rating, read_share, read_temperature
from voltaje.systems import System

SETS = whole(1, 12)
SUPPLIES = ("public", "private")


class Role(StrEnum):
    """What a run is to the supply, as grounding rules tell runs apart."""

    SERVICE = "service"
    FEEDER = "feeder"
    DERIVED = "derived"
    TAP = "tap"


class Terminals(StrEnum):
    """What the terminals on a job are marked for."""

    MARKED_60 = "60"
    MARKED_75 = "75"
    UNMARKED = "unmarked"


USUAL_EARTHING = "TN-C-S"  # of a supply where nothing is said: the greater bonding


@dataclass(frozen=True)
class PathPins:
    """What a person fixed on a run by hand, and why."""

    device_a: float | None = declared(AMPS, "the device [A]", "Set breaker or fuse by hand", link="device", hint="A")
    size: str | None = declared(SIZE, "the conductor, as its table has it", "Set size by hand", link="conductor")
    sets: int | None = declared(SETS, "conductors in parallel", "Parallel sets", link="conductor")
    length_m: float | None = declared(
        LENGTH, "the length that counts, as measured", "Measured length", key="length", link="drop", hint="length"
    )
    demand_va: float | None = declared(
        number(0, MOST_VA, "VA"), "the demand [VA]", "Set demand by hand", link="demand", hint="VA"
    )
    neutral_a: float | None = declared(
        AMPS_OR_NONE,
        "what its neutral carries at most: the greatest unbalanced load [A]",
        "Set neutral load by hand",
        link="conductor",
        hint="A",
    )
    reason: str = declared(TEXT, "why it is fixed", "Why", link="reason", default="")


@dataclass(frozen=True)
class RunSpec:
    """The run that feeds a node, as entered; None and "" are left to the book's defaults.

    role: None is told by what the run comes from
    """

    length_m: float | None = declared(
        LENGTH,
        'one way: "85 ft", "30 m"; a bare number is ft (NEC) or m (IEC)',
        "One-way length",
        key="length",
        link="drop",
        hint="length",
        column=True,
    )
    material: str = declared(
        TEXT,
        "of the conductors: Cu, Al",
        "Material",
        shown="Cu",
        link="conductor",
        choices="material",
        family="nec",
        hint="Cu",
    )
    insulation: str = declared(
        TEXT,
        "THWN-2 (NEC) or PVC 70 (IEC) by default",
        "Insulation",
        link="conductor",
        choices="insulation",
        default="",
    )
    method: str = declared(
        TEXT,
        "raceway, cable, buried (NEC); A to F (IEC); raceway or C by default",
        "Method",
        link="conductor",
        choices="method",
        default="",
    )
    cable: str = declared(
        TEXT,
        "singles, multicore, armoured (IEC); multicore by default",
        "Cable",
        link="conductor",
        choices="cable",
        family="iec",
        default="",
    )
    raceway: str = declared(
        TEXT,
        "PVC 40 (default), PVC 80, EMT, RMC (NEC)",
        "Raceway",
        link="conductor",
        choices="raceway",
        family="nec",
        default="",
    )
    ambient_c: float | None = declared(
        TEMPERATURE,
        "ambient or ground, °C where it has no unit; the tables' base by default",
        "Ambient",
        link="conductor",
        hint="degrees",
    )
    bundled: int = declared(
        whole(1, 200),
        "current-carrying conductors (NEC) or circuits (IEC) together",
        "Grouped together",
        link="conductor",
        hint="bundled",
        default=0,
    )
    arrangement: str = declared(
        TEXT,
        "bunched, wall, tray, buried touching, buried ducts touching (IEC); by its method by default",
        "Arrangement",
        link="conductor",
        choices="arrangement",
        family="iec",
        hint="automatic",
        default="",
    )
    sets: int | None = declared(SETS, "conductors in parallel")
    terminal_c: int | None = declared(
        whole(0, 200),
        "what the terminals of this run are marked for; the job's by default",
        "Terminals",
        link="conductor",
        choices="terminal_c",
        family="nec",
        hint="as the job has it",
    )
    role: Role | None = declared(
        one_of(Role),
        "service, feeder, derived (from a transformer), or tap (its device at its end); by what "
        "it comes from by default",
        "Kind of run",
        link="conductor",
        hint="automatic",
    )
    tap_place: str = declared(
        one_word("indoors", "outdoors", "high bay"),
        "where a tap is, for the rule that lets it be long (NEC)",
        "A tap is",
        shown="indoors",
        link="conductor",
        family="nec",
        hint="indoors",
    )
    surroundings: Surroundings = PLAIN
    pins: PathPins = PathPins()

    @property
    def long_m(self) -> float | None:
        """The length that counts [m]: the pinned one, else the entered one."""
        return self.pins.length_m if self.pins.length_m is not None else self.length_m


@dataclass(frozen=True, kw_only=True)
class LoadSpec:
    """A load as entered: rating of one, how many, on which poles and legs, and how it runs.

    phases, poles: as they belong together; 0 poles leaves them to the system; way: 0 where it takes the next one
    volts: what the equipment is rated for, None where it is the supply's own
    continuous, nonlinear: shares of it, 0 to 1; continuous is None where its kind says
    group: of the noncoincident loads of one board only the largest counts
    neutral_group: circuits of one board that share a neutral
    household: whether the household tables of ranges and dryers are for it
    """

    kind: LoadKind = declared(
        one_of(LoadKind),
        "as demand rules tell loads apart",
        "Kind",
        shown="general",
        link="load",
        column=True,
        default=LoadKind.GENERAL,
    )
    rating: Rating = declared(
        RATING,
        'of one: "4.5 kW", "180 VA", "16 A", "5 hp"; a bare number is VA',
        "Rating each",
        required=True,
        link="load",
        column=True,
    )
    count: int = declared(
        whole(1, MOST_COUNT), "how many such", "Quantity", shown=1, link="load", hint="1", column=True
    )
    phases: int = declared(
        one_number(1, 3),
        "3 on three poles or legs, else 1, by default",
        "Phases",
        link="load",
        hint="automatic",
        column=True,
        default=1,
    )
    poles: int = declared(
        one_number(1, 2, 3),
        "to neutral where the system has one, by default",
        "Poles",
        link="load",
        hint="automatic",
        column=True,
        default=0,
    )
    legs: tuple[str, ...] = declared(
        LEG_NAMES, "by the order of ways by default", "Phases it is on", link="load", hint="automatic", default=()
    )
    way: int = declared(
        whole(1, MOST_WAYS),
        "place in the board; two neighbouring ways share a leg (NEC)",
        "Way",
        link="load",
        default=0,
    )
    volts: float | None = declared(
        VOLTS,
        "what the equipment is rated for; the supply's own by default",
        "Nameplate voltage",
        link="load",
        hint="V",
        column=True,
    )
    power_factor: float = declared(
        number(0, 1, read=read_share),
        "lagging",
        "Power factor",
        shown=1,
        link="load",
        hint="1",
        column=True,
        default=1.0,
    )
    continuous: float | None = declared(
        SHARE,
        "three hours or more, a share 0 to 1, true is 1; by its kind where not given",
        "Continuous",
        link="load",
        hint="automatic",
        column=True,
    )
    nonlinear: float = declared(
        SHARE,
        "share of nonlinear load, 0 to 1, true is 1; the IEC family takes it as third harmonic of the line",
        "Harmonic (nonlinear) part",
        shown=0,
        link="load",
        hint="0",
        default=0.0,
    )
    group: str = declared(
        TEXT,
        "noncoincident loads of one board: of one group only the largest counts",
        "Noncoincident with (group)",
        link="load",
        default="",
    )
    keep_leg: bool = declared(
        FLAG, "it stays on its legs when they are evened out", "Stays on its leg", shown=False, link="load"
    )
    neutral_group: str = declared(
        TEXT, "circuits that share a neutral", "Multiwire group (shared neutral)", link="load", default=""
    )
    diversity: float = declared(
        SHARE,
        "entered by the designer (IEC), a share 0 to 1",
        "Your diversity",
        shown=1,
        link="load",
        family="iec",
        hint="1",
        default=1.0,
    )
    nameplate_a: float | None = declared(
        AMPS,
        "a motor's own current by its plate: for its overload device (NEC)",
        "Nameplate current",
        link="load",
        hint="A",
        kinds=("motor",),
    )
    service_factor: float | None = declared(
        number(0, 3), "of a motor, as marked (NEC)", "Service factor", link="load", family="nec", kinds=("motor",)
    )
    design: Design = declared(
        one_of(Design),
        "of a motor: B energy-efficient (premium too), or other (NEC)",
        "Design",
        shown=Design.OTHER.value,
        link="load",
        family="nec",
        kinds=("motor",),
        default=Design.OTHER,
    )
    device_kind: DeviceKind = declared(
        one_of(DeviceKind),
        "what guards a motor against short circuit (NEC)",
        "Kind of device",
        shown=DeviceKind.INVERSE_TIME_BREAKER.value,
        link="device",
        family="nec",
        kinds=("motor",),
        default=DeviceKind.INVERSE_TIME_BREAKER,
    )
    motor_type: MotorType = declared(
        one_of(MotorType),
        "of a motor, by construction (NEC)",
        "Construction",
        shown=MotorType.SQUIRREL_CAGE.value,
        link="load",
        family="nec",
        kinds=("motor",),
        default=MotorType.SQUIRREL_CAGE,
    )
    duty: str = declared(
        one_word(*DUTIES),
        "of a motor; short-time, intermittent, periodic, varying by minutes (NEC)",
        "Duty",
        shown=DUTIES[0],
        link="load",
        family="nec",
        kinds=("motor",),
    )
    temp_rise_c: float | None = declared(
        number(0, 200, "°C", read_temperature),
        "of a motor, as marked (NEC)",
        "Temperature rise",
        link="load",
        family="nec",
        hint="°C",
        kinds=("motor",),
    )
    by_plate: bool = declared(
        FLAG,
        "of a motor for low speed, high torque, several speeds: its plate's current counts (NEC)",
        "Low speed or high torque",
        shown=False,
        link="load",
        family="nec",
        kinds=("motor",),
    )
    welder: str = declared(
        one_word(*WELDERS),
        "which: arc, motor-generator (arc), resistance; the rating is its primary's",
        "Welder",
        shown=WELDERS[0],
        link="load",
        family="nec",
        kinds=("welder",),
    )
    duty_percent: float = declared(
        number(0, 100, "%"),
        "of a welder: its duty cycle; all of the time by default, the safe side",
        "Duty cycle",
        shown=100,
        link="load",
        family="nec",
        hint="%",
        kinds=("welder",),
        default=100.0,
    )
    managed_a: float | None = declared(
        AMPS,
        "a charger under load management: the current of each that it is held to",
        "Held to",
        link="load",
        hint="A",
        kinds=("charger",),
    )
    mca: float | None = declared(
        AMPS,
        "a compressor's minimum circuit ampacity as printed (NEC)",
        "MCA",
        link="load",
        family="nec",
        hint="A",
        kinds=("cooling",),
    )
    mop: float | None = declared(
        AMPS,
        "a compressor's maximum device as printed (NEC)",
        "Max. breaker (MOP)",
        link="load",
        family="nec",
        hint="A",
        kinds=("cooling",),
    )
    cooking: str = declared(
        one_word("range", "cooktop", "oven"),
        "which cooking unit: an oven or cooktop counts its plate",
        "Cooking unit",
        shown="range",
        link="load",
        family="nec",
        hint="range",
        kinds=("range",),
    )
    parts: tuple[CookerSpec, ...] = declared(
        COOKERS, "of a kitchen on one circuit: its appliances; the rating is theirs together (NEC)", default=()
    )
    household: bool = declared(
        FLAG,
        "household range or dryer (NEC); true on a single phase by default",
        "Household equipment",
        link="load",
        family="nec",
        hint="automatic",
        kinds=tuple(HOUSEHOLD),
        default=False,
    )

    @cached_property
    def counts_as(self) -> LoadKind:
        """What rules take it for: whatever is rated in horsepower is a motor."""
        return LoadKind.MOTOR if self.rating.unit == "hp" else self.kind

    @property
    def traits(self) -> Traits:
        """What holds of every load of the kind that rules take it for."""
        return LOAD_KINDS[self.counts_as]


@dataclass(frozen=True)
class SupplySpec:
    """What is known of a source beside its system: what it can feed into a fault, its volts, how it is earthed.

    fault_ka: None is taken as infinite where something else limits it; measured_v: None is the nominal
    """

    fault_ka: float | None = declared(
        number(0, 300, "kA"),
        "bolted short circuit there, as the utility says; infinite if not given",
        "Short circuit",
        link="load",
        hint="kA",
    )
    measured_v: float | None = declared(
        VOLTS, "measured, line to line; nominal if not given", "Measured volts", link="load", hint="V"
    )
    electrodes: tuple[str, ...] = declared(
        ELECTRODES,
        "what is there, of: water pipe, steel, concrete-encased, rod, ring; all but the ring by default (NEC)",
        "Electrodes",
        link="load",
        family="nec",
        hint="pipe, steel, rod",
        default=(),
    )
    ring_size: str = declared(
        SIZE, "of a ground ring (NEC)", "Ring size", link="load", family="nec", hint="2", default=""
    )
    earthing: str = declared(
        one_word("TN-S", "TN-C-S", "TT"),
        "how the supply is earthed (IEC)",
        "Earthing system",
        shown=USUAL_EARTHING,
        link="load",
        family="iec",
        hint="TN-C-S",
    )
    neutral_mm2: str = declared(
        SIZE,
        "supply neutral of TN-C-S [mm²]; as the service's lines by default (IEC)",
        "Supply neutral",
        link="load",
        family="iec",
        hint="mm²",
        default="",
    )


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
    place: in its board, of what is no load; assumed: places of the file that were filled without being said
    note: a person's own words about it; nothing is made of them
    """

    id: str
    kind: Kind
    name: str
    parent: str | None = None
    system: System | None = None
    run: RunSpec = field(default_factory=RunSpec)
    load: LoadSpec | None = None
    supply: SupplySpec = SupplySpec()
    transformer: TransformerSpec | None = None
    dwelling: dict[str, Any] | None = None
    board: BoardSpec = field(default_factory=BoardSpec)
    legs: tuple[str, ...] = ()
    place: WaySpec = field(default_factory=WaySpec)
    assumed: tuple[str, ...] = ()
    note: str = ""

    @property
    def way(self) -> int:
        """Its place in its board [count], 0 where it takes the next one."""
        return self.load.way if self.load else self.place.way


@dataclass(frozen=True, kw_only=True)
class Job:
    """One site: its book, its practices, its nodes in the order they were entered.

    supply: public or private, for the IEC profiles' drop limits
    ambient_c: of runs that say none [°C]; solved: what an earlier solution gave
    """

    name: str = declared(TEXT, "of the job", default="")
    book: str = declared(TEXT, "full name with its edition, or the short name", default="")
    terminals: Terminals = declared(
        one_of(Terminals),
        "what terminals are marked for; unmarked: 60 °C for 100 A and less (NEC)",
        shown=Terminals.UNMARKED.value,
        default=Terminals.UNMARKED,
    )
    region: str = declared(TEXT, "whose conductor colours hold", default="")
    supply: str = declared(one_word(*SUPPLIES), "for the drop limits of IEC profiles", shown=SUPPLIES[0])
    ambient_c: float | None = declared(TEMPERATURE, "ambient of runs that say none, °C where no unit is given")
    amendments: tuple[Amendment, ...]
    solved: dict[str, Any] | None
    nodes: tuple[Node, ...]
    raw: dict[str, Any]

    def node(self, node_id: str) -> Node:
        """Return a node by its id. Raises KeyError."""
        return next(node for node in self.nodes if node.id == node_id)
