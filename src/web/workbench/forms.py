"""What the workbench may ask for; figures are judged by the library alone."""

from dataclasses import replace
from typing import Any

from django import forms
from django.utils import formats
from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.errors import Refused
from voltaje.inputs.declare import fields_of
from voltaje.inputs.shapes import FLAG
from voltaje.limits import MOST_LINE
from voltaje.path.intake import read_json
from voltaje.path.schema import places
from voltaje.typed import with_point, with_unit, with_unit_of
from web.jobs import forms as jobs_forms
from web.jobs.changes.editing import Seen
from web.jobs.document import Path
from web.words.figures import say
from web.workbench.lenses import FIRST, LENSES
from web.workbench.parts.fields import may_hold
from web.workbench.parts.pieces import Shown

MOST_CELLS, MOST_COPIES, _MOST_KEYS, _MOST_PASTED = 2_000, 50, 60_000, 900_000
_MOST_TYPED, _MOST_LIST, _MOST_SHOWN, _MOST_UNFOLDED = 200, 200_000, 2_000_000, 20_000
_DECLARED = [each for models in places().values() for model in models for each in fields_of(model)]
_QUANTITIES = {each.key for each in _DECLARED if each.shape.typed}
_FLAGS = {each.key for each in _DECLARED if each.shape is FLAG}


class SeenForm(jobs_forms.SeenForm):
    """What the page showed: beside the job's version the chosen node, the lens, the pieces it has."""

    at = forms.CharField(max_length=40, required=False)
    lens = forms.ChoiceField(choices=[(each, each) for each in LENSES], required=False)
    shown = forms.CharField(max_length=_MOST_SHOWN, required=False)
    unfolded = forms.CharField(max_length=_MOST_UNFOLDED, required=False)
    off = forms.CharField(max_length=_MOST_TYPED, required=False)  # regions that are not on the screen
    folded = forms.CharField(max_length=_MOST_TYPED, required=False)  # links of which only the first line is seen

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean()
        said = {name: tuple(cleaned.get(name, "").split()) for name in ("unfolded", "off", "folded")}
        return {**cleaned, "shown": replace(cleaned.get("shown") or Shown(), **said)}

    def clean_shown(self) -> Shown:
        return Shown.read(self.cleaned_data["shown"])

    def clean_lens(self) -> str:
        return self.cleaned_data["lens"] or FIRST.name


# Where a page does not say what it shows.
NOTHING_SEEN: dict[str, Any] = {"version": -1, "seen": Seen(-1), "at": "", "lens": FIRST.name, "shown": Shown()}


class NodeEditForm(SeenForm):
    """One place of a node and what was typed there."""

    path = forms.CharField(max_length=_MOST_TYPED)
    value = forms.CharField(max_length=_MOST_TYPED, required=False, strip=True)
    sure = forms.BooleanField(required=False)  # what it would do was shown

    def clean_path(self) -> Path:
        path = tuple(self.cleaned_data["path"].split("/"))
        if not may_hold(path):
            raise forms.ValidationError(_("There is no such field."))
        return path


class KeysField(forms.CharField):
    """Keys of nodes with blanks between them."""

    def clean(self, value: Any) -> list[str]:
        return str(super().clean(value) or "").split()


class MovesField(forms.CharField):
    """Circuits with the legs they go to, `key:L1-L3`, with blanks between them."""

    def clean(self, value: Any) -> list[tuple[str, tuple[str, ...]]]:
        found = [each.partition(":") for each in str(super().clean(value) or "").split()]
        return [(key, tuple(legs.split("-"))) for key, _colon, legs in found]


class CellsForm(SeenForm):
    """Many places of nodes and what was typed in each, as one change."""

    cells = forms.CharField(max_length=_MOST_PASTED)

    def clean_cells(self) -> list[tuple[Path, str]]:
        try:
            cells = read_json(self.cleaned_data["cells"])
        except Refused as error:
            raise forms.ValidationError(say(error.message)) from error
        if not isinstance(cells, list) or not 0 < len(cells) <= MOST_CELLS:
            raise forms.ValidationError(_("At most %(most)s fields can be set at once.") % {"most": MOST_CELLS})
        if not all(_is_cell(each) for each in cells):
            raise forms.ValidationError(_("There is no such field."))
        found = [(tuple(path.split("/")), value.strip()) for path, value in cells]
        if not all(may_hold(path) for path, _value in found):
            raise forms.ValidationError(_("There is no such field."))
        return found


def _is_cell(each: Any) -> bool:
    """Whether something is a pair of texts, none too long."""
    pair = isinstance(each, list) and len(each) == len(("path", "value"))
    return pair and all(isinstance(part, str) and len(part) <= _MOST_TYPED for part in each)


