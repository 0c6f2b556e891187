"""Loads that their standard gives rules of their own: what is read and not covered says so."""

from __future__ import annotations

import re
import tomllib
from functools import cache
from importlib.resources import files
from typing import NamedTuple

from voltaje.books.questions import Book
from voltaje.design.solution import NodeSolution
from voltaje.findings import Finding, Severity
from voltaje.message import Message
from voltaje.path.load import LoadSpec
from voltaje.path.model import Node


class OwnRules(NamedTuple):
    """Loads by what they are called: the words, kinds of load among which they are looked for, the article."""

    words: re.Pattern[str]
    kinds: tuple[str, ...]
    article: str


@cache
def known() -> tuple[OwnRules, ...]:
    """Return the loads that have rules of their own."""
    read = tomllib.loads((files("voltaje.design") / "own_rules.toml").read_text("utf-8"))["loads"]
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


def told(node: Node, load: LoadSpec, solved: NodeSolution, book: Book) -> None:
    """Say of a load with rules of its own that they are not covered, and where they stand."""
    if not _any().search(node.name):
        return
    kind = load.counts_as.value
    for each in known():
        if kind not in each.kinds or not each.words.search(node.name):
            continue
        message = Message("It is taken as an ordinary load: the rules of its own that such equipment has are not here.")
        if book.terms.family == "nec":
            message = Message(
                "It is taken as an ordinary load: what article {article} asks of such equipment is not here.",
                article=each.article,
            )
        mend = Message("Work its device and conductors by those rules, and fix them by hand.")
        solved.findings.append(Finding(Severity.WARN, "load.own_rules", message, None, node.id, mend))
        return
