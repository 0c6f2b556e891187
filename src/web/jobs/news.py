"""What others have changed: whether there is something new, asked often and so cheap to answer; and who did what."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from uuid import UUID

from django.contrib.auth.models import User
from django.core.signing import BadSignature, TimestampSigner
from django.http import HttpResponse
from django.utils.translation import gettext as _

from web.jobs.models import Event, Job, Membership
from web.words.request import Request

_ADDRESS = re.compile(r"/jobs/(?P<job>[0-9a-f-]{36})/news/")
_SIGNER = TimestampSigner(salt="news")
_A_DAY_S = 24 * 3600
_NOTHING_NEW, _NOT_YOURS, _GONE = 204, 403, 404
_MOST_TOLD = 4


def told_to(job: Job, user: User) -> str:
    """Return the word by which a page asks for news of a job: signed, good for a day."""
    return _SIGNER.sign(f"{job.pk}:{user.pk}")


def quick(get_response: Callable[[Request], HttpResponse]) -> Callable[[Request], HttpResponse]:
    """Answer whether a job has a newer version with one query: hundreds of open pages ask it every few seconds.

    It says no more than that; what has changed is asked for as any page is, with session and permission.
    """

    def middleware(request: Request) -> HttpResponse:
        asked = _ADDRESS.fullmatch(request.path_info) if request.method == "GET" else None
        return _answer(request, asked["job"]) if asked else get_response(request)

    return middleware


def _answer(request: Request, job_id: str) -> HttpResponse:
    try:
        job, _colon, user = _SIGNER.unsign(request.GET.get("by", ""), max_age=_A_DAY_S).partition(":")
    except BadSignature:
        return HttpResponse(status=_NOT_YOURS)
    if job != job_id:
        return HttpResponse(status=_NOT_YOURS)
    # Asked of the membership, so that whoever lost it hears no more.
    mine = Membership.objects.filter(job_id=job, user_id=user, job__deleted_at=None)
    version = mine.values_list("job__version", flat=True).first()
    if version is None:
        return HttpResponse(status=_GONE)
    same = request.GET.get("since", "") == str(version)
    return HttpResponse(status=_NOTHING_NEW) if same else HttpResponse(str(version), content_type="text/plain")


def unanswered(request: Request, job_id: UUID) -> HttpResponse:
    """The address of the news, for whoever asks it otherwise than by GET."""
    return HttpResponse(status=405)


@dataclass(frozen=True)
class Told:
    """What another person did since."""

    who: str
    what: str


def told_since(job: Job, user: User, since: int) -> list[Told]:
    """Return what others did since a version, the last of it."""
    if since >= job.version:
        return []
    events = job.events.filter(touched__gt=since).exclude(actor=user).select_related("actor").order_by("-touched")
    return [Told(event.who, _title(event)) for event in events[:_MOST_TOLD]]


def _title(event: Event) -> str:
    title = event.title or _("changed the house")
    return _("took back: %(title)s") % {"title": title} if event.undone else title
