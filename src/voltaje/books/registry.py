"""Every book by name: the one place where a new edition or profile's family is made known."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from functools import cache
from importlib.resources import files

from voltaje.books.iec.book import IecBook
from voltaje.books.iec.profile import PACKAGE as IEC
from voltaje.books.iec.profile import profiles
from voltaje.books.nec.book import NecBook
from voltaje.books.nec.edition import PACKAGE as NEC
from voltaje.books.nec.edition import editions
from voltaje.books.questions import Book
from voltaje.books.tables import Table, load_table, number, table_keys, text
from voltaje.errors import UnknownName
from voltaje.message import Message
from voltaje.systems import SYSTEMS, System

# Said wherever a book is not found: what people will ask for first and this version does not have.
NOT_INCLUDED = (
    *("NEC 2014 and earlier", "NEC 2026", "CEC"),
    "BS 7671 before 2018 amendment 2",
    "SANS 10142-1 before 2020",
)


CUSTOMS = "voltaje.books.customs"


@cache
def books() -> dict[str, Book]:
    """Return every book by its full name."""
    found: dict[str, Book] = {name: NecBook(edition) for name, edition in editions().items()}
    return found | {name: IecBook.of(profile) for name, profile in profiles().items()}


@cache
def _by_short_name() -> dict[str, str]:
    return {profile.short: name for name, profile in profiles().items()}


def short_name(name: str) -> str:
    """Return a book's short name, its full one where it has none."""
    return next((short for short, full in _by_short_name().items() if full == name), name)


def find_book(name: object, field: str = "book") -> Book:
    """Return a book by its full or short name. Raises UnknownName at `field`, listing those known."""
    full = _by_short_name().get(name, name) if isinstance(name, str) else ""
    book = books().get(full)
    if book is None:
        known = [*editions(), *_by_short_name()]
        message = Message(
            "unknown book {name}; this version has: {known}; not included: {missing}",
            name=str(name),
            known=known,
            missing=list(NOT_INCLUDED),
        )
        raise UnknownName(field, message)
    return book


@cache
def every_choice(key: str) -> tuple[str, ...]:
    """Return what may be chosen of a run under a key, by any book."""
    return tuple(dict.fromkeys(name for book in books().values() for name in book.choices.get(key, ())))


def all_tables() -> Iterator[tuple[str, Table]]:
    """Yield every table of every family with a name that no other table has."""
    for family, package in (("nec", NEC), ("iec", IEC), ("customs", CUSTOMS)):
        for key in table_keys(package):
            yield f"{family}-{key}", load_table(package, key)


_CONDUCTORS = (("L1", "l1"), ("L2", "l2"), ("L3", "l3"), ("N", "n"), ("PE", "pe"))


def colour_sets(region: str) -> list[tuple[str, float, list[tuple[str, str]]]]:
    """Return a region's sets of conductor colours, by custom: for which systems, from what voltage [V], each colour."""
    rows = [row for row in load_table(CUSTOMS, "conductor_colours").rows if row["region"] == region]
    return [
        (text(row, "system"), number(row, "from_v"), [(shown, text(row, column)) for shown, column in _CONDUCTORS])
        for row in rows
    ]


def conductor_colours(region: str, system: System) -> list[tuple[str, str]]:
    """Return each conductor with its colour on a system; none where no custom is known.

    Some regions have other colours for their higher voltages, and one of its own for the high leg of a delta.
    """
    sets = colour_sets(region)
    own = [colours for name, _from_v, colours in sets if name == system.name]
    by_volts = [colours for name, from_v, colours in sets if name not in SYSTEMS and from_v <= system.line_to_line_v]
    return (own or by_volts or [[]])[-1]


@cache
def tables_digest() -> str:
    """Return a short digest of every table file, so that a solved job can tell when one was corrected."""
    digest = hashlib.sha256()
    for package in (NEC, IEC):
        for key in table_keys(package):
            digest.update((files(package) / "tables" / f"{key}.toml").read_bytes())
    return digest.hexdigest()[:16]
