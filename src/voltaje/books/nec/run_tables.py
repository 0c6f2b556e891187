"""What the tables say about runs, read once: insulations, raceways, ampacities by column, ratings, limits."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.edition import find_edition
from voltaje.books.nec.overcurrent import standard_ratings
from voltaje.books.tables import number, text

TERMINALS_C = (60, 75, 90)


@dataclass(frozen=True)
class Raceway:
    """A raceway: its name in the table of areas, and whose impedance columns hold in it."""

    kind: str
    lining: str


RACEWAYS = {
    "PVC 40": Raceway("PVC40", "pvc"),
    "PVC 80": Raceway("PVC80", "pvc"),
    "EMT": Raceway("EMT", "steel"),
    "RMC": Raceway("RMC", "steel"),
}


@dataclass(frozen=True)
class Insulation:
    """An insulation or cable: columns of its final ampacity and of its correction [°C].

    largest: the largest size that it is made in, by material; "" where it is made in all
    """

    name: str
    most_c: int
    corrected_c: int
    wet: bool
    areas: str
    largest: dict[str, str]


_LARGEST = (("Cu", "largest_cu"), ("Al", "largest_al"))


@cache
def insulations(book: str) -> dict[str, Insulation]:
    """Return the insulations that a book's tables hold, by name."""
    rows = find_edition(book).table("insulations").rows
    return {
        text(row, "name"): Insulation(
            text(row, "name"),
            round(number(row, "most_c")),
            round(number(row, "corrected_c")),
            bool(number(row, "wet")),
            "" if row["areas"] is None else text(row, "areas"),
            {made_of: "" if row[key] is None else text(row, key) for made_of, key in _LARGEST},
        )
        for row in rows
    }


FREE_AIR = "free air"


def ampacity_table(method: str) -> str:
    """Return the table by which a conductor carries as it lies; its terminals go by the one of raceways (110.14(C))."""
    return "ampacity_free_air" if method == FREE_AIR else "ampacity"


@cache
def ladder(book: str, material: str, method: str = "") -> dict[str, dict[int, float]]:
    """Return every size with its ampacity by column [°C: A], smallest first."""
    rows = find_edition(book).table(ampacity_table(method)).rows
    name = material.lower()
    return {
        text(row, "size"): {column: number(row, f"{name}{column}") for column in TERMINALS_C}
        for row in rows
        if row[f"{name}75"] is not None
    }


@cache
def known_sizes(book: str, material: str) -> tuple[str, ...]:
    """Return the sizes of a material, smallest first."""
    return tuple(ladder(book, material))


@cache
def made_sizes(book: str, insulated: str, material: str) -> tuple[str, ...]:
    """Return the sizes of a material that an insulation or cable is made in, smallest first. Source: 334.104, 340.104.

    All of them for an insulation that the book does not know: that is refused elsewhere.
    """
    known, insulation = known_sizes(book, material), insulations(book).get(insulated)
    largest = insulation.largest[material] if insulation else ""
    return known[: known.index(largest) + 1] if largest else known


@cache
def sizes_by_choice(book: str, insulated: str, material: str) -> tuple[str, ...]:
    """Return the sizes up to the largest that is pulled as one conductor by choice."""
    edition = find_edition(book)
    most = area_cmil(edition.size_figure("largest_single"), edition)
    return tuple(size for size in made_sizes(book, insulated, material) if area_cmil(size, edition) <= most)


@cache
def receptacle_ratings(book: str) -> tuple[float, ...]:
    """Return the ratings of circuits that several receptacles may stand on [A]. Source: Table 210.21(B)(3)."""
    return tuple(number(row, "amps") for row in find_edition(book).table("receptacle_circuits").rows)


@cache
def ratings(book: str) -> tuple[float, ...]:
    """Return the standard ratings [A]."""
    return tuple(standard_ratings(find_edition(book)))


@cache
def all_ratings(book: str) -> tuple[float, ...]:
    """Return the standard ratings of breakers and of fuses [A]. Source: 240.6(A)."""
    return tuple(number(row, "amps") for row in find_edition(book).table("standard_ratings").rows)


@cache
def small_fuses(book: str) -> tuple[float, ...]:
    """Return fuses between and under the standard ratings [A]. Source: 240.6(A), makers' lists."""
    return tuple(number(row, "amps") for row in find_edition(book).table("small_fuses").rows)


_OFTEN_ASKED = ("continuous_factor", "round_up_to_a", "terminals_60_to_a")


@cache
def limits(book: str) -> dict[str, float]:
    """Return the figures that the tests of a run ask for again and again [the units of their rows]."""
    edition = find_edition(book)
    return {key: edition.figure(key) for key in _OFTEN_ASKED}


@cache
def small_conductors(book: str) -> dict[tuple[str, str], float]:
    """Return the greatest device of each small conductor [A], by size and material."""
    rows = find_edition(book).table("small_conductors").rows
    return {(text(row, "size"), text(row, "material")): number(row, "amps") for row in rows}
