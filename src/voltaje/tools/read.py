"""The walk-through line as plain JSON: what was understood, what was assumed, and what was not used."""

from __future__ import annotations

from voltaje.books.registry import find_book
from voltaje.inputs.shapes import Json
from voltaje.speech.read import nodes_of, read_line
from voltaje.speech.said import Item, Where
from voltaje.systems import find_system

USUAL_SYSTEM = {"nec": "120/240 1ph 3w", "iec": "230/400"}


def read_walk_through(text: str, book_name: str, system: str = "", decimal: str = ".") -> Json:
    """Return a line as understood on a board of a system; by default on the usual one of the book's family.

    Raises: UnknownName for a book or a system that this version does not have.
    """
    book = find_book(book_name, "--book")
    supply = find_system(system or USUAL_SYSTEM[book.terms.family], "--system")
    found = read_line(text, Where(book.terms.family, supply, (), decimal, book.terms.rings))
    return {
        "text": found.text,
        "book": book.name,
        "system": supply.name,
        "items": [_item(item) for item in found.items],
    }


def _item(item: Item) -> Json:
    return {
        "text": item.text,
        "kind": item.kind.value,
        "name": item.name,
        "circuits": item.circuits,
        "board": item.board,
        "nodes": [] if item.problems else list(nodes_of(item)),
        "understood": [
            {"place": part.place, "words": str(part.words), "assumed": part.assumed, "doubtful": part.doubtful}
            for part in item.parts
        ],
        "problems": [str(problem) for problem in item.problems],
        "not_used": [{"words": each.words, "why": str(each.why or "")} for each in item.unused],
    }
