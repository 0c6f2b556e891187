"""Gather what is to be translated, the library's messages too: `manage makemessages -l es`."""

from django.core.management.commands import makemessages


class Command(makemessages.Command):
    """Django's own, which also reads `Message("…")`."""

    xgettext_options = [*makemessages.Command.xgettext_options, "--keyword=Message:1"]
