"""A job's document as rows of the database, and back.

Each process remembers the documents it read last, by version: of a job that has a newer version it reads only what
the events since then touched. What is remembered is never changed; whoever changes a document takes its nodes apart
from it first (`apart`).
"""

import copy
from collections import OrderedDict
from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from web.jobs.changes.sound import require_sound
from web.jobs.document import Document
from web.jobs.models import Job, Node

_NODE_COLUMNS = ("pk", "key", "kind", "parent_key", "position", "data")
_COLUMNS = ("kind", "parent", "position")


def document_of(job: Job) -> Document:
    """Return a job's document. Raises Broken where it hangs together no more."""
    document = read_rows(job)[0]
    require_sound(job.pk, document)
    return document


def documents_of(jobs: Sequence[Job]) -> list[Document]:
    """Return the documents of several jobs as they are, read at once."""
    nodes: dict[Any, dict[str, Any]] = {job.pk: {} for job in jobs}
    for job_id, _pk, key, *columns in Node.objects.filter(job__in=jobs).values_list("job_id", *_NODE_COLUMNS):
        nodes[job_id][key] = _entered(*columns)
    return [_document(job, nodes[job.pk]) for job in jobs]


def read_rows(job: Job) -> tuple[Document, dict[str, int]]:
    """Return a job's document as it is, and the row of each node."""
    known = _remembered.get(job.pk)
    if known and not job.folded <= known.version <= job.version:
        known = None  # read so long ago that the log does not say any more what was touched since
    nodes, rows = (dict(known.nodes), dict(known.rows)) if known else ({}, {})
    if not known or not nodes:
        _read_into(nodes, rows, job.nodes.all())
    elif known.version < job.version:
        touched = _touched_since(job, known.version)
        for key in touched:
            nodes.pop(key, None)
            rows.pop(key, None)
        _read_into(nodes, rows, job.nodes.filter(key__in=touched))
    if not known or known.version != job.version:
        remember(job, nodes, rows)
    return _document(job, nodes), rows


class _Remembered(NamedTuple):
    """A job's nodes and their rows at a version."""

    version: int
    nodes: dict[str, Any]
    rows: dict[str, int]


_MOST_REMEMBERED = 40
_remembered: OrderedDict[Any, _Remembered] = OrderedDict()


def remember(job: Job, nodes: dict[str, Any], rows: dict[str, int]) -> None:
    """Remember a job's nodes and their rows as they are at its version."""
    _remembered[job.pk] = _Remembered(job.version, dict(nodes), dict(rows))
    while len(_remembered) > _MOST_REMEMBERED:
        _remembered.popitem(last=False)


def _touched_since(job: Job, version: int) -> set[str]:
    """Return the nodes that were changed since a version: every change has its event, also one that was taken back."""
    events = job.events.filter(touched__gt=version).values_list("changes", flat=True)
    return {change["path"][1] for changes in events for change in changes if change["path"][0] == "nodes"}


def _read_into(nodes: dict[str, Any], rows: dict[str, int], found: Any) -> None:
    # Plain values: building a model for each of thousands of rows takes longer than reading them.
    for pk, key, *columns in found.values_list(*_NODE_COLUMNS):
        nodes[key] = _entered(*columns)
        rows[key] = pk


def apart(document: Document, key: str) -> None:
    """Take a node of a document apart from what is remembered, so that it can be changed."""
    if key in document["nodes"]:
        document["nodes"][key] = copy.deepcopy(document["nodes"][key])


def _entered(kind: str, parent: str, place: float, data: dict[str, Any]) -> dict[str, Any]:
    return {"kind": kind, "parent": parent, "position": place, **data}


def _document(job: Job, nodes: dict[str, Any]) -> Document:
    return {"job": {"name": job.name, "book": job.book, **job.entries}, "nodes": nodes}


def write_all(job: Job, document: Document) -> None:
    """Write the rows of a new job."""
    Node.objects.bulk_create(_row(job, key, node) for key, node in document["nodes"].items())


def write_touched(job: Job, rows: dict[str, int], document: Document, touched: Iterable[str]) -> None:
    """Write the nodes that were touched; `rows` are those that the job had, and has afterwards."""
    gone, new, changed = [], [], []
    for key in set(touched):
        if key not in document["nodes"]:
            gone += [rows[key]] if key in rows else []
            continue
        fresh = _row(job, key, document["nodes"][key])
        if key in rows:
            fresh.pk = rows[key]
            changed.append(fresh)
        else:
            new.append(fresh)
    if gone:
        Node.objects.filter(pk__in=gone).delete()
    for key in [key for key in rows if key not in document["nodes"]]:
        del rows[key]
    rows.update((node.key, node.pk) for node in Node.objects.bulk_create(new))
    if len(changed) == 1:
        changed[0].save(update_fields=_WRITTEN)
    elif changed:
        Node.objects.bulk_update(changed, _WRITTEN)


_WRITTEN = ("kind", "parent_key", "position", "data")


def _row(job: Job, key: str, node: dict[str, Any]) -> Node:
    data = {name: value for name, value in node.items() if name not in _COLUMNS}
    return Node(
        job=job, key=key, kind=node["kind"], parent_key=node.get("parent") or "", position=node["position"], data=data
    )


def settings_of(document: Document) -> dict[str, Any]:
    """Return what a job's row keeps beside its name and book."""
    return {key: value for key, value in document["job"].items() if key not in ("name", "book")}
