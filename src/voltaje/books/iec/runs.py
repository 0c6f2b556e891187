"""Conductors of a run by Ib ≤ In ≤ Iz, with the factors of the installation."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from voltaje.books.book import Capacity, Choice, Objection, Run, require_choices
from voltaje.books.iec.profile import PACKAGE, Profile, profiles
from voltaje.books.tables import load_table, number, text
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.surroundings import PLAIN
from voltaje.sheet import Sheet

FACTOR = Formula("ca * cg * ci * cf * cs")
CARRIES = Formula("sets * it * factor")
NEED = Formula("ib / (ambient * neighbours * enclosure)")

INSULATIONS = {"PVC 70": "pvc70", "XLPE 90": "xlpe90"}
CABLES = ("singles", "multicore", "armoured")
METHODS = ("A", "B", "C", "D", "E", "F")
ARRANGEMENTS = {"bunched": "bunched", "wall": "wall", "tray": "tray", "buried touching": "buried touching"}
CHOICES = {
    "material": ("Cu",),
    "insulation": tuple(INSULATIONS),
    "cable": CABLES,
    "method": METHODS,
    "arrangement": tuple(ARRANGEMENTS),
}
_BURIED = "D"
_DEFAULT_C = {True: 20.0, False: 30.0}  # ground and air, the reference of the tables
_DUST_A = 1e-6


def check(run: Run, profile: Profile) -> None:
    """Raise InputError at the key that the profile's tables do not hold."""
    require_choices(CHOICES, {key: getattr(run, key) for key in CHOICES})
    if table_of(run, profile) is None:
        message = Message(
            "{method}: no current table for {insulation} {cable} by that method is included",
            method=run.method, insulation=run.insulation, cable=run.cable,
        )  # fmt: skip
        raise InputError("method", message, str(profile.cite("unmarked")))
    ambient_factor(run, profile)
    grouping_factor(run, profile)
    soil_factor(run)


def kind(run: Run) -> str:
    """Return cable and insulation as the profiles name their tables."""
    return f"{run.cable}_{INSULATIONS[run.insulation]}"


def _column(run: Run) -> str:
    return f"{run.method}_{3 if run.phases == _THREE_PHASE else 2}"


_THREE_PHASE = 3


def table_of(run: Run, profile: Profile) -> str | None:
    """Return the key of the current table that holds the run's cable and method, None where there is none."""
    return _table_of(profile.name, kind(run), _column(run))


@cache
def _table_of(name: str, kind: str, column: str) -> str | None:
    for key in profiles()[name].currents.get(kind, []):
        if any(found.name == column for found in load_table(PACKAGE, key).columns):
            return key
    return None


@cache
def currents(key: str, column: str) -> dict[str, float]:
    """Return the tabulated current of every size [A], smallest first."""
    rows = load_table(PACKAGE, key).rows
    return {text(row, "size"): number(row, column) for row in rows if row[column] is not None}


def sizes(run: Run, profile: Profile) -> dict[str, float]:
    """Return the sizes of the run's table with their tabulated current [A]."""
    return currents(table_of(run, profile) or "", _column(run))


def ambient_factor(run: Run, profile: Profile) -> float:
    """Return Ca. Source: IEC 60364-5-52 Tables B.52.14 (air), B.52.15 (ground). Raises InputError above them."""
    buried = run.method == _BURIED
    ambient = _DEFAULT_C[buried] if run.ambient_c is None else run.ambient_c
    key = "ambient_ground" if buried else "ambient_air"
    factor = _ambient(key, INSULATIONS[run.insulation], ambient)
    if factor is None:
        message = Message(
            "{ambient} °C is above {table}", ambient=f"{ambient:g}", table=profile.table(key).numbered(profile.name)
        )
        raise InputError("ambient_c", message, str(profile.cite_table(key)))
    return factor


@cache
def _ambient(key: str, column: str, ambient: float) -> float | None:
    rows = load_table(PACKAGE, key).rows
    return next((number(r, column) for r in rows if number(r, "ambient_c") >= ambient and r[column] is not None), None)


def grouping_factor(run: Run, profile: Profile) -> float:
    """Return Cg for the circuits that lie together. Source: IEC 60364-5-52 Tables B.52.17 to B.52.19."""
    factor = _grouping(ARRANGEMENTS[run.arrangement], run.bundled or 1)
    if factor is None:
        message = Message(
            "{circuits} circuits {arrangement} are more than the table has",
            circuits=run.bundled,
            arrangement=run.arrangement,
        )
        raise InputError("bundled", message, str(profile.cite_table("grouping")))
    return factor


@cache
def _grouping(arrangement: str, circuits: int) -> float | None:
    rows = [row for row in load_table(PACKAGE, "grouping").rows if row["arrangement"] == arrangement]
    return next((number(row, "factor") for row in rows if number(row, "circuits") >= circuits), None)


@cache
def devices() -> tuple[float, ...]:
    """Return modular breakers, and gG fuses above them [A]. Source: IEC 60898-1, IEC 60269-1."""
    breakers = [number(row, "amps") for row in load_table(PACKAGE, "breakers").rows]
    fuses = [number(row, "amps") for row in load_table(PACKAGE, "fuses").rows]
    return (*breakers, *(rating for rating in fuses if rating > breakers[-1]))


