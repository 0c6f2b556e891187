"""Every change to a job: permission, lock, check, event, all in one transaction."""

import copy
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone

from web.jobs.document import Change, Document, NoSuchPlace, position, put, read
from web.jobs.models import Event, Job, Membership, Node, Role

# Typing a number is one change: what one person types in one place goes on with their last event.
_SAME_TYPING = timedelta(seconds=20)
KEPT_AWAY = timedelta(days=30)  # a job that was put away can be brought back so long


class Conflict(Exception):
    """Another page changed the same place after this one was shown."""

    def __init__(self, event: Event, theirs: Any, document: Document, version: int):
        super().__init__(event.seq)
        self.event = event
        self.theirs = theirs
        self.document = document
        self.version = version


class Refused(Exception):
    """Nothing to undo, or another person has since changed the same thing."""

    def __init__(self, event: Event | None = None):
        super().__init__()
        self.event = event


@dataclass
class Edited:
    """A job after a change: its document, and the places others changed since the page was shown."""

    job: Job
    document: Document
    by_others: list[Change] = field(default_factory=list)


Check = Callable[[Document], None]


_NODE_COLUMNS = ("pk", "key", "kind", "parent_key", "position", "data")


def document_of(job: Job) -> Document:
    """Return a job's document."""
    return _read(job)[0]


def documents_of(jobs: Sequence[Job]) -> list[Document]:
    """Return the documents of several jobs, read at once."""
    nodes: dict[Any, dict[str, Any]] = {job.pk: {} for job in jobs}
    for job_id, _pk, key, *columns in Node.objects.filter(job__in=jobs).values_list("job_id", *_NODE_COLUMNS):
        nodes[job_id][key] = _entered(*columns)
    return [_document(job, nodes[job.pk]) for job in jobs]


def _read(job: Job) -> tuple[Document, dict[str, int]]:
    """Return a job's document, and the row of each node."""
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


_COLUMNS = ("kind", "parent", "position")


def _row(job: Job, key: str, node: dict[str, Any]) -> Node:
    data = {name: value for name, value in node.items() if name not in _COLUMNS}
    return Node(
        job=job, key=key, kind=node["kind"], parent_key=node.get("parent") or "", position=node["position"], data=data
    )


@transaction.atomic
def create(user, document: Document) -> Job:
    """Make a job of a document, owned by the user."""
    job = Job(name=document["job"]["name"], book=document["job"]["book"], entries=_settings(document))
    job.save()
    Membership.objects.create(job=job, user=user, role=Role.OWNER)
    Node.objects.bulk_create(_row(job, key, node) for key, node in document["nodes"].items())
    return job


def _settings(document: Document) -> dict[str, Any]:
    return {key: value for key, value in document["job"].items() if key not in ("name", "book")}


def _locked(job_id, user) -> Job:
    """Return the job that the user may change, held until the transaction ends."""
    return get_object_or_404(Job.objects.editable_by(user).select_for_update(of=("self",)), pk=job_id)


@transaction.atomic
def edit(job_id, user, wanted: Sequence[Change], seen_version: int, check: Check, title: str = "") -> Edited:
    """Make changes to a job and log them as one event of that title.

    wanted: changes; what each place held before is read here
    seen_version: the version that the person's page showed
    check: raises where the changed document is not one to keep
    Raises: Conflict where another page changed the same place since; NoSuchPlace; what `check` raises.
    """
    job = _locked(job_id, user)
    document, rows = _read(job)
    later = [
        (event, Change.from_json(raw))
        for event in job.events.filter(touched__gt=seen_version).select_related("actor")
        for raw in event.changes
    ]
    for change in wanted:
        for event, theirs in later:
            if change.overlaps(theirs) and read(document, change.path) != change.after:
                raise Conflict(event, read(document, change.path), document, job.version)
    changes = []
    for change in wanted:
        at = change.at if change.at is not None else position(document, change.path)
        made = Change(change.path, copy.deepcopy(read(document, change.path)), change.after, at)
        put(document, made)
        changes.append(made)
    check(document)
    if any(change.before != change.after for change in changes):
        _log(job, user, changes, title)
        _keep(job, rows, document, changes)
    return Edited(job, document, [change for _, change in later])


