"""The order of nodes among their neighbours: a position for each, between those of its neighbours."""

import copy
import itertools
import secrets
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from web.jobs.document import Change, Document, put

STEP = 1024.0
_CLOSEST = 1e-6  # nearer to each other than this, neighbours are all placed anew


def new_key() -> str:
    """Return a key that no node has."""
    return f"n{secrets.token_hex(4)}"


def children(document: Document, parent: str) -> list[str]:
    """Return the nodes that one feeds, in their order."""
    nodes = document["nodes"]
    mine = [key for key, node in nodes.items() if (node.get("parent") or "") == parent]
    return sorted(mine, key=lambda key: nodes[key]["position"])


def fed_by(document: Document) -> dict[str, list[str]]:
    """Return what hangs on each node, in its order."""
    nodes = document["nodes"]
    below: dict[str, list[str]] = {}
    for key in sorted(nodes, key=lambda key: nodes[key]["position"]):
        below.setdefault(nodes[key].get("parent") or "", []).append(key)
    return below


def branch(document: Document, key: str, below: dict[str, list[str]] | None = None) -> list[str]:
    """Return a node and everything below it, parents first, also where the path runs in a circle.

    below: what hangs on each node, where that is known
    """
    below = fed_by(document) if below is None else below
    found = {key: None}
    waiting = [key]
    while waiting:
        fed = [each for each in below.get(waiting.pop(), []) if each not in found]
        found |= dict.fromkeys(fed)
        waiting += fed
    return list(found)


def last_position(document: Document, parent: str) -> float:
    """Return a position behind the last that a node feeds."""
    mine = children(document, parent)
    return document["nodes"][mine[-1]]["position"] + STEP if mine else STEP


def placed(document: Document, order: Sequence[str], moved: str) -> list[Change]:
    """Return the changes of position that put neighbours in an order in which one has moved.

    It alone gets a new position where there is room between its neighbours, else they all do.
    """
    nodes, at = document["nodes"], order.index(moved)
    others = [nodes[key]["position"] for key in order if key != moved]
    low = others[at - 1] if at else (others[0] - 2 * STEP if others else 0.0)
    high = others[at] if at < len(others) else low + 2 * STEP
    apart = all(b - a > _CLOSEST for a, b in itertools.pairwise(others))
    if apart and high - low > 2 * _CLOSEST:
        return [Change(("nodes", moved, "position"), None, (low + high) / 2)]
    anew = {key: (place + 1) * STEP for place, key in enumerate(order)}
    return [
        Change(("nodes", key, "position"), None, place)
        for key, place in anew.items()
        if nodes[key]["position"] != place or key == moved
    ]


def freed(document: Document, changes: Sequence[Change]) -> list[Change]:
    """Return changes that were made, what they put in another's place now next to it; in the document too."""
    made = []
    for change in changes:
        key, value = change.path[1], change.after
        whole = change.path[0] == "nodes" and change.path == ("nodes", key) and value is not None
        if whole and _way_is_taken(document, key, value):
            value = without_way(value)
            change = replace(change, after=value)  # noqa: PLW2901
            put(document, change)
        if whole or change.path[2:] == ("position",):
            change = replace(change, after=_beside(document, key, value))  # noqa: PLW2901
            put(document, change)
        made.append(change)
    return made


def way_of(node: dict[str, Any]) -> str:
    """Return the way that a node was given in its board, "" where it takes the next."""
    return str((node.get("load") or node).get("way") or "")


def _way_is_taken(document: Document, key: str, node: dict[str, Any]) -> bool:
    mine, parent = way_of(node), node.get("parent") or ""
    return bool(mine) and any(
        way_of(other) == mine
        for each, other in document["nodes"].items()
        if each != key and (other.get("parent") or "") == parent
    )


def without_way(node: dict[str, Any]) -> dict[str, Any]:
    """Return a node that takes the next way: its own was given to another meanwhile."""
    node = {name: value for name, value in node.items() if name != "way"}
    if node.get("load"):
        node["load"] = {name: value for name, value in node["load"].items() if name != "way"}
    return node


def _beside(document: Document, key: str, value: Any) -> Any:
    nodes = document["nodes"]
    if key not in nodes:
        return value
    mine, here = nodes[key].get("parent") or "", nodes[key]["position"]
    taken = {node["position"] for each, node in nodes.items() if each != key and (node.get("parent") or "") == mine}
    if here not in taken:
        return value
    above = min((place for place in taken if place > here), default=here + 2 * STEP)
    free = (here + above) / 2 if above - here > _CLOSEST else max(taken) + STEP
    return {**copy.deepcopy(value), "position": free} if isinstance(value, dict) else free
