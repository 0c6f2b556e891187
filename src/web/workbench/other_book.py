"""A job under another book, to be compared: where the family changes, what only one family knows falls away."""

from typing import Any

from voltaje.books.registry import find_book
from web.jobs.document import Document
from web.jobs.worker.solving import Solved

_FAMILY_WORDS = ("insulation", "method", "cable", "raceway", "arrangement", "material", "bundled", "pins", "ambient_c")


def under_book(document: Document, other: str, solved: Solved) -> Document:
    """Return a document under another book.

    In another family runs fall back to its own customs, horsepower counts as the volt-amperes it has here,
    and lighting by area is left out.
    """
    units = [find_book(name).terms.length_unit for name in (document["job"]["book"], other)]
    theirs = {"job": {**document["job"], "book": other}, "nodes": dict(document["nodes"])}
    if units[0] == units[1]:
        return theirs
    theirs["job"].pop("amendments", None)
    for key, node in theirs["nodes"].items():
        theirs["nodes"][key] = _in_other_family(node, solved.solution.nodes[key].connected_va)
    return theirs


def _in_other_family(node: dict[str, Any], connected_va: float) -> dict[str, Any]:
    plain = {name: value for name, value in node.items() if name != "area"}
    if "run" in node:
        plain["run"] = {name: value for name, value in node["run"].items() if name not in _FAMILY_WORDS}
    load = node.get("load")
    if load and "hp" in str(load.get("rating", "")).lower():
        plain["load"] = {**load, "rating": f"{connected_va / int(load.get('count') or 1):.6g} VA"}
    return plain
