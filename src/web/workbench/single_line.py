"""The single-line drawing: the supply at the top, boards as bars that stand, their circuits as rows beside them.

Every circuit has a row of its own, so nothing crosses or overlaps however many there are; a board below
a board hangs further to the right, its rows under its feeder's.
"""

import math
from collections.abc import Iterable, Mapping
from functools import lru_cache
from types import MappingProxyType

from django.utils.translation import get_language
from django.utils.translation import gettext as _

from voltaje.books.answers import Terms
from voltaje.design.solution import Solution
from voltaje.path.kinds import EMPTY
from web.drawing.shapes import Drawing, Group, Shape
from web.drawing.symbols import breaker, earth, source, symbol, transformer
from web.jobs.document import Document
from web.jobs.openfile import ordered
from web.words.figures import writer
from web.words.same import Same

ROW, RUN, TOP, LEFT = 36.0, 204.0, 30.0, 34.0
_MARK_AT, _BREAKER_AT, _LABEL_AT = 15.0, 40.0, 57.0
_TRUNK = 56.0
_HEADING = 24.0
_NAME_W = 200.0
_THIN, _GROWS = 1.4, 6.0
_WINDINGS = 56.0
_TENTHS_BELOW = 10.0  # [A]
_LONGEST_NAME = 28
_KEPT = 20_000


_circuits = Same(6_000)


class _Artist:
    def __init__(self, document: Document, solution: Solution, terms: Terms, folded: Mapping[str, int]):
        self.folded = folded
        self.nodes, self.solution = document["nodes"], solution
        self.iec, self.gauge = terms.symbols == "iec", terms.gauge
        self.children: dict[str, list[str]] = {}
        for key in ordered(document):
            if self.nodes[key]["kind"] in EMPTY:
                continue  # what feeds nothing stands in the schedule
            self.children.setdefault(self.nodes[key].get("parent") or "", []).append(key)
        self.amps = {key: max(solution.nodes[key].amps.values(), default=0.0) for key in self.nodes}
        most = max(self.amps.values(), default=0.0) or 1.0
        self.stroke = {key: round(_THIN + _GROWS * math.sqrt(amps / most), 2) for key, amps in self.amps.items()}
        self.write, self.language = writer(), get_language()
        self.groups: list[Group] = []
        self.cuts: list[float] = []
        self.right = 0.0

    def draw(self) -> Drawing:
        y = TOP
        for key in self.children.get("", []):
            y = self._source(key, LEFT, y) + ROW
        return Drawing(self.right + _NAME_W, y, self.groups, tuple(sorted(set(self.cuts))))

    def _title(self, key: str) -> str:
        return str(self.nodes[key].get("name") or key)

    def _group(self, key: str, x: float, y: float, shapes: Iterable[Shape], part: str = "") -> None:
        self.groups.append(Group(key, self._title(key), x, y, tuple(shapes), part))

    def _source(self, key: str, x: float, y: float) -> float:
        solved = self.solution.nodes[key]
        drop = _TRUNK if len(self.children.get(key, [])) == 1 else ROW
        words = f"{solved.system.name} · {self._figure(key)}"
        self._group(key, x, y, [
            Shape("wire", d=f"M0 0V{drop:g}", width=self.stroke[key]),
            *source(self.iec), *_words(24, -3, self._title(key), words), *_mark(solved.worst, -22, -18),
        ])  # fmt: skip
        return self._below(key, x, y + drop)

    def _below(self, key: str, x: float, y: float) -> float:
        """Draw what a node feeds from (x, y) downward; return the next free y."""
        mine = self.children.get(key, [])
        if len(mine) == 1 and self.nodes[mine[0]]["kind"] in ("board", "transformer"):
            return self._down(mine[0], x, y)
        return self._rows(key, x, y)

    def _down(self, key: str, x: float, y: float) -> float:
        """Draw a single feeder straight down, with what it feeds."""
        self.cuts.append(y)
        stroke, worst = self.stroke[key], self.solution.nodes[key].worst
        shapes = [
            Shape("wire", d=f"M0 0V{_TRUNK:g}", width=stroke),
            *(shape.moved(0, 14) for shape in _upright(breaker(self.iec))),
            Shape("label", 20, 18, text=self._run_words(key)),
        ]
        if self.nodes[key]["kind"] == "transformer":
            self._group(key, x, y, [*shapes, *self._transformer(key, 0, _TRUNK)])
            return self._below(key, x, y + _TRUNK + _WINDINGS)
        shapes += _words(16, _TRUNK + 6, self._title(key), self._figure(key))
        shapes += _mark(worst, -20, _TRUNK + 6)
        shapes.append(Shape("wire", d=f"M0 {_TRUNK:g}V{_TRUNK + _HEADING:g}", width=stroke))
        self._group(key, x, y, shapes)
        return self._rows(key, x, y + _TRUNK + _HEADING)

    def _transformer(self, key: str, x: float, y: float) -> list[Shape]:
        spec = self.nodes[key].get("transformer", {})
        words = " · ".join(str(part) for part in (spec.get("connection"), spec.get("secondary")) if part)
        return [
            Shape("wire", d=f"M{x:g} {y:g}V{y + _WINDINGS:g}", width=self.stroke[key]),
            *(shape.moved(x, y + 26) for shape in transformer(self.iec)),
            *_words(x + 30, y + 22, self._title(key), f"{words} · {self._figure(key)}"),
            Shape("line", d=f"M{x + 11:g} {y + 34:g}H{x + 24:g}"),
            *(shape.moved(x + 24, y + 34) for shape in earth()),
            *_mark(self.solution.nodes[key].worst, x - 24, y + 6),
        ]

    def _rows(self, key: str, x: float, y: float) -> float:
        """Draw a node's bar with its circuits as rows; return the next free y."""
        mine = self.children.get(key, [])
        if not mine:
            return y + ROW / 2
        if key in self.folded:
            words = _("%(n)s circuits and boards, folded") % {"n": self.folded[key]}
            self._group(key, x, y, [Shape("value", 14, 6, text=words)], "-folded")
            return y + ROW
        place = len(self.groups)
        top, last = y - 6, y
        for child in mine:
            last = y + ROW / 2
            y = self._row(child, x, last)
        bus = Shape("bus", d=f"M0 0V{last - top:g}", width=max(self.stroke[key] * 1.25, 5.0))
        # Before its rows, so that marks and wires lie on it.
        self.groups.insert(place, Group(key, self._title(key), x, top, (bus,), "-bar"))
        return y

    def _row(self, key: str, x: float, y: float) -> float:
        """Draw one circuit or feeder from the bar at x; return the y below all of it."""
        self.cuts.append(y - ROW / 2)
        node, solved = self.nodes[key], self.solution.nodes[key]
        beside = (x, y, self.iec, self.stroke[key], self.language)
        known = _circuits.get(node, solved, beside)
        if known:
            self.groups.append(known)
            self.right = max(self.right, x + RUN)
            return y + ROW / 2
        kind, worst = node["kind"], solved.worst
        shapes = _run_shapes(self.iec, self.stroke[key], self._run_words(key), worst)
        end = x + RUN
        self.right = max(self.right, end)
        if kind == "board":
            stroke = self.stroke[key]
            elbow = Shape("wire", d=f"M{RUN:g} {-stroke / 2:g}V{_HEADING:g}", width=stroke)
            self._group(key, x, y, [*shapes, *_words(RUN + 14, -2, self._title(key), self._figure(key)), elbow])
            return max(self._rows(key, end, y + _HEADING), y + ROW / 2)
        if kind == "transformer":
            self._group(key, x, y, [*shapes, *self._transformer(key, RUN, 0)])
            return self._below(key, end, y + _WINDINGS)
        glyph = self.nodes[key]["load"].get("kind", "general") if kind == "load" else kind
        shapes += _end_shapes(self.iec, glyph, self._title(key), self._load_words(key))
        self._group(key, x, y, shapes)
        _circuits.keep(node, solved, beside, self.groups[-1])
        return y + ROW / 2

    def _load_words(self, key: str) -> str:
        load = self.nodes[key].get("load", {})
        rating = str(load.get("rating", ""))
        count = load.get("count")
        rating = f"{count} × {rating}" if count and str(count) != "1" else rating
        legs = "-".join(self.solution.nodes[key].legs)
        words = f"{self.write(self.amps[key], 1)} A · {legs}"
        return f"{rating} · {words}" if rating else words

    def _run_words(self, key: str) -> str:
        design = self.solution.nodes[key].design
        length = self.nodes[key].get("run", {}).get("length")
        if design is None:
            return str(length or "")
        choice = design.choice
        size = choice.size if choice.sets == 1 else f"{choice.sets} × {choice.size}"
        words = f"{self.write(choice.device_a)} A · {size} {self.gauge(choice.size)} {design.run.material}"
        return f"{words} · {length}" if length else words

    def _figure(self, key: str) -> str:
        amps, va = self.amps[key], self.solution.nodes[key].demand_va
        return f"{self.write(va / 1000, 1)} kVA · {self.write(amps, 1 if amps < _TENTHS_BELOW else 0)} A"


