"""Template filters of the workbench: plain numbers for drawings, symbols, a link's fields, colours."""

from functools import lru_cache
from typing import Any

from django import template
from django.template.loader import get_template
from django.utils.safestring import mark_safe
from django.utils.translation import get_language

from voltaje.books.registry import colour_sets
from web.drawing.symbols import symbol
from web.jobs.fields import Field
from web.workbench.settings.forms import amendment_key

register = template.Library()
_FIELDS_KEPT = 5_000


@register.filter
def plain(value: Any) -> str:
    """Return a number as drawings take it: a point, no thousands."""
    return f"{float(value):g}" if abs(float(value)) < 1e5 else f"{float(value):.0f}"  # noqa: PLR2004


@register.filter(name="amendment_key")
def key_of_amendment(amendment: dict[str, Any]) -> str:
    """Return the name by which the page asks for an amendment to be taken away."""
    return amendment_key(amendment)


@register.filter
def in_mm(value: Any, unit: float) -> str:
    """Return a length of a drawing on paper."""
    return f"{value * unit:.2f}mm"


@register.filter
def glyph(row: Any) -> Any:
    """Return the small symbol of a row."""
    return symbol(row.glyph, row.iec)


@register.filter(name="of")
def fields_of(fields: Any, key: str) -> Any:
    """Return the fields of a link."""
    return fields.of(key) if fields else []


@register.filter
def colours(region: str) -> Any:
    """Return the systems of a region, each with its conductors and their colours."""
    return colour_sets(str(region))


@register.filter
def colour_of(schedule: Any, part: str) -> str:
    """Return the colour of one conductor of a board, "" where the region has none."""
    return str(dict(schedule.colours).get(part, ""))


@register.filter
def below(height: Any, line: Any) -> Any:
    """Return where a line of the drawing's footer stands."""
    return f"{height + 12 + 18 * line:g}"


@register.filter
def drawn(field: Field) -> str:
    """Return a field's markup; a chain has dozens of them, and an edit changes few."""
    return str(_drawn(field, get_language()))


@lru_cache(maxsize=_FIELDS_KEPT)
def _drawn(field: Field, _language: str | None) -> Any:
    return mark_safe(get_template("workbench/_field.html").render({"field": field}))  # noqa: S308  (our own template's)


@register.filter
def dashed(place: str) -> str:
    """Write a place as part of an element's id."""
    return place.replace("/", "-")
