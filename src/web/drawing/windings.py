"""Coils as they are joined, and beside them their volts as phasors on a clock, to scale: A at twelve."""

import cmath
import math
from collections import Counter
from collections.abc import Mapping, Sequence
from itertools import product
from typing import NamedTuple

from django.utils.translation import gettext as _

from voltaje.design.windings.groups import Windings, reach
from voltaje.physics.windings import Coil, Wound
from web.drawing.legs import arrow
from web.drawing.shapes import Drawing, Group, Shape
from web.words.figures import write

WIDTH, HEIGHT = 690.0, 372.0
_LEFT, _RIGHT_HALF = 44.0, 348.0
_ROWS = {True: 62.0, False: 214.0}  # where coils of the side with the lines, and of the others, begin
_COIL, _TRACK, _BESIDE = 76.0, 9.0, 13.0
_CLOCK_X, _CLOCK_Y, _CLOCK_R, _REACH = 516.0, 190.0, 150.0, 128.0
_HUES = ("brown", "neutral", "blue", "black", "red", "orange")
_SMALL_SHARE = 0.25
_NARROW, _WIDE = 40.0, 104.0  # between coils of one core
_APART = 0.02  # of the diagram: nearer points are one
_HOURS = 12


_NO_WIRES: Mapping[str, str] = {}


class Place(NamedTuple):
    """Where a coil stands in the diagram."""

    x: float
    top: float
    hue: str


def windings_drawing(
    windings: Windings,
    found: Wound,
    high: Sequence[str],
    low: Sequence[str],
    wires: Mapping[str, str] = _NO_WIRES,
    live: bool = False,
) -> Drawing:
    """Return the winding diagram with the phasors beside it.

    wires: what comes to a terminal or leaves it, in words; live: terminals can be picked, coils turned round
    """
    cores = list(dict.fromkeys(coil.core for coil in windings.coils))
    hues = {core: _HUES[at % len(_HUES)] for at, core in enumerate(cores)}
    near = reach(windings, high)
    places = _placed(windings.coils, cores, hues, near)
    shapes = [Shape("name", 12, 20, text=_("How they are joined"))]
    for core in cores:
        xs = [places[coil.id].x for coil in windings.coils if coil.core == core]
        x = min(xs) - 15
        shapes += [
            Shape("core-bar", d=f"M{x:.1f} 58V{_ROWS[False] + _COIL + 8:.1f}", width=6),
            Shape("label", x - 6, HEIGHT - 8, text=core),
        ]
    shapes += _joints(windings, places)
    for coil in windings.coils:
        shapes += _coil(coil, places[coil.id], abs(found.coils[coil.id]))
        shapes += _wires(coil, places[coil.id], wires)
    groups = _phasors(windings, found, (high, low), hues, near)
    pressed = _pressed(windings, places) if live else []
    return Drawing(WIDTH, HEIGHT, [Group("windings", "", 0, 0, tuple(shapes)), *groups, *pressed])


def _pressed(windings: Windings, places: Mapping[str, Place]) -> list[Group]:
    """Return what can be pressed: each terminal, and the mark of each coil."""
    found = []
    shapes: tuple[Shape, ...]
    for coil in windings.coils:
        x, top, _hue = places[coil.id]
        for name, y in ((coil.start, top), (coil.end, top + _COIL)):
            shapes = (Shape("reach", x, y, r=_PRESSED_R), Shape("terminal", x, y, r=4.2))
            found.append(Group(name, _("Terminal %(name)s") % {"name": name}, 0, 0, shapes, "pick", "terminal"))
        title = _("Turn coil %(name)s round") % {"name": coil.id}
        shapes = (Shape("reach", x - 9, top + 30, r=_PRESSED_R),)
        found.append(Group(coil.id, title, 0, 0, shapes, "turn", "turnCoil"))
    for name, (x, y) in _points(windings, places).items():
        shapes = (Shape("reach", x, y, r=_PRESSED_R + 3),)
        found.append(Group(name, _("Terminal %(name)s") % {"name": name}, 0, 0, shapes, "pick", "terminal"))
    return found


def _placed(coils: Sequence[Coil], cores: Sequence[str], hues: dict[str, str], near: set[str]) -> dict[str, Place]:
    pitch = (_RIGHT_HALF - _LEFT - 20) / max(len(cores), 1)
    found: dict[str, Place] = {}
    taken: dict[tuple[str, bool], int] = {}
    slots = max(Counter((coil.core, coil.start in near) for coil in coils).values(), default=1)
    apart = min(max(pitch / slots, _NARROW), _WIDE)
    for coil in coils:
        row = coil.start in near
        slot = taken.setdefault((coil.core, row), 0)
        taken[coil.core, row] += 1
        found[coil.id] = Place(_LEFT + 20 + cores.index(coil.core) * pitch + slot * apart, _ROWS[row], hues[coil.core])
    return found


