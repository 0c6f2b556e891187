"""Changes to the path: add, move, duplicate, take away; each a list of places and what they will hold."""

import copy
import secrets
from typing import Any

from web.jobs.document import Change, Document
from web.jobs.openfile import ordered

STEP = 1024.0
FEEDS = ("source", "board", "transformer")


class CannotMove(Exception):
    """A node cannot go where it is asked to."""


def new_key() -> str:
    """Return a key that no node has."""
    return f"n{secrets.token_hex(4)}"


def children(document: Document, parent: str) -> list[str]:
    """Return the nodes that one feeds, in their order."""
    nodes = document["nodes"]
    mine = [key for key, node in nodes.items() if (node.get("parent") or "") == parent]
    return sorted(mine, key=lambda key: nodes[key]["position"])


def board_of(document: Document, key: str) -> str:
    """Return the node itself if it can feed others, else the one that feeds it; "" where the job is empty."""
    nodes = document["nodes"]
    if key in nodes and nodes[key]["kind"] in FEEDS:
        return key
    if key in nodes:
        return nodes[key].get("parent") or ""
    boards = [each for each in ordered(document) if nodes[each]["kind"] == "board"]
    sources = [each for each in ordered(document) if nodes[each]["kind"] == "source"]
    return next(iter([*boards, *sources]), "")


def find_board(document: Document, words: str) -> str | None:
    """Return the board that a person's words name, None where none or more than one does."""
    wanted = words.lower().split()
    nodes = document["nodes"]
    found = []
    for key in ordered(document):
        if nodes[key]["kind"] in FEEDS:
            name = str(nodes[key].get("name") or key).lower()
            if name == " ".join(wanted):
                return key
            if all(word in name or word in ("board", "panel", "main") for word in wanted):
                found.append(key)
    return found[0] if len(found) == 1 else None


def last_position(document: Document, parent: str) -> float:
    """Return a position behind the last that a node feeds."""
    mine = children(document, parent)
    return document["nodes"][mine[-1]]["position"] + STEP if mine else STEP


def add(document: Document, parent: str, nodes: list[dict[str, Any]]) -> list[Change]:
    """Return the changes that hang new nodes behind the others of a parent."""
    position = last_position(document, parent)
    return [
        Change(("nodes", new_key()), None, {**node, "parent": parent, "position": position + at * STEP})
        for at, node in enumerate(nodes)
    ]


def load_named(document: Document, board: str | None, name: str) -> str | None:
    """Return the load of a board that goes by a name, None where none or more than one does."""
    nodes, wanted = document["nodes"], name.strip().casefold()
    mine = [key for key in children(document, board) if nodes[key]["kind"] == "load"] if board and wanted else []
    found = [key for key in mine if str(nodes[key].get("name") or key).casefold() == wanted]
    return found[0] if len(found) == 1 else None


def alter(document: Document, key: str, entered: dict[str, Any]) -> list[Change]:
    """Return the changes that give a load what was entered of it anew; what was not stays."""
    node = document["nodes"][key]
    wanted = []
    for part in ("load", "run"):
        had = node.get(part, {})
        new = {name: value for name, value in entered.get(part, {}).items() if _typed(had.get(name)) != _typed(value)}
        if new:
            wanted.append(Change(("nodes", key, part), None, {**had, **new}))
    return wanted


def _typed(value: Any) -> str:
    return str(int(value)) if isinstance(value, bool) else str(value)


_NEW: dict[str, dict[str, Any]] = {
    "source": {"system": "120/240 1ph 3w"},
    "board": {},
    "transformer": {"transformer": {"kva": "45", "secondary": "208Y/120"}},
    "load": {"load": {"kind": "general", "rating": "1000 VA"}},
    "inverter": {"load": {"kind": "general", "rating": "5 kW"}},
    "dwelling": {
        "floor_area": "1,500 ft²",
        "small_appliance_circuits": "2",
        "laundry_circuits": "1",
        **{key: [] for key in ("appliances", "dryers", "cooking", "heating", "vehicle_chargers")},
    },
}


