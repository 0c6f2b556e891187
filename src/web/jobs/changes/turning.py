"""Taking one's own last change back, and doing it again; what stands in the way is said."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction

from voltaje.path.soundness import Fault, Standing
from web.jobs.access import locked_job
from web.jobs.changes.editing import Check, Edited, Seen, keep, was_received
from web.jobs.changes.sound import name_of, new_faults, require_room, said_of, standings
from web.jobs.document import Change, Document, NoSuchPlace, put, read
from web.jobs.models import Event, Job
from web.jobs.order import freed, way_of, without_way
from web.jobs.rows import apart, read_rows
from web.jobs.weight import weight_of


class Refused(Exception):
    """Nothing to undo, or another person has since changed the same thing."""

    def __init__(self, event: Event | None = None) -> None:
        super().__init__()
        self.event = event


class NoLongerFits(Exception):
    """Taken back, a change would leave something hanging nowhere, or two in one place.

    hung: names of what was hung since on what would go; key: of what would go
    gone, who: what it hung on was taken away since, and by whom
    fault: else, what would not hold; document: as it would be
    """

    def __init__(
        self, hung: Any = (), key: str = "", name: str = "", gone: str = "", who: str = "", said: Any = None
    ) -> None:
        super().__init__()
        self.hung, self.key, self.name, self.gone, self.who, self.said = hung, key, name, gone, who, said


@dataclass(frozen=True)
class Turns:
    """What a person may take back, and what they may do again."""

    undoable: Event | None
    redoable: Event | None


def turns(job: Job, user: User) -> Turns:
    """Return the person's own last change that stands, and the one they undid last unless they went on since.

    As a page shows them: without what they changed.
    """
    mine = job.events.filter(actor=user).order_by("-seq").defer("changes")
    undone = None
    # From the last back to the first that stands; of those on the way, which were undone, the oldest is done again.
    for some in (mine[:_FIRST], mine[_FIRST:]):
        for event in some:
            if not event.undone:
                return Turns(event, undone)
            undone = event
    return Turns(None, undone)


_FIRST = 5  # the second question is hardly ever asked


@transaction.atomic
def undo(job_id: UUID, user: User, check: Check, seen: Seen) -> Edited:
    """Take back the person's own last change.

    Raises: Refused where there is none, or another changed it since; NoLongerFits.
    """
    job = locked_job(job_id, user)
    return _turn(job, user, turns(job, user).undoable, check, seen)


@transaction.atomic
def redo(job_id: UUID, user: User, check: Check, seen: Seen) -> Edited:
    """Do again what the person last took back. Raises as `undo` does."""
    job = locked_job(job_id, user)
    return _turn(job, user, turns(job, user).redoable, check, seen)


def _turn(job: Job, user: User, event: Event | None, check: Check, seen: Seen) -> Edited:
    document, rows = read_rows(job)
    if was_received(job, user, seen):
        return Edited(job, document)
    if event is None:
        raise Refused
    before = standings(document)
    all_changes = [Change.from_json(raw) for raw in event.changes]
    changes = [change for change in all_changes if not change.stays]
    forward = event.undone
    if not forward:
        changes = [change.inverse() for change in reversed(changes)]
    for key in {change.path[1] for change in changes if change.path[0] == "nodes"}:
        apart(document, key)
    for change in changes:
        if not _is_as_left(read(document, change.path), change.before):
            raise Refused(_who_changed(job, change, event))
        try:
            put(document, change)
        except NoSuchPlace as error:
            raise Refused(_who_changed(job, change, event)) from error
    changes = freed(document, changes)
    _require_fit(job, before, document, changes)
    require_room(document)
    check(document, changes)
    stays = [change for change in all_changes if change.stays]
    event.changes = [each.as_json() for each in (*stays, *_as_made(changes, forward))]
    weight = weight_of(event.changes)
    job.log_bytes += weight - event.bytes
    event.bytes = weight
    event.undone = not event.undone
    event.touched = job.version + 1
    event.page = seen.page
    event.save()
    keep(job, rows, document, changes)
    return Edited(job, document, changes)


def _is_as_left(now: Any, before: Any) -> bool:
    """Return whether a place holds what it held; that a node's way was written down since changes nothing of it."""
    if now == before or not isinstance(now, dict) or not isinstance(before, dict):
        return bool(now == before)
    return bool(not way_of(before) and without_way(now) == before)


def _as_made(changes: Sequence[Change], forward: bool) -> list[Change]:
    """Return changes as their event keeps them, in the direction in which they were first made."""
    return list(changes) if forward else [change.inverse() for change in reversed(changes)]


def _who_changed(job: Job, change: Change, event: Event) -> Event:
    """Return the later event that touched the same place."""
    for other, theirs in _later(job, event):
        if change.overlaps(theirs):
            return other
    return event


def _later(job: Job, event: Event) -> list[tuple[Event, Change]]:
    later = job.events.filter(touched__gt=event.touched).order_by("-touched").select_related("actor")
    return [(other, Change.from_json(raw)) for other in later for raw in other.changes if not raw.get("stays")]


def _require_fit(job: Job, before: list[Standing], document: Document, changes: Sequence[Change]) -> None:
    found = new_faults(before, document)
    if not found:
        return
    going = {change.path[1]: change.before for change in changes if len(change.path) == 2 and change.after is None}  # noqa: PLR2004
    hung = [fault for fault in found if fault.code == "hangs_nowhere" and fault.other in going]
    if hung:
        key = hung[0].other
        names = [name_of(document, fault.id) for fault in hung if fault.other == key]
        raise NoLongerFits(hung=names, key=key, name=str(going[key].get("name") or key))
    raise NoLongerFits(**_gone(job, found[0], document))


def _gone(job: Job, fault: Fault, document: Document) -> dict[str, Any]:
    """Return what became of what a node would hang on; else what does not hold."""
    if fault.code == "hangs_nowhere":
        for event in job.events.order_by("-touched").select_related("actor"):
            for raw in event.changes:
                change = Change.from_json(raw)
                taken = change.after if event.undone else change.before
                if change.path == ("nodes", fault.other) and taken:
                    return {"gone": str(taken.get("name") or fault.other), "who": event.who}
    return {"said": said_of(fault, document), "name": name_of(document, fault.id)}
