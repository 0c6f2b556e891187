"""The questions every book answers about a run, and the words they are asked in.

The chain of a run (`design.chain`) is written once over these questions; rule families differ
behind them. A question that a book has no rule for is answered by an error that says so; a book
never invents a rule.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple, Protocol

from voltaje.errors import UnknownName
from voltaje.message import Message
from voltaje.path.model import BoardSpec
from voltaje.path.surroundings import PLAIN, Surroundings
from voltaje.sheet import Citation, Sheet
from voltaje.systems import System

MOST_SETS = 6


@dataclass(frozen=True)
class NeutralLoad:
    """What a neutral has to carry at worst [A]: all of one leg's load to neutral, nothing on the others.

    nonlinear_a: the part of it that may not be reduced; reducible: whether the system allows reduction at all
    """

    amps: float
    nonlinear_a: float = 0.0
    reducible: bool = True


class Run(NamedTuple):
    """The conductors that feed a load, with the device at their upstream end.

    amps: load current per line [A]; continuous_a: the part of it that is continuous [A]
    length_m: one way [m]; None where only the current matters
    ambient_c: None takes the book's default; bundled: current-carrying conductors (NEC) or circuits (IEC)
    terminal_c: None takes the book's rule for terminals that are not marked
    drop_before_percent, before_m: drop and length from the source to where the run begins [%, m]
    feeder: whether it feeds a board rather than a load
    neutral: the neutral beside the lines, None where there is none or it is one of two wires
    least_device_a: a rating that the device may not be under whatever the load [A]
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
    raceway: str = ""
    ambient_c: float | None = None
    bundled: int = 0
    arrangement: str = "bunched"
    terminal_c: int | None = None
    power_factor: float = 1.0
    use: str = "other"
    supply: str = "public"
    surroundings: Surroundings = PLAIN
    drop_before_percent: float = 0.0
    before_m: float = 0.0
    feeder: bool = False
    neutral: NeutralLoad | None = None
    least_device_a: float = 0.0
    round_up: bool = True


class Choice(NamedTuple):
    """A device, and conductors of one size in so many sets."""

    device_a: float
    size: str
    sets: int


class Capacity(NamedTuple):
    """What conductors carry as they are installed: factor, ampacity of all sets [A].

    device_max_a: the greatest device by every rule; device_below_a: the rating at or below the ampacity [A]
    """

    factor: float
    ampacity_a: float
    device_max_a: float
    device_below_a: float


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
    """The protective (equipment grounding) conductor, one in each set; remark: what was not judged of it."""

    size: str
    material: str
    rule: Citation
    remark: Message | None = None


@dataclass(frozen=True)
class Terms:
    """How a book's country says it, and what its runs are made of where nothing is entered.

    demand_cascades: a board counts what the boards below it demand, not their connected loads
    way_columns: how many neighbouring ways share a leg (two columns of ways: 1 and 2 lie in one row)
    nominal: systems whose voltages are nominal there; region: whose conductor colours hold there
    """

    protective_conductor: str
    length_unit: str
    insulation: str
    method: str
    cable: str
    raceway: str
    materials: tuple[str, ...]
    demand_cascades: bool
    way_columns: int
    nominal: tuple[str, ...]
    region: str
    not_covered: tuple[Message, ...] = ()


@dataclass(frozen=True, slots=True)
class Connected:
    """A load below a board, for its demand: what it is, its volt-amperes in all and of one.

    continuous: the continuous share of it; house: of a dwelling, as its own rules read it
    """

    id: str
    kind: str
    va: float
    count: int = 1
    group: str = ""
    diversity: float = 1.0
    continuous: float = 0.0
    house: Any = None


@dataclass(frozen=True)
class BoardFacts:
    """A board as its demand is reckoned: its own entries, and its supply."""

    spec: BoardSpec
    phases: int
    four_wire: bool


