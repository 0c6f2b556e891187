"""What a person may do with a job."""

from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.core.exceptions import PermissionDenied
from django.http import Http404

from web.jobs.models import Job


def job_to_edit(job_id: UUID, user: User) -> Job:
    """Return a job that the user may change.

    Raises: PermissionDenied where they may only look at it; Http404 where they may not even do that.
    """
    return _editable(Job.objects.all(), job_id, user)


def locked_job(job_id: UUID, user: User) -> Job:
    """Return a job that the user may change, held until the transaction ends. Raises as `job_to_edit` does."""
    return _editable(Job.objects.select_for_update(of=("self",)), job_id, user)


def _editable(jobs: Any, job_id: UUID, user: User) -> Job:
    job: Job | None = jobs.editable_by(user).filter(pk=job_id).order_by().first()
    if job is not None:
        return job
    if Job.objects.visible_to(user).filter(pk=job_id).exists():
        raise PermissionDenied
    raise Http404
