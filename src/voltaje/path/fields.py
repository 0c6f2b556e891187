"""How a field of the open file is declared: once, where its value lies in the model.

A declaration says the key, how it is read (grammar, unit, range), what it means, where it matters, its default. The
reader, the JSON Schema, the table in docs/format.md, the columns of CSV and the workbench's fields are made from it.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from typing import Any, TypeVar

from voltaje.errors import InputError, UnknownName
from voltaje.limits import MOST_AMPS, MOST_NAME, MOST_VA, MOST_VOLTS
from voltaje.message import Message
from voltaje.quantity import (
    length_in,
    read_amps,
    read_area,
    read_count,
    read_height,
    read_length,
    read_nameplate,
    read_plain,
    read_rating,
    read_share,
    read_size,
    read_temperature,
    read_volts,
    require_between,
)
from voltaje.reader import Reader
from voltaje.systems import SYSTEMS, find_system

Json = dict[str, Any]
T = TypeVar("T")

_METADATA = "declared"
_TYPED: Json = {"type": ["string", "number"]}


@dataclass(frozen=True)
class Shape:
    """What a value is: how it is read, what of JSON it may be, whether a person types it as a number.

    read: takes what was given and the unit of a length without one; raises InputError (field "")
    edges: the largest that is taken and the first that is not, as a person types them; none where it has no size
    """

    read: Callable[[Any, str], Any]
    schema: Json
    typed: bool = False
    edges: tuple[Any, Any] | None = None


@dataclass(frozen=True)
class Declared:
    """A field of the open file.

    attribute: where the model keeps it; label: what it is called on a screen, "" where it is not set there
    link: of the chain on which it is set; family: nec or iec where it matters to one alone
    kinds: of loads that it is for, none: for all; choices: a question to the book by this key
    hint: its unit, or what holds where nothing is chosen; column: whether it is one of CSV
    """

    key: str
    attribute: str
    shape: Shape
    meaning: str
    label: str
    link: str
    family: str
    hint: str
    choices: str
    kinds: tuple[str, ...]
    required: bool
    column: bool
    default: Any


def declared(
    key: str,
    shape: Shape,
    meaning: str,
    *,
    default: Any = None,
    label: str = "",
    link: str = "",
    family: str = "",
    hint: str = "",
    choices: str = "",
    kinds: tuple[str, ...] = (),
    required: bool = False,
    column: bool = False,
    shown: Any = None,
) -> Any:
    """Return a dataclass field that is a field of the open file.

    default: of the model; shown: what the schema says is taken where nothing is given
    """
    spec = {
        "key": key, "shape": shape, "meaning": meaning, "label": label, "link": link, "family": family, "hint": hint,
        "choices": choices, "kinds": kinds, "required": required, "column": column, "default": shown,
    }  # fmt: skip
    if required:
        return dataclasses.field(metadata={_METADATA: spec})
    return dataclasses.field(default=default, metadata={_METADATA: spec})


@lru_cache
def fields_of(model: type) -> tuple[Declared, ...]:
    """Return the declared fields of a model, in the order of the file."""
    return tuple(
        Declared(attribute=each.name, **each.metadata[_METADATA])
        for each in dataclasses.fields(model)
        if _METADATA in each.metadata
    )


@lru_cache
def _defaults(model: type) -> dict[str, Any]:
    return {each.name: each.default for each in dataclasses.fields(model)}


def keys_of(model: type) -> tuple[str, ...]:
    """Return the keys of a model's declared fields."""
    return tuple(each.key for each in fields_of(model))


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
            found[each.attribute] = reader.value(each.key, _reading(each.shape, unit), _defaults(model)[each.attribute])
    return found


def _reading(shape: Shape, unit: str) -> Callable[[Any], Any]:
    return lambda raw: shape.read(raw, unit)


def properties_of(model: type) -> Json:
    """Return a model's fields as properties of a JSON Schema."""
    found = {}
    for each in fields_of(model):
        default = {} if each.default is None else {"default": each.default}
        found[each.key] = {**each.shape.schema, "description": each.meaning, **default}
    return found


def required_of(model: type) -> list[str]:
    """Return the keys that must be given."""
    return [each.key for each in fields_of(model) if each.required]


# Shapes


def _plain(read: Callable[[Any], Any]) -> Callable[[Any, str], Any]:
    return lambda raw, _unit: read(raw)


def _text(raw: Any) -> str:
    if not isinstance(raw, str) or len(raw) > MOST_NAME or not raw.isprintable():
        raise InputError("", Message("must be a text of at most {most} characters", most=MOST_NAME))
    return raw.strip()


def _flag(raw: Any) -> bool:
    if not isinstance(raw, bool):
        raise InputError("", Message("must be true or false"))
    return raw


def _share(raw: Any) -> float:
    value = {True: 1.0, False: 0.0}[raw] if isinstance(raw, bool) else read_share(raw)
    require_between(value, 0, 1)
    return value


def _length(raw: Any, unit: str) -> float:
    given, metres = read_length(raw, unit)
    if not 0 <= metres <= _MOST_M:  # in the unit that was typed
        require_between(length_in(metres, given), 0, length_in(_MOST_M, given), given)
    return metres


def _temperature(raw: Any) -> float:
    value = read_temperature(raw)
    require_between(value, _COLDEST_C, _HOTTEST_C, "°C")
    return value