@dataclass(frozen=True)
class BoardDemand:
    """The demand of a board [VA], and the factor that each load has in it.

    by_area_va: general lighting by area beyond the circuits listed; continuous: shares where the rule sets them
    (the key `by_area` for that beyond)
    """

    demand_va: float
    factors: dict[str, float]
    by_area_va: float = 0.0
    continuous: dict[str, float] = field(default_factory=dict)


def require_choices(choices: Mapping[str, tuple[str, ...]], given: Mapping[str, object]) -> None:
    """Raise UnknownName at the first key whose entered value is not among its choices; None and "" are not entered."""
    for key, value in given.items():
        known = choices.get(key)
        if known is not None and value not in (None, "") and str(value) not in known:
            raise UnknownName(key, Message("{name} is not one of: {known}", name=str(value), known=list(known)))


class Book(Protocol):
    """A rule set with an edition."""

    def __hash__(self) -> int:
        """Books are told apart as such: there is one of each."""

    @property
    def name(self) -> str:
        """The book's full name, with its edition."""

    @property
    def terms(self) -> Terms:
        """How its country says it."""

    @property
    def device_rule(self) -> Citation:
        """The clause of the standard ratings."""

    @property
    def load_rule(self) -> Citation:
        """The clause by which a load and its current are reckoned."""

    @property
    def shared_neutral_rule(self) -> Citation:
        """The clause of circuits that share a neutral."""

    @property
    def counts_nonlinear_neutral(self) -> bool:
        """Whether a neutral that carries mostly nonlinear load counts among the bundled conductors."""

    @property
    def choices(self) -> Mapping[str, tuple[str, ...]]:
        """What may be chosen of a run, key by key of the open file."""

    def check(self, run: Run) -> None:
        """Raise InputError at the key that this book does not know or has no table for."""

    def devices(self) -> tuple[float, ...]:
        """Return the standard ratings [A], smallest first."""

    def demand(self, loads: Sequence[Connected], board: BoardFacts, sheet: Sheet) -> BoardDemand:
        """Return the demand of the loads below a board."""

    def branch_va(self, kind: str, va: float, sheet: Sheet) -> float:
        """Return what one circuit counts of its load [VA], where its kind has a rule of its own."""

    def neutral_share(self, kind: str, system: System) -> float:
        """Return what part of a load between lines counts on the neutral for its kind, 0 where none does."""

    def least_device_a(self, kind: str, va: float) -> float:
        """Return a rating that a circuit's device may not be under for its kind [A], 0 where there is none."""

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

    def complying(self, run: Run, device_a: float, sets: int) -> Callable[[str], bool]:
        """Return the test whether a size complies there: the same as no objection, without finding words for one.

        It grows with the size: where one holds, every larger one does.
        """

    def sizes_by_choice(self, run: Run) -> tuple[str, ...]:
        """Return the sizes that are pulled by choice, smallest first (very large ones are not)."""

    def other_terminals(self, run: Run, choice: Choice) -> Run | None:
        """Return the run by the other practice of terminals, None where the book has but one."""

    def drop_v(self, run: Run, choice: Choice, sheet: Sheet) -> float:
        """Return the voltage drop [V] over the run's length."""

    def drop_limit(self, run: Run, in_total: bool) -> DropLimit:
        """Return the limit of one run, or from the source."""

    def neutral(self, run: Run, choice: Choice, earth: EarthConductor, sheet: Sheet) -> str:
        """Return the size of the neutral beside the lines, one in each set."""

    def earth(self, run: Run, choice: Choice, least: Choice, sheet: Sheet) -> EarthConductor:
        """Return the protective conductor; `least` is the smallest conductor that would have served."""

    def area_mm2(self, size: str) -> float:
        """Return a conductor's area of metal [mm²]."""

    def conduit(self, run: Run, choice: Choice, earth: EarthConductor, neutral: str) -> str:
        """Return the trade size of conduit by fill; "" where the run is not in one or no table is here."""
