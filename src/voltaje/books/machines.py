"""The words that books are asked about machines in, and answer in. Nothing here knows a rule."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from voltaje.findings import Finding
from voltaje.message import Message
from voltaje.path.machines import Design, DeviceKind, MotorType
from voltaje.sheet import Citation


@dataclass(frozen=True)
class Motor:
    """A motor by its plate.

    hp, kw: its output, one of them; volts: as its plate or its supply has it; phases: 1, 2 or 3
    nameplate_a: its plate's own current [A], None where it was not given; by_plate: its current is its plate's
    duty: "continuous", or a row of the table of duties
    """

    hp: float | None
    kw: float | None
    volts: float
    phases: int
    kind: MotorType = MotorType.SQUIRREL_CAGE
    design: Design = Design.OTHER
    nameplate_a: float | None = None
    service_factor: float | None = None
    temp_rise_c: float | None = None
    duty: str = "continuous"
    device_kind: DeviceKind = DeviceKind.INVERSE_TIME_BREAKER
    by_plate: bool = False
    code_letter: str = ""
    locked_rotor_a: float | None = None


class Reach(NamedTuple):
    """How far a kind of device may go: what to take first, and at most where the motor does not start [A, %]."""

    percent: float
    first_a: float
    most_percent: float
    most_a: float


@dataclass(frozen=True)
class MotorCircuit:
    """What a book says of a motor's circuit, but for its conductors.

    rated_v: the motor's own volts; flc_a: the current that the rules go by
    conductor_min_a: what its conductors must carry; short_circuit_only: its device guards against no overload
    ground_device_a: the device by which its equipment conductor goes
    terminal_c: the column of its terminals where nothing is entered, None for the book's own rule
    locked_rotor_a: what it draws standing; where it was taken from
    curve: of a modular breaker that lets it start, "" where the book has none
    """

    rated_v: float
    flc_a: float
    conductor_min_a: float
    devices: Mapping[DeviceKind, Reach]
    device_kind: DeviceKind
    short_circuit_only: bool
    overload_a: float
    overload_max_a: float
    disconnect_min_a: float
    ground_device_a: float
    terminal_c: int | None
    locked_rotor_a: float | None
    curve: str = ""
    findings: tuple[Finding, ...] = field(default=())

    @property
    def device(self) -> Reach:
        """How far the chosen kind of device may go."""
        return self.devices[self.device_kind]


@dataclass(frozen=True)
class FeederMotor:
    """A motor on a feeder: its current, its own device, how many such [A]."""

    flc_a: float
    device_a: float
    count: int = 1


class MotorFeeder(NamedTuple):
    """What a feeder of motors needs [A]: its conductors at least, its device at most."""

    conductor_min_a: float
    device_max_a: float


class CookingUnit(NamedTuple):
    """A household cooking unit on a circuit: range, cooktop or oven, its nameplate [VA], what it is called."""

    kind: str
    va: float
    name: str


class Tap(NamedTuple):
    """What the tap to a unit must carry: its nameplate's current, and what its conductor must carry at least [A]."""

    amps: float
    least_a: float


class CookingDemandWay(NamedTuple):
    """A lawful way to reckon a cooking circuit's load [kW], least first."""

    name: Message
    kw: float


@dataclass(frozen=True)
class CookingCircuit:
    """What a book says of a cooking circuit, but for its conductors.

    ways: lawful ways to reckon its load, the least first; amps: its load [A]
    device_a: its rating; untapped_a: the rating that would do without taps
    tap_allowed: whether a circuit of that rating may be tapped; taps: one a unit, none where there is but one
    neutral_a: what its neutral must carry at least, None where it is as its lines; neutral_least: smallest size
    tap_least: smallest size of a tap
    """

    ways: tuple[CookingDemandWay, ...]
    amps: float
    device_a: float
    untapped_a: float
    tap_allowed: bool
    taps: tuple[Tap, ...]
    neutral_a: float | None
    neutral_least: str
    tap_least: str


class WelderAsked(NamedTuple):
    """A welder: its rated primary current [A], its kind (arc, motor-generator, resistance), its duty cycle [%].

    device_a: chosen by a person [A], None where it is the rule's
    """

    amps: float
    kind: str
    duty_percent: float
    device_a: float | None = None


class WelderCircuit(NamedTuple):
    """What a welder's circuit needs [A]: its current by its duty, its conductors at least, its device, at most."""

    amps: float
    conductor_a: float
    device_a: float
    device_max_a: float
    rule: Citation


class Hermetic(NamedTuple):
    """A hermetic compressor's circuit [A]: what its conductors must carry, its device, at most, its current."""

    amps: float
    conductor_a: float
    device_a: float
    device_max_a: float


