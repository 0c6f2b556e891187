"""What waits for the worker: held by one of them at a time, and taken up again where one ended in the middle."""

import logging
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any
from uuid import UUID

from django.db import connection
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult

_log = logging.getLogger("voltaje.worker")


@contextmanager
def held(key: UUID) -> Iterator[bool]:
    """Hold something among all workers while it is worked at: yield whether it is ours. It ends with the connection."""
    number = key.int >> 65  # what a lock of the database is named by
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_lock(%s)", [number])
        (mine,) = cursor.fetchone()
        try:
            yield mine
        finally:
            if mine:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [number])


def put_again(task: Any, unfinished: Any) -> None:
    """Put rows that nobody is at in the queue again, unless they wait in it.

    A task that an ended worker had begun counts as failed: nobody is at it any more.
    """
    mine = DBTaskResult.objects.filter(task_path=task.module_path)
    waiting = {each["args"][0] for each in mine.ready().values_list("args_kwargs", flat=True)}
    for row in unfinished:
        if str(row.pk) in waiting:
            continue
        with held(row.pk) as free:
            if not free:
                continue
        mine.running().filter(args_kwargs__args=[str(row.pk)]).update(
            status=TaskResultStatus.FAILED, finished_at=timezone.now()
        )
        task.enqueue(str(row.pk))
        _log.warning("what an ended worker left is taken up again: %s", row)
