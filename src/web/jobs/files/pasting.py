"""Nodes of a text hung into a job: what was copied from another, what a sheet gives."""

from typing import Any

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from voltaje.digits import is_whole
from voltaje.errors import Refused
from voltaje.path.intake import read_json
from voltaje.path.kinds import Kind
from voltaje.tools.solve import read_document, unknown_choices
from web.jobs.document import Change, Document
from web.jobs.files.openfile import board_of, from_open, to_open
from web.jobs.limits import MOST_NODES
from web.jobs.order import STEP, last_position, new_key
from web.words.figures import say

_NEITHER = gettext_lazy("That is no part of a job, and no list of loads.")


class NotPasted(Exception):
    """A text that is no part of a job, with the reason in words."""


def pasted(document: Document, text: str, at: str) -> list[Change]:
    """Return the changes that hang the nodes of a text on a board, with keys of their own. Raises: NotPasted."""
    nodes = _nodes_of(text)
    feeder = board_of(document, at)
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
    keys = {key: new_key() for key in read_nodes if key != top}
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
