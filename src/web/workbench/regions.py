"""What the workbench shows: its regions from one solution, and which of its rows are new to the page."""

import hashlib
from dataclasses import dataclass
from functools import lru_cache

from django.core.cache import cache
from django.template.loader import get_template
from django.utils.safestring import mark_safe
from django.utils.translation import get_language

from voltaje.books.registry import books, find_book
from voltaje.sheet import Finding, Severity
from web.drawing.single_line import single_line
from web.jobs import editing
from web.jobs.document import Document
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.openfile import ordered
from web.jobs.solving import Solved
from web.workbench.chain import chain_view, gauge, kind_words
from web.workbench.changes import FEEDS, board_of
from web.workbench.fields import node_fields
from web.workbench.schedule import schedule_view
from web.workbench.tree import TreeRow, tree_rows

_ADDABLE = ("board", "transformer", "dwelling", "inverter", "source")
_MOST_ROWS_KEPT = 20_000
_KEPT_SECONDS = 3600


@dataclass(frozen=True)
class Remark:
    """A finding with the node it is about, and the reason for which a person noted it."""

    id: str
    finding: Finding
    key: str
    name: str
    noted: str

    @property
    def may_be_noted(self) -> bool:
        """A stop can never be put aside."""
        return self.finding.severity is not Severity.STOP


def remarks(document: Document, solved: Solved) -> list[Remark]:
    """Return every finding of a job, the worst first, the noted ones last."""
    noted = document["job"].get("noted", {})
    nodes = document["nodes"]
    found = [(key, each) for key, node in solved.solution.nodes.items() for each in node.findings]
    found += [(each.field if each.field in nodes else "", each) for each in solved.solution.findings]
    listed = []
    for key, each in found:
        identity = hashlib.sha256(f"{key}|{each.message.template}".encode()).hexdigest()[:16]
        reason = noted.get(identity, "") if each.severity is not Severity.STOP else ""
        name = (nodes[key].get("name") or key) if key else ""
        listed.append(Remark(identity, each, key, name, reason))
    order = list(Severity)
    return sorted(listed, key=lambda remark: (bool(remark.noted), order.index(remark.finding.severity)))


def chosen(document: Document, at: str) -> str:
    """Return the node to show: the one asked for, else the first board, else the first of all."""
    if at in document["nodes"]:
        return at
    return board_of(document, "") or next(iter(ordered(document)), "")


def bench(request, job: Job, document: Document, solved: Solved, at: str, lens: str, **more) -> dict:
    """Return everything the regions show. `at` must have been opened when the job was solved."""
    metric = find_book(job.book).terms.length_unit == "m"
    nodes = document["nodes"]
    listed = remarks(document, solved)
    open_ones = [each for each in listed if not each.noted]
    parent = nodes[at].get("parent") if at else ""
    return {
        "job": job,
        "book": solved.solution.book,
        "document": document,
        "at": at,
        "lens": lens,
        "metric": metric,
        "remarks": listed,
        "counts": {str(each): sum(1 for r in open_ones if r.finding.severity is each) for each in Severity},
        "systems": ", ".join(node["system"] for node in nodes.values() if node["kind"] == "source"),
        "chain": chain_view(solved.solution, at, nodes[parent].get("name") or parent if parent else "") if at else None,
        "node": nodes.get(at),
        "fields": node_fields(document, at) if at else None,
        "feeders": [(key, nodes[key].get("name") or key) for key in ordered(document) if nodes[key]["kind"] in FEEDS],
        "drawing": _drawing(document, solved, metric) if lens == "path" else None,
        "schedule": _schedule(document, solved, at, metric) if lens == "schedule" and at else None,
        "may_edit": may_edit(job, request.user),
        "undoable": editing.undoable(job, request.user),
        "redoable": editing.redoable(job, request.user),
        "node_kinds": [(kind, kind_words(kind)) for kind in _ADDABLE],
        "compare_with": [name for name in books() if name != solved.solution.book],
        **more,
    }


def _drawing(document: Document, solved: Solved, metric: bool):
    return single_line(document, solved.solution, metric, lambda size: gauge(size, metric))


def _schedule(document: Document, solved: Solved, at: str, metric: bool):
    board = board_of(document, at)
    return schedule_view(document, solved.solution, board, metric) if board else None


# Rows of the path


@lru_cache(maxsize=_MOST_ROWS_KEPT)
def _row_html(row: TreeRow, _language: str) -> str:
    """Return a row's markup; rows are alike across requests but for the few that a change touched."""
    return get_template("workbench/_row.html").render({"row": row})


def tree_html(document: Document, solved: Solved, job: Job, seen: int) -> dict:
    """Return the rows: all of them, or where the page's own are known only the changed ones.

    seen: the version that the page shows
    """
    language = get_language() or ""
    rows = tree_rows(document, solved.solution)
    html = {row.key: _row_html(row, language) for row in rows}
    shape = tuple((row.key, row.parent) for row in rows)
    before = cache.get(_cached(job, seen))
    cache.set(_cached(job, job.version), (shape, {key: hash(text) for key, text in html.items()}), _KEPT_SECONDS)
    if before and before[0] == shape:
        changed = [text for key, text in html.items() if before[1].get(key) != hash(text)]
        return {"rows": None, "changed_rows": [mark_safe(text) for text in changed]}  # noqa: S308  (our own template's)
    return {"rows": [mark_safe(text) for text in html.values()], "changed_rows": None}  # noqa: S308


def _cached(job: Job, version: int) -> str:
    return f"rows-{job.pk}-{version}"
