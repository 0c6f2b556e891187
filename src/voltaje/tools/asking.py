"""What a tool asks: a model whose inputs are declared, read from JSON, a form or the command line."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from inspect import get_annotations
from typing import Any, ClassVar, Self, TypeVar, dataclass_transform

from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.errors import InputError, Refused
from voltaje.inputs.declare import Declared, Items, declared, fields_of, lists_of, many
from voltaje.inputs.read import Reader, read_lists, read_values
from voltaje.inputs.schema import schema_of
from voltaje.inputs.shapes import Json
from voltaje.limits import MOST_ITEMS, MOST_NAME
from voltaje.message import Message
from voltaje.tools.plates import Laid, Plate, spread

A = TypeVar("A", bound="Asked")

DEFAULT_BOOK = "NEC 2023"


@dataclass_transform(kw_only_default=True, frozen_default=True, field_specifiers=(declared, many))
class Asked:
    """What a tool asks, or an item of a list in it. What is empty counts as not given.

    given: what was given, as it was written
    plate: how a plate that is typed whole is laid out; plate_read: what was read of one
    """

    given: ClassVar[Mapping[str, Any]] = {}
    plate: ClassVar[Plate | None] = None
    plate_read: ClassVar[Message | None] = None

    def __init_subclass__(cls) -> None:
        super().__init_subclass__()
        dataclass(frozen=True, kw_only=True)(cls)

    @classmethod
    def asks(cls) -> dict[str, Declared]:
        """Return its inputs by key, lists left out."""
        return {each.key: each for each in fields_of(cls)}

    @classmethod
    def usual_book(cls) -> str:
        """Return the book by which it is answered where none is given."""
        declared_book = cls.asks().get("book")
        return str(declared_book.shown) if declared_book else DEFAULT_BOOK

    @classmethod
    def own_first(cls) -> list[str]:
        """Return its keys, those it declares itself before those that it shares with other tools."""
        keys = {each.attribute: each.key for each in fields_of(cls)} | {key: key for key in cls.lists()}
        own = (name for each in cls.__mro__ for name in get_annotations(each) if name in keys)
        return list(dict.fromkeys(keys[name] for name in own))

    @classmethod
    def lists(cls) -> dict[str, Items]:
        """Return its lists by key."""
        return {each.key: each for each in lists_of(cls)}

    @classmethod
    def read(cls, raw: object) -> Self:
        """Return the inputs read. Raises InputError, the first with the others on it."""
        laid = cls.laid_out(raw)
        reader = Reader(laid.raw if laid else raw, (*cls.asks(), *cls.lists()))
        book = book_or_default(reader.raw.get("book") or cls.usual_book())
        unit = book.terms.length_unit
        values = read_values(cls, reader, unit) | read_lists(cls, reader, unit)
        reader.cite(cls, book.rule)
        reader.finish()
        asked = cls(**values)
        object.__setattr__(asked, "plate_read", laid.read if laid else None)
        object.__setattr__(asked, "given", {key: raw for key, raw in reader.raw.items() if reader.has(key)})
        return asked

    @classmethod
    def laid_out(cls, raw: object) -> Laid | None:
        """Return raw inputs with a plate that stands in one field laid out over those that it fills.

        Raises InputError at that field.
        """
        if cls.plate is None or not isinstance(raw, Mapping):
            return None
        family = book_or_default(raw.get("book") or cls.usual_book()).terms.family
        return spread(raw, cls.plate, family)

    @classmethod
    def schema_of(cls, title: str, description: str) -> Json:
        """Return the JSON Schema of the inputs."""
        return schema_of(cls, title, description)


def book_or_default(named: Any) -> Book:
    """Return the book by which inputs are read; one that is not known is refused at its own field."""
    try:
        return find_book(named or DEFAULT_BOOK)
    except Refused:
        return find_book(DEFAULT_BOOK)


# Inputs by the names of their places, as forms, links and the command line have them

_STEP = re.compile(r"(?P<key>\w+)(?:\[(?P<at>\d{1,3})\])?")


def put_at(inputs: Json, place: str, value: Any) -> None:
    """Put a value into inputs at a place such as `volts`, `appliances[1].load`. Raises InputError for no such place."""
    first, _dot, rest = place.partition(".")
    step = _STEP.fullmatch(first)
    if not step or len(place) > MOST_NAME:
        raise InputError(place[:MOST_NAME] or "input", Message("is not the name of an input"))
    key, at = step["key"], step["at"]
    if at is None and rest:
        inner = inputs.setdefault(key, {})
        if not isinstance(inner, dict):
            raise InputError(place, Message("is not the name of an input"))
        inner[rest] = value
        return
    if at is None:
        inputs[key] = value
        return
    items = inputs.setdefault(key, [])
    if not isinstance(items, list) or int(at) > MOST_ITEMS:
        raise InputError(place, Message("must be a list of at most {most}", most=MOST_ITEMS))
    items.extend({} for _ in range(int(at) + 1 - len(items)))
    if not rest:
        items[int(at)] = value
    elif isinstance(items[int(at)], dict):
        put_at(items[int(at)], rest, value)


def places_of(inputs: Json) -> dict[str, Any]:
    """Return inputs by the names of their places: what `put_at` puts."""
    found: dict[str, Any] = {}
    for key, value in inputs.items():
        if isinstance(value, dict):
            found |= {f"{key}.{inner}": each for inner, each in value.items()}
            continue
        if not isinstance(value, list):
            found[key] = value
            continue
        for at, item in enumerate(value):
            inner = places_of(item) if isinstance(item, dict) else None
            found |= {f"{key}[{at}]": item} if inner is None else {f"{key}[{at}].{k}": v for k, v in inner.items()}
    return found
