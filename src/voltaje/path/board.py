"""A board as entered, the lighting by area that it may have, the place of what is no load in it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from voltaje.limits import MOST_WAYS
from voltaje.path.fields import AMPS, AREA, SHARE, TEXT, declared, number, one_number, one_of, whole


class DwellingsMethod(StrEnum):
    """The two ways to reckon several dwellings on one board."""

    STANDARD = "standard"
    OPTIONAL = "optional"


@dataclass(frozen=True)
class AreaSpec:
    """General lighting by area: the area [ft²], what it is used for, a unit load entered in place of the table's."""

    floor_area_ft2: float = declared(
        "floor_area", AREA, 'for general lighting by area (NEC): "3000 ft2", "280 m²"',
        required=True, label="Lighting by area", link="load", family="nec", hint="ft²",
    )  # fmt: skip
    occupancy: str = declared(
        "occupancy", TEXT, "as the table of unit loads has it",
        default="", label="Occupancy", link="load", family="nec", choices="occupancy", hint="–",
    )  # fmt: skip
    va_per_ft2: float | None = declared(
        "va_per_ft2", number(0, 50, "VA/ft²"), "a unit load of your own in place of the table's",
        label="Your VA/ft²", link="load", family="nec", hint="VA/ft²",
    )  # fmt: skip


@dataclass(frozen=True)
class BoardSpec:
    """How a board's demand is reckoned, where it is not its circuits alone.

    ways, main_a, bus_a, fault_ka: of the board as it is made; 0 and None where nothing was entered
    area: general lighting by area, None where there is none
    dwellings: the method for several dwellings on it
    diversity: entered by the designer (IEC family)
    """

    diversity: float = declared(
        "diversity", SHARE, "of a board, entered by the designer (IEC)",
        default=1.0, shown=1, label="Your diversity", link="load", family="iec", hint="1",
    )  # fmt: skip
    dwellings: DwellingsMethod = declared(
        "dwellings", one_of(DwellingsMethod), "several dwellings on one board: standard, or optional",
        default=DwellingsMethod.STANDARD, shown="standard", label="Multifamily method", link="load", family="nec",
        hint="standard",
    )  # fmt: skip
    ways: int = declared(
        "ways", whole(1, MOST_WAYS), "how many single-pole devices the board has room for",
        default=0, label="Spaces", link="load",
    )  # fmt: skip
    main_a: float | None = declared(
        "main_a", AMPS, "the main breaker in the board itself [A]; none: main lugs only",
        label="Main breaker", link="load", hint="A; none",
    )  # fmt: skip
    bus_a: float | None = declared("bus_a", AMPS, "what its bus is rated for [A]", label="Bus rating", link="load",
                                   hint="A")  # fmt: skip
    recorded_kva: float | None = declared(
        "recorded_kva", number(0, 10_000, "kVA"), "greatest demand as metered over a year, in the place of the loads "
        "that made it; what is listed below comes on top (NEC 220.87)",
        label="Metered demand", link="load", hint="kVA",
    )  # fmt: skip
    fault_ka: float | None = declared(
        "fault_ka", number(0, 200, "kA"), "what its devices can interrupt [kA], held against the short circuit there",
        label="Interrupting rating", link="load", hint="kA",
    )  # fmt: skip
    area: AreaSpec | None = None


@dataclass(frozen=True)
class WaySpec:
    """The place in its board of what is no load: of a sub-board, a spare, a space.

    way: 0 where it takes the next one; poles: of a spare or a space, 0 is one
    """

    way: int = declared(
        "way", whole(1, MOST_WAYS), "place in the board, of what is no load", default=0, label="Way", link="load"
    )
    poles: int = declared(
        "poles", one_number(1, 2, 3), "of a spare or a space; 1 by default",
        default=0, label="Poles", link="load", hint="1", kinds=("spare", "space"),
    )  # fmt: skip
