"""Rows of accounts: who is signed in where, and how often something was tried."""

from typing import Any

from django.conf import settings
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models
from django.utils import timezone


class Session(AbstractBaseSession):
    """A sign-in that lasts: whose it is, since when, from which browser and address."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, null=True, related_name="sessions")
    since = models.DateTimeField(default=timezone.now)
    agent = models.CharField(max_length=200, blank=True)
    address = models.CharField(max_length=45, blank=True)

    @classmethod
    def get_session_store_class(cls) -> Any:
        """Return the store that reads and writes it."""
        from web.accounts.sessions import SessionStore  # noqa: PLC0415  (the store imports this model)

        return SessionStore


class Tally(models.Model):
    """How often someone tried something since a time."""

    key = models.CharField(max_length=120, unique=True)
    since = models.DateTimeField(default=timezone.now)
    number = models.PositiveIntegerField(default=0)

    def __str__(self) -> str:
        return f"{self.key}: {self.number}"
