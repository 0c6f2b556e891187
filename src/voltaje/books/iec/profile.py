"""A national profile: its name, clauses, limits, and which table serves which cable."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable

from voltaje.books.lineage import as_numbered_by, rule_sets
from voltaje.books.tables import Table, load_table, number, text
from voltaje.sheet import Citation

PACKAGE = "voltaje.books.iec"


@dataclass(frozen=True, eq=False)  # one of a kind: hashed by itself, so that what it answers can be kept
class Profile:
    """One national profile of IEC 60364.

    lineage: its name, and those of what it extends; figures that stand in clauses
    tables: files of tables that differ from those of their name
    region: whose conductor colours hold there
    drop_limits, drop_final: from the origin, and of a final circuit alone, by use and supply [%]
    smallest_lighting: a size that only lighting may have [mm²]; shares_neutrals: whether circuits may share one
    combined_by_neutral: whether bonding goes by the supply's neutral where that is earth too (TN-C-S)
    usual_curve: type of breaker where none is said: common practice
    household: which practice of diversity its dwellings go by: british, points, entered
    rings: whether it has ring final circuits
    stands_in: whether its own conductor tables are not at hand, and those of IEC 60364-5-52 serve
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
    smallest_lighting: str
    shares_neutrals: bool
    combined_by_neutral: bool
    currents: dict[str, list[str]]
    drops: dict[str, list[str]]
    lineage: tuple[str, ...]
    figures: dict[str, float]
    tables: dict[str, str]
    usual_curve: str = "B"
    household: str = "entered"
    stands_in: bool = False
    rings: bool = False

    @cache  # noqa: B019  (profiles live as long as the process)
    def cite(self, topic: str) -> Citation:
        """Return the clause of a topic."""
        return Citation(self.name, self.clauses[topic], topic)

    @cache  # noqa: B019
    def cite_table(self, key: str) -> Citation:
        """Return the citation of a table; a table of the profile's own standard is not named twice."""
        numbered = self.table(key).numbered(self.name)
        own = numbered.removeprefix(f"{self.short} ")
        # A table of another standard is named with its own, not with the book's.
        return Citation(self.name if own != numbered else "", own, key)

    @cache  # noqa: B019
    def table(self, key: str) -> Table:
        """Return a table of this profile."""
        return as_numbered_by(load_table(PACKAGE, self.tables.get(key, key)), self.lineage)

    def figure(self, key: str) -> float:
        """Return a number that stands in a clause of this profile [the unit of its row]."""
        return self.figures[key]


FOLDERS: list[Traversable] = [files(PACKAGE) / "profiles"]  # a local profile may lie in another, and extend any


@cache
def profiles() -> dict[str, Profile]:
    """Return every profile by its full name; what others only extend is none."""
    rows = load_table(PACKAGE, "figures").rows
    figures = {text(row, "key"): number(row, "value") for row in rows}
    found = {}
    for name, rule_set in rule_sets(FOLDERS).items():
        values = {key: value for key, value in rule_set.values.items() if key != "whole"}
        if rule_set.values["whole"]:
            own = {
                "figures": figures | {key: float(value) for key, value in values.get("figures", {}).items()},
                "tables": values.get("tables", {}),
                "lineage": rule_set.lineage,
            }
            found[name] = Profile(**{"name": name, **values, **own})
    return found
