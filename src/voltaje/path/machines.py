"""What the plates of machines say in words that rules tell apart."""

from __future__ import annotations

from enum import StrEnum


class MotorType(StrEnum):
    """What a motor is by construction."""

    SQUIRREL_CAGE = "squirrel_cage"
    WOUND_ROTOR = "wound_rotor"
    SYNCHRONOUS = "synchronous"
    DC = "dc"


# Duties as a rule tells them apart: of how many minutes, or continuous (NEC Table 430.22(E)).
DUTIES = (
    "continuous",
    *(f"short-time {minutes} min" for minutes in ("5", "15", "30-60")),
    *(
        f"{duty} {time}"
        for duty in ("intermittent", "periodic", "varying")
        for time in ("5 min", "15 min", "30-60 min", "continuous")
    ),
)


WELDERS = ("arc", "motor-generator", "resistance")


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
