"""Whether a job's document hangs together: the library's check, asked before a change is kept and when one is read."""

from collections import Counter
from collections.abc import Collection
from typing import Any

from voltaje.digits import whole
from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.path.soundness import Fault, Standing, clashes, faults
from web.jobs.document import Document, Path
from web.jobs.limits import MOST_NODES, MOST_ON_ONE, over
from web.jobs.order import way_of

_BETWEEN_TWO = ("doubled_way", "doubled_position")


class Broken(Exception):
    """A kept job that hangs together no more: it is opened to be repaired."""

    def __init__(self, job_id: Any) -> None:
        super().__init__(job_id)
        self.job_id = job_id


def standings(document: Document) -> list[Standing]:
    """Return where each node stands."""
    return [_standing(key, node) for key, node in document["nodes"].items()]


def _standing(key: str, node: dict[str, Any]) -> Standing:
    system = node.get("system") if node["kind"] == "source" else node.get("transformer", {}).get("secondary")
    way = way_of(node)
    return Standing(key, node["kind"], node.get("parent") or "", str(system or ""), node["position"], whole(way) or 0)


_PLACES = ("kind", "parent", "position", "system", "transformer", "way", "load")


def moves_node(path: Path) -> bool:
    """Return whether a change of a place can bear on where nodes stand: what `_standing` reads, or a whole node."""
    if path[0] != "nodes" or len(path) < len(("nodes", "key", "place")):
        return path[0] == "nodes"
    within_load = path[2] == "load" and path[3:] and path[3:] != ("way",)
    return path[2] in _PLACES and not within_load


def broken_places(document: Document) -> list[Fault]:
    """Return what of a document hangs together no more."""
    return faults(standings(document))


def require_sound(job_id: Any, document: Document) -> None:
    """Raise Broken where a document hangs together no more."""
    if broken_places(document):
        raise Broken(job_id)


def new_faults(before: list[Standing], document: Document) -> list[Fault]:
    """Return what a change would break that was whole before it."""
    after = standings(document)
    found = [*faults(after), *clashes(after)]
    had = {(fault.code, fault.id) for fault in (*faults(before), *clashes(before))} if found else set()
    return [fault for fault in found if (fault.code, fault.id) not in had]


def require_room(document: Document) -> None:
    """Raise InputError where a job would hold more than can be worked on here."""
    if len(document["nodes"]) > MOST_NODES:
        message = Message("a job holds at most {most} nodes here: split it into several", most=MOST_NODES)
        raise over("nodes of a job", "nodes", message)
    fed = Counter(node.get("parent") or "" for node in document["nodes"].values())
    for key, number in fed.items():
        if number > MOST_ON_ONE:
            message = Message("feeds {n}, at most {most} here: put some on another board", n=number, most=MOST_ON_ONE)
            raise over("nodes on one", f"{key}.parent" if key else "nodes", message)


def require_whole(before: list[Standing], document: Document, touched: Collection[str] = ()) -> None:
    """Raise InputError where a change of some nodes would break what must hold of every job; said of one of those."""
    for found in new_faults(before, document):
        turned = found.id not in touched and found.other in touched and found.code in _BETWEEN_TWO
        fault = found._replace(id=found.other, other=found.id) if turned else found
        raise InputError(f"{fault.id}.{fault.key}", said_of(fault, document))


def said_of(fault: Fault, document: Document) -> Message:
    """Return a fault in the words of people: names, no ids."""
    other = name_of(document, fault.other)
    if fault.code == "doubled_way":
        return Message("{why}: {other} is on it", why=fault.message, other=other)
    if fault.code == "hangs_nowhere":
        return Message("what it hung on is not there any more")
    return fault.message


def name_of(document: Document, key: str) -> str:
    """Return a node's name, its key where it has none."""
    return str(document["nodes"].get(key, {}).get("name") or key)
