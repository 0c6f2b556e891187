"""A load between its lines, with its amperes, kVA and kW."""

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen


def between_lines(volts: str, amps: str, kva: str, kw: str, three: bool) -> Drawing:
    """Return a load between two lines or three: the same current in each."""
    pen = Pen(210)
    ys, low, high = ((70, 110, 150), 56, 166) if three else ((84, 136), 70, 150)
    pen.say("strong", 20, 34, f"{volts}, 3 ph" if three else volts)
    pen.line("busbar", f"M60 {low}V{high}")
    pen.wires(ys, 60, 500)
    for at, y in enumerate(ys):
        back = not three and at
        pen.say("big", 240, y + (22 if back else -9), f"⟵ {amps}" if back else f"{amps} ⟶")
    top, next_y = ys[0], ys[1]
    pen.line(
        "soft",
        f"M110 {top}V{next_y}M104 {top + 6}L110 {top}L116 {top + 6}M104 {next_y - 6}L110 {next_y}L116 {next_y - 6}",
    )
    pen.say("note", 122, (top + next_y) / 2 + 5, volts)
    pen.box("box", 500, 56, 140, 110)
    pen.say("big", 570, 100, kva, "mid", room=134)
    pen.say("note", 570, 124, kw, "mid", room=134)
    formula = _("A = kVA × 1,000 ÷ (√3 × V)") if three else _("A = kVA × 1,000 ÷ V")
    pen.say("note", 20, 198, formula)
    return pen.drawing()
