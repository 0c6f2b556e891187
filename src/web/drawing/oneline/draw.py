"""Draws a job as a one-line: columns of machines, blocks of small circuits, boards and what feeds others."""

import math
from collections import Counter
from collections.abc import Iterable

from django.utils.translation import get_language, ngettext
from django.utils.translation import gettext as _

from voltaje.books.answers import Terms, sets_of
from voltaje.design.solution import NodeSolution, Solution
from voltaje.design.transformers.made import Made
from web.drawing.oneline.blocks import LINE_H, ROW_GAP, SPINE, Block, rows_of, width_of, words, wrapped
from web.drawing.oneline.gather import FEEDS, Nodes, Told, told
from web.drawing.shapes import Drawing, Group, Shape
from web.drawing.symbols import autotransformer, breaker_down, earth, source, symbol, transformer
from web.words.figures import writer
from web.words.same import SameOfMany
from web.words.trade import kind_words

COLUMN_W, BLOCK_W = 80.0, 172.0
_WIRE, _TEXT, _WORDS_W = 18.0, 32.0, 74.0
_FEED_H, _SHORT_FEED_H, _WINDINGS_H = 74.0, 42.0, 58.0
_HEAD_H, _BAR_BELOW = 34.0, 8.0
_LEFT, _TOP = 12.0, 26.0
_THIN, _GROWS = 1.6, 6.5
_TENTHS_BELOW = 10.0  # [A]
_MOST_KINDS = 6  # lines of a block
_WIDTHS = (480.0, 560.0, 620.0, 680.0, 750.0, 830.0, 920.0, 1050.0, 1200.0, 1400.0, 1800.0, 2300.0, 3000.0)
SCREEN = 0.9  # width over height of the room that a drawing has on a screen
READ_AT = 690.0  # as wide as a drawing may be to be read whole on a desk's screen, its letters at 11 px
_TALL = 3.0  # so many times as tall as that, it is laid out wider all the same: one pans in any case
_LEG_BAR_W = 76.0
_USUAL_METAL = "Cu"  # what is not marked; the title block says so


_blocks = SameOfMany(2_000)


def single_line(
    nodes: Nodes, solution: Solution, terms: Terms, aspect: float = SCREEN, read_at: float = math.inf
) -> Drawing:
    """Return the drawing of a whole job, its nodes in the order of the path, as wide as suits that room best.

    read_at: the width over which it is too small to be read, none on paper; it grows downward first
    """
    artist = _Artist(nodes, solution, terms)
    whole, cuts = artist.lay_out(_WIDTHS[0])
    for width in _WIDTHS[1:]:
        if width >= max(whole.width, whole.height * aspect):
            break  # what is wider still needs more room than the best so far
        if width > read_at and whole.height * aspect < _TALL * read_at:
            break
        block, between = artist.lay_out(width)
        if max(block.width, block.height * aspect) < max(whole.width, whole.height * aspect):
            whole, cuts = block, between
    return Drawing(whole.width, whole.height, list(whole.at(0.0, 0.0)), cuts)


