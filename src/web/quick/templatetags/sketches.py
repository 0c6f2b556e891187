"""The sketches of a tool's answer."""

from typing import Any

from django import template
from django.template.loader import get_template
from django.utils.safestring import SafeString, mark_safe

from web.drawing.sketch.pictures import PICTURES

register = template.Library()


@register.simple_tag(takes_context=True)
def picture(context: Any, name: str) -> SafeString:
    """A sketch of the answer, by its name."""
    found = PICTURES[name](context)
    shown = {"drawing": found.drawing, "label": found.label}
    return mark_safe(get_template("drawing/drawn.html").render(shown))  # noqa: S308
