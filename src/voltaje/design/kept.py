"""Boards and circuits that are as they were: worked out once, and shared by value with the solves that come after.

Of a board that is the same in all its circuits everything is taken; of one in which some circuits changed, the others.

Nothing here can go stale: what is kept is taken only where everything that it was worked out from is the same again,
compared value by value. Kept solutions are never changed.
"""

from __future__ import annotations

from collections import OrderedDict
from typing import Any, NamedTuple

from voltaje.books.questions import Book
from voltaje.design.drop import Fallen
from voltaje.design.leaves import Rising
from voltaje.design.loops import LoopFrom
from voltaje.design.residuals import ResidualFrom
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


FromAbove = tuple[Fallen, float, Fallen, float, LoopFrom | None, ResidualFrom]


def from_above(board: NodeSolution) -> FromAbove:
    """Return what the circuits of a board begin with."""
    return board.fallen, board.from_source_m, board.inside, board.supply_share, board.loop_from, board.rcd_from


class KeptBoard(NamedTuple):
    """A board and its circuits as they were worked out.

    board: its own solution before its run was sized; from_above: what its circuits begin with: drop and length from
        the source, what transformers lose, the volts of the supply, the loop of a fault to earth, RCDs
    """

    given: Given
    board: NodeSolution
    rising: Rising
    circuits: dict[str, NodeSolution]
    from_above: FromAbove


class KeptCircuit(NamedTuple):
    """A circuit as it was worked out, and what rises from it."""

    solution: NodeSolution
    rising: Rising


class KeptCircuits(NamedTuple):
    """The circuits of a board as they were worked out last; given: with whatever circuits it had then."""

    given: Given
    circuits: dict[str, KeptCircuit]
    from_above: FromAbove

    def same(self, given: Given) -> bool:
        """Return whether circuits were worked out from the same, but for what they are themselves."""
        return self.given._replace(circuits=()) == given._replace(circuits=())


_kept: OrderedDict[tuple[str, str, str], KeptBoard] = OrderedDict()
_circuits: OrderedDict[tuple[str, str, str], KeptCircuits] = OrderedDict()


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


def circuits_before(job: Job, given: Given) -> KeptCircuits | None:
    """Return the circuits of a board as they were worked out last, if everything but themselves is the same."""
    found = _circuits.get((job.name, given.book.name, given.board.id))
    return found if found is not None and found.same(given) else None


def keep(job: Job, board: KeptBoard) -> None:
    """Keep a board for the solves to come, in place of what was kept of it before."""
    _put(_kept, job, board.given, board)


def keep_circuits(job: Job, circuits: KeptCircuits) -> None:
    """Keep the circuits of a board for the solves to come."""
    _put(_circuits, job, circuits.given, circuits)


def _put(kept: OrderedDict[tuple[str, str, str], Any], job: Job, given: Given, what: Any) -> None:
    key = (job.name, given.book.name, given.board.id)
    kept.pop(key, None)  # in two steps that another thread may come between: the newest stands last
    kept[key] = what
    while len(kept) > _MOST_BOARDS:
        kept.popitem(last=False)


def forget() -> None:
    """Forget everything, so that the next solve works out all."""
    _kept.clear()
    _circuits.clear()
