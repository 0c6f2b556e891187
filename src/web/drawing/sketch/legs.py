"""Legs beside each other: now and after, on one supply and another; arrows on conductors."""

from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.legs import mark
from web.drawing.letters import width_of
from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import WIDTH, Pen
from web.drawing.sketch.scales import Even
from web.words.figures import write


class Leg(NamedTuple):
    """A leg: its name and colour, its amperes, and what they were before."""

    name: str
    hue: str
    amps: float
    before: float = 0.0


_ROW, _SPARE = 62.0, 48.0  # words that a line would cross are moved on by up to so much


def _words(amps: float) -> str:
    return f"{write(amps, 1)} A"


def now_and_after(legs: Sequence[Leg], bound_a: float) -> Drawing:
    """Return each leg now and after; dashed what no assignment brings the fullest leg under."""
    pen = Pen(_ROW * len(legs) + 12)
    rows = [(amps, _words(amps), "strong") for leg in legs for amps in (leg.amps, leg.before)]
    scale = Even([*rows, (bound_a, "", "strong")], left=92, spare=_SPARE)
    bound = scale.x(bound_a)
    pen.line("limit", f"M{bound:.1f} 4V{_ROW * len(legs) + 6:g}")
    for at, leg in enumerate(legs):
        y = _ROW * at
        pen.put([mark(leg.name, 24, y + 34, leg.hue)])
        pen.say("strong", 38, y + 39, leg.name)
        pen.line(f"wire-{leg.hue} faded", f"M92 {y + 22:g}H{scale.x(leg.before):.1f}", 13)
        pen.line(f"wire-{leg.hue}", f"M92 {y + 45:g}H{scale.x(leg.amps):.1f}", 17)
        for look, amps, below in (("note", leg.before, 27), ("strong", leg.amps, 51)):
            pen.say(look, _clear(scale.x(amps) + 8, _words(amps), look, bound), y + below, _words(amps))
    return pen.drawing()


def _clear(x: float, text: str, look: str, line: float) -> float:
    """Return where words begin, moved on where a line would cross them."""
    crossed = x - 2 < line < x + width_of(text, look) + 2
    return line + 6 if crossed else x


def two_supplies(single_a: float, limit_a: float, system: str, legs: Sequence[Leg]) -> Drawing:
    """Return a single phase and three phases beside each other, with what a single phase can be had for."""
    pen = Pen(34.0 * len(legs) + 128)
    rows = [(single_a, _words(single_a), "strong"), *((leg.amps, _words(leg.amps), "strong") for leg in legs)]
    scale = Even([*rows, (limit_a, "", "strong")], spare=_SPARE)
    limit = scale.x(limit_a)
    pen.say("strong", 14, 26, _("single phase"), room=130)
    pen.line("wire", f"M150 21H{scale.x(single_a):.1f}", 16)
    pen.line("limit", f"M{limit:.1f} 6V46")
    words = _words(single_a)
    pen.say("strong", _clear(scale.x(single_a) + 8, words, "strong", limit), 26, words)
    had = _("%(amps)s A to be had") % {"amps": write(limit_a)}
    pen.say("wrong-word", max(limit, 20 + width_of(had, "wrong-word")), 60, had, "end")
    pen.say("strong", 14, 96, system, room=130)
    pen.say("note", 150, 96, _("each leg, evened out"))
    for at, leg in enumerate(legs):
        y = 100 + 34 * at
        pen.say("strong", 110, y + 24, leg.name)
        pen.line(f"wire-{leg.hue}", f"M150 {y + 19:g}H{scale.x(leg.amps):.1f}", 15)
        pen.say("strong", scale.x(leg.amps) + 8, y + 24, _words(leg.amps))
    return pen.drawing()


_ARROW_FROM, _ARROW_REACH, _HEAD, _ARROW_ROW = 80.0, 500.0, 9, 30.0


def arrows(conductors: Sequence[Leg]) -> Drawing:
    """Return an arrow on each conductor, as long as its current: legs away from the source, the neutral toward it."""
    pen = Pen(_ARROW_ROW * len(conductors) + 14)
    most = max((each.amps for each in conductors), default=0.0) or 1.0
    for at, each in enumerate(conductors):
        y = _ARROW_ROW * at + 20
        pen.line("soft", f"M60 {y:g}H600")
        pen.say("strong", 20, y + 5, each.name)
        pen.line(f"wire-{each.hue}", _arrow(each.amps / most, y, back=each.name == "N"), 7)
        pen.say("note", WIDTH - 14, y + 5, _words(each.amps), "end")
    return pen.drawing()


def _arrow(share: float, y: float, *, back: bool) -> str:
    reach = _ARROW_REACH * share
    if reach < 1:
        return f"M80 {y:g}H80"
    start, end = (_ARROW_FROM + reach, _ARROW_FROM) if back else (_ARROW_FROM, _ARROW_FROM + reach)
    tip = -_HEAD if end > start else _HEAD
    return f"M{start:.1f} {y:g}H{end:.1f}m{tip} -7l{-tip} 7l{tip} 7"
