"""How a field is declared: once, where its value lies in a model, with all that doors and forms need of it."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any, Protocol

from voltaje.errors import Refused
from voltaje.inputs.shapes import Shape
from voltaje.limits import MOST_ITEMS
from voltaje.message import Message

_FIELD, _ITEMS = "declared", "items"
AS_SHOWN: Any = object()  # a default that is what is shown


class Ruled(Protocol):
    """What a declaration asks of a book: its choices by key; in its terms, its family and unit of length."""

    @property
    def choices(self) -> Mapping[str, tuple[str, ...]]:
        """What may be chosen, by the key of the question."""

    @property
    def terms(self) -> Any:
        """Its words: `family`, `length_unit`."""


@dataclass(frozen=True)
class Declared:
    """A field of the open file, or an input of a tool.

    key: as it is written; attribute: where the model keeps it; shape: how it is read; meaning: for schema and docs
    label: what it is called on a screen, "" where it is not set there; group: the heading it stands under on a sheet
    link: of the chain on which it is set; hint: its unit, or what holds where nothing is chosen
    shown: what is taken where nothing is given, as it is written; by_family: the same where families differ
    more: it stands folded away; choices: a question to the book by this key; titles: of its choices, in words
    family: nec or iec where it matters to one alone; kinds: of loads that it is for, none: for all
    both: a key of the result that a form shows beneath each choice: readings of a rule beside each other
    when: another input and the choices of it with which this one is asked on a form
    required: it must be given; column: it is one of CSV; rule: topic of the clause that bounds it
    """

    key: str
    attribute: str
    shape: Shape
    meaning: str
    label: str
    group: Message | None
    link: str
    hint: str
    shown: Any
    by_family: Mapping[str, Any]
    more: bool
    choices: str
    titles: Mapping[str, Message]
    family: str
    kinds: tuple[str, ...]
    both: str
    when: tuple[str, tuple[str, ...]] | None
    required: bool
    column: bool
    rule: str

    @property
    def is_flag(self) -> bool:
        """Whether it is true or false; where it is typed, yes and no will do."""
        return bool(self.shape.schema.get("type") == "boolean")

    def options(self, book: Ruled) -> tuple[str, ...]:
        """Return what may be chosen under a book, nothing where it is typed."""
        if self.choices:
            return book.choices.get(self.choices, ())
        known = ("no", "yes") if self.is_flag else self.shape.schema.get("enum", ())
        return tuple(dict.fromkeys(str(each) for each in known))

    def option_of(self, typed: str, book: Ruled) -> str:
        """Return the choice that is read as what was typed (yes for true, 3 for 3.0); itself where there is none."""
        options = self.options(book)
        if not typed or not options or typed in options:
            return typed
        unit = book.terms.length_unit
        try:
            meant = self.shape.read(typed, unit)
            return next((each for each in options if self.shape.read(each, unit) == meant), typed)
        except Refused:
            return typed

    def taken(self, book: Ruled) -> str:
        """Return what is taken under a book where nothing is given, as it is typed; "" where nothing is."""
        shown = self.by_family.get(book.terms.family, self.shown)
        if self.is_flag:
            return "yes" if shown else "no"
        return "" if shown is None or isinstance(shown, list) else str(shown)


@dataclass(frozen=True)
class Items:
    """A list of a model: its key, the model of an item, what the list and one item are called.

    least: so many stand on a form from the first; most: that may be given; required: one at least must be
    """

    key: str
    model: type[Any]
    label: Message
    one: Message
    least: int
    most: int
    required: bool


def declared(
    shape: Shape,
    meaning: str,
    label: str = "",
    group: Message | None = None,
    hint: str = "",
    shown: Any = None,
    *,
    key: str = "",
    default: Any = AS_SHOWN,
    factory: Callable[[], Any] | None = None,
    required: bool = False,
    link: str = "",
    by_family: Mapping[str, Any] | None = None,
    more: bool = False,
    choices: str = "",
    titles: Mapping[str, Message] | None = None,
    family: str = "",
    kinds: tuple[str, ...] = (),
    both: str = "",
    when: tuple[str, tuple[str, ...]] | None = None,
    column: bool = False,
    rule: str = "",
) -> Any:
    """Return a dataclass field that is declared.

    key: its attribute's name where not given; default: of the model, what is shown where not given
    """
    spec = {
        "key": key,
        "shape": shape,
        "meaning": meaning,
        "label": label,
        "group": group,
        "link": link,
        "hint": hint,
        "shown": shown,
        "by_family": by_family or {},
        "more": more,
        "choices": choices,
        "titles": titles or {},
        "family": family,
        "kinds": kinds,
        "both": both,
        "when": when,
        "required": required,
        "column": column,
        "rule": rule,
    }
    if required:
        return dataclasses.field(metadata={_FIELD: spec})
    if factory:
        return dataclasses.field(default_factory=factory, metadata={_FIELD: spec})
    taken = shown if default is AS_SHOWN else default
    return dataclasses.field(default=taken, metadata={_FIELD: spec})


def many(
    model: type[Any], label: Message, one: Message, *, least: int = 1, most: int = MOST_ITEMS, required: bool = False
) -> Any:
    """Return a dataclass field that is a list of a model's items; None where it need not be given and is not."""
    spec = {"model": model, "label": label, "one": one, "least": least, "most": most, "required": required}
    if required:
        return dataclasses.field(metadata={_ITEMS: spec})
    return dataclasses.field(default=None, metadata={_ITEMS: spec})


def _fields(model: type) -> tuple[Declared, ...]:
    return tuple(
        Declared(attribute=each.name, **(each.metadata[_FIELD] | {"key": each.metadata[_FIELD]["key"] or each.name}))
        for each in dataclasses.fields(model)
        if _FIELD in each.metadata
    )


def _lists(model: type) -> tuple[Items, ...]:
    return tuple(
        Items(each.name, **each.metadata[_ITEMS]) for each in dataclasses.fields(model) if _ITEMS in each.metadata
    )


def _defaults(model: type) -> dict[str, Any]:
    return {
        each.name: each.default_factory() if each.default_factory is not dataclasses.MISSING else each.default
        for each in dataclasses.fields(model)
    }


_fields_known, _lists_known, _defaults_known = cache(_fields), cache(_lists), cache(_defaults)


def fields_of(model: Any) -> tuple[Declared, ...]:
    """Return the declared fields of a model, in the order of the file."""
    return _fields_known(model)


def lists_of(model: Any) -> tuple[Items, ...]:
    """Return the declared lists of a model."""
    return _lists_known(model)


def defaults_of(model: Any) -> dict[str, Any]:
    """Return what a model takes where nothing is given, by attribute."""
    return _defaults_known(model)


def keys_of(model: Any) -> tuple[str, ...]:
    """Return the keys of a model's declared fields."""
    return tuple(each.key for each in fields_of(model))
