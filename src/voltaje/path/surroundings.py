"""What a run lies in and beside: entered factors that are 1 where nothing is entered, and marked so."""

from __future__ import annotations

from dataclasses import dataclass, replace

from voltaje.inputs.declare import declared, keys_of
from voltaje.inputs.read import Reader, read_values
from voltaje.inputs.shapes import FLAG, HEIGHT, number, one_word

EXEMPT = ("tap", "motor", "cooling", "welder")

_KEEPS = number(0, 1)


@dataclass(frozen=True)
class Surroundings:
    """The surroundings of a run.

    soil_kmw: thermal resistivity of the soil [K·m/W], None for the tables' own
    insulated_mm: length wholly in thermal insulation [mm]; rewireable: protected by a semi-enclosed fuse (IEC)
    breaker_ambient, breaker_neighbours, breaker_enclosure: what a modular breaker keeps of its rating, None
        where nothing was entered
    over_roof_m: how high over a roof in the sun [m], None where it does not lie on one (NEC)
    full_rated: its device and what holds it are listed for all of their rating, without end (NEC)
    whole_amperes: a fraction under half an ampere is dropped from the calculated load, as 220.5(B) lets (NEC)
    exempt: why the limits of small conductors do not hold (NEC): tap, motor, cooling, welder
    """

    soil_kmw: float | None = declared(
        number(0, 4),
        "thermal resistivity of the soil [K·m/W] (IEC)",
        "Soil",
        link="conductor",
        family="iec",
        hint="K·m/W",
    )
    insulated_mm: float = declared(
        number(0, 10_000),
        "length in thermal insulation [mm]",
        "Length in insulation",
        link="conductor",
        hint="mm",
        default=0.0,
    )
    rewireable: bool = declared(
        FLAG,
        "semi-enclosed fuse (IEC)",
        "Rewireable fuse",
        key="rewireable_fuse",
        shown=False,
        link="device",
        family="iec",
        hint="no",
    )
    breaker_ambient: float | None = declared(
        _KEEPS,
        "what a modular breaker keeps at its ambient (IEC)",
        "Keeps in its ambient",
        shown=1,
        link="device",
        family="iec",
        hint="1",
        default=None,
    )
    breaker_neighbours: float | None = declared(
        _KEEPS,
        "the same beside its neighbours (IEC)",
        "Keeps beside neighbours",
        shown=1,
        link="device",
        family="iec",
        hint="1",
        default=None,
    )
    breaker_enclosure: float | None = declared(
        _KEEPS,
        "the same in its enclosure (IEC)",
        "Keeps in its enclosure",
        shown=1,
        link="device",
        family="iec",
        hint="1",
        default=None,
    )
    over_roof_m: float | None = declared(
        HEIGHT,
        'how high over a roof in the sun: "1/2 in", "20 mm"; a bare number is in (NEC)',
        "Over a roof in the sun",
        key="over_roof",
        link="conductor",
        family="nec",
        hint="in",
    )
    full_rated: bool = declared(
        FLAG,
        "device and assembly listed for 100 % of their rating (NEC)",
        "Listed for 100 %",
        shown=False,
        link="device",
        family="nec",
        hint="no",
    )
    whole_amperes: bool = declared(
        FLAG,
        "a fraction of an ampere under one half is dropped from its calculated load (NEC)",
        "Drop fractions",
        shown=False,
        link="device",
        family="nec",
        hint="no",
    )
    exempt: str = declared(
        one_word(*EXEMPT),
        "why small-conductor limits do not hold (NEC)",
        "240.4(D) limits",
        link="conductor",
        family="nec",
        hint="apply",
        default="",
    )

    def with_exempt(self, exempt: str) -> Surroundings:
        """Return the same, with a reason why the limits of small conductors do not hold."""
        return replace(self, exempt=self.exempt or exempt)

    def without_breaker_factors(self) -> Surroundings:
        """Return the same, its breaker keeping all of its rating."""
        return replace(self, breaker_ambient=None, breaker_neighbours=None, breaker_enclosure=None)

    @property
    def breaker_keeps(self) -> float:
        """What the breaker keeps of its rating in all [factor]."""
        return (self.breaker_ambient or 1.0) * (self.breaker_neighbours or 1.0) * (self.breaker_enclosure or 1.0)


PLAIN = Surroundings()
KEYS = keys_of(Surroundings)


def read_surroundings(reader: Reader) -> Surroundings:
    """Return the surroundings that an object's keys give; errors are kept on the reader."""
    values = read_values(Surroundings, reader, "")
    return Surroundings(**values) if values else PLAIN