class _Artist:
    """Draws one job. All places are around the block's own corner until they are put together."""

    def __init__(self, nodes: Nodes, solution: Solution, terms: Terms) -> None:
        self.nodes, self.solution, self.terms = nodes, solution, terms
        self.iec = terms.symbols == "iec"
        self.told = told(nodes, solution)
        self.amps = {key: max(each.amps.values(), default=0.0) for key, each in solution.nodes.items()}
        self.most = max(self.amps.values(), default=0.0) or 1.0
        self.write = writer()
        # Columns, boards of small circuits, and the blocks of them are the same in rows of any width.
        self.ends: dict[str, Block] = {}
        self.small: dict[str, Block] = {}

    def lay_out(self, width: float) -> tuple[Block, tuple[float, ...]]:
        """Return the whole drawing with rows of about that width, and the heights at which only conductors cross."""
        inside: list[tuple[float, float, Block]] = []
        cuts: list[float] = []
        y, right = _TOP, width
        for key in self._below("").apart:
            block, own_cuts = self._source(key, width)
            inside.append((_LEFT, y, block))
            cuts += [y + cut for cut in own_cuts]
            right = max(right, block.width)
            y += block.height + 2 * ROW_GAP
        return Block(right + 2 * _LEFT, y, (), tuple(inside)), tuple(sorted(set(cuts)))

    def _stroke(self, *keys: str) -> float:
        """Return how thick a conductor is drawn, the thickest of several."""
        return round(_THIN + _GROWS * math.sqrt(max(self.amps[key] for key in keys) / self.most), 2)

    # Words and figures

    def _below(self, key: str) -> Told:
        return self.told.get(key) or Told()

    def _title(self, key: str) -> str:
        return str(self.nodes[key].get("name") or key)

    def _group(self, key: str, shapes: Iterable[Shape], part: str = "", x: float = 0.0, y: float = 0.0) -> Group:
        return Group(key, self._title(key), x, y, tuple(shapes), part)

    def _figures(self, key: str) -> str:
        amps, va = self.amps[key], self.solution.nodes[key].demand_va
        return f"{self.write(va / 1000, 1)} kVA · {self.write(amps, 1 if amps < _TENTHS_BELOW else 0)} A"

    def _device(self, key: str) -> str:
        solved = self.solution.nodes[key]
        amps = solved.design.choice.device_a if solved.design else solved.node.run.pins.device_a
        return f"{self.write(amps)} A" if amps else ""

    def _conductor(self, key: str) -> str:
        solved = self.solution.nodes[key]
        design, run = solved.design, solved.node.run
        size, sets = (design.choice.size, design.choice.sets) if design else (run.pins.size, run.pins.sets or 1)
        material = design.run.material if design else run.material
        if not size:
            return ""
        metal = "" if material == _USUAL_METAL else f" {material}"
        return f"{sets_of(size, sets)} {self.terms.gauge(size)}{metal}"

    def _length(self, key: str) -> str:
        return str(self.nodes[key].get("run", {}).get("length") or "")

    # What hangs on a bar

    def _block(self, key: str, width: float) -> Block:
        kind = self.nodes[key]["kind"]
        if kind == "board":
            return self._board(key, width)
        if kind == "transformer":
            return self._transformer(key, width)
        if key not in self.ends:
            self.ends[key] = self._column(key)
        return self.ends[key]

    def _feed(self, key: str) -> list[Shape]:
        """Return the wire from a bar to what hangs on it, its device and what is written beside it."""
        # A tap has its device at its end, all others where they begin.
        at_end = self.nodes[key].get("run", {}).get("role") == "tap"
        device_y = _FEED_H - 12 if at_end else 18
        shapes = [
            Shape("wire", _WIRE, 0, d=f"M0 0V{_FEED_H:g}", width=self._stroke(key)),
            *(shape.moved(_WIRE, device_y) for shape in breaker_down(self.iec)),
            *words(_TEXT, device_y + 4, [self._device(key)], "name"),
        ]
        beside = [*wrapped(self._conductor(key), "label", COLUMN_W - _TEXT), self._length(key)]
        return [*shapes, *words(_TEXT, 22 if at_end else 38, [line for line in beside if line], "label")]

    def _column(self, key: str) -> Block:
        """Return a load, inverter or dwelling as a column of its own."""
        solved, node = self.solution.nodes[key], self.nodes[key]
        glyph = node["load"].get("kind", "general") if node["kind"] == "load" else node["kind"]
        name = wrapped(self._title(key), "name", _WORDS_W)
        count = str(node.get("load", {}).get("count", 1))
        rating = str(node.get("load", {}).get("rating", ""))
        values = wrapped(f"{count} × {rating}" if count != "1" else rating, "value", _WORDS_W)
        values.append(self._figures(key).partition(" · ")[2])
        if solved.design and solved.design.drop:
            values.append(f"{self.write(solved.drop_percent, 1)} %")
        y = _FEED_H + 11
        shapes = [
            *self._feed(key),
            *(shape.moved(_WIRE, y) for shape in symbol(glyph, self.iec)),
            *_mark(solved.worst, _WIRE + 26, y),
            *words(4, y + 27, name, "name", self._title(key)),
            *words(4, y + 27 + len(name) * LINE_H, [each for each in values if each], "value"),
        ]
        height = y + 27 + (len(name) + len(values)) * LINE_H
        return Block(COLUMN_W, height, (self._group(key, shapes),))

    def _gathered(self, key: str, keys: list[str]) -> Block:
        if f"{key}-small" not in self.ends:
            self.ends[f"{key}-small"] = self._small(key, keys)
        return self.ends[f"{key}-small"]

    def _small(self, key: str, keys: list[str]) -> Block:
        """Return the small circuits of a board as one block; where none of them was worked out anew, the one it was."""
        solved = [self.solution.nodes[each] for each in keys]
        beside = (self._title(key), self._stroke(*keys), self.terms.family, self.iec, get_language())
        known: Block | None = _blocks.get(key, solved, beside)
        return known or _blocks.keep(key, solved, beside, self._block_of_small(key, keys, solved))

    def _block_of_small(self, key: str, keys: list[str], solved: list[NodeSolution]) -> Block:
        """Return the small circuits of a board by kind, with the legs they load and what is worst."""
        va = sum(each.demand_va for each in solved)
        title = ngettext("%(n)s small circuit", "%(n)s small circuits", len(keys)) % {"n": len(keys)}
        y = 46.0
        shapes = [
            Shape("wire", _WIRE, 0, d="M0 0V22", width=self._stroke(*keys)),
            *words(10, y - 6, [title], "name"),
            *words(10, y - 6 + LINE_H, [f"{self.write(va / 1000, 1)} kVA"], "value"),
        ]
        y += LINE_H + 12
        kinds = Counter(each.node.load.kind.value for each in solved if each.node.load).most_common()
        shown, rest = kinds[:_MOST_KINDS], kinds[_MOST_KINDS:]
        for kind, number in shown:
            of_kind = [each for each in solved if each.node.load and each.node.load.kind.value == kind]
            shapes += [shape.moved(20, y) for shape in symbol(kind, self.iec)]
            name = wrapped(kind_words(kind, self.terms.family), "value", 100)
            shapes += [*words(36, y + 5, name[:1], "value"), *words(126, y + 5, [str(number)], "value")]
            shapes += _mark(_worst(of_kind), BLOCK_W - 16, y)
            y += 25
        if rest:
            more = _("%(n)s of other kinds") % {"n": sum(number for _kind, number in rest)}
            shapes += words(36, y + 5, [more], "value")
            y += 25
        bars, y = self._leg_bars(solved, y)
        box = Shape("open", d=f"M4 22H{BLOCK_W - 4:g}V{y:g}H4Z")
        return Block(BLOCK_W, y, (self._group(key, [box, *shapes, *bars], "-small"),))

    def _leg_bars(self, solved: list[NodeSolution], y: float) -> tuple[list[Shape], float]:
        legs: Counter[str] = Counter()
        for each in solved:
            legs.update(each.amps)
        most = max(legs.values(), default=0.0) or 1.0
        shapes: list[Shape] = []
        for leg in sorted(legs):
            shapes += words(10, y + 5, [leg], "value")
            shapes.append(Shape("bus", d=f"M32 {y:g}H{32 + max(_LEG_BAR_W * legs[leg] / most, 1):g}", width=7))
            shapes += words(36 + _LEG_BAR_W, y + 5, [f"{self.write(legs[leg], 0)} A"], "value")
            y += 15
        return shapes, y + 4

    # What feeds others

    def _board(self, key: str, width: float) -> Block:
        """Return a board below its feeder: its name, and its bar with all that it feeds."""
        mine = self._below(key)
        if mine.together and not mine.apart:
            if key not in self.ends:
                self.ends[key] = self._board_of_small(key, mine.together)
            return self.ends[key]
        bar, _cuts = self._bar(key, width)
        head = self._feed(key)
        head.append(Shape("wire", _WIRE, _FEED_H, d=f"M0 0V{_HEAD_H:g}", width=self._stroke(key)))
        name = wrapped(self._title(key), "name", max(bar.width - _TEXT, 120), 2)
        y = _FEED_H + 12 - (len(name) - 1) * LINE_H / 2
        head += words(_TEXT, y, name, "name", self._title(key))
        head += words(_TEXT, y + len(name) * LINE_H, [self._figures(key)], "value")
        head += _mark(self.solution.nodes[key].worst, 8, _FEED_H + 10)
        wide = max(bar.width, _TEXT + 8 + max(width_of(line, "name") for line in [*name, self._figures(key)]))
        y = _FEED_H + _HEAD_H
        return Block(wide, y + bar.height, (self._group(key, head),), ((0.0, y, bar),))

    def _board_of_small(self, key: str, keys: list[str]) -> Block:
        """Return a board of small circuits alone: its block with its name, straight below its feeder."""
        name = wrapped(self._title(key), "name", BLOCK_W - 24, 2)
        feed = self._feed(key)
        head = [*feed, *_mark(self.solution.nodes[key].worst, BLOCK_W - 16, 36)]
        first = max((shape.y for shape in feed if shape.text), default=0.0) + LINE_H + 3  # below what its feeder says
        top = words(_TEXT, first, name, "name", self._title(key))
        figures = words(_TEXT, first + len(name) * LINE_H, [self._figures(key)], "value")
        block = self._gathered(key, keys)
        y = first + len(name) * LINE_H - 12
        if y > _FEED_H:
            head.append(Shape("wire", _WIRE, _FEED_H, d=f"M0 0V{y - _FEED_H:g}", width=self._stroke(key)))
        return Block(BLOCK_W, y + block.height, (self._group(key, [*head, *top, *figures]),), ((0.0, y, block),))

    def _transformer(self, key: str, width: float) -> Block:
        """Return a transformer below its feeder, with what hangs on its secondary."""
        head = [*self._feed(key), *self._windings(key, _FEED_H)]
        below = self._under(key, width)
        label_w = _TEXT + 14 + max(width_of(line, "value") for line in (self._title(key), *self._secondary(key)))
        y = _FEED_H + _WINDINGS_H
        return Block(max(below.width, label_w), y + below.height, (self._group(key, head),), ((0.0, y, below),))

    def _secondary(self, key: str) -> list[str]:
        spec, made = self.nodes[key].get("transformer", {}), self._made(key)
        kva = f"{made.units} × {made.unit_kva:g}" if made and made.units > 1 else spec.get("kva", "")
        words_of_it = [f"{kva} kVA", spec.get("connection"), spec.get("secondary")]
        return [" · ".join(str(each) for each in words_of_it if each), self._figures(key)]

    def _made(self, key: str) -> Made | None:
        unit = self.solution.nodes[key].unit
        return unit.made if unit else None

    def _windings(self, key: str, y: float) -> list[Shape]:
        made = self._made(key)
        drawn = autotransformer if made and made.stacked else transformer
        return [
            Shape("wire", _WIRE, y, d=f"M0 0V{_WINDINGS_H:g}", width=self._stroke(key)),
            *(shape.moved(_WIRE, y + 26) for shape in drawn(self.iec)),
            *words(_TEXT + 10, y + 14, [self._title(key)], "name", self._title(key)),
            *words(_TEXT + 10, y + 14 + LINE_H, self._secondary(key), "value"),
            *_mark(self.solution.nodes[key].worst, 4, y + 4),
        ]

    def _under(self, key: str, width: float) -> Block:
        """Return what hangs on a node that has no bar of its own: its only board straight below it, or a bar."""
        mine = self._below(key)
        if len(mine.apart) == 1 and not mine.together and self.nodes[mine.apart[0]]["kind"] in ("board", "transformer"):
            return self._block(mine.apart[0], width)
        return self._bar(key, width)[0]

    def _bar(self, key: str, width: float) -> tuple[Block, list[float]]:
        """Return a bar with rows of what it feeds: every further row has a bar of its own, all on one spine."""
        mine = self._below(key)
        room = max(width - SPINE, COLUMN_W)
        blocks = [self._block(each, room) for each in mine.apart]
        ends = sum(self.nodes[each]["kind"] not in FEEDS for each in mine.apart)
        blocks[ends:] = sorted(blocks[ends:], key=lambda block: block.height)  # in a row those as tall as each other
        if mine.together:
            if key not in self.small:
                self.small[key] = self._gathered(key, mine.together)
            blocks.insert(0, self.small[key])
        rows = rows_of(blocks, room)
        thick = max(self._stroke(key) * 1.25, 5.0)
        inside: list[tuple[float, float, Block]] = []
        bars: list[Shape] = []
        cuts: list[float] = []
        y = _BAR_BELOW
        for row in rows:
            bars.append(Shape("bus", _WIRE, y, d=f"M0 0H{max(SPINE + row.width - _WIRE, 60):g}", width=thick))
            cuts.append(y - _BAR_BELOW)
            for x, block in row.blocks:
                inside.append((SPINE + x, y, block))
            last, y = y, y + row.height + ROW_GAP + _BAR_BELOW
        if len(rows) > 1:
            bars.append(Shape("bus", _WIRE, _BAR_BELOW, d=f"M0 0V{last - _BAR_BELOW:g}", width=thick))
        if not rows:
            bars.append(Shape("bus", _WIRE, y, d="M0 0H60", width=thick))
            y += ROW_GAP
        bar = self._group(key, bars, "-bar")
        wide = max((SPINE + row.width for row in rows), default=80.0)
        return Block(wide, y, (bar,), tuple(inside)), cuts

    def _source(self, key: str, width: float) -> tuple[Block, list[float]]:
        """Return a supply with all that it feeds, what feeds one board after another drawn short."""
        solved = self.solution.nodes[key]
        lines = [self._title(key), f"{solved.system.name} · {self._figures(key)}"]
        shapes = [
            *(shape.moved(_WIRE, 0) for shape in source(self.iec)),
            *words(_TEXT + 4, -3, lines[:1], "name", lines[0]),
            *words(_TEXT + 4, -3 + LINE_H, lines[1:], "value"),
            *_mark(solved.worst, _WIRE - 24, -10),
            Shape("wire", _WIRE, 13, d="M0 0V11", width=self._stroke(key)),
        ]
        inside: list[tuple[float, float, Block]] = []
        y, here = 24.0, key
        while True:
            mine = self._below(here)
            only = mine.apart[0] if len(mine.apart) == 1 and not mine.together else ""
            if not only or self.nodes[only]["kind"] not in ("board", "transformer"):
                break
            short = self._short(only)
            inside.append((0.0, y, short))
            y, here = y + short.height, only
        bar, cuts = self._bar(here, width)
        inside.append((0.0, y, bar))
        wide = max(bar.width, _TEXT + 8 + width_of(max(lines, key=len), "name"))
        whole = Block(wide, y + bar.height, (self._group(key, shapes),), tuple(inside))
        return whole, [y + cut for cut in cuts[1:]]

    def _short(self, key: str) -> Block:
        """Return a feeder at the top of the drawing, its words in one line; and the board or windings it ends in."""
        beside = " · ".join(each for each in (self._device(key), self._conductor(key), self._length(key)) if each)
        shapes = [
            Shape("wire", _WIRE, 0, d=f"M0 0V{_SHORT_FEED_H:g}", width=self._stroke(key)),
            *(shape.moved(_WIRE, 20) for shape in breaker_down(self.iec)),
            *words(_TEXT + 4, 25, [beside], "label"),
        ]
        if self.nodes[key]["kind"] == "transformer":
            ground = [shape.moved(_WIRE - 14, _SHORT_FEED_H + 46) for shape in earth()]
            shapes += [*self._windings(key, _SHORT_FEED_H), *ground]
            return Block(COLUMN_W, _SHORT_FEED_H + _WINDINGS_H, (self._group(key, shapes),))
        head = [self._title(key), self._figures(key)]
        shapes.append(Shape("wire", _WIRE, _SHORT_FEED_H, d=f"M0 0V{_HEAD_H:g}", width=self._stroke(key)))
        shapes += words(_TEXT + 4, _SHORT_FEED_H + 10, head[:1], "name", head[0])
        shapes += words(_TEXT + 4, _SHORT_FEED_H + 10 + LINE_H, head[1:], "value")
        shapes += _mark(self.solution.nodes[key].worst, 6, _SHORT_FEED_H + 10)
        return Block(COLUMN_W, _SHORT_FEED_H + _HEAD_H, (self._group(key, shapes),))


def _worst(solved: list[NodeSolution]) -> str:
    states = {each.worst for each in solved}
    return next((state for state in ("stop", "warn") if state in states), "")


def _mark(worst: str, x: float, y: float) -> tuple[Shape, ...]:
    """Return the mark of the worst finding; shape and letter tell it, not colour alone."""
    if worst == "stop":
        return Shape("stop", x, y, d="M0 -9L9 0L0 9L-9 0Z"), Shape("stop-letter", x, y + 4, text="×")
    if worst == "warn":
        return Shape("warn", x, y, d="M-7 -7H7V7H-7Z"), Shape("warn-letter", x, y + 4, text="!")
    return ()
