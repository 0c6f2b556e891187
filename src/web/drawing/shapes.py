"""Shapes of a drawing: plain data that a template or the stand-alone file turns into SVG."""

import itertools
from dataclasses import dataclass
from typing import NamedTuple

# What a class of shape looks like where no style sheet is at hand: on paper, in a file of its own.
INK, SOFT, COPPER, PAPER, EARTH = "#1f262b", "#566069", "#b05c24", "#ffffff", "#1b5a4c"
LOOKS = {
    "wire": {"stroke": COPPER, "fill": "none", "stroke-linecap": "butt"},
    "bus": {"stroke": COPPER, "fill": "none", "stroke-linecap": "square"},
    "line": {"stroke": INK, "fill": "none", "stroke-width": "1.8"},
    "solid": {"stroke": INK, "fill": INK, "stroke-width": "1"},
    "open": {"stroke": INK, "fill": PAPER, "stroke-width": "1.8"},
    "gap": {"stroke": "none", "fill": PAPER},
    "letter": {"fill": INK, "font-size": "12", "font-weight": "600", "text-anchor": "middle"},
    "name": {"fill": INK, "font-size": "13.5", "font-weight": "600"},
    "value": {"fill": SOFT, "font-size": "12.5"},
    "label": {"fill": SOFT, "font-size": "12.5"},
    "made": {"stroke": INK, "fill": "none", "stroke-width": "1.5", "stroke-dasharray": "5 4"},
    "soft": {"stroke": SOFT, "fill": "none", "stroke-width": "1.2"},
    "case": {"stroke": INK, "fill": "none", "stroke-width": "2"},
    "reach": {"stroke": "none", "fill": PAPER, "fill-opacity": "0"},
    "terminal": {"stroke": INK, "fill": PAPER, "stroke-width": "2"},
    "dot": {"stroke": INK, "fill": PAPER, "stroke-width": "1"},
    "link-dot": {"stroke": COPPER, "fill": COPPER, "stroke-width": "1"},
    "link": {"stroke": COPPER, "fill": "none", "stroke-width": "6"},
    "bar": {"stroke": EARTH, "fill": "none", "stroke-width": "11"},
    "bond": {"stroke": EARTH, "fill": "none", "stroke-width": "4"},
    "earth": {"stroke": EARTH, "fill": "none", "stroke-width": "2.8", "stroke-dasharray": "9 4"},
    "bushing": {"stroke": EARTH, "fill": PAPER, "stroke-width": "2"},
    "neutral": {"stroke": SOFT, "fill": "none", "stroke-width": "3.4"},
    "neutral-core": {"stroke": PAPER, "fill": "none", "stroke-width": "1.2"},
    "copper": {"fill": COPPER, "font-size": "12.5", "font-weight": "600"},
    "earthword": {"fill": EARTH, "font-size": "13", "font-weight": "600"},
    "soil": {"stroke": "none", "fill": "#f0ece2"},
    "wrong": {"stroke": "#a12f1c", "fill": "none"},
    "wrong-word": {"fill": "#a12f1c", "font-size": "14", "font-weight": "600"},
    "stop": {"stroke": "none", "fill": "#a12f1c"},
    "warn": {"stroke": "#7a4e00", "fill": "#f6e4bd", "stroke-width": "1.2"},
    "core-bar": {"stroke": "#d8cdb8", "fill": "none", "stroke-width": "6"},
    "ring": {"stroke": "#d8cdb8", "fill": "none", "stroke-width": "1"},
    "joint": {"stroke": INK, "fill": INK},
    "limit": {"stroke": "#a12f1c", "fill": "none", "stroke-width": "1.6", "stroke-dasharray": "6 4"},
    "wrong-box": {"stroke": "#a12f1c", "fill": "#f5d6cf", "stroke-width": "2"},
    "label-end": {"fill": SOFT, "font-size": "12.5", "text-anchor": "end"},
    "label-mid": {"fill": SOFT, "font-size": "12.5", "text-anchor": "middle"},
    "letter-big": {"fill": INK, "font-size": "13.5", "font-weight": "600", "text-anchor": "middle"},
    "sign": {"fill": SOFT, "font-size": "14"},
    "volts": {"fill": EARTH, "font-size": "16", "font-weight": "600"},
    "volts-out": {"fill": "#a12f1c", "font-size": "16", "font-weight": "600"},
    "volts-end": {"fill": EARTH, "font-size": "14", "font-weight": "600", "text-anchor": "end"},
    "volts-out-end": {"fill": "#a12f1c", "font-size": "14", "font-weight": "600", "text-anchor": "end"},
    "phasor-name": {"fill": INK, "font-size": "13.5", "font-weight": "600"},
    "phasor-name-end": {"fill": INK, "font-size": "13.5", "font-weight": "600", "text-anchor": "end"},
    "neutral-word": {"fill": EARTH, "font-size": "19", "font-weight": "600"},
    "stop-letter": {"fill": "#ffffff", "font-size": "11", "font-weight": "700", "text-anchor": "middle"},
    "warn-letter": {"fill": "#7a4e00", "font-size": "11", "font-weight": "700", "text-anchor": "middle"},
}

