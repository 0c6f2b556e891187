"""How a tool declares what it asks: each input once, on a pydantic model.

The reader with its errors, the JSON Schema, the command line and the web form are made from the declaration. How a
value is read is a shape of the library (`path.fields`): amounts are judged there and nowhere else.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from inspect import get_annotations
from typing import Any, Self, TypeVar, get_args

from pydantic import BaseModel, ConfigDict, GetCoreSchemaHandler, GetJsonSchemaHandler, ValidationError, model_validator
from pydantic.fields import FieldInfo
from pydantic_core import CoreSchema, core_schema

from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.errors import InputError, Refused, UnknownName
from voltaje.limits import MOST_ITEMS, MOST_NAME
from voltaje.message import Message
from voltaje.path.fields import Shape

Json = dict[str, Any]
A = TypeVar("A", bound="Asked")

DEFAULT_BOOK = "NEC 2023"
_FLAGS = {"yes": True, "true": True, "on": True, "no": False, "false": False, "off": False}


@dataclass(frozen=True)
class Ask:
    """One input of a tool, as it stands in its model's `Annotated`.

    shape: how it is read and what of JSON it may be; meaning: for the schema and the command line
    label, group, hint: on a form: its name, the heading it stands under, its unit; no label: it is not on the form
    shown: what is taken where nothing is given, in words; by_family: the same where families differ
    more: it stands folded away; choices: a question to the book by this key; titles: of its choices, in words
    family: nec or iec where it is for one alone
    both: a key of the result that a form shows beneath each choice: readings of a rule beside each other
    when: another input and the choices of it with which this one is asked on a form
    """

    shape: Shape
    meaning: str
    label: Message | None = None
    group: Message | None = None
    hint: str = ""
    shown: Any = None
    by_family: Mapping[str, Any] = field(default_factory=dict)
    more: bool = False
    choices: str = ""
    titles: Mapping[str, Message] = field(default_factory=dict)
    family: str = ""
    both: str = ""
    when: tuple[str, tuple[str, ...]] | None = None

    def __get_pydantic_core_schema__(self, _source: Any, _handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.with_info_plain_validator_function(self._read)

    def __get_pydantic_json_schema__(self, _schema: CoreSchema, _handler: GetJsonSchemaHandler) -> Json:
        shown = {} if self.shown is None else {"default": self.shown}
        return {**self.shape.schema, "description": self.meaning, **shown}

    def _read(self, raw: Any, info: core_schema.ValidationInfo) -> Any:
        book: Any = info.context  # always given: `Asked.read` is the only way in
        return self._read_under(raw, book)

    def _read_under(self, raw: Any, book: Book) -> Any:
        if self.is_flag and isinstance(raw, str):
            raw = _FLAGS.get(raw.strip().lower(), raw)
        return self.shape.read(raw, book.terms.length_unit)

    @property
    def is_flag(self) -> bool:
        """Whether it is true or false; where it is typed, yes and no will do."""
        return bool(self.shape.schema.get("type") == "boolean")

    def options(self, book: Book) -> tuple[str, ...]:
        """Return what may be chosen under a book, nothing where it is typed."""
        if self.choices:
            return book.choices.get(self.choices, ())
        known = ("no", "yes") if self.is_flag else self.shape.schema.get("enum", ())
        return tuple(dict.fromkeys(str(each) for each in known))

    def option_of(self, typed: str, book: Book) -> str:
        """Return the choice that is read as what was typed (yes for true, 3 for 3.0); itself where there is none."""
        options = self.options(book)
        if not typed or not options or typed in options:
            return typed
        try:
            meant = self._read_under(typed, book)
            return next((each for each in options if self._read_under(each, book) == meant), typed)
        except Refused:
            return typed

    def taken(self, book: Book) -> str:
        """Return what is taken under a book where nothing is given, as it is typed; "" where nothing is."""
        shown = self.by_family.get(book.terms.family, self.shown)
        if self.is_flag:
            return "yes" if shown else "no"
        return "" if shown is None or isinstance(shown, list) else str(shown)


@dataclass(frozen=True)
class Items:
    """What a list of a tool's model is called, and one of its items; least: so many stand on a form from the first."""

    label: Message
    one: Message
    least: int = 1


