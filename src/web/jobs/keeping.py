"""Jobs as wholes: made, put away, brought back, deleted for good; how many an account may keep."""

from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Count
from django.dispatch import receiver
from django.shortcuts import get_object_or_404
from django.utils import timezone

from voltaje.message import Message
from web.accounts.guests import became, forgotten, is_guest
from web.jobs.changes.sound import require_room, require_whole
from web.jobs.document import Document
from web.jobs.limits import MOST_JOBS, MOST_NODES_OF_ALL, over
from web.jobs.models import Event, Job, Membership, Reading, Received, Role, Work
from web.jobs.rows import settings_of, write_all
from web.jobs.weight import require_bytes, weight_of

KEPT_AWAY = timedelta(days=30)  # a job that was put away can be brought back so long
_RESENT_WITHIN = timedelta(days=14)  # a page that was left open sends what waits in it at most so late


@transaction.atomic
def create(user: User, document: Document) -> Job:
    """Make a job of a document, owned by the user.

    Raises: InputError where it does not hang together, or where it or all of the person's jobs hold too much.
    """
    require_whole([], document)
    require_room(document)
    get_user_model().objects.select_for_update().get(pk=user.pk)  # two at once are counted one after the other
    _require_room_for_more(user, len(document["nodes"]))
    held = weight_of(document)
    require_bytes(user.pk, held)
    job = Job(name=document["job"]["name"], book=document["job"]["book"], entries=settings_of(document), bytes=held)
    job.save()
    Membership.objects.create(job=job, user=user, role=Role.OWNER)
    write_all(job, document)
    return job


def _require_room_for_more(user: User, nodes: int) -> None:
    held = Job.objects.owned_by(user).aggregate(jobs=Count("pk", distinct=True), nodes=Count("nodes"))
    if held["jobs"] >= MOST_JOBS:
        message = Message("an account keeps at most {most} jobs, those put away with them", most=MOST_JOBS)
        raise over("jobs of an account", "jobs", message)
    if held["nodes"] + nodes > MOST_NODES_OF_ALL:
        message = Message("all jobs of an account hold at most {most} nodes", most=MOST_NODES_OF_ALL)
        raise over("nodes of an account", "jobs", message)


@transaction.atomic
def delete(job_id: UUID, user: User) -> Job:
    """Put a job away; `restore` brings it back."""
    job = get_object_or_404(
        Job.objects.owned_by(user).filter(deleted_at=None).select_for_update(of=("self",)), pk=job_id
    )
    job.deleted_at = timezone.now()
    job.save(update_fields=["deleted_at"])
    return job


@transaction.atomic
def restore(job_id: UUID, user: User) -> Job:
    """Bring back a job that was put away."""
    job = get_object_or_404(Job.objects.owned_by(user).select_for_update(of=("self",)), pk=job_id)
    job.deleted_at = None
    job.save(update_fields=["deleted_at"])
    return job


def purge(now: datetime) -> int:
    """Delete for good the jobs that were put away longer ago than they are kept; return how many."""
    Received.objects.filter(at__lt=now - _RESENT_WITHIN).delete()
    forget_guests(now)
    gone = Job.objects.filter(deleted_at__lt=now - KEPT_AWAY)
    number = gone.count()
    gone.delete()
    return number


_MOST_MAY = {Role.OWNER: 2, Role.EDITOR: 1, Role.VIEWER: 0}


@receiver(became)
def take_along(sender: Any, guest: User, user: User, **_more: Any) -> None:
    """Give a guest's jobs, what the guest did in them, and the files that wait, to whom the guest signs in as.

    Where both are members of a job, the person has what the one of them may do that may do more.
    """
    own = {mine.job_id: mine for mine in Membership.objects.filter(user=user).select_for_update()}
    for theirs in Membership.objects.filter(user=guest).select_for_update():
        mine = own.get(theirs.job_id)
        if mine is None:
            theirs.user = user
            theirs.save(update_fields=["user"])
            continue
        mine.role = max(mine.role, theirs.role, key=lambda role: _MOST_MAY[Role(role)])
        mine.save(update_fields=["role"])
        theirs.delete()
    Event.objects.filter(actor=guest).update(actor=user)
    # A token that both have sent stays the person's own.
    Received.objects.filter(user=guest).exclude(once__in=Received.objects.filter(user=user).values("once")).update(
        user=user
    )
    for kind in (Reading, Work):
        kind.objects.filter(user=guest).update(user=user)


def forget_guests(now: datetime) -> None:
    """Delete the guests who have not been back, and what was theirs alone."""
    for guest in forgotten(now).order_by("pk"):
        _forget(guest, now)


@transaction.atomic
def _forget(guest: User, now: datetime) -> None:
    """Delete a guest; a job that others are in goes to one of them, to someone with an account before a visitor."""
    if not forgotten(now).select_for_update().filter(pk=guest.pk).exists():
        return  # has come back meanwhile
    for job in Job.objects.owned_by(guest).select_for_update(of=("self",)):
        others = [each for each in job.memberships.select_related("user") if each.user_id != guest.pk]
        if any(each.role == Role.OWNER for each in others):
            continue
        if not others:
            job.delete()
            continue
        heir = max(others, key=lambda each: (not is_guest(each.user), _MOST_MAY[Role(each.role)], -each.pk))
        heir.role = Role.OWNER
        heir.save(update_fields=["role"])
    guest.delete()
