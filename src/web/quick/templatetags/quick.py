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
from voltaje.tools.conductors import MATERIALS
from web.drawing.earth import earth_drawing
from web.drawing.terminals import terminals
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
    asked, found, book = context["asked"], context["found"], context["book"]
    windings = "DD" if asked.joined() == "high-leg" else asked.joined().upper()
    joined = Connection(windings[0], windings[1], 0) if asked.phases == _THREE_PHASE else None
    neutral_v = None
    if asked.joined() in _TO_NEUTRAL:
        neutral_v = asked.secondary_v / (2 if asked.phases == 1 else math.sqrt(_THREE_PHASE))
    taps = Taps(asked.taps, context["r"]["tap"] or 0.0, asked.taps_on)
    unit = Unit(found.plate, joined, neutral_v, found.chosen.design, found.behind, found.bonds if neutral_v else None,
                taps, (context["before"], context["behind"]))  # fmt: skip
    drawing = terminals(wired(unit, book.terms))
    label = gettext("The terminals: what is wired, what the maker joined, what is bonded")
    return mark_safe(get_template("drawing/drawn.html").render({"drawing": drawing, "label": label}))  # noqa: S308


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
def on_log(value: float, ends: str) -> str:
    """The place of a figure on a scale that grows by factors: `low,high,x at low,x at high`."""
    low, high, left, right = (float(each) for each in ends.split(","))
    share = math.log(min(max(value, low), high) / low) / math.log(high / low)
    return f"{left + share * (right - left):.1f}"


@register.filter
def item(mapping: Any, key: Any) -> Any:
    """What stands under a key."""
    return mapping.get(key) if hasattr(mapping, "get") else getattr(mapping, str(key), None)


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
_STEPS = (1, 2, 5)


@register.filter
def ticks(low: float, high: float) -> list[float]:
    """The round figures that lie on a scale."""
    decades = range(math.floor(math.log10(low)), math.ceil(math.log10(high)) + 1)
    return [step * 10.0**decade for decade in decades for step in _STEPS if low <= step * 10.0**decade <= high]


@register.filter
def on_line(value: float, ends: str) -> str:
    """The place of a figure on an even scale: `low,high,x at low,x at high`."""
    low, high, left, right = (float(each) for each in ends.split(","))
    return f"{left + (min(max(float(value), low), high) - low) / (high - low) * (right - left):.1f}"


@register.filter
def curve(points: list[tuple[float, float]], ends: str) -> str:
    """A curve as a path: `left,right` of its points, and `y at 0,y at 100` of their values."""
    left, right, zero, hundred = (float(each) for each in ends.split(","))
    first, last = points[0][0], points[-1][0]
    places = ((left + (x - first) / (last - first) * (right - left), zero + y / 100 * (hundred - zero))
              for x, y in points)  # fmt: skip
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in places)


@register.filter
def end_of(points: list[tuple[float, float]], ends: str) -> str:
    """The height at which a curve ends, by `y at 0,y at 100`."""
    zero, hundred = (float(each) for each in ends.split(","))
    return f"{zero + points[-1][1] / 100 * (hundred - zero):.1f}"


@register.filter
def share_of(value: Any, whole: Any) -> float:
    """A figure over another."""
    return float(value) / float(whole)


@register.filter
def plus(value: Any, more: Any) -> float:
    """A figure and another."""
    return float(value) + float(more)


@register.filter
def pull(value: float, toward: Any) -> float:
    """A height drawn toward another, as lines gather at a box."""
    return float(toward) + (float(value) - float(toward)) * _PULLED


_PULLED = 0.45
_TAPS_MIDDLE, _TAPS_APART = 150, 92


@register.filter
def place_of(at: int, items: Any) -> float:
    """The height of one of several things that are spread evenly."""
    return _TAPS_MIDDLE + (at - (len(items) - 1) / 2) * _TAPS_APART


@register.filter
def at(items: Any, place: int) -> Any:
    """What stands at a place of a list."""
    return items[place] if place < len(items) else ""


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


_BAR_LEFT, _BAR_RIGHT, _BAR_ROOM = 150, 560, 1.02


@register.filter
def widest(one: Any, other: Any) -> str:
    """The ends of an even scale that holds both, for `on_line`."""
    return f"0,{max(float(one or 0), float(other or 0)) * _BAR_ROOM or 1},{_BAR_LEFT},{_BAR_RIGHT}"


@register.filter
def scale_to(result: Any) -> str:
    """The ends of an even scale that holds what a circuit needs and may have, for `on_line`."""
    return widest(max(result["required_a"], result["device_a"]), result["device_max_a"])


@register.filter
def amps_of(value: Any) -> str:
    """A current in words."""
    return f"{write(float(value), 1)} A"


@register.filter
def first_of(items: Any, most: Any) -> Any:
    """The first so many of several things."""
    return items[: int(most)]


_COLUMNS_LEFT, _COLUMNS_RIGHT, _MOST_COLUMNS = 190, 630, 6


@register.filter
def column_of(place: int, items: Any) -> float:
    """The middle of a column of several that are spread over a bus."""
    apart = max(min(len(items), _MOST_COLUMNS) - 1, 1)
    return _COLUMNS_LEFT + place * (_COLUMNS_RIGHT - _COLUMNS_LEFT) / apart


@register.filter
def is_three(phases: int) -> bool:
    """Whether there are three phases."""
    return phases == _THREE_PHASE


@register.filter
def root_three(volts: Any) -> float:
    """Volts to neutral of a wye."""
    return float(volts) / math.sqrt(_THREE_PHASE)


_THREE_PHASE = 3


@register.filter
def most_of(rows: Any, key: str) -> str:
    """The ends of an even scale that holds a figure of every row, for `on_line`."""
    return widest(max(row[key] for row in rows), 0)
