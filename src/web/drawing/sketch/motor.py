"""A motor's circuit: its parts in a row with what each guards; kinds of devices on a scale; other volts."""

from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.letters import apart, width_of
from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen
from web.drawing.sketch.scales import Log
from web.drawing.symbols import breaker_down
from web.words.figures import write

WIDTH = 676.0
_THREE_AT, _TWO_AT = (112, 126, 140), (112, 126)


class MotorCircuit(NamedTuple):
    """A motor's circuit in words; fuse: whether its device is one; apart: whether it guards short circuit alone.

    never_over: what the overload may be set to at most, "" where nobody asks; why: a sentence beneath
    """

    iec: bool
    board: str
    volts: str
    three: bool
    fuse: bool
    apart: bool
    device: str
    conductor: str
    run: str
    ground: str
    disconnect: str
    overload: str
    never_over: str
    output: str
    amps: str
    starts_at: str
    why: str


def motor_circuit(seen: MotorCircuit) -> Drawing:
    """Return the circuit drawn, and beneath it which device guards what."""
    pen = Pen(308, WIDTH)
    ys = _THREE_AT if seen.three else _TWO_AT
    _feed(pen, seen, ys)
    _disconnect(pen, seen, ys)
    _starter(pen, seen, ys)
    pen.dots("box", 43, (600, 126))
    pen.say("big", 600, 125, "M", "mid")
    pen.say("note", 600, 144, seen.output, "mid", room=80)
    pen.say("strong", 600, 40, _("Motor"), "mid")
    pen.say("note", 600, 57, seen.amps, "mid")
    pen.say("note", 600, 74, seen.starts_at, "mid")
    pen.dots("earth-dot", 4.5, (298, 190), (454, 190))
    pen.line("earth", "M298 190V172M454 190V172")
    pen.say("earthword", 172, 182, seen.ground, "mid", room=180)
    _guards(pen, seen)
    return pen.drawing()


def _feed(pen: Pen, seen: MotorCircuit, ys: Sequence[float]) -> None:
    pen.say("strong", 22, 40, seen.board, room=110)
    pen.say("note", 22, 57, seen.volts)
    pen.box("box", 20, 66, 76, 140)
    pen.line("earth", "M76 190H600V168")
    pen.box("earth-dot", 64, 184, 22, 12)
    for at, y in enumerate(ys):
        pen.line("busbar", f"M{34 + 12 * at} 76V{y + 6}")
        pen.wires((y,), 34 + 12 * at, 560)
    if seen.fuse:
        for y in ys:
            pen.box("box", 62, y - 5, 26, 10)
            pen.line("core-thin", f"M62 {y}H88")
    else:
        pen.breakers(seen.iec, 78, ys)
    pen.say("big", 172, 84, f"{len(ys)} × {seen.conductor}", "mid", room=172)
    pen.say("note", 172, 103, seen.run, "mid", room=168)


def _disconnect(pen: Pen, seen: MotorCircuit, ys: Sequence[float]) -> None:
    pen.say("strong", 298, 40, _("Disconnect"), "mid")
    pen.say("note", 298, 57, seen.disconnect, "mid", room=136)
    pen.box("box", 260, 66, 76, 106)
    pen.line("core-thin", "".join(f"M260 {y}H282M316 {y}H336" for y in ys))
    pen.line("ink", "".join(f"M282 {y}L314 {y - 14}" for y in ys))
    pen.line("made", "M298 84V134")
    pen.dots("joint", 3, *((x, y) for y in ys for x in (282, 316)))


def _starter(pen: Pen, seen: MotorCircuit, ys: Sequence[float]) -> None:
    pen.say("strong", 454, 22, _("Starter, overload"), "mid")
    pen.say("note", 454, 39, _("set %(amps)s") % {"amps": seen.overload}, "mid")
    pen.say("note", 454, 56, seen.never_over, "mid")
    pen.box("box", 400, 66, 108, 106)
    pen.line("core-thin", "".join(f"M400 {y}H418M430 {y}H452M476 {y}H508" for y in ys))
    pen.line("ink", "".join(f"M419 {y - 6}V{y + 6}M429 {y - 6}V{y + 6}" for y in ys))
    pen.line("ink", "".join(f"M452 {y}V{y - 5}H464V{y + 6}H476V{y}" for y in ys))


