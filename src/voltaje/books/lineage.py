"""Rule sets that extend each other: one file an edition or profile, holding only what differs from what it extends."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable
from dataclasses import replace
from importlib.resources.abc import Traversable
from typing import Any, NamedTuple

from voltaje.books.tables import Table
from voltaje.errors import TableError

Raw = dict[str, Any]


class RuleSet(NamedTuple):
    """A rule set with all that it extends: its names from its own to the oldest, and its values merged."""

    lineage: tuple[str, ...]
    values: Raw


def rule_sets(folders: Iterable[Traversable]) -> dict[str, RuleSet]:
    """Return the rule sets of some folders by name, each after what it extends.

    Raises: TableError where one extends what is not there, or itself.
    """
    raw: dict[str, Raw] = {}
    for folder in folders:
        for entry in sorted(folder.iterdir(), key=lambda entry: entry.name):
            if entry.name.endswith(".toml"):
                one = tomllib.loads(entry.read_text("utf-8"))
                raw[one["name"]] = one
    found: dict[str, RuleSet] = {}
    for name in raw:
        _add(name, raw, found, ())
    return found


def _add(name: str, raw: dict[str, Raw], found: dict[str, RuleSet], waiting: tuple[str, ...]) -> RuleSet:
    if name in found:
        return found[name]
    if name not in raw or name in waiting:
        raise TableError(f"{' extends '.join((*waiting, name))}: there is no such rule set to extend")
    own = {key: value for key, value in raw[name].items() if key not in ("name", "extends")}
    parent = raw[name].get("extends")
    if parent is None:
        found[name] = RuleSet((name,), own)
    else:
        above = _add(parent, raw, found, (*waiting, name))
        found[name] = RuleSet((name, *above.lineage), _merged(above.values, own))
    return found[name]


def _merged(base: Raw, own: Raw) -> Raw:
    both = {key: _merged(base[key], own[key]) for key in own if isinstance(own[key], dict) and key in base}
    return {**base, **own, **both}


def as_numbered_by(table: Table, lineage: tuple[str, ...]) -> Table:
    """Return a table with its number for a rule set that has none of its own: that of what it extends."""
    if lineage[0] in table.number or "*" in table.number:
        return table
    number = next((table.number[name] for name in lineage if name in table.number), None)
    return table if number is None else replace(table, number={**table.number, lineage[0]: number})
