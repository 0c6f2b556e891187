"""What templates of drawings need: plain numbers for attributes, figures in the person's language."""

from collections.abc import Iterable
from typing import Any

from django import template
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from web.drawing.legs import MARKS
from web.drawing.shapes import Shape
from web.words.figures import write

register = template.Library()


@register.filter
def plainly(value: Any) -> str:
    """A number as attributes take it, whatever the language."""
    return f"{float(value):.6g}"


@register.filter
def drawn(shapes: Iterable[Shape]) -> SafeString:
    """Shapes as SVG. Written here, not by a template for each: a drawing has hundreds, and is drawn as one types."""
    return mark_safe("".join(_svg(shape) for shape in shapes))  # noqa: S308


def _svg(shape: Shape) -> str:
    look, x, y, d, r, text, width, title, field, anchor = shape
    if d:
        moved = f' transform="translate({x:.6g} {y:.6g})"' if x or y else ""
        wide = f' stroke-width="{width:.6g}"' if width else ""
        return f'<path class="s-{look}"{moved} d="{d}"{wide}/>'
    if r:
        return f'<circle class="s-{look}" cx="{x:.6g}" cy="{y:.6g}" r="{r:.6g}"/>'
    more = f" a-{anchor}" if anchor else ""
    more += f' to-field" data-do="toField" data-field="{escape(field)}' if field else ""
    said = f"<title>{escape(title)}</title>" if title and title != text else ""
    return f'<text class="s-{look}{more}" x="{x:.6g}" y="{y:.6g}">{said}{escape(text)}</text>'


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
