"""What a value is: how it is read (grammar, unit, range), what of JSON it may be. Every amount is judged here.

A shape takes what was given, by a person or by a file, and the unit of a length without one; it raises InputError with
no field, which whoever asked fills in.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from voltaje.errors import InputError, UnknownName
from voltaje.limits import MOST_AMPS, MOST_HP, MOST_NAME, MOST_VA, MOST_VOLTS
from voltaje.message import Message
from voltaje.quantity import (
    length_in,
    read_amps,
    read_area,
    read_count,
    read_height,
    read_in,
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
from voltaje.systems import SYSTEMS, find_system

Json = dict[str, Any]

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

    def read_plain(self, raw: Any) -> Any:
        """Return what was given read, where it is no length. Raises InputError (field "")."""
        return self.read(raw, "")


def _plain(read: Callable[[Any], Any]) -> Callable[[Any, str], Any]:
    return lambda raw, _unit: read(raw)


def _text(raw: Any) -> str:
    if not isinstance(raw, str) or len(raw) > MOST_NAME or not raw.isprintable():
        raise InputError("", Message("must be a text of at most {most} characters", most=MOST_NAME))
    return raw.strip()


def _flag(raw: Any) -> bool:
    said = _YES_OR_NO.get(str(raw).strip().lower())
    if said is None:
        raise InputError("", Message("must be true or false"))
    return said == "yes"


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


def _typed_area(raw: Any) -> tuple[str, float]:
    typed, area = read_area(raw)
    require_between(area, 0, _MOST_FT2, "ft²", above=True)
    return typed, area


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
_YES_OR_NO = {"yes": "yes", "true": "yes", "1": "yes", "on": "yes", "no": "no", "false": "no", "0": "no", "off": "no"}
FLAG = Shape(_plain(_flag), {"type": "boolean"})
SHARE = Shape(_plain(_share), {"type": ["number", "string", "boolean"]}, typed=True, edges=("100 %", "101 %"))
LENGTH = Shape(_length, _TYPED, typed=True, edges=(f"{_MOST_M} m", f"{_MOST_M + 1} m"))
TEMPERATURE = Shape(_plain(_temperature), _TYPED, typed=True, edges=(_HOTTEST_C, _HOTTEST_C + 1))
AREA = Shape(_plain(_area), _TYPED, typed=True, edges=(_MOST_FT2, _MOST_FT2 + 1))
TYPED_AREA = Shape(_plain(_typed_area), _TYPED, typed=True, edges=(_MOST_FT2, _MOST_FT2 + 1))
RATING_OR_NONE = Shape(_plain(read_rating), _TYPED, typed=True, edges=(MOST_VA, MOST_VA + 1))
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


def number(low: float, high: float, unit: str = "", read: Callable[[Any], float] | None = None) -> Shape:
    """Return the shape of a number above `low` and up to `high`, which may be typed with its unit."""

    def checked(raw: Any) -> float:
        value = float(read(raw) if read else read_in(raw, unit) if unit else read_plain(raw))
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


# Ratings in a unit of their own, lists, words

_MOST_K = MOST_VA / 1000


def _in_unit(unit: str, base: str, scale: float) -> Callable[[Any], float]:
    """Return the reader of a rating whose bare number is in a unit."""

    def read(raw: Any) -> float:
        text = raw
        with suppress(InputError):
            text = f"{read_plain(raw):.12g} {unit}"  # a number without a unit
        rating = read_rating(text)
        if rating.unit != base:
            raise InputError("", Message("give it in {unit}", unit=unit))
        return rating.value / scale

    return read


HP = number(0, MOST_HP, "hp", _in_unit("hp", "hp", 1))
KW = number(0, _MOST_K, "kW", _in_unit("kW", "VA", 1000))
KVA = number(0, _MOST_K, "kVA", _in_unit("kVA", "VA", 1000))
PART = number(0, 1, read=read_share)
KEEPS = number(0, 1)
RISE = number(0, 200, "°C", read_temperature)
FACTOR = number(0, 3)


def several(one: Shape, most: int, least: int = 1, placed: bool = False) -> Shape:
    """Return the shape of a list of amounts, so many at least and at most; typed with ; between them.

    placed: whether an error says which of them is wrong
    """

    def read(raw: Any, unit: str) -> list[Any]:
        given = [part for part in raw.split(";") if part.strip()] if isinstance(raw, str) else raw
        given = [given] if isinstance(given, int | float) else given  # a single one, where a list is asked
        if not isinstance(given, list) or not least <= len(given) <= most:
            raise InputError("", Message("must be a list of at most {most}", most=most))
        return [_item(one, f"[{at}]" if placed else "", each, unit) for at, each in enumerate(given)]

    edges = ([one.edges[0]] * most, [one.edges[0]] * (most + 1)) if one.edges else None
    return Shape(read, {"type": "array", "items": one.schema, "maxItems": most}, edges=edges)


def _item(one: Shape, place: str, raw: Any, unit: str) -> Any:
    try:
        return one.read(raw, unit)
    except InputError as error:
        raise error.at(place) from None


def one_of_words(known: Callable[[], tuple[str, ...]]) -> Shape:
    """Return the shape of one of some words, said in any case and with any dashes."""

    def read(raw: Any, _unit: str) -> str:
        if isinstance(raw, str):
            plain = _plainly(raw)
            for word in known():
                if _plainly(word) == plain:
                    return word
        raise InputError("", Message("must be one of: {known}", known=list(known())))

    return Shape(read, {"type": "string"})


def _plainly(word: str) -> str:
    return " ".join(word.lower().replace("-", " ").replace("–", " ").replace("_", " ").split())
