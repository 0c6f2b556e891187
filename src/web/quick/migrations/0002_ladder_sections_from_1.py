"""Kept ladders say which section is opened by its number on the screen: from 1, no longer from 0."""

from typing import Any

from django.db import migrations

_OLD, _NEW = "open_neutral_at", "opened_section"


def _renamed(apps: Any, old: str, new: str, more: int) -> None:
    for kept in apps.get_model("quick", "Kept").objects.filter(tool="edison", inputs__has_key=old):
        typed = str(kept.inputs.pop(old)).strip()
        # What was never a number stays as it was typed: its sheet refuses it, as before.
        kept.inputs[new] = str(int(typed) + more) if typed.isdecimal() else typed
        kept.save(update_fields=["inputs"])


def forwards(apps: Any, _editor: Any) -> None:
    """Count kept sections from 1."""
    _renamed(apps, _OLD, _NEW, 1)


def backwards(apps: Any, _editor: Any) -> None:
    """Count kept sections from 0 again."""
    _renamed(apps, _NEW, _OLD, -1)


class Migration(migrations.Migration):
    """Inputs of kept sheets alone; no column changes."""

    dependencies = (("quick", "0001_initial"),)
    operations = (migrations.RunPython(forwards, backwards),)
