"""What a run lies in and beside: entered factors that are 1 where nothing is entered, and marked so."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from voltaje.errors import UnknownName
from voltaje.message import Message
from voltaje.quantity import read_plain, require_between
from voltaje.reader import Reader

EXEMPT = ("", "tap", "motor", "cooling", "welder")

_MOST_SOIL_KMW, _MOST_INSULATED_MM = 4.0, 10_000.0

KEYS = (
    *("soil_kmw", "insulated_mm", "rewireable_fuse", "breaker_ambient", "breaker_neighbours", "breaker_enclosure"),
    "exempt",
)


@dataclass(frozen=True)
class Surroundings:
    """The surroundings of a run.

    soil_kmw: thermal resistivity of the soil [K·m/W], None for the tables' own
    insulated_mm: length wholly in thermal insulation [mm]; rewireable: protected by a semi-enclosed fuse (IEC)
    breaker_ambient, breaker_neighbours, breaker_enclosure: what a modular breaker keeps of its rating, None
        where nothing was entered
    exempt: why the limits of small conductors do not hold (NEC): tap, motor, cooling, welder
    """

    soil_kmw: float | None = None
    insulated_mm: float = 0.0
    rewireable: bool = False
    breaker_ambient: float | None = None
    breaker_neighbours: float | None = None
    breaker_enclosure: float | None = None
    exempt: str = ""

    @property
    def breaker_keeps(self) -> float:
        """What the breaker keeps of its rating in all [factor]."""
        return (self.breaker_ambient or 1.0) * (self.breaker_neighbours or 1.0) * (self.breaker_enclosure or 1.0)


PLAIN = Surroundings()


def read_surroundings(reader: Reader) -> Surroundings:
    """Return the surroundings that an object's keys give; errors are kept on the reader."""
    if not any(reader.has(key) for key in KEYS):
        return PLAIN
    share = _between(0, 1)
    return Surroundings(
        soil_kmw=reader.value("soil_kmw", _between(0, _MOST_SOIL_KMW), None),
        insulated_mm=reader.value("insulated_mm", _between(0, _MOST_INSULATED_MM), 0.0),
        rewireable=reader.flag("rewireable_fuse", False),
        breaker_ambient=reader.value("breaker_ambient", share, None),
        breaker_neighbours=reader.value("breaker_neighbours", share, None),
        breaker_enclosure=reader.value("breaker_enclosure", share, None),
        exempt=reader.value("exempt", _exempt, ""),
    )


def _between(low: float, high: float) -> Callable[[Any], float]:
    def read(raw: Any) -> float:
        value = read_plain(raw)
        require_between(value, low, high, above=True)
        return value

    return read


def _exempt(raw: Any) -> str:
    if raw not in EXEMPT:
        raise UnknownName("", Message("must be one of: {known}", known=[each for each in EXEMPT if each]))
    return str(raw)
