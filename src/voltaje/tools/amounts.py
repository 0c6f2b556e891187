"""Shapes of amounts that tools ask beside those of the open file: horsepower, kilowatts, shares, what is printed."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import Any

from voltaje.errors import InputError
from voltaje.limits import MOST_HP, MOST_VA
from voltaje.message import Message
from voltaje.path.fields import AMPS, AMPS_OR_NONE, VOLTS, Shape, number
from voltaje.quantity import read_plain, read_rating, read_share, read_temperature

__all__ = [
    "AMPS",
    "AMPS_OR_NONE",
    "FACTOR",
    "HP",
    "KEEPS",
    "KVA",
    "KW",
    "PART",
    "RISE",
    "VOLTS",
    "one_of_words",
    "several",
]

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


def several(one: Shape, most: int) -> Shape:
    """Return the shape of a list of amounts, at most so many; typed with ; between them."""

    def read(raw: Any, unit: str) -> list[Any]:
        given = [part for part in raw.split(";") if part.strip()] if isinstance(raw, str) else raw
        given = [given] if isinstance(given, int | float) else given  # a single one, where a list is asked
        if not isinstance(given, list) or not given or len(given) > most:
            raise InputError("", Message("must be a list of at most {most}", most=most))
        return [one.read(each, unit) for each in given]

    edges = ([one.edges[0]] * most, [one.edges[0]] * (most + 1)) if one.edges else None
    return Shape(read, {"type": "array", "items": one.schema, "maxItems": most}, edges=edges)


def one_of_words(known: Callable[[], tuple[str, ...]]) -> Shape:
    """Return the shape of one of some words, said in any case and with any dashes."""

    def read(raw: Any, _unit: str) -> str:
        if isinstance(raw, str):
            plain = _plain(raw)
            for word in known():
                if _plain(word) == plain:
                    return word
        raise InputError("", Message("must be one of: {known}", known=list(known())))

    return Shape(read, {"type": "string"})


def _plain(word: str) -> str:
    return " ".join(word.lower().replace("-", " ").replace("–", " ").replace("_", " ").split())
