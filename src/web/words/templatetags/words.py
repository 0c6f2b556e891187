"""Template filters for messages and figures."""

from typing import Any

from django import template

from voltaje.sheet import Step
from web.words import figures

register = template.Library()

_DECIMALS = {"A": 1, "kW": 3, "%": 2, "V": 2, "m": 1, "mm²": 1, "": 3}


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
    """A table cell: numbers as short as they are, by locale; None as a dash."""
    if value is None:
        return "–"
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
