"""Whether the application answers (`live`), and whether it can do its work (`ready`)."""

import logging

from django.db import DatabaseError, InterfaceError, connection
from django.http import HttpResponse

from web.words.request import Request

_UNAVAILABLE = 503
_log = logging.getLogger("voltaje.health")


def live(request: Request) -> HttpResponse:
    """The process answers."""
    return HttpResponse("ok", content_type="text/plain")


def ready(request: Request) -> HttpResponse:
    """The database answers too."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
            cursor.fetchone()
    except (DatabaseError, InterfaceError) as error:
        connection.close()
        _log.warning("the database does not answer: %s", error)
        return HttpResponse("the database does not answer", content_type="text/plain", status=_UNAVAILABLE)
    return HttpResponse("ok", content_type="text/plain")
