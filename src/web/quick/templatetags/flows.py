"""The drawings of what flows: ladders, neutrals, drops, legs."""

from typing import Any

from django import template
from django.template.loader import get_template
from django.utils.safestring import SafeString, mark_safe
from django.utils.translation import gettext

from voltaje.quantity import length_in
from web.drawing.ladder import Loads, ladder_drawing
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
