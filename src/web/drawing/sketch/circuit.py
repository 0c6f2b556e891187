"""A circuit as it is wired: the board with its breaker, the conductors, the load."""

from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen

_THREE = 3


class Circuit(NamedTuple):
    """A circuit in words: where it comes from, its device, conductors, ground; what it feeds.

    lines: how many conductors carry; drop, length, amps, plate: "" where not known
    """

    iec: bool
    board: str
    volts: str
    lines: int
    device: str
    conductor: str
    ground: str
    load: str
    amps: str = ""
    plate: str = ""
    length: str = ""
    drop: str = ""


def circuit(seen: Circuit) -> Drawing:
    """Return the circuit drawn."""
    pen = Pen(214)
    ys = (92, 108, 124) if seen.lines == _THREE else (96, 116)
    pen.say("strong", 18, 34, seen.board, room=92)
    pen.say("note", 18, 52, seen.volts)
    pen.box("box", 18, 64, 92, 126)
    pen.line("busbar", "M32 74V180")
    pen.wires(ys, 32, 560)
    pen.breakers(seen.iec, 70, ys)
    pen.line("earth", "M64 168H600V148")
    pen.box("earth-dot", 52, 162, 22, 12)
    pen.say("big", 128, 62, seen.device, room=100)
    pen.say("big", 340, 62, f"{seen.lines} × {seen.conductor}", "mid", room=290)
    if seen.length:
        pen.line("soft", "M118 22H290M390 22H556M118 17V27M556 17V27")
        pen.say("strong", 340, 27, seen.length, "mid", room=96)
    pen.say("copper", 470, 84, f"{seen.amps} ⟶" if seen.amps else "", "mid")
    pen.say("note", 340, 146, _("drop %(drop)s") % {"drop": seen.drop} if seen.drop else "", "mid")
    pen.say("earthword", 340, 194, seen.ground, "mid")
    pen.box("box", 560, 76, 92, 72)
    pen.say("strong", 606, 108, seen.load, "mid", room=88)
    pen.say("note", 606, 128, seen.plate, "mid", room=88)
    return pen.drawing()