@dataclass(frozen=True)
class BreakerFactors:
    """What a breaker keeps of its rating where it stands; usual: those that were not entered but are usual there."""

    ambient: float
    neighbours: float
    enclosure: float
    usual: tuple[str, ...] = ()

    @property
    def all(self) -> float:
        """What it keeps in all [factor]."""
        return self.ambient * self.neighbours * self.enclosure


class InverterAsked(NamedTuple):
    """An inverter as it stands: its greatest current [A], phases, and where its breaker stands.

    ambient_c: of its breaker [°C]; series: domestic or industrial; alone: whether no other loaded device is beside it
    entered: factors that a person entered, by name; busbar_a, main_a, others_a: of the board that it feeds [A]
    """

    amps: float
    phases: int
    ambient_c: float | None
    series: str
    alone: bool
    entered: Mapping[str, float]
    main_a: float | None
    others_a: float | None


@dataclass(frozen=True)
class InverterRule:
    """What a book asks of an inverter's breaker.

    needed_a: current that its device and conductors are taken for [A]; factors: of the device
    poles: of the device; modular_to_a: rating up to which it is a modular breaker [A], None where that makes nothing
    busbar_needed_a: what the busbar that it feeds must be rated for [A], None where its main is not known
    busbar_rule: by which clause
    """

    needed_a: float
    factors: BreakerFactors
    poles: str
    modular_to_a: float | None
    busbar_needed_a: float | None
    busbar_rule: Citation | None


class Side(NamedTuple):
    """A side of a transformer: its rated current [A], what its device may be at most [%, A], by which clause.

    rule: None where the book has none, and the greatest is what is usual
    """

    amps: float
    percent: float
    most_a: float
    rule: Citation | None


class SecondaryAsked(NamedTuple):
    """Secondary conductors: what they carry [A], how long they are [ft], what stands before them and at their end.

    by_primary: whether their connection lets the primary device protect them; place: indoors, outdoors, industrial,
        or from a feeder tap; protected: whether a device stands on the secondary at all
    rated_a, primary_ampacity_a, device_a: of the secondary, of the primary's conductors, of the device at their end [A]
    feeder_device_a: of the feeder that the transformer is tapped from [A]
    """

    ampacity_a: float
    length_ft: float | None
    primary_device_a: float
    primary_v: float
    secondary_v: float
    by_primary: bool
    single_device: bool
    place: str
    protected: bool
    rated_a: float
    primary_ampacity_a: float
    device_a: float
    feeder_device_a: float | None = None


class SecondaryRule(NamedTuple):
    """A rule of secondary conductors, or of taps, tried: whether it holds, and why, or why not."""

    rule: Citation
    holds: bool
    why: Message


class TapAsked(NamedTuple):
    """A tap: what it carries [A], how long it is [ft], the device of its feeder [A], the one at its end [A], its size.

    single_device: whether it ends in one; place: indoors, outdoors, or high bay
    """

    ampacity_a: float
    length_ft: float | None
    feeder_device_a: float
    device_a: float
    size: str
    material: str
    single_device: bool
    place: str


class Bonds(NamedTuple):
    """What bonds and earths a derived system: its bonding jumper, that of each raceway, a conductor by electrode.

    grounded: the least neutral in each raceway
    """

    jumper: str
    supply_side: str
    electrodes: Mapping[str, str]
    rule: Citation
    grounded: str


class EarthingAsked(NamedTuple):
    """A service by its ungrounded conductors: size, sets, raceways, and what the neutral carries.

    neutral_a: None where it is not known [A]; column_c: of the neutral's terminals [°C]
    ring_size: of a ground ring, "" for none
    system: how the supply is earthed, in the IEC family; supply_neutral: of it, "" where it is as the lines
    protective: the protective conductor that the service asks for [size]
    neutral: the size that its run gives each neutral by its load, "" where no run is known
    """

    size: str
    material: str
    sets: int
    raceways: int
    neutral_a: float | None = None
    column_c: int = 75
    ring_size: str = ""
    system: str = ""
    supply_neutral: str = ""
    protective: str = ""
    neutral: str = ""


class EarthPart(NamedTuple):
    """A conductor that earths or bonds: its key, its name, its size, by which clause, and why so much.

    sets: in parallel, each of that size; other: what it may be in aluminum, "" where that is not allowed
    """

    key: str
    name: Message
    size: str
    material: str
    rule: Citation
    why: Message | None = None
    sets: int = 1
    other: str = ""


class Earthing(NamedTuple):
    """What a service connects to earth, part by part; by_load: whether the neutral's load sets the grounded one."""

    parts: tuple[EarthPart, ...]
    by_load: bool = False

    def size(self, key: str) -> str:
        """Return the size of a part, "" where there is none."""
        return next((part.size for part in self.parts if part.key == key), "")
