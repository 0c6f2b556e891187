"""Rows: a job, who may see it, its nodes, and the log of what was done to it."""

import uuid
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import models
from django.db.models import Q, QuerySet
from django.utils import timezone
from django.utils.translation import gettext as _

from voltaje.path.kinds import Kind
from web.accounts.guests import said_name


class Role(models.TextChoices):
    """What a member may do."""

    OWNER = "owner"
    EDITOR = "editor"
    VIEWER = "viewer"


class JobQuerySet(models.QuerySet["Job"]):
    """Answers who may see, change or delete which jobs."""

    def visible_to(self, user: User) -> "QuerySet[Job]":
        """Jobs that the user may read."""
        return self.filter(memberships__user=user, deleted_at=None)

    def editable_by(self, user: User) -> "QuerySet[Job]":
        """Jobs that the user may change."""
        return self._with_role(user, (Role.OWNER, Role.EDITOR)).filter(deleted_at=None)

    def owned_by(self, user: User) -> "QuerySet[Job]":
        """Jobs that the user may delete and bring back, deleted ones too."""
        return self._with_role(user, (Role.OWNER,))

    def _with_role(self, user: User, roles: Any) -> "QuerySet[Job]":
        return self.filter(Q(memberships__user=user) & Q(memberships__role__in=roles))


class Job(models.Model):
    """One site. `version` counts every change, so that a page can say which state it saw.

    summary: what the list of jobs shows of it, and of which state
    bytes, log_bytes: what its document and its log of changes hold, as text
    folded: the version up to which the log was folded: what was done until then cannot be taken back any more
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=80)
    book = models.CharField(max_length=40)
    entries = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=0)
    summary = models.JSONField(null=True)
    bytes = models.PositiveBigIntegerField(default=0)
    log_bytes = models.PositiveBigIntegerField(default=0)
    folded = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(default=timezone.now)
    changed_at = models.DateTimeField(default=timezone.now)
    deleted_at = models.DateTimeField(null=True, blank=True)
    members = models.ManyToManyField(settings.AUTH_USER_MODEL, through="Membership", related_name="jobs")

    objects = JobQuerySet.as_manager()

    class Meta:
        ordering = ["-changed_at"]

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """A person's access to a job."""

    job = models.ForeignKey(Job, models.CASCADE, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "user"], name="one_membership_per_person")]

    def __str__(self) -> str:
        return f"{self.user} {self.role}"


class Node(models.Model):
    """A node of the path. `data` holds what was typed, as it was typed; `position` orders it among its siblings."""

    job = models.ForeignKey(Job, models.CASCADE, related_name="nodes")
    key = models.SlugField(max_length=40)
    parent_key = models.SlugField(max_length=40, blank=True)
    position = models.FloatField(default=0)
    kind = models.CharField(max_length=20, choices=[(each.value, each.value.capitalize()) for each in Kind])
    data = models.JSONField(default=dict)

    class Meta:
        ordering = ["position", "pk"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="one_key_per_job")]

    def __str__(self) -> str:
        return f"{self.key} of {self.job}"


class Event(models.Model):
    """One named change by one person: what each place held before and after.

    seq: the job's version it made, its place among the person's own changes
    touched: the version at which it last changed the job, also by being undone or done again
    page: the page it came from, whose later changes do not conflict with it
    actor: who did it, None for a visitor who was forgotten since; bytes: what its changes hold, as text
    """

    job = models.ForeignKey(Job, models.CASCADE, related_name="events")
    actor = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    seq = models.PositiveIntegerField()
    touched = models.PositiveIntegerField()
    undone = models.BooleanField(default=False)
    title = models.CharField(max_length=120, blank=True)
    page = models.CharField(max_length=40, blank=True)
    changes = models.JSONField()
    bytes = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["seq"]
        indexes = [models.Index(fields=["job", "touched"])]

    def __str__(self) -> str:
        return f"{self.seq}: {self.changes}"

    @property
    def who(self) -> str:
        """Who did it, as others are told; of what was folded nobody knows."""
        return said_name(self.actor) if self.pk else _("someone")


class Received(models.Model):
    """An act of a person that was taken, by its token: sent again, it counts as done."""

    job = models.ForeignKey(Job, models.CASCADE, related_name="received")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, null=True, related_name="+")
    once = models.CharField(max_length=40)
    at = models.DateTimeField(default=timezone.now, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "user", "once"], name="an_act_counts_once")]

    def __str__(self) -> str:
        return f"{self.once} of {self.job}"


class Reading(models.Model):
    """A job file that is read by the worker: its text until it is done, how far it is, what came of it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="readings")
    name = models.CharField(max_length=120)
    text = models.TextField()
    done = models.PositiveIntegerField(default=0)
    of = models.PositiveIntegerField(default=0)
    problem = models.TextField(blank=True)
    job = models.ForeignKey(Job, models.SET_NULL, null=True, related_name="+")
    begun_at = models.DateTimeField(default=timezone.now)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-begun_at"]

    def __str__(self) -> str:
        return self.name


class Work(models.Model):
    """A question about a job that takes long: what is asked, and once the worker has answered, the answer as shown.

    version: of the job that it was asked about
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="works")
    job = models.ForeignKey(Job, models.CASCADE, related_name="works")
    what = models.CharField(max_length=20)
    asked = models.JSONField(default=dict)
    version = models.PositiveIntegerField()
    answer = models.TextField(blank=True)
    begun_at = models.DateTimeField(default=timezone.now)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["begun_at"]

    def __str__(self) -> str:
        return f"{self.what} of {self.job}"
