"""A board on its feeder."""

from __future__ import annotations

from voltaje.books.questions import Book
from voltaje.design.circuits import common
from voltaje.design.circuits.link import Link
from voltaje.design.solution import NodeSolution
from voltaje.message import Message


def links(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the links of a feeder and the board that it feeds."""
    first = common.connected(solved, [Message("connected below it")])
    sized = common.run(solved, book, Message("not sized"))
    own = [*common.fault(solved, book), *common.earthing(solved, book)]
    return [first, common.demand(solved), common.current(solved), *sized, *own]
