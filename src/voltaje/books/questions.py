"""The questions that books are asked: a small core that every book answers, and capabilities that one may have.

The chain of a run (`design.chain`) is written once over the core; rule families differ behind it. What a book may
also answer is a capability with a protocol of its own: `book.asked(Motors)` gives it, or raises NotCovered with the
reason. A book never invents a rule. A new rule family is a folder with a class that answers a protocol here, and one
line where its book lists its capabilities.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Protocol, TypeVar, cast

from voltaje.books.answers import (
    BoardDemand,
    BoardFacts,
    Capacity,
    Choice,
    Connected,
    DropLimit,
    DwellingDemand,
    EarthConductor,
    Household,
    Impedance,
    LoadRules,
    NeutralLoad,
    Objection,
    Run,
    ServiceLimits,
    Terms,
)
from voltaje.books.faults import Heat, HeatAsked, Loop, LoopAsked, Residual, ResidualAsked, ResidualType, TestLimits
from voltaje.books.households import HouseCircuit, HouseDemand, UsualCircuit
from voltaje.books.machines import (
    Bonds,
    CookingCircuit,
    CookingUnit,
    Earthing,
    EarthingAsked,
    FeederMotor,
    Hermetic,
    InverterAsked,
    InverterRule,
    Motor,
    MotorCircuit,
    MotorFeeder,
    SecondaryAsked,
    SecondaryRule,
    Side,
    TapAsked,
    WelderAsked,
    WelderCircuit,
)
from voltaje.errors import NotCovered
from voltaje.findings import Finding
from voltaje.message import Message
from voltaje.path.house import HouseSpec
from voltaje.rounding import HalfReading
from voltaje.sheet import Citation, Sheet
from voltaje.systems import System

C = TypeVar("C")

_WITHOUT = {
    "Dwellings": Message("no rule in this book for a dwelling's sheet: list its circuits with your diversity"),
    "Disconnections": Message("no rule in this book for loops of 230/400 V: take a book of that family"),
    "Adiabatics": Message("no rule in this book for that here: its equipment conductor goes by the device's rating"),
    "Households": Message("no rule in this book for that here: take the dwelling's sheet"),
    "CookingCircuits": Message("no rule in this book for a cooking circuit: take run with your diversity"),
    "Compressors": Message("no rule in this book for a compressor's plate: give its current"),
    "Transformers": Message("no rule in this book here for the devices of a transformer"),
    "Motors": Message("no rule in this book for horsepower: give kW with a power factor, or A"),
}


class Demands(Protocol):
    """How loads count: alone on their circuit, and together on a board."""

    def demand(self, loads: Sequence[Connected], board: BoardFacts, sheet: Sheet) -> BoardDemand:
        """Return the demand of the loads below a board."""

    def recorded(self) -> tuple[float, Citation | None]:
        """Return what a greatest demand as metered counts [%], and the clause that lets it stand for the loads."""

    def load_rules(self, kind: str, entered: float | None) -> LoadRules:
        """Return how a kind of load counts; entered: its continuous share as a person gave it, None for none."""

    def branch_va(self, unit: Household, sheet: Sheet) -> float:
        """Return what the circuit of one household unit counts of its load [VA], where its kind has a rule."""

    def branch_neutral(self, kind: str, amps: float, reducible: bool) -> NeutralLoad | None:
        """Return the neutral that a household unit's circuit between lines has, None where it has none."""

    def neutral_share(self, kind: str, household: bool, reducible: bool) -> tuple[float, float]:
        """Return what counts on the neutral of a load between lines: where it may be reduced, and where not [share]."""

    def least_device_a(self, kind: str, va: float) -> float:
        """Return a rating that a circuit's device may not be under for its kind [A], 0 where there is none."""

    def least_service_a(self, circuits: int) -> float:
        """Return a rating that a service of so many circuits may not be under [A], 0 where there is none."""

    def service_limits(self) -> ServiceLimits | None:
        """Return what bounds a service, None where the book has no such rules."""


class Dwellings(Protocol):
    """The sheet of a dwelling."""

    def on_path(self, spec: HouseSpec, system: System, legs: tuple[str, ...], sheet: Sheet) -> DwellingDemand:
        """Return what a dwelling draws by its own sheet. Raises InputError at its field, or where there is no rule."""


