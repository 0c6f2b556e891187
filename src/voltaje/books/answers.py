"""The words that books are asked in, and answer in: runs, choices, capacities, demands. Nothing here knows a rule."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from voltaje.errors import NoLawfulAnswer, UnknownName
from voltaje.findings import Finding
from voltaje.message import Figure, Message
from voltaje.path.board import AreaSpec, BoardSpec
from voltaje.path.surroundings import PLAIN, Surroundings
from voltaje.sheet import Citation

MOST_SETS = 6


@dataclass(frozen=True)
class NeutralLoad:
    """What a neutral has to carry at worst [A]: all of one leg's load to neutral, nothing on the others.

    nonlinear_a: the part of it that may not be reduced; reducible: whether the system allows reduction at all
    together_a: what all the loads leave on it when they run together [A]
    third_harmonic: share of third harmonic in the current of its lines, where the three add up on it
    least_size: it is not smaller than this, unless its lines are
    """

    amps: float
    nonlinear_a: float = 0.0
    reducible: bool = True
    together_a: float = 0.0
    third_harmonic: float = 0.0
    least_size: str = ""


class Fall(NamedTuple):
    """A voltage that a run brings down: of one leg to neutral, or between two.

    of: the legs; volts: nominal [V]; line, neutral: the currents that bring it down, along the voltage and across
        it (lagging currents have a negative part across) [A]
    before_percent: what it has lost from the source to where the run begins [%]
    """

    of: tuple[str, ...]
    volts: float
    line: complex
    neutral: complex
    before_percent: float


class Impedance(NamedTuple):
    """A conductor's resistance and reactance [Ω for each thousand of the table's unit of length], where they stand.

    unit_m: that unit of length [m]; along: the table holds one figure for both, taken along the current
    """

    resistance: float
    reactance: float
    rule: Citation
    unit_m: float
    along: bool = False


class Guard(NamedTuple):
    """A device by the rule of what it feeds: it guards against short circuit, something else against overload.

    device_a: what to take first; most_a: where that does not let it start [A]
    ground_a: the device by which the equipment conductor goes [A]; rule: that sets the ceiling
    """

    device_a: float
    most_a: float
    ground_a: float
    rule: Citation


class ServiceLimits(NamedTuple):
    """What bounds a service: from which disconnect [A], over which volts to ground [V] a wye has ground-fault
    protection; how many disconnects stand together [count]. Each with its clause.
    """

    ground_fault_from_a: float
    ground_fault_over_v: float
    ground_fault_rule: Citation
    most_disconnects: float
    disconnects_rule: Citation


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
    fuse_a: the device, where the rule of what it feeds makes it a fuse under the smallest breaker; else 0 [A]
    round_up: whether the next standard rating above the ampacity may protect it
    installed_a: what the conductors must carry as they are installed, where that is more than `amps` [A]
    role: branch, feeder, service, derived (from a transformer of the job's own), or tap (its device at its end)
    tapped_from_a: of a tap, the device of its feeder [A]; else 0
    falls: the voltages it brings down, where its legs carry unlike currents; empty: as one load would
    whole_dwelling: whether it carries the whole load of one dwelling
    needed_a: what its conductors must carry at their terminals, where its own rule says [A]
    guard: of a run whose device is not its conductors' guard against overload
    ring: a ring final circuit; its length is that of the whole loop
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
    arrangement: str = ""
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
    fuse_a: float = 0.0
    round_up: bool = True
    installed_a: float = 0.0
    role: str = "branch"
    tapped_from_a: float = 0.0
    falls: tuple[Fall, ...] = ()
    whole_dwelling: bool = False
    needed_a: float = 0.0
    guard: Guard | None = None
    ring: bool = False


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
    """Why a choice does not comply: the key that stands in the way, the reason, the rule; or what else it is."""

    key: str
    message: Message
    rule: Citation
    what: str = ""


@dataclass(frozen=True)
class DropLimit:
    """A limit of voltage drop, mandatory or informational."""

    percent: float
    mandatory: bool
    rule: Citation


class EarthConductor(NamedTuple):
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
    continuous_factor: by what device and terminals take continuous load
    family: nec or iec, as fields of the file matter to one alone
    ground_method: of runs whose ambient is the ground's, not the job's air
    drop_limit_grows: whether long runs may lose more
    gauges: units of sizes, each from a number on; symbols, paper: as the country draws, and prints
    example: a walk-through line as it would be said there; rings: whether there are ring finals, and flat twin
    """

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
    continuous_factor: float = 1.0
    family: str = ""
    ground_method: str = ""
    drop_limit_grows: bool = False
    gauges: tuple[tuple[int, str], ...] = ((0, "mm²"),)
    symbols: str = "iec"
    paper: str = "a4"
    example: str = ""
    rings: bool = False
    not_covered: tuple[Message, ...] = ()

    def gauge(self, size: str) -> str:
        """Return the unit that a size is read with: mm², AWG, kcmil."""
        number = int(size) if size.isdigit() else 0
        return [unit for least, unit in self.gauges if number >= least][-1]


