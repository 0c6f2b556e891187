"""Boards whose circuits are as they were: worked out once, and shared by value with the solves that come after.

Nothing here can go stale: what is kept is taken only where everything that it was worked out from is the same again,
compared value by value. Kept solutions are never changed.
"""

from __future__ import annotations

from collections import OrderedDict
from typing import NamedTuple

from voltaje.books.questions import Book
from voltaje.design.drop import Fallen
from voltaje.design.leaves import Rising
from voltaje.design.solution import NodeSolution
from voltaje.path.kinds import EMPTY, Kind
from voltaje.path.model import Job, Node
from voltaje.systems import System

_MOST_BOARDS = 400
_LEAST_CIRCUITS = 4  # of fewer, comparing takes as long as working them out


class Given(NamedTuple):
    """Everything that the circuits of a board are worked out from, but what comes from further up."""

    book: Book
    practices: tuple[object, ...]
    board: Node
    circuits: tuple[Node, ...]
    system: System
    legs: tuple[str, ...]


FromAbove = tuple[Fallen, float, Fallen, float]


def from_above(board: NodeSolution) -> FromAbove:
    """Return what the circuits of a board begin with."""
    return board.fallen, board.from_source_m, board.inside, board.supply_share


class KeptBoard(NamedTuple):
    """A board and its circuits as they were worked out.

    board: its own solution before its run was sized; from_above: what its circuits begin with: drop and length from
        the source, what transformers lose, the volts of the supply
    """

    given: Given
    board: NodeSolution
    rising: Rising
    circuits: dict[str, NodeSolution]
    from_above: FromAbove


_kept: OrderedDict[tuple[str, str, str], KeptBoard] = OrderedDict()


def given_of(job: Job, book: Book, board: Node, circuits: list[Node], solved: NodeSolution) -> Given | None:
    """Return what a board is worked out from; None for one that is not kept: few circuits, or boards among them."""
    plain = all(node.kind in EMPTY or (node.load and not node.load.neutral_group) for node in circuits)
    plain = plain and all(node.kind in (Kind.LOAD, *EMPTY) for node in circuits)
    if board.kind is not Kind.BOARD or len(circuits) < _LEAST_CIRCUITS or not plain:
        return None
    practices = (job.terminals, job.supply, job.ambient_c)
    return Given(book, practices, board, tuple(circuits), solved.system, solved.legs)


def find(job: Job, given: Given) -> KeptBoard | None:
    """Return a board as it was worked out before from the very same."""
    found = _kept.get((job.name, given.book.name, given.board.id))
    return found if found is not None and found.given == given else None


def keep(job: Job, board: KeptBoard) -> None:
    """Keep a board for the solves to come, in place of what was kept of it before."""
    key = (job.name, board.given.book.name, board.given.board.id)
    _kept.pop(key, None)  # in two steps that another thread may come between: the newest stands last
    _kept[key] = board
    while len(_kept) > _MOST_BOARDS:
        _kept.popitem(last=False)


def forget() -> None:
    """Forget every board, so that the next solve works out all."""
    _kept.clear()
