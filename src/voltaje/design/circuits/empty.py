"""A place in a board that feeds nothing: a spare with its breaker, or a space without one."""

from __future__ import annotations

from voltaje.books.questions import Book
from voltaje.design.circuits import common
from voltaje.design.circuits.link import Link
from voltaje.design.solution import NodeSolution
from voltaje.message import Message


def links(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the links of a spare or a space: nothing flows; of a spare, the breaker that stands there."""
    nothing = Message("feeds nothing yet")
    first = common.connected(solved, [nothing])
    return [first, common.demand(solved), common.current(solved), *common.run(solved, book, nothing)]
