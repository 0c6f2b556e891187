"""The sheet of a dwelling as tools and screens take it, whichever family of books it is of.

Which books have one, how a house is solved, and the words of what comes out.
"""

from __future__ import annotations

from voltaje.books.nec.conductors import Conductor, named
from voltaje.books.nec.dwelling.demand import Demand
from voltaje.books.nec.dwelling.house import DemandLine, House
from voltaje.books.nec.dwelling.service import Pick, Service
from voltaje.books.nec.dwelling.solution import HouseSolution, solve_house
from voltaje.books.nec.dwelling.taken import house_of
from voltaje.books.nec.edition import find_edition
from voltaje.books.questions import Dwellings
from voltaje.books.registry import books
from voltaje.errors import NotCovered
from voltaje.path.house import HouseSpec
from voltaje.systems import DWELLING_SYSTEMS, find_system

__all__ = [
    "DEFAULT_BOOK",
    "DEFAULT_SYSTEM",
    "Conductor",
    "Demand",
    "DemandLine",
    "House",
    "HouseSolution",
    "Pick",
    "Service",
    "books_with_a_sheet",
    "named",
    "solved",
]

DEFAULT_BOOK = "NEC 2023"
DEFAULT_SYSTEM = "120/240 1ph 3w"


def solved(spec: HouseSpec, book: str, system: str, record: bool = True) -> HouseSolution:
    """Return a house solved by a book, on a supply. Raises InputError at its field, further ones on `also`.

    record: whether its steps are written
    """
    edition = find_edition(book)
    house = house_of(spec, edition, find_system(system, among=DWELLING_SYSTEMS))
    return solve_house(house, spec.method, edition, record)


def books_with_a_sheet() -> tuple[str, ...]:
    """Return the names of the books that have a dwelling's sheet, oldest first."""
    found = []
    for name, book in books().items():
        try:
            book.asked(Dwellings)
        except NotCovered:
            continue
        found.append(name)
    return tuple(found)
