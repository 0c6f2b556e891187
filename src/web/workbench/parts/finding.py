"""Nodes found by words: of their names, their notes, what feeds them, their sizes, their findings and clauses."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from voltaje.books.registry import find_book
from web.jobs.document import Document
from web.jobs.files.openfile import ordered
from web.jobs.worker.solving import Solved
from web.words.figures import say, write
from web.words.trade import kind_words

MOST_FOUND = 60


@dataclass(frozen=True)
class Found:
    """A node that was found, what feeds it, and where the words stood if not in its name."""

    key: str
    name: str
    board: str
    why: str
    worst: str


def find(document: Document, solved: Solved, words: str) -> list[Found]:
    """Return the nodes about which every one of the words is said somewhere: those of that very name first.

    Behind them come names that begin so, then names that have the words, then the rest; each in the order of the path.
    """
    wanted = words.casefold().split()
    nodes, found = document["nodes"], []
    names = {key: str(nodes[key].get("name") or key) for key in ordered(document)} if wanted else {}
    for key in sorted(names, key=lambda key: _nearness(names[key], wanted)):
        name = names[key]
        left = [word for word in wanted if not _stands(word, name)]
        told = list(_told(document, solved, key)) if left else []
        if not all(any(_stands(word, text) for text in told) for word in left):
            continue
        why = next((text for text in told if left and _stands(left[0], text)), "")
        parent = nodes[key].get("parent")
        board = str(nodes[parent].get("name") or parent) if parent else ""
        found.append(Found(key, name, board, why, str(solved.solution.nodes[key].worst)))
        if len(found) == MOST_FOUND:
            break
    return found


def _nearness(name: str, wanted: list[str]) -> int:
    """Return how near a name is to what was typed, 0 the very same [rank]."""
    name, typed = name.casefold(), " ".join(wanted)
    return [name == typed, name.startswith(typed), all(_stands(word, name) for word in wanted), True].index(True)


def _stands(word: str, text: str) -> bool:
    """Whether a word stands in a text: a number by itself only, other words also as a part."""
    text = text.casefold()
    return word in (re.findall(r"[\w.]+", text) if word.isdigit() else text)


def _told(document: Document, solved: Solved, key: str) -> Iterator[str]:
    """Say everything by which a node may be looked for, beside its name."""
    node, result = document["nodes"][key], solved.solution.nodes[key]
    terms = find_book(solved.solution.book).terms
    yield str(node.get("note") or "")
    yield kind_words(node["kind"], terms.family)
    yield str(node.get("load", {}).get("kind") or "").replace("_", " ")
    yield str(node.get("load", {}).get("rating") or "")
    parent = node.get("parent")
    if parent:
        yield str(document["nodes"][parent].get("name") or parent)
    if result.design:
        choice = result.design.choice
        yield f"{write(choice.device_a)} A"
        yield f"{terms.gauge(choice.size)} {choice.size}"
    for each in result.findings:
        yield say(each.message)
        if each.rule:
            yield str(each.rule)
