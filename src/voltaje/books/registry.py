"""Every book by name: the one place where a new edition or profile's family is made known."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from functools import cache
from importlib.resources import files

from voltaje.books.book import Book
from voltaje.books.iec.book import IecBook
from voltaje.books.iec.profile import PACKAGE as IEC
from voltaje.books.iec.profile import profiles
from voltaje.books.nec.book import NecBook
from voltaje.books.nec.edition import PACKAGE as NEC
from voltaje.books.nec.edition import editions
from voltaje.books.tables import Table, load_table, table_keys, text
from voltaje.errors import UnknownName
from voltaje.message import Message

# Said wherever a book is not found: what people will ask for first and this version does not have.
NOT_INCLUDED = (
    *("NEC 2014 and earlier", "NEC 2026", "CEC", "AS/NZS 3000"),
    "BS 7671 before 2018 amendment 2",
    "SANS 10142-1 before 2020",
)


CUSTOMS = "voltaje.books.customs"


@cache
def books() -> dict[str, Book]:
    """Return every book by its full name."""
    found: dict[str, Book] = {name: NecBook(edition) for name, edition in editions().items()}
    return found | {name: IecBook(profile) for name, profile in profiles().items()}


@cache
def _by_short_name() -> dict[str, str]:
    return {profile.short: name for name, profile in profiles().items()}


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


def all_tables() -> Iterator[tuple[str, Table]]:
    """Yield every table of every family with a name that no other table has."""
    for family, package in (("nec", NEC), ("iec", IEC), ("customs", CUSTOMS)):
        for key in table_keys(package):
            yield f"{family}-{key}", load_table(package, key)


def conductor_colours(region: str) -> list[tuple[str, str]]:
    """Return each conductor of a region with its colour, by custom; none for a region that is not in the table."""
    table = load_table(CUSTOMS, "conductor_colours")
    row = next((row for row in table.rows if row["region"] == region), None)
    names = (("L1", "l1"), ("L2", "l2"), ("L3", "l3"), ("N", "n"), ("PE", "pe"))
    return [(shown, text(row, column)) for shown, column in names] if row else []


@cache
def tables_digest() -> str:
    """Return a short digest of every table file, so that a solved job can tell when one was corrected."""
    digest = hashlib.sha256()
    for package in (NEC, IEC):
        for key in table_keys(package):
            digest.update((files(package) / "tables" / f"{key}.toml").read_bytes())
    return digest.hexdigest()[:16]
