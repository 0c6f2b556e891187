"""The single-line drawing: the supply at the top, boards as bars that stand, their circuits as rows beside them.

Every circuit has a row of its own, so nothing crosses or overlaps however many there are; a board below
a board hangs further to the right, its rows under its feeder's.
"""

import math

from voltaje.design.solution import NodeSolution, Solution
from web.drawing.shapes import Drawing, Group, Shape
from web.drawing.symbols import breaker, earth, source, symbol, transformer
from web.jobs.document import Document
from web.jobs.openfile import ordered
from web.words.figures import write

ROW, RUN, TOP, LEFT = 36.0, 204.0, 30.0, 34.0
_MARK_AT, _BREAKER_AT, _LABEL_AT = 15.0, 40.0, 57.0
_TRUNK = 56.0
_HEADING = 24.0
_NAME_W = 200.0
_THIN, _GROWS = 1.4, 6.0


class _Artist:
    def __init__(self, document: Document, solution: Solution, iec: bool, gauge):
        self.nodes, self.solution, self.iec, self.gauge = document["nodes"], solution, iec, gauge
        self.children: dict[str, list[str]] = {}
        for key in ordered(document):
            self.children.setdefault(self.nodes[key].get("parent") or "", []).append(key)
        most = max((self._amps(key) for key in self.nodes), default=0.0) or 1.0
        self.stroke = {key: round(_THIN + _GROWS * math.sqrt(self._amps(key) / most), 2) for key in self.nodes}
        self.groups: list[Group] = []
        self.right = 0.0

    def draw(self) -> Drawing:
        y = TOP
        for key in self.children.get("", []):
            y = self._source(key, LEFT, y) + ROW
        return Drawing(self.right + _NAME_W, y, self.groups)

    def _amps(self, key: str) -> float:
        return max(self.solution.nodes[key].amps.values(), default=0.0)

    def _group(self, key: str) -> Group:
        group = Group(key, str(self.nodes[key].get("name") or key))
        self.groups.append(group)
        return group

    def _source(self, key: str, x: float, y: float) -> float:
        group = self._group(key)
        solved = self.solution.nodes[key]
        mine = self.children.get(key, [])
        drop = _TRUNK if len(mine) == 1 else ROW
        group.shapes.append(Shape("wire", d=f"M{x} {y}V{y + drop}", width=self.stroke[key]))
        group.shapes += [shape.moved(x, y) for shape in source(self.iec)]
        self._words(group, x + 24, y - 3, group.title, f"{solved.system.name} · {_figure(solved)}")
        self._mark(group, key, x - 22, y - 18)
        return self._below(key, x, y + drop)

    def _below(self, key: str, x: float, y: float) -> float:
        """Draw what a node feeds from (x, y) downward; return the next free y."""
        mine = self.children.get(key, [])
        if len(mine) == 1 and self.nodes[mine[0]]["kind"] in ("board", "transformer"):
            return self._down(mine[0], x, y)
        return self._rows(key, x, y)

    def _down(self, key: str, x: float, y: float) -> float:
        """Draw a single feeder straight down, with what it feeds."""
        group, stroke = self._group(key), self.stroke[key]
        group.shapes.append(Shape("wire", d=f"M{x} {y}V{y + _TRUNK}", width=stroke))
        turned = [shape.moved(x, y + 14) for shape in _upright(breaker(self.iec))]
        group.shapes += turned
        group.shapes.append(Shape("label", x + 20, y + 18, text=self._run_words(key)))
        y += _TRUNK
        if self.nodes[key]["kind"] == "transformer":
            y = self._transformer(group, key, x, y)
            return self._below(key, x, y)
        self._words(group, x + 16, y + 6, group.title, _figure(self.solution.nodes[key]))
        self._mark(group, key, x - 20, y + 6)
        group.shapes.append(Shape("wire", d=f"M{x} {y}V{y + _HEADING}", width=stroke))
        return self._rows(key, x, y + _HEADING)

    def _transformer(self, group: Group, key: str, x: float, y: float) -> float:
        spec = self.nodes[key].get("transformer", {})
        group.shapes.append(Shape("wire", d=f"M{x} {y}V{y + 56}", width=self.stroke[key]))
        group.shapes += [shape.moved(x, y + 26) for shape in transformer(self.iec)]
        words = " · ".join(str(part) for part in (spec.get("connection"), spec.get("secondary")) if part)
        self._words(group, x + 30, y + 22, group.title, f"{words} · {_figure(self.solution.nodes[key])}")
        group.shapes.append(Shape("line", d=f"M{x + 11} {y + 34}H{x + 24}"))
        group.shapes += [shape.moved(x + 24, y + 34) for shape in earth()]
        self._mark(group, key, x - 24, y + 6)
        return y + 56

    def _rows(self, key: str, x: float, y: float) -> float:
        """Draw a node's bar with its circuits as rows; return the next free y."""
        mine = self.children.get(key, [])
        if not mine:
            return y + ROW / 2
        bar = Group(key, str(self.nodes[key].get("name") or key), part="-bar")
        self.groups.append(bar)
        top, last = y - 6, y
        for child in mine:
            last = y + ROW / 2
            y = self._row(child, x, last)
        bar.shapes.append(Shape("bus", d=f"M{x} {top}V{last}", width=max(self.stroke[key] * 1.25, 5.0)))
        return y

    def _row(self, key: str, x: float, y: float) -> float:
        """Draw one circuit or feeder from the bar at x; return the y below all of it."""
        kind, solved = self.nodes[key]["kind"], self.solution.nodes[key]
        group = self._group(key)
        end = x + RUN
        group.shapes.append(Shape("wire", d=f"M{x} {y}H{end}", width=self.stroke[key]))
        group.shapes += [shape.moved(x + _BREAKER_AT, y) for shape in breaker(self.iec)]
        group.shapes.append(Shape("label", x + _LABEL_AT, y - 6, text=self._run_words(key)))
        self.right = max(self.right, end)
        self._mark(group, key, x + _MARK_AT, y)
        if kind == "board":
            self._words(group, end + 14, y - 2, group.title, _figure(solved))
            group.shapes.append(
                Shape("wire", d=f"M{end} {y - self.stroke[key] / 2}V{y + _HEADING}", width=self.stroke[key])
            )
            return max(self._rows(key, end, y + _HEADING), y + ROW / 2)
        if kind == "transformer":
            bottom = self._transformer(group, key, end, y)
            return self._below(key, end, bottom)
        glyph = self.nodes[key]["load"].get("kind", "general") if kind == "load" else kind
        group.shapes += [shape.moved(end, y) for shape in symbol(glyph, self.iec)]
        self._words(group, end + 20, y - 1, group.title, self._load_words(key, solved))
        return y + ROW / 2

    def _words(self, group: Group, x: float, y: float, name: str, value: str) -> None:
        group.shapes.append(Shape("name", x, y, text=_cut(name, 28), title=name))
        group.shapes.append(Shape("value", x, y + 14, text=value))

    def _load_words(self, key: str, solved: NodeSolution) -> str:
        load = self.nodes[key].get("load", {})
        rating = str(load.get("rating", ""))
        count = load.get("count")
        rating = f"{count} × {rating}" if count and str(count) != "1" else rating
        amps = f"{write(self._amps(key), 1)} A"
        return f"{rating} · {amps} · {'-'.join(solved.legs)}" if rating else f"{amps} · {'-'.join(solved.legs)}"

    def _run_words(self, key: str) -> str:
        design = self.solution.nodes[key].design
        length = self.nodes[key].get("run", {}).get("length")
        if design is None:
            return str(length or "")
        size = design.choice.size if design.choice.sets == 1 else f"{design.choice.sets} × {design.choice.size}"
        words = [f"{write(design.choice.device_a)} A", f"{size} {self.gauge(design.choice.size)} {design.run.material}"]
        return " · ".join([*words, str(length)] if length else words)

    def _mark(self, group: Group, key: str, x: float, y: float) -> None:
        """Put the mark of the worst finding beside a node; shape and letter tell it, not colour alone."""
        worst = self.solution.nodes[key].worst
        if worst == "stop":
            group.shapes.append(Shape("stop", x, y, d="M0 -9L9 0L0 9L-9 0Z"))
            group.shapes.append(Shape("stop-letter", x, y + 4, text="×"))
        elif worst == "warn":
            group.shapes.append(Shape("warn", x, y, d="M-7 -7H7V7H-7Z"))
            group.shapes.append(Shape("warn-letter", x, y + 4, text="!"))


