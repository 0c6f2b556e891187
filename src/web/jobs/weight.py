"""How many bytes jobs hold, their documents and their logs: counted and capped as their nodes are.

Counted as text of JSON by what each change brings and takes, so that no change reads the whole job for it.
"""

import json
from collections.abc import Iterable, Sequence
from typing import Any

from django.db.models import F, Sum

from voltaje.message import Message
from web.jobs.document import Change
from web.jobs.limits import MOST_BYTES, MOST_BYTES_OF_ALL, MOST_EVENTS, MOST_LOG_BYTES, over
from web.jobs.models import Event, Job, Role

_A_MB = 1_000_000
_FOLDED_AT_ONCE = 100  # events over the cap before any are folded: not one at each change


def weight_of(value: Any) -> int:
    """Return what a value weighs as text [bytes]; nothing weighs nothing."""
    return 0 if value is None else len(json.dumps(value, ensure_ascii=False, separators=(",", ":")).encode())


def weigh(job: Job, changes: Sequence[Change]) -> None:
    """Count what changes bring to a job and take from it.

    Raises: InputError where the job, or with something new all jobs of its owner, would hold too much.
    """
    grown = sum(weight_of(change.after) - weight_of(change.before) for change in changes)
    job.bytes = max(job.bytes + grown, 0)
    if grown <= 0:
        return
    if job.bytes > MOST_BYTES:
        most = MOST_BYTES // _A_MB
        message = Message("a job holds at most {most} MB here: split it into several", most=most)
        raise over("bytes of a job", "nodes", message)
    if any(change.before is None for change in changes):
        for owner in job.memberships.filter(role=Role.OWNER).values_list("user_id", flat=True):
            require_bytes(owner, grown)


def require_bytes(owner_id: Any, more: int) -> None:
    """Raise InputError where all jobs of an account would hold too much."""
    owned = Job.objects.filter(memberships__user_id=owner_id, memberships__role=Role.OWNER)
    held = owned.aggregate(all=Sum(F("bytes") + F("log_bytes")))["all"] or 0
    if held + more > MOST_BYTES_OF_ALL:
        most = MOST_BYTES_OF_ALL // _A_MB
        message = Message("all jobs of an account hold at most {most} MB, their logs of changes with them", most=most)
        raise over("bytes of an account", "jobs", message)


def fold(job: Job) -> None:
    """Take the oldest events out of a job's log where it is over its caps; the last is never taken.

    Asked where an event is added alone: taking changes back brings none, and must not eat up what can be taken back.
    """
    log = job.events.order_by("-touched").values_list("touched", "bytes")
    since = job.folded
    full = MOST_EVENTS + _FOLDED_AT_ONCE
    if job.version - since > full and log.count() > full:
        since = log[MOST_EVENTS][0]
    if job.log_bytes > MOST_LOG_BYTES:
        since = max(since, _heavier_than(log, MOST_LOG_BYTES // 2) or since)
    if since > job.folded:
        Event.objects.filter(job=job, touched__lte=since).delete()
        job.folded = since
        job.log_bytes = job.events.aggregate(all=Sum("bytes"))["all"] or 0


def _heavier_than(log: Iterable[tuple[int, int]], most: int) -> int | None:
    """Return the version after which the events of a log, last first, weigh no more than so much [bytes]."""
    held = 0
    for place, (touched, weight) in enumerate(log):
        held += weight
        if place and held > most:
            return touched
    return None
