"""The ways of boards stay: before what would renumber its neighbours, those are written down as they are."""

from collections.abc import Iterable, Sequence
from dataclasses import replace

from voltaje.books.registry import find_book
from voltaje.design.placing import circuits_on
from voltaje.design.ways import Placed, free_way, ways_of
from voltaje.errors import Refused
from voltaje.limits import MOST_WAYS
from voltaje.tools.solve import read_document
from web.jobs.document import Change, Document, read
from web.jobs.editing import Plan
from web.jobs.openfile import to_open
from web.jobs.order import children, way_of

_OF_LOAD = ("poles", "phases", "legs", "way")
_OF_NODE = ("legs", "poles", "way")


def kept(document: Document, plan: Plan) -> Plan:
    """Return a plan that also writes down the ways of the circuits beside those that it changes."""
    changed = {change.path[1] for change in plan.changes if _moves(change) and change.path[2:] == ("parent",)}
    found: list[Change] = []
    for board in sorted(_boards(document, plan.changes)):
        found += _written(document, board, changed)
    return replace(plan, also=[*plan.also, *found]) if found else plan


def _moves(change: Change) -> bool:
    """Return whether a change takes a node from its board, or brings one."""
    path = change.path
    return path[0] == "nodes" and (len(path) == len(("nodes", "key")) or path[2] == "parent")


def _boards(document: Document, changes: Sequence[Change]) -> set[str]:
    """Return the boards on which changes would move others to other ways."""
    found = set()
    for change in changes:
        path = change.path
        if path[0] != "nodes":
            continue
        node = document["nodes"].get(path[1]) or change.after
        places = path[3:4] if path[2:3] == ("load",) else path[2:3]
        known = _OF_LOAD if path[2:3] == ("load",) else _OF_NODE
        if _moves(change) or not places or places[0] in (*known, "position"):
            found.add(str(node.get("parent") or "") if isinstance(node, dict) else "")
        if path[2:3] == ("parent",):
            found.add(str(change.after))
    return {key for key in found if document["nodes"].get(key, {}).get("kind") == "board"}


def _written(document: Document, board: str, changed: Iterable[str]) -> list[Change]:
    nodes, changed = document["nodes"], set(changed)
    without = [key for key in children(document, board) if not way_of(nodes[key]) and key not in changed]
    if not without:
        return []
    ways = _ways(document, board)
    return [
        Change(place_of(document, key), None, ways[key][0], stays=True)
        for key in without
        if ways.get(key) and ways[key][-1] <= MOST_WAYS
    ]


def place_of(document: Document, key: str) -> tuple[str, ...]:
    """Return where the way of a node is kept."""
    return ("nodes", key, "load", "way") if document["nodes"][key].get("load") else ("nodes", key, "way")


def _ways(document: Document, board: str) -> dict[str, tuple[int, ...]]:
    """Return the ways of a board as they are; none where it cannot be connected as it says."""
    columns = find_book(document["job"]["book"]).terms.way_columns
    try:
        circuits, legs = _circuits(document, board)
        return ways_of(circuits, legs, columns)
    except Refused:
        return {}


def _circuits(document: Document, board: str) -> tuple[dict[str, Placed], tuple[str, ...]]:
    columns = find_book(document["job"]["book"]).terms.way_columns
    return circuits_on(read_document(to_open(document)), board, columns)


def onto_legs(document: Document, key: str, legs: list[str]) -> list[Change]:
    """Return the changes that put a circuit of a board on other legs: to a free way that lies on them."""
    parent = document["nodes"][key].get("parent") or ""
    way = 0
    if document["nodes"].get(parent, {}).get("kind") == "board":
        circuits, own = _circuits(document, parent)
        others = {each: placed for each, placed in circuits.items() if each != key}
        columns = find_book(document["job"]["book"]).terms.way_columns
        way = free_way(others, own, columns, tuple(legs))
    if not way:
        return [Change(("nodes", key, "load", "legs"), None, legs)]
    made = [Change(place_of(document, key), None, way)]
    if read(document, ("nodes", key, "load", "legs")) is not None:
        made.append(Change(("nodes", key, "load", "legs"), None, None))
    return made


def renumbered(document: Document, board: str) -> list[Change]:
    """Return the changes that number the circuits of a board anew, in their order."""
    given = [key for key in children(document, board) if way_of(document["nodes"][key])]
    return [Change(place_of(document, key), None, None) for key in given]
