"""What is over and done with is taken away: by the worker every hour, and at each start."""

from datetime import datetime, timedelta

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.core.management import call_command
from django_tasks_db.models import DBTaskResult

from web.accounts.models import Tally
from web.jobs.keeping import purge

_TRIES_KEPT = timedelta(days=1)  # longer than any limit of tries looks back
_TASKS_KEPT = timedelta(days=1)
_SIGN_INS_KEPT = timedelta(days=30)


def tidy(now: datetime) -> None:
    """Delete what nobody can come back to: jobs put away long ago, visitors who stayed away, and the rows of trade."""
    purge(now)
    call_command("clearsessions", verbosity=0)
    Tally.objects.filter(since__lt=now - _TRIES_KEPT).delete()
    AccessAttempt.objects.filter(attempt_time__lt=now - _TRIES_KEPT).delete()
    for log in (AccessLog, AccessFailureLog):
        log.objects.filter(attempt_time__lt=now - _SIGN_INS_KEPT).delete()
    DBTaskResult.objects.finished().filter(finished_at__lt=now - _TASKS_KEPT).delete()
