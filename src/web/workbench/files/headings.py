"""The first line of someone else's list: each heading with the column of ours that it is, and the unit it names."""

import re
import tomllib
from functools import cache
from pathlib import Path
from typing import NamedTuple

from django.utils.translation import gettext

from voltaje.inputs.declare import fields_of
from voltaje.path.load import LoadSpec
from voltaje.path.run import PathPins, RunSpec

_FILE = Path(__file__).parent / "headings.toml"
_WITH_UNIT = re.compile(r"(?P<words>.*?)[\s,]*[(\[](?P<unit>[^)\]]*)[)\]]\s*")


def in_words(column: str) -> str:
    """Return what a column is called on the screen; its own name where it has no other."""
    labels = {each.key: each.label for model in (LoadSpec, RunSpec, PathPins) for each in fields_of(model)}
    return gettext(labels.get(column) or column)


class Heading(NamedTuple):
    """A heading as it was typed, our column for it ("" where it is none), and its unit ("" where it names none)."""

    typed: str
    column: str
    unit: str = ""

    @property
    def called(self) -> str:
        """Our column as the screen calls it."""
        return in_words(self.column)


def read_headings(cells: list[str], known: tuple[str, ...]) -> list[Heading]:
    """Return each heading of a list; `known` are our own columns, which are themselves. No column is taken twice."""
    found: list[Heading] = []
    for cell in cells:
        heading = _heading(cell.strip(), known)
        taken = any(heading.column == other.column for other in found)
        found.append(Heading(heading.typed, "" if taken else heading.column, heading.unit))
    return found


def _heading(typed: str, known: tuple[str, ...]) -> Heading:
    plain = typed.lower().replace("_", " ").strip(" .:")
    own = plain.replace(" ", "_")
    if own in known:
        return Heading(typed, own)
    match = _WITH_UNIT.fullmatch(plain)
    words, unit = (match["words"], match["unit"].strip()) if match else (plain, "")
    columns, units = _raw()
    if not unit and words.rpartition(" ")[2] in units and words not in columns:
        words, _space, unit = words.rpartition(" ")
    if not unit and words in units:
        unit = words
    return Heading(typed, columns.get(words.strip(), ""), units.get(unit, ""))


@cache
def _raw() -> tuple[dict[str, str], dict[str, str]]:
    raw = tomllib.loads(_FILE.read_text("utf-8"))
    return {word: column for column, listed in raw["columns"].items() for word in listed}, raw["units"]
