"""Limits that were met, counted by their name: an operator sees which are too low, or who tries them.

What a request meets is written once it is answered: whatever it did may have been taken back by then.
"""

from collections.abc import Callable
from contextvars import ContextVar

from django.db import DatabaseError, InterfaceError
from django.db.models import F
from django.http import HttpResponse
from django.utils import timezone

from web.words.models import Met
from web.words.request import Request

_NAMES: ContextVar[list[str] | None] = ContextVar("met", default=None)


def note(name: str) -> None:
    """Note that a limit was met; outside a request, as in the worker, it is counted at once."""
    names = _NAMES.get()
    if names is None:
        count([name])
    else:
        names.append(name)


def counted(get_response: Callable[[Request], HttpResponse]) -> Callable[[Request], HttpResponse]:
    """Count what a request met."""

    def middleware(request: Request) -> HttpResponse:
        names: list[str] = []
        token = _NAMES.set(names)
        try:
            return get_response(request)
        finally:
            _NAMES.reset(token)
            if names:
                count(names)

    return middleware


def count(names: list[str]) -> None:
    """Add to the counts; where the database is away they are lost, and nothing else is."""
    try:
        for name in sorted({*names}):
            more = names.count(name)
            Met.objects.get_or_create(name=name)
            Met.objects.filter(name=name).update(number=F("number") + more, last_at=timezone.now())
    except (DatabaseError, InterfaceError):
        return
