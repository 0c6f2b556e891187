"""Who shares a job: every change by its owner, in a transaction."""

from typing import Any
from uuid import UUID

from django.contrib.auth import get_user_model
from django.db import transaction
from django.shortcuts import get_object_or_404

from web.jobs.models import Job, Membership, Role


class NoSuchPerson(Exception):
    """No account goes by that name."""


class LastOwner(Exception):
    """A job is never left without its owner."""


@transaction.atomic
def share(job_id: UUID, by: Any, username: str, role: str) -> None:
    """Let someone look at or change a job; an empty role ends it. Raises NoSuchPerson, LastOwner."""
    job = get_object_or_404(Job.objects.owned_by(by).filter(deleted_at=None).select_for_update(of=("self",)), pk=job_id)
    person = get_user_model().objects.filter(username=username).first()
    if person is None:
        raise NoSuchPerson
    had = job.memberships.filter(user=person).first()
    if had and had.role == Role.OWNER:
        raise LastOwner
    if not role:
        job.memberships.filter(user=person).delete()
    else:
        Membership.objects.update_or_create(job=job, user=person, defaults={"role": role})
