"""What templates ask of accounts."""

from django import template
from django.contrib.auth.models import AnonymousUser, User

from web.accounts import guests

register = template.Library()


@register.filter
def is_guest(user: User | AnonymousUser) -> bool:
    """Return whether an account is a visitor's."""
    return guests.is_guest(user)


@register.filter
def person(user: User | None) -> str:
    """A person's name; a visitor has none."""
    return guests.said_name(user)
