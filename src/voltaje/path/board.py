"""A board as entered, the lighting by area that it may have, the place of what is no load in it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, AREA, FLAG, SHARE, TEXT, number, one_number, one_of, one_word, whole
from voltaje.limits import MOST_WAYS


class DwellingsMethod(StrEnum):
    """The two ways to reckon several dwellings on one board."""

    STANDARD = "standard"
    OPTIONAL = "optional"


@dataclass(frozen=True)
class AreaSpec:
    """General lighting by area: the area [ft²], what it is used for, a unit load entered in place of the table's."""

    floor_area_ft2: float = declared(
        AREA,
        'for general lighting by area (NEC): "3000 ft2", "280 m²"',
        "Lighting by area",
        key="floor_area",
        required=True,
        link="load",
        family="nec",
        hint="ft²",
    )
    occupancy: str = declared(
        TEXT,
        "as the table of unit loads has it",
        "Occupancy",
        link="load",
        family="nec",
        choices="occupancy",
        hint="–",
        default="",
    )
    va_per_ft2: float | None = declared(
        number(0, 50, "VA/ft²"),
        "a unit load of your own in place of the table's",
        "Your VA/ft²",
        link="load",
        family="nec",
        hint="VA/ft²",
    )


@dataclass(frozen=True)
class BoardSpec:
    """How a board's demand is reckoned, where it is not its circuits alone.

    ways, main_a, bus_a, fault_ka: of the board as it is made; 0 and None where nothing was entered
    area: general lighting by area, None where there is none
    dwellings: the method for several dwellings on it
    diversity: entered by the designer (IEC family)
    """

    diversity: float = declared(
        SHARE,
        "of a board, entered by the designer (IEC)",
        "Your diversity",
        shown=1,
        link="load",
        family="iec",
        hint="1",
        default=1.0,
    )
    dwellings: DwellingsMethod = declared(
        one_of(DwellingsMethod),
        "several dwellings on one board: standard, or optional",
        "Multifamily method",
        shown="standard",
        link="load",
        family="nec",
        hint="standard",
        default=DwellingsMethod.STANDARD,
    )
    ways: int = declared(
        whole(1, MOST_WAYS), "how many single-pole devices the board has room for", "Spaces", link="load", default=0
    )
    main_a: float | None = declared(
        AMPS,
        "the main breaker in the board itself [A]; none: main lugs only",
        "Main breaker",
        link="load",
        hint="A; none",
    )
    bus_a: float | None = declared(AMPS, "what its bus is rated for [A]", "Bus rating", link="load", hint="A")
    household: bool = declared(
        FLAG,
        "its circuits are a dwelling's: they count by household practice where nothing is entered (IEC)",
        "Counts as a household",
        shown=False,
        link="load",
        family="iec",
        hint="no",
    )
    main_kind: str = declared(
        one_word("breaker", "switch", "RCD"),
        "what its main is: a switch guards against nothing (IEC)",
        "Main is a",
        shown="breaker",
        link="load",
        family="iec",
        hint="breaker",
    )
    recorded_kva: float | None = declared(
        number(0, 10_000, "kVA"),
        "greatest demand as metered over a year, in the place of the loads "
        "that made it; what is listed below comes on top (NEC 220.87)",
        "Metered demand",
        link="load",
        hint="kVA",
    )
    fault_ka: float | None = declared(
        number(0, 200, "kA"),
        "what its devices can interrupt [kA], held against the short circuit there",
        "Interrupting rating",
        link="load",
        hint="kA",
    )
    area: AreaSpec | None = None


@dataclass(frozen=True)
class WaySpec:
    """The place in its board of what is no load: of a sub-board, a spare, a space.

    way: 0 where it takes the next one; poles: of a spare or a space, 0 is one
    """

    way: int = declared(whole(1, MOST_WAYS), "place in the board, of what is no load", "Way", link="load", default=0)
    poles: int = declared(
        one_number(1, 2, 3),
        "of a spare or a space; 1 by default",
        "Poles",
        link="load",
        hint="1",
        kinds=("spare", "space"),
        default=0,
    )
