"""Changes to the path: add, move, duplicate, take away; each a list of places and what they will hold."""

import copy
from collections.abc import Iterable, Sequence
from typing import Any

from voltaje.books.registry import find_book
from voltaje.digits import is_whole
from voltaje.errors import InputError
from voltaje.limits import MOST_NAME
from voltaje.path.soundness import FEEDS
from voltaje.systems import THREE_PHASE
from web.jobs.changes.editing import ARROW
from web.jobs.changes.saying import label_of
from web.jobs.document import Change, Document, Path, read
from web.jobs.files.openfile import ordered
from web.jobs.order import STEP, branch, children, last_position, new_key, placed, way_of
from web.words.trade import kind_words
from web.workbench.forms import tidied


class CannotMove(Exception):
    """A node cannot go where it is asked to."""


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


def add(
    document: Document, parent: str, nodes: Iterable[dict[str, Any]], others: Sequence[Change] = ()
) -> list[Change]:
    """Return the changes that hang new nodes behind the others of a parent, and behind `others` that will be there."""
    position = last_position(document, parent)
    position += STEP * sum(change.after["parent"] == parent for change in others)
    return [
        Change(("nodes", new_key()), None, {**node, "parent": parent, "position": position + at * STEP})
        for at, node in enumerate(nodes)
    ]


def entered(document: Document, path: Path, typed: str) -> Any:
    """Return what was typed at a place of a node as it is kept; a name that is emptied is its kind's word.

    Raises: InputError at the place.
    """
    if path[2:] == ("name",) and not typed.strip():
        node = document["nodes"][path[1]]
        kind = node.get("load", {}).get("kind") or node["kind"]
        words = kind_words(kind, find_book(document["job"]["book"]).terms.family)
        return words[:1].upper() + words[1:]
    try:
        return tidied(path, typed, read(document, path), document["job"])
    except InputError as error:
        raise error.at(".".join(path[1:])) from error


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
        for name, value in entered.get(part, {}).items():
            if _typed(had.get(name)) != _typed(value):
                wanted.append(Change(("nodes", key, part, name), None, value))
    return wanted


def _typed(value: Any) -> str:
    return str(int(value)) if isinstance(value, bool) else str(value)


