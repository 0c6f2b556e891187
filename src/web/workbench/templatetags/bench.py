"""Template filters of the workbench: plain numbers for drawings, symbols, a link's fields, colours."""

from django import template

from voltaje.books.registry import conductor_colours
from web.drawing.symbols import symbol

register = template.Library()


@register.filter
def plain(value):
    """Return a number as drawings take it: a point, no thousands."""
    return f"{float(value):g}" if abs(float(value)) < 1e5 else f"{float(value):.0f}"  # noqa: PLR2004


@register.filter
def glyph(row):
    """Return the small symbol of a row."""
    return symbol(row.glyph, False)


@register.filter(name="of")
def fields_of(fields, key):
    """Return the fields of a link."""
    return fields.of(key) if fields else []


@register.filter
def colours(region):
    """Return the conductors of a region with their colours."""
    return conductor_colours(str(region))


@register.filter
def below(height, line):
    """Return where a line of the drawing's footer stands."""
    return f"{height + 12 + 18 * line:g}"
