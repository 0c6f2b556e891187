"""What the templates of quick sheets need: the drawing of a tool, figures, places on a scale, chips of clauses."""

import json
import math
from typing import Any
from urllib.parse import urlencode

from django import template
from django.template.exceptions import TemplateDoesNotExist
from django.template.loader import get_template
from django.utils.safestring import SafeString, mark_safe
from django.utils.translation import gettext

from voltaje.design.earth import EarthPlan, service_alone
from voltaje.physics.reflection import Connection
from voltaje.quantity import mass_by
from voltaje.sheet import Step
from voltaje.systems import THREE_PHASE
from voltaje.tools.conductors import MATERIALS
from web.drawing.earth import earth_drawing
from web.drawing.terminals import Wired, terminals
from web.drawing.wired import Taps, Unit, wired
from web.quick.answering import SheetView
from web.quick.inputs import as_address
from web.words import figures
from web.words.figures import write

register = template.Library()


@register.simple_tag
def drawing(sheet: SheetView) -> SafeString:
    """The drawing of a tool, made of its answer; nothing where a tool has none."""
    answered = sheet.answered
    if answered is None:
        return mark_safe("")
    try:
        found = get_template(f"quick/drawings/{sheet.tool.name}.html")
    except TemplateDoesNotExist:
        return mark_safe("")
    facts = {
        **dict.fromkeys(_MAY_LACK, ""),
        "sheet": sheet,
        "r": answered.result,
        "w": sheet.w,
        "book": answered.book,
        "ways": _WAYS,
        **answered.facts(),
    }
    return mark_safe(found.render(facts))  # noqa: S308  (a template escapes what it is given)


@register.simple_tag(takes_context=True)
def terminal_drawing(context: Any) -> SafeString:
    """The terminals of the transformer that a sheet is about."""
    drawing = terminals(wired_of(context))
    label = gettext("The terminals: what is wired, what the maker joined, what is bonded")
    return mark_safe(get_template("drawing/drawn.html").render({"drawing": drawing, "label": label}))  # noqa: S308


def wired_of(facts: Any) -> Wired:
    """Return the transformer that a sheet is about as it is wired."""
    asked, found, book = facts["asked"], facts["found"], facts["book"]
    windings = "DD" if asked.joined() == "high-leg" else asked.joined().upper()
    joined = Connection(windings[0], windings[1], 0) if asked.phases == THREE_PHASE else None
    neutral_v = None
    if asked.joined() in _TO_NEUTRAL:
        neutral_v = asked.secondary_v / (2 if asked.phases == 1 else math.sqrt(THREE_PHASE))
    taps = Taps(asked.taps, facts["r"]["tap"] or 0.0, asked.taps_on)
    unit = Unit(
        found.plate,
        joined,
        neutral_v,
        found.chosen.design,
        found.behind,
        found.bonds if neutral_v else None,
        taps,
        (facts["before"], facts["behind"]),
    )
    return wired(unit, book.terms)


@register.simple_tag(takes_context=True)
def earth_drawn(context: Any) -> SafeString:
    """What a service connects to earth, drawn."""
    asked, terms = context["asked"], context["book"].terms
    sets = f"{asked.sets} × " if asked.sets > 1 else ""
    lines = f"{sets}{asked.size} {terms.gauge(asked.size)} {asked.material}"
    system = asked.earthing if terms.family == "iec" else ""
    place = service_alone(context["parts"], gettext("Service"), lines, system, terms)
    drawing = earth_drawing(EarthPlan((place,), ()))
    label = gettext("What a service connects to earth")
    return mark_safe(get_template("drawing/drawn.html").render({"drawing": drawing, "label": label}))  # noqa: S308


_TO_NEUTRAL = ("Dyn", "Yyn", "3-wire", "high-leg")
_MAY_LACK = ("amps", "load_note", "length")  # what the drawing of a plain circuit can do without
_WAYS = (52, 82, 162, 192)  # heights of the other devices of a panel that is drawn


@register.filter
def said(sheet: SheetView) -> str:
    """What is said at the fields, for the page's script to put there: errors, readings beside each other."""
    found: dict[str, str] = {f"e-{each.id}": each.error for each in sheet.form.all()}
    for each in sheet.form.all():
        for place, choice in enumerate(each.choices, 1):
            if choice.answer:
                found[f"a-{each.id}-{place}"] = choice.answer
    stale = gettext("The answer below is the last good one.") if sheet.wrong else ""
    return json.dumps({**found, "e-general": sheet.form.general, "stale": stale}, ensure_ascii=False)


@register.filter
def as_query(inputs: dict[str, Any]) -> str:
    """Inputs as they stand in an address."""
    return urlencode(as_address(inputs))


@register.filter
def fig(value: Any, decimals: int = 1) -> str:
    """A figure with at most so many decimals."""
    return write(float(value), int(decimals)) if value is not None else "–"


@register.filter
def size(conductor: Any) -> str:
    """A conductor's size with its sets, as it is written."""
    sets = f"{conductor['sets']} × " if conductor.get("sets", 1) > 1 else ""
    return f"{sets}{conductor['size']}"


@register.filter
def worked(step: Step) -> str:
    """A step's value with its unit, as closely as it was worked."""
    return f"{write(step.value, _WORKED)} {step.unit}".rstrip()


_WORKED = 2


@register.filter
def gauge(conductor: Any, book: Any) -> str:
    """A conductor as it is read aloud: `2 × 250 kcmil Cu`."""
    material = conductor.get("material", "")
    return f"{size(conductor)} {book.terms.gauge(conductor['size'])} {material}".rstrip()


@register.filter
def times(value: Any, factor: Any) -> float:
    """A figure times another."""
    return float(value) * float(factor)


@register.filter
def ends(low: float, high: float) -> str:
    """The ends of a scale beside words at its left, for `on_log`."""
    return f"{low},{high},{_SCALE_LEFT},{_SCALE_RIGHT}"


_SCALE_LEFT, _SCALE_RIGHT = 206, 652


@register.filter
def thousand(value: Any) -> float:
    """A figure in thousands."""
    return float(value) / 1000


@register.filter
def gauge_of(terms: Any, name: str) -> str:
    """The unit that a size is read with."""
    return str(terms.gauge(name))


@register.filter
def metal(material: str) -> str:
    """A metal in words."""
    return figures.say(MATERIALS[material])


@register.filter
def mass(kilograms: float, book: Any) -> str:
    """A mass as the book's country says it."""
    value, unit = mass_by(kilograms, book.terms.length_unit)
    return f"{write(value, 1)} {unit}"


@register.filter
def unlocal(value: float) -> str:
    """A figure as attributes take it, whatever the language."""
    return f"{value:.4g}"
