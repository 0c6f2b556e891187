"""Messages: an English template and its values, put into words only when shown.

The library never says a finished sentence. Whoever shows a message looks its template up in a
catalogue of their language, and writes the values in it the way their locale writes numbers.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

_RATED_WITH_FRACTIONS, _FRACTION = 10, 2  # ratings of fuses under 10 A have up to two decimals
_DUST = 1e-9


@dataclass(frozen=True)
class Figure:
    """A number with its unit, to be written by locale; `decimals` is the most that are shown."""

    value: float
    unit: str = ""
    decimals: int = 0


@dataclass(frozen=True, init=False)
class Message:
    """A template in English with `{named}` places, and the values that go into them."""

    template: str
    values: dict[str, Any] = field(default_factory=dict, hash=False)

    def __init__(self, template: str, /, **values: Any) -> None:
        object.__setattr__(self, "template", template)
        object.__setattr__(self, "values", values)

    def render(self, translate: Callable[[str], str], write: Callable[[Figure], str]) -> str:
        """Return the sentence, in the language of `translate` and the figures of `write`."""
        words = {name: _word(value, translate, write) for name, value in self.values.items()}
        return translate(self.template).format(**words) if self.template else ""

    def __str__(self) -> str:
        return self.render(_as_is, write_figure)


def _word(value: Any, translate: Callable[[str], str], write: Callable[[Figure], str]) -> str:
    if isinstance(value, Message):
        return value.render(translate, write)
    if isinstance(value, Figure):
        return write(value)
    if isinstance(value, (list, tuple)):
        return ", ".join(_word(item, translate, write) for item in value)
    return str(value)


def _as_is(template: str) -> str:
    return template


def decimals_shown(value: float, most: int) -> int:
    """Return the decimals that a figure is written with [count]: so many, but a short rating under 10 keeps its own.

    A fuse of 2.5 A is never told as one of 2 A, however rough the figures beside it are.

    >>> decimals_shown(2.5, 0), decimals_shown(0.25, 1), decimals_shown(3.4641, 0), decimals_shown(12.5, 0)
    (2, 2, 0, 0)
    """
    short = abs(value) < _RATED_WITH_FRACTIONS and abs(value - round(value, _FRACTION)) < _DUST
    return max(most, _FRACTION) if short else most


def write_figure(figure: Figure) -> str:
    """Write a figure the plain English way: comma thousands, a point, no trailing zeros.

    >>> write_figure(Figure(14200, "VA")), write_figure(Figure(8.40, "kW", 2))
    ('14,200 VA', '8.4 kW')
    """
    text = f"{figure.value:,.{decimals_shown(figure.value, figure.decimals)}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return f"{text} {figure.unit}".rstrip()
