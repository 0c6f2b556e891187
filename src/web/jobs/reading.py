"""Job files that take long are read by the worker, with their progress shown; the others at once."""

import logging
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from uuid import UUID

from django.contrib.auth.models import User
from django.db import connection, transaction
from django.utils import timezone
from django.utils.translation import gettext as _
from django_tasks import TaskResultStatus, task
from django_tasks_db.models import DBTaskResult

from voltaje.errors import Refused
from web.jobs.beginning import document_in, said
from web.jobs.document import Document
from web.jobs.keeping import create
from web.jobs.limits import MOST_READINGS
from web.jobs.models import Job, Reading
from web.jobs.solving import Budget, solve_job
from web.words.met import note

_TOLD_EVERY = 0.3  # [s]
_KEPT = timedelta(days=1)
_log = logging.getLogger("voltaje.worker")


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
    """Put what an ended worker left unfinished in the queue again; delete what was done long ago.

    A task that an ended worker had begun counts as failed: nobody is at it any more.
    """
    Reading.objects.filter(ended_at__lt=timezone.now() - _KEPT).delete()
    path = read_in_background.module_path
    mine = DBTaskResult.objects.filter(task_path=path)
    waiting = {each["args"][0] for each in mine.ready().values_list("args_kwargs", flat=True)}
    for reading in Reading.objects.filter(ended_at=None).order_by("begun_at"):
        if str(reading.pk) not in waiting and not _is_held(reading.pk):
            mine.running().filter(args_kwargs__args=[str(reading.pk)]).update(
                status=TaskResultStatus.FAILED, finished_at=timezone.now()
            )
            read_in_background.enqueue(str(reading.pk))
            _log.warning("a file that an ended worker left is read again: %s", reading.pk)


@contextmanager
def _held(reading_id: UUID) -> Iterator[bool]:
    """Hold a reading among all workers while it is read: yield whether it is ours. It ends with the connection."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_lock(%s)", [_number(reading_id)])
        (mine,) = cursor.fetchone()
        try:
            yield mine
        finally:
            if mine:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [_number(reading_id)])


def _is_held(reading_id: UUID) -> bool:
    with _held(reading_id) as mine:
        return not mine


def _number(reading_id: UUID) -> int:
    return reading_id.int >> 65  # what a lock of the database is named by


@task()
def read_in_background(reading_id: str) -> None:
    """Read a file, solve it, make a job of it; what is wrong with it stays with the reading."""
    reading = Reading.objects.filter(pk=reading_id, ended_at=None).first()
    if reading is None:
        return  # done by the worker before, or taken back
    with _held(reading.pk) as mine:
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