# The colours of conductors, as strokes and as fills.
COLOURS = {
    "black": INK,
    "red": "#b3231b",
    "blue": "#2457a8",
    "white": "#8a9399",
    "brown": "#6b3f1d",
    "orange": "#c4600f",
    "yellow": "#a78600",
    "grey": "#77808a",
    "light-blue": "#2f86c4",
    "neutral": EARTH,
}
LOOKS |= {f"wire-{name}": {"stroke": hue, "fill": "none"} for name, hue in COLOURS.items()}
LOOKS |= {f"wire-{name} faded": {"stroke": hue, "fill": "none", "opacity": "0.38"} for name, hue in COLOURS.items()}
LOOKS |= {f"fill-{name}": {"stroke": "none", "fill": hue} for name, hue in COLOURS.items()}

# What sketches of quick sheets have besides.
LOOKS |= {
    "core": {"stroke": COPPER, "fill": "none", "stroke-width": "5"},
    "core-thin": {"stroke": COPPER, "fill": "none", "stroke-width": "2.6"},
    "busbar": {"stroke": COPPER, "fill": "none", "stroke-width": "8"},
    "cable": {"stroke": "#e4dfd3", "fill": "none", "stroke-linejoin": "round"},
    "box": {"stroke": INK, "fill": PAPER, "stroke-width": "2"},
    "ink": {"stroke": INK, "fill": "none", "stroke-width": "2"},
    "earth-dot": {"stroke": "none", "fill": EARTH},
    "copper-dot": {"stroke": "none", "fill": COPPER},
    "way": {"stroke": "#d8cdb8", "fill": "#f6f2e8"},
    "way-on": {"stroke": INK, "fill": "#ecc9a9", "stroke-width": "2"},
    "guard": {"stroke": "none", "fill": "#f8ede1"},
    "guard-earth": {"stroke": "none", "fill": "#dcebe6"},
    "end": {"stroke": COPPER, "fill": "none", "stroke-width": "3"},
    "tick": {"stroke": "#e4dfd3", "fill": "none"},
    "reached": {"stroke": "#ecc9a9", "fill": "none", "stroke-width": "4"},
    "back": {"stroke": EARTH, "fill": "none"},
    "may": {"stroke": COPPER, "fill": "#ecc9a9", "stroke-width": "0.8"},
    "first": {"stroke": COPPER, "fill": PAPER, "stroke-width": "3"},
    "first-on": {"stroke": COPPER, "fill": COPPER, "stroke-width": "3"},
    "row": {"stroke": "none", "fill": "none"},
    "row-on": {"stroke": "none", "fill": "#f8ede1"},
    "mark-wire": {"stroke": EARTH, "fill": "none", "stroke-width": "2"},
    "mark-table": {"stroke": SOFT, "fill": "none", "stroke-width": "2", "stroke-dasharray": "4 3"},
    "mark-start": {"stroke": "#a12f1c", "fill": "none", "stroke-width": "2", "stroke-dasharray": "6 4"},
    "curve-current": {"stroke": COPPER, "fill": "none", "stroke-width": "3"},
    "curve-heating": {"stroke": "#a12f1c", "fill": "none", "stroke-width": "3", "stroke-dasharray": "9 4"},
    "curve-torque": {"stroke": EARTH, "fill": "none", "stroke-width": "3", "stroke-dasharray": "3 3"},
    "link-thin": {"stroke": COPPER, "fill": "none", "stroke-width": "2.6"},
    "word": {"fill": INK, "font-size": "13.5"},
    "note": {"fill": SOFT, "font-size": "13.5"},
    "strong": {"fill": INK, "font-size": "15", "font-weight": "600"},
    "big": {"fill": INK, "font-size": "17", "font-weight": "600"},
}

