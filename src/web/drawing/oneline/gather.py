"""Which circuits of a board have a column of their own in the one-line drawing, and which are told in one block."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from voltaje.design.solution import NodeSolution, Solution
from voltaje.path.kinds import EMPTY, Kind, LoadKind

_SMALL_A, _SMALL_POLES = 25.0, 2  # devices and poles of final circuits that are gathered
# Columns of a drawing that is read at a glance, the fewer the more there is to draw; beyond them the smallest machines
# are gathered too.
_MOST_COLUMNS, _FEWER_EACH, _LEAST_COLUMNS = 26, 8, 8
_LEAST = 2  # of a block: a single small circuit stands alone
FEEDS = ("board", "transformer", "source")

Nodes = Mapping[str, dict[str, Any]]  # as a job keeps them, in the order of the path


@dataclass
class Told:
    """What hangs on a node: its columns and boards in their order, and the circuits of its block."""

    apart: list[str] = field(default_factory=list)
    together: list[str] = field(default_factory=list)


def told(nodes: Nodes, solution: Solution) -> dict[str, Told]:
    """Return what hangs on each node that feeds others; boards stand behind what ends in a column."""
    children: dict[str, list[str]] = {}
    for key in nodes:
        if nodes[key]["kind"] not in EMPTY:
            children.setdefault(nodes[key].get("parent") or "", []).append(key)
    small = {key for key in nodes if _is_small(solution.nodes[key])}
    large = [key for keys in children.values() for key in keys if _is_load(solution.nodes[key]) and key not in small]
    large.sort(key=lambda key: max(solution.nodes[key].amps.values(), default=0.0))
    most = max(_MOST_COLUMNS - len(nodes) // _FEWER_EACH, _LEAST_COLUMNS)
    small.update(large[: max(len(large) - most, 0)])
    found = {}
    for parent, keys in children.items():
        together = [key for key in keys if key in small]
        together = together if len(together) >= _LEAST else []
        gathered = set(together)
        apart = [key for key in keys if key not in gathered]
        apart.sort(key=lambda key: nodes[key]["kind"] in FEEDS)
        found[parent] = Told(apart, together)
    return found


def _is_load(solved: NodeSolution) -> bool:
    return solved.node.kind is Kind.LOAD and solved.node.load is not None


def _is_small(solved: NodeSolution) -> bool:
    """Return whether a circuit is a small final one: machines, inverters and what feeds others never are."""
    load = solved.node.load
    if solved.node.kind is not Kind.LOAD or load is None or load.counts_as is LoadKind.MOTOR:
        return False
    device = solved.design.choice.device_a if solved.design else max(solved.amps.values(), default=0.0)
    return device <= _SMALL_A and len(solved.legs) <= _SMALL_POLES
