"""Rows: how often each limit was met."""

from django.db import models
from django.utils import timezone


class Met(models.Model):
    """A limit, how often it was met since the database was made, and when last."""

    name = models.CharField(max_length=40, unique=True)
    number = models.PositiveBigIntegerField(default=0)
    last_at = models.DateTimeField(default=timezone.now)

    def __str__(self) -> str:
        return f"{self.name}: {self.number}"
