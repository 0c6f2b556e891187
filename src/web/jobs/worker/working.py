"""Questions that take over a second are answered by the worker: one of a person at a time, the others wait in words."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any, NamedTuple

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from django.utils.html import format_html
from django.utils.translation import gettext as _
from django_tasks import task

from web.jobs.models import Job, Work
from web.jobs.worker import queue
from web.words.met import note

_KEPT = timedelta(hours=1)

# What is asked, by its name: from a job and what was asked to the answer as a page shows it.
Answerer = Callable[[Job, dict[str, Any], User], str]
answerers: dict[str, Answerer] = {}


class Waits(NamedTuple):
    """An answer that is not there yet: how many are before it; of a person's own one if that is in the way."""

    before: int
    own: str = ""


def answers(what: str) -> Callable[[Answerer], Answerer]:
    """Return what names a function as the one that answers a question."""

    def named(answerer: Answerer) -> Answerer:
        answerers[what] = answerer
        return answerer

    return named


def known(job: Job, user: User, what: str, about: dict[str, Any]) -> str:
    """Return the answer to a question about a job as it is, "" where it is not there; nothing is asked."""
    found = Work.objects.filter(user=user, job=job, what=what, asked=about, version=job.version).last()
    return found.answer if found is not None and found.ended_at else ""


@transaction.atomic
def asked(job: Job, user: User, what: str, about: dict[str, Any]) -> str | Waits:
    """Return the answer to a question about a job as it is, or how long it is to it; asked again it is the same one."""
    User.objects.select_for_update().get(pk=user.pk)  # two pages of a person ask one after the other
    mine = Work.objects.filter(user=user)
    work = mine.filter(job=job, what=what, asked=about, version=job.version).last()
    if work is not None and work.ended_at:
        return work.answer
    if work is None:
        other = mine.filter(ended_at=None).select_related("job").first()
        if other is not None:
            note("long works of a person")
            return Waits(_before(other), other.job.name)
        work = Work.objects.create(user=user, job=job, what=what, asked=about, version=job.version)
        made = str(work.pk)
        transaction.on_commit(lambda: work_in_background.enqueue(made))
    return Waits(_before(work))


def _before(work: Work) -> int:
    return Work.objects.filter(ended_at=None, begun_at__lt=work.begun_at).count()


def resume() -> None:
    """Put questions that an ended worker left in the queue again; delete answers that were given long ago."""
    Work.objects.filter(ended_at__lt=timezone.now() - _KEPT).delete()
    queue.put_again(work_in_background, Work.objects.filter(ended_at=None).select_related("job"))


@task()
def work_in_background(work_id: str) -> None:
    """Answer a question, of the job as it is by now."""
    work = Work.objects.select_related("job", "user").filter(pk=work_id, ended_at=None).first()
    if work is None:
        return
    with queue.held(work.pk) as mine:
        if not mine:
            return
        answer: str = format_html(
            '<p class="wrong">{}</p>', _("It could not be worked out: the server's log says why.")
        )
        try:
            answer = answerers[work.what](work.job, work.asked, work.user)
        finally:
            Work.objects.filter(pk=work.pk).update(answer=answer, version=work.job.version, ended_at=timezone.now())