def device_need(run: Run, profile: Profile, sheet: Sheet) -> float:
    """Return the rating that the device may not be under [A]: Ib over what a breaker keeps where it stands."""
    around = run.surroundings
    if around.breaker_keeps == 1:
        because = Message("no factor entered for ambient, neighbours or enclosure of the breaker: 1 by default")
        return sheet.read(run.amps, Message("Design current Ib"), "A", profile.cite("coordination"), because)
    default = [
        name
        for name, given in (
            (Message("ambient"), around.breaker_ambient),
            (Message("neighbours"), around.breaker_neighbours),
            (Message("enclosure"), around.breaker_enclosure),
        )
        if given is None
    ]
    marked = Message("factors as entered; 1 by default for: {default}", default=default)
    return sheet.apply(
        NEED,
        Message("Ib, over what the breaker keeps"),
        "A",
        profile.cite("coordination"),
        marked if default else Message("factors as entered"),
        ib=run.amps,
        ambient=around.breaker_ambient or 1.0,
        neighbours=around.breaker_neighbours or 1.0,
        enclosure=around.breaker_enclosure or 1.0,
    )


def insulation_factor(run: Run) -> float:
    """Return Ci for a length wholly in thermal insulation. Source: BS 7671 Table 52.2."""
    length = run.surroundings.insulated_mm
    if not length:
        return 1.0
    rows = load_table(PACKAGE, "thermal_insulation").rows
    return next(
        (number(row, "factor") for row in rows if number(row, "length_mm") >= length), figure("long_in_insulation")
    )


def soil_factor(run: Run) -> float:
    """Return the factor of the soil's thermal resistivity, 1 where none is entered: the tables' 2.5 K·m/W.

    Armoured cables lie directly in the ground, others in ducts. Source: IEC 60364-5-52 Table B.52.16.
    """
    soil = run.surroundings.soil_kmw
    if soil is None or run.method != _BURIED:
        return 1.0
    column = "direct" if run.cable == "armoured" else "duct"
    rows = load_table(PACKAGE, "soil").rows
    found = next((number(row, column) for row in rows if number(row, "kmw") >= soil), None)
    if found is None:
        raise InputError("soil_kmw", Message("{soil} K·m/W is above the table", soil=f"{soil:g}"))
    return found


def _fuse_factor(run: Run) -> float:
    """Return Cf: a semi-enclosed fuse. Source: BS 7671 433.1.202."""
    return figure("semi_enclosed_fuse") if run.surroundings.rewireable else 1.0


@cache
def figure(key: str) -> float:
    """Return a number that stands in a clause of the family."""
    return next(number(row, "value") for row in load_table(PACKAGE, "figures").rows if row["key"] == key)


def _factor(run: Run, profile: Profile) -> float:
    plain = ambient_factor(run, profile) * grouping_factor(run, profile)
    if run.surroundings is PLAIN:
        return plain
    return plain * insulation_factor(run) * _fuse_factor(run) * soil_factor(run)


def _carries(run: Run, choice: Choice, profile: Profile) -> float:
    return choice.sets * sizes(run, profile)[choice.size] * _factor(run, profile)


def complying(run: Run, device_a: float, sets: int, profile: Profile) -> Callable[[str], bool]:
    """Return the test whether a size passes Ib ≤ In ≤ Iz."""
    enough = device_a >= run.amps / run.surroundings.breaker_keeps - _DUST_A
    tabulated, factor = sizes(run, profile), _factor(run, profile)
    return lambda size: enough and device_a <= sets * tabulated[size] * factor + _DUST_A


def objections(run: Run, choice: Choice, profile: Profile) -> tuple[Objection, ...]:
    """Return why Ib ≤ In ≤ Iz does not hold."""
    found = []
    need = run.amps / run.surroundings.breaker_keeps
    rule = profile.cite("coordination")
    if choice.device_a < need - _DUST_A:
        message = Message("In {device} is under {need}", device=Figure(choice.device_a, "A"), need=Figure(need, "A", 1))
        found.append(Objection("device_a", message, rule))
    carries = _carries(run, choice, profile)
    if choice.device_a > carries + _DUST_A:
        message = Message(
            "{size} mm² carries Iz {carries} as it is installed, under In {device}",
            size=choice.size, carries=Figure(carries, "A", 1), device=Figure(choice.device_a, "A"),
        )  # fmt: skip
        found.append(Objection("size", message, rule))
    return tuple(found)


def capacity(run: Run, choice: Choice, profile: Profile, sheet: Sheet) -> Capacity:
    """Return the factor, Iz and the greatest In, written on the sheet."""
    key = table_of(run, profile) or ""
    factor = sheet.apply(
        FACTOR,
        Message("Ca × Cg × Ci × Cf × Cs"),
        "",
        profile.cite("grouping"),
        Message("ambient, grouping, thermal insulation, semi-enclosed fuse, soil; 1 where nothing is entered"),
        ca=ambient_factor(run, profile),
        cg=grouping_factor(run, profile),
        ci=insulation_factor(run),
        cf=_fuse_factor(run),
        cs=soil_factor(run),
    )
    carries = sheet.apply(
        CARRIES,
        Message("Iz of {size} mm²", size=choice.size),
        "A",
        profile.cite_table(key),
        Message("tabulated current It times the factor"),
        sets=choice.sets,
        it=sizes(run, profile)[choice.size],
        factor=factor,
    )
    most = max((rating for rating in devices() if rating <= carries + _DUST_A), default=0.0)
    sheet.read(most, Message("Greatest device"), "A", profile.cite("coordination"), Message("In may not exceed Iz"))
    return Capacity(factor, carries, most, most)
