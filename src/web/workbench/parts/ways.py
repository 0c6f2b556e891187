"""The ways of boards stay: before what would renumber its neighbours, those are written down as they are."""

from collections.abc import Iterable, Sequence
from dataclasses import replace

from voltaje.books.registry import find_book
from voltaje.design.placing import circuits_on
from voltaje.design.ways import Placed, free_way, ways_of
from voltaje.errors import Refused
from voltaje.limits import MOST_WAYS
from voltaje.tools.solve import read_document
from web.jobs.changes.editing import Plan
from web.jobs.document import Change, Document, read
from web.jobs.files.openfile import to_open
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
        placed, legs = circuits(document, board)
        return ways_of(placed, legs, columns)
    except Refused:
        return {}


def circuits(document: Document, board: str) -> tuple[dict[str, Placed], tuple[str, ...]]:
    """Return what a node feeds, each on its way and legs, and the legs that it gives. Raises InputError."""
    columns = find_book(document["job"]["book"]).terms.way_columns
    return circuits_on(read_document(to_open(document)), board, columns)


def onto_legs(document: Document, key: str, legs: list[str]) -> list[Change]:
    """Return the changes that put a circuit of a board on other legs: to a free way that lies on them."""
    return all_onto_legs(document, [(key, tuple(legs))])


def all_onto_legs(document: Document, moves: Sequence[tuple[str, tuple[str, ...]]]) -> list[Change]:
    """Return the changes that put circuits on other legs, each to a free way that lies on them.

    The ways that they leave are free for the others; where none lies on its legs, a circuit has its legs by name.
    """
    nodes, made = document["nodes"], []
    boards = dict.fromkeys(nodes[key].get("parent") or "" for key, _legs in moves)
    for board in boards:
        mine = [(key, legs) for key, legs in moves if (nodes[key].get("parent") or "") == board]
        is_board = nodes.get(board, {}).get("kind") == "board"
        placed, own = circuits(document, board) if is_board else ({}, ())
        columns = find_book(document["job"]["book"]).terms.way_columns
        # Those that stay keep the ways that they have now, given or not.
        now = ways_of(placed, own, columns)
        standing = {
            key: Placed(now[key][0] if now[key] else 0, each.legs)
            for key, each in placed.items()
            if key not in dict(mine)
        }
        for key, legs in sorted(mine, key=lambda move: -len(move[1])):
            around = tuple(_in_turn(legs, own))
            is_load = bool(nodes[key].get("load"))  # a board or a house has its legs by name
            way = free_way(standing, own, columns, around) if is_board and is_load else 0
            if way:
                standing[key] = Placed(way, around)
            made += _put(document, key, legs, way)
    return made


def _in_turn(legs: tuple[str, ...], own: tuple[str, ...]) -> tuple[str, ...]:
    """Return legs in the order in which neighbouring ways have them: L3 comes before L1 as well."""
    first = next((leg for leg in legs if own and own[(own.index(leg) - 1) % len(own)] not in legs), legs[0])
    at = own.index(first) if first in own else 0
    return tuple(own[(at + step) % len(own)] for step in range(len(legs))) if own else legs


def _put(document: Document, key: str, legs: tuple[str, ...], way: int) -> list[Change]:
    where = ("nodes", key, "load") if document["nodes"][key].get("load") else ("nodes", key)
    if not way:
        found = [Change((*where, "legs"), None, list(legs))]
        return [*found, Change((*where, "way"), None, None)] if way_of(document["nodes"][key]) else found
    found = [Change((*where, "way"), None, way)]
    return [*found, Change((*where, "legs"), None, None)] if read(document, (*where, "legs")) is not None else found


def renumbered(document: Document, board: str) -> list[Change]:
    """Return the changes that number the circuits of a board anew, in their order."""
    given = [key for key in children(document, board) if way_of(document["nodes"][key])]
    return [Change(place_of(document, key), None, None) for key in given]
