"""Every book by name: the one place where a new edition or profile's family is made known."""

from __future__ import annotations

from functools import cache

from voltaje.books.book import Book
from voltaje.books.iec.book import IecBook
from voltaje.books.iec.profile import profiles
from voltaje.books.nec.book import NecBook
from voltaje.books.nec.edition import editions
from voltaje.errors import UnknownName
from voltaje.message import Message


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
        raise UnknownName(field, Message("unknown book {name}; this version has: {known}", name=str(name), known=known))
    return book
