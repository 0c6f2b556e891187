"""Nodes, runs and loads of a job, typed; nothing here is computed yet."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import Any

from voltaje.limits import MOST_COUNT, MOST_VA, MOST_WAYS
from voltaje.path.board import BoardSpec, WaySpec
from voltaje.path.cookers import COOKERS, CookerSpec
from voltaje.path.electrodes import ELECTRODES
from voltaje.path.fields import (
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
    declared,
    number,
    one_number,
    one_of,
    one_word,
    whole,
)
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


@dataclass(frozen=True)
class PathPins:
    """What a person fixed on a run by hand, and why."""

    device_a: float | None = declared(
        "device_a", AMPS, "the device [A]", label="Set breaker or fuse by hand", link="device", hint="A"
    )
    size: str | None = declared(
        "size", SIZE, "the conductor, as its table has it", label="Set size by hand", link="conductor"
    )
    sets: int | None = declared("sets", SETS, "conductors in parallel", label="Parallel sets", link="conductor")
    length_m: float | None = declared(
        "length", LENGTH, "the length that counts, as measured",
        label="Measured length", link="drop", hint="length",
    )  # fmt: skip
    demand_va: float | None = declared(
        "demand_va", number(0, MOST_VA, "VA"), "the demand [VA]", label="Set demand by hand", link="demand", hint="VA"
    )
    neutral_a: float | None = declared(
        "neutral_a", AMPS_OR_NONE, "what its neutral carries at most: the greatest unbalanced load [A]",
        label="Set neutral load by hand", link="conductor", hint="A",
    )  # fmt: skip
    reason: str = declared("reason", TEXT, "why it is fixed", default="", label="Why", link="reason")


@dataclass(frozen=True)
class RunSpec:
    """The run that feeds a node, as entered; None and "" are left to the book's defaults.

    role: None is told by what the run comes from
    """

    length_m: float | None = declared(
        "length", LENGTH, 'one way: "85 ft", "30 m"; a bare number is ft (NEC) or m (IEC)',
        label="One-way length", link="drop", hint="length", column=True,
    )  # fmt: skip
    material: str = declared(
        "material", TEXT, "of the conductors: Cu, Al",
        default="Cu", shown="Cu", label="Material", link="conductor", choices="material", family="nec", hint="Cu",
    )  # fmt: skip
    insulation: str = declared(
        "insulation", TEXT, "THWN-2 (NEC) or PVC 70 (IEC) by default",
        default="", label="Insulation", link="conductor", choices="insulation",
    )  # fmt: skip
    method: str = declared(
        "method", TEXT, "raceway, cable, buried (NEC); A to F (IEC); raceway or C by default",
        default="", label="Method", link="conductor", choices="method",
    )  # fmt: skip
    cable: str = declared(
        "cable", TEXT, "singles, multicore, armoured (IEC); multicore by default",
        default="", label="Cable", link="conductor", choices="cable", family="iec",
    )  # fmt: skip
    raceway: str = declared(
        "raceway", TEXT, "PVC 40 (default), PVC 80, EMT, RMC (NEC)",
        default="", label="Raceway", link="conductor", choices="raceway", family="nec",
    )  # fmt: skip
    ambient_c: float | None = declared(
        "ambient_c", TEMPERATURE, "ambient or ground, °C where it has no unit; the tables' base by default",
        label="Ambient", link="conductor", hint="degrees",
    )  # fmt: skip
    bundled: int = declared(
        "bundled", whole(1, 200), "current-carrying conductors (NEC) or circuits (IEC) together",
        default=0, label="Grouped together", link="conductor", hint="bundled",
    )  # fmt: skip
    arrangement: str = declared(
        "arrangement", TEXT,
        "bunched, wall, tray, buried touching, buried ducts touching (IEC); by its method by default",
        default="", label="Arrangement", link="conductor", choices="arrangement", family="iec", hint="automatic",
    )  # fmt: skip
    sets: int | None = declared("sets", SETS, "conductors in parallel")
    terminal_c: int | None = declared(
        "terminal_c", whole(0, 200), "what the terminals of this run are marked for; the job's by default",
        label="Terminals", link="conductor", choices="terminal_c", family="nec", hint="as the job has it",
    )  # fmt: skip
    role: Role | None = declared(
        "role", one_of(Role), "service, feeder, derived (from a transformer), or tap (its device at its end); by what "
        "it comes from by default",
        label="Kind of run", link="conductor", hint="automatic",
    )  # fmt: skip
    tap_place: str = declared(
        "tap_place", one_word("indoors", "outdoors", "high bay"),
        "where a tap is, for the rule that lets it be long (NEC)",
        default="indoors", shown="indoors", label="A tap is", link="conductor", family="nec", hint="indoors",
    )  # fmt: skip
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
        "kind", one_of(LoadKind), "as demand rules tell loads apart",
        default=LoadKind.GENERAL, shown="general", label="Kind", link="load", column=True,
    )  # fmt: skip
    rating: Rating = declared(
        "rating", RATING, 'of one: "4.5 kW", "180 VA", "16 A", "5 hp"; a bare number is VA',
        required=True, label="Rating each", link="load", column=True,
    )  # fmt: skip
    count: int = declared(
        "count", whole(1, MOST_COUNT), "how many such",
        default=1, shown=1, label="Quantity", link="load", hint="1", column=True,
    )  # fmt: skip
    phases: int = declared(
        "phases", one_number(1, 3), "3 on three poles or legs, else 1, by default",
        default=1, label="Phases", link="load", hint="automatic", column=True,
    )  # fmt: skip
    poles: int = declared(
        "poles", one_number(1, 2, 3), "to neutral where the system has one, by default",
        default=0, label="Poles", link="load", hint="automatic", column=True,
    )  # fmt: skip
    legs: tuple[str, ...] = declared(
        "legs",
        LEG_NAMES,
        "by the order of ways by default",
        default=(),
        label="Phases it is on",
        link="load",
        hint="automatic",
    )
    way: int = declared(
        "way", whole(1, MOST_WAYS), "place in the board; two neighbouring ways share a leg (NEC)",
        default=0, label="Way", link="load",
    )  # fmt: skip
    volts: float | None = declared(
        "volts", VOLTS, "what the equipment is rated for; the supply's own by default",
        label="Nameplate voltage", link="load", hint="V", column=True,
    )  # fmt: skip
    power_factor: float = declared(
        "power_factor", number(0, 1, read=read_share), "lagging",
        default=1.0, shown=1, label="Power factor", link="load", hint="1", column=True,
    )  # fmt: skip
    continuous: float | None = declared(
        "continuous", SHARE, "three hours or more, a share 0 to 1, true is 1; by its kind where not given",
        label="Continuous", link="load", hint="automatic", column=True,
    )  # fmt: skip
    nonlinear: float = declared(
        "nonlinear", SHARE,
        "share of nonlinear load, 0 to 1, true is 1; the IEC family takes it as third harmonic of the line",
        default=0.0, shown=0, label="Harmonic (nonlinear) part", link="load", hint="0",
    )  # fmt: skip
    group: str = declared(
        "group", TEXT, "noncoincident loads of one board: of one group only the largest counts",
        default="", label="Noncoincident with (group)", link="load",
    )  # fmt: skip
    keep_leg: bool = declared(
        "keep_leg", FLAG, "it stays on its legs when they are evened out",
        default=False, shown=False, label="Stays on its leg", link="load",
    )  # fmt: skip
    neutral_group: str = declared(
        "neutral_group", TEXT, "circuits that share a neutral",
        default="", label="Multiwire group (shared neutral)", link="load",
    )  # fmt: skip
    diversity: float = declared(
        "diversity", SHARE, "entered by the designer (IEC), a share 0 to 1",
        default=1.0, shown=1, label="Your diversity", link="load", family="iec", hint="1",
    )  # fmt: skip
    nameplate_a: float | None = declared(
        "nameplate_a", AMPS, "a motor's own current by its plate: for its overload device (NEC)",
        label="Nameplate current", link="load", hint="A", kinds=("motor",),
    )  # fmt: skip
    service_factor: float | None = declared(
        "service_factor", number(0, 3), "of a motor, as marked (NEC)",
        label="Service factor", link="load", family="nec", kinds=("motor",),
    )  # fmt: skip
    design: Design = declared(
        "design", one_of(Design), "of a motor: B energy-efficient (premium too), or other (NEC)",
        default=Design.OTHER, shown=Design.OTHER.value, label="Design", link="load", family="nec", kinds=("motor",),
    )  # fmt: skip
    device_kind: DeviceKind = declared(
        "device_kind", one_of(DeviceKind), "what guards a motor against short circuit (NEC)",
        default=DeviceKind.INVERSE_TIME_BREAKER, shown=DeviceKind.INVERSE_TIME_BREAKER.value,
        label="Kind of device", link="device", family="nec", kinds=("motor",),
    )  # fmt: skip
    motor_type: MotorType = declared(
        "motor_type", one_of(MotorType), "of a motor, by construction (NEC)",
        default=MotorType.SQUIRREL_CAGE, shown=MotorType.SQUIRREL_CAGE.value,
        label="Construction", link="load", family="nec", kinds=("motor",),
    )  # fmt: skip
    duty: str = declared(
        "duty", one_word(*DUTIES), "of a motor; short-time, intermittent, periodic, varying by minutes (NEC)",
        default=DUTIES[0], shown=DUTIES[0], label="Duty", link="load", family="nec", kinds=("motor",),
    )  # fmt: skip
    temp_rise_c: float | None = declared(
        "temp_rise_c", number(0, 200, "°C", read_temperature), "of a motor, as marked (NEC)",
        label="Temperature rise", link="load", family="nec", hint="°C", kinds=("motor",),
    )  # fmt: skip
    by_plate: bool = declared(
        "by_plate", FLAG, "of a motor for low speed, high torque, several speeds: its plate's current counts (NEC)",
        default=False, shown=False, label="Low speed or high torque", link="load", family="nec", kinds=("motor",),
    )  # fmt: skip
    welder: str = declared(
        "welder", one_word(*WELDERS), "which: arc, motor-generator (arc), resistance; the rating is its primary's",
        default=WELDERS[0], shown=WELDERS[0], label="Welder", link="load", family="nec", kinds=("welder",),
    )  # fmt: skip
    duty_percent: float = declared(
        "duty_percent", number(0, 100, "%"), "of a welder: its duty cycle; all of the time by default, the safe side",
        default=100.0, shown=100, label="Duty cycle", link="load", family="nec", hint="%", kinds=("welder",),
    )  # fmt: skip
    managed_a: float | None = declared(
        "managed_a", AMPS, "a charger under load management: the current of each that it is held to",
        label="Held to", link="load", hint="A", kinds=("charger",),
    )  # fmt: skip
    mca: float | None = declared(
        "mca", AMPS, "a compressor's minimum circuit ampacity as printed (NEC)",
        label="MCA", link="load", family="nec", hint="A", kinds=("cooling",),
    )  # fmt: skip
    mop: float | None = declared(
        "mop", AMPS, "a compressor's maximum device as printed (NEC)",
        label="Max. breaker (MOP)", link="load", family="nec", hint="A", kinds=("cooling",),
    )  # fmt: skip
    cooking: str = declared(
        "cooking", one_word("range", "cooktop", "oven"), "which cooking unit: an oven or cooktop counts its plate",
        default="range", shown="range", label="Cooking unit", link="load", family="nec", hint="range", kinds=("range",),
    )  # fmt: skip
    parts: tuple[CookerSpec, ...] = declared(
        "parts", COOKERS, "of a kitchen on one circuit: its appliances; the rating is theirs together (NEC)", default=()
    )
    household: bool = declared(
        "household", FLAG, "household range or dryer (NEC); true on a single phase by default",
        default=False, label="Household equipment", link="load", family="nec", hint="automatic",
        kinds=tuple(HOUSEHOLD),
    )  # fmt: skip

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
        "fault_ka", number(0, 300, "kA"), "bolted short circuit there, as the utility says; infinite if not given",
        label="Short circuit", link="load", hint="kA",
    )  # fmt: skip
    measured_v: float | None = declared(
        "measured_v", VOLTS, "measured, line to line; nominal if not given",
        label="Measured volts", link="load", hint="V",
    )  # fmt: skip
    electrodes: tuple[str, ...] = declared(
        "electrodes", ELECTRODES, "what is there, of: water pipe, steel, concrete-encased, rod, ring; all but the ring "
        "by default (NEC)", default=(), label="Electrodes", link="load", family="nec", hint="pipe, steel, rod",
    )  # fmt: skip
    ring_size: str = declared(
        "ring_size", SIZE, "of a ground ring (NEC)", default="", label="Ring size", link="load", family="nec", hint="2",
    )  # fmt: skip
    earthing: str = declared(
        "earthing", one_word("TN-S", "TN-C-S", "TT"), "how the supply is earthed (IEC)",
        default="TN-C-S", shown="TN-C-S", label="Earthing system", link="load", family="iec", hint="TN-C-S",
    )  # fmt: skip
    neutral_mm2: str = declared(
        "neutral_mm2", SIZE, "supply neutral of TN-C-S [mm²]; as the service's lines by default (IEC)",
        default="", label="Supply neutral", link="load", family="iec", hint="mm²",
    )  # fmt: skip


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

    name: str = declared("name", TEXT, "of the job", default="")
    book: str = declared("book", TEXT, "full name with its edition, or the short name", default="")
    terminals: Terminals = declared(
        "terminals", one_of(Terminals), "what terminals are marked for; unmarked: 60 °C for 100 A and less (NEC)",
        default=Terminals.UNMARKED, shown=Terminals.UNMARKED.value,
    )  # fmt: skip
    region: str = declared("region", TEXT, "whose conductor colours hold", default="")
    supply: str = declared(
        "supply", one_word(*SUPPLIES), "for the drop limits of IEC profiles", default=SUPPLIES[0], shown=SUPPLIES[0]
    )
    ambient_c: float | None = declared(
        "ambient_c", TEMPERATURE, "ambient of runs that say none, °C where no unit is given"
    )
    amendments: tuple[Amendment, ...]
    solved: dict[str, Any] | None
    nodes: tuple[Node, ...]
    raw: dict[str, Any]

    def node(self, node_id: str) -> Node:
        """Return a node by its id. Raises KeyError."""
        return next(node for node in self.nodes if node.id == node_id)
