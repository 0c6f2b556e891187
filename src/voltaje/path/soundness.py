"""What must hold of a path whatever else is said of it: a tree that hangs on sources, and nothing twice.

Checked when a file is read, before a change is kept, and when a kept job is opened.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from voltaje.limits import MOST_DEPTH
from voltaje.message import Message
from voltaje.systems import SYSTEMS

SOURCE = "source"
FEEDS = (SOURCE, "board", "transformer")


class Standing(NamedTuple):
    """Where a node stands. system: of a source, or of a transformer's secondary; "" where it has none."""

    id: str
    kind: str
    parent: str
    system: str = ""
    position: float | None = None
    way: int = 0


class Fault(NamedTuple):
    """What does not hold: its code, the node, the key of the file it is about, another node that has to do with it."""

    code: str
    id: str
    key: str
    other: str
    message: Message


def faults(nodes: Sequence[Standing]) -> list[Fault]:
    """Return why a path is no tree that hangs on sources; none where it is one.

    Every id once; sources hang on nothing, everything else on what can feed it; no circle, and no branch
    deeper than the cap; systems that this version knows.
    """
    known: dict[str, Standing] = {}
    found: list[Fault] = []
    for node in nodes:
        if node.id in known:
            found.append(Fault("doubled_id", node.id, "id", "", Message("{id} stands twice", id=node.id)))
        known[node.id] = node
    depths: dict[str, int] = {}
    for node in nodes:
        found += _own(node, known)
        if node.kind != SOURCE and node.parent in known:
            depth = _depth(node, known, depths)
            if depth < 0:
                found.append(Fault("circle", node.id, "parent", node.parent, Message("the path runs in a circle here")))
            elif depth == MOST_DEPTH + 1:
                message = Message("hangs too deep: at most {most} below its source", most=MOST_DEPTH)
                found.append(Fault("too_deep", node.id, "parent", node.parent, message))
    return found


def _own(node: Standing, known: dict[str, Standing]) -> Iterable[Fault]:
    if node.system and node.system not in SYSTEMS:
        message = Message("unknown system {name}", name=node.system)
        yield Fault("unknown_system", node.id, "system", "", message)
    if node.kind == SOURCE:
        if node.parent:
            yield Fault("source_fed", node.id, "parent", node.parent, Message("a source has no parent"))
        return
    parent = known.get(node.parent)
    if parent is None:
        named = Message("there is no node {id}", id=node.parent) if node.parent else Message("must hang on something")
        yield Fault("hangs_nowhere", node.id, "parent", node.parent, named)
    elif parent.kind not in FEEDS:
        yield Fault("feeds_nothing", node.id, "parent", parent.id, Message("a {kind} feeds nothing", kind=parent.kind))


def _depth(node: Standing, known: dict[str, Standing], depths: dict[str, int]) -> int:
    """Return how deep a node hangs below the top of its branch, -1 on or below a circle."""
    trail: list[str] = []
    here: Standing | None = node
    on_trail: set[str] = set()
    while here is not None and here.id not in depths:
        if here.id in on_trail:
            depths.update(dict.fromkeys(trail, -1))
            return -1
        trail.append(here.id)
        on_trail.add(here.id)
        here = known.get(here.parent) if here.kind != SOURCE else None
    depth = depths[here.id] if here else -1
    circle = here is not None and depth < 0
    for each in reversed(trail):
        depth = -1 if circle else depth + 1
        depths[each] = depth
    return depths[node.id]


def clashes(nodes: Iterable[Standing]) -> list[Fault]:
    """Return which nodes claim a place among their neighbours that another has: a position, or an entered way."""
    found: list[Fault] = []
    places: dict[tuple[str, float], str] = {}
    ways: dict[tuple[str, int], str] = {}
    for node in nodes:
        if node.position is not None:
            first = places.setdefault((node.parent, node.position), node.id)
            if first != node.id:
                message = Message("stands in the same place as its neighbour")
                found.append(Fault("doubled_position", node.id, "position", first, message))
        if node.way:
            first = ways.setdefault((node.parent, node.way), node.id)
            if first != node.id:
                message = Message("way {way} of this board is taken", way=node.way)
                found.append(Fault("doubled_way", node.id, "load.way", first, message))
    return found