class Motors(Protocol):
    """Motors: their current, and what their circuits and feeders need."""

    @property
    def extra_of_largest(self) -> float:
        """What of the largest motor's current a board counts beside the current itself [share]."""

    def amps(self, hp: float, phases: int, volts: float, field: str) -> float:
        """Return a motor's full-load current by its horsepower [A]. Raises InputError at `field`."""

    def output_amps(self, kw: float, phases: int, volts: float, field: str, sheet: Sheet) -> float:
        """Return a motor's usual current by what its shaft gives [A]. Raises InputError at `field`."""

    def duties(self) -> tuple[str, ...]:
        """Return the classes of duty that the book tells apart, besides continuous."""

    def circuit(self, motor: Motor, sheet: Sheet) -> MotorCircuit:
        """Return what a motor's circuit needs but for its conductors. Raises InputError at the motor's field."""

    def feeder(
        self, motors: Sequence[FeederMotor], other_a: float, other_continuous_a: float, sheet: Sheet
    ) -> MotorFeeder:
        """Return what a feeder of motors and other loads [A] needs."""


class CookingCircuits(Protocol):
    """Circuits of household cooking equipment."""

    def circuit(self, units: Sequence[CookingUnit], volts: float, half: HalfReading, sheet: Sheet) -> CookingCircuit:
        """Return what a cooking circuit needs but for its conductors. Raises NotCovered, OutsideTable at its field."""


class Compressors(Protocol):
    """Hermetic compressors on their circuits."""

    def circuit(
        self, rated_a: float | None, selection_a: float | None, mca: float | None, mop: float | None, sheet: Sheet
    ) -> Hermetic:
        """Return what a compressor's circuit needs. Raises InputError where too little is known of it."""


class Welders(Protocol):
    """Welders on their circuits."""

    def factor(self, kind: str, duty_percent: float) -> float:
        """Return what of its rated current a welder counts [factor]. Raises InputError for a duty it does not know."""

    def circuit(self, asked: WelderAsked, sheet: Sheet) -> WelderCircuit:
        """Return what a welder's circuit needs. Raises InputError at its field."""


class Inverters(Protocol):
    """Inverters that feed a board."""

    def breaker(self, inverter: InverterAsked, sheet: Sheet) -> InverterRule:
        """Return what an inverter's breaker is taken by, and what its board must bear."""


class Transformers(Protocol):
    """Transformers: their sizes, devices, secondary conductors, bonds."""

    def sizes(self, phases: int) -> tuple[float, ...]:
        """Return the trade sizes [kVA], smallest first."""

    def side(self, amps: float, side: str, method: str, sheet: Sheet) -> Side:
        """Return the greatest device of a side by its rated current [A]."""

    def practical_a(self, amps: float, most_a: float) -> float:
        """Return the usual device of a side that may have so much [A]."""

    def ratings_to(self, most_a: float) -> tuple[float, ...]:
        """Return the standard ratings up to one [A]."""

    def usual_inrush(self, build: str) -> float:
        """Return the usual current at switching on of a dry or an oil-filled unit [factor of the rated one]."""

    def holds(self, device_a: float, inrush_a: float, curve: str) -> bool:
        """Return whether a device does not act at once at a current [A]; curve: its type, where devices have types."""

    def secondary(self, asked: SecondaryAsked) -> tuple[SecondaryRule, ...]:
        """Return each rule of secondary conductors, tried."""

    def bonds(self, size: str, material: str, sets: int, sheet: Sheet) -> Bonds:
        """Return what bonds and earths a system that it derives."""


class Taps(Protocol):
    """Conductors that are tapped from a feeder and have their device at their end."""

    def taps(self, asked: TapAsked) -> tuple[SecondaryRule, ...]:
        """Return each rule of taps, tried."""


class Earthings(Protocol):
    """What is connected to earth at a service."""

    def earthing(self, asked: EarthingAsked, sheet: Sheet) -> Earthing:
        """Return the grounded conductor, jumper, electrode conductors and bonds. Raises InputError at its field."""


class Disconnections(Protocol):
    """Automatic disconnection of a fault to earth."""

    @property
    def usual_kind(self) -> str:
        """The type of breaker that is usual where none is said: common practice."""

    def is_for(self, system: System) -> bool:
        """Return whether its figures are for the volts to earth of a supply."""

    def has(self, kind: str, amps: float) -> bool:
        """Return whether there are figures of a device of that kind and rating [A]."""

    def test_limits(self) -> TestLimits:
        """Return what the results of tests are held against."""

    def supply_ohm(self, earthing: str, ze_ohm: float | None, electrode_ohm: float | None) -> float | None:
        """Return a supply's part of the loop: entered, or the usual greatest [Ω]; None where nothing says it."""

    def run_ohm(self, asked: LoopAsked) -> float:
        """Return what a run adds to the loop, line and protective conductor hot [Ω].

        Raises: InputError at the size or the armour that no table has.
        """

    def loop(self, asked: LoopAsked, sheet: Sheet) -> Loop:
        """Return the loop of a fault, held against what opens it. Raises InputError at its field."""


