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
from web.drawing.shapes import Shape
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
_MOST_KEPT = 20_000
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


def bench(request, job: Job, document: Document, solved: Solved, at: str, lens: str, seen: int = -1, **more) -> dict:
    """Return everything the regions show. `at` must have been opened when the job was solved.

    seen: the version that the page shows, -1 where it shows nothing yet
    """
    metric = find_book(job.book).terms.length_unit == "m"
    nodes = document["nodes"]
    listed = remarks(document, solved)
    open_ones = [each for each in listed if not each.noted]
    parent = nodes[at].get("parent") if at else ""
    return {
        **(path_html(document, solved, job, seen) if lens == "path" else {}),
        "job": job,
        "book": solved.solution.book,
        "document": document,
        "at": at,
        "lens": lens,
        "metric": metric,
        "counts": {str(each): sum(1 for r in open_ones if r.finding.severity is each) for each in Severity},
        "systems": ", ".join(node["system"] for node in nodes.values() if node["kind"] == "source"),
        "chain": chain_view(solved.solution, at, nodes[parent].get("name") or parent if parent else "") if at else None,
        "node": nodes.get(at),
        "fields": node_fields(document, at) if at else None,
        "feeders": [(key, nodes[key].get("name") or key) for key in ordered(document) if nodes[key]["kind"] in FEEDS],
        "schedule": _schedule(document, solved, at, metric) if lens == "schedule" and at else None,
        "may_edit": may_edit(job, request.user),
        "undoable": editing.undoable(job, request.user),
        "redoable": editing.redoable(job, request.user),
        "node_kinds": [(kind, kind_words(kind)) for kind in _ADDABLE],
        "compare_with": [name for name in books() if name != solved.solution.book],
        **tree_html(document, solved, job, seen),
        **more,
    }


def _schedule(document: Document, solved: Solved, at: str, metric: bool):
    board = board_of(document, at)
    return schedule_view(document, solved.solution, board, metric) if board else None


# Rows of the path and groups of its drawing: their markup is kept, and only what a change touched is sent


@lru_cache(maxsize=_MOST_KEPT)
def _row_html(row: TreeRow, _language: str) -> str:
    return mark_safe(get_template("workbench/_row.html").render({"row": row}))  # noqa: S308  (our own template's)


@lru_cache(maxsize=_MOST_KEPT)
def _group_html(identity: str, key: str, shapes: tuple[Shape, ...]) -> str:
    context = {"id": identity, "key": key, "shapes": shapes}
    return mark_safe(get_template("workbench/_group.html").render(context))  # noqa: S308  (our own template's)


def _changed_of(kind: str, job: Job, seen: int, shape: tuple, html: dict[str, str]) -> list[str] | None:
    """Return the pieces that differ from those the page shows; None where it must be drawn anew.

    seen: the version that the page shows; shape: what must be alike for pieces to be put in place one by one
    """
    before = cache.get(f"{kind}-{job.pk}-{seen}")
    digests = {key: hash(text) for key, text in html.items()}
    cache.set(f"{kind}-{job.pk}-{job.version}", (shape, digests), _KEPT_SECONDS)
    if not before or before[0] != shape:
        return None
    return [text for key, text in html.items() if before[1].get(key) != digests[key]]


def tree_html(document: Document, solved: Solved, job: Job, seen: int) -> dict:
    """Return the rows: all of them, or where the page's own are known only the changed ones."""
    language = get_language() or ""
    rows = tree_rows(document, solved.solution)
    html = {row.key: _row_html(row, language) for row in rows}
    changed = _changed_of("rows", job, seen, tuple((row.key, row.parent) for row in rows), html)
    return {"rows": list(html.values()) if changed is None else None, "changed_rows": changed}


def path_html(document: Document, solved: Solved, job: Job, seen: int) -> dict:
    """Return the drawing: the whole, or only its changed groups."""
    metric = find_book(job.book).terms.length_unit == "m"
    drawing = single_line(document, solved.solution, metric, lambda size: gauge(size, metric))
    html = {group.id: _group_html(group.id, group.key, tuple(group.shapes)) for group in drawing.groups}
    shape = (drawing.width, drawing.height, tuple(html))
    changed = _changed_of("path", job, seen, shape, html)
    return {"drawing": drawing, "groups": list(html.values()), "changed_groups": changed}