def _figure(solved: NodeSolution) -> str:
    amps = max(solved.amps.values(), default=0.0)
    return f"{write(solved.demand_va / 1000, 1)} kVA · {write(amps, 1 if amps < 10 else 0)} A"  # noqa: PLR2004


def _cut(text: str, most: int) -> str:
    return text if len(text) <= most else f"{text[: most - 1]}…"


_UPRIGHT = {
    "M-12 -7H12V7H-12Z": "M-7 -12H7V12H-7Z",
    "M-11 -1C-7 -11 7 -11 11 -1": "M1 -11C11 -7 11 7 1 11",
    "M-12 0H-8L9 -8M8 0H12": "M0 -12V-8L-8 9M0 8V12",
    "M5 -3.5L11 3.5M5 3.5L11 -3.5": "M-3.5 5L3.5 11M3.5 5L-3.5 11",
}


def _upright(shapes: list[Shape]) -> list[Shape]:
    """Return a breaker's shapes for a wire that goes down."""
    turned = []
    for shape in shapes:
        if shape.d:
            turned.append(Shape(shape.look, d=_UPRIGHT[shape.d]))
        else:
            turned.append(Shape(shape.look, shape.y, shape.x, r=shape.r))
    return turned


def single_line(document: Document, solution: Solution, iec: bool, gauge) -> Drawing:
    """Return the drawing of a whole job. `gauge` says the unit that a size is read with."""
    return _Artist(document, solution, iec, gauge).draw()
