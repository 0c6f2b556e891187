"""When something fails: pages and words that say what it is and what to do, never a bare error.

Nothing here asks the database: it may be what is away.
"""

import sys
from collections.abc import Callable
from typing import Any

from django.db import InterfaceError, OperationalError
from django.http import HttpResponse
from django.template.loader import render_to_string
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from voltaje.errors import Refused
from web.jobs.changes.sound import Broken
from web.words.request import Request

UNAVAILABLE, FAILED, FORBIDDEN, WRONG, MISSING = 503, 500, 403, 400, 404
_RETRY_S = "5"

# What a database error is to a person, by its SQL state; anything else: it is away.
_CAUSES = {"53100": "full", "55P03": "busy", "57014": "busy", "40P01": "busy", "40001": "busy"}
_WORDS = {
    "away": (
        gettext_lazy("The database is away"),
        gettext_lazy(
            "Nothing that was kept is lost; what you were just typing waits in your page and is sent when it is back. "
            "Whoever runs this server: ./voltaje start brings an own database up again; else see to DATABASE_URL."
        ),
    ),
    "busy": (
        gettext_lazy("Another change of this job is being worked out"),
        gettext_lazy("It took longer than usual. Yours was not kept yet; try again in a moment."),
    ),
    "full": (
        gettext_lazy("The disk of the database is full"),
        gettext_lazy(
            "Your change was not kept; everything before it is. Whoever runs this server must make room on its disk."
        ),
    ),
}


def cause_of(error: BaseException | None) -> str:
    """Return what a database error is to a person: away, busy, full; "" for any other error."""
    if not isinstance(error, OperationalError | InterfaceError):
        return ""
    return _CAUSES.get(str(getattr(error.__cause__, "sqlstate", None)), "away")


class Troubles:
    """Answers what views cannot: a database that is away, and a job that hangs together no more."""

    def __init__(self, get_response: Callable[[Request], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: Request) -> HttpResponse:
        """Pass on."""
        return self.get_response(request)

    def process_exception(self, request: Request, error: Refused) -> HttpResponse | None:
        """Say it, or leave it to whoever comes next."""
        if isinstance(error, Broken):
            return _to_repair(request, error)
        cause = cause_of(error)
        return _unavailable(request, cause) if cause else None


def _to_repair(request: Request, error: Broken) -> HttpResponse:
    from web.jobs.views import to_page  # noqa: PLC0415  (views load models, which are not there yet when settings are)

    return to_page(request, "repair", error.job_id)


def _unavailable(request: Request, cause: str) -> HttpResponse:
    title, words = _WORDS[cause]
    response = _page(request, str(title), str(words), UNAVAILABLE)
    response["Retry-After"] = _RETRY_S
    response["X-Trouble"] = cause
    return response


def _page(request: Request, title: Any, words: str, status: int) -> HttpResponse:
    context = {"title": title, "words": words, "request_id": getattr(request, "id", "")}
    return HttpResponse(render_to_string("trouble.html", context), status=status)


def failed(request: Request) -> HttpResponse:
    """Something that was not foreseen, or the database on the way in or out."""
    cause = cause_of(sys.exc_info()[1])
    if cause:
        return _unavailable(request, cause)
    words = _("It has been written down. Nothing that was kept is lost; go back and try again.")
    return _page(request, _("Something went wrong here"), words, FAILED)


def forbidden(request: Request, exception: Exception | None = None) -> HttpResponse:
    """A page that is there, but not to be changed by this person."""
    words = _("You may look at this job, not change it. Ask its owner to let you.")
    return _page(request, _("Not yours to change"), words, FORBIDDEN)


def forged(request: Request, reason: str = "") -> HttpResponse:
    """A form that did not come from a page of this site, or from one that is too old."""
    words = _("The page that sent it is too old, or is not of this site. Load it again; what you typed is still there.")
    return _page(request, _("That was not taken"), words, FORBIDDEN)


def wrong(request: Request, exception: Exception | None = None) -> HttpResponse:
    """A request that cannot be read, or is too large."""
    words = _("It is too large, or it cannot be read. Nothing was changed.")
    return _page(request, _("That was not taken"), words, WRONG)


def missing(request: Request, exception: Exception | None = None) -> HttpResponse:
    """A page that is not there, or not for this person."""
    words = _("There is no such page, or it is not shared with you.")
    return _page(request, _("Page not found"), words, MISSING)
