"""Of a large job only what a person has unfolded is drawn and sent: the boards, and the circuits of the open ones."""

from collections.abc import Mapping, Sequence

from web.jobs.document import Document

FOLDS_FROM = 400  # nodes; a smaller job is sent whole, and folded in the page
_FOLDABLE = ("board", "transformer")


def folded_in(document: Document, order: Sequence[str], at: str, unfolded: tuple[str, ...]) -> Mapping[str, int]:
    """Return the folded boards of a job, each with how many nodes are folded in it; none where the job is small.

    order: its nodes, parents first; at: the chosen node, which is always in sight
    unfolded: the boards that the person opened
    """
    nodes = document["nodes"]
    if len(nodes) <= FOLDS_FROM:
        return {}
    in_sight = {*unfolded, *_on_the_way_to(document, at)}
    below: dict[str, int] = {}
    circuits: set[str] = set()
    for key in reversed(order):
        parent = nodes[key].get("parent") or ""
        below[parent] = below.get(parent, 0) + 1 + below.get(key, 0)
        if parent and nodes[key]["kind"] not in _FOLDABLE:
            circuits.add(parent)
    # A board that feeds only boards stands open: it is the way to them.
    return {
        key: number
        for key, number in below.items()
        if key in circuits and key not in in_sight and nodes[key]["kind"] in _FOLDABLE
    }


def _on_the_way_to(document: Document, at: str) -> list[str]:
    nodes, way = document["nodes"], []
    here = at
    while here in nodes:
        way.append(here)
        here = nodes[here].get("parent") or ""
    return way


def in_sight(document: Document, order: Sequence[str], folded: Mapping[str, int]) -> list[str]:
    """Return the nodes that are not folded away, parents first as they are given."""
    if not folded:
        return list(order)
    nodes, hidden, shown = document["nodes"], set(), []
    for key in order:
        parent = nodes[key].get("parent") or ""
        if parent in hidden or parent in folded:
            hidden.add(key)
        else:
            shown.append(key)
    return shown
