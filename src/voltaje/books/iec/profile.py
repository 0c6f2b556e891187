"""A national profile: its name, clauses, limits, and which table serves which cable."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from voltaje.books.tables import Table, load_table
from voltaje.sheet import Citation

PACKAGE = "voltaje.books.iec"


@dataclass(frozen=True, eq=False)
class Profile:
    """One national profile of IEC 60364.

    region: whose conductor colours hold there
    drop_limits, drop_final: from the origin, and of a final circuit alone, by use and supply [%]
    ambient_air: the table of air temperatures; buried_factor: Cc of buried cables
    smallest_lighting: a size that only lighting may have [mm²]; shares_neutrals: whether circuits may share one
    currents, drops: tables by cable and insulation (`multicore_pvc70`); of several the first that
    holds the installation method, or the size, serves
    """

    name: str
    short: str
    region: str
    clauses: dict[str, str]
    drop_limits: dict[str, float]
    drop_final: dict[str, float]
    drop_rise: dict[str, float]
    drop_mandatory: bool
    ambient_air: str
    buried_factor: float
    smallest_lighting: str
    shares_neutrals: bool
    currents: dict[str, list[str]]
    drops: dict[str, list[str]]

    def cite(self, topic: str) -> Citation:
        """Return the clause of a topic."""
        return Citation(self.name, self.clauses[topic], topic)

    def cite_table(self, key: str) -> Citation:
        """Return the citation of a table; a table of the profile's own standard is not named twice."""
        return _cited_table(self.name, self.short, key)

    def table(self, key: str) -> Table:
        """Return a table of the family."""
        return load_table(PACKAGE, key)


@cache
def _cited_table(name: str, short: str, key: str) -> Citation:
    numbered = load_table(PACKAGE, key).numbered(name)
    own = numbered.removeprefix(f"{short} ")
    # A table of another standard is named with its own, not with the book's.
    return Citation(name if own != numbered else "", own, key)


@cache
def profiles() -> dict[str, Profile]:
    """Return every profile by its full name."""
    raw = tomllib.loads((files(PACKAGE) / "profiles.toml").read_text("utf-8"))
    return {name: Profile(name=name, **spec) for name, spec in raw["profiles"].items()}
