"""Reading raw input, JSON or form, into typed values: every error at its field, all of them together."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any, TypeVar

from voltaje.errors import InputError, UnknownName
from voltaje.inputs.declare import Items, defaults_of, fields_of, keys_of, lists_of
from voltaje.inputs.shapes import Shape
from voltaje.limits import MOST_ITEMS, MOST_NAME
from voltaje.message import Message

T = TypeVar("T")


class Kept:
    """Errors, each at its field, kept until `finish`, which raises the first with the rest on it."""

    def __init__(self, errors: list[InputError] | None = None) -> None:
        self.errors: list[InputError] = [] if errors is None else errors

    @contextmanager
    def guard(self, field: str) -> Iterator[None]:
        """Keep an InputError raised inside, at this field if it names none, or only a place in its list."""
        try:
            yield
        except InputError as error:
            inside = not error.field or error.field.startswith("[")
            self.errors.append(error.at(field + error.field) if inside else error)

    def finish(self) -> None:
        """Raise the first error, the others on it, if there was any."""
        if self.errors:
            first, *rest = self.errors
            raise type(first)(first.field, first.message, first.rule, tuple(rest))


Rule = Callable[[str], object]
"""Gives the clause of a topic, None where a book has none."""


class Reader(Kept):
    """Reads one object's keys."""

    def __init__(self, raw: object, known: tuple[str, ...], at: str = "", errors: list[InputError] | None = None):
        super().__init__(errors)
        self.at = at
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

    def has(self, key: str) -> bool:
        """Return whether a key is given and not empty."""
        return self.raw.get(key) not in (None, "")

    def value(self, key: str, read: Callable[[Any], T], default: T) -> T:
        """Return the key's value read by `read`; the default if it is not given, or is wrong (kept as an error)."""
        if not self.has(key):
            return default
        with self.guard(self.path(key)):
            return read(self.raw[key])
        return default

    def required(self, key: str, read: Callable[[Any], T], stand_in: T) -> T:
        """Return the key's value; a missing one is an error, and the stand-in goes on in its place."""
        if not self.has(key):
            self.errors.append(InputError(self.path(key), Message("must be given")))
            return stand_in
        return self.value(key, read, stand_in)

    def cite(self, model: Any, rule: Rule) -> None:
        """Say of each error at a field that a clause bounds by which one."""
        topics = {self.path(each.key): each.rule for each in fields_of(model) if each.rule}
        for at, error in enumerate(self.errors):
            clause = rule(topics[error.field]) if error.field in topics and not error.rule else None
            if clause:
                self.errors[at] = _ruled(error, clause)

    def items(self, key: str, most: int = MOST_ITEMS) -> list[tuple[str, Any]]:
        """Return the items of a list, each with its full name."""

        def read(raw: Any) -> list[Any]:
            if not isinstance(raw, list) or len(raw) > most:
                raise InputError("", Message("must be a list of at most {most}", most=most))
            return raw

        given: list[Any] = self.value(key, read, [])
        return [(f"{self.path(key)}[{place}]", item) for place, item in enumerate(given)]

    def inside(self, at: str, raw: object, known: tuple[str, ...]) -> Reader:
        """Return a reader of an object inside this one; its errors are kept here."""
        return Reader(raw, known, at, self.errors)


def _ruled(error: InputError, rule: object) -> InputError:
    return type(error)(error.field, error.message, str(rule), error.also)


def read_values(model: type, reader: Reader, unit: str, stand_ins: Mapping[str, Any] | None = None) -> dict[str, Any]:
    """Return the values of a model's fields by attribute; errors are kept on the reader.

    unit: of a length without one; stand_ins: what goes on in the place of a required value that is missing
    """
    found = {}
    for each in fields_of(model):
        if each.required:
            stand_in = (stand_ins or {}).get(each.attribute)
            found[each.attribute] = reader.required(each.key, _reading(each.shape, unit), stand_in)
        elif reader.has(each.key):
            found[each.attribute] = reader.value(
                each.key, _reading(each.shape, unit), defaults_of(model)[each.attribute]
            )
    return found


def read_lists(model: type, reader: Reader, unit: str) -> dict[str, Any]:
    """Return the lists of a model that are given, each of its items read; errors are kept on the reader."""
    found = {}
    for each in lists_of(model):
        if each.required and not reader.raw.get(each.key):
            reader.errors.append(InputError(reader.path(each.key), Message("must be given")))
        elif reader.has(each.key):
            found[each.key] = [_item(each, at, raw, reader, unit) for at, raw in reader.items(each.key, each.most)]
    return found


def _item(items: Items, at: str, raw: Any, reader: Reader, unit: str) -> Any:
    inner = reader.inside(at, raw, keys_of(items.model))
    values = read_values(items.model, inner, unit)
    return None if reader.errors else items.model(**values)


def _reading(shape: Shape, unit: str) -> Callable[[Any], Any]:
    return lambda raw: shape.read(raw, unit)