def _coil(coil: Coil, place: Place, volts: float) -> list[Shape]:
    x, top, hue = place
    turns = "".join(f"q11 {_COIL / 10:.1f} 0 {_COIL / 5:.1f}" for _each in range(5))
    return [
        Shape(f"wire-{hue}", d=f"M{x:.1f} {top:.1f}{turns}", width=2.4),
        Shape(f"fill-{hue}", x - 6, top + 5, r=3.6),
        Shape("terminal", x, top, r=3.4),
        Shape("terminal", x, top + _COIL, r=3.4),
        Shape("letter-big", x, top - 8, text=coil.start),
        Shape("letter", x, top + _COIL + 15, text=coil.end),
        Shape("label", x + 14, top + _COIL / 2 + 4, text=f"{write(volts, 0)} V"),
    ]


def _wires(coil: Coil, place: Place, wires: Mapping[str, str]) -> list[Shape]:
    ends = ((coil.start, place.top - 8), (coil.end, place.top + _COIL + 15))
    return [Shape("label", place.x + 14, y, text=wires[end]) for end, y in ends if end in wires]


def _joints(windings: Windings, places: dict[str, Place]) -> list[Shape]:
    """Return the joints as wires, each on a track of its own."""
    ends = _ends(windings, places)
    shapes, at = [], 0
    for one, other in windings.joints:
        if one in ends and other in ends:
            (x0, y0), (x1, y1) = ends[one], ends[other]
            track = (
                max(y0, y1) + 22 + (at % 4) * _TRACK
                if max(y0, y1) < _ROWS[False]
                else max(y0, y1) + 20 + (at % 4) * _TRACK
            )
            at += 1
            down = f"M{x0:.1f} {y0:.1f}{_aside(x0, y0)}V{track:.1f}"
            up = f"H{x1 + _BESIDE:.1f}V{y1:.1f}H{x1:.1f}" if _aside(x1, y1) else f"H{x1:.1f}V{y1:.1f}"
            shapes.append(Shape("line", d=down + up))
    points = _points(windings, places)
    for point, (x, y) in points.items():
        joined = [ends[end] for joint in windings.joints if point in joint for end in joint if end in ends]
        shapes.append(Shape("line", d=f"M{x:.1f} {y:.1f}H{max(each[0] for each in joined):.1f}"))
        shapes += [Shape("line", d=f"M{each[0]:.1f} {each[1]:.1f}V{y:.1f}") for each in joined]
        shapes += [Shape("terminal", x, y, r=9), Shape("letter", x, y + 4, text=point)]
    return shapes


def _aside(x: float, y: float) -> str:
    """Return the way round a coil from its upper end."""
    return f"H{x + _BESIDE:.1f}" if y in _ROWS.values() else ""


def _ends(windings: Windings, places: Mapping[str, Place]) -> dict[str, tuple[float, float]]:
    """Return where each end of a coil stands."""
    found: dict[str, tuple[float, float]] = {}
    for coil in windings.coils:
        place = places[coil.id]
        found[coil.start], found[coil.end] = (place.x, place.top), (place.x, place.top + _COIL)
    return found


def _points(windings: Windings, places: Mapping[str, Place]) -> dict[str, tuple[float, float]]:
    """Return where points stand that are no end of a coil, such as a star's: left of and under what they join."""
    ends = _ends(windings, places)
    found = {}
    for point in dict.fromkeys(name for joint in windings.joints for name in joint if name not in ends):
        joined = [ends[end] for joint in windings.joints if point in joint for end in joint if end in ends]
        if joined:
            found[point] = min(x for x, _y in joined) - 26, max(y for _x, y in joined) + 26
    return found


