"""One JSON line for each request and each word of the log, with a request id that the error pages show too."""

import logging
import re
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from typing import Any

from django.conf import settings
from django.http import HttpResponse

from web.words.request import Request

ID: ContextVar[str] = ContextVar("request_id", default="")
_GIVEN = re.compile(r"[A-Za-z0-9-]{8,64}")
_QUIET = ("/health/", "/news/")  # asked every few seconds: only their failures are written
_FAILED = 500
_log = logging.getLogger("voltaje.requests")


class WithRequestId(logging.Filter):
    """Puts the id of the request that is being answered on every line."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Let everything through, with the id."""
        record.request_id = ID.get()
        return True


def logged(get_response: Callable[[Request], HttpResponse]) -> Callable[[Request], HttpResponse]:
    """Give each request an id, a proxy's own behind TLS, and write one line when it is answered."""

    def middleware(request: Request) -> HttpResponse:
        given = request.headers.get("X-Request-Id", "") if settings.BEHIND_TLS else ""
        request.id = given if _GIVEN.fullmatch(given) else uuid.uuid4().hex[:16]
        token, begun = ID.set(request.id), time.perf_counter()
        try:
            response = get_response(request)
            response["X-Request-Id"] = request.id
            if response.status_code >= _FAILED or not any(part in request.path for part in _QUIET):
                _log.info("request", extra=_facts(request, response, time.perf_counter() - begun))
            return response
        finally:
            ID.reset(token)

    return middleware


def _facts(request: Request, response: HttpResponse, seconds: float) -> dict[str, Any]:
    user = getattr(request, "_cached_user", None)  # known if anyone asked: the log itself asks the database nothing
    size = None if response.streaming else len(response.content)
    return {
        "method": request.method,
        "path": request.path[:200],
        "status": response.status_code,
        "ms": round(seconds * 1000),
        "bytes": size,
        "user": getattr(user, "pk", None),
    }
