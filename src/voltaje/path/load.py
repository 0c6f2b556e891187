"""A load or an inverter as entered: what it is, its rating, how it runs, what its kind asks besides."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import (
    AMPS,
    FLAG,
    LEG_NAMES,
    RATING,
    SHARE,
    TEXT,
    VOLTS,
    number,
    one_number,
    one_of,
    one_word,
    whole,
)
from voltaje.limits import MOST_COUNT, MOST_WAYS
from voltaje.path.cookers import COOKERS, CookerSpec
from voltaje.path.kinds import HOUSEHOLD, LOAD_KINDS, LoadKind, Traits
from voltaje.path.machines import DUTIES, WELDERS, Design, DeviceKind, MotorType
from voltaje.quantity import Rating, read_share, read_temperature


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
    points: int = declared(
        whole(1, 400),
        "lights or sockets on it, as household practice counts them; its quantity by default (IEC)",
        "Points",
        link="load",
        family="iec",
        hint="as many",
        kinds=("lighting", "sockets"),
        default=0,
    )
    with_socket: bool = declared(
        FLAG,
        "a cooker whose control unit has a socket (IEC)",
        "Unit has a socket",
        shown=False,
        link="load",
        family="iec",
        hint="no",
        kinds=("range",),
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