NEW: dict[str, dict[str, Any]] = {
    "source": {"system": "120/240 1ph 3w"},
    "board": {},
    "transformer": {"transformer": {"kva": "45", "secondary": "208Y/120"}},
    "load": {"load": {"kind": "general", "rating": "1000 VA"}},
    "inverter": {"load": {"kind": "general", "rating": "5 kW"}},
    "spare": {"run": {"pins": {"device_a": "20"}}},
    "space": {},
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
    words = kind_words(kind, find_book(document["job"]["book"]).terms.family)
    name = f"{words[:1].upper()}{words[1:]} {number}"
    return add(document, parent, [{"kind": kind, "name": name, **copy.deepcopy(NEW[kind])}])


def boosted(document: Document, key: str, transformer: dict[str, str], name: str) -> list[Change]:
    """Return the changes that put a small transformer before a load: it takes its place, its legs and its run.

    The load keeps the device and size that a person fixed; what lies between the two is for a person to enter.
    """
    node = document["nodes"][key]
    load = node.get("load", {})
    run = copy.deepcopy(node.get("run", {}))
    pins = run.pop("pins", {})
    if "length" in pins:  # a measured length is of what now leads to the transformer
        run["pins"] = {"length": pins.pop("length")} | {word: pins[word] for word in ("reason",) if word in pins}
    kept = {"pins": pins} if pins.keys() - {"reason"} else {}
    fresh = {"kind": "transformer", "name": name, "parent": node.get("parent"), "position": node["position"]}
    fresh |= {"transformer": transformer, "run": run}
    fresh |= {place: load[place] for place in ("legs", "way") if place in load}
    at = new_key()
    moved = [Change(("nodes", key, "parent"), None, at), Change(("nodes", key, "run"), None, kept)]
    moved += [Change(("nodes", key, "load", place), None, None) for place in ("legs", "way") if place in load]
    return [Change(("nodes", at), None, fresh), *moved]


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
    order = [each for each in children(document, parent) if each != key]
    order.insert(order.index(before) if before in order else len(order), key)
    moved = placed(document, order, key)
    if nodes[key].get("parent") != parent:
        moved.append(Change(("nodes", key, "parent"), None, parent))
        if way_of(nodes[key]):
            way = ("load", "way") if nodes[key].get("load") else ("way",)
            moved.append(Change(("nodes", key, *way), None, None))
    return moved


def step(document: Document, key: str, up: bool) -> list[Change]:
    """Return the changes that swap a node with its neighbour; none at the end."""
    mine = children(document, document["nodes"][key].get("parent") or "")
    here = mine.index(key)
    other = here + (-1 if up else 1)
    if not 0 <= other < len(mine):
        return []
    mine[here], mine[other] = mine[other], mine[here]
    return placed(document, mine, key)


def turned_legs(document: Document, key: str, legs: tuple[str, ...], among: tuple[str, ...], by: int) -> list[str]:
    """Return the legs of a load when it goes to the next of its board's, or the one before; none where it has all.

    legs: those it is on; among: those of its board
    """
    if document["nodes"][key]["kind"] != "load" or len(legs) == len(among):
        return []
    return [among[(among.index(leg) + by) % len(among)] for leg in legs]


def said_of_edit(document: Document, path: Path, value: Any) -> str:
    """Return a change of one field as the history tells it: of what, what, from what to what."""
    node = document["nodes"][path[1]]
    before = _told(read(document, path))
    return f"{node.get('name') or path[1]}: {label_of(path[2:])} {before} {ARROW} {_told(value)}"


def _told(value: Any) -> str:
    if isinstance(value, list):
        return "-".join(str(each) for each in value)
    return "–" if value is None else str(value)


def with_it(document: Document, path: Path, value: Any) -> list[Change]:
    """Return what changes with a place that is set: what was assumed of it no longer is; way and legs agree."""
    node, place = document["nodes"][path[1]], ".".join(path[2:])
    found = []
    said = {"load.phases": "load.poles", "load.legs": "load.poles", "load.volts": "load.poles"}.get(place, place)
    assumed = node.get("assumed") or []
    if said in assumed:
        found.append(Change(("nodes", path[1], "assumed"), None, [each for each in assumed if each != said] or None))
    if place == "load.way" and value is not None and node.get("load", {}).get("legs"):
        found.append(Change(("nodes", path[1], "load", "legs"), None, None))
    if place == "load.legs" and node.get("load", {}).get("way"):
        found.append(Change(("nodes", path[1], "load", "way"), None, None))
    return found


def stand(document: Document, key: str, poles: int) -> list[Change]:
    """Return the changes that put a load on so many poles; three of them are three-phase."""
    node = document["nodes"][key]
    load = {name: value for name, value in node.get("load", {}).items() if name not in ("legs", "way")}
    phases = THREE_PHASE if poles == THREE_PHASE else 1
    assumed = [each for each in node.get("assumed") or [] if each != "load.poles"]
    return [
        Change(("nodes", key, "load"), None, {**load, "poles": poles, "phases": phases}),
        Change(("nodes", key, "assumed"), None, assumed or None),
    ]


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
            node["position"] = last_position(document, to)
            node["name"] = _copied(str(node.get("name") or old))
        if old == key:
            node.get("load", node).pop("way", None)
        made.append(Change(("nodes", new), None, node))
    return made if to != nodes[key].get("parent") else _beside(document, key, made)


def _beside(document: Document, key: str, made: list[Change]) -> list[Change]:
    """Return the changes that put a copy next to what it was copied from."""
    first = made[0]
    copied = first.path[1]
    order = children(document, first.after["parent"])
    order.insert(order.index(key) + 1, copied)
    with_it = {**document, "nodes": {**document["nodes"], copied: first.after}}
    for change in placed(with_it, order, copied):
        if change.path[1] == copied:
            first.after["position"] = change.after
        else:
            made.append(change)
    return made


def _copied(name: str) -> str:
    """Return a name for a copy: the number at its end goes up, else a 2 is put there."""
    head, _space, tail = name.rpartition(" ")
    if head and is_whole(tail):
        return f"{head} {int(tail) + 1}"
    return f"{name} 2"[:MOST_NAME]