def _guards(pen: Pen, seen: MotorCircuit) -> None:
    """Draw what the device guards, and what the overload device does, as bars under the parts."""
    guards = _("guards the cable against overload and short circuit")
    if seen.apart:
        guards = _("guards against short circuit and ground fault, never against overload")
    pen.box("guard", 76, 216, 568, 26)
    pen.line("end", "M76 214V244M644 214V244")
    pen.say("strong", 88, 234, seen.device)
    pen.say("note", 98 + width_of(seen.device, "strong"), 234, guards, room=530 - width_of(seen.device, "strong"))
    pen.box("guard-earth", 454, 249, 190, 26)
    pen.line("end", "M454 247V277M644 247V277")
    pen.say("note", 444, 267, _("the overload device guards wire and motor"), "end")
    pen.say("strong", 464, 267, seen.overload)
    pen.say("note", 76, 298, seen.why)


class Reach(NamedTuple):
    """A kind of device: its key and name, the rating to take first and its ceiling [A], in per cent of what.

    sets: what a press on it puts into the form
    """

    sets: str
    name: str
    first_a: float
    most_a: float
    words: str
    chosen: bool


class Marks(NamedTuple):
    """Currents that are marked across the scale [A]; start: 0 where it is not known."""

    table: float
    wire: float
    start: float


_EDGE = 6.0
_ROW, _FIRST_ROW, _SCALE_LEFT, _SCALE_RIGHT = 50.0, 32.0, 206.0, 652.0


def reaches(kinds: Sequence[Reach], marks: Marks) -> Drawing:
    """Return the kinds of devices, each from what to take first to its ceiling; a press takes it."""
    bottom = _FIRST_ROW + _ROW * len(kinds) + 6
    pen = Pen(bottom + 24, WIDTH)
    top_a = max(1.25 * max(kind.most_a for kind in kinds), 1.05 * marks.start, 1.05 * marks.wire)
    scale = Log(marks.table * 0.7, top_a, _SCALE_LEFT, _SCALE_RIGHT)
    for tick in scale.ticks():
        pen.line("tick", f"M{scale.x(tick):.1f} 26V{bottom:g}")
        pen.say("note", scale.x(tick), bottom + 18, write(tick), "mid")
    _marks(pen, scale, marks, bottom)
    pen.behind()
    for at, kind in enumerate(kinds):
        y = _FIRST_ROW + _ROW * at
        first, most = scale.x(kind.first_a), scale.x(kind.most_a)
        pen.box("row-on" if kind.chosen else "row", 2, y, 672, 46)
        pen.say("strong", 14, y + 20, kind.name, room=_SCALE_LEFT - 20)
        pen.say("note", 14, y + 37, kind.words, room=_SCALE_LEFT - 20)
        pen.line("reached", f"M{scale.left:g} {y + 23:g}H{first:.1f}")
        pen.line("may", f"M{first:.1f} {y + 16:g}H{most:.1f}V{y + 30:g}H{first:.1f}Z")
        pen.dots("first-on" if kind.chosen else "first", 7, (first, y + 23))
        pen.line("end", f"M{most:.1f} {y + 12:g}V{y + 34:g}")
        pen.say("strong", first - 11, y + 28, f"{write(kind.first_a)} A", "end")
        if kind.most_a > kind.first_a:
            pen.say("note", most + 7, y + 28, write(kind.most_a))
        pen.group(kind.name, kind.name, "set", kind.sets, kind.chosen)
    return pen.drawing()


def _marks(pen: Pen, scale: Log, marks: Marks, bottom: float) -> None:
    """Draw the currents across the scale, their names so set that none lies on another."""
    table = _("table %(amps)s") % {"amps": write(marks.table, 1)}
    wire = _("wire %(amps)s") % {"amps": write(marks.wire)}
    start = _("start %(amps)s") % {"amps": write(marks.start)}
    found = [("mark-table", "note", marks.table, table), ("mark-wire", "earthword", marks.wire, wire)]
    found += [("mark-start", "wrong-word", marks.start, start)] if marks.start else []
    for line, _look, amps, _words in found:
        pen.line(line, f"M{scale.x(amps):.1f} 26V{bottom:g}")
    places = apart([(scale.x(amps), width_of(words, look)) for _line, look, amps, words in found], WIDTH - _EDGE)
    for (_line, look, _amps, words), x in zip(found, places, strict=True):
        pen.say(look, x, 18, words, "mid")


