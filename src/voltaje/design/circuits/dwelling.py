"""A dwelling on its service or feeder: its load by its own sheet."""

from __future__ import annotations

from voltaje.books.questions import Book
from voltaje.design.circuits import common
from voltaje.design.circuits.link import Link
from voltaje.design.solution import NodeSolution
from voltaje.message import Message


def links(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the links of a dwelling."""
    first = common.connected(solved, [Message("by its own sheet")])
    sized = common.run(solved, book, Message("not sized"))
    return [first, common.demand(solved), common.current(solved), *sized, *common.earthing(solved, book)]