class LeastForm(forms.Form):
    """What least metal is asked by: what is kept in hand of the limits, prices of a kilogram."""

    margin = forms.FloatField(min_value=0, max_value=5, required=False, localize=True)
    cu = forms.FloatField(min_value=0, max_value=10_000, required=False, localize=True)
    al = forms.FloatField(min_value=0, max_value=10_000, required=False, localize=True)


class PasteForm(SeenForm):
    """A part of a job as text."""

    text = forms.CharField(max_length=_MOST_PASTED)


RATING_UNITS = "A, kW, VA, kVA, W, hp"


def tidied(path: tuple[str, ...], typed: str, before: object, job: dict[str, Any]) -> Any:
    """Return a typed value as it is kept: its unit with it, a point as decimal mark; None where it was emptied.

    before: what stood there: a bare number keeps its unit. Raises: InputError that asks for a rating's unit.
    """
    key = path[-1]
    if not typed:
        return None
    if key == "legs":
        return [leg for leg in typed.replace(" ", "").split("-") if leg]
    if key in _FLAGS:
        return typed.lower() in _YES
    if key == "way":
        return typed.replace(",", "-").split("-")[0].strip()
    return _with_its_unit(key, typed, before if isinstance(before, str) else "", job)


_YES = ("1", "yes", "y", "true", "x", "✓")


def _with_its_unit(key: str, typed: str, was: str, job: dict[str, Any]) -> str:
    if key in _QUANTITIES:
        typed = with_point(typed, formats.get_format("DECIMAL_SEPARATOR"))
    match key:
        case "rating":
            return with_unit_of(typed, was, asked=RATING_UNITS)
        case "ambient_c":
            return with_unit(typed, f"°{job.get('degrees', 'C')}")
        case "length":
            return with_unit_of(typed, was, find_book(job["book"]).terms.length_unit)
        case "floor_area":
            return with_unit_of(typed, was, "ft²")
        case _:
            return typed


class LineForm(SeenForm):
    """A walk-through line."""

    line = forms.CharField(max_length=MOST_LINE, required=False)
    again = forms.CharField(max_length=MOST_LINE, required=False)  # the line whose unused words were shown


class FindForm(forms.Form):
    """Words to look for."""

    words = forms.CharField(max_length=_MOST_TYPED)


class ListForm(SeenForm):
    """A list of loads as CSV, pasted or from a file; taken only when asked to."""

    text = forms.CharField(max_length=_MOST_LIST, required=False, widget=forms.Textarea)
    take = forms.BooleanField(required=False)
    anew = forms.BooleanField(required=False)


class ActForm(SeenForm):
    """Something done to a node: what, to which, where to."""

    ACTS = (
        "duplicate",
        "remove",
        "up",
        "down",
        "move",
        "copy",
        "add",
        "leg-before",
        "leg-after",
        "renumber",
        "right",
        "stand",
        "rehang",
        "leg-to",
        "even-out",
        "boost",
    )
    KINDS = ("board", "transformer", "load", "inverter", "dwelling", "source", "spare", "space")

    act = forms.ChoiceField(choices=[(each, each) for each in ACTS])
    key = forms.CharField(max_length=40, required=False)
    to = forms.CharField(max_length=40, required=False)
    before = forms.CharField(max_length=40, required=False)
    kind = forms.ChoiceField(choices=[(each, each) for each in KINDS], required=False)
    poles = forms.IntegerField(min_value=1, max_value=3, required=False)
    keys = KeysField(max_length=_MOST_KEYS, required=False)  # where it is done to several
    sure = forms.BooleanField(required=False)  # what goes with it was shown
    times = forms.IntegerField(min_value=1, max_value=MOST_COPIES, required=False)
    moves = MovesField(max_length=_MOST_KEYS, required=False)  # circuits to legs, of evening out


class PinForm(SeenForm):
    """One of the options, to be pinned."""

    key = forms.CharField(max_length=40)
    device = forms.CharField(max_length=10)
    size = forms.CharField(max_length=10)
    sets = forms.IntegerField(min_value=1, max_value=12)
    material = forms.ChoiceField(choices=[("Cu", "Cu"), ("Al", "Al")])

    def run(self, run: dict[str, Any]) -> dict[str, Any]:
        """Return a run with the option pinned; other pins and their reason stay."""
        chosen = self.cleaned_data
        pins = {"reason": _("chosen from the options"), **run.get("pins", {})}
        pins |= {"device_a": chosen["device"], "size": chosen["size"], "sets": str(chosen["sets"])}
        return {**run, "material": chosen["material"], "pins": pins}


class NotedForm(SeenForm):
    """A finding noted with a reason, or no longer."""

    finding = forms.CharField(max_length=100)
    reason = forms.CharField(max_length=160, required=False)
