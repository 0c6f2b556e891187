"""A three-wire ladder drawn to scale: heights are volts, strokes amperes; whole, and with its neutral opened below."""

from collections.abc import Sequence

from django.utils.translation import gettext as _

from voltaje.physics.ladder import Found
from web.drawing.shapes import Drawing, Group, Shape
from web.words.figures import write

_TOP, _REACH, _PANEL = 42.0, 102.0, 300.0  # of a panel: its title, from the middle to a line, its height
_SOURCE_X, _FIRST, _PITCH = 66.0, 210.0, 158.0
_LEAST_WIDTH = 620.0
_BOX_W, _BOX_SHARE = 13.0, 0.44
_WIDEST = 9.0
_QUIET_A = 0.005
_BOTH, _OPEN = 2, 0.5
_OHMS = ("line1_ohm", "neutral_ohm", "line2_ohm")


class Loads:
    """What hangs on a ladder, in words: names by section and side; and which volts are out of their band.

    straight: whether the lines are half a turn apart, so that volts and amperes have signs
    """

    def __init__(
        self, names: Sequence[tuple[str, str]], nominal: tuple[float, float], band: tuple[float, float], straight: bool
    ) -> None:
        self.names, self.nominal, self.band, self.straight = names, nominal, band, straight

    def out(self, side: int, volts: float) -> bool:
        """Return whether volts lie outside the band."""
        low, high = self.band
        return not self.nominal[side] * (1 - low) <= volts <= self.nominal[side] * (1 + high)


def ladder_drawing(whole: Sequence[Found], loads: Loads, opened: Sequence[Found] | None, at: int | None) -> Drawing:
    """Return the ladder; opened: with its neutral open in section `at`, None for none."""
    groups = [_panel("whole", _("Neutral whole"), whole, loads, 0.0, None)]
    if opened is not None and at is not None:
        title = _("Neutral opened in section %(at)s") % {"at": at + 1}
        groups.append(_panel("opened", title, opened, loads, _PANEL, at))
    return Drawing(_width(whole), _PANEL * len(groups), groups)


def _width(found: Sequence[Found]) -> float:
    """Return how wide a ladder is drawn: a short one still has room for its title with the note beside it."""
    return max(_FIRST + _PITCH * len(found) - 40, _LEAST_WIDTH)


def _panel(key: str, title: str, found: Sequence[Found], loads: Loads, top: float, opened: int | None) -> Group:
    scale = _REACH / max(loads.nominal)
    middle = top + _TOP + _REACH + 10
    most = max((abs(amps) for each in found for amps in (each.line1, each.neutral, each.line2)), default=1.0) or 1.0
    note = _("heights are volts, strokes amperes")
    if opened is not None:
        note = _("same scale: a long load has too many volts, a short one too few")
    shapes = [
        Shape("wrong-word" if opened is not None else "name", 12, top + 20, text=title),
        Shape("label-end", _width(found) - 10, top + 20, text=note),
    ]
    shapes += _source(loads, scale, middle)
    before = [loads.nominal[0], 0.0, -loads.nominal[1]]
    for number, each in enumerate(found):
        start = _SOURCE_X + 12 if number == 0 else _FIRST + _PITCH * (number - 1)
        end = _FIRST + _PITCH * number
        here = _heights(each, loads.straight)
        shapes += _wires(
            each, (start, end), (before, here), (scale, middle, most), number == opened, number, loads.straight
        )
        shapes += _hung(each, end, here, scale, middle, loads, number)
        before = here
    return Group(key, title, 0, top, tuple(shapes))


def _heights(each: Found, straight: bool) -> list[float]:
    """Return where the three wires stand [V]; lines that are not half a turn apart by their size."""
    if straight:
        return [place.real for place in each.at]
    return [abs(each.at[0]), 0.0, -abs(each.at[2])]


def _flows(each: Found, straight: bool) -> tuple[float, float, float]:
    """Return what flows in the three wires toward the loads, to the right in the drawing [A]."""
    if straight:
        return each.line1.real, each.neutral.real, -each.line2.real
    return abs(each.line1), -abs(each.neutral), -abs(each.line2)


def _source(loads: Loads, scale: float, middle: float) -> list[Shape]:
    over, under = middle - loads.nominal[0] * scale, middle + loads.nominal[1] * scale
    shapes = [Shape("line", 0, 0, d=f"M{_SOURCE_X} {over}V{under}")]
    for side, y in ((0, (over + middle) / 2), (1, (middle + under) / 2)):
        shapes += [
            Shape("terminal", _SOURCE_X, y, r=14),
            Shape("line", _SOURCE_X - 8, y, d="M0 0q4 -8 8 0q4 8 8 0"),
            Shape("label-end", _SOURCE_X - 20, y + 5, text=f"{write(loads.nominal[side], 0)} V"),
        ]
    for name, y in (("L1", over), ("N", middle), ("L2", under)):
        shapes += [Shape("terminal", _SOURCE_X, y, r=11), Shape("letter", _SOURCE_X, y + 4, text=name)]
    return shapes


