"""Forms of the settings page."""

import hashlib
import json
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, ClassVar, cast

from django import forms
from django.utils.translation import gettext_lazy as _

from voltaje.books.registry import books, find_book
from voltaje.errors import Refused
from voltaje.path.document import AMENDABLE
from voltaje.path.model import Terminals
from web.jobs.document import Change, Document
from web.jobs.files.openfile import ordered
from web.jobs.forms import supplies
from web.jobs.models import Role
from web.words.figures import say
from web.words.forms import CleanedForm
from web.workbench.forms import tidied

REGIONS = (
    ("US", _("United States")),
    ("CA", _("Canada")),
    ("UK", _("Europe, United Kingdom")),
    ("ZA", _("South Africa")),
    ("AU", _("Australia, New Zealand")),
)
_LIMITS = {
    "drop_percent": _("voltage drop of one run, %"),
    "drop_total_percent": _("total voltage drop, %"),
    "least_size_cu": _("least size, copper"),
    "least_size_al": _("least size, aluminum"),
}


def limit_words(amendment: dict[str, Any]) -> str:
    """Return what a local rule bounds, in words."""
    return str(_LIMITS.get(amendment.get("limit", ""), amendment.get("limit", "")))


class TellingForm(CleanedForm):
    """A form that says what the library refuses at the field where it was typed.

    places: the last word of what is refused, and the field that it is typed in
    """

    places: ClassVar[Mapping[str, str]] = MappingProxyType({})

    def tells(self, refused: Refused) -> bool:
        """Say each error at its field; whether all have one."""
        errors = [refused, *getattr(refused, "also", ())]
        found = [self.places.get(getattr(each, "field", "").rpartition(".")[2], "") for each in errors]
        if not all(found):
            return False
        for name, error in zip(found, errors, strict=True):
            self.add_error(name, say(error.message))
        return True


class JobForm(TellingForm):
    """What holds for the whole job."""

    places = MappingProxyType({"ambient_c": "ambient", "name": "name"})

    form = forms.CharField(widget=forms.HiddenInput, initial="job")
    name = forms.CharField(label=_("Name"), max_length=80)
    book = forms.ChoiceField(label=_("Code (edition)"))
    terminals = forms.ChoiceField(
        label=_("Terminals"),
        choices=[
            (Terminals.UNMARKED.value, _("not marked: 60 °C for 100 A and less")),
            (Terminals.MARKED_75.value, _("marked 75 °C")),
            (Terminals.MARKED_60.value, _("marked 60 °C")),
        ],
    )
    supply = forms.ChoiceField(
        label=_("Supply, for the limits of voltage drop"), choices=[("public", _("public")), ("private", _("private"))]
    )
    region = forms.ChoiceField(label=_("Usual wire colors of"), choices=REGIONS)
    degrees = forms.ChoiceField(label=_("Temperatures in"), choices=[("C", "°C"), ("F", "°F")])
    ambient = forms.CharField(label=_("Default ambient"), max_length=12, required=False)

    def __init__(self, data: Any, document: Document, **kwargs: Any) -> None:
        super().__init__(data, initial=self._of(document), **kwargs)
        cast(forms.ChoiceField, self.fields["book"]).choices = [(name, name) for name in books()]
        nodes = document["nodes"]
        self.sources = [key for key in ordered(document) if nodes[key]["kind"] == "source"]
        for key in self.sources:
            name = nodes[key].get("name") or key
            label = _("System of %(name)s") % {"name": name}
            self.fields[f"system-{key}"] = forms.ChoiceField(label=label, choices=supplies())
            self.initial[f"system-{key}"] = nodes[key]["system"]
        for name, family in (("terminals", "nec"), ("supply", "iec")):  # what the other family alone asks for
            if find_book(document["job"]["book"]).terms.family != family:
                del self.fields[name]
        places = ["form", "name", "book", *(f"system-{key}" for key in self.sources)]
        self.order_fields(places)

    @staticmethod
    def _of(document: Document) -> dict[str, Any]:
        """Return a job's settings as the form shows them."""
        job = document["job"]
        degrees, ambient = job.get("degrees", "C"), job.get("ambient_c")
        full = next(
            (name for name in books() if name == job["book"] or name.startswith(f"IEC 60364 / {job['book']}")), ""
        )
        return {
            "form": "job",
            "name": job["name"],
            "book": full,
            "terminals": job.get("terminals", Terminals.UNMARKED.value),
            "supply": job.get("supply", "public"),
            "region": job.get("region") or find_book(job["book"]).terms.region,
            "degrees": degrees,
            "ambient": "" if ambient is None else ambient,
        }

    def changes(self) -> list[Change]:
        """Return the changes that keep the settings."""
        cleaned = dict(self.cleaned_data)
        systems = [Change(("nodes", key, "system"), None, cleaned.pop(f"system-{key}")) for key in self.sources]
        ambient = tidied(("job", "ambient_c"), cleaned.pop("ambient"), None, cleaned)
        del cleaned["form"]
        cleaned["ambient_c"] = ambient
        return [*(Change(("job", key), None, value) for key, value in cleaned.items()), *systems]


class AmendmentForm(TellingForm):
    """A local amendment with its reason."""

    places = MappingProxyType({"value": "value", "reason": "reason"})

    form = forms.CharField(widget=forms.HiddenInput, initial="amendment")
    limit = forms.ChoiceField(label=_("Limit"), choices=[(key, _LIMITS[key]) for key in AMENDABLE])
    value = forms.CharField(label=_("Value"), max_length=12)
    reason = forms.CharField(label=_("Reason"), max_length=200)

    def kept(self) -> dict[str, Any]:
        """Return the amendment as it is kept."""
        return {key: self.cleaned_data[key] for key in ("limit", "value", "reason")}


def amendment_key(amendment: dict[str, Any]) -> str:
    """Return the name by which a page asks for an amendment to be taken away: of what it says, not of its place."""
    return hashlib.sha256(json.dumps(amendment, sort_keys=True).encode()).hexdigest()[:16]


class ForgetForm(CleanedForm):
    """An amendment to be taken away."""

    forget = forms.CharField(max_length=16)


class PersonForm(CleanedForm):
    """Someone to share a job with; no role ends it."""

    username = forms.CharField(label=_("Username"), max_length=150)
    role = forms.ChoiceField(
        label=_("Access"),
        choices=[(Role.VIEWER, _("can view")), (Role.EDITOR, _("can edit")), ("", _("remove"))],
        required=False,
        initial=Role.VIEWER,
    )
