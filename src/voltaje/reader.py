"""Reading raw input, JSON or form, into typed values: every error at its field, all of them together."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from enum import StrEnum
from typing import Any, TypeVar

from voltaje.errors import InputError, UnknownName
from voltaje.limits import MOST_ITEMS, MOST_NAME
from voltaje.message import Message

T = TypeVar("T")
E = TypeVar("E", bound=StrEnum)


class Reader:
    """Reads one object's keys; errors are kept until `finish`, which raises the first with the rest on it."""

    def __init__(self, raw: object, known: tuple[str, ...], at: str = "", errors: list[InputError] | None = None):
        self.at = at
        self.errors: list[InputError] = [] if errors is None else errors
        self.raw: dict[str, Any] = raw if isinstance(raw, dict) else {}
        if not isinstance(raw, dict):
            self.errors.append(InputError(at or "input", Message("must be an object with named keys")))
        for key in self.raw:
            if key not in known:
                message = Message("unknown key; known are: {known}", known=list(known))
                self.errors.append(UnknownName(self.path(str(key)[:MOST_NAME]), message))

    def path(self, key: str) -> str:
        """Return a key's full name, as in `appliances[0].load`."""
        return f"{self.at}.{key}" if self.at else key

    @contextmanager
    def guard(self, key: str) -> Iterator[None]:
        """Keep an InputError raised inside, at the key's field if it names none."""
        try:
            yield
        except InputError as error:
            self.errors.append(error if error.field else error.at(self.path(key)))

    def has(self, key: str) -> bool:
        """Return whether a key is given and not empty."""
        return self.raw.get(key) not in (None, "")

    def value(self, key: str, read: Callable[[Any], T], default: T) -> T:
        """Return the key's value read by `read`; the default if it is not given, or is wrong (kept as an error)."""
        if not self.has(key):
            return default
        with self.guard(key):
            return read(self.raw[key])
        return default

    def required(self, key: str, read: Callable[[Any], T], stand_in: T) -> T:
        """Return the key's value; a missing one is an error, and the stand-in goes on in its place."""
        if not self.has(key):
            self.errors.append(InputError(self.path(key), Message("must be given")))
            return stand_in
        return self.value(key, read, stand_in)

    def choice(self, key: str, kinds: type[E], default: E) -> E:
        """Return one of the kinds."""

        def read(raw: Any) -> E:
            try:
                return kinds(raw)
            except (ValueError, TypeError):
                known = [kind.value for kind in kinds]
                raise UnknownName(
                    "", Message("{name} is not one of: {known}", name=str(raw)[:MOST_NAME], known=known)
                ) from None

        return self.value(key, read, default)

    def flag(self, key: str, default: bool) -> bool:
        """Return true or false."""

        def read(raw: Any) -> bool:
            if not isinstance(raw, bool):
                raise InputError("", Message("must be true or false"))
            return raw

        return self.value(key, read, default)

    def name(self, key: str) -> str:
        """Return a short printable text, empty if not given."""

        def read(raw: Any) -> str:
            if not isinstance(raw, str) or len(raw) > MOST_NAME or not raw.isprintable():
                raise InputError("", Message("must be a text of at most {most} characters", most=MOST_NAME))
            return raw.strip()

        return self.value(key, read, "")

    def items(self, key: str) -> list[tuple[str, Any]]:
        """Return the items of a list, each with its full name."""

        def read(raw: Any) -> list[Any]:
            if not isinstance(raw, list) or len(raw) > MOST_ITEMS:
                raise InputError("", Message("must be a list of at most {most}", most=MOST_ITEMS))
            return raw

        given: list[Any] = self.value(key, read, [])
        return [(f"{self.path(key)}[{place}]", item) for place, item in enumerate(given)]

    def inside(self, at: str, raw: object, known: tuple[str, ...]) -> Reader:
        """Return a reader of an object inside this one; its errors are kept here."""
        return Reader(raw, known, at, self.errors)

    def finish(self) -> None:
        """Raise the first error, the others on it, if there was any."""
        if self.errors:
            first, *rest = self.errors
            raise type(first)(first.field, first.message, first.rule, tuple(rest))
