"""Loads that their standard gives rules of their own, told by what they are called: fire pumps, elevators."""

from __future__ import annotations

import re
import tomllib
from functools import cache
from importlib.resources import files
from typing import NamedTuple


class OwnRules(NamedTuple):
    """Loads by what they are called: the words, kinds of load among which they are looked for, the article."""

    words: re.Pattern[str]
    kinds: tuple[str, ...]
    article: str


@cache
def known() -> tuple[OwnRules, ...]:
    """Return the loads that have rules of their own."""
    read = tomllib.loads((files("voltaje.path") / "own_rules.toml").read_text("utf-8"))["loads"]
    return tuple(
        OwnRules(
            re.compile(rf"\b(?:{'|'.join(map(re.escape, each['words']))})\b", re.IGNORECASE),
            tuple(each["kinds"]),
            each["nec"],
        )
        for each in read
    )


@cache
def _any() -> re.Pattern[str]:
    """Return what finds any of their words: most loads have none, and are not gone through one by one."""
    return re.compile("|".join(each.words.pattern for each in known()), re.IGNORECASE)


def own_rules_of(name: str, kind: str) -> OwnRules | None:
    """Return the rules of its own that a load of this name and kind has; None where it is like any other."""
    if not _any().search(name):
        return None
    return next((each for each in known() if kind in each.kinds and each.words.search(name)), None)
