"""The source of a job: what everything below it draws; its own conductors and device are the supply's."""

from __future__ import annotations

from voltaje.books.questions import Book
from voltaje.design.circuits import common
from voltaje.design.circuits.link import Link
from voltaje.design.solution import NodeSolution
from voltaje.message import Message


def links(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the links of a source."""
    first = common.connected(solved, [Message("connected below it")])
    own = Message("by the utility")
    return [first, common.demand(solved), common.current(solved), *common.run(solved, book, own)]
