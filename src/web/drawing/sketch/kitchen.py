"""A kitchen's circuit: the board, the box, the taps and the cooking appliances."""

from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen

_HEIGHT, _MIDDLE, _APART = 300.0, 150.0, 92.0
_GATHERED = 0.45  # how far the taps' conductors spread at the box, of how far they do at the appliances


class Cooker(NamedTuple):
    """An appliance: range, oven or cooktop; its name and plate; its tap in words, "" where it has the circuit alone."""

    kind: str
    name: str
    tap: str = ""
    carries: str = ""


class Kitchen(NamedTuple):
    """A kitchen's circuit in words. beneath: of the neutral, why it is so small."""

    iec: bool
    board: str
    device: str
    conductor: str
    carries: str
    neutral: str
    beneath: str
    ground: str
    amps: str
    cookers: Sequence[Cooker]


def kitchen(seen: Kitchen) -> Drawing:
    """Return the kitchen drawn: its box tapped, or one appliance alone."""
    tapped = bool(seen.cookers[0].tap)
    more = max(len(seen.cookers) - 3, 0) * _APART / 2 if tapped else 0.0  # room over and under what three fill
    pen = Pen(_HEIGHT + 2 * more)
    middle = _MIDDLE + more
    _board(pen, seen, middle)
    pen.line("cable", f"M104 {middle:g}H382", 54)
    pen.line("core", f"M102 {middle - 30:g}H378M102 {middle - 6:g}H114V{middle - 18:g}H378")
    end = 378 if tapped else 560
    pen.line("neutral", f"M114 {middle + 8:g}H{end}")
    pen.line("neutral-core", f"M114 {middle + 8:g}H{end}")
    pen.line("earth", f"M114 {middle + 24:g}H{378 if tapped else 580}")
    pen.say("big", 236, middle - 76, f"2 × {seen.conductor}", "mid", room=240)
    pen.say("note", 236, middle - 56, seen.carries, "mid", room=240)
    pen.say("note", 128, middle + 58, seen.neutral, room=112)
    pen.say("note", 128, middle + 76, seen.beneath)
    pen.say("earthword", 250, middle + 58, seen.ground, room=124)
    if tapped:
        _taps(pen, seen.cookers, middle)
    else:
        _alone(pen, seen, middle)
    return pen.drawing()


def _board(pen: Pen, seen: Kitchen, middle: float) -> None:
    pen.say("strong", 18, middle - 122, seen.board, room=96)
    pen.box("box", 18, middle - 110, 96, 196)
    pen.line("core-thin", f"M32 {middle - 98:g}V{middle + 74:g}M44 {middle - 98:g}V{middle + 74:g}")
    for y in (-98, -68, 12, 42):
        pen.box("way", 58, middle + y, 44, 20)
    pen.box("way-on", 58, middle - 40, 44, 20)
    pen.box("way-on", 58, middle - 16, 44, 20)
    pen.line("ink", f"M70 {middle - 30:g}H90M70 {middle - 6:g}H90M80 {middle - 34:g}V{middle - 2:g}")
    pen.line("core-thin", f"M32 {middle - 30:g}H58M44 {middle - 6:g}H58")
    pen.say("note", 18, middle + 106, _("%(device)s, two poles tied") % {"device": seen.device}, room=200)


def _taps(pen: Pen, cookers: Sequence[Cooker], middle: float) -> None:
    pen.say("strong", 410, middle - 76, _("box"), "mid")
    pen.box("box", 378, middle - 66, 64, 132)
    pen.line(
        "core",
        f"M398 {middle - 42:g}V{middle + 42:g}M420 {middle - 34:g}V{middle + 50:g}"
        f"M378 {middle - 30:g}H420M378 {middle - 18:g}H398",
    )
    pen.dots("copper-dot", 4.5, (398, middle - 18), (420, middle - 30))
    for at, cooker in enumerate(cookers):
        y = middle + (at - (len(cookers) - 1) / 2) * _APART
        upper, lower = (
            toward + (end - toward) * _GATHERED for toward, end in ((middle - 4, y - 4), (middle + 4, y + 4))
        )
        pen.line("cable", f"M442 {upper:.1f}L478 {y:.1f}H580", 22)
        pen.line("core-thin", f"M420 {upper:.1f}H442L478 {y - 4:.1f}H580M398 {lower:.1f}H442L478 {y + 4:.1f}H580")
        pen.dots("copper-dot", 3.5, (420, upper), (398, lower))
        pen.say("strong", 470, y - 16, cooker.tap, room=112)
        pen.say("note", 496, y + 26, cooker.carries, room=86)
        pen.say("strong", 624, y - 33, cooker.name, "mid", room=124)
        _cooker(pen, cooker.kind, 584, y - 27)


def _alone(pen: Pen, seen: Kitchen, middle: float) -> None:
    cooker = seen.cookers[0]
    pen.wires((middle - 30, middle - 18), 378, 560)
    pen.say("strong", 624, middle - 58, cooker.name, "mid", room=124)
    _cooker(pen, cooker.kind, 582, middle - 34)
    pen.say("copper", 480, middle - 42, f"{seen.amps} ⟶", "mid")


def _cooker(pen: Pen, kind: str, x: float, y: float) -> None:
    """Draw a cooktop's four plates, or an oven's door; a range has knobs for both."""
    pen.box("box", x, y, 80, 52)
    if kind == "cooktop":
        for dx, dy, r in ((22, 17, 9), (58, 15, 7), (22, 39, 7), (58, 37, 10)):
            pen.dots("ink", r, (x + dx, y + dy))
        return
    pen.dots("joint", 3, (x + 14, y + 8), (x + 26, y + 8))
    pen.box("ink", x + 12, y + 15, 56, 31)
    pen.line("core-thin", "".join(f"M{x + dx:g} {y + 40:g}q-4 -5 0 -9t0 -9" for dx in (26, 40, 54)))
    if kind == "range":
        pen.dots("ink", 3.5, (x + 50, y + 8), (x + 62, y + 8))
