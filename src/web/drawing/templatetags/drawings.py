"""What templates of drawings need: plain numbers for attributes, figures in the person's language."""

from typing import Any

from django import template

from web.drawing.legs import MARKS
from web.words.figures import write

register = template.Library()


@register.filter
def plainly(value: Any) -> str:
    """A number as attributes take it, whatever the language."""
    return f"{float(value):.6g}"


@register.filter
def under(mapping: Any, key: str) -> Any:
    """What stands under a key, "" where nothing does."""
    return mapping.get(key, "")


@register.filter
def ends(text: str, end: str) -> bool:
    """Whether a text ends so."""
    return text.endswith(end)


@register.filter
def product(value: Any, factor: Any) -> float:
    """A figure times another."""
    return float(value or 0) * float(factor or 0)


@register.filter
def leg_mark(leg: str) -> str:
    """A leg's mark as a path: round, square, triangle."""
    return MARKS.get(leg, MARKS["L1"])


@register.filter
def shortened(text: str, most: int) -> str:
    """A text cut to so many letters."""
    return text if len(text) <= int(most) else text[: int(most) - 1].rstrip() + "…"


@register.filter
def amount(value: Any, decimals: int = 1) -> str:
    """A figure with at most so many decimals."""
    return write(float(value), int(decimals)) if value is not None else "–"
