"""What a change of code, supply or another setting would do to a job: shown before it is kept."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from voltaje.books.answers import sets_of
from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution
from voltaje.errors import Refused
from voltaje.findings import Severity
from web.jobs.changes.saying import named_errors
from web.jobs.document import Change, Document, put, read
from web.jobs.files.openfile import ordered
from web.jobs.worker.solving import Solved, solve_job
from web.words.figures import say, write

MOST_TOLD = 40


@dataclass(frozen=True)
class Effect:
    """What happens to one node: the node, its name, what is said of it, what it was and will be."""

    key: str
    name: str
    words: str = ""
    before: str = ""
    after: str = ""


@dataclass(frozen=True)
class Effects:
    """What a change would do: what stands in its way, what would no longer hold, what would be sized otherwise."""

    stands_in_the_way: tuple[Effect, ...] = ()
    found: tuple[Effect, ...] = ()
    sized: tuple[Effect, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.stands_in_the_way or self.found or self.sized)

    @property
    def number(self) -> int:
        """How many there are."""
        return len(self.stands_in_the_way) + len(self.found) + len(self.sized)


def effects_of(document: Document, wanted: Sequence[Change]) -> Effects:
    """Return what changes to a job's settings would do to its nodes."""
    after = {
        **document,
        "job": dict(document["job"]),
        "nodes": {key: dict(node) for key, node in document["nodes"].items()},
    }
    if not any(read(document, change.path) != change.after for change in wanted):
        return Effects()
    for change in wanted:
        put(after, change)
    try:
        before = solve_job(document)
    except Refused:
        return Effects()  # it is to be mended, not compared
    try:
        there = solve_job(after)
    except Refused as error:
        told = [Effect(key, name, words) for key, name, words in named_errors(error, after)]
        return Effects(tuple(told)) if any(each.key for each in told) else Effects()  # of the form's own fields
    keys = ordered(document)
    return Effects(
        found=tuple(_found(document, before, there, keys)), sized=tuple(_sized(document, before, there, keys))
    )


def _name(document: Document, key: str) -> str:
    return str(document["nodes"][key].get("name") or key)


def _found(document: Document, before: Solved, after: Solved, keys: list[str]) -> list[Effect]:
    told = []
    for key in keys:
        known = {each.code for each in before.solution.nodes[key].findings}
        new = [each for each in after.solution.nodes[key].findings if each.code not in known]
        told += [
            Effect(key, _name(document, key), say(each.message)) for each in new if each.severity is not Severity.NOTE
        ]
    return told


def _sized(document: Document, before: Solved, after: Solved, keys: list[str]) -> list[Effect]:
    told = []
    for key in keys:
        sizes = [_size(each.solution.nodes[key], find_book(each.solution.book).terms) for each in (before, after)]
        if sizes[0] != sizes[1]:
            told.append(Effect(key, _name(document, key), "", *sizes))
    return told


def _size(solved: NodeSolution, terms: Any) -> str:
    if not solved.design:
        return "–"
    choice = solved.design.choice
    size = f"{sets_of(choice.size, choice.sets)} {terms.gauge(choice.size)} {solved.design.run.material}"
    return f"{write(choice.device_a)} A · {size}"
