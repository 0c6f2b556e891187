"""The worker: what takes long, one at a time; what an ended worker left is taken up as this one begins."""

import logging
import threading
from typing import Any

from django.db import DatabaseError, InterfaceError, connection
from django.utils import timezone
from django_tasks_db.management.commands import db_worker

from web.jobs.files import reading
from web.jobs.worker import working
from web.jobs.worker.housekeeping import tidy
from web.workbench import evening  # noqa: F401  (names what answers long questions)

_EVERY_S = 3_600.0
_log = logging.getLogger("voltaje.worker")


class Command(db_worker.Command):
    """A worker of the queue that also tidies the house, as it begins and every hour."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Work until told to end."""
        _log.info("the worker begins")
        for left in (reading, working):
            left.resume()
        ended = threading.Event()
        threading.Thread(target=_tidy_hourly, args=(ended,), daemon=True).start()
        try:
            super().handle(*args, **options)
        finally:
            ended.set()
            _log.info("the worker ends")


def _tidy_hourly(ended: threading.Event) -> None:
    while not ended.is_set():
        try:
            tidy(timezone.now())
        except (DatabaseError, InterfaceError):
            _log.exception("nothing could be tidied; it is tried again in an hour")
        finally:
            connection.close()
        ended.wait(_EVERY_S)
