"""A service: the utility's transformer, the conductors, the disconnect, what goes to earth."""

from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen

_LINES_AT = {1: (94,), 2: (87, 101), 3: (80, 94, 108)}


class Service(NamedTuple):
    """A service in words; neutral, electrode: "" where there is none."""

    kva: str
    system: str
    lines: int
    conductor: str
    amps: str
    neutral: str
    device: str
    electrode: str


def service(seen: Service) -> Drawing:
    """Return the service drawn."""
    pen = Pen(204)
    ys = _LINES_AT[seen.lines]
    pen.dots("ink", 26, (60, 92), (92, 92))
    pen.say("strong", 76, 46, seen.kva, "mid")
    pen.say("note", 76, 150, seen.system, "mid")
    pen.wires(ys, 118, 440)
    if seen.neutral:
        pen.line("neutral", "M92 118V132H440")
        pen.line("neutral-core", "M92 118V132H440")
        pen.say("note", 280, 156, _("neutral %(size)s") % {"size": seen.neutral}, "mid", room=300)
    pen.say("big", 280, 66, _("%(size)s each line") % {"size": seen.conductor}, "mid", room=310)
    pen.say("copper", 280, 42, f"{seen.amps} ⟶", "mid")
    pen.box("box", 440, 56, 130, 100)
    pen.line("ink", "".join(f"M470 {y:g}L500 {y - 12:g}" for y in ys))
    pen.say("big", 505, 46, seen.device, "mid")
    pen.line("earth", "M500 156V184H600")
    pen.say("earthword", 606, 189, seen.electrode)
    return pen.drawing()