def new_node(document: Document, parent: str, kind: str) -> list[Change]:
    """Return the change that hangs a new node of a kind on another; a source hangs on nothing."""
    parent = "" if kind == "source" else parent
    if kind != "source" and not parent:
        raise CannotMove
    number = sum(1 for node in document["nodes"].values() if node["kind"] == kind) + 1
    name = f"{kind.capitalize()} {number}"
    return add(document, parent, [{"kind": kind, "name": name, **copy.deepcopy(_NEW[kind])}])


def branch(document: Document, key: str) -> list[str]:
    """Return a node and everything below it, parents first."""
    found = [key]
    for each in found:
        found.extend(children(document, each))
    return found


def remove(document: Document, key: str) -> list[Change]:
    """Return the changes that take a branch away, the ends first."""
    return [Change(("nodes", each), None, None) for each in reversed(branch(document, key))]


def move(document: Document, key: str, parent: str, before: str = "") -> list[Change]:
    """Return the changes that hang a branch on another node, before one of its own or behind them all.

    Raises: CannotMove into itself, or to what feeds nothing.
    """
    nodes = document["nodes"]
    if key not in nodes or parent not in nodes or nodes[parent]["kind"] not in FEEDS:
        raise CannotMove
    if parent in branch(document, key) or nodes[key]["kind"] == "source":
        raise CannotMove
    others = [each for each in children(document, parent) if each != key]
    if before in others:
        at = others.index(before)
        high = nodes[before]["position"]
        low = nodes[others[at - 1]]["position"] if at else high - 2 * STEP
        position = (low + high) / 2
    else:
        position = nodes[others[-1]]["position"] + STEP if others else STEP
    moved = [Change(("nodes", key, "position"), None, position)]
    if nodes[key].get("parent") != parent:
        moved.append(Change(("nodes", key, "parent"), None, parent))
    return moved


def step(document: Document, key: str, up: bool) -> list[Change]:
    """Return the changes that swap a node with its neighbour; none at the end."""
    nodes = document["nodes"]
    mine = children(document, nodes[key].get("parent") or "")
    other = mine.index(key) + (-1 if up else 1)
    if not 0 <= other < len(mine):
        return []
    return [
        Change(("nodes", key, "position"), None, nodes[mine[other]]["position"]),
        Change(("nodes", mine[other], "position"), None, nodes[key]["position"]),
    ]


def turn_legs(document: Document, key: str, legs: tuple[str, ...], among: tuple[str, ...], by: int) -> list[Change]:
    """Return the change that puts a load on the next of its board's legs, or the one before; none where it has all.

    legs: those it is on; among: those of its board
    """
    if document["nodes"][key]["kind"] != "load" or len(legs) == len(among):
        return []
    turned = [among[(among.index(leg) + by) % len(among)] for leg in legs]
    return [Change(("nodes", key, "load", "legs"), None, turned)]


def duplicate(document: Document, key: str, parent: str = "") -> list[Change]:
    """Return the changes that copy a branch beside itself, or to another node. Raises CannotMove."""
    nodes = document["nodes"]
    to = parent or nodes[key].get("parent") or ""
    if not to or to not in nodes or nodes[to]["kind"] not in FEEDS:
        raise CannotMove
    keys = {each: new_key() for each in branch(document, key)}
    made = []
    for old, new in keys.items():
        node = copy.deepcopy(nodes[old])
        node["parent"] = keys.get(node.get("parent"), to)
        if old == key:
            node["position"] = _behind(document, key) if to == nodes[key].get("parent") else last_position(document, to)
            node["name"] = _copied(str(node.get("name") or old))
        if "load" in node:
            node["load"].pop("way", None)
        made.append(Change(("nodes", new), None, node))
    return made


def _behind(document: Document, key: str) -> float:
    """Return a position between a node and its next neighbour."""
    nodes = document["nodes"]
    mine = children(document, nodes[key].get("parent") or "")
    at = mine.index(key) + 1
    here = nodes[key]["position"]
    return (here + nodes[mine[at]]["position"]) / 2 if at < len(mine) else here + STEP


def _copied(name: str) -> str:
    """Return a name for a copy: the number at its end goes up, else a 2 is put there."""
    head, _space, tail = name.rpartition(" ")
    if head and tail.isdigit():
        return f"{head} {int(tail) + 1}"
    return f"{name} 2"[:80]
