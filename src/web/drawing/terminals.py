"""The terminals of a transformer: what a person wires, what the maker joined inside, what is bonded; sizes on each.

By label, since real terminals stand elsewhere. Three coils a side for three phases; for one the halves of each
winding, in series or parallel as its volts ask.
"""

import math
from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing, Group, Shape
from web.words.figures import write

WIDTH, HEIGHT = 690.0, 458.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 150.0, 556.0, 34.0, 446.0
_BAR_X, _X0 = 172.0, 236.0
_HIGH_Y, _LOW_Y, _CORE_Y = 118.0, 316.0, 226.0
_COIL, _R = 46.0, 15.0
_MOST_DRAWN = 2  # parallel conductors that are drawn; more are told
_TAP_ROOM = 38.0


class Side(NamedTuple):
    """What a person brings to one side: device and conductors in words, sets in parallel, length, what runs with them.

    neutral, ground: in words; "" for none
    """

    device: str
    lines: str
    sets: int = 1
    length: str = ""
    neutral: str = ""
    ground: str = ""


class Wired(NamedTuple):
    """A transformer as it is wired: windings, volts, taps, both sides, and its bonds in words ("" for none).

    neutral_v: of its secondary to its neutral, None where it has none; taps: per cent of turns, the most first
    jumper_here: whether the one bond is made here, not at the first disconnect
    """

    phases: int
    primary: str
    secondary: str
    primary_v: float
    secondary_v: float
    neutral_v: float | None
    before: Side
    behind: Side
    taps: Sequence[float] = ()
    tap: float = 0.0
    taps_on: str = "primary"
    jumper: str = ""
    supply_side: str = ""
    electrode: str = ""
    jumper_here: bool = True


def terminals(unit: Wired) -> Drawing:
    """Return the drawing of a transformer's terminals."""
    artist = _Artist(unit)
    artist.frame()
    if unit.phases == len(_THREE):
        artist.three()
    else:
        artist.single()
    artist.bonds()
    artist.legend()
    return Drawing(WIDTH, HEIGHT, [Group("terminals", _("Terminals"), 0.0, 0.0, tuple(artist.shapes))])


_THREE = (300.0, 400.0, 500.0)
_ROW = 23.0  # from one secondary line to the next, with its words between