class Asked(BaseModel):
    """What a tool asks, or an item of a list in it. What is empty counts as not given."""

    model_config = ConfigDict(extra="forbid", frozen=True, arbitrary_types_allowed=True)

    @model_validator(mode="before")
    @classmethod
    def _given(cls, raw: Any) -> Any:
        if not isinstance(raw, dict):
            return raw
        return {key: value for key, value in raw.items() if value not in (None, "")}

    @classmethod
    def asks(cls) -> dict[str, Ask]:
        """Return its inputs by key, lists left out."""
        return _asks(cls)

    @classmethod
    def own_first(cls) -> list[str]:
        """Return its keys, those it declares itself before those that it shares with other tools."""
        return list(dict.fromkeys(key for each in cls.__mro__ for key in get_annotations(each)
                                  if key in cls.model_fields))  # fmt: skip

    @classmethod
    def lists(cls) -> dict[str, type[Asked]]:
        """Return the models of its lists' items by key."""
        return _lists(cls)

    @classmethod
    def items(cls) -> dict[str, Items]:
        """Return what its lists are called, by key."""
        found = (
            (key, [each for each in info.metadata if isinstance(each, Items)]) for key, info in cls.model_fields.items()
        )
        return {key: named[0] for key, named in found if named}

    @classmethod
    def read(cls, raw: object) -> Self:
        """Return the inputs read. Raises InputError, the first with the others on it."""
        if not isinstance(raw, dict):
            raise InputError("input", Message("must be an object with named keys"))
        try:
            return cls.model_validate(raw, context=book_or_default(raw.get("book")))
        except ValidationError as wrong:
            errors = [_error(each, cls) for each in wrong.errors(include_url=False)]
        errors.sort(key=lambda error: not isinstance(error, _UnknownKey))
        first, *rest = errors
        raise type(first)(first.field, first.message, first.rule, tuple(rest)) from None

    @classmethod
    def schema_of(cls, title: str, description: str) -> Json:
        """Return the JSON Schema of the inputs."""
        made = cls.model_json_schema()
        _plain(made)
        head = {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": title, "description": description}
        return {**head, **{key: value for key, value in made.items() if key not in head}}


@cache
def _asks(model: type[Asked]) -> dict[str, Ask]:
    found = ((info.alias or key, ask_of(info)) for key, info in model.model_fields.items())
    return {key: ask for key, ask in found if ask}


@cache
def _lists(model: type[Asked]) -> dict[str, type[Asked]]:
    return {key: item for key, info in model.model_fields.items() if (item := _item_of(info))}


def ask_of(info: FieldInfo) -> Ask | None:
    """Return the declaration of a field."""
    return next((each for each in info.metadata if isinstance(each, Ask)), None)


def _item_of(info: FieldInfo) -> type[Asked] | None:
    arguments = get_args(info.annotation)
    within = [inner for each in arguments for inner in get_args(each)]  # of a list that need not be given
    inner = [each for each in (*arguments, *within) if isinstance(each, type) and issubclass(each, Asked)]
    return inner[0] if inner else None


def book_or_default(named: Any) -> Book:
    """Return the book by which inputs are read; one that is not known is refused at its own field."""
    try:
        return find_book(named or DEFAULT_BOOK)
    except Refused:
        return find_book(DEFAULT_BOOK)


def _plain(schema: Any) -> None:
    """Take out of a schema, in place, what pydantic says beside the declarations."""
    if isinstance(schema, dict):
        if "type" in schema or "enum" in schema or "$ref" in schema:
            schema.pop("title", None)
        if schema.get("default", ...) is None:
            del schema["default"]
        elif isinstance(schema.get("default"), dict):  # a book as it is kept: its name is what a person writes
            schema["default"] = DEFAULT_BOOK
        for each in schema.values():
            _plain(each)


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


# Errors


class _UnknownKey(UnknownName):
    """A key that the tool does not ask."""


def _error(each: Any, model: type[Asked]) -> Refused:
    place = _place(each["loc"])
    kept = each.get("ctx", {}).get("error")
    if isinstance(kept, Refused):
        return kept if kept.field else kept.at(place)
    if each["type"] == "missing":
        return InputError(place, Message("must be given"))
    if each["type"] == "extra_forbidden":
        known = list(_model_at(model, each["loc"][:-1]).model_fields)
        return _UnknownKey(_place((*each["loc"][:-1], str(each["loc"][-1])[:MOST_NAME])),
                           Message("unknown key; known are: {known}", known=known))  # fmt: skip
    if each["type"] in ("too_long", "list_type", "tuple_type"):
        return InputError(place, Message("must be a list of at most {most}", most=MOST_ITEMS))
    if each["type"] == "too_short":
        return InputError(place, Message("must be given"))
    return InputError(place or "input", Message("must be an object with named keys"))


def _place(steps: tuple[str | int, ...]) -> str:
    text = ""
    for step in steps:
        text += f"[{step}]" if isinstance(step, int) else f".{step}" if text else step
    return text


def _model_at(model: type[Asked], steps: tuple[str | int, ...]) -> type[Asked]:
    for step in steps:
        if isinstance(step, str):
            model = model.lists().get(step, model)
    return model
