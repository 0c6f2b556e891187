"""Changes to several nodes at once: cells set, branches acted on, copied as text and pasted."""

import json
from collections.abc import Callable, Iterable
from copy import deepcopy
from typing import Any

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy, ngettext

from voltaje.digits import is_whole
from voltaje.errors import InputError, Refused
from voltaje.path.intake import read_json
from voltaje.path.kinds import Kind
from voltaje.tools.solve import read_document, unknown_choices
from web.jobs.document import Change, Document, NoSuchPlace, Path, put, read
from web.jobs.limits import MOST_NODES
from web.jobs.openfile import from_open, ordered, to_open
from web.jobs.order import STEP, branch, fed_by, last_position
from web.words.figures import say
from web.workbench import changes
from web.workbench.forms import tidied

_NEITHER = gettext_lazy("That is no part of a job, and no list of loads.")


class NotPasted(Exception):
    """A text that is no part of a job, with the reason in words."""


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
        try:
            value = tidied(path, typed, read(copy, path), copy["job"])
        except InputError as error:
            raise error.at(".".join(path[1:])) from error
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


def pasted(document: Document, text: str, at: str) -> list[Change]:
    """Return the changes that hang the nodes of a text on a board, with keys of their own. Raises: NotPasted."""
    nodes = _nodes_of(text)
    feeder = changes.board_of(document, at)
    top = "at"
    while any(node.get("id") == top for node in nodes):
        top += "-"
    loose = [not node.get("parent") and node.get("kind") != Kind.SOURCE for node in nodes]
    hung = [{**node, "parent": top} if free else node for node, free in zip(nodes, loose, strict=True)]
    if not feeder and any(loose):
        raise NotPasted(_("There is nothing here that could feed them: add a supply first."))
    whole = {name: value for name, value in to_open(document).items() if name not in ("nodes", "amendments")}
    system = next(node["system"] for node in document["nodes"].values() if node["kind"] == Kind.SOURCE)
    whole["nodes"] = [{"id": top, "kind": "source", "system": system}, *hung]
    try:
        unknown = unknown_choices(read_document(whole))
    except Refused as error:
        raise NotPasted(_told(error, whole["nodes"])) from error
    if unknown:
        raise NotPasted(_told(unknown[0], whole["nodes"]))
    return _hung(document, from_open(whole)["nodes"], top, feeder)


def _hung(document: Document, read_nodes: dict[str, dict[str, Any]], top: str, feeder: str) -> list[Change]:
    keys = {key: changes.new_key() for key in read_nodes if key != top}
    position, made = last_position(document, feeder) if feeder else STEP, []
    for old, key in keys.items():
        node = read_nodes[old]
        if node["parent"] == top:
            node.get("load", node).pop("way", None)  # a free one, where it comes to
        node["position"] += position
        node["parent"] = keys.get(node["parent"], feeder if node["kind"] != Kind.SOURCE else "")
        made.append(Change(("nodes", key), None, node))
    return made


def _nodes_of(text: str) -> list[dict[str, Any]]:
    try:
        raw = read_json(text)
    except Refused as error:
        raise NotPasted(_NEITHER) from error
    nodes = raw.get("nodes") if isinstance(raw, dict) else raw
    if not isinstance(nodes, list) or not nodes or not all(isinstance(node, dict) for node in nodes):
        raise NotPasted(_NEITHER)
    if len(nodes) > MOST_NODES:
        raise NotPasted(_("That is too long to be pasted at once."))
    return nodes


def _told(error: Refused, nodes: list[dict[str, Any]]) -> str:
    """Return what is wrong with a pasted node, by its name."""
    head, _bracket, rest = error.field.partition("nodes[")
    number, _end, place = rest.partition("]")
    node = nodes[int(number)] if not head and is_whole(number) and int(number) < len(nodes) else {}
    where = " · ".join(part for part in (str(node.get("name") or "")[:80], place.strip(".")) if part)
    return f"{where}: {say(error.message)}" if where else say(error.message)


def names_of(document: Document, keys: list[str]) -> str:
    """Return what several nodes are called in a title: the one by its name, more by their number."""
    if len(keys) == 1:
        return str(document["nodes"].get(keys[0], {}).get("name") or keys[0])
    return counted(len(keys))


def counted(number: int) -> str:
    """Return a number of circuits in words."""
    return ngettext("%(n)s circuit", "%(n)s circuits", number) % {"n": number}
