"""A book with local amendments beside it: a stricter or looser limit, a least size, each with its reason."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any, cast

from voltaje.books.answers import Choice, DropLimit, Objection, Run
from voltaje.books.questions import Book
from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.path.model import Amendment
from voltaje.sheet import Citation

_BOOKS_KEPT = 200


@lru_cache(maxsize=_BOOKS_KEPT)
def amended(book: Book, amendments: tuple[Amendment, ...]) -> Book:
    """Return the book with a job's amendments; the book itself where there are none.

    Raises: InputError at the amendment whose size the book does not know.
    """
    if not amendments:
        return book
    for at, each in enumerate(amendments):
        if isinstance(each.value, str):
            try:
                book.area_mm2(each.value)
            except (InputError, ValueError) as error:
                message = Message("{size} is not a size of this book", size=each.value)
                raise InputError(f"amendments[{at}].value", message) from error
    return cast("Book", _Amended(book, amendments))


def unamended(book: Book) -> Book:
    """Return a book without the local amendments beside it."""
    return book.unamended if isinstance(book, _Amended) else book


class _Amended:
    """The same answers, but where an amendment says otherwise."""

    def __init__(self, book: Book, amendments: Sequence[Amendment]):
        self._book = book
        self._by_limit = {each.limit: each for each in amendments}

    def __getattr__(self, name: str) -> Any:
        return getattr(self._book, name)

    @property
    def unamended(self) -> Book:
        """The book by itself."""
        return self._book

    def _rule(self, amendment: Amendment) -> Citation:
        return Citation(self._book.name, f"local amendment: {amendment.reason}", "amendment")

    def _least(self, run: Run) -> Amendment | None:
        return self._by_limit.get(f"least_size_{run.material.lower()}")

    def complying(self, run: Run, device_a: float, sets: int) -> Callable[[str], bool]:
        holds = self._book.complying(run, device_a, sets)
        return lambda size: self._large_enough(run, size) and holds(size)

    def _large_enough(self, run: Run, size: str) -> bool:
        least = self._least(run)
        return not least or self._book.area_mm2(size) >= self._book.area_mm2(str(least.value))

    def objections(self, run: Run, choice: Choice) -> tuple[Objection, ...]:
        found = self._book.objections(run, choice)
        least = self._least(run)
        if least and not self._large_enough(run, choice.size):
            message = Message("{size} is under the local least size, {least}", size=choice.size, least=least.value)
            found = (*found, Objection("size", message, self._rule(least)))
        return found

    def drop_limit(self, run: Run, in_total: bool) -> DropLimit:
        limit = self._book.drop_limit(run, in_total)
        amendment = self._by_limit.get("drop_total_percent" if in_total else "drop_percent")
        if amendment is None:
            return limit
        return replace(limit, percent=float(amendment.value), rule=self._rule(amendment))
