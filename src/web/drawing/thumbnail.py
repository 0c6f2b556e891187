"""A small picture of a job: its one-line drawing without the words."""

import re
from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

from web.drawing.shapes import Drawing, Shape

MOST_SHAPES = 120  # more are not told apart at this size
_ORDER = ("bus", "wire", "open", "line", "solid", "stop", "warn")  # what is kept first, and lies lowest
_DECIMALS = 1
_AROUND = 12.0
_COMMAND, _NUMBER = re.compile(r"([A-Za-z])([^A-Za-z]*)"), re.compile(r"-?[\d.]+")


class Stroke(NamedTuple):
    """A path or a circle of the picture: its class, place, and how thick it is."""

    look: str
    x: float
    y: float
    d: str
    r: float
    width: float


class Thumbnail(NamedTuple):
    """The picture and the box that it fills."""

    left: float
    top: float
    width: float
    height: float
    strokes: tuple[Stroke, ...]

    @classmethod
    def read(cls, kept: list[Any]) -> "Thumbnail":
        """Return a picture that was kept as a list."""
        left, top, width, height, strokes = kept
        return cls(left, top, width, height, tuple(Stroke(*stroke) for stroke in strokes))


def thumbnail(drawing: Drawing) -> Thumbnail:
    """Return the small picture of a drawing."""
    shapes = [shape.moved(group.x, group.y) for group in drawing.groups for shape in group.shapes]
    shown = sorted((shape for shape in shapes if shape.look in _ORDER), key=lambda shape: _ORDER.index(shape.look))
    strokes = tuple(_stroke(shape) for shape in shown[:MOST_SHAPES])
    across, down = _box(strokes) if strokes else ((0.0, drawing.width), (0.0, drawing.height))
    return Thumbnail(across[0], down[0], across[1] - across[0], down[1] - down[0], strokes)


def _box(strokes: Iterable[Stroke]) -> tuple[tuple[float, float], tuple[float, float]]:
    """Return from where to where the strokes reach, across and down."""
    points = [point for stroke in strokes for point in _points(stroke)]
    across, down = [x for x, _y in points], [y for _x, y in points]
    return (min(across) - _AROUND, max(across) + _AROUND), (min(down) - _AROUND, max(down) + _AROUND)


def _points(stroke: Stroke) -> Iterator[tuple[float, float]]:
    """Yield the points that a stroke's path names, near enough for a picture."""
    x, y = stroke.x, stroke.y
    yield x - stroke.r, y - stroke.r
    yield x + stroke.r, y + stroke.r
    for command, numbers in _COMMAND.findall(stroke.d):
        given = [float(each) for each in _NUMBER.findall(numbers)]
        if command == "H":
            yield from ((stroke.x + each, y) for each in given)
        elif command == "V":
            yield from ((x, stroke.y + each) for each in given)
        elif command in "ML":
            yield from (
                (stroke.x + across, stroke.y + down) for across, down in zip(given[::2], given[1::2], strict=False)
            )


def _stroke(shape: Shape) -> Stroke:
    x, y, r, width = (round(each, _DECIMALS) for each in (shape.x, shape.y, shape.r, shape.width))
    return Stroke(shape.look, x, y, shape.d, r, width)
