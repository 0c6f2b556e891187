"""How a run lies, and what that leaves of its ampacity: ambient, roof, bundling, columns of terminals, insulation."""

from __future__ import annotations

from functools import cache

from voltaje.books.answers import Run, require_choices
from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.edition import Edition, find_edition
from voltaje.books.nec.run_tables import FREE_AIR, RACEWAYS, TERMINALS_C, Insulation, insulations, ladder, limits
from voltaje.books.tables import number
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Sheet

ON_ROOF = Formula("ambient + adder")

METHODS = ("raceway", "cable", "buried", FREE_AIR)
COOLEST = 60


def check(run: Run, edition: Edition) -> None:
    """Raise InputError at the key that the tables here do not hold. Source: Tables 310.4(A), 310.15(B)(1)."""
    _refuse_unknown(edition.name, run.material, run.insulation, run.method, run.raceway, run.terminal_c)
    _ambient_factor(edition, run.insulation, _ambient_of(run, edition))


@cache
def choices(book: str) -> dict[str, tuple[str, ...]]:
    """Return what may be chosen of a run, key by key."""
    return {
        "material": ("Cu", "Al"),
        "insulation": tuple(insulations(book)),
        "method": METHODS,
        "raceway": tuple(RACEWAYS),
        "terminal_c": tuple(str(column) for column in TERMINALS_C),
    }


@cache
def _refuse_unknown(
    book: str, material: str, insulated: str, method: str, raceway: str, terminal_c: int | None
) -> None:
    chosen = {"material": material, "insulation": insulated, "method": method, "raceway": raceway}
    require_choices(choices(book), {**chosen, "terminal_c": terminal_c})
    insulation = insulations(book)[insulated]
    if method == "buried" and not insulation.wet:
        message = Message("{name} is not for wet places; buried raceways count as wet", name=insulation.name)
        raise InputError("insulation", message, str(find_edition(book).cite_table("insulations")))
    if method == FREE_AIR and not insulation.areas:
        message = Message("{name} is a cable: in free air stand single conductors", name=insulation.name)
        raise InputError("insulation", message, str(find_edition(book).cite_table("ampacity_free_air")))


def _ambient_of(run: Run, edition: Edition) -> float | None:
    """Return what a run is corrected for [°C], the adder of a roof in the sun with it; None for the table's base."""
    height = run.surroundings.over_roof_m
    if (
        height is None
        or run.insulation == _NOT_ON_ROOFS
        or height >= edition.figure("roof_near_in") * _INCH_M - _DUST_M
    ):
        return run.ambient_c
    base = edition.figure("ambient_default_c") if run.ambient_c is None else run.ambient_c
    return base + edition.figure("roof_adder_c")


_NOT_ON_ROOFS = "XHHW-2"  # an insulation that the adder does not concern: its clause's exception
_INCH_M, _DUST_M = 0.0254, 1e-9


@cache
def _ambient_factors(edition: Edition, column_c: int) -> tuple[tuple[float, float], ...]:
    rows = edition.table("ambient").rows
    column = f"f{column_c}"
    return tuple((number(row, "ambient_c"), number(row, column)) for row in rows if row[column] is not None)


def ambient_factor(run: Run, insulation: Insulation, edition: Edition) -> float:
    """Return the correction for ambient [factor]. Source: Table 310.15(B)(1). Raises OutsideTable above its range."""
    return _ambient_factor(edition, insulation.name, _ambient_of(run, edition))


@cache
def _ambient_factor(edition: Edition, insulated: str, ambient_c: float | None) -> float:
    insulation = insulations(edition.name)[insulated]
    ambient = edition.figure("ambient_default_c") if ambient_c is None else ambient_c
    for most, factor in _ambient_factors(edition, insulation.corrected_c):
        if ambient <= most:
            return factor
    table = edition.table("ambient")
    hottest = _ambient_factors(edition, insulation.corrected_c)[-1][0]
    message = Message(
        "{ambient} °C is above {table}, which ends at {most} °C for this insulation",
        ambient=f"{ambient:g}",
        table=table.numbered(edition.name),
        most=f"{hottest:g}",
    )
    raise InputError("ambient_c", message, str(edition.cite("ambient")))


def adjustment_percent(run: Run, edition: Edition) -> float:
    """Return the adjustment for more than three current-carrying conductors [%]. Source: 310.15(C)(1)."""
    return _adjustment(edition, run.bundled or NOT_BUNDLED)


NOT_BUNDLED = 3


@cache
def _adjustment(edition: Edition, bundled: int) -> float:
    return number(edition.table("adjustment").band("bundled", edition.name, bundled), "percent")


@cache
def _factor(edition: Edition, insulated: str, ambient_c: float | None, bundled: int) -> tuple[float, int]:
    """Return ambient times adjustment, and the column they apply to [°C]."""
    factor = _ambient_factor(edition, insulated, ambient_c) * _adjustment(edition, bundled or NOT_BUNDLED) / 100
    return factor, insulations(edition.name)[insulated].corrected_c


def factor_of(run: Run, edition: Edition) -> tuple[float, int]:
    """Return ambient times adjustment, and the column they apply to [°C]. Source: NEC 310.15(B)(1), (C)(1)."""
    around = run.surroundings
    ambient = run.ambient_c if around.over_roof_m is None else _ambient_of(run, edition)
    return _factor(edition, run.insulation, ambient, run.bundled)


def adjusted_a(run: Run, size: str, sets: int, edition: Edition) -> float:
    """Return the ampacity of conductors of a size as they are installed [A], whatever their terminals.

    Source: NEC 310.15.
    """
    factor, corrected_c = factor_of(run, edition)
    return sets * ladder(edition.name, run.material, run.method)[size][corrected_c] * factor


def column_c(run: Run, device_a: float, edition: Edition) -> int:
    """Return the column of the final ampacity [°C]: the terminals', not over the insulation's own.

    Source: 110.14(C)(1): 60 °C for 100 A and less unless marked, 75 °C above; 334.80, 340.80, 338.10.
    """
    unmarked = 60 if device_a <= limits(edition.name)["terminals_60_to_a"] else 75
    return min(run.terminal_c or unmarked, insulations(edition.name)[run.insulation].most_c)


def in_thermal_insulation(run: Run, size: str, edition: Edition) -> bool:
    """Return whether a cable's size falls to the 60 °C column. Source: 338.10(B)(4): SE, 10 AWG and smaller."""
    if run.insulation != "SE" or not run.surroundings.insulated_mm:
        return False
    return area_cmil(size, edition) <= area_cmil(edition.size_figure("se_insulated_to"), edition)


def write_roof(run: Run, edition: Edition, sheet: Sheet) -> None:
    """Write what a roof in the sun adds to the ambient, or why it adds nothing.

    Source: 310.15(B)(2); 2017: 310.15(B)(3)(c).
    """
    height, rule = run.surroundings.over_roof_m, edition.cite("rooftop")
    if height is None:
        return
    hot = _ambient_of(run, edition)
    base = edition.figure("ambient_default_c") if run.ambient_c is None else run.ambient_c
    if hot is None or hot == base:
        because = Message("{inches} over the roof: nothing is added", inches=Figure(height / _INCH_M, "in", 2))
        sheet.read(base, Message("Ambient over a roof"), "°C", rule, because)
        return
    because = Message("a raceway or cable so near a roof in the sun is hotter")
    sheet.apply(
        ON_ROOF, Message("Ambient over a roof"), "°C", rule, because, ambient=base, adder=edition.figure("roof_adder_c")
    )
