"""Sessions that know whose they are, so that a person can see and end them."""

from datetime import datetime
from typing import Any

from django.contrib.auth import SESSION_KEY
from django.contrib.auth.signals import user_logged_in
from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.dispatch import receiver
from django.utils import timezone

from web.accounts.throttle import address_of
from web.words.request import Request

_AGENT, _ADDRESS, _SINCE = "agent", "address", "since"
_LONGEST_AGENT = 200
_BROWSERS = ("Firefox", "Edg", "OPR", "Chrome", "Safari")  # as they call themselves; the first that fits
_MACHINES = ("Android", "iPhone", "iPad", "Windows", "Mac OS X", "Linux")


class SessionStore(DatabaseStore):
    """Kept in the database, with the account it belongs to."""

    @classmethod
    def get_model_class(cls) -> Any:
        """Return the rows' model."""
        from web.accounts.models import Session  # noqa: PLC0415  (apps are not loaded when settings name this store)

        return Session

    def create_model_instance(self, data: Any) -> Any:
        """Return the row of a session's data."""
        row: Any = super().create_model_instance(data)
        row.user_id = data.get(SESSION_KEY)
        row.agent, row.address = data.get(_AGENT, ""), data.get(_ADDRESS, "")
        if data.get(_SINCE):
            row.since = datetime.fromisoformat(data[_SINCE])
        return row


@receiver(user_logged_in)
def remember(sender: Any, request: Request, **_more: Any) -> None:
    """Keep with the session from where it was begun."""
    request.session[_AGENT] = _browser(request.headers.get("User-Agent", ""))
    request.session[_ADDRESS] = address_of(request)
    request.session[_SINCE] = timezone.now().isoformat()


def _browser(agent: str) -> str:
    """Return a browser and its machine as a person knows them."""
    found = [next((word for word in words if word in agent), "") for words in (_BROWSERS, _MACHINES)]
    return " · ".join(word for word in found if word)[:_LONGEST_AGENT]
