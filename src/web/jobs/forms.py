"""What a page may ask for; figures are judged by the library alone."""

import secrets
from typing import Any, cast

from django import forms
from django.utils.translation import gettext_lazy as _

from voltaje.books.dwellings import DEFAULT_BOOK
from voltaje.books.registry import books as all_books
from voltaje.systems import SYSTEMS
from web.drawing.supply import supply_picture
from web.jobs.changes.editing import Seen
from web.jobs.document import Change, Path
from web.jobs.files.house import FLAGS, HOUSE, books, may_be_item, may_hold, systems
from web.words.forms import CleanedForm
from web.words.trade import by_use, supply_words

MOST_VERSION = 2_000_000_000
_MOST_TYPED, _MOST_TOKEN = 200, 40


class TokenField(forms.CharField):
    """A token that a page makes, of itself or of one act."""

    def __init__(self) -> None:
        super().__init__(max_length=_MOST_TOKEN, required=False)


class SeenForm(CleanedForm):
    """The version of the job that the page showed; which page, which act."""

    version = forms.IntegerField(min_value=0, max_value=MOST_VERSION)
    page = TokenField()
    once = TokenField()

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        seen = Seen(cleaned.get("version", 0), cleaned.get("page", ""), cleaned.get("once", ""))
        return {**cleaned, "seen": seen}


class NewHouseForm(CleanedForm):
    """A new job that holds a house."""

    name = forms.CharField(label=_("Name"), max_length=80)
    floor_area = forms.CharField(label=_("Floor area (outside dimensions)"), max_length=40)
    book = forms.ChoiceField(label=_("Code (edition)"))
    system = forms.ChoiceField(label=_("Supply"), required=False)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        cast(forms.ChoiceField, self.fields["book"]).choices = [(name, name) for name in reversed(books())]
        cast(forms.ChoiceField, self.fields["system"]).choices = [(name, name) for name in systems()]


class NewJobForm(CleanedForm):
    """A new job from nothing: a source and a board.

    Each family of books has its supplies, one of them chosen from the first: changing the book never leaves one chosen
    that is not its own. `system` names one whatever the book, as a link or a script does.
    """

    name = forms.CharField(label=_("Name"), max_length=80)
    book = forms.ChoiceField(label=_("Code (edition)"))
    system = forms.ChoiceField(label=_("Supply"), required=False)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        cast(forms.ChoiceField, self.fields["book"]).choices = [(name, name) for name in all_books()]
        cast(forms.ChoiceField, self.fields["system"]).choices = supplies()
        self.initial.setdefault("book", DEFAULT_BOOK)
        for family, nominal in self._families().items():
            self.fields[f"system_{family}"] = forms.ChoiceField(required=False, choices=[(one, one) for one in nominal])

    @staticmethod
    def _families() -> dict[str, list[str]]:
        return {book.terms.family: by_use(book.terms.nominal) for book in all_books().values()}

    def cards(self) -> Any:
        """Return the supplies as drawings: by family of books, with words, where each is usual, which is chosen."""
        for family, shown in self._families().items():
            given = self[f"system_{family}"].value() or self["system"].value()
            chosen = given if given in shown else shown[0]
            yield family, [(name, supply_picture(SYSTEMS[name]), *supply_words(name), name == chosen) for name in shown]

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        book = cleaned.get("book")
        of_family = {family: cleaned.pop(f"system_{family}", "") for family in self._families()}
        if not book:
            return cleaned
        terms = all_books()[book].terms
        nominal = terms.nominal
        system = cleaned["system"] = cleaned.get("system") or of_family[terms.family]
        if not system and "system" not in self.errors:
            self.add_error("system", _("Choose what is at the meter."))
        if system and system not in nominal:
            words = _("%(system)s is no supply of %(book)s: choose one of its own.")
            self.add_error("system", words % {"system": supply_words(system)[0], "book": book})
        return cleaned


def supplies() -> list[tuple[str, list[tuple[str, str]]]]:
    """Return the supply systems to choose from, by the family of books whose voltages they are."""
    families: dict[tuple[str, ...], str] = {}
    for name, book in all_books().items():
        families.setdefault(book.terms.nominal, name.partition(" / ")[0].rsplit(" 20", 1)[0])
    return [(family, [(name, name) for name in nominal]) for nominal, family in families.items()]


class FileForm(forms.Form):
    """An open job file."""

    file = forms.FileField(label=_("Job file"))


class _PlaceForm(SeenForm):
    """A place in the document."""

    path = forms.CharField(max_length=_MOST_TYPED)

    def clean_path(self) -> Path:
        return tuple(self.cleaned_data["path"].split("/"))


class EditForm(_PlaceForm):
    """One place and what was typed there."""

    value = forms.CharField(max_length=_MOST_TYPED, required=False, strip=True)

    def clean_path(self) -> Path:
        path = super().clean_path()
        if not may_hold(path):
            raise forms.ValidationError(_("There is no such field."))
        return path

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean()
        if cleaned.get("path", ("",))[-1] in FLAGS:
            cleaned["value"] = cleaned.get("value") == "true"
        return cleaned


class RemoveForm(_PlaceForm):
    """An item to take away."""

    def clean_path(self) -> Path:
        path = super().clean_path()
        if not may_be_item(path):
            raise forms.ValidationError(_("There is no such row."))
        return path


class AddForm(SeenForm):
    """A new row of the walk: what it is, its name, its rating, its volts."""

    KINDS = {
        "kitchen": (_("Kitchen appliance"), "appliances", {"place": "kitchen"}),
        "utility": (_("Utility appliance"), "appliances", {"place": "utility"}),
        "range": (_("Range"), "cooking", {"kind": "range", "count": "1"}),
        "cooktop": (_("Cooktop"), "cooking", {"kind": "cooktop", "count": "1"}),
        "oven": (_("Wall oven"), "cooking", {"kind": "oven", "count": "1"}),
        "dryer": (_("Dryer"), "dryers", {}),
        "heat": (_("Electric heat"), "heating", {"kind": "resistance", "units": "1"}),
        "heat_pump": (_("Heat pump"), "heating", {"kind": "heat_pump"}),
        "strip": (_("Heat-pump strip heat"), "heating", {"kind": "heat_pump_supplement"}),
        "storage": (_("Storage heater"), "heating", {"kind": "thermal_storage"}),
        "charger": (_("Vehicle charger"), "vehicle_chargers", {}),
    }

    kind = forms.ChoiceField(choices=[(key, words) for key, (words, _list, _item) in KINDS.items()])
    name = forms.CharField(max_length=80, required=False)
    load = forms.CharField(max_length=40, required=False)
    volts = forms.ChoiceField(
        choices=[("120", "120 V"), ("240", "240 V"), ("208", "208 V"), ("", _("voltage unknown"))], required=False
    )

    def change(self, tidy: Any) -> Change:
        """Return the change that adds the row; `tidy` writes its rating as it is kept."""
        _words, key, item = self.KINDS[self.cleaned_data["kind"]]
        identity = secrets.token_hex(4)
        path = ("nodes", HOUSE, key, identity)
        row = {"id": identity, **item, "load": tidy((*path, "load"), self.cleaned_data["load"])}
        if key == "appliances":
            row |= {"name": self.cleaned_data["name"], "volts": self.cleaned_data["volts"]}
        return Change(path, None, row)