def _area(raw: Any) -> float:
    area = read_area(raw)[1]
    require_between(area, 0, _MOST_FT2, "ft²", above=True)
    return area


def _rating(raw: Any) -> Any:
    rating = read_rating(raw)
    if not rating.value > 0:
        raise InputError("", Message("must be more than zero"))
    return rating


def _nameplate(raw: Any) -> Any:
    read_nameplate(raw)
    return _rating(raw)


def _legs(raw: Any) -> tuple[str, ...]:
    if not isinstance(raw, list) or any(leg not in LEGS for leg in raw) or len(set(raw)) != len(raw):
        raise InputError("", Message("must be a list of L1, L2, L3, each once"))
    return tuple(raw)


_MOST_M, _MOST_FT2 = 100_000, 10_000_000
_COLDEST_C, _HOTTEST_C = -40, 100
LEGS = ("L1", "L2", "L3")

TEXT = Shape(_plain(_text), {"type": "string", "maxLength": MOST_NAME}, edges=("x" * MOST_NAME, "x" * (MOST_NAME + 1)))
SIZE = Shape(_plain(lambda raw: read_size(_text(raw))), {"type": "string"})
FLAG = Shape(_plain(_flag), {"type": "boolean"})
SHARE = Shape(_plain(_share), {"type": ["number", "string", "boolean"]}, typed=True, edges=("100 %", "101 %"))
LENGTH = Shape(_length, _TYPED, typed=True, edges=(f"{_MOST_M} m", f"{_MOST_M + 1} m"))
TEMPERATURE = Shape(_plain(_temperature), _TYPED, typed=True, edges=(_HOTTEST_C, _HOTTEST_C + 1))
AREA = Shape(_plain(_area), _TYPED, typed=True, edges=(_MOST_FT2, _MOST_FT2 + 1))
RATING = Shape(_plain(_rating), _TYPED, typed=True, edges=(MOST_VA, MOST_VA + 1))
NAMEPLATE = Shape(_plain(_nameplate), _TYPED, typed=True, edges=(f"{MOST_VA} VA", f"{MOST_VA + 1} VA"))
SYSTEM = Shape(_plain(lambda raw: find_system(raw, "")), {"enum": list(SYSTEMS)})
LEG_NAMES = Shape(_plain(_legs), {"type": "array", "items": {"enum": list(LEGS)}, "uniqueItems": True})


def whole(low: int, high: int) -> Shape:
    """Return the shape of a whole number between two, both included."""
    return Shape(
        _plain(lambda raw: read_count(raw, low, high)), {"type": ["integer", "string"]}, edges=(high, high + 1)
    )


def one_number(*known: int) -> Shape:
    """Return the shape of one of a few whole numbers."""

    def read(raw: Any) -> int:
        value = read_count(raw, known[0], known[-1])
        if value not in known:
            raise InputError("", Message("must be one of: {known}", known=list(known)))
        return value

    schema = {"enum": [*known, *(str(each) for each in known)]}
    return Shape(_plain(read), schema, edges=(known[-1], known[-1] + 1))


def number(low: float, high: float, unit: str = "", read: Callable[[Any], float] = read_plain) -> Shape:
    """Return the shape of a number above `low` and up to `high`."""

    def checked(raw: Any) -> float:
        value = float(read(raw))
        require_between(value, low, high, unit, above=True)
        return value

    return Shape(_plain(checked), _TYPED, typed=True, edges=(high, high + max(abs(high), 1) / 1000))


def one_of(kinds: type[StrEnum]) -> Shape:
    """Return the shape of one of the kinds."""

    def read(raw: Any) -> StrEnum:
        try:
            return kinds(raw)
        except (ValueError, TypeError):
            known = [kind.value for kind in kinds]
            message = Message("{name} is not one of: {known}", name=str(raw)[:MOST_NAME], known=known)
            raise UnknownName("", message) from None

    return Shape(_plain(read), {"enum": [kind.value for kind in kinds]})


_YES_OR_NO = {"true": "yes", "1": "yes", "on": "yes", "false": "no", "0": "no", "off": "no"}


def one_word(*known: str) -> Shape:
    """Return the shape of one of a few words."""

    def read(raw: Any) -> str:
        said = _YES_OR_NO.get(str(raw).strip().lower(), raw) if {"yes", "no"} <= set(known) else raw
        if said not in known:
            raise UnknownName("", Message("must be one of: {known}", known=list(known)))
        return str(said)

    return Shape(_plain(read), {"enum": list(known)})


_HIGHEST_M = 3.0


def _height(raw: Any) -> float:
    metres = read_height(raw)
    require_between(metres, 0, _HIGHEST_M, "m")
    return metres


HEIGHT = Shape(_plain(_height), _TYPED, typed=True, edges=(f"{_HIGHEST_M} m", f"{_HIGHEST_M + 1} m"))
VOLTS = number(0, MOST_VOLTS, "V", read_volts)
_JUST_UNDER_NOTHING = -1e-9  # so that nothing at all may be entered too
AMPS = number(0, MOST_AMPS, "A", read_amps)
AMPS_OR_NONE = number(_JUST_UNDER_NOTHING, MOST_AMPS, "A", read_amps)  # none at all is an amount too
