"""Visitors who try it without an account: each is an account without a password, known by a signed cookie.

A guest has the rights and the limits of anyone. On signing up the guest becomes a person and keeps everything; one who
signs in instead takes along whatever is the guest's, or is not signed in. A guest who has not been back for a week is
forgotten, and with them what was theirs alone.
"""

import secrets
from datetime import datetime, timedelta

from django.conf import settings
from django.contrib.auth import get_user_model, login
from django.contrib.auth.models import AnonymousUser, User
from django.db import transaction
from django.db.models import Q, QuerySet
from django.dispatch import Signal
from django.http import HttpRequest, HttpResponse
from django.utils.translation import gettext as _

from web.accounts.throttle import Limit, address_of, spent, tried
from web.words.met import note
from web.words.request import Request

PREFIX = "guest-"  # no name that a person may choose begins so
KEPT = timedelta(days=7)
MOST_GUESTS = 2_000
BEGINNINGS = Limit("guests", 10, timedelta(hours=1))
_COOKIE = "scratch"
_BACKEND = "django.contrib.auth.backends.ModelBackend"


# A guest signs in as someone: each part of the application gives what it keeps for the guest to that person.
became = Signal()


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
        note("guests in all")
        raise TooMany
    tried(BEGINNINGS, address_of(request))
    guest = users.create_user(PREFIX + secrets.token_hex(8))
    _enter(request, guest)
    return guest


def come_back(request: Request) -> bool:
    """Sign in the guest whom the cookie names, if there is one; return whether anyone is signed in."""
    if request.user.is_authenticated:
        return True
    guest = guest_of(request)
    if guest is not None:
        _enter(request, guest)
    return guest is not None


def guest_of(request: HttpRequest) -> User | None:
    """Return the guest who asks: signed in as one, or known by the cookie where the session has ended."""
    if request.user.is_authenticated:
        return request.user if is_guest(request.user) else None
    name = request.get_signed_cookie(_COOKIE, default="", max_age=KEPT) or ""
    return get_user_model().objects.filter(username=name).first() if name.startswith(PREFIX) else None


@transaction.atomic
def become(request: HttpRequest, guest: User | None, user: User) -> None:
    """Sign in as a person; what a guest has goes along. Where that cannot be done, nobody is signed in."""
    people = get_user_model().objects
    # In the order of their rows, so that two who do it at once do not wait for each other for ever.
    locked = people.filter(pk__in=[user.pk, *([guest.pk] if guest else [])]).order_by("pk").select_for_update()
    there = {each.pk for each in locked}
    if guest and guest.pk in there and guest.pk != user.pk:
        became.send(sender=None, guest=guest, user=user)
        people.filter(pk=guest.pk).delete()
    login(request, user, backend=_BACKEND)


def said_name(user: User | None) -> str:
    """Return what others are told of who did something: a visitor has no name, nor has one who was forgotten."""
    return _("a visitor") if user is None or is_guest(user) else user.get_username()


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
