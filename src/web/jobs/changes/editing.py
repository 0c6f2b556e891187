"""The one writing service: every change to a job's document, with permission, lock, checks and event in a transaction.

What is to change is worked out on the document as it is under the lock, never on one that was read before: another
person may have changed it meanwhile. Nothing is kept that would break what must hold of every job.
"""

import copy
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import connection, transaction
from django.utils import timezone

from web.jobs.access import locked_job
from web.jobs.changes.sound import moves_node, require_room, require_whole, standings
from web.jobs.document import Change, Document, position, put, read
from web.jobs.models import Event, Job, Received
from web.jobs.rows import apart, read_rows, remember, settings_of, write_touched
from web.jobs.weight import fold, weigh, weight_of

# Typing a number is one change: what one person types in one place goes on with their last event.
_SAME_TYPING = timedelta(seconds=20)


@dataclass(frozen=True)
class Seen:
    """What a page showed when a person acted.

    version: of the job; page: a token of the page, whose own changes are no one else's
    once: a token of the act: however often it is sent, it counts once
    """

    version: int
    page: str = ""
    once: str = ""


class Conflict(Exception):
    """Another page changed the same place after this one was shown."""

    def __init__(self, event: Event, theirs: Any, document: Document, version: int) -> None:
        super().__init__(event.seq)
        self.event = event
        self.theirs = theirs
        self.document = document
        self.version = version


@dataclass
class Edited:
    """A job after a change: its document, and the places others changed since the page was shown.

    at: the node to show after it, where the change says so
    event: what was logged of it: the person's last change that stands, after which nothing is to be done again
    """

    job: Job
    document: Document
    by_others: list[Change] = field(default_factory=list)
    at: str = ""
    done: str = ""
    event: Event | None = None


@dataclass
class Plan:
    """Changes, their title, and the node to show after them.

    also: what is written down with them because it held before, and shall hold after them
    done: what a person is told of it, where that is worth a word
    """

    changes: Sequence[Change]
    title: str = ""
    at: str = ""
    also: Sequence[Change] = ()
    done: str = ""


# A plan is made of the document under the lock. A check raises where the changed document is not one to keep.
Planner = Callable[[Document], Plan]
Check = Callable[[Document, Sequence[Change]], None]

_LONGEST_TITLE = 120
ARROW = "→"  # between what was and what is, in a title


def planned(*wanted: Change, title: str = "") -> Planner:
    """Return a planner of changes that do not hang on what the document holds."""
    return lambda _document: Plan(wanted, title)


@transaction.atomic
def edit(job_id: UUID, user: User, planner: Planner, seen: Seen, check: Check) -> Edited:
    """Make the planned changes to a job and log them as one event.

    Raises: Conflict where another page changed the same place since; NoSuchPlace; InputError where the job would not
        hang together, or hold too much; what `planner` and `check` raise.
    """
    job = locked_job(job_id, user)
    document, rows = read_rows(job)
    if was_received(job, user, seen):
        return Edited(job, document)
    plan = planner(document)
    moves = any(moves_node(change.path) for change in (*plan.also, *plan.changes))
    before = standings(document) if moves else []
    later = _later(job, seen)
    if seen.version < job.folded:
        _require_not_blind(job, document, plan.changes)
    _require_no_conflict(job, document, plan.changes, later)
    made = _make(document, [*plan.also, *plan.changes])
    by_others = [theirs for _event, theirs in later]
    event = None
    if any(change.before != change.after and not change.stays for change in made):
        if moves:
            require_whole(before, document, {change.path[1] for change in made if change.path[0] == "nodes"})
            require_room(document)
        check(document, made)
        event = _log(job, user, made, plan.title[:_LONGEST_TITLE], seen)
        fold(job)
        keep(job, rows, document, made)
    return Edited(job, document, by_others, plan.at, plan.done, event)


def was_received(job: Job, user: User, seen: Seen) -> bool:
    """Return whether an act of a person was taken before; from now on it was. The job must be locked."""
    if not seen.once:
        return False
    # One statement, where asking first would be four: the row is there afterwards, whoever made it.
    with connection.cursor() as cursor:
        cursor.execute(_RECEIVE, [job.pk, user.pk, seen.once, timezone.now()])
        return not cursor.rowcount


