"""The words of the line: data by family and language, and the patterns that are made of them."""

from __future__ import annotations

import re
import tomllib
import unicodedata
from dataclasses import dataclass
from functools import cache, cached_property
from importlib.resources import files
from typing import Any

_ALWAYS = ("common", "es")  # every language is understood in every family


@dataclass(frozen=True)
class Words:
    """What one family understands.

    kinds: word -> kind of load; nodes: word -> kind of node; said: subject -> alternatives as a pattern
    lists, rules: as in the files; ratings: standard devices [A]
    """

    kinds: dict[str, str]
    nodes: dict[str, str]
    said: dict[str, str]
    lists: dict[str, frozenset[str]]
    numbers: dict[str, int]
    amounts: dict[str, float]
    metric_sizes: dict[str, str]
    rules: dict[str, Any]
    stand_for: dict[str, dict[str, Any]]
    ways: dict[str, dict[str, str]]
    cables: dict[str, dict[str, str]]
    shapes: dict[str, list[int]]
    unused: dict[str, str]
    ratings: tuple[float, ...]
    curves: bool

    @property
    def metric(self) -> bool:
        """Whether lengths are metres, sizes mm² and single-phase circuits line to neutral."""
        return str(self.rules["family"]) == "iec"

    @cached_property
    def load(self) -> re.Pattern[str]:
        """Any word that names a kind of load, as one pattern."""
        return re.compile(rf"(?<![\w/&]){either(self.kinds)}(?![\w&])")

    @cached_property
    def head_at(self) -> tuple[re.Pattern[str], re.Pattern[str]]:
        """What finds, wherever it stands, the longest word that names a load, and that names another node.

        One pattern each: several hundred of their own would be made anew for every line. A node's may have a number.
        """
        loads, nodes = either(self.kinds), either(self.nodes)
        before, after = r"(?<![\w/&])", r"(?![\w&])"
        return (
            re.compile(rf"{before}(?=(?P<word>{loads}){after})"),
            re.compile(rf"{before}(?=(?P<word>{nodes})(?:[- ]?\d{{1,2}})?{after})"),
        )

    @cached_property
    def board(self) -> re.Pattern[str]:
        """Any word that names a board, as one pattern."""
        boards = [word for word, kind in self.nodes.items() if kind == "board"]
        return re.compile(rf"(?<![\w/&]){either(boards)}(?:[- ]?\d{{1,2}})?(?![\w&])")

    def rule(self, key: str) -> float:
        """Return a figure of the family's habits [its unit as in the file, A, V or VA]."""
        return float(self.rules[key])

    def any_of(self, among: str, words: str) -> bool:
        """Return whether a text holds one of a list of the rules."""
        return any(holds(words, each) for each in self.rules.get(among, ()))


@cache
def words_of(family: str) -> Words:
    """Return the words of a family, `nec` or `iec`."""
    raws = [_raw(name) for name in (*_ALWAYS, family)]
    merged: dict[str, dict[str, Any]] = {}
    for raw in raws:
        for part, entries in raw.items():
            mine = merged.setdefault(part, {})
            for key, value in entries.items():
                mine[key] = [*mine.get(key, []), *value] if isinstance(value, list) and key in mine else value
    kinds = {word: kind for kind, listed in merged["kinds"].items() for word in listed}
    nodes = {word: kind for kind, listed in merged["nodes"].items() for word in listed}
    lists = {key: frozenset(listed) for key, listed in merged["lists"].items()}
    return Words(
        kinds=kinds,
        nodes=nodes,
        said={key: either(listed) for key, listed in merged["said"].items()},
        lists=lists,
        numbers=merged["numbers"],
        amounts=merged["amounts"],
        metric_sizes=merged.get("metric_sizes", {}),
        rules=merged["rules"],
        stand_for=merged.get("stand_for", {}),
        ways=merged["ways"],
        cables=merged.get("cables", {}),
        shapes=merged.get("shapes", {}),
        unused=merged["unused"],
        ratings=tuple(merged["devices"]["ratings"]),
        curves=bool(merged["devices"]["curves"]),
    )


def _raw(name: str) -> dict[str, Any]:
    return tomllib.loads((files("voltaje.speech") / "words" / f"{name}.toml").read_text("utf-8"))


def either(words: Any) -> str:
    """Return words as alternatives of a pattern, the longest first.

    >>> either(["a", "a+b"])
    '(?:a\\\\+b|a)'
    """
    return "(?:" + "|".join(re.escape(word) for word in sorted(words, key=lambda each: (-len(each), each))) + ")"


def holds(text: str, word: str) -> bool:
    """Return whether a word or phrase stands in a text as a whole."""
    return re.search(rf"(?<![\w/&]){re.escape(word)}(?![\w&])", text) is not None


def folded(text: str) -> str:
    """Return a text in small letters without accents, letter for letter as long as it was.

    >>> folded("Trifásico ½ Ø")
    'trifasico ½ ø'
    """
    return "".join(_plain(letter) for letter in text)


def _plain(letter: str) -> str:
    small = letter.lower()
    small = small if len(small) == 1 else letter
    return unicodedata.normalize("NFKD", small)[0] if small.isalpha() else small
