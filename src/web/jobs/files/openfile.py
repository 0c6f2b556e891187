"""A job's document as the open job file, and back."""

from typing import Any

from voltaje.path.document import FORMAT, VERSION, Settled
from voltaje.path.kinds import Kind
from voltaje.path.soundness import FEEDS
from web.jobs.document import Document
from web.jobs.files.house import LISTS, library_fields
from web.words.same import Same

# What of a job's settings stands in the open file; the rest is for the screen.
JOB_KEYS = ("terminals", "region", "supply", "ambient_c", "amendments", "solved")
_COLUMNS = ("kind", "parent", "position")
_OF_ANY_NODE = ("name", "run", "legs", "way", "note")
_KITCHEN = ("dishwasher", "disposer", "microwave", "hood", "refrigerator", "compactor")
_STEP = 1024.0


def ordered(document: Document) -> list[str]:
    """Return the keys of the nodes, parents first, siblings by their position."""
    children: dict[str, list[str]] = {}
    nodes = document["nodes"]
    for key in sorted(nodes, key=lambda key: nodes[key]["position"]):
        children.setdefault(nodes[key].get("parent") or "", []).append(key)
    order, waiting = [], list(reversed(children.get("", [])))
    while waiting:
        key = waiting.pop()
        order.append(key)
        waiting.extend(reversed(children.get(key, [])))
    return order


def in_order(document: Document) -> dict[str, dict[str, Any]]:
    """Return the nodes by their keys, parents first, siblings by their position."""
    return {key: document["nodes"][key] for key in ordered(document)}


def to_open(document: Document) -> dict[str, Any]:
    """Return the open job file of a document."""
    job = document["job"]
    settings = {key: job[key] for key in JOB_KEYS if job.get(key) not in (None, "", [])}
    nodes = [_settled(key, document["nodes"][key]) for key in ordered(document)]
    return {"format": FORMAT, "version": VERSION, "name": job["name"], "book": job["book"], **settings, "nodes": nodes}


_open_nodes = Same(20_000)


def _settled(key: str, node: dict[str, Any]) -> Settled:
    """Return a node as the open file has it; of the very same node as before it is the very same again."""
    known: Settled | None = _open_nodes.get(node, None, key)
    if known is None:
        known = Settled(_open_node(key, node))
        _open_nodes.keep(node, None, key, known)
    return known


def _open_node(key: str, node: dict[str, Any]) -> dict[str, Any]:
    head = {"id": key, "kind": node["kind"]} | ({"parent": node["parent"]} if node.get("parent") else {})
    if node["kind"] == Kind.DWELLING:
        own = {name: node[name] for name in _OF_ANY_NODE if name in node}
        return {**head, **own, "dwelling": library_fields(node)}
    return head | {name: value for name, value in node.items() if name not in _COLUMNS}


def from_open(raw: dict[str, Any]) -> Document:
    """Return the document of an open job file that has been read without error."""
    job = {"name": str(raw.get("name") or "").strip() or "–", "book": raw["book"]} | {
        key: raw[key] for key in JOB_KEYS if key in raw
    }
    nodes = {}
    for at, each in enumerate(raw["nodes"]):
        rest = {name: value for name, value in each.items() if name not in ("id", "kind", "parent", "dwelling")}
        rest = {name: value for name, value in rest.items() if value != {}}  # as if it were not there
        house = _house(each["dwelling"]) if each["kind"] == Kind.DWELLING else {}
        nodes[each["id"]] = {
            "kind": each["kind"],
            "parent": each.get("parent", ""),
            "position": at * _STEP,
            **rest,
            **house,
        }
    return {"job": job, "nodes": nodes}


def _house(raw: dict[str, Any]) -> dict[str, Any]:
    """Return a dwelling's input as its sheet keeps it: texts as typed, items with an id of their own."""
    plain = {key: _text(value) for key, value in raw.items() if key not in LISTS}
    plain = {"small_appliance_circuits": "2", "laundry_circuits": "1"} | plain
    lists = {}
    for key in LISTS:
        items = []
        for at, item in enumerate(raw.get(key, []), 1):
            each = item if isinstance(item, dict) else {"load": item}
            fields = {name: value if isinstance(value, bool) else _text(value) for name, value in each.items()}
            items.append({"id": f"{key[0]}{at}", **fields, **_standing(key, fields)})
        lists[key] = items
    return plain | lists


def _standing(key: str, fields: dict[str, Any]) -> dict[str, str]:
    if key != "appliances":
        return {}
    kitchen = any(word in str(fields.get("name", "")).lower() for word in _KITCHEN)
    return {"place": "kitchen" if kitchen else "utility"}


def _text(value: Any) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)


def board_of(document: Document, key: str) -> str:
    """Return the node itself if it can feed others, else the one that feeds it.

    Without a key the first board, else the first source; "" where there is none, or where the node is gone.
    """
    nodes = document["nodes"]
    if key in nodes and nodes[key]["kind"] in FEEDS:
        return key
    if key:
        return nodes[key].get("parent") or "" if key in nodes else ""
    boards = [each for each in ordered(document) if nodes[each]["kind"] == "board"]
    sources = [each for each in ordered(document) if nodes[each]["kind"] == "source"]
    return next(iter([*boards, *sources]), "")
