"""The walk-through line as plain JSON: what was understood, and what was not."""

from __future__ import annotations

from voltaje.books.registry import find_book
from voltaje.path.walk_through import read_line
from voltaje.tools.answer import Json


def read_walk_through(text: str, book_name: str, decimal: str = ".") -> Json:
    """Return a line as understood. Raises UnknownName for a book this version does not have."""
    book = find_book(book_name, "--book")
    found = read_line(text, book.terms.length_unit == "m", decimal)
    return {
        "text": found.text,
        "book": book.name,
        "name": found.name,
        "load": found.load,
        "run": found.run,
        "circuits": found.circuits,
        "board": found.board,
        "notes": [str(note) for note in found.notes],
        "problems": [str(problem) for problem in found.problems],
        "not_understood": found.not_understood,
    }