class Curve(NamedTuple):
    """A figure over volts: its name and look, its points [V, %]."""

    name: str
    look: str
    points: Sequence[tuple[float, float]]


_LEFT, _RIGHT, _ZERO, _HUNDRED = 50.0, 580.0, 188.0, 78.0
_APART = 15.0  # of the names at the curves' ends


def on_other_volts(curves: Sequence[Curve], rated_v: float, supply_v: float, said: str) -> Drawing:
    """Return current, heating and torque by volts, with the supply's volts marked and what they make there."""
    pen = Pen(176, WIDTH)
    first, last = curves[0].points[0][0], curves[0].points[-1][0]

    def x(volts: float) -> float:
        return _LEFT + (min(max(volts, first), last) - first) / (last - first) * (_RIGHT - _LEFT)

    def y(percent: float) -> float:
        return _ZERO + percent / 100 * (_HUNDRED - _ZERO)

    pen.line("soft", f"M{_LEFT:g} {_HUNDRED:g}H{_RIGHT:g}")
    pen.say("note", 6, _HUNDRED + 4, "100 %")
    pen.line("mark-table", f"M{x(rated_v):.1f} 26V150")
    pen.line("mark-start", f"M{x(supply_v):.1f} 26V150")
    for curve in curves:
        pen.line(curve.look, "M" + "L".join(f"{x(volts):.1f} {y(percent):.1f}" for volts, percent in curve.points))
    last_y = 0.0
    for curve in sorted(curves, key=lambda each: y(each.points[-1][1])):
        last_y = max(y(curve.points[-1][1]) + 4, last_y + _APART)
        pen.say("note", _RIGHT + 6, last_y, curve.name)
    here, there = f"{write(supply_v)} V", f"{write(rated_v)} V"
    pen.say("wrong-word", x(supply_v), 168, here, "mid")
    if abs(x(supply_v) - x(rated_v)) > (width_of(here, "wrong-word") + width_of(there, "note")) / 2 + 6:
        pen.say("note", x(rated_v), 168, there, "mid")
    half = width_of(said, "strong") / 2
    pen.say("strong", min(max(x(supply_v), half + 4), WIDTH - half - 4), 18, said, "mid")
    return pen.drawing()


class Fed(NamedTuple):
    """A motor behind a feeder in words."""

    name: str
    device: str
    amps: str
    many: int


_SHOWN, _FROM, _TO = 6, 190.0, 620.0


def motor_feeder(most: str, volts: str, conductor: str, needed: str, motors: Sequence[Fed], iec: bool) -> Drawing:
    """Return a feeder, its bus, and the motors that hang on it; of many the first six, and how many more."""
    pen = Pen(270)
    pen.wires((92,), 20, 120)
    pen.breakers(iec, 54, (92,))
    pen.say("big", 20, 62, most, room=280)
    pen.say("strong", 20, 126, volts)
    pen.say("note", 20, 144, conductor, room=144)
    pen.say("note", 20, 162, needed, room=144)
    pen.line("busbar", "M120 92H670")
    shown = motors[:_SHOWN]
    apart = (_TO - _FROM) / max(len(shown) - 1, 1)
    for at, motor in enumerate(shown):
        x = _FROM + at * apart
        pen.line("core-thin", f"M{x:.1f} 92V176")
        pen.put(breaker_down(iec), x, 124)
        pen.say("note", x + 14, 129, motor.device)
        pen.dots("box", 25, (x, 200))
        pen.say("strong", x, 205, f"M ×{motor.many}" if motor.many > 1 else "M", "mid")
        pen.say("word", x, 244, motor.name, "mid", room=apart - 6 if len(shown) > 1 else 0)
        pen.say("note", x, 261, motor.amps, "mid")
    if len(motors) > _SHOWN:
        pen.say("note", 680, 80, f"+ {len(motors) - _SHOWN}", "end")
    return pen.drawing()