_ANCHORS = {"mid": "middle", "end": "end"}
_REACH = 140.0  # a group with a transformer reaches so far below where it begins


class Shape(NamedTuple):
    """A path (`d`), a circle (`r`), or words (`text`); where it is, and what it looks like by its class."""

    look: str
    x: float = 0.0
    y: float = 0.0
    d: str = ""
    r: float = 0.0
    text: str = ""
    width: float = 0.0
    title: str = ""
    field: str = ""  # the input that a press on it goes to
    anchor: str = ""  # of words: they begin at x, lie around it (`mid`) or end there (`end`)

    def moved(self, dx: float, dy: float) -> "Shape":
        """Return the shape elsewhere."""
        return Shape(self.look, self.x + dx, self.y + dy, *self[3:])

    @property
    def looks(self) -> dict[str, str]:
        """Its attributes where there is no style sheet."""
        own = {"stroke-width": f"{self.width:g}"} if self.width else {}
        if self.anchor:
            own["text-anchor"] = _ANCHORS[self.anchor]
        return LOOKS[self.look] | own


@dataclass(frozen=True)
class Group:
    """The shapes of one node, or of one part of it, around (x, y).

    does: what a press on it does in the page; sets: what that puts into the form; pressed: whether it stands so now
    """

    key: str
    title: str
    x: float
    y: float
    shapes: tuple[Shape, ...]
    part: str = ""
    does: str = ""
    sets: str = ""
    pressed: bool = False

    @property
    def id(self) -> str:
        """The group's name in the page."""
        return f"g-{self.key}{self.part}"


@dataclass(frozen=True)
class Band:
    """A part of a drawing for one sheet of paper: its top, height, and the groups in it."""

    top: float
    height: float
    groups: list[Group]


@dataclass(frozen=True)
class Drawing:
    """Groups of shapes, and the box they fill; `cuts` are the heights at which only conductors cross."""

    width: float
    height: float
    groups: list[Group]
    cuts: tuple[float, ...] = ()

    @property
    def live(self) -> bool:
        """Whether something in it can be pressed."""
        return any(group.does for group in self.groups)

    def bands(self, first: float, others: float) -> list[Band]:
        """Return the drawing in parts of at most these heights, the first and the others; cut where it may be."""
        ends, top, room = [], 0.0, first
        for cut, after in itertools.pairwise((*self.cuts, self.height)):
            if after - top > room and cut > top:
                ends.append(cut)
                top, room = cut, others
        edges = [0.0, *ends, self.height]
        return [self._band(top, bottom) for top, bottom in itertools.pairwise(edges)]

    def _band(self, top: float, bottom: float) -> Band:
        inside = [group for group in self.groups if group.part or top - _REACH <= group.y < bottom + _REACH]
        return Band(top, bottom - top, inside)