class Residuals(Protocol):
    """Residual current devices: which circuits want one, and of which type."""

    def needed(self, asked: ResidualAsked) -> Residual | None:
        """Return the RCD that a circuit wants, None where no rule wants one."""

    def type_for(self, feeds: str) -> ResidualType:
        """Return the type of RCD that suits what a circuit feeds."""


class Adiabatics(Protocol):
    """Protective conductors in a fault."""

    def heat(self, asked: HeatAsked, sheet: Sheet) -> Heat:
        """Return what a protective conductor must have to outlive a fault. Raises InputError at its field."""

    def at_once(self, asked: HeatAsked, sheet: Sheet) -> Heat:
        """Return the same of what a breaker opens at once. Raises InputError at its field."""


class Households(Protocol):
    """The demand of a dwelling of 230 V by its circuits."""

    def demand(self, circuits: Sequence[HouseCircuit], sheet: Sheet) -> tuple[HouseDemand, ...]:
        """Return what each circuit counts, in their order. Raises InputError at its field."""

    def usual(self, circuit: str, device_a: float) -> UsualCircuit | None:
        """Return what practice has of a circuit of sockets with a device; None where it has nothing."""

    def own_circuit_va(self, unit: Household, sheet: Sheet) -> float:
        """Return what a cooker counts on its own circuit [VA], other units as they are."""

    def main_fuses(self) -> tuple[float, ...]:
        """Return the fuses that a dwelling's supply usually has [A], smallest first: common practice."""


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
    def band_percent(self) -> float:
        """How far the volts at equipment may lie from its rated ones [%]."""

    @property
    def usual_single_phase_a(self) -> float:
        """The greatest single-phase supply that is usual [A]: common practice."""

    @property
    def supply_band(self) -> tuple[float, float]:
        """How far the supply's volts may lie under nominal, and over it [%]."""

    def rule(self, topic: str) -> Citation | None:
        """Return the clause of a topic, None where the book has none."""

    @property
    def shares_neutrals(self) -> bool:
        """Whether circuits may share a neutral on different legs."""

    @property
    def counts_nonlinear_neutral(self) -> bool:
        """Whether a neutral that carries mostly nonlinear load counts among the bundled conductors."""

    @property
    def choices(self) -> Mapping[str, tuple[str, ...]]:
        """What may be chosen of a run, key by key of the open file."""

    @property
    def occupancies(self) -> tuple[str, ...]:
        """What may be chosen of an area whose lighting goes by its unit load; none where the book has no such rule."""

    def asked(self, capability: type[C]) -> C:
        """Return what answers the questions of a capability. Raises NotCovered where the book has no such rules."""

    def check(self, run: Run) -> None:
        """Raise InputError at the key that this book does not know or has no table for."""

    def devices(self, run: Run | None = None) -> tuple[float, ...]:
        """Return the standard ratings that a run's device may have, or any [A], smallest first."""

    def made_devices(self, run: Run) -> tuple[float, ...]:
        """Return every rating that a person may pin [A]: fuses too that the engine does not choose."""

    def impedance(self, run: Run, size: str, unity: bool) -> Impedance:
        """Return one conductor's resistance and reactance; unity: for a current along its voltage."""

    def cold_impedance(self, run: Run, size: str) -> Impedance:
        """Return the same where it is least: what the greatest short circuit meets."""

    def device_need(self, run: Run, sheet: Sheet) -> float:
        """Return the current that the device may not be rated under [A]."""

    def sizes(self, run: Run) -> tuple[str, ...]:
        """Return the sizes that the run's table has, smallest first."""

    def capacity(self, run: Run, choice: Choice, sheet: Sheet) -> Capacity:
        """Return what the choice's conductors carry."""

    def objections(self, run: Run, choice: Choice) -> tuple[Objection, ...]:
        """Return every reason why the choice does not comply; none where it does."""

    def remarks(self, run: Run, choice: Choice, pinned: bool) -> list[Finding]:
        """Return what is to be said of a run that is built so, though it is no reason to refuse it."""

    def besides(self, run: Run, device_a: float) -> list[tuple[Choice, Message]]:
        """Return what the book allows besides for such a run alone, each with its name; it is never the default."""

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


E = TypeVar("E")


def capability_of(known: Mapping[type, Callable[[E], object]], capability: type[C], edition: E, book: str) -> C:
    """Return what a book's edition answers a capability with. Raises NotCovered where it is not among those known."""
    answers = known.get(capability)
    if answers is None:
        plain = Message("{book} has no rules for that here", book=book)
        raise NotCovered("", _WITHOUT.get(capability.__name__, plain))
    return cast("C", answers(edition))
