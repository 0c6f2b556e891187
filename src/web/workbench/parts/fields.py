"""What can be changed of a node, link by link: the declared fields of the open file, with words and choices."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import NamedTuple

from django.utils.translation import get_language, gettext_noop
from django.utils.translation import gettext as _

from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.inputs.declare import Declared, fields_of
from voltaje.inputs.shapes import FLAG, LEG_NAMES
from voltaje.path.board import AreaSpec, BoardSpec, WaySpec
from voltaje.path.load import LoadSpec
from voltaje.path.model import SupplySpec
from voltaje.path.run import PathPins, RunSpec
from voltaje.path.schema import places
from voltaje.path.surroundings import Surroundings
from voltaje.path.transformer import TransformerSpec
from web.jobs.document import Document, read
from web.jobs.fields import Choice, Field
from web.words.trade import kind_words, trade

_OF_KIND: dict[str, tuple[tuple[str, type], ...]] = {
    "load": (("load", LoadSpec),),
    "inverter": (("load", LoadSpec),),
    "source": (("supply", SupplySpec),),
    "transformer": (("transformer", TransformerSpec),),
    "board": (("", BoardSpec), ("area", AreaSpec), ("", WaySpec)),
    "spare": (("", WaySpec),),
    "space": (("", WaySpec),),
}
_OF_RUN: tuple[tuple[str, type], ...] = (("run.pins", PathPins), ("run", RunSpec), ("run", Surroundings))
_WITH_LEGS = ("board", "transformer", "dwelling")
_NODE_PLACES = ("name", "system", "legs", "note")
_PLACES = {
    *_NODE_PLACES,
    *(
        f"{place}.{each.key}" if place else each.key
        for place, models in places().items()
        for model in models
        for each in fields_of(model)
    ),
}


@dataclass
class LinkFields:
    """The fields of each link; of the load apart what only matters now and then."""

    by_link: dict[str, list[Field]] = field(default_factory=dict[str, list[Field]])
    more: list[Field] = field(default_factory=list)
    reason: Field | None = None

    def of(self, key: str) -> list[Field]:
        """Return the fields of a link."""
        return self.by_link.setdefault(key, [])

    def every(self) -> list[Field]:
        """Return all of them, whichever link they are of."""
        return [*(each for fields in self.by_link.values() for each in fields), *self.more]


class Offered(NamedTuple):
    """A declared field as a page offers it to nodes of a kind: its link and place, its words and choices."""

    link: str
    path: str
    label: str
    choices: tuple[Choice, ...]
    hint: str


@lru_cache(maxsize=400)
def offered(kind: str, load_kind: str, book_name: str, degrees: str, _language: str) -> tuple[Offered, ...]:
    """Return the declared fields that matter to a kind of node and its book."""
    words, found = _Words(find_book(book_name), degrees), []
    for place, model in (*_OF_KIND.get(kind, ()), *_OF_RUN):
        for each in fields_of(model):
            here = each.family in ("", words.book.terms.family) and (not each.kinds or load_kind in each.kinds)
            if here and each.label:
                path = f"{place}.{each.key}" if place else each.key
                hint = words.hint(each)
                label = trade(words.book.terms.family).get(_BY_TRADE.get(each.key, "")) or _(each.label)
                found.append(Offered(each.link, path, label, words.choices(each, hint), hint))
    return tuple(found)


class _Fields:
    """Makes the fields of one node."""

    def __init__(self, document: Document, key: str) -> None:
        self.document, self.key = document, key
        self.node = document["nodes"][key]
        self.book = find_book(document["job"]["book"])

    def at(self, path: str, label: str, choices: Iterable[Choice] = (), hint: str = "") -> Field:
        full = ("nodes", self.key, *path.split("."))
        value = read(self.document, full)
        if isinstance(value, list):
            value = "-".join(value)
        if isinstance(value, bool):
            value = "1" if value else "0"
        value = "" if value is None else value
        known = tuple(choices)
        if known and str(value) not in {each for each, _words in known}:
            known = (*known, (str(value), str(value)))
        return Field(full, label, str(value) if known else value, known, hint)

    def declared(self) -> Iterator[tuple[str, Field]]:
        """Yield each field that matters to the node and its book, with its link."""
        kind = self.node["kind"]
        load_kind = self.node.get("load", {}).get("kind", kind)
        degrees = self.document["job"].get("degrees", "C")
        for each in offered(kind, load_kind, self.document["job"]["book"], degrees, get_language() or ""):
            yield each.link, self.at(each.path, each.label, each.choices, each.hint)


class _Words:
    """The words of fields under a book: what holds where nothing is entered, and what may be chosen."""

    def __init__(self, book: Book, degrees: str) -> None:
        self.book, self.degrees = book, degrees

    def hint(self, each: Declared) -> str:
        bundled = _("circuits") if self.book.terms.length_unit == "m" else _("wires")
        stand_for = {"length": self.book.terms.length_unit, "degrees": f"°{self.degrees}", "bundled": bundled}
        return str(stand_for.get(each.hint, _(each.hint) if each.hint else ""))

    def said(self, name: str) -> str:
        """Return a choice in words."""
        return _(_SAID[name]) if name in _SAID else kind_words(name, self.book.terms.family)

    def choices(self, each: Declared, blank: str) -> tuple[Choice, ...]:
        """Return what may be chosen, first what holds where nothing is; none for what is typed."""
        if each.shape is LEG_NAMES:
            return _legs_choices(blank)
        if each.shape is FLAG or each.key == "continuous":
            return (("", blank), ("1", _("yes")), ("0", _("no")))
        if each.choices:
            known: Sequence[str] = (
                self.book.occupancies if each.choices == "occupancy" else self.book.choices[each.choices]
            )
            default = blank or getattr(self.book.terms, each.key)
            return (("", self.said(default)), *((name, self.said(name)) for name in known if name != default))
        known = [str(name) for name in each.shape.schema.get("enum", ())]
        if not known:
            return ()
        words = tuple((name, self.said(name)) for name in dict.fromkeys(known))
        return words if each.required or each.key == "kind" else (("", blank), *words)


_SAID = {
    "primary_only": gettext_noop("primary only"),
    "primary_and_secondary": gettext_noop("both sides"),
    "derived": gettext_noop("secondary of a transformer"),
    "optional": gettext_noop("optional, 220.84"),
    "Cu": gettext_noop("copper"),
    "Al": gettext_noop("aluminum"),
}
_BY_TRADE = {"bundled": "bundled", "size": "size_by_hand"}


def node_fields(document: Document, key: str) -> LinkFields:
    """Return what can be changed of a node."""
    make, node = _Fields(document, key), document["nodes"][key]
    fields = LinkFields()
    load = fields.of("load")
    load.append(make.at("name", _("Name")))
    if node["kind"] == "source":
        usual = make.book.terms.nominal  # a supply of elsewhere stays where it stands
        load.append(make.at("system", _("System"), tuple((name, name) for name in usual)))
        fields.more += [each for link, each in make.declared() if link == "load"]
        return fields
    for link, each in make.declared():
        if link == "reason":
            fields.reason = each
        else:
            fields.of(link).append(each)
    if node["kind"] in _WITH_LEGS:
        load.append(make.at("legs", _("Phases it is on"), _legs_choices(_("all"))))
    load.append(make.at("note", _("Note")))
    drop = fields.of("drop")
    length = [each for each in drop if each.path[-2:] == ("run", "length")]
    drop[:] = [each for each in drop if each not in length]
    return _led(fields, length)


@dataclass(frozen=True)
class Column:
    """A field of circuits that a schedule can show: its place in a node, and its label."""

    place: str
    label: str


def columns(book_name: str) -> list[Column]:
    """Return what a schedule can show of its circuits beside what it always shows."""
    family = find_book(book_name).terms.family
    found = {}
    for place, model in (("load", LoadSpec), *_OF_RUN):
        for each in fields_of(model):
            path = f"{place}.{each.key}"
            if each.label and each.family in ("", family) and path not in _ALWAYS_SHOWN:
                found[path] = trade(family).get(_BY_TRADE.get(each.key, "")) or _(each.label)
    return [Column(path, label) for path, label in found.items()] + [Column("note", _("Note"))]


_ALWAYS_SHOWN = ("load.rating", "load.way", "run.length")


def many_fields(book_name: str) -> list[tuple[str, str]]:
    """Return what can be set of several nodes at once: those a person most often means first."""
    return _many_fields(book_name, get_language() or "")


@lru_cache(maxsize=100)
def _many_fields(book_name: str, _language: str) -> list[tuple[str, str]]:
    labels = {each.place: each.label for each in columns(book_name)}
    labels |= {"load.rating": _("Rating each"), "run.length": _("One-way length")}
    first = [place for place in _OFTEN_OF_MANY if place in labels]
    return [(place, labels[place]) for place in (*first, *(each for each in labels if each not in first))]


_OFTEN_OF_MANY = ("run.length", "run.material", "run.insulation", "load.rating", "load.power_factor", "run.ambient_c")


def cells_of(document: Document, key: str, places: Sequence[str]) -> tuple[Field | None, ...]:
    """Return of a node the fields at some places, None where it has no such field."""
    fields = node_fields(document, key) if places else LinkFields()
    known = {".".join(each.path[2:]): each for each in fields.every()}
    return tuple(known.get(place) for place in places)


def _led(fields: LinkFields, length: list[Field]) -> LinkFields:
    """Put what one enters of every load first, in the order of the work; the rest is behind a fold."""
    order = {key: at for at, key in enumerate(_LEADING)}
    load = fields.of("load")
    entered = [*load, *length]
    load[:] = sorted((each for each in entered if each.path[-1] in order), key=lambda each: order[each.path[-1]])
    fields.more = [each for each in entered if each.path[-1] not in order]
    return fields


_LEADING = (
    "name",
    "kva",
    "secondary",
    "kind",
    "rating",
    "count",
    "volts",
    "poles",
    "way",
    "floor_area",
    "length",
    "ways",
    "main_a",
    "bus_a",
    "fault_ka",
)


def _legs_choices(blank: str) -> tuple[Choice, ...]:
    single = (("L1", "L1"), ("L2", "L2"), ("L3", "L3"))
    pairs = (("L1-L2", "L1-L2"), ("L2-L3", "L2-L3"), ("L1-L3", "L1-L3"))
    return (("", blank), *single, *pairs, ("L1-L2-L3", "L1-L2-L3"))


def may_hold(path: tuple[str, ...]) -> bool:
    """Return whether a path leads to a place of a node that the workbench may set."""
    return len(path) > 2 and path[0] == "nodes" and ".".join(path[2:]) in _PLACES  # noqa: PLR2004
