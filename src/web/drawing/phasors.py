"""Currents of legs and what is left of them on the neutral: as phasors from one point, and laid end to end."""

import cmath
from collections.abc import Mapping

from django.utils.translation import gettext as _

from web.drawing.legs import arrow, colour, mark
from web.drawing.shapes import Drawing, Group, Shape
from web.words.figures import write

WIDTH, HEIGHT = 690.0, 236.0
_STAR_X, _STAR_Y, _STAR_R = 165.0, 128.0, 86.0
_LENS_R, _LENS_X = 52.0, 596.0
_STEEP = -0.3  # words stand at the right of what points up or to the right
_SMALL_SHARE = 0.25  # a neutral shorter than this part of the largest leg is drawn larger under a lens


def phasor_drawing(currents: Mapping[str, complex], family: str, volts: float, words: str = "") -> Drawing:
    """Return both ways of seeing them; currents [A r.m.s.] by leg; words: about the neutral."""
    most = max((abs(each) for each in currents.values()), default=0.0) or 1.0
    shapes = [
        Shape("name", 14, 20, text=_("What the neutral sees")),
        Shape("label", 14, 38, text=_("currents to neutral, to scale")),
    ]
    shapes += _star(currents, family, volts, most)
    shapes += _end_to_end(currents, family, volts, most, words)
    return Drawing(WIDTH, HEIGHT, [Group("phasors", "", 0, 0, tuple(shapes))])


def _star(currents: Mapping[str, complex], family: str, volts: float, most: float) -> list[Shape]:
    found = [Shape("ring", _STAR_X, _STAR_Y, r=_STAR_R * share) for share in (0.5, 1.0)]
    for leg, each in currents.items():
        hue = colour(leg, family, volts)
        along = _turned(each) * _STAR_R / most
        found += arrow(hue, _STAR_X, _STAR_Y, along.real, along.imag, 2.8)
        if abs(each) < most * 1e-6:
            continue
        unit = along / abs(along)
        x, y = _STAR_X + along.real + unit.real * 12, _STAR_Y + along.imag + unit.imag * 12
        found.append(mark(leg, x + (4 if unit.real >= 0 else -4), y, hue))
        right = unit.real >= _STEEP
        look = "phasor-name" if right else "phasor-name-end"
        found.append(Shape(look, x + (13 if right else -13), y + 5, text=f"{leg} {write(abs(each), 1)} A"))
    return found


def _end_to_end(currents: Mapping[str, complex], family: str, volts: float, most: float, words: str) -> list[Shape]:
    found = [
        Shape("name", 330, 20, text=_("End to end: what is left is the neutral")),
        Shape("label", 330, 38, text=_("a closed figure would mean none")),
    ]
    places, at = [0j], 0j
    for each in currents.values():
        at += _turned(each)
        places.append(at)
    wide = max(place.real for place in places) - min(place.real for place in places)
    high = max(place.imag for place in places) - min(place.imag for place in places)
    scale = min(150.0 / max(wide, most * 0.2), 160.0 / max(high, most * 0.2))
    left, top = min(place.real for place in places) * scale, min(place.imag for place in places) * scale
    x0, y0 = 340.0 - left + (150.0 - wide * scale) / 2, 54.0 - top + (160.0 - high * scale) / 2
    for (leg, each), start in zip(currents.items(), places, strict=False):
        along = _turned(each) * scale
        found += arrow(
            colour(leg, family, volts), x0 + start.real * scale, y0 + start.imag * scale, along.real, along.imag
        )
    neutral = -at
    found += arrow(
        "neutral", x0 + at.real * scale, y0 + at.imag * scale, neutral.real * scale, neutral.imag * scale, 3.4
    )
    found += _lens(neutral, most, scale, (x0 + at.real * scale, y0 + at.imag * scale))
    found.append(Shape("neutral-word", _LENS_X - 62, 190, text=f"N {write(abs(neutral), 1)} A"))
    if words:
        found.append(Shape("label", _LENS_X - 62, 210, text=words))
    return found


def _lens(neutral: complex, most: float, scale: float, place: tuple[float, float]) -> list[Shape]:
    """Return a small neutral drawn larger, and how much."""
    size = abs(neutral)
    if not most * 1e-3 < size < most * _SMALL_SHARE:
        return []
    times = max(2, round(0.75 * _LENS_R * 2 / (size * scale)))
    unit = neutral / size
    length = size * scale * times
    centre = complex(_LENS_X, 112.0)
    start = centre - unit * length / 2
    return [
        Shape("made", 0, 0, d=f"M{place[0]:.1f} {place[1]:.1f}L{_LENS_X - _LENS_R:.1f} 112"),
        Shape("terminal", _LENS_X, 112.0, r=_LENS_R),
        *arrow("neutral", start.real, start.imag, unit.real * length, unit.imag * length, 5.0),
        Shape("label", _LENS_X - 40, 52, text=_("%(times)s times larger") % {"times": times}),
    ]


def _turned(current: complex) -> complex:
    """Return a phasor as a drawing has it: the first leg straight up, angles against the clock, y downward."""
    return (current * cmath.rect(1.0, cmath.pi / 2)).conjugate()
