"""Whether the application answers (`live`), and whether it can do its work (`ready`), with what an operator watches."""

import logging

from django.db import DatabaseError, InterfaceError, connection
from django.http import HttpResponse, JsonResponse
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from web.words.models import Met
from web.words.request import Request

_UNAVAILABLE = 503
_log = logging.getLogger("voltaje.health")


def live(request: Request) -> HttpResponse:
    """The process answers."""
    return HttpResponse("ok", content_type="text/plain")


def ready(request: Request) -> HttpResponse:
    """The database answers too: what waits for the worker, since when, and which limits were met how often."""
    try:
        waiting = list(DBTaskResult.objects.ready().order_by("enqueued_at").values_list("enqueued_at", flat=True))
        running = DBTaskResult.objects.running().count()
        met = dict(Met.objects.order_by("name").values_list("name", "number"))
    except (DatabaseError, InterfaceError) as error:
        connection.close()
        _log.warning("the database does not answer: %s", error)
        return HttpResponse("the database does not answer", content_type="text/plain", status=_UNAVAILABLE)
    oldest = (timezone.now() - waiting[0]).total_seconds() if waiting else 0.0
    queue = {"waiting": len(waiting), "running": running, "oldest_s": round(oldest, 1)}
    return JsonResponse({"status": "ok", "queue": queue, "limits_met": met})
