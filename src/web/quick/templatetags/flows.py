"""The drawings of what flows: ladders, neutrals, drops, legs."""

from typing import Any

from django import template
from django.template.loader import get_template
from django.utils.safestring import SafeString, mark_safe
from django.utils.translation import gettext

from voltaje.quantity import length_in
from web.drawing.ladder import Loads, ladder_drawing
from web.drawing.legs import colour
from web.drawing.motor import motor_drawing
from web.drawing.phasors import phasor_drawing
from web.drawing.shapes import Drawing
from web.drawing.stairs import Stair, stairs
from web.drawing.waves import Wave, waves
from web.drawing.windings import laid_out, windings_drawing
from web.words.figures import write

register = template.Library()


def _drawn(drawing: Drawing, label: str) -> SafeString:
    return mark_safe(get_template("drawing/drawn.html").render({"drawing": drawing, "label": label}))  # noqa: S308


@register.simple_tag(takes_context=True)
def ladder_drawn(context: Any) -> SafeString:
    """The ladder of a sheet, whole and opened."""
    loads = Loads(context["names"], context["nominal"], tuple(context["band"]), context["straight"])
    opened = context["asked"].opened
    drawing = ladder_drawing(context["whole"], loads, context["found"] if opened is not None else None, opened)
    return _drawn(drawing, gettext("The ladder: currents with their direction, volts at each load"))


@register.simple_tag(takes_context=True)
def phasors_drawn(context: Any) -> SafeString:
    """The legs' currents and the neutral, as phasors."""
    system, family = context["asked"].system, context["book"].terms.family
    drawing = phasor_drawing(context["phasors"], family, system.line_to_line_v)
    return _drawn(drawing, gettext("The currents as phasors, from one point and end to end"))


@register.simple_tag(takes_context=True)
def waves_of(context: Any) -> list[Wave]:
    """The legs' currents over a turn, and the neutral's."""
    asked, family = context["asked"], context["book"].terms.family
    angles = dict(asked.system.legs)
    third = {
        leg: abs(each) * asked.third_harmonic * _at_angle(3 * angles[leg]) for leg, each in context["phasors"].items()
    }
    return waves(context["phasors"], third, family, asked.system.line_to_line_v)


def _at_angle(degrees: float) -> complex:
    turned: complex = 1j ** (degrees / 90)
    return turned


@register.simple_tag(takes_context=True)
def windings_drawn(context: Any) -> SafeString:
    """Coils as they are joined, and their phasors."""
    live = bool(context.get("live"))
    drawing = windings_drawing(context["windings"], context["found"], context["high"], context["low"], live=live)
    return _drawn(drawing, gettext("The coils joined, and their volts as phasors on a clock"))


@register.simple_tag(takes_context=True)
def motor_drawn(context: Any) -> SafeString:
    """The motor's curves at the measured volts and at those that the boost gives."""
    asked, given = context["asked"], context["best"].volts[0]
    drawing = motor_drawing(asked.line_v / asked.load_v, given / asked.load_v, (asked.line_v, given))
    return _drawn(drawing, gettext("The motor's torque over its speed, before and after"))


@register.simple_tag(takes_context=True)
def laid(context: Any) -> list[str]:
    """What is said of each coil as its phasor is laid."""
    return laid_out(context["windings"], context["found"], context["high"])


@register.simple_tag(takes_context=True)
def stairs_drawn(context: Any) -> SafeString:
    """Segments in a row with what each loses."""
    asked, terms = context["asked"], context["book"].terms
    found = [
        Stair(
            each.item.length[1],
            f"{write(length_in(each.item.length[1], each.item.length[0]), 1)} {each.item.length[0]}",
            each.amps,
            f"{each.size} {terms.gauge(each.size)}" if each.size else gettext("entered"),
            each.drop_v,
        )
        for each in context["found"]
    ]
    drawing = stairs(found, asked.volts, context["limit"] * asked.volts / 100)
    return _drawn(drawing, gettext("Volts against length, a step a segment"))


@register.simple_tag(takes_context=True)
def hue(context: Any, leg: str) -> str:
    """The colour's name of a leg."""
    asked = context["asked"]
    system = getattr(asked, "system", None)
    return colour(leg, context["book"].terms.family, system.line_to_line_v if system else 0.0)


_ROOM = 1.02


@register.filter
def longest(rows: Any, key: str) -> float:
    """The greatest figure of several things."""
    return max((getattr(row, key) for row in rows), default=0.0) or 1.0


@register.filter
def arrow_on(wave: Wave, most: float) -> str:
    """An arrow on a conductor: legs away from the source, the neutral toward it."""
    reach = _ARROW_REACH * wave.amps / most
    if reach < 1:
        return "M80 20H80"
    start, end = (_ARROW_FROM, _ARROW_FROM + reach) if wave.name != "N" else (_ARROW_FROM + reach, _ARROW_FROM)
    back = -_HEAD if end > start else _HEAD
    return f"M{start:.1f} 20H{end:.1f}m{back} -7l{-back} 7l{back} 7"


_ARROW_FROM, _ARROW_REACH, _HEAD = 80.0, 520.0, 9


@register.filter
def both_legs(found: Any) -> str:
    """The ends of an even scale that holds the legs now and after, for `on_line`."""
    most = max(*found.amps.values(), *found.amps_before.values(), 1e-9) * _ROOM
    return f"0,{most},92,600"


@register.filter
def supply_ends(result: Any) -> str:
    """The ends of an even scale that holds both supplies, for `on_line`."""
    most = max(result["amps_single"], result["single_phase_limit_a"], *result["amps_by_leg"].values()) * _ROOM
    return f"0,{most},150,600"


_COILS_AT = {"H1": 90, "H2": 90, "H3": 210, "H4": 210, "X1": 430, "X2": 430, "X3": 550, "X4": 550}
_TOP_Y, _BOTTOM_Y, _TRACK_FROM, _TRACK = 70, 146, 158, 13


@register.filter
def coils_of(letter: str) -> list[tuple[int, str, str]]:
    """The two coils of a side: where each stands, its terminals."""
    return [(_COILS_AT[f"{letter}{at}"], f"{letter}{at}", f"{letter}{at + 1}") for at in (1, 3)]


@register.filter
def tracks(joints: Any) -> list[tuple[str, str, int]]:
    """Joints as wires below the terminals, each on a track of its own; upper terminals are left beside their coil."""
    found = []
    for at, (one, other) in enumerate(joints):
        ends = [(_COILS_AT[end], end in ("H1", "H3", "X1", "X3"), end) for end in (one, other)]
        starts = [f"{x - 14 if upper else x} {58 if upper else _BOTTOM_Y}" for x, upper, _end in ends]
        y = _TRACK_FROM + at * _TRACK
        last = f"{ends[1][0] - 14 if ends[1][1] else ends[1][0]}V{58 if ends[1][1] else _BOTTOM_Y}"
        found.append((starts[0], last, y))
    return found
