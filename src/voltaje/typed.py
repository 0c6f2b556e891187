"""What a person typed, made whole before it is read: a point for its comma, the unit that the field means."""

from __future__ import annotations

import re

from voltaje.errors import InputError
from voltaje.limits import MOST_NUMBER
from voltaje.message import Message
from voltaje.quantity import GROUP, read_number, split_unit, unit_of

_COMMA = re.compile(r"\s*(?P<whole>[+\-−]?\d+),(?P<part>\d+)(?![\d.,])", re.ASCII)


def with_point(text: str, decimal: str) -> str:
    """Return a typed quantity with a point as decimal mark; as it was where it has one, or cannot be read.

    A comma that cannot group thousands is a decimal mark wherever a person types it.

    >>> with_point("8,2 kW", ","), with_point("14,200 VA", "."), with_point("2,5", "."), with_point("0,125", ".")
    ('8.2 kW', '14,200 VA', '2.5', '0.125')
    """
    if decimal == ".":
        found = _COMMA.match(text)
        groups = found and len(found["part"]) == GROUP and found["whole"].lstrip("+-−") != "0"
        return text if not found or groups else text.replace(",", ".", 1)
    try:
        number, _ = split_unit(text.strip())
        plain = f"{read_number(number, decimal):.12g}"
    except InputError:
        return text
    return plain + text.strip()[len(number) :]


def with_unit_of(text: str, before: str, default: str = "", asked: str = "") -> str:
    """Return a typed quantity with the unit of what stood there before, where it has none of its own.

    default: where nothing stood there; asked: the units to choose from, where that is none either
    Raises: InputError (field "") that asks for the unit.

    >>> with_unit_of("48", "40 A"), with_unit_of("5 kW", "40 A"), with_unit_of("30", "", "ft")
    ('48 A', '5 kW', '30 ft')
    """
    unit = unit_of(before) or default
    if not unit and text.strip() and with_unit(text, "?") != text:
        message = Message("{typed} what? Write its unit: {units}", typed=text.strip()[:MOST_NUMBER], units=asked)
        raise InputError("", message)
    return with_unit(text, unit)


def with_unit(text: str, unit: str) -> str:
    """Return a typed quantity with its unit added where it has none.

    >>> with_unit("2,340", "ft²"), with_unit("217 m²", "ft²")
    ('2,340 ft²', '217 m²')
    """
    try:
        number, given = split_unit(text.strip())
        read_number(number)
    except InputError:
        return text
    return text if given else f"{text.strip()} {unit}"
