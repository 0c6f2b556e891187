"""Messages and figures as a person reads them: their language, their locale's numbers."""

import re
from collections.abc import Callable
from functools import lru_cache

from django.utils.formats import number_format
from django.utils.translation import get_language, gettext
from django.utils.translation import gettext_lazy as _

from voltaje.formula import write_number
from voltaje.message import Figure, Message, decimals_shown

_NUMBER = re.compile(r"\d+(?:\.\d+)?")
_PERCENT = re.compile(r"\* (\d+(?:\.\d+)?) / 100\b")
_SIGNS = (("sqrt(3)", "√3"), (" * ", " × "), (" / ", " ÷ "), (" - ", " − "))
_CHOICE = re.compile(r"\b(min|max)\(([^()]*)\)")
_CHOICES = {"min": _("least of {figures}"), "max": _("greatest of {figures}")}
_SHOWN_FIGURES = 5  # of a figure in a formula; whole numbers keep all of theirs


def write(value: float, decimals: int = 0) -> str:
    """Return a number with at most so many decimals, trailing zeros dropped, as the locale writes it."""
    return _written(value, decimals, get_language())


def writer() -> Callable[..., str]:
    """Return `write` for the person's language of now; where many figures are written, asking once is quicker."""
    language = get_language()
    return lambda value, decimals=0: _written(value, decimals, language)


@lru_cache(maxsize=20_000)
def _written(value: float, decimals: int, _language: str | None) -> str:
    shown = f"{value:.{decimals_shown(value, decimals)}f}"
    places = len(shown.partition(".")[2].rstrip("0"))
    return number_format(shown, decimal_pos=places, force_grouping=True)


def write_figure(figure: Figure) -> str:
    """Return a figure with its unit; the space between does not break."""
    text = write(figure.value, figure.decimals)
    return f"{text}\u00a0{figure.unit}" if figure.unit else text


def say(message: Message | None) -> str:
    """Return a message in the person's language."""
    return message.render(gettext, write_figure) if message else ""


def write_formula(text: str) -> str:
    """Return a formula as it is written by hand: × ÷ −, per cent, the locale's numbers."""
    text = _PERCENT.sub(r"* \1%", text)
    text = _CHOICE.sub(_choice, text)
    for sign, written in _SIGNS:
        text = text.replace(sign, written)
    return _NUMBER.sub(lambda match: _shorter(match.group()), text).replace("%", " %")


def _choice(match: re.Match[str]) -> str:
    return _CHOICES[match.group(1)].format(figures=match.group(2).replace(", ", " | "))


def _shorter(number: str) -> str:
    figures = max(_SHOWN_FIGURES, len(number.partition(".")[0]))
    short = write_number(float(f"{float(number):.{figures}g}"))
    return write(float(short), len(short.partition(".")[2]))
