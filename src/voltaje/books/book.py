"""The questions every book answers about a run, and the words they are asked in.

The chain of a run (`design.chain`) is written once over these questions; rule families differ
behind them. A question that a book has no rule for is answered by an error that says so; a book
never invents a rule.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from voltaje.message import Message
from voltaje.sheet import Citation, Sheet

MOST_SETS = 6


@dataclass(frozen=True)
class Run:
    """The conductors that feed a load, with the device at their upstream end.

    amps: load current per line [A]; continuous_a: the part of it that is continuous [A]
    length_m: one way [m]; None where only the current matters
    ambient_c: None takes the book's default; bundled: current-carrying conductors (NEC) or circuits (IEC)
    terminal_c: None takes the book's rule for terminals that are not marked
    device_factor: what a modular breaker keeps of its rating in its enclosure (IEC)
    round_up: whether the next standard rating above the ampacity may protect it
    """

    amps: float
    volts: float
    phases: int
    continuous_a: float = 0.0
    length_m: float | None = None
    material: str = "Cu"
    insulation: str = ""
    method: str = ""
    cable: str = "singles"
    ambient_c: float | None = None
    bundled: int = 0
    arrangement: str = "bunched"
    terminal_c: int | None = None
    power_factor: float = 1.0
    use: str = "other"
    supply: str = "public"
    device_factor: float = 1.0
    round_up: bool = True


@dataclass(frozen=True)
class Choice:
    """A device, and conductors of one size in so many sets."""

    device_a: float
    size: str
    sets: int


@dataclass(frozen=True)
class Capacity:
    """What conductors carry as they are installed: factor, ampacity of all sets, greatest device [A]."""

    factor: float
    ampacity_a: float
    device_max_a: float


@dataclass(frozen=True)
class Objection:
    """Why a choice does not comply: the key that stands in the way, the reason, the rule."""

    key: str
    message: Message
    rule: Citation


@dataclass(frozen=True)
class DropLimit:
    """A limit of voltage drop, mandatory or informational."""

    percent: float
    mandatory: bool
    rule: Citation


@dataclass(frozen=True)
class EarthConductor:
    """The protective (equipment grounding) conductor, one in each set."""

    size: str
    material: str
    rule: Citation


@dataclass(frozen=True)
class Terms:
    """How a book's country says it, and what its runs are made of where nothing is entered.

    demand_cascades: a board counts what the boards below it demand, not their connected loads
    """

    protective_conductor: str
    length_unit: str
    insulation: str
    method: str
    cable: str
    materials: tuple[str, ...]
    demand_cascades: bool
    not_covered: tuple[Message, ...] = ()


@dataclass(frozen=True)
class Connected:
    """A load below a board, for its demand: what it is, its volt-amperes in all and of one."""

    id: str
    kind: str
    va: float
    count: int = 1
    group: str = ""
    diversity: float = 1.0


@dataclass(frozen=True)
class BoardDemand:
    """The demand of a board [VA], and the factor that each load has in it."""

    demand_va: float
    factors: dict[str, float]


class Book(Protocol):
    """A rule set with an edition."""

    @property
    def name(self) -> str:
        """The book's full name, with its edition."""

    @property
    def terms(self) -> Terms:
        """How its country says it."""

    @property
    def device_rule(self) -> Citation:
        """The clause of the standard ratings."""

    def check(self, run: Run) -> None:
        """Raise InputError at the key that this book does not know or has no table for."""

    def devices(self) -> tuple[float, ...]:
        """Return the standard ratings [A], smallest first."""

    def demand(self, loads: Sequence[Connected], diversity: float, sheet: Sheet) -> BoardDemand:
        """Return the demand of the loads below a board; `diversity` is the board's own, entered."""

    def motor_amps(self, hp: float, phases: int, volts: float, field: str) -> float:
        """Return a motor's full-load current by its horsepower [A]. Raises InputError at `field`."""

    def device_need(self, run: Run, sheet: Sheet) -> float:
        """Return the current that the device may not be rated under [A]."""

    def sizes(self, run: Run) -> tuple[str, ...]:
        """Return the sizes that the run's table has, smallest first."""

    def capacity(self, run: Run, choice: Choice, sheet: Sheet) -> Capacity:
        """Return what the choice's conductors carry."""

    def objections(self, run: Run, choice: Choice) -> tuple[Objection, ...]:
        """Return every reason why the choice does not comply; none where it does."""

    def complies(self, run: Run, choice: Choice) -> bool:
        """Return whether there is no objection, without finding words for one."""

    def preferred(self, run: Run, size: str, sets: int) -> bool:
        """Return whether a lawful size is one that is pulled by choice (very large ones are not)."""

    def drop_v(self, run: Run, choice: Choice, sheet: Sheet) -> float:
        """Return the voltage drop [V] over the run's length."""

    def drop_limit(self, run: Run, in_total: bool) -> DropLimit:
        """Return the limit of one run, or from the source."""

    def earth(self, run: Run, choice: Choice, least: Choice, sheet: Sheet) -> EarthConductor:
        """Return the protective conductor; `least` is the smallest conductor that would have served."""

    def area_mm2(self, size: str) -> float:
        """Return a conductor's area of metal [mm²]."""

    def conduit(self, run: Run, choice: Choice, earth: EarthConductor, neutral: bool) -> str:
        """Return the trade size of conduit by fill; "" where the run is not in one or no table is here."""