@lru_cache(maxsize=_KEPT)
def _run_shapes(iec: bool, stroke: float, label: str, worst: str) -> tuple[Shape, ...]:
    """Return the run to a circuit: its wire, device, label, and mark."""
    return (
        Shape("wire", d=f"M0 0H{RUN:g}", width=stroke),
        *(shape.moved(_BREAKER_AT, 0) for shape in breaker(iec)),
        Shape("label", _LABEL_AT, -6, text=label),
        *_mark(worst, _MARK_AT, 0),
    )


@lru_cache(maxsize=_KEPT)
def _end_shapes(iec: bool, glyph: str, name: str, value: str) -> tuple[Shape, ...]:
    """Return what a circuit ends in: its symbol and words."""
    return (*(shape.moved(RUN, 0) for shape in symbol(glyph, iec)), *_words(RUN + 20, -1, name, value))


def _words(x: float, y: float, name: str, value: str) -> tuple[Shape, ...]:
    return Shape("name", x, y, text=_cut(name, _LONGEST_NAME), title=name), Shape("value", x, y + 14, text=value)


def _mark(worst: str, x: float, y: float) -> tuple[Shape, ...]:
    """Return the mark of the worst finding; shape and letter tell it, not colour alone."""
    if worst == "stop":
        return Shape("stop", x, y, d="M0 -9L9 0L0 9L-9 0Z"), Shape("stop-letter", x, y + 4, text="×")
    if worst == "warn":
        return Shape("warn", x, y, d="M-7 -7H7V7H-7Z"), Shape("warn-letter", x, y + 4, text="!")
    return ()


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


def single_line(
    document: Document, solution: Solution, terms: Terms, folded: Mapping[str, int] = MappingProxyType({})
) -> Drawing:
    """Return the drawing of a whole job, but for what is folded: boards whose circuits are told as a number."""
    return _Artist(document, solution, terms, folded).draw()
