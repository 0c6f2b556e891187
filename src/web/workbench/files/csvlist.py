"""Lists of loads as CSV: read with an error for each wrong line, written for other programs."""

import csv
import io
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from django.utils import formats
from django.utils.translation import gettext as _

from voltaje.books.answers import Terms
from voltaje.errors import Refused
from voltaje.inputs.declare import fields_of
from voltaje.path.document import FORMAT, VERSION, read_job
from voltaje.path.kinds import Kind
from voltaje.path.load import LoadSpec
from voltaje.path.run import RunSpec
from voltaje.path.soundness import FEEDS
from voltaje.speech.read import read_line
from voltaje.speech.said import Where
from voltaje.speech.words import words_of
from voltaje.typed import with_point, with_unit, with_unit_of
from web.jobs.document import Document
from web.jobs.order import branch, fed_by
from web.words.figures import say
from web.workbench.files.headings import Heading, in_words, read_headings
from web.workbench.forms import RATING_UNITS
from web.workbench.parts.schedule import ScheduleView

_OF_LOAD = tuple(each.key for each in fields_of(LoadSpec) if each.column)
_OF_RUN = tuple(each.key for each in fields_of(RunSpec) if each.column)
_NUMBERS = tuple(
    each.key for model in (LoadSpec, RunSpec) for each in fields_of(model) if each.column and each.shape.typed
)
COLUMNS = ("name", *_OF_LOAD, *_OF_RUN, "board")
# What a schedule shows beside what was entered; a schedule that comes back is read without it.
_WORKED_OUT = ("ways", "on_legs", "device", "conductor", "va", "l1_a", "l2_a", "l3_a", "drop_%", "state")
_PINNED = ("device_a", "size")
_NOT_LOADS = (*FEEDS, "inverter", "dwelling")
_REMARK = "#"
_FORMULA_BEGINS = ("=", "+", "@", "-", "'")  # the last marks a cell as text, and must itself be told apart
_DELIMITERS = ",;\t"
Boards = Callable[[str], Where]
MOST_LINES, MOST_SIZE = 500, 200_000
_WORDS = {"yes": "1", "true": "1", "no": "", "false": ""}


@dataclass(frozen=True)
class Line:
    """A line of the list: its number, its text, what it makes, or what is wrong with it."""

    number: int
    text: str
    node: dict[str, Any] | None
    board: str
    error: str = ""


@dataclass
class LoadList:
    """What a list holds; `error` where it cannot be read at all."""

    lines: list[Line] = field(default_factory=list)
    error: str = ""
    headings: list[Heading] = field(default_factory=list)  # where they are not ours: how each was understood

    @property
    def good(self) -> list[Line]:
        """The lines that make a load."""
        return [line for line in self.lines if line.node]

    @property
    def bad(self) -> list[Line]:
        """The lines to mend."""
        return [line for line in self.lines if not line.node]


def read_list(text: str, terms: Terms, where: Boards | None = None) -> LoadList:
    """Return a list read line by line; its first line names the columns.

    where: what a board has that a row names, "" for the chosen one: by it the names of someone else's list are read
    """
    if len(text) > MOST_SIZE:
        return LoadList(error=_("That list is too long to read at once."))
    head = text.strip().partition("\n")[0]
    try:
        apart = max(_DELIMITERS, key=head.count)
        rows = list(csv.reader(io.StringIO(text.strip()), delimiter=apart))
    except csv.Error as error:
        return LoadList(error=str(error))
    if not rows:
        return LoadList(error=_("There is nothing to read."))
    own = [name.strip().lower().replace(" ", "_") for name in rows[0]]
    ours = all(name in COLUMNS + _WORKED_OUT for name in own if name)
    headings = [Heading(name, name) for name in own] if ours else read_headings(rows[0], COLUMNS)
    if not any(heading.column == "rating" for heading in headings):
        known = ", ".join(COLUMNS)
        words = _("The first line must name the columns, the rating among them (load, VA, kW, amps …): %(known)s")
        return LoadList(error=words % {"known": known}, headings=[] if ours else headings)
    if len(rows) > MOST_LINES:
        return LoadList(error=_("That list is too long to read at once."))
    said = None if ours else where
    lines = [_line(at, row, headings, terms, apart, said) for at, row in enumerate(rows[1:], 2) if _says(row)]
    return LoadList(lines, headings=[] if ours else headings)


def _row_as_text(row: list[str], apart: str) -> str:
    out = io.StringIO()
    csv.writer(out, delimiter=apart, lineterminator="").writerow(row)
    return out.getvalue()


def _says(row: list[str]) -> bool:
    return any(row) and not row[0].startswith(_REMARK)


def _line(number: int, row: list[str], head: list[Heading], terms: Terms, apart: str, where: Boards | None) -> Line:
    text = _row_as_text(row, apart)  # as it was typed, so that it goes back whole
    if len(row) > len(head):
        return Line(number, text, None, "", _("more cells than columns"))
    said = [(each, _plain(cell)) for each, cell in zip(head, row, strict=False) if each.column and cell.strip()]
    cells = {each.column: with_unit(cell, each.unit) if each.unit else cell for each, cell in said}
    if cells.get("kind") in _NOT_LOADS:
        return Line(number, text, None, "", _("a list holds loads only"))
    decimal = formats.get_format("DECIMAL_SEPARATOR")
    cells |= {name: with_point(cells[name], decimal) for name in _NUMBERS if name in cells}
    cells |= _breaker(cells)
    load = {name: _WORDS.get(cells[name].lower(), cells[name]) for name in _OF_LOAD if name in cells}
    load = {name: value for name, value in load.items() if value}
    node: dict[str, Any] = {"kind": "load", "name": cells.get("name", ""), "load": load}
    if "kind" in load:
        load["kind"] = words_of(terms.family).kinds.get(load["kind"].lower(), load["kind"])
    if "way" in cells:
        load["way"] = cells["way"].split("-")[0].split(",")[0]
    node |= _as_said(node["name"], load, where(cells.get("board", ""))) if where else {}
    run: dict[str, Any] = {name: cells[name] for name in _OF_RUN if name in cells}
    pins = {name: cells[name] for name in _PINNED if name in cells}
    if pins:
        run["pins"] = {**pins, "reason": _("as listed")}
    if run:
        node["run"] = run
    wrong = _unasked(load) or problem_of(node, terms)
    return Line(number, text, None if wrong else node, cells.get("board", ""), wrong)


