"""The inputs of a tool as a form has them, made from its declaration, and what an address or a form gives of them."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.utils.formats import get_format
from django.utils.translation import gettext as _

from voltaje.books.questions import Book
from voltaje.errors import InputError, Refused
from voltaje.inputs.declare import Declared, Items, fields_of
from voltaje.message import Message
from voltaje.tools.asking import book_or_default, places_of, put_at
from voltaje.tools.tool import Tool
from voltaje.typed import with_point
from web.words.figures import say

Raw = dict[str, Any]
_MOST_FIELDS, _MOST_LETTERS = 400, 200
_FEW = 3  # so many choices stand side by side
_SEPARATOR = ";"


@dataclass
class Choice:
    """One of the choices of an input; answer: what comes of it, where readings are shown beside each other."""

    value: str
    words: str
    chosen: bool
    answer: str = ""


@dataclass
class Input:
    """One input: its place (`hp`, `motors[1].hp`), what it is called, what stands in it, what is taken if nothing does.

    unit: behind it; choices: none where it is typed; decides: what else is asked hangs on it
    """

    place: str
    label: str
    value: str
    taken: str
    unit: str = ""
    choices: list[Choice] = field(default_factory=list)
    side_by_side: bool = False
    error: str = ""
    decides: bool = False

    @property
    def in_figures(self) -> bool:
        """Whether a phone shows its keys for figures: one amount, whose unit stands behind it."""
        return bool(self.unit) and ";" not in self.unit

    @property
    def id(self) -> str:
        """Its name in the page."""
        return "q-" + self.place.replace("[", "-").replace("].", "-").replace("]", "")


@dataclass
class Item:
    """One item of a list: its own inputs, and those that stand folded away."""

    at: int
    title: str
    inputs: list[Input]
    more: list[Input]


@dataclass
class Group:
    """Inputs under a heading; items: of a list."""

    title: str
    inputs: list[Input] = field(default_factory=list)
    items: list[Item] = field(default_factory=list)
    key: str = ""
    one: str = ""

    def all(self) -> Iterable[Input]:
        """Yield every input."""
        yield from self.inputs
        for item in self.items:
            yield from (*item.inputs, *item.more)


@dataclass
class Form:
    """A tool's inputs: those in sight, those folded away, and what is wrong with none of them in particular."""

    groups: list[Group]
    more: list[Group]
    general: str = ""

    def all(self) -> Iterable[Input]:
        """Yield every input."""
        for group in (*self.groups, *self.more):
            yield from group.all()


def given_in(tool: Tool[Any], data: Mapping[str, str]) -> Raw:
    """Return the inputs of a tool that an address or a form gives, as the tool reads them.

    What is empty is not given; what begins with "_" is for the page. Raises InputError for what is no place.
    """
    raw: Raw = {}
    decimal = get_format("DECIMAL_SEPARATOR")
    book = book_or_default(data.get("book"))
    places = [(place, value) for place, value in data.items() if not place.startswith("_")]
    if len(places) > _MOST_FIELDS:
        raise InputError("input", Message("must be a list of at most {most}", most=_MOST_FIELDS))
    for place, text in places:
        value = text.strip()[:_MOST_LETTERS]
        ask = _ask_at(tool, place)
        if not value or (place != "book" and _is_taken_anyway(ask, value, book)):
            continue
        if ask and ask.shape.schema.get("type") == "array":
            put_at(raw, place, [part.strip() for part in value.split(_SEPARATOR) if part.strip()])
        else:
            put_at(raw, place, with_point(value, decimal) if ask and ask.shape.typed else value)
    for key in tool.asks.lists():
        items = raw.get(key)
        if isinstance(items, list):
            raw[key] = [item for item in items if item]
    return raw


def _is_taken_anyway(ask: Declared | None, value: str, book: Book) -> bool:
    """Return whether a choice is what is taken where none is made: then it need not stand in a link."""
    return ask is not None and bool(ask.options(book)) and value == ask.taken(book)


def _without_unit(value: str, unit: str) -> str:
    """Return what was typed without the unit that stands behind the field anyway."""
    plain = value.replace("²", "2")
    return plain.removesuffix(unit.replace("²", "2")).strip() if unit and plain != unit else value


def _ask_at(tool: Tool[Any], place: str) -> Declared | None:
    head, _dot, rest = place.partition(".")
    key, bracket, _at = head.partition("[")
    if bracket and rest:
        items = tool.asks.lists().get(key)
        return next((each for each in fields_of(items.model) if each.key == rest), None) if items else None
    found: Declared | None = tool.asks.asks().get(key)
    return found


def as_address(raw: Raw) -> dict[str, str]:
    """Return inputs as they stand in an address."""
    return {
        place: _SEPARATOR.join(map(str, value)) if isinstance(value, list) else str(value)
        for place, value in places_of(_lists_joined(raw)).items()
    }