def _wires(
    each: Found,
    ends: tuple[float, float],
    volts: tuple[list[float], list[float]],
    how: tuple[float, float, float],
    opened: bool,
    number: int,
    straight: bool,
) -> list[Shape]:
    (start, end), (before, here), (scale, middle, most) = ends, volts, how
    shapes: list[Shape] = []
    centre = (start + end) / 2 + (20 if abs(each.amps[2]) <= _QUIET_A else -8)
    flows = _flows(each, straight)
    for wire, amps in enumerate(flows):
        field = f"sections[{number}].{_OHMS[wire]}"
        y0, y1 = middle - before[wire] * scale, middle - here[wire] * scale
        width = 1.4 + (_WIDEST - 1.4) * abs(amps) / most
        label_y = (y0 + y1) / 2 - width / 2 - 6 if wire < _BOTH else (y0 + y1) / 2 + width / 2 + 16
        if wire == 1 and opened:
            shapes += _broken(start, end, y0, y1)
            continue
        d = f"M{start:.1f} {y0:.1f}L{end:.1f} {y1:.1f}"
        if wire == 1:
            shapes += [
                Shape("neutral", d=d, width=max(width, 4.0)),
                Shape("neutral-core", d=d, width=max(width - 3, 1.2)),
            ]
        else:
            shapes.append(Shape("wire", d=d, width=width))
        if abs(amps) > _QUIET_A:
            shapes.append(_head(centre, (y0 + y1) / 2, amps > 0, width, wire))
        shapes.append(Shape("letter-big", centre, label_y, text=f"{write(abs(amps), 1)} A", field=field))
    return shapes


def _head(x: float, y: float, right: bool, width: float, wire: int) -> Shape:
    size = max(5.0, width * 0.62)
    way = size if right else -size
    look = "fill-black" if wire == 1 else "dot"
    return Shape(look, x, y, d=f"M{-way:.1f} {-size:.1f}L{way:.1f} 0L{-way:.1f} {size:.1f}Z")


def _broken(start: float, end: float, y0: float, y1: float) -> list[Shape]:
    x = start + (end - start) * _OPEN
    cross = "M-7 -7L7 7M-7 7L7 -7"
    return [
        Shape("neutral", d=f"M{start:.1f} {y0:.1f}H{x - 10:.1f}", width=4),
        Shape("neutral", d=f"M{x + 14:.1f} {y1:.1f}H{end:.1f}", width=4),
        Shape("wrong", x - 10, y0, d=cross, width=2.6),
        Shape("wrong", x + 14, y1, d=cross, width=2.6),
        Shape("wrong", d=f"M{x - 10:.1f} {y0:.1f}L{x + 14:.1f} {y1:.1f}", width=1.4),
        Shape("wrong-word", x - 34, min(y0, y1) - 12, text=_("open")),
    ]


def _hung(
    each: Found, x: float, here: list[float], scale: float, middle: float, loads: Loads, number: int
) -> list[Shape]:
    shapes: list[Shape] = []
    ys = [middle - volts * scale for volts in here]
    for side in (0, 1):
        shapes.append(Shape("joint", x, ys[0 if side == 0 else 2], r=3.6))
        if abs(each.amps[side]) <= _QUIET_A:
            continue
        over, under = ys[side], ys[side + 1]
        volts, room = abs(each.volts[side]), (under - over) * (1 - _BOX_SHARE) / 2
        out = loads.out(side, volts)
        box = f"M{x - _BOX_W / 2:.1f} {over + room:.1f}h{_BOX_W}V{under - room:.1f}h{-_BOX_W}Z"
        shapes += [
            Shape("line", d=f"M{x:.1f} {over:.1f}V{under:.1f}"),
            Shape("wrong-box" if out else "terminal", d=box),
        ]
        shapes += _said(each, x, (over + under) / 2, under - over, (number, side), loads.names[number][side], out)
        shapes += [Shape("sign", x - 15, over + 18, text="+"), Shape("sign", x - 15, under - 8, text="−")]
    shapes.append(Shape("joint", x, ys[1], r=3.6))
    if abs(each.amps[2]) > _QUIET_A:
        d, at = f"M{x - 30:.1f} {ys[0]:.1f}V{ys[2]:.1f}", x - 36
        shapes += [
            Shape("line", d=d),
            Shape("terminal", d=f"M{at:.1f} {middle - 60:.1f}h12v34h-12Z"),
            Shape(
                "label-end",
                at - 4,
                middle - 36,
                text=f"{write(abs(each.amps[2]), 1)} A",
                field=f"sections[{number}].line_load_a",
            ),
        ]
    return shapes


def _said(each: Found, x: float, y: float, room: float, which: tuple[int, int], name: str, out: bool) -> list[Shape]:
    """Return what stands beside a load: its name, volts, amperes; in two lines where it is short."""
    number, side = which
    field = f"sections[{number}].load{side + 1}_a"
    volts = f"{write(abs(each.volts[side]), 1)} V" + (" ×" if out else " ✓")
    amps, look = f"{write(abs(each.amps[side]), 1)} A", "volts-out" if out else "volts"
    if room < _SHORT:
        return [
            Shape(look, x + 13, y + 1, text=volts),
            Shape("label", x + 13, y + 16, text=f"{name} · {amps}", field=field),
        ]
    return [
        Shape("label", x + 13, y - 14, text=name),
        Shape(look, x + 13, y + 5, text=volts),
        Shape("label", x + 13, y + 21, text=amps, field=field),
    ]


_SHORT = 64.0