def _log(job: Job, user, changes: list[Change], title: str) -> None:
    now, version = timezone.now(), job.version + 1
    last = job.events.order_by("-touched").first()
    if last and _goes_on(last, job, user, changes, now):
        kept = Change.from_json(last.changes[0])
        last.changes = [Change(kept.path, kept.before, changes[0].after, kept.at).as_json()]
        last.seq = last.touched = version
        last.at = now
        last.save()
        return
    raw = [change.as_json() for change in changes]
    Event.objects.create(job=job, actor=user, at=now, seq=version, touched=version, changes=raw, title=title)


def _goes_on(last: Event, job: Job, user, changes: list[Change], now) -> bool:
    typed = len(changes) == len(last.changes) == 1 and isinstance(changes[0].after, str)
    return (
        typed
        and not last.undone
        and last.actor_id == user.pk
        and last.seq == last.touched == job.version
        and tuple(last.changes[0]["path"]) == changes[0].path
        and isinstance(last.changes[0]["after"], str)
        and now - last.at < _SAME_TYPING
    )


def _keep(job: Job, rows: dict[str, int], document: Document, changes: Sequence[Change]) -> None:
    """Write what changed: the job, and of its nodes those that the changes touch; `rows` are those it had."""
    job.name, job.book, job.entries = document["job"]["name"], document["job"]["book"], _settings(document)
    job.version += 1
    job.changed_at = timezone.now()
    job.save()
    touched = {change.path[1] for change in changes if change.path[0] == "nodes"}
    gone = [rows[key] for key in touched if key in rows and key not in document["nodes"]]
    new, changed = [], []
    for key in touched & document["nodes"].keys():
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


@dataclass(frozen=True)
class Turns:
    """What a person may take back, and what they may do again."""

    undoable: Event | None
    redoable: Event | None


def turns(job: Job, user) -> Turns:
    """Return the person's own last change that stands, and the one they undid last unless they went on since."""
    mine = job.events.filter(actor=user)
    standing = mine.filter(undone=False).last()
    undone = mine.filter(undone=True, seq__gt=standing.seq if standing else 0).first()
    return Turns(standing, undone)


@transaction.atomic
def undo(job_id, user, check: Check) -> Edited:
    """Take back the person's own last change. Raises Refused where there is none, or another changed it since."""
    job = _locked(job_id, user)
    return _turn(job, user, turns(job, user).undoable, check)


@transaction.atomic
def redo(job_id, user, check: Check) -> Edited:
    """Do again what the person last took back. Raises Refused as `undo` does."""
    job = _locked(job_id, user)
    return _turn(job, user, turns(job, user).redoable, check)


def _turn(job: Job, user, event: Event | None, check: Check) -> Edited:
    if event is None:
        raise Refused
    document, rows = _read(job)
    changes = [Change.from_json(raw) for raw in event.changes]
    if not event.undone:
        changes = [change.inverse() for change in reversed(changes)]
    for change in changes:
        if read(document, change.path) != change.before:
            raise Refused(_who_changed(job, change, event))
        try:
            put(document, change)
        except NoSuchPlace as error:
            raise Refused(_who_changed(job, change, event)) from error
    check(document)
    event.undone = not event.undone
    event.touched = job.version + 1
    event.save()
    _keep(job, rows, document, changes)
    return Edited(job, document, changes)


def _who_changed(job: Job, change: Change, event: Event) -> Event:
    """Return the later event that touched the same place."""
    later = job.events.filter(touched__gt=event.touched).order_by("-touched").select_related("actor")
    for other in later:
        if any(change.overlaps(Change.from_json(raw)) for raw in other.changes):
            return other
    return event


@transaction.atomic
def delete(job_id, user) -> Job:
    """Put a job away; `restore` brings it back."""
    job = get_object_or_404(
        Job.objects.owned_by(user).filter(deleted_at=None).select_for_update(of=("self",)), pk=job_id
    )
    job.deleted_at = timezone.now()
    job.save(update_fields=["deleted_at"])
    return job


def purge(now: datetime) -> int:
    """Delete for good the jobs that were put away longer ago than they are kept; return how many."""
    gone = Job.objects.filter(deleted_at__lt=now - KEPT_AWAY)
    number = gone.count()
    gone.delete()
    return number


@transaction.atomic
def restore(job_id, user) -> Job:
    """Bring back a job that was put away."""
    job = get_object_or_404(Job.objects.owned_by(user).select_for_update(of=("self",)), pk=job_id)
    job.deleted_at = None
    job.save(update_fields=["deleted_at"])
    return job
