"""What an earlier solution gave, kept in the job, against what the tables give now."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from voltaje import __version__
from voltaje.books.registry import tables_digest
from voltaje.design.solution import NodeSolution, Solution
from voltaje.findings import Finding, Severity
from voltaje.inputs.shapes import Json
from voltaje.message import Message
from voltaje.path.model import Job

_SAME = 1e-6


def record(solution: Solution) -> Json:
    """Return a solution as a job keeps it: book, engine, digest of the tables, the figures that wire is pulled by."""
    return {
        "book": solution.book,
        "engine": solution.engine,
        "tables": solution.tables,
        "nodes": {node_id: _figures(solved) for node_id, solved in solution.nodes.items()},
    }


def _figures(solved: NodeSolution) -> Json:
    design = solved.design
    return {
        "demand_va": solved.demand_va,
        "device_a": design.choice.device_a if design else None,
        "size": design.choice.size if design else None,
        "sets": design.choice.sets if design else None,
        "ampacity_a": design.capacity.ampacity_a if design else None,
        "earth": design.earth.size if design else None,
    }


def what_changed(job: Job, nodes: dict[str, NodeSolution]) -> Iterator[Finding]:
    """Yield a finding for every figure that differs from the kept one though the book is the same.

    Only where tables or engine changed since: an edit of the job itself is no news.
    """
    kept = job.solved
    if kept is None or (kept["tables"], kept["engine"]) == (tables_digest(), __version__):
        return
    for node_id, before in kept["nodes"].items():
        if node_id not in nodes or not isinstance(before, dict):
            continue
        for key, now in _figures(nodes[node_id]).items():
            then = before.get(key, now)
            if not _alike(then, now):
                message = Message(
                    "Solved before with other tables or another engine: {figure} was {then} and now is {now}.",
                    figure=key,
                    then=_written(then),
                    now=_written(now),
                )
                mend = Message("Look at what was built by the earlier figure.")
                yield Finding(Severity.WARN, "job.figure_changed", message, None, node_id, mend)


def _alike(then: Any, now: Any) -> bool:
    if isinstance(then, int | float) and isinstance(now, int | float):
        return abs(then - now) <= _SAME * max(abs(then), abs(now), 1.0)
    return bool(then == now)


def _written(value: Any) -> str:
    return "–" if value is None else f"{value:g}" if isinstance(value, float) else str(value)