def _phasors(
    windings: Windings, found: Wound, lines: tuple[Sequence[str], Sequence[str]], hues: dict[str, str], near: set[str]
) -> list[Group]:
    """Return the clock, and each coil as a group of its own: they are laid one after another."""
    high, low = lines
    middle = {True: _middle(found, high), False: _middle(found, low)}
    turn = cmath.rect(1.0, math.pi / 2 - cmath.phase(found.volts[high[0]] - middle[True] or 1))
    at = {name: (volts - middle[name in near]) * turn for name, volts in found.volts.items()}
    most = max((abs(at[name]) for name in at if name in near), default=0.0) or 1.0
    small = max((abs(at[name]) for name in at if name not in near), default=0.0)
    # Where the output stands on the input there is no other side to be drawn larger.
    larger = 1.0 if not small or small > most * _SMALL_SHARE else most * 0.55 / small
    scale = _REACH / max(most, small * larger)
    shapes = [Shape("name", _RIGHT_HALF + 20, 20, text=_("Phasors, and the clock"))]
    shapes += _clock()
    steps = []
    for number, coil in enumerate(_in_turn(windings.coils, near), 1):
        size = scale * (1.0 if coil.start in near else larger)
        end, start = at[coil.end] * size, at[coil.start] * size
        along = start - end
        width = 2.2 if coil.start in near else 3.6
        laid = arrow(hues[coil.core], _CLOCK_X + end.real, _CLOCK_Y - end.imag, along.real, -along.imag, width)
        steps.append(Group("coil", coil.id, 0, 0, tuple(laid), f"step-{number}"))
    between = _between(windings.coils, found)
    for name in dict.fromkeys((*high, *low)):
        size = scale * (1.0 if name in near else larger)
        place = at.get(name, 0j) * size
        out = place / abs(place) * 12 if abs(place) > 1 else 0j
        if name in between:
            out *= 1j  # beside the arrow that goes on from it
        shapes.append(
            Shape("letter-big", _CLOCK_X + place.real + out.real, _CLOCK_Y - place.imag - out.imag + 5, text=name)
        )
    if larger > 1:
        shapes.append(
            Shape(
                "label-end",
                WIDTH - 8,
                HEIGHT - 8,
                text=_("low side %(times)s times larger") % {"times": write(larger, 0)},
            )
        )
    else:
        shapes.append(Shape("label-end", WIDTH - 8, HEIGHT - 8, text=_("both sides to one scale")))
    return [Group("clock", "", 0, 0, tuple(shapes)), *steps]


def _between(coils: Sequence[Coil], found: Wound) -> set[str]:
    """Return the terminals at which one coil ends and another goes on the same way."""
    least = max((abs(volts) for volts in found.coils.values()), default=1.0) * _APART
    met: set[str] = set()
    for one, other in product(coils, repeat=2):
        here, there = found.coils[one.id], found.coils[other.id]
        meet = abs(found.volts[one.start] - found.volts[other.end]) < least
        if meet and (here * there.conjugate()).real > _ALONG * abs(here) * abs(there):
            met |= {one.start, other.end}
    return met


_ALONG = 0.99
_PRESSED_R = 11.0


def _in_turn(coils: Sequence[Coil], near: set[str]) -> list[Coil]:
    """Return coils as a person lays them: those of the fed side first."""
    return sorted(coils, key=lambda coil: coil.start not in near)


def laid_out(windings: Windings, found: Wound, high: Sequence[str]) -> list[str]:
    """Return what is said of each coil as it is laid."""
    near = reach(windings, high)
    said = []
    held: dict[str, Coil] = {}
    for coil in _in_turn(windings.coils, near):
        volts = {
            "name": coil.id,
            "core": coil.core,
            "volts": write(abs(found.coils[coil.id]), 1),
            "start": coil.start,
            "end": coil.end,
        }
        partner = held.get(coil.core)
        if partner is None:
            held[coil.core] = coil
            said.append(_("Coil %(name)s on %(core)s: from %(end)s to %(start)s, its marked end, %(volts)s V.") % volts)
            continue
        ratio = found.coils[coil.id] / found.coils[partner.id] if found.coils[partner.id] else 0j
        words = volts | {"other": partner.id, "share": write(abs(ratio), 3)}
        sentence = _(
            "Coil %(name)s stands on %(core)s with %(other)s: parallel to it from its marked end, "
            "%(share)s times as long, laid from %(end)s to %(start)s."
        )
        said.append(sentence % words)
    return said


def _middle(found: Wound, lines: Sequence[str]) -> complex:
    return sum((found.volts.get(name, 0j) for name in lines), 0j) / len(lines)


def _clock() -> list[Shape]:
    shapes = [Shape("ring", _CLOCK_X, _CLOCK_Y, r=_CLOCK_R)]
    for hour in range(1, _HOURS + 1):
        angle = math.pi / 2 - hour * math.pi / 6
        x, y = math.cos(angle), math.sin(angle)
        inner = _CLOCK_R - 7
        d = f"M{_CLOCK_X + inner * x:.1f} {_CLOCK_Y - inner * y:.1f}"
        d += f"L{_CLOCK_X + _CLOCK_R * x:.1f} {_CLOCK_Y - _CLOCK_R * y:.1f}"
        far = _CLOCK_R + 12
        shapes += [Shape("soft", d=d), Shape("label-mid", _CLOCK_X + far * x, _CLOCK_Y - far * y + 4, text=str(hour))]
    return shapes