class _Artist:
    def __init__(self, unit: Wired) -> None:
        self.unit = unit
        self.shapes: list[Shape] = []

    def draw(self, look: str, d: str, width: float = 0.0) -> None:
        self.shapes.append(Shape(look, d=d, width=width))

    def text(self, x: float, y: float, words: str, look: str = "value") -> None:
        if words:
            self.shapes.append(Shape(look, x, y, text=words))

    def terminal(self, x: float, y: float, name: str) -> None:
        self.shapes += [Shape("terminal", x, y, r=_R), Shape("letter", x, y + 4, text=name)]

    # Around

    def frame(self) -> None:
        unit = self.unit
        self.draw("case", f"M{_LEFT} {_TOP}H{_RIGHT}V{_BOTTOM}H{_LEFT}Z")
        self.text(_LEFT + 8, _TOP + 15, _("enclosure"))
        self.draw("line", f"M270 {_CORE_Y}H530M270 {_CORE_Y + 5}H530")
        self.text(536, _CORE_Y + 7, _("core"))
        self.text(4, 16, _("from {device}").format(device=unit.before.device))
        self.text(4, 33, unit.before.lines, "name")
        self.text(4, 50, unit.before.length)
        self.text(_RIGHT + 8, _LOW_Y - 26, _("to {device}").format(device=unit.behind.device))
        self.text(_RIGHT + 8, _LOW_Y - 9, unit.behind.length)

    def legend(self) -> None:
        x, y = _RIGHT + 8, 60.0
        for look, words in (("wire", _("you wire")), ("made", _("made inside")), ("earth", _("bond, ground"))):
            self.draw(look, f"M{x} {y}h24", 5 if look == "wire" else 0)
            self.text(x + 30, y + 4, words)
            y += 20

    # Windings

    def three(self) -> None:
        unit = self.unit
        self._lines_in(_THREE, ("H1", "H2", "H3"))
        for x in _THREE:
            self._coil(x, _HIGH_Y + _R, "primary")
        self._joined(_THREE, _HIGH_Y, _HIGH_Y + _R + _COIL, unit.primary)
        self._coil_volts(_THREE[0] - 12, _HIGH_Y + 46, unit.primary, unit.primary_v)
        for x in _THREE:
            self._coil(x, _LOW_Y - _R - _COIL, "secondary")
        self._joined_low(unit.secondary)
        self._lines_out(_THREE, ("X1", "X2", "X3"))
        self._coil_volts(_THREE[0] - 12, _LOW_Y - 36, unit.secondary, unit.secondary_v)
        between = (_THREE[1] + _THREE[2]) / 2
        self.text(between - 18, _LOW_Y + 4, f"{write(unit.secondary_v, 0)} V", "value")
        if unit.neutral_v:
            self.text(_X0 + 20, _LOW_Y + 4, f"{write(unit.neutral_v, 0)} V", "value")

    def _lines_in(self, places: Sequence[float], names: Sequence[str]) -> None:
        for at, (x, name) in enumerate(zip(places, names, strict=True)):
            y = 66 + (len(places) - 1 - at) * 11
            self.draw("wire", f"M4 {y}H{x}V{_HIGH_Y - _R}", 4.5)
            self.terminal(x, _HIGH_Y, name)

    def _lines_out(self, places: Sequence[float], names: Sequence[str]) -> None:
        """Draw each secondary line to the right, as many as are in parallel, with its name and size at its end."""
        unit = self.unit
        drawn = min(unit.behind.sets, _MOST_DRAWN)
        gap = 5.0
        for at, (x, name) in enumerate(reversed(list(zip(places, names, strict=True)))):
            y = _LOW_Y + 27 + at * _ROW
            for each in range(drawn):
                dx = (each - (drawn - 1) / 2) * gap
                self.draw("wire", f"M{x + dx:g} {_LOW_Y + _R - 1}V{y + each * gap:g}H{WIDTH - 4}", 3.2)
            self.terminal(x, _LOW_Y, name)
            self.text(_RIGHT + 8, y - 4, f"{name}  {unit.behind.lines}", "name")

    def _coil(self, x: float, y: float, side: str) -> None:
        bumps = "q12 5.75 0 11.5" if side == "secondary" else "q-12 5.75 0 11.5"
        self.draw("line", f"M{x} {y}{bumps * 4}")
        unit = self.unit
        if unit.taps_on != side:
            return
        if unit.taps:
            step = _TAP_ROOM / max(len(unit.taps) - 1, 1)
            # The first tap is the most turns: furthest along the winding.
            for at, tap in enumerate(unit.taps):
                place = y + 4 + (len(unit.taps) - 1 - at) * step
                here = math.isclose(tap, unit.tap)
                self.draw("soft", f"M{x + 3} {place:g}h13")
                self.shapes.append(Shape("link-dot" if here else "dot", x + 19, place, r=4.6 if here else 2.6))
                if here:
                    self.text(x + 27, place + 4, f"{at + 1}", "copper")
        elif unit.tap:
            self.text(x + 12, y + 26, f"{write(unit.tap, 1)} %", "copper")

    def _joined(self, places: Sequence[float], top: float, bottom: float, how: str) -> None:
        """Draw what the maker joined of the primary: each coil's end to the next coil's beginning, or to one point."""
        one, two, three = places
        if how == "Y":
            self.draw("made", f"M{one} {bottom}V{bottom + 12}H{three}V{bottom}M{two} {bottom}V{bottom + 12}")
            return
        out = one - 44
        self.draw("made", f"M{one} {bottom}v9h50V{top}H{two - _R}")
        self.draw("made", f"M{two} {bottom}v9h50V{top}H{three - _R}")
        self.draw("made", f"M{three} {bottom}v17H{out}V{top}H{one - _R}")

    def _joined_low(self, how: str) -> None:
        one, two, three = _THREE
        top = _LOW_Y - _R - _COIL
        if how == "Y":
            self.draw(
                "made", f"M{_X0} {_LOW_Y - _R}V{top - 10}H{three}V{top}M{one} {top - 10}V{top}M{two} {top - 10}V{top}"
            )
            return
        low = _LOW_Y
        self.draw("made", f"M{two} {top}v-8h-50V{low}H{one + _R}")
        self.draw("made", f"M{three} {top}v-8h-50V{low}H{two + _R}")
        self.draw("made", f"M{one} {top}v-15H{three + 40}V{low}H{three + _R}")
        if self.unit.neutral_v:  # the winding from X3 round to X1 is tapped in its middle
            self.draw("made", f"M{_X0} {low - _R}V{top + _COIL / 2}H{one - 6}")

    def _coil_volts(self, x: float, y: float, how: str, volts: float) -> None:
        across = volts / math.sqrt(3) if how == "Y" and self.unit.phases == len(_THREE) else volts
        words = f"{write(across, 0)} V"
        self.text(x - 6.6 * len(words) + 4, y, words)

    # One phase

    def single(self) -> None:
        """Draw both halves of each winding: in series, or in parallel, as its volts ask; the joins are wired."""
        unit = self.unit
        for side, y, first in (("primary", _HIGH_Y, "H"), ("secondary", _LOW_Y, "X")):
            self._halves(side, y, first)
        places = (_SINGLE[0], _SINGLE[3])
        for at, x in enumerate(places):
            self.draw("wire", f"M4 {66 + (1 - at) * 14}H{x}V{_HIGH_Y - _R}", 4.5)
        self._out_single(places)
        for x, y, volts in ((184, _HIGH_Y + 52, unit.primary_v), (184, _LOW_Y - 42, unit.secondary_v)):
            each = volts / 2 if self._series(volts) else volts
            self.text(x, y, f"{write(each, 0)} V " + _("each half"))

    def _series(self, volts: float) -> bool:
        """Return whether the halves stand in series: of the two volts that such a winding has, the higher."""
        return volts >= _SERIES_FROM or bool(self.unit.neutral_v and volts == self.unit.secondary_v)

    def _halves(self, side: str, y: float, first: str) -> None:
        primary = side == "primary"
        volts = self.unit.primary_v if primary else self.unit.secondary_v
        one, two, three, four = _SINGLE
        for name, x in zip((1, 3, 2, 4), _SINGLE, strict=True):
            self.terminal(x, y, f"{first}{name}")
        turn = y + _R if primary else y - _R
        deep = turn + 34 if primary else turn - 34
        # Coils 1–2 and 3–4: their ends stand crossed, so that one link joins what must be joined.
        for begin, end, depth in ((one, three, deep), (two, four, deep + (16 if primary else -16))):
            third = (end - begin) / 5
            bump = "q7 -12 14 0" if primary else "q7 12 14 0"
            self.draw("line", f"M{begin} {turn}V{depth}h{third:g}{bump * 4}H{end}V{turn}")
        if self._series(volts):
            self.draw("link", f"M{two + _R} {y}H{three - _R}")
            words = _("{first}2 to {first}3: series").format(first=first)
        else:
            self.draw("link", f"M{one + _R} {y}H{two - _R}M{three + _R} {y}H{four - _R}")
            words = _("{first}1 to {first}3, {first}2 to {first}4: parallel").format(first=first)
        self.text(*((one + 22, y - 24) if primary else (three - 22, y + 34)), words, "copper")

    def _out_single(self, places: Sequence[float]) -> None:
        unit = self.unit
        drawn = min(unit.behind.sets, _MOST_DRAWN)
        for at, (x, name) in enumerate(((places[1], "X4"), (places[0], "X1"))):
            y = _LOW_Y + 44 + at * _ROW
            for each in range(drawn):
                dx = (each - (drawn - 1) / 2) * 5
                self.draw("wire", f"M{x + dx:g} {_LOW_Y + _R}V{y + each * 5:g}H{WIDTH - 4}", 3.2)
            self.text(_RIGHT + 8, y - 4, f"{name}  {unit.behind.lines}", "name")

    # Bonds

    def bonds(self) -> None:
        unit = self.unit
        bar_top, bar_bottom = 236.0, _BOTTOM - 10
        self.draw("bar", f"M{_BAR_X} {bar_top}V{bar_bottom}")
        self.draw("earth", f"M4 104H{_BAR_X}V{bar_top}")
        self.text(4, 122, _("ground {size}").format(size=unit.before.ground), "earthword")
        self.draw("earth", f"M{_BAR_X + 5} {bar_top + 10}H262V{_CORE_Y + 6}")
        self.draw("earth", f"M{_BAR_X} {bar_bottom - 40}H{_LEFT}")
        self.shapes.append(Shape("terminal", _LEFT, bar_bottom - 40, r=6))
        self.text(4, bar_bottom - 36, _("enclosure bond"))
        if unit.behind.neutral:
            self._neutral()
        y = _BOTTOM - 8
        if unit.behind.ground:
            for each in range(min(unit.behind.sets, _MOST_DRAWN)):
                self.draw("earth", f"M{_BAR_X} {y - each * 6}H{WIDTH - 4}")
                self.shapes.append(Shape("bushing", _RIGHT, y - each * 6, r=4))
            self.text(_RIGHT + 8, HEIGHT - 1, _("bond {size}").format(size=unit.behind.ground), "earthword")
        if unit.electrode and unit.jumper_here:
            foot = bar_bottom - 10
            self.draw("bond", f"M{_BAR_X} {foot}H70V{foot + 14}", 4)
            self.draw("line", f"M54 {foot + 14}H86M59 {foot + 19}H81M64 {foot + 24}H76")
            self.text(4, foot - 6, unit.electrode, "earthword")
        elif unit.electrode:
            self.text(4, bar_bottom - 12, _("electrode at the disconnect"), "value")

    def _neutral(self) -> None:
        unit = self.unit
        single = unit.phases != len(_THREE)
        x, y = (_MIDDLE, _LOW_Y) if single else (_X0, _LOW_Y)
        if not single:
            self.terminal(x, y, "X0")
        out = _BOTTOM - 34
        for each in range(min(unit.behind.sets, _MOST_DRAWN)):
            d = f"M{x + each * 5:g} {y + (0 if single else _R)}V{out + each * 6:g}H{WIDTH - 4}"
            self.shapes += [Shape("neutral", d=d), Shape("neutral-core", d=d)]
        self.text(_RIGHT + 8, out - 4, f"N  {unit.behind.neutral}", "name")
        if unit.jumper and unit.jumper_here:
            level = y if not single else y + 34
            end = x - (_R if not single else 0)
            self.draw("bond", f"M{_BAR_X + 5} {level}H{end}", 7)
            self.text(4, level - 16, _("system bonding"), "earthword")
            self.text(4, level + 1, _("jumper {size}").format(size=unit.jumper), "earthword")
            self.draw("soft", f"M118 {level - 8}L{_BAR_X + 16} {level - 2}")
        elif unit.jumper:
            self.text(4, _LOW_Y - 12, _("neutral kept off the"), "value")
            self.text(4, _LOW_Y + 4, _("steel here: bonded at"), "value")
            self.text(4, _LOW_Y + 20, _("the first disconnect"), "value")


_SINGLE = (280.0, 352.0, 424.0, 496.0)  # H1 H3 H2 H4
_MIDDLE = 388.0  # between the two that are joined
_SERIES_FROM = 240.0
