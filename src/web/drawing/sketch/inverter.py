"""An inverter, its breaker, and the board that it feeds."""

from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen

_THREE = 3


class Inverter(NamedTuple):
    """An inverter's circuit in words; main, busbar: of its board, "" where not entered; said: lines beside it."""

    board: str
    main: str
    busbar: str
    device: str
    phases: int
    amps: str
    conductor: str
    ground: str
    said: Sequence[str]


def inverter(seen: Inverter) -> Drawing:
    """Return the inverter and its board drawn."""
    pen = Pen(272)
    pen.say("strong", 18, 26, seen.board, room=170)
    pen.box("box", 18, 38, 176, 206)
    pen.line("busbar", "M106 74V206")
    for at, text in enumerate((_("busbar"), seen.busbar)):
        pen.say("note", 116, 138 + 18 * at, text, room=74)
    pen.box("way-on", 56, 50, 100, 24)
    pen.say("word", 106, 67, f"{_('main')} {seen.main}".strip(), "mid", room=96)
    for y in (96, 122, 148):
        pen.box("way", 36, y, 50, 18)
    pen.box("way-on", 56, 206, 100, 26)
    pen.say("strong", 106, 224, seen.device, "mid")
    pen.say("note", 24, 198, _("far end"), room=78)
    pen.wires((212, 219, 226) if seen.phases == _THREE else (212, 226), 156, 470)
    pen.say("copper", 320, 202, f"⟵ {seen.amps}", "mid")
    lines = _THREE if seen.phases == _THREE else 2
    pen.say("big", 320, 180, f"{lines} × {seen.conductor}" if seen.conductor else "", "mid", room=290)
    pen.line("earth", "M180 248H560V236")
    pen.say("earthword", 330, 267, seen.ground, "mid")
    pen.box("box", 470, 150, 150, 86)
    pen.line("ink", "M490 220L600 166M500 178h22M568 214q6 -10 12 0t12 0")
    pen.say("strong", 545, 140, _("Inverter"), "mid")
    for at, text in enumerate(seen.said):
        pen.say("note", 214, 62 + 20 * at, text)
    return pen.drawing()
