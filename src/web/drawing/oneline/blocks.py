"""Blocks of the one-line drawing: groups of shapes with the room they take, and the packing of blocks into rows."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from web.drawing.shapes import Group, Shape

SPINE = 24.0  # from a board's left edge to what hangs from it: its spine and no word lie between
GAP, ROW_GAP = 4.0, 8.0
LINE_H = 13.0
_LETTER_W = {"name": 6.3, "value": 5.7, "label": 5.7}  # of the letters that css and paper set


class Block(NamedTuple):
    """Groups around (0, 0) and blocks inside, each at its place; and the room that all of it takes."""

    width: float
    height: float
    groups: tuple[Group, ...]
    inside: tuple[tuple[float, float, Block], ...] = ()

    def at(self, x: float, y: float) -> Iterator[Group]:
        """Yield its groups, and those of the blocks in it, where they are when it stands there."""
        for each in self.groups:
            yield Group(each.key, each.title, each.x + x, each.y + y, each.shapes, each.part)
        for dx, dy, block in self.inside:
            yield from block.at(x + dx, y + dy)


class Row(NamedTuple):
    """Blocks that hang from one bar: each with its place along it."""

    blocks: tuple[tuple[float, Block], ...]
    width: float
    height: float


def rows_of(blocks: Sequence[Block], width: float) -> list[Row]:
    """Return blocks in rows of at most that width, in their order; one that is wider has a row of its own."""
    rows: list[Row] = []
    here: list[tuple[float, Block]] = []
    x = 0.0
    for block in blocks:
        if here and x + block.width > width:
            rows.append(_row(here))
            here, x = [], 0.0
        here.append((x, block))
        x += block.width + GAP
    if here:
        rows.append(_row(here))
    return rows


def _row(blocks: list[tuple[float, Block]]) -> Row:
    last_x, last = blocks[-1]
    return Row(tuple(blocks), last_x + last.width, max(block.height for _x, block in blocks))


def width_of(text: str, look: str) -> float:
    """Return about how wide a text is; never less than it is."""
    return len(text) * _LETTER_W[look]


def wrapped(text: str, look: str, width: float, most: int = 4) -> list[str]:
    """Return a text in lines of that width: broken between words, and inside those that are longer; all of it."""
    letters = max(int(width / _LETTER_W[look]), 4)
    lines: list[str] = []
    for word in text.split():
        rest = word
        if lines and len(lines[-1]) + 1 + len(rest) <= letters:
            lines[-1] = f"{lines[-1]} {rest}"
            continue
        while len(rest) > letters:
            lines.append(rest[:letters])
            rest = rest[letters:]
        lines.append(rest)
    return lines if len(lines) <= most else wrapped(text, look, width * 1.4, most)


def words(x: float, y: float, lines: Sequence[str], look: str, title: str = "") -> tuple[Shape, ...]:
    """Return lines of text below each other."""
    return tuple(Shape(look, x, y + at * LINE_H, text=line, title=title) for at, line in enumerate(lines))
