"""Rows: sheets that a person kept under a name."""

from typing import Any

from django.conf import settings
from django.contrib.auth.models import AnonymousUser, User
from django.db import models
from django.db.models import QuerySet
from django.dispatch import receiver
from django.utils import timezone

from voltaje.tools.registry import tools
from voltaje.tools.tool import Tool
from web.accounts.guests import became


class KeptQuerySet(models.QuerySet["Kept"]):
    """Answers whose sheets are whose."""

    def of(self, user: User | AnonymousUser) -> "QuerySet[Kept]":
        """Sheets that a person kept and did not forget, the last first."""
        return self.filter(owner_id=user.pk, forgotten_at=None).select_related("job").order_by("-kept_at")


class Kept(models.Model):
    """A sheet: its tool, its inputs as they stand in a link, in a job or alone."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="kept_sheets")
    job = models.ForeignKey("jobs.Job", models.SET_NULL, null=True, blank=True, related_name="kept_sheets")
    tool = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    inputs = models.JSONField(default=dict)
    kept_at = models.DateTimeField(default=timezone.now)
    forgotten_at = models.DateTimeField(null=True, blank=True)

    objects = KeptQuerySet.as_manager()

    def __str__(self) -> str:
        return self.name

    def of_tool(self) -> Tool[Any] | None:
        """Return its tool, None where this version has none of that name."""
        return tools().get(self.tool)


@receiver(became)
def take_along(sender: Any, guest: User, user: User, **_more: Any) -> None:
    """Give the sheets that a guest kept to whom the guest signs in as."""
    Kept.objects.filter(owner=guest).update(owner=user)
