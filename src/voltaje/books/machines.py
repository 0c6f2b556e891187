"""The words that books are asked about machines in, and answer in. Nothing here knows a rule."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import NamedTuple

from voltaje.findings import Finding
from voltaje.sheet import Citation


class MotorType(StrEnum):
    """What a motor is by construction."""

    SQUIRREL_CAGE = "squirrel_cage"
    WOUND_ROTOR = "wound_rotor"
    SYNCHRONOUS = "synchronous"
    DC = "dc"


class Design(StrEnum):
    """What the nameplate says of its design, as far as a rule tells it apart."""

    ENERGY_EFFICIENT = "B energy-efficient"
    OTHER = "other"


class DeviceKind(StrEnum):
    """What guards a motor's circuit against short circuit."""

    INVERSE_TIME_BREAKER = "inverse_time_breaker"
    DUAL_ELEMENT_FUSE = "dual_element_fuse"
    NONTIME_DELAY_FUSE = "nontime_delay_fuse"
    INSTANTANEOUS = "instantaneous"


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
    locked_rule: Citation | None = None
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
