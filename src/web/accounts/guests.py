"""Visitors who try it without an account: each is an account without a password, known by a signed cookie.

A guest has the rights and the limits of anyone. On signing up the guest becomes a person and keeps everything; one who
signs in instead takes the jobs along. A guest who has not been back for a week is forgotten.
"""

import secrets
from datetime import datetime, timedelta

from django.conf import settings
from django.contrib.auth import get_user_model, login
from django.contrib.auth.models import AnonymousUser, User
from django.db.models import Q, QuerySet
from django.dispatch import Signal
from django.http import HttpResponse

from web.accounts.throttle import Limit, address_of, spent, tried
from web.words.request import Request

PREFIX = "guest-"  # no name that a person may choose begins so
KEPT = timedelta(days=7)
MOST_GUESTS = 2_000
BEGINNINGS = Limit("guests", 10, timedelta(hours=1))
_COOKIE = "scratch"
_BACKEND = "django.contrib.auth.backends.ModelBackend"


became = Signal()  # a guest signs in as someone: whatever is the guest's is theirs from then on


class TooMany(Exception):
    """So many visitors, or from one address, that no more are taken for now."""


def is_guest(user: User | AnonymousUser) -> bool:
    """Return whether an account is a visitor's."""
    return user.is_authenticated and user.get_username().startswith(PREFIX)


def forgotten(now: datetime) -> QuerySet[User]:
    """Return the guests who have not been back within the time that they are kept."""
    before = now - KEPT
    guests = get_user_model().objects.filter(username__startswith=PREFIX)
    return guests.filter(Q(last_login__lt=before) | Q(last_login=None, date_joined__lt=before))


def begin(request: Request) -> User:
    """Sign a visitor in as a new guest. Raises TooMany."""
    if spent(BEGINNINGS, address_of(request)):
        raise TooMany
    users = get_user_model().objects
    if users.filter(username__startswith=PREFIX).count() >= MOST_GUESTS:
        raise TooMany
    tried(BEGINNINGS, address_of(request))
    guest = users.create_user(PREFIX + secrets.token_hex(8))
    _enter(request, guest)
    return guest


def come_back(request: Request) -> bool:
    """Sign in the guest whom the cookie names, if there is one; return whether anyone is signed in."""
    if request.user.is_authenticated:
        return True
    name = request.get_signed_cookie(_COOKIE, default="", max_age=KEPT)
    guest = get_user_model().objects.filter(username=name).first() if name.startswith(PREFIX) else None
    if guest is not None:
        _enter(request, guest)
    return guest is not None


def remember(response: HttpResponse, guest: User) -> HttpResponse:
    """Return a response that lets the browser come back as a guest."""
    response.set_signed_cookie(
        _COOKIE,
        guest.get_username(),
        max_age=KEPT,
        httponly=True,
        samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE,
    )
    return response


def forget(response: HttpResponse) -> HttpResponse:
    """Return a response after which the browser is no guest's any more."""
    response.delete_cookie(_COOKIE)
    return response


def _enter(request: Request, guest: User) -> None:
    login(request, guest, backend=_BACKEND)
    request.session.set_expiry(KEPT)
