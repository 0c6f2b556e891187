"""A job's document as rows of the database, and back."""

from collections.abc import Iterable, Sequence
from typing import Any

from web.jobs.document import Document
from web.jobs.models import Job, Node
from web.jobs.sound import require_sound

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
    nodes, rows = {}, {}
    # Plain values: building a model for each of thousands of rows takes longer than reading them.
    for pk, key, *columns in job.nodes.values_list(*_NODE_COLUMNS):
        nodes[key] = _entered(*columns)
        rows[key] = pk
    return _document(job, nodes), rows


def _entered(kind: str, parent: str, place: float, data: dict[str, Any]) -> dict[str, Any]:
    return {"kind": kind, "parent": parent, "position": place, **data}


def _document(job: Job, nodes: dict[str, Any]) -> Document:
    return {"job": {"name": job.name, "book": job.book, **job.entries}, "nodes": nodes}


def write_all(job: Job, document: Document) -> None:
    """Write the rows of a new job."""
    Node.objects.bulk_create(_row(job, key, node) for key, node in document["nodes"].items())


def write_touched(job: Job, rows: dict[str, int], document: Document, touched: Iterable[str]) -> None:
    """Write the nodes that were touched; `rows` are those that the job had."""
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
    if new:
        Node.objects.bulk_create(new)
    if changed:
        Node.objects.bulk_update(changed, ["kind", "parent_key", "position", "data"])


def _row(job: Job, key: str, node: dict[str, Any]) -> Node:
    data = {name: value for name, value in node.items() if name not in _COLUMNS}
    return Node(
        job=job, key=key, kind=node["kind"], parent_key=node.get("parent") or "", position=node["position"], data=data
    )


def settings_of(document: Document) -> dict[str, Any]:
    """Return what a job's row keeps beside its name and book."""
    return {key: value for key, value in document["job"].items() if key not in ("name", "book")}
