"""Findings: judgements with a code that stays, whatever the words are.

`findings.toml` lists every code with what it means; a test keeps the list and the code one.
"""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files

from voltaje.message import Message
from voltaje.sheet import Citation


class Severity(StrEnum):
    """How much a finding matters."""

    STOP = "stop"
    WARN = "warn"
    NOTE = "note"


@dataclass(frozen=True)
class Finding:
    """A judgement: how much it matters, its code, what is the matter, under which rule, where, what would mend it.

    code: a word with its subject before it (`drop.over_limit`), stable across wording and language
    """

    severity: Severity
    code: str
    message: Message
    rule: Citation | None = None
    field: str = ""
    mend: Message | None = None


@dataclass(frozen=True)
class Kind:
    """What findings of one code say: the severities they come with, their meaning, the rules they rest on."""

    code: str
    severities: tuple[Severity, ...]
    meaning: str
    rule: str


@cache
def kinds() -> dict[str, Kind]:
    """Return every kind of finding by its code, in the order of the list."""
    raw = tomllib.loads((files("voltaje") / "findings.toml").read_text("utf-8"))
    return {
        f"{subject}.{word}": Kind(
            f"{subject}.{word}",
            tuple(Severity(each) for each in spec["severity"]),
            spec["meaning"],
            spec.get("rule", ""),
        )
        for subject, words in raw.items()
        for word, spec in words.items()
    }


def as_markdown() -> str:
    """Return the list as the page of the documentation that it is."""
    head = (
        "# Findings\n\nWhat the product says of a job, by codes that stay whatever the wording or the language. "
        "Noting one is by its node and code. Made from `src/voltaje/findings.toml`: do not edit here.\n\n"
        "| code | severity | what it means | rule |\n|---|---|---|---|\n"
    )
    rows = (
        f"| `{kind.code}` | {' or '.join(kind.severities)} | {kind.meaning} | {kind.rule} |\n"
        for kind in kinds().values()
    )
    return head + "".join(rows)
