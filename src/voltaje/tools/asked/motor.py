"""What a motor is asked by, wherever it stands."""

from __future__ import annotations

from typing import ClassVar

from voltaje.books.machines import Motor
from voltaje.books.questions import Motors
from voltaje.books.registry import find_book
from voltaje.errors import InputError
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import (
    AMPS,
    FACTOR,
    HP,
    KW,
    PART,
    RISE,
    VOLTS,
    Shape,
    number,
    one_number,
    one_of,
    one_of_words,
    one_word,
)
from voltaje.message import Message
from voltaje.path.machines import Design, DeviceKind, MotorType
from voltaje.quantity import read_amps
from voltaje.tools import plates
from voltaje.tools.asking import DEFAULT_BOOK
from voltaje.tools.conductors import CIRCUIT, OnARun

MOTOR, START, SUPPLY = Message("Motor"), Message("Starting"), Message("Another voltage")
TYPES = {
    "squirrel_cage": Message("squirrel cage"),
    "wound_rotor": Message("wound rotor"),
    "synchronous": Message("synchronous"),
    "dc": Message("direct current"),
}
DESIGNS = {"B energy-efficient": Message("B, premium"), "other": Message("other")}
DEVICES = {
    "inverse_time_breaker": Message("Inverse-time breaker"),
    "dual_element_fuse": Message("Dual-element fuse"),
    "nontime_delay_fuse": Message("Nontime-delay fuse"),
    "instantaneous": Message("Instantaneous trip"),
}
_STARTS = {
    "direct": Message("across the line"),
    "star_delta": Message("star–delta (wye–delta)"),
    "autotransformer": Message("autotransformer"),
}


def _duties() -> tuple[str, ...]:
    return ("continuous", *find_book(DEFAULT_BOOK).asked(Motors).duties())


DUTY = one_of_words(_duties)
LETTERS = Shape(one_of_words(lambda: tuple("ABCDEFGHJKLMNPRSTUV")).read, {"type": "string", "maxLength": 1})


class MotorPlate(OnARun):
    """What a motor is asked by, wherever it stands."""

    plate: ClassVar[plates.Plate | None] = plates.MOTOR

    hp: float | None = declared(
        HP, "rated output in horsepower, as the tables have it", "Power", MOTOR, "hp", family="nec"
    )
    kw: float | None = declared(
        KW, "rated output in kilowatts, in place of hp", "Power in kW", MOTOR, "kW", family="iec"
    )
    volts: float = declared(
        VOLTS,
        "rated or nominal: 115, 200, 208, 230, 460, 575 or 120, 240, 480, 600 V; 230, 400 V (IEC)",
        "Volts",
        MOTOR,
        "V",
        required=True,
    )
    phases: int = declared(one_number(1, 2, 3), "1, 2 or 3", "Phases", MOTOR, shown=3)
    motor_type: MotorType = declared(
        one_of(MotorType),
        "by construction",
        "Kind",
        MOTOR,
        shown="squirrel_cage",
        more=True,
        titles=TYPES,
        family="nec",
        default=MotorType.SQUIRREL_CAGE,
    )
    nameplate_a: float | None = declared(
        AMPS,
        "the plate's own current: sets the overload device only (NEC), is the current (IEC)",
        "Nameplate current",
        MOTOR,
        "A",
    )
    service_factor: float | None = declared(FACTOR, "as marked", "Service factor", MOTOR, family="nec")
    temp_rise_c: float | None = declared(RISE, "as marked", "Temperature rise", MOTOR, "°C", more=True, family="nec")
    duty: str = declared(
        DUTY, f"one of: {', '.join(_duties())}", "Duty", MOTOR, shown="continuous", more=True, family="nec"
    )
    design: Design = declared(
        one_of(Design),
        "design B energy-efficient (premium too), or another",
        "Design",
        MOTOR,
        shown="other",
        titles=DESIGNS,
        family="nec",
        default=Design.OTHER,
    )
    by_plate: str = declared(
        one_word("no", "yes"),
        "yes for motors built for low speed, high torque or several speeds: 430.6(A)(1)",
        "Low speed or high torque",
        MOTOR,
        shown="no",
        more=True,
        family="nec",
    )
    device_kind: DeviceKind = declared(
        one_of(DeviceKind),
        "what guards it against short circuit",
        "Device",
        CIRCUIT,
        shown="inverse_time_breaker",
        titles=DEVICES,
        family="nec",
        default=DeviceKind.INVERSE_TIME_BREAKER,
    )
    code_letter: str = declared(
        LETTERS, "locked-rotor code letter of the plate", "Code letter", START, more=True, family="nec", default=""
    )
    locked_rotor_a: float | None = declared(
        number(0, 60_000, "A", read_amps), "what it draws standing", "Locked-rotor current", START, "A", more=True
    )

    def motor(self) -> Motor:
        """Return the motor. Raises InputError unless its output is given, in one unit."""
        if self.hp is not None and self.kw is not None:
            raise InputError("kw", Message("give hp or kW, not both"))
        if self.hp is None and self.kw is None and not (self.nameplate_a and self.book.terms.family == "iec"):
            raise InputError("kw" if self.book.terms.family == "iec" else "hp", Message("must be given"))
        return Motor(
            self.hp,
            self.kw,
            self.volts,
            self.phases,
            self.motor_type,
            self.design,
            self.nameplate_a,
            self.service_factor,
            self.temp_rise_c,
            self.duty,
            self.device_kind,
            self.by_plate == "yes",
            self.code_letter,
            self.locked_rotor_a,
        )


class MotorAsked(MotorPlate):
    """What a motor's circuit is asked by."""

    start: str = declared(
        one_word("direct", "star_delta", "autotransformer"),
        "how it is started",
        "Start",
        START,
        shown="direct",
        more=True,
        titles=_STARTS,
    )
    tap_percent: float = declared(
        PART, "volts that the autotransformer gives", "Tap", START, shown="65 %", more=True, default=0.65
    )
    source_ka: float | None = declared(
        number(0, 200, "kA"),
        "short-circuit current where the circuit begins; a stiff supply where not given",
        "Short circuit at the panel",
        START,
        "kA",
        more=True,
    )
    supply_v: float | None = declared(
        VOLTS, "what it gets, where that is not its own voltage", "Measured volts", SUPPLY, "V", more=True
    )
