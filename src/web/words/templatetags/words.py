"""Template filters for messages and figures."""

from django import template

from voltaje.sheet import Step
from web.words import figures

register = template.Library()

_DECIMALS = {"A": 1, "kW": 3, "%": 2, "V": 2, "m": 1, "mm²": 1, "": 3}


@register.filter
def say(message):
    """A message in the person's language."""
    return figures.say(message)


@register.filter
def whole(value):
    """A number without decimals."""
    return figures.write(value)


@register.filter
def tenth(value):
    """A number with at most one decimal."""
    return figures.write(value, 1)


@register.filter
def plain(value):
    """A table cell: numbers as short as they are, by locale; None as a dash."""
    if value is None:
        return "–"
    return figures.write(value, 5) if isinstance(value, float) else value


@register.filter
def formula(step: Step):
    """A step's formula as it is written by hand; nothing where it is a figure alone, which the outcome shows."""
    alone = step.formula.replace(".", "", 1).isdigit()
    return "" if alone else figures.write_formula(step.formula)


@register.filter
def outcome(step: Step):
    """A step's value with its unit."""
    return f"{figures.write(step.value, _DECIMALS.get(step.unit, 0))} {step.unit}".rstrip()
