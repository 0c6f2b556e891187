"""Job files that take long are read by the worker, with their progress shown; the others at once."""

import time
from datetime import timedelta

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext as _
from django_tasks import task

from voltaje.errors import Refused
from web.jobs.beginning import document_in, said
from web.jobs.document import Document
from web.jobs.keeping import create
from web.jobs.limits import MOST_READINGS
from web.jobs.models import Job, Reading
from web.jobs.worker import queue
from web.jobs.worker.solving import Budget, solve_job
from web.words.met import note

_TOLD_EVERY = 0.3  # [s]
_KEPT = timedelta(days=1)


class TooMany(Exception):
    """A person has as many files waiting as they may."""


@transaction.atomic
def begin(user: User, name: str, text: str) -> Reading:
    """Put a file in the queue. Raises TooMany."""
    if user.readings.filter(ended_at=None).count() >= MOST_READINGS:
        note("files of a person that wait")
        raise TooMany
    reading = Reading.objects.create(user=user, name=name[:120], text=text)
    transaction.on_commit(lambda: read_in_background.enqueue(str(reading.pk)))
    return reading


def resume() -> None:
    """Put files that an ended worker left unread in the queue again; delete what was done long ago."""
    Reading.objects.filter(ended_at__lt=timezone.now() - _KEPT).delete()
    queue.put_again(read_in_background, Reading.objects.filter(ended_at=None).order_by("begun_at"))


@task()
def read_in_background(reading_id: str) -> None:
    """Read a file, solve it, make a job of it; what is wrong with it stays with the reading."""
    reading = Reading.objects.filter(pk=reading_id, ended_at=None).first()
    if reading is None:
        return  # done by the worker before, or taken back
    with queue.held(reading.pk) as mine:
        if mine:
            _read(reading)


def _read(reading: Reading) -> None:
    try:
        document = document_in(reading.text)
        solve_job(document, budget=Budget(told=_Teller(reading)))
        _make(reading, document)
    except Refused as error:
        _end(reading, problem=said(error))
    except Exception:
        _end(reading, problem=_("It could not be read: the server's log says why."))
        raise


@transaction.atomic
def _make(reading: Reading, document: Document) -> None:
    """Make the job, for whose the file is by now: a visitor may have signed in meanwhile."""
    now = Reading.objects.select_for_update().filter(pk=reading.pk, ended_at=None).first()
    if now is not None:
        _end(reading, job=create(now.user, document))


def _end(reading: Reading, job: Job | None = None, problem: str = "") -> None:
    Reading.objects.filter(pk=reading.pk).update(
        job=job, problem=problem, text="", done=reading.of, ended_at=timezone.now()
    )


class _Teller:
    """Writes how far a solve is, now and then."""

    def __init__(self, reading: Reading) -> None:
        self.reading, self.next = reading, 0.0

    def __call__(self, done: int, of: int) -> None:
        now = time.monotonic()
        if now > self.next:
            self.next = now + _TOLD_EVERY
            Reading.objects.filter(pk=self.reading.pk).update(done=done, of=of)