_RECEIVE = f"""
    INSERT INTO {Received._meta.db_table} (job_id, user_id, once, at) VALUES (%s, %s, %s, %s)
    ON CONFLICT (job_id, user_id, once) DO NOTHING
"""  # noqa: S608  (the table's own name)


def _later(job: Job, seen: Seen) -> list[tuple[Event, Change]]:
    """Return what other pages changed after this one was shown, as far as the log reaches back."""
    if seen.version >= job.version:
        return []
    events = job.events.filter(touched__gt=seen.version).select_related("actor")
    others = [event for event in events if not (seen.page and event.page == seen.page)]
    changed = [(event, Change.from_json(raw)) for event in others for raw in event.changes]
    return [(event, change) for event, change in changed if not change.stays]


def _require_not_blind(job: Job, document: Document, wanted: Sequence[Change]) -> None:
    """Raise Conflict where a page so old that the log does not reach back to it would write over anything."""
    for change in wanted:
        now = read(document, change.path)
        if now not in (None, change.after):
            folded = Event(job=job, at=job.changed_at, seq=job.folded, touched=job.folded)
            raise Conflict(folded, now, document, job.version)


def _require_no_conflict(job: Job, document: Document, wanted: Sequence[Change], later: Any) -> None:
    for change in wanted:
        for event, theirs in later:
            if change.overlaps(theirs) and read(document, change.path) != change.after:
                raise Conflict(event, read(document, change.path), document, job.version)


def _make(document: Document, wanted: Sequence[Change]) -> list[Change]:
    made = []
    for key in {change.path[1] for change in wanted if change.path[0] == "nodes"}:
        apart(document, key)
    for change in wanted:
        at = change.at if change.at is not None else position(document, change.path)
        made.append(Change(change.path, copy.deepcopy(read(document, change.path)), change.after, at, change.stays))
        put(document, made[-1])
    return made


def _log(job: Job, user: User, changes: list[Change], title: str, seen: Seen) -> Event:
    now, version = timezone.now(), job.version + 1
    last = job.events.filter(touched=version - 1).first() if _is_typing(changes) else None
    if last and _goes_on(last, job, user, changes, now, seen):
        kept = Change.from_json(last.changes[0])
        last.changes = [Change(kept.path, kept.before, changes[0].after, kept.at).as_json()]
        first, arrow, _was = last.title.rpartition(ARROW)
        last.title = f"{first}{arrow}{title.rpartition(ARROW)[2]}"[:_LONGEST_TITLE] if arrow else last.title
        last.seq = last.touched = version
        last.at = now
        last.save()
        return last
    raw = [change.as_json() for change in changes]
    weight = weight_of(raw)
    event = Event.objects.create(
        job=job,
        actor=user,
        at=now,
        seq=version,
        touched=version,
        changes=raw,
        title=title,
        page=seen.page,
        bytes=weight,
    )
    job.log_bytes += weight
    return event


def _is_typing(changes: list[Change]) -> bool:
    return len(changes) == 1 and isinstance(changes[0].after, str)


def _goes_on(last: Event, job: Job, user: User, changes: list[Change], now: datetime, seen: Seen) -> bool:
    return (
        len(last.changes) == 1
        and not last.undone
        and last.actor_id == user.pk
        and last.page == seen.page
        and last.seq == last.touched == job.version
        and tuple(last.changes[0]["path"]) == changes[0].path
        and isinstance(last.changes[0]["after"], str)
        and now - last.at < _SAME_TYPING
    )


def keep(job: Job, rows: dict[str, int], document: Document, changes: Sequence[Change]) -> None:
    """Write what changed: the job, and of its nodes those that the changes touch; `rows` are those it had."""
    job.name, job.book, job.entries = document["job"]["name"], document["job"]["book"], settings_of(document)
    weigh(job, changes)
    job.version += 1
    job.changed_at = timezone.now()
    job.save(update_fields=_KEPT)
    write_touched(job, rows, document, (change.path[1] for change in changes if change.path[0] == "nodes"))
    transaction.on_commit(lambda: remember(job, document["nodes"], rows))


_KEPT = ("name", "book", "entries", "version", "bytes", "log_bytes", "folded", "changed_at")
