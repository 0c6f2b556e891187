"""The walk-through line in a job: what it says, and where that would hang."""

import copy
from dataclasses import dataclass, field

from django.utils import formats
from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.path.line.said import Understood
from web.jobs.document import Document
from web.words.figures import say, write
from web.workbench.chain import kind_words
from web.workbench.changes import board_of, find_board

_THREE_PHASE = 3
_INSTALLED = ("method", "raceway", "cable", "arrangement", "insulation", "material", "ambient_c")


@dataclass
class Said:
    """A line as understood, the board it would hang on, and what stands in the way."""

    found: Understood
    board: str
    board_name: str
    words: list[tuple[str, str]] = field(default_factory=list)
    problems: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


def understood(document: Document, line: str, at: str) -> Said:
    """Return what a line says in a job; without a board named it hangs on the chosen one."""
    terms = find_book(document["job"]["book"]).terms
    found = read_line(line, terms.family == "iec", formats.get_format("DECIMAL_SEPARATOR"))
    board = find_board(document, found.board) if found.board else board_of(document, at)
    said = Said(found, board or "", "")
    said.problems = [say(problem) for problem in found.problems]
    if not board:
        said.problems.append(_no_board(document, found.board, at))
    else:
        said.board_name = document["nodes"][board].get("name") or board
    said.notes = [say(note) for note in found.notes]
    said.words = _words(found)
    return said


def _no_board(document: Document, named: str, at: str) -> str:
    """Return why there is nothing to hang a load on."""
    if named:
        return _("no board, or more than one, goes by “%(name)s”") % {"name": named}
    if at and at not in document["nodes"]:
        return _("what was chosen here has been taken away on another page: choose where it hangs")
    return _("there is nothing yet that could feed it: add a source")


def _words(found: Understood) -> list[tuple[str, str]]:
    """Return everything that was understood, each part with the word before it."""
    load, run = found.load, found.run
    count = f"{load['count']} × " if "count" in load else ""
    words = [
        ("", _("%(n)s circuits") % {"n": found.circuits} if found.circuits > 1 else ""),
        ("", kind_words(load.get("kind", "general"))),
        ("", f"{count}{load['rating']}" if "rating" in load else ""),
        ("", _("3-phase") if load.get("phases") == _THREE_PHASE else ""),
        ("", f"{write(load['volts'])} V" if "volts" in load else ""),
        ("cos φ", write(load["power_factor"], 2) if "power_factor" in load else ""),
        ("", _continuous(load.get("continuous", 0))),
        (_("poles"), str(load.get("poles", ""))),
        (_("legs"), "-".join(load.get("legs", []))),
        (_("way"), str(load.get("way", ""))),
        (_("run"), run.get("length", "")),
        *((_("pinned"), str(value)) for key, value in run.get("pins", {}).items() if key != "reason"),
        *(("", str(run.get(key, ""))) for key in _INSTALLED),
    ]
    return [(before, shown) for before, shown in words if shown]


def _continuous(share: float) -> str:
    if not share:
        return ""
    return _("continuous") if share == 1 else f"{write(share * 100)} % {_('continuous')}"


def circuits_of(found: Understood) -> list[dict]:
    """Return the nodes that a line makes, one for each circuit."""
    made = []
    for at in range(1, found.circuits + 1):
        name = found.name if found.circuits == 1 else f"{found.name} {at}"
        node = {"kind": "load", "name": name, "load": copy.deepcopy(found.load)}
        if found.run:
            node["run"] = copy.deepcopy(found.run)
        made.append(node)
    return made
