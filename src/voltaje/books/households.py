"""The words that books are asked about a household's circuits in, and answer in. Nothing here knows a rule."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from voltaje.message import Message
from voltaje.sheet import Citation


@dataclass(frozen=True)
class HouseCircuit:
    """Circuits alike of a household.

    amps: of each [A]; points: of lights or sockets [count]; with_socket: its control unit has one; phases: 1 or 3
    diversity: entered, and before any rule [share], None for the rule's; field: of which list, for errors
    """

    kind: str
    amps: float
    count: int
    points: int
    with_socket: bool
    phases: int
    diversity: float | None
    field: str


class UsualCircuit(NamedTuple):
    """What practice has of a circuit of sockets: its line at least [mm²], the floor it serves [m²], 0 for any."""

    size: str
    floor_m2: float


class HouseDemand(NamedTuple):
    """What circuits alike count: connected and after diversity, one by one [A], why, and by which rule."""

    connected_a: float
    each_a: tuple[float, ...]
    why: Message
    rule: Citation | None

    @property
    def total_a(self) -> float:
        """What they count together [A]."""
        return sum(self.each_a)
