"""A request as this application's middleware leaves it, for types."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import TYPE_CHECKING, Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

if TYPE_CHECKING:
    from django.contrib.auth.models import User
    from django_htmx.middleware import HtmxDetails


class Request(HttpRequest):
    """With the person who asks, a number of its own, the theme; `htmx` says whether a part of a page is asked for."""

    user: User
    htmx: HtmxDetails
    id: str
    theme: str


def part_of(name: str) -> Callable[[Callable[..., HttpResponse]], Callable[..., HttpResponse]]:
    """Let a view answer a page with a part of it; opened by itself it leads to the page, with its query."""

    def around(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
        @wraps(view)
        def inner(request: Request, *args: Any, **kwargs: Any) -> HttpResponse:
            if request.method != "GET" or request.htmx:
                return view(request, *args, **kwargs)
            query = request.GET.urlencode()
            return redirect(reverse(name, args=args, kwargs=kwargs) + (f"?{query}" if query else ""))

        return inner

    return around
