"""Loads that never run together: of each group only the largest counts."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.book import Connected


def dropped(loads: Sequence[Connected]) -> set[str]:
    """Return the ids of loads that do not count because a larger one of their group does."""
    largest: dict[str, Connected] = {}
    for load in loads:
        if load.group and (load.group not in largest or load.va > largest[load.group].va):
            largest[load.group] = load
    return {load.id for load in loads if load.group and largest[load.group] is not load}
