"""Conductors that carry the whole load of a dwelling: what is allowed besides the ordinary table."""

from __future__ import annotations

from voltaje.books.answers import Choice, Run
from voltaje.books.nec import lying, run_tables
from voltaje.books.nec.edition import Edition
from voltaje.message import Message
from voltaje.rounding import DUST

_NAMED = Message("at 83 % for a whole dwelling (310.12)")


def allowed(run: Run, choice: Choice, edition: Edition) -> bool:
    """Return whether a choice is lawful by the rule of 83 %.

    Of ratings of 100 to 400 A, for one set whose ampacity no ambient or bundling reduces.
    Source: NEC 310.12 (2017: 310.15(B)(7)).
    """
    device = choice.device_a
    if not run.whole_dwelling or choice.sets > 1 or not _reaches(device, edition):
        return False
    plain = run.ambient_c is None or run.ambient_c <= edition.figure("ambient_default_c")
    need = device * edition.figure("service_percent") / 100
    row = run_tables.ladder(edition.name, run.material)[choice.size]
    return plain and not run.bundled and row[lying.column_c(run, device, edition)] >= need - DUST


def _reaches(device_a: float, edition: Edition) -> bool:
    return edition.figure("service_83_from_a") <= device_a <= edition.figure("service_83_to_a")


def besides(run: Run, device_a: float, edition: Edition) -> list[tuple[Choice, Message]]:
    """Return the smallest conductor that the rule of 83 % allows, none where it does not reach.

    Source: NEC 310.12 (2017: 310.15(B)(7)).
    """
    if not run.whole_dwelling:
        return []
    choices = (Choice(device_a, size, 1) for size in run_tables.known_sizes(edition.name, run.material))
    found = next((choice for choice in choices if allowed(run, choice, edition)), None)
    return [(found, _NAMED)] if found else []
