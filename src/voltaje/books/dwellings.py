"""The sheet of a dwelling as tools and screens take it, whichever family of books it is of.

Which books have one, how a house is read and solved, and the words of what comes out.
"""

from __future__ import annotations

from voltaje.books.nec.conductors import Conductor, named
from voltaje.books.nec.dwelling.demand import Demand, Method
from voltaje.books.nec.dwelling.house import CookingKind, DemandLine, HeatingKind, House, Occupancy, Terminals
from voltaje.books.nec.dwelling.house_input import DEFAULT_BOOK, DEFAULT_SYSTEM, MATERIALS, read_house
from voltaje.books.nec.dwelling.service import Pick, Service
from voltaje.books.nec.dwelling.solution import HouseSolution, solve_house
from voltaje.books.questions import Dwellings
from voltaje.books.registry import books
from voltaje.errors import NotCovered

__all__ = [
    "DEFAULT_BOOK",
    "DEFAULT_SYSTEM",
    "MATERIALS",
    "Conductor",
    "CookingKind",
    "Demand",
    "DemandLine",
    "HeatingKind",
    "House",
    "HouseSolution",
    "Method",
    "Occupancy",
    "Pick",
    "Service",
    "Terminals",
    "books_with_a_sheet",
    "named",
    "read_house",
    "solve_house",
]


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
