"""Changes to several nodes at once: cells set, branches acted on, copied as text and pasted."""

import json
from collections.abc import Callable, Iterable
from copy import deepcopy
from typing import Any

from django.utils.translation import ngettext

from voltaje.path.kinds import Kind
from web.jobs.document import Change, Document, NoSuchPlace, Path, put
from web.jobs.files.openfile import ordered, to_open
from web.jobs.order import branch, fed_by
from web.workbench.edits import changes


def tops(document: Document, keys: Iterable[str]) -> list[str]:
    """Return of several nodes those that do not hang below another of them, in the order of the path."""
    wanted, below = {key for key in keys if key in document["nodes"]}, fed_by(document)
    under = {each for key in wanted for each in branch(document, key, below)[1:]}
    return [key for key in ordered(document) if key in wanted - under]


def working_copy(document: Document) -> Document:
    """Return a document whose nodes can be put and taken away while a plan is made."""
    return {**document, "nodes": dict(document["nodes"])}


def cells(document: Document, wanted: Iterable[tuple[Path, str]]) -> list[Change]:
    """Return the changes that set many places. Raises: NoSuchPlace, InputError at the place."""
    made, copy = [], working_copy(document)
    for path, typed in wanted:
        node = copy["nodes"].get(path[1])
        if node is None:
            raise NoSuchPlace("/".join(path))
        if path[2] in ("load", "run") and not _may_have(node, path[2]):
            continue  # of what has no such field, as of a board that has no rating
        value = changes.entered(copy, path, typed)
        made += [Change(path, None, value), *changes.with_it(copy, path, value)]
    return made


def _may_have(node: dict[str, Any], part: str) -> bool:
    return "load" in node if part == "load" else node["kind"] != Kind.SOURCE


def in_turn(document: Document, keys: Iterable[str], one: Callable[[Document, str], list[Change]]) -> list[Change]:
    """Return the changes that `one` makes of each node in its turn, each seeing what those before it left."""
    made, copy = [], working_copy(document)
    for key in keys:
        for change in (wanted := one(copy, key)):
            if change.path[1] in copy["nodes"]:
                copy["nodes"][change.path[1]] = deepcopy(copy["nodes"][change.path[1]])
            put(copy, change)
        made += wanted
    return made


def copies(document: Document, key: str, times: int) -> list[Change]:
    """Return the changes that put so many copies of a branch beside it, each named after the one before."""
    last = [key]

    def another(copy: Document, _key: str) -> list[Change]:
        wanted = changes.duplicate(copy, last[0])
        last[0] = wanted[0].path[1]
        return wanted

    return in_turn(document, [key] * times, another)


def as_text(document: Document, keys: Iterable[str]) -> str:
    """Return branches as the nodes of an open job file."""
    below = fed_by(document)
    taken = {each for key in keys if key in document["nodes"] for each in branch(document, key, below)}
    whole = to_open(document)
    nodes = [dict(node) for node in whole["nodes"] if node["id"] in taken]
    for node in nodes:
        if node.get("parent") not in taken:
            node.pop("parent", None)
    head = {name: whole[name] for name in ("format", "version", "book")}
    return json.dumps({**head, "nodes": nodes}, ensure_ascii=False, indent=1)


def names_of(document: Document, keys: list[str]) -> str:
    """Return what several nodes are called in a title: the one by its name, more by their number."""
    if len(keys) == 1:
        return str(document["nodes"].get(keys[0], {}).get("name") or keys[0])
    return counted(len(keys))


def counted(number: int) -> str:
    """Return a number of circuits in words."""
    return ngettext("%(n)s circuit", "%(n)s circuits", number) % {"n": number}
