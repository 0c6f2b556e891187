"""Template filters for messages and figures."""

from functools import cache
from typing import Any
from urllib.parse import urlencode

from django import template
from django.urls import reverse
from django.utils.html import format_html
from django.utils.safestring import SafeString

from voltaje.books.registry import all_tables
from voltaje.sheet import Citation, Step
from web.words import figures

register = template.Library()

_DECIMALS = {"A": 1, "kW": 3, "%": 2, "V": 2, "m": 1, "mm²": 1, "Ω": 3, "s": 2, "": 3}


@register.filter
def say(message: Any) -> str:
    """A message in the person's language."""
    return figures.say(message)


@register.filter
def whole(value: Any) -> str:
    """A number without decimals."""
    return figures.write(value)


@register.filter
def tenth(value: Any) -> str:
    """A number with at most one decimal."""
    return figures.write(value, 1)


@register.filter
def plain(value: Any) -> str:
    """A table cell: numbers as short as they are, by locale; None as a dash; a name of several words as words."""
    if value is None:
        return "–"
    if isinstance(value, str):
        return value.replace("_", " ")
    return figures.write(value, 5) if isinstance(value, float) else value


@register.filter
def formula(step: Step) -> str:
    """A step's formula as it is written by hand; nothing where it is a figure alone, which the outcome shows."""
    alone = step.formula.replace(".", "", 1).isdigit()
    return "" if alone else figures.write_formula(step.formula)


@register.filter
def outcome(step: Step) -> str:
    """A step's value with its unit."""
    return f"{figures.write(step.value, _DECIMALS.get(step.unit, 0))} {step.unit}".rstrip()


@register.simple_tag
def chip(rule: Citation) -> SafeString:
    """A clause as a chip; one of a table leads to it, with the row and the column that were read lit."""
    address = table_address(rule)
    if not address:
        return format_html('<span class="chip" title="{}">{}</span>', str(rule), rule.clause)
    return format_html('<a class="chip" href="{}" title="{}">{}</a>', address, str(rule), rule.clause)


@register.filter
def table_address(rule: Citation) -> str:
    """The address of the table that a clause is, "" for what is no table."""
    name = _tables().get((rule.topic, rule.book.startswith("NEC")))
    if name is None:
        return ""
    lit = f"?{urlencode({'row': rule.row, 'column': rule.column})}#lit" if rule.row else ""
    return reverse("table", args=[name]) + lit


@cache
def _tables() -> dict[tuple[str, bool], str]:
    """Return the name of every table by its key and whether it is the NEC's."""
    return {(table.key, name.startswith("nec-")): name for name, table in all_tables()}
