"""How often one address or account may try something; counted in the database, so that all processes count together."""

import ipaddress
from datetime import timedelta
from typing import NamedTuple

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone


class Limit(NamedTuple):
    """So many tries in a time."""

    what: str
    most: int
    within: timedelta


# Wrong passwords of one account from one address are counted apart, by axes.
WRONG_PASSWORDS = Limit("wrong passwords", 30, timedelta(minutes=15))
SIGN_UPS = Limit("sign-ups", 10, timedelta(hours=1))
WRONG_OLD_PASSWORDS = Limit("wrong old passwords", 5, timedelta(minutes=15))

_V6_NETWORK = 64  # what one household or firm has


def address_of(request: HttpRequest) -> str:
    """Return the address that a request came from: of an IPv6 address its network.

    Behind a proxy (VOLTAJE_TLS) it is the one that the proxy put last into X-Forwarded-For; else that header is a
    client's own word and is passed over.
    """
    said = request.META.get("HTTP_X_FORWARDED_FOR", "").rpartition(",")[2].strip() if settings.BEHIND_TLS else ""
    address = said or request.META.get("REMOTE_ADDR", "")
    try:
        found = ipaddress.ip_address(address)
    except ValueError:
        return ""
    return str(ipaddress.ip_network((found, _V6_NETWORK), strict=False)) if found.version == 6 else str(found)  # noqa: PLR2004


@transaction.atomic
def tried(limit: Limit, who: str) -> None:
    """Count one more try."""
    from web.accounts.models import Tally  # noqa: PLC0415  (the session store, named by settings, imports this file)

    now = timezone.now()
    row, _made = Tally.objects.select_for_update().get_or_create(key=_key(limit, who))
    if row.since < now - limit.within:
        row.since, row.number = now, 0
    row.number += 1
    row.save()


def spent(limit: Limit, who: str) -> bool:
    """Return whether all tries of the time are spent."""
    from web.accounts.models import Tally  # noqa: PLC0415  (as above)
    from web.words.met import note  # noqa: PLC0415  (as above)

    since = timezone.now() - limit.within
    over = Tally.objects.filter(key=_key(limit, who), since__gte=since, number__gte=limit.most).exists()
    if over:
        note(limit.what)
    return over


def _key(limit: Limit, who: str) -> str:
    return f"{limit.what}: {who}"