def _breaker(cells: dict[str, str]) -> dict[str, str]:
    """Return amperes and poles of a breaker written with both, as schedules have it: 20/1, 50/2P, 30A-2."""
    both = _AMPS_AND_POLES.fullmatch(cells.get("device_a", "").strip().lower())
    if both is None:
        return {}
    return {"device_a": both["amps"], **({} if "poles" in cells else {"poles": both["poles"]})}


_AMPS_AND_POLES = re.compile(r"(?P<amps>\d{1,4}) ?a?(?:mps?)? ?[/, -] ?(?P<poles>[123]) ?-?p?(?:oles?)?")


def _as_said(name: str, load: dict[str, Any], where: Where) -> dict[str, Any]:
    """Fill in what a row of someone else's list leaves open, as the walk-through line understands its words.

    Return which of that is to be looked at.
    """
    said = " ".join(str(part) for part in (name, load.get("rating", ""), _stood(load)) if part)
    (item, *_more) = read_line(said.replace(";", ","), where).items
    if item.problems or item.kind is not Kind.LOAD:
        return {}
    missing = {key: item.load[key] for key in ("kind", "phases", "poles") if key in item.load and key not in load}
    load |= {key: str(value) for key, value in missing.items()}
    assumed = [place for place in item.assumed() if place.removeprefix("load.") in missing]
    return {"assumed": assumed} if assumed else {}


def _stood(load: dict[str, Any]) -> str:
    """Return how a load stands, as the line says it."""
    said = {"volts": "{} V", "phases": "{}ph", "poles": "{}p"}
    values = {key: str(load[key]).removesuffix("V").strip() for key in said if load.get(key)}
    return " ".join(said[key].format(value) for key, value in values.items())


def _unasked(load: dict[str, Any]) -> str:
    """Return what is asked where a rating has no unit: it is never taken for volt-amperes."""
    try:
        with_unit_of(str(load.get("rating", "")), "", asked=RATING_UNITS)
    except Refused as error:
        return f"{in_words('rating')}: {say(error.message)}"
    return ""


def problem_of(node: dict[str, Any], terms: Terms) -> str:
    """Return what is wrong with a node's own fields, "" where nothing is."""
    whole = {
        "format": FORMAT,
        "version": VERSION,
        "nodes": [{"id": "s", "kind": "source", "system": "230/400"}, {"id": "n", "parent": "s", **node}],
    }
    try:
        read_job(whole, terms.length_unit)
    except Refused as error:
        return f"{in_words(error.field.removeprefix('nodes[1].').rpartition('.')[2])}: {say(error.message)}"
    return ""


def write_schedule(view: ScheduleView, nodes: dict[str, Any], footer: list[str]) -> str:
    """Return a schedule as CSV that `read_list` reads again; what it must be read with stands below it."""
    out = io.StringIO()
    rows = csv.writer(out)
    legs = [f"{leg} A" for leg in view.legs]
    rows.writerow(
        ["ways", "name", *_OF_LOAD, "length", "on legs", "device", "conductor", "VA", *legs, "drop %", "state"]
    )
    for each in view.circuits:
        load = {"kind": each.kind} if each.kind in _NOT_LOADS else nodes[each.key].get("load", {})
        entered = ["yes" if load.get(name) is True else str(load.get(name) or "") for name in _OF_LOAD]
        worked_out = [each.legs, each.device, each.conductor, each.load_va, *each.by_leg, each.drop, each.worst]
        rows.writerow([_safe(cell) for cell in (each.ways, each.name, *entered, each.length, *worked_out)])
    rows.writerow([])
    for line in footer:
        rows.writerow([f"{_REMARK} {line}"])
    return out.getvalue()


def as_table(document: Document, keys: Iterable[str]) -> str:
    """Return the loads among branches as a table for a spreadsheet, which `read_list` reads again."""
    nodes, below = document["nodes"], fed_by(document)
    columns = ("name", *_OF_LOAD, *_OF_RUN)
    out = io.StringIO()
    rows = csv.writer(out, delimiter="\t", lineterminator="\n")
    rows.writerow(columns)
    for key in (each for top in keys for each in branch(document, top, below)):
        node = nodes[key]
        if node["kind"] == Kind.LOAD:
            held = {**node.get("load", {}), **node.get("run", {}), "name": node.get("name") or key}
            rows.writerow([_safe("yes" if held.get(name) is True else str(held.get(name) or "")) for name in columns])
    return out.getvalue()


def _plain(cell: str) -> str:
    """Return a cell without what `_safe` put before it."""
    cell = cell.strip()
    return cell[1:] if cell[:1] == "'" and cell[1:2] in _FORMULA_BEGINS else cell


def _safe(cell: str) -> str:
    """Return a cell that no spreadsheet takes for a formula."""
    return f"'{cell}" if len(cell) > 1 and cell[0] in _FORMULA_BEGINS else cell
