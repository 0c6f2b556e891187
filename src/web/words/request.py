"""A request as this application's middleware leaves it, for types."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.http import HttpRequest

if TYPE_CHECKING:
    from django.contrib.auth.models import User
    from django_htmx.middleware import HtmxDetails


class Request(HttpRequest):
    """With the person who asks, a number of its own, the theme; `htmx` says whether a part of a page is asked for."""

    user: User
    htmx: HtmxDetails
    id: str
    theme: str
