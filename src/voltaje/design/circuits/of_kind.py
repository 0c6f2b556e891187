"""Which file gives the links of which kind of node."""

from __future__ import annotations

from collections.abc import Callable

from voltaje.books.questions import Book
from voltaje.design.circuits import dwelling, empty, feeder, load, service, transformer
from voltaje.design.circuits.link import Link, judged
from voltaje.design.solution import NodeSolution
from voltaje.path.kinds import Kind

_OF_KIND: dict[Kind, Callable[[NodeSolution, Book], list[Link]]] = {
    Kind.SOURCE: service.links,
    Kind.BOARD: feeder.links,
    Kind.TRANSFORMER: transformer.links,
    Kind.LOAD: load.links,
    Kind.INVERTER: load.links,
    Kind.DWELLING: dwelling.links,
    Kind.SPARE: empty.links,
    Kind.SPACE: empty.links,
}


def links_of(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the links of a node that was solved with its steps, each with what is to be said of it."""
    return judged(_OF_KIND[solved.node.kind](solved, book), solved.findings)
