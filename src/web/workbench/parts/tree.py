"""The path as rows: conductors whose stroke grows with current, a glyph, figures, a bar for each leg, a state."""

import math
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

from django.utils.translation import get_language

from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution
from web.jobs.document import Document
from web.jobs.worker.solving import Solved
from web.words.figures import writer
from web.words.same import Same
from web.workbench.parts.folding import in_sight

ROW_H, STEP, FIRST_X = 32.0, 13.0, 9.0
_THIN, _GROWS = 1.6, 6.4
_LEG_H = 15.0
_LONGEST = 23  # letters of a name on one line, of a row without depth


_made = Same(6_000)
_NOTHING: Mapping[str, int] = MappingProxyType({})


class Stroke(NamedTuple):
    """A piece of conductor in a row's gutter."""

    x1: float
    y1: float
    x2: float
    y2: float
    width: float


class LegBar(NamedTuple):
    """The bar of one leg: where it stands and how tall it is."""

    leg: str
    x: float
    y: float
    height: float


class TreeRow(NamedTuple):
    """A row of the path; everything that it shows, so that equal rows look the same."""

    key: str
    parent: str
    kind: str
    glyph: str
    name: str
    depth: int
    gutter: tuple[Stroke, ...]
    gutter_w: float
    kva: str
    amps: str
    bars: tuple[LegBar, ...]
    worst: str
    has_children: bool
    folded: int = 0  # nodes that are folded away in it
    iec: bool = False  # whether its symbol is that of IEC drawings

    @property
    def is_long(self) -> bool:
        """Whether its name needs two lines, of smaller letters."""
        return len(self.name) > _LONGEST - 2 * self.depth


def tree_rows(document: Document, solved: Solved, folded: Mapping[str, int] = MappingProxyType({})) -> list[TreeRow]:
    """Return the rows of the path, parents before children; `folded` are boards whose circuits are not in sight."""
    solution = solved.solution
    nodes, keys = document["nodes"], in_sight(document, solved.order, folded)
    depth, last, children = _shape(document, keys)
    drawn = {key: max(solution.nodes[key].amps.values(), default=0.0) for key in keys}
    most = max(drawn.values(), default=0.0) or 1.0
    width = {key: round(_THIN + _GROWS * math.sqrt(amps / most), 1) for key, amps in drawn.items()}
    passing = _passing(keys, nodes, depth, last, width)
    iec = find_book(solution.book).terms.symbols == "iec"
    rows, write, language = [], writer(), get_language()
    for key in keys:
        node, mine = nodes[key], solution.nodes[key]
        parent = node.get("parent") or ""
        beside = (
            passing[parent],
            depth[key],
            last[key],
            width[parent] if parent else 0,
            width[key],
            key in children,
            most,
            folded.get(key, 0),
            iec,
        )
        known = _made.get(node, mine, (beside, language))
        if known:
            rows.append(known)
            continue
        gutter = passing[parent] + _gutter(key, parent, depth, last, width, key in children)
        amps = drawn[key]
        rows.append(
            TreeRow(
                key=key,
                parent=parent,
                kind=node["kind"],
                glyph=node["load"].get("kind", "general") if node["kind"] == "load" else node["kind"],
                name=node.get("name") or key,
                depth=depth[key],
                gutter=gutter,
                gutter_w=FIRST_X + depth[key] * STEP + 11,
                kva=write(mine.demand_va / 1000, 1 if mine.demand_va < _WHOLE_KVA else 0),
                amps=write(amps, 1 if amps < _WHOLE_A else 0),
                bars=_bars(mine, most),
                worst=mine.worst,
                has_children=key in children or key in folded,
                folded=folded.get(key, 0),
                iec=iec,
            )
        )
        _made.keep(node, mine, (beside, language), rows[-1])
    return rows


_WHOLE_A, _WHOLE_KVA = 20, 100_000


def _shape(document: Document, keys: list[str]) -> tuple[dict[str, int], dict[str, bool], set[str]]:
    nodes = document["nodes"]
    depth: dict[str, int] = {}
    last_of: dict[str, str] = {}
    for key in keys:
        parent = nodes[key].get("parent") or ""
        depth[key] = depth[parent] + 1 if parent else 0
        last_of[parent] = key
    last = {key: last_of[nodes[key].get("parent") or ""] == key for key in keys}
    return depth, last, set(last_of) - {""}


def _x(depth: int) -> float:
    return FIRST_X + depth * STEP


def _passing(
    keys: list[str], nodes: dict[str, Any], depth: dict[str, int], last: dict[str, bool], width: dict[str, float]
) -> dict[str, tuple[Stroke, ...]]:
    """Return, for what hangs on each node, the trunks of its ancestors that go on below it."""
    passing: dict[str, tuple[Stroke, ...]] = {"": ()}
    for key in keys:
        parent = nodes[key].get("parent") or ""
        above = passing[parent]
        if parent and not last[key]:
            x = _x(depth[parent])
            above = (*above, Stroke(x, 0, x, ROW_H, width[parent]))
        passing[key] = above
    return passing


def _gutter(
    key: str, parent: str, depth: dict[str, int], last: dict[str, bool], width: dict[str, float], has_children: bool
) -> tuple[Stroke, ...]:
    """Return the branch to a row from its trunk, and its own trunk."""
    middle, x = ROW_H / 2, _x(depth[key])
    strokes = []
    if parent:
        trunk = _x(depth[parent])
        strokes.append(Stroke(trunk, 0, trunk, middle if last[key] else ROW_H, width[parent]))
        strokes.append(Stroke(trunk, middle, x + 8, middle, width[key]))
    else:
        strokes.append(Stroke(x, middle, x + 8, middle, width[key]))
    if has_children:
        strokes.append(Stroke(x, middle, x, ROW_H, width[key]))
    return tuple(strokes)


def _bars(solved: NodeSolution, most: float) -> tuple[LegBar, ...]:
    bars = []
    for at, (leg, _angle) in enumerate(solved.system.legs):
        amps = solved.amps.get(leg, 0.0)
        height = max(_LEG_H * math.sqrt(amps / most), 1.5) if amps else 0.0
        bars.append(LegBar(leg, at * 6.0, round(_LEG_H - height, 1), round(height, 1)))
    return tuple(bars)
