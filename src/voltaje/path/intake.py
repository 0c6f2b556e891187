"""The text of a job file as plain JSON: cleaned and capped before anything is made of it.

Files come from other programs and from hostile hands: control characters, halves of characters, numbers
that are none. What cannot change a meaning is cleaned; the rest is refused with its place.
"""

from __future__ import annotations

import json
import math
import unicodedata
from typing import Any

from voltaje.errors import InputError
from voltaje.limits import MOST_NESTED, MOST_TEXT, MOST_VALUES
from voltaje.message import Message

_MOST_DIGITS = 40
_LEFT_OUT = ("Cc", "Cs", "Co", "Cn")  # control, half a surrogate pair, private, unassigned
_HUGE = 1e15


def clean_text(text: str) -> str:
    """Return a text in composed form (NFC), without control characters and lone surrogates.

    Tabs and line ends become spaces; nothing else that can be read is changed.

    >>> clean_text("Kiln\\x00 e\\u0301\\ud800\\n2")
    'Kiln é 2'
    """
    if text.isascii() and text.isprintable():
        return text
    spaced = "".join(" " if letter in "\t\n\r\u2028\u2029" else letter for letter in text)
    kept = "".join(letter for letter in spaced if unicodedata.category(letter) not in _LEFT_OUT)
    return unicodedata.normalize("NFC", kept)


def read_json(text: str, most_values: int = MOST_VALUES) -> Any:
    """Return a file's JSON, cleaned throughout.

    most_values: between its commas, counted before anything is built of them
    Raises: InputError where it is no JSON, holds too much, nests too deep, or holds a number or a text beyond the
        caps; with its place.
    """
    if text.count(",") >= most_values:
        message = Message("holds more than {most} values: split it into several", most=most_values)
        raise InputError("file", message)
    try:
        raw = json.loads(text, parse_int=_whole)
    except RecursionError as error:
        raise InputError("file", Message("is nested too deep: at most {most} levels", most=MOST_NESTED)) from error
    except json.JSONDecodeError as error:
        why = Message("is not JSON: {why}, line {line}", why=error.msg, line=error.lineno)
        raise InputError("file", why) from error
    return _cleaned(raw, "", 0)


def _whole(digits: str) -> float:
    return int(digits) if len(digits) <= _MOST_DIGITS else math.inf


def _cleaned(raw: Any, at: str, depth: int) -> Any:
    if depth > MOST_NESTED:
        raise InputError(at, Message("is nested too deep: at most {most} levels", most=MOST_NESTED))
    if isinstance(raw, str):
        if len(raw) > MOST_TEXT:
            raise InputError(at, Message("must be a text of at most {most} characters", most=MOST_TEXT))
        return clean_text(raw)
    if isinstance(raw, dict):
        keys = {name: clean_text(name[:MOST_TEXT]) for name in raw}
        return {keys[name]: _cleaned(value, f"{at}.{keys[name]}".strip("."), depth + 1) for name, value in raw.items()}
    if isinstance(raw, list):
        return [_cleaned(value, f"{at}[{place}]", depth + 1) for place, value in enumerate(raw)]
    if isinstance(raw, float | int) and not -_HUGE < raw < _HUGE:
        raise InputError(at or "file", Message("that number is too large, or not a number"))
    return raw
