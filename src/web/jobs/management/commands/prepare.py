"""Bring the database and the static files up to date, delete what was put away long ago; with --demo, the demo."""

import os
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction
from django.utils import timezone

from web.jobs import keeping
from web.jobs.models import Job
from web.jobs.sample import sample_documents
from web.jobs.worker.housekeeping import tidy

DEMO = "demo"


class Command(BaseCommand):
    """Migrate, collect, and load the demo once."""

    help = __doc__

    def add_arguments(self, parser: Any) -> None:
        """Take --demo."""
        parser.add_argument(
            "--demo", action="store_true", help="make the demo account, password in VOLTAJE_DEMO_PASSWORD"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it; a second time changes nothing."""
        call_command("migrate", interactive=False, verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
        tidy(timezone.now())
        if options["demo"]:
            self.load_demo()

    @transaction.atomic
    def load_demo(self) -> None:
        """Make the demo account and the sample jobs, each once: one that was put away stays away."""
        password = os.environ.get("VOLTAJE_DEMO_PASSWORD")
        if not password:
            raise CommandError("VOLTAJE_DEMO_PASSWORD is not set")
        user, _made = get_user_model().objects.get_or_create(username=DEMO)
        if not user.check_password(password):  # setting it again would end every session
            user.set_password(password)
            user.save()
        had = set(Job.objects.owned_by(user).values_list("name", flat=True))
        for document in sample_documents():
            if document["job"]["name"] not in had:
                keeping.create(user, document)
