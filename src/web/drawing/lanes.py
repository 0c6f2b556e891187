"""The legs of a board as lanes: circuits as blocks stacked on them, as high as what they weigh.

What is alike on all legs is folded below a tear line, with what is folded written on it. A circuit on two lanes is
joined by a ribbon.
"""

from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import NamedTuple

from voltaje.design.legs import Block, BoardLegs, blocks_by_leg
from web.drawing.legs import colour
from web.drawing.shapes import Shape
from web.words.figures import write

WIDTH = 590.0
_LEFT, _GAP, _TOP, _STACK, _FOLD = 44.0, 26.0, 62.0, 330.0, 46.0
_SHORT = 13.0  # blocks lower than this have no words
_ROOM = 1.04
_STEPS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)
_LINES = 5
_BOTH = 2


class Placed(NamedTuple):
    """A block on one of its legs: where, how high, and its words."""

    key: str
    leg: str
    x: float
    y: float
    width: float
    height: float
    name: str
    amps: str
    kva: str
    state: str
    movable: bool
    wide: bool
    legs: str
    each_a: float
    neutral: bool
    title: str

    @property
    def middle(self) -> float:
        """Where its words stand."""
        return self.y + self.height / 2 + _HALF_LETTER

    @property
    def right(self) -> float:
        """Where its amperes end."""
        return self.x + self.width - 8


class Lane(NamedTuple):
    """A leg: where, its colour, its total and how it stands to the mean and the main."""

    leg: str
    x: float
    width: float
    hue: str
    total: float
    top: float
    said: str
    over: bool
    angle: float


class Lanes(NamedTuple):
    """The whole drawing."""

    height: float
    lanes: tuple[Lane, ...]
    blocks: tuple[Placed, ...]
    ribbons: tuple[Shape, ...]
    marks: tuple[tuple[float, str], ...]
    mean_y: float
    mean: float
    fold_y: float
    folded: str
    folded_a: float
    device_y: float | None

    @property
    def bed(self) -> float:
        """How high a lane is."""
        return self.fold_y - _BED

    @property
    def tear(self) -> str:
        """The tear line, and what is folded below it."""
        tooth = (WIDTH - _LEFT - 32) / (2 * _TEETH)
        return f"M{_LEFT - 4} {self.fold_y}" + f"l{tooth:.3f} 7l{tooth:.3f} -7" * _TEETH + f"v38H{_LEFT - 4}Z"


_BED, _TEETH, _HALF_LETTER = 58.0, 32, 4.5


def lanes(board: BoardLegs, family: str, words: dict[str, str], states: Mapping[str, str]) -> Lanes:
    """Return the lanes of a board.

    words: of "mean", "to main", "over", "folded", by what they are for; states: of each circuit, stop, warn or holds
    """
    alike = [block for block in board.blocks if block.alike]
    under = sum(max(block.each_a.values()) for block in alike)
    totals = board.totals
    most = max(*totals.values(), 1e-9)
    reach = max(most - under, most * 0.02) * _ROOM
    scale, floor = _STACK / reach, _TOP + _STACK
    width = (WIDTH - _LEFT - 40 - _GAP * (len(board.order) - 1)) / len(board.order)
    mean = sum(totals.values()) / len(totals)
    places: list[Placed] = []
    joints: dict[str, list[tuple[float, float, float]]] = {}
    made: list[Lane] = []
    for number, (leg, here) in enumerate(blocks_by_leg(board)):
        x, y = _LEFT + number * (width + _GAP), floor
        for block in (each for each in here if not each.alike):
            high = block.each_a[leg] * scale
            y -= high
            joints.setdefault(block.key, []).append((x, y, high))
            places.append(_placed(block, leg, (x, y, width, high), board, states.get(block.key, "holds")))
        made.append(_lane(board, leg, (x, width, y), mean, family, words))
    ribbons = tuple(shape for ends in joints.values() if len(ends) > 1 for shape in _ribbons(ends, width))
    device, marks = board.device_a, tuple(_marks(under, reach, scale, floor))
    return Lanes(
        floor + (_FOLD if alike else 8) + 4,
        tuple(made),
        tuple(places),
        ribbons,
        marks,
        floor - (mean - under) * scale,
        mean,
        floor,
        _folded(alike, under, words) if alike else "",
        under,
        floor - (device - under) * scale if device and under < device < under + reach else None,
    )


def _placed(block: Block, leg: str, where: tuple[float, float, float, float], board: BoardLegs, state: str) -> Placed:
    (x, y, width, high), amps = where, block.each_a[leg]
    title = f"{block.name}: {write(amps, 1)} A"
    if block.poles > 1:
        title += f" · {'-'.join(block.legs)} · {write(block.own_a, 1)} A"
    words = write(amps, 1) if high >= _SHORT else ""
    kva = write(amps * board.to_neutral_v / 1000, 2)
    title += f" · {kva} kVA"
    legs, neutral = "-".join(block.legs), bool(block.neutral_a)
    return Placed(
        block.key,
        leg,
        x,
        y,
        width,
        high,
        block.name,
        words,
        kva,
        state,
        not block.stays,
        block.poles > 1,
        legs,
        amps,
        neutral,
        title,
    )


def _lane(
    board: BoardLegs, leg: str, where: tuple[float, float, float], mean: float, family: str, words: dict[str, str]
) -> Lane:
    (x, width, top), total = where, board.totals[leg]
    off = total - mean
    said = words["mean"] % {"off": ("+" if off >= 0 else "−") + write(abs(off), 0)}
    over = bool(board.device_a) and total > (board.device_a or 0.0)
    if board.device_a:
        left = write(abs(board.device_a - total), 0)
        said += " · " + words["over" if over else "to main"] % {"left": left}
    hue = colour(leg, family, board.system.line_to_line_v)
    return Lane(leg, x, width, hue, total, top, said, over, dict(board.system.legs)[leg])


def _ribbons(ends: Sequence[tuple[float, float, float]], width: float) -> list[Shape]:
    """Return what joins the parts of a circuit from lane to lane."""
    found = []
    for (x0, y0, h0), (x1, y1, h1) in pairwise(ends):
        start, end = x0 + width, x1
        middle = (start + end) / 2
        d = f"M{start:.1f} {y0:.1f}C{middle:.1f} {y0:.1f} {middle:.1f} {y1:.1f} {end:.1f} {y1:.1f}"
        d += f"V{y1 + h1:.1f}C{middle:.1f} {y1 + h1:.1f} {middle:.1f} {y0 + h0:.1f} {start:.1f} {y0 + h0:.1f}Z"
        found.append(Shape("ribbon", d=d))
    return found


def _marks(under: float, reach: float, scale: float, floor: float) -> list[tuple[float, str]]:
    """Return the heights of round figures, with them."""
    step = next((each for each in _STEPS if reach / each <= _LINES), _STEPS[-1])
    first = int(under // step + 1) * step
    return [(floor - (at - under) * scale, write(at, 0)) for at in range(first, int(under + reach) + 1, step)]


def _folded(alike: Sequence[Block], under: float, words: dict[str, str]) -> str:
    return words["folded"] % {"n": len(alike), "amps": write(under, 1)}
