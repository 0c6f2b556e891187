"""What templates ask of accounts."""

from django import template

from web.accounts import guests

register = template.Library()


@register.filter
def is_guest(user) -> bool:
    """Return whether an account is a visitor's."""
    return guests.is_guest(user)
