"""The walk-through line in a job: what it says there, what of it was assumed, and where it would hang."""

import copy
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from django.utils import formats
from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.path.kinds import Kind
from voltaje.speech.read import nodes_of, read_line
from voltaje.speech.said import Item, Part, Understood, Where
from voltaje.systems import SYSTEMS
from web.jobs.document import Change, Document
from web.jobs.files.openfile import board_of
from web.jobs.order import children
from web.words.figures import say
from web.words.trade import kind_words
from web.workbench.edits import changes
from web.workbench.edits.changes import NEW, find_board

USUAL_SYSTEM = {"nec": "120/240 1ph 3w", "iec": "230/400"}


@dataclass(frozen=True)
class Chip:
    """A part of what was understood; choices: what else it may be, in words, with the line that says so."""

    words: str
    assumed: bool = False
    choices: tuple[tuple[str, str], ...] = ()


@dataclass
class SaidItem:
    """One thing that a line says: its name, its parts, the board it would hang on."""

    item: Item
    board: str
    board_name: str
    chips: list[Chip] = field(default_factory=list)


@dataclass
class Said:
    """A line as understood in a job, and what stands in its way."""

    found: Understood
    items: list[SaidItem] = field(default_factory=list)
    problems: list[str] = field(default_factory=list)
    unused: list[tuple[str, str]] = field(default_factory=list)

    @property
    def has_choices(self) -> bool:
        """Whether there is anything to weigh: of the first thing that it says."""
        return bool(self.items) and any(chip.choices for chip in self.items[0].chips)

    @property
    def unused_words(self) -> str:
        """What was left over, as one says it."""
        return ", ".join(f"“{words}”" for words, _why in self.unused)


def understood(document: Document, line: str, at: str) -> Said:
    """Return what a line says in a job; without a board named it hangs on the chosen one."""
    family = find_book(document["job"]["book"]).terms.family
    here = board_of(document, at)
    found = read_line(line, where_of(document, here))
    said = Said(found)
    for item in found.items:
        board = find_board(document, item.board) if item.board else here
        if item.board and board and board != here:
            # It stands on another board, which may have other volts.
            again = read_line(item.text, where_of(document, board)).items
            item = again[0] if again else item  # noqa: PLW2901
            found.items[len(said.items)] = item
        said.problems += [say(problem) for problem in item.problems]
        if item.kind is Kind.SOURCE:
            board = ""
        elif not board:
            said.problems.append(_no_board(document, item.board, at))
        name = document["nodes"][board].get("name") or board if board else ""
        said.items.append(SaidItem(item, board or "", name, [_chip(part, item, line, family) for part in item.parts]))
    said.unused = [(each.words, say(each.why) if each.why else "") for each in found.unused]
    return said


def where_of(document: Document, board: str) -> Where:
    """Return what a board has: the system of the transformer or source above it, and its legs."""
    terms = find_book(document["job"]["book"]).terms
    nodes, legs = document["nodes"], ()
    key = board
    while key in nodes:
        node = nodes[key]
        name = node.get("transformer", {}).get("secondary") or node.get("system")
        if name in SYSTEMS:
            return Where(terms.family, SYSTEMS[name], legs, _decimal(), terms.rings)
        legs = legs or tuple(node.get("legs") or ())
        key = node.get("parent") or ""
    return Where(terms.family, SYSTEMS[USUAL_SYSTEM[terms.family]], (), _decimal(), terms.rings)


def _decimal() -> str:
    return str(formats.get_format("DECIMAL_SEPARATOR"))


def _chip(part: Part, item: Item, line: str, family: str) -> Chip:
    words = kind_words(part.words.values["kind"], family) if part.place == "load.kind" else say(part.words)
    # What a choice adds is words of the line's grammar: as the library writes them, in no other language.
    choices = tuple((say(each.words), _said_so(line, item, each.line)) for each in part.choices)
    return Chip(words, part.assumed, choices)


def _said_so(line: str, item: Item, choice: str) -> str:
    """Return the whole line with one of its parts said as chosen."""
    chosen = choice.replace("{line}", item.text)
    return line.replace(item.text, chosen, 1) if item.text in line else chosen


def _no_board(document: Document, named: str, at: str) -> str:
    """Return why there is nothing to hang a load on."""
    if named:
        return _("no panel or board, or more than one, goes by “%(name)s”") % {"name": named}
    if at and at not in document["nodes"]:
        return _("what was chosen here was deleted by someone else: choose what feeds it")
    return _("there is nothing yet that could feed it: add a source")


def hung(document: Document, said: Said) -> list[Change]:
    """Return the changes that hang all that a line says on its boards."""
    wanted: list[Change] = []
    for each in said.items:
        neutrals = _neutrals(document, each.board, wanted)
        wanted += changes.add(document, each.board, _apart(circuits_of(each.item), neutrals), wanted)
    return wanted


def _neutrals(document: Document, board: str, wanted: list[Change]) -> set[str]:
    """Return the shared neutrals that a board has, and will have."""
    there = [document["nodes"][key] for key in children(document, board)] if board else []
    coming = [change.after for change in wanted if change.after["parent"] == board]
    return {node.get("load", {}).get("neutral_group", "") for node in (*there, *coming)}


def _apart(nodes: Iterator[dict[str, Any]], known: set[str]) -> Iterator[dict[str, Any]]:
    """Yield new nodes whose shared neutral is none that is known: a second multiwire circuit has one of its own."""
    for node in nodes:
        group = wanted = node.get("load", {}).get("neutral_group", "")
        at = 1
        while group and group in known:
            at += 1
            group = f"{wanted} {at}"
        yield {**node, "load": {**node["load"], "neutral_group": group}} if group != wanted else node


def circuits_of(item: Item) -> Iterator[dict[str, Any]]:
    """Yield the nodes that an item makes as the job keeps them, one for each circuit."""
    for node in nodes_of(item):
        house = node.pop("dwelling", None)
        yield {**node, **(copy.deepcopy(NEW["dwelling"]) | house if house else {})}