@dataclass(slots=True)  # made once for every load; never changed
class Connected:
    """A load below a board, for its demand: what it is, its volt-amperes in all and of one.

    group: noncoincident loads of one board; amps: of one, in the line that it loads most [A]
    household: whether it is household equipment; settled: it counts as it is, whatever its kind
    house: of a dwelling, as its own rules read it; parts: of a kitchen, each appliance [VA]
    sockets_va: of what stands for several loads, what of it is receptacles
    home: how household practice sees it, None where it counts as it stands
    """

    id: str
    kind: str
    va: float
    count: int = 1
    group: str = ""
    diversity: float = 1.0
    amps: float = 0.0
    household: bool = False
    settled: bool = False
    house: Any = None
    parts: tuple[float, ...] = ()
    sockets_va: float = 0.0
    home: AtHome | None = None


class Household(NamedTuple):
    """A household unit on its own circuit: its kind, its load [VA], the volts [V], whether a socket hangs with it."""

    kind: str
    va: float
    volts: float
    with_socket: bool


class AtHome(NamedTuple):
    """A circuit as household practice sees it: what it is, its points, whether its control unit has a socket.

    diversity: entered, None where nothing was; legs: those it stands on
    """

    kind: str
    points: int
    with_socket: bool
    diversity: float | None
    legs: tuple[str, ...]


@dataclass(frozen=True)
class LoadRules:
    """How a kind of load counts by rule, whatever was entered.

    circuit_continuous, feeder_continuous: its continuous share on its own circuit, and in what feeds that
    installed_factor: its own conductors carry so many times its current as they are installed
    rule: of a load that is continuous by its kind, None for others
    """

    circuit_continuous: float
    feeder_continuous: float
    installed_factor: float = 1.0
    rule: Citation | None = None


class AreaBelow(NamedTuple):
    """The area of a board as the boards above it see it: its entries, and the loads that count by it.

    ids: none where its lighting does not count by area, or stands behind a transformer
    """

    spec: AreaSpec
    ids: frozenset[str] = frozenset()


@dataclass(frozen=True)
class BoardFacts:
    """A board as its demand is reckoned: its own entries, its supply, the areas of the boards below it."""

    spec: BoardSpec
    phases: int
    four_wire: bool
    areas: tuple[AreaBelow, ...] = ()


@dataclass(frozen=True)
class BoardDemand:
    """The demand of a board [VA], and the factor that each load has in it.

    by_area_va: general lighting by area beyond the circuits listed; continuous: shares where the rule sets them
        (the key `by_area` for that beyond)
    alternatives: the factor of each load that does not count because another of its group does, if it ran instead
    sockets_va: what all receptacles count; sockets_beyond_va: what of it is by area, beyond those listed
    """

    demand_va: float
    factors: dict[str, float]
    by_area_va: float = 0.0
    continuous: dict[str, float] = field(default_factory=dict)
    alternatives: dict[str, float] = field(default_factory=dict)
    sockets_va: float = 0.0
    sockets_beyond_va: float = 0.0


@dataclass(frozen=True)
class DwellingDemand:
    """A dwelling on a path, by its own sheet.

    amps: of each leg, where it is not reckoned from the volt-amperes on its legs [A]
    continuous_va: what of the demand is continuous; neutral_a: its neutral, already reduced [A]
    terminals, material: what its sheet takes for its service, and its run with it
    house: as its rules read it, to be taken together with others
    """

    connected_va: float
    demand_va: float
    continuous_va: float
    amps: float | None
    neutral_a: float
    least_device_a: float
    terminals: str
    material: str
    findings: tuple[Finding, ...]
    house: Any


def too_small_neutral(amps: float, largest: str, material: str, rule: Citation) -> NoLawfulAnswer:
    """Return the refusal of a neutral that no size carries."""
    message = Message(
        "the neutral carries {amps}, more than {size} {material}, the largest there is: more sets, or spread the load",
        amps=Figure(amps, "A", 1),
        size=largest,
        material=material,
    )
    return NoLawfulAnswer("size", message, str(rule))


def require_choices(choices: Mapping[str, tuple[str, ...]], given: Mapping[str, object]) -> None:
    """Raise UnknownName at the first key whose entered value is not among its choices; None and "" are not entered."""
    for key, value in given.items():
        known = choices.get(key)
        if known is not None and value not in (None, "") and str(value) not in known:
            raise UnknownName(key, Message("{name} is not one of: {known}", name=str(value), known=list(known)))


def sets_of(size: str, sets: int) -> str:
    """Return a size with its parallel sets, as it is written: `2 × 250`."""
    return size if sets == 1 else f"{sets} × {size}"
