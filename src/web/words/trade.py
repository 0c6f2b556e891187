"""What a tradesperson calls things: a panel, a board; receptacles, socket-outlets. By family of books."""

import tomllib
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import Any

from django.utils.translation import get_language
from django.utils.translation import gettext as _

from voltaje.path.kinds import said_of

_FILE = Path(__file__).parent / "trade.toml"


@cache
def _said() -> dict[str, dict[str, Any]]:
    return tomllib.loads(_FILE.read_text("utf-8"))


def trade(family: str) -> dict[str, str]:
    """Return the words of a family by key, for templates: `w.board`."""
    return _in_language(family, get_language())


@cache
def _in_language(family: str, _language: str | None) -> dict[str, str]:
    return {key: _(words) for key, words in _said()[family].items() if isinstance(words, str)}


def by_use(systems: Iterable[str]) -> list[str]:
    """Return supplies in the order in which they are met, the most usual first."""
    order = list(_said()["supplies"])
    return sorted(systems, key=lambda name: order.index(name) if name in order else len(order))


def supply_words(system: str) -> tuple[str, str]:
    """Return a supply in words, and where it is usual."""
    words, where = _said()["supplies"].get(system, (system, ""))
    return _(words), _(where) if where else ""


def kind_words(kind: str, family: str) -> str:
    """Return a kind of node or load as the family's trade calls it."""
    return _(_said()[family]["kinds"].get(kind) or said_of(kind).words)