def _lists_joined(raw: Raw) -> Raw:
    plain = {key: value for key, value in raw.items() if not isinstance(value, list)}
    for key, value in raw.items():
        if isinstance(value, list):
            plain[key] = value if any(isinstance(item, dict) for item in value) else _SEPARATOR.join(map(str, value))
    return plain


def form_of(
    tool: Tool[Any], raw: Raw, book: Book, typed: Mapping[str, str], errors: Iterable[Refused], asked_for: str = ""
) -> Form:
    """Return a tool's inputs as a form.

    typed: what stands in the fields; errors: what is wrong; asked_for: a list that one more item is asked for
    """
    return _Maker(tool, raw, book, typed, list(errors)).form(asked_for)


def _whole(place: str) -> str:
    return place.rpartition("[")[0] if place.endswith("]") else place


class _Maker:
    def __init__(self, tool: Tool[Any], raw: Raw, book: Book, typed: Mapping[str, str], errors: list[Refused]):
        self.tool, self.raw, self.book, self.typed = tool, raw, book, typed
        said = {error.field: say(error.message) + (f" ({error.rule})" if error.rule else "") for error in errors}
        # What is wrong with one amount of a list is said at the list, which is typed as one.
        self.errors = {_whole(place): words for place, words in reversed(said.items())}

    def form(self, asked_for: str) -> Form:
        groups: dict[str, Group] = {}
        more: dict[str, Group] = {}
        told: dict[str, Group] = {}  # what was folded away and has something in it
        model = self.tool.asks
        asks, lists = model.asks(), model.lists()
        for key in model.own_first():
            if key in lists:
                group = self._list(key, lists[key], asked_for)
                groups[key] = group
            elif (ask := asks.get(key)) and ask.label and self._is_for_it(ask):
                made = self._input(key, ask)
                title = say(ask.group) if ask.group else ""
                kept = groups
                if ask.more:
                    kept = more if not made.value and not made.error else groups if title in groups else told
                kept.setdefault(title, Group(title)).inputs.append(made)
        for title, group in told.items():
            groups.setdefault(title, Group(title)).inputs.extend(group.inputs)
        shown = {made.place for group in (*groups.values(), *more.values()) for made in group.all()}
        general = [words for place, words in self.errors.items() if place not in shown]
        return Form(list(groups.values()), list(more.values()), " ".join(general))

    def _is_for_it(self, ask: Declared, of: Items | None = None, items: Any = (), at: int = 0) -> bool:
        """Return whether an input is asked now: of the tool, or of an item of a list."""
        if ask.family and ask.family != self.book.terms.family:
            return False
        if ask.when:
            asks = {each.key: each for each in fields_of(of.model)} if of else self.tool.asks.asks()
            given = items[at] if of and at < len(items) and isinstance(items[at], dict) else {} if of else self.raw
            if str(given.get(ask.when[0]) or asks[ask.when[0]].taken(self.book)) not in ask.when[1]:
                return False
        return not ask.choices or len(ask.options(self.book)) > 1

    def _list(self, key: str, named: Items, asked_for: str) -> Group:
        items = self.raw.get(key, [])
        number = len(items) if isinstance(items, list) else 0
        number = number + 1 if asked_for == key else max(number, named.least)
        made = []
        for at in range(min(number, named.most)):
            asks = [
                (ask.key, ask) for ask in fields_of(named.model) if ask.label and self._is_for_it(ask, named, items, at)
            ]
            inputs = [(ask, self._input(f"{key}[{at}].{each}", ask)) for each, ask in asks]
            folded = [one for ask, one in inputs if ask.more and not one.value and not one.error]
            title = f"{say(named.one)} {at + 1}"
            made.append(Item(at, title, [one for _ask, one in inputs if one not in folded], folded))
        return Group(say(named.label), [], made, key, say(named.one))

    def _input(self, place: str, ask: Declared) -> Input:
        taken = ask.taken(self.book)
        value = ask.option_of(_without_unit(self.typed.get(place, ""), ask.hint), self.book)
        options = ask.options(self.book)
        chosen = value or taken
        choices = [
            Choice(each, say(ask.titles[each]) if each in ask.titles else each, each == chosen) for each in options
        ]
        unit = self.book.terms.length_unit if ask.hint == "length" else "°C" if ask.hint == "degrees" else ask.hint
        if ask.hint == "length" and value[-1:].isalpha():
            unit = ""  # it has one of its own, which it keeps when the book changes
        made = Input(place, _(ask.label), value, taken, unit, choices, 0 < len(choices) <= _FEW)
        made.error = self.errors.get(place, "")
        made.decides = any(each.when and each.when[0] == place for each in self.tool.asks.asks().values())
        if choices and not any(choice.chosen for choice in choices):
            choices.insert(0, Choice("", _("auto"), not value))
            if value:  # not one of them: it stays to be seen, with what is wrong
                choices.append(Choice(value, value, True))
        return made
