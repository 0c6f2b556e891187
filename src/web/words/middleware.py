"""The person's time zone and theme, from cookies that hold nothing else."""

import zoneinfo

from django.utils import timezone

THEMES = ("paper", "dark", "sun")


def local_time(get_response):
    """Show times in the zone that the browser names."""

    def middleware(request):
        try:
            timezone.activate(zoneinfo.ZoneInfo(request.COOKIES.get("zone", "UTC")))
        except (zoneinfo.ZoneInfoNotFoundError, ValueError, OSError):
            timezone.deactivate()
        return get_response(request)

    return middleware


def chosen_theme(get_response):
    """Put the chosen theme on the request; paper is the first."""

    def middleware(request):
        chosen = request.COOKIES.get("theme")
        request.theme = chosen if chosen in THEMES else THEMES[0]
        return get_response(request)

    return middleware
