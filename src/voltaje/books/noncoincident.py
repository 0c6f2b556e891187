"""Loads that never run together: of each group only the largest counts."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from voltaje.books.answers import Connected


def dropped(loads: Sequence[Connected], weight: Callable[[Connected], float] | None = None) -> set[str]:
    """Return the ids of loads that do not count because a larger one of their group does.

    weight: what they are compared by [VA], their volt-amperes by default; of loads alike the first by id counts
    """
    weigh = weight or (lambda load: load.va)
    largest: dict[str, Connected] = {}
    for load in loads:
        before = largest.get(load.group)
        if load.group and (before is None or (weigh(load), before.id) > (weigh(before), load.id)):
            largest[load.group] = load
    return {load.id for load in loads if load.group and largest[load.group] is not load}
