"""The person's time zone and theme, from cookies that hold nothing else."""

import zoneinfo
from collections.abc import Callable

from django.http import HttpResponse
from django.utils import timezone

from web.words.request import Request

THEMES = ("paper", "dark", "sun")


def local_time(get_response: Callable[[Request], HttpResponse]) -> Callable[[Request], HttpResponse]:
    """Show times in the zone that the browser names."""

    def middleware(request: Request) -> HttpResponse:
        try:
            timezone.activate(zoneinfo.ZoneInfo(request.COOKIES.get("zone", "UTC")))
        except (zoneinfo.ZoneInfoNotFoundError, ValueError, OSError):
            timezone.deactivate()
        return get_response(request)

    return middleware


def chosen_theme(get_response: Callable[[Request], HttpResponse]) -> Callable[[Request], HttpResponse]:
    """Put the chosen theme on the request; paper is the first."""

    def middleware(request: Request) -> HttpResponse:
        chosen = request.COOKIES.get("theme")
        request.theme = chosen if chosen in THEMES else THEMES[0]
        return get_response(request)

    return middleware
