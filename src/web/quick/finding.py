"""Tools found by the question a person has: by its words, a synonym, a clause."""

import re
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from django.urls import reverse

from voltaje.tools.opening import openings
from voltaje.tools.registry import tools
from voltaje.tools.tool import Group, Tool
from web.quick.inputs import as_address
from web.words.figures import say

_AMOUNT = re.compile(r"\d+|\d*[½¼¾]|\d+/\d+|\d{1,2}[.,]\d+")  # of three digits before the mark it is a clause
_CLAUSE_LETTER = re.compile(r"(?<=\d)(\([a-z0-9]+\))+$")


@dataclass
class Shelf:
    """Tools that belong to one question."""

    title: str
    tools: list[Tool[Any]]


def find(words: str) -> list[Shelf]:
    """Return the tools that some words are about, by the question they belong to; all of them without words.

    An amount says nothing of a tool (the 7½ of 7½ hp), nor does the letter of a clause (240.4(B)).
    """
    wanted = [_CLAUSE_LETTER.sub("", word) for word in words.casefold().split() if not _AMOUNT.fullmatch(word)]
    found = [tool for tool in tools().values() if all(_is_about(tool, word) for word in wanted)]
    shelves = [Shelf(say(group.value), [tool for tool in found if tool.group is group]) for group in Group]
    return [shelf for shelf in shelves if shelf.tools]


@dataclass(frozen=True)
class Opened:
    """A sheet that opens filled in with what was typed."""

    title: str
    address: str
    said: str


def opened(words: str, family: str = "nec") -> list[Opened]:
    """Return the sheets that answer an amount as it was typed, filled in."""
    found = []
    for each in openings(words, family):
        address = f"{reverse('quick-sheet', args=[each.tool])}?{urlencode(as_address(each.inputs))}"
        found.append(Opened(say(tools()[each.tool].title), address, each.said))
    return found


def _is_about(tool: Tool[Any], word: str) -> bool:
    said = (tool.name, say(tool.title), say(tool.question), *tool.words)
    return any(word in each.casefold() for each in said)


def last_used(cookie: str) -> list[Tool[Any]]:
    """Return the tools that were used last, the last first."""
    known = tools()
    return [known[name] for name in dict.fromkeys(cookie.split(".")) if name in known][:_MOST_LAST]


_MOST_LAST = 4


def used(cookie: str, name: str) -> str:
    """Return the note of what was used last, with one more."""
    before = [tool.name for tool in last_used(cookie) if tool.name != name]
    return ".".join([name, *before][:_MOST_LAST])
