"""A place of a document that can be changed, as pages show it."""

from dataclasses import dataclass
from typing import Any

from voltaje.quantity import convert, read_area
from web.jobs.document import Path
from web.words.figures import write

Choice = tuple[str, str]


@dataclass(frozen=True)
class Field:
    """One place that can be changed: its path, label, value, and the choices if it has any."""

    path: Path
    label: str
    value: Any
    choices: tuple[Choice, ...] = ()
    hint: str = ""

    @property
    def place(self) -> str:
        """The path as one word."""
        return "/".join(self.path)

    @property
    def id(self) -> str:
        """The field's name in the page."""
        return "f-" + "-".join(self.path)


def other_unit(typed: str) -> str:
    """Return an area in the unit it was not typed in."""
    area_ft2 = read_area(typed)[1]
    if "m" in typed.lower():
        return f"= {write(area_ft2)} ft²"
    return f"= {write(convert(area_ft2, 'foot**2', 'meter**2'), 1)} m²"
