"""What each service of a job connects to earth, by the run that brings it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache

from voltaje.books.machines import Earthing, EarthingAsked
from voltaje.books.questions import Book, Earthings
from voltaje.design.solution import NodeSolution
from voltaje.errors import Refused
from voltaje.path.model import Node, Role
from voltaje.sheet import Sheet, off

_TERMINALS_C = 75


def services(order: Sequence[Node], nodes: Mapping[str, NodeSolution], book: Book) -> None:
    """Give every service what it connects to earth; where its book has no rule of it, nothing."""
    for node in order:
        solved = nodes[node.id]
        design = solved.design
        if design is None or node.parent is None or design.run.role != Role.SERVICE:
            continue
        supply = nodes[node.parent].node.supply
        load = design.run.neutral.amps if design.run.neutral else None
        asked = EarthingAsked(
            design.choice.size, design.run.material, design.choice.sets, design.choice.sets, load,
            design.run.terminal_c or _TERMINALS_C, supply.ring_size, supply.earthing, supply.neutral_mm2,
        )  # fmt: skip
        solved.earthing = _earthing(book, asked, solved.sheet) if solved.sheet.on else _worked_before(book, asked)


def _earthing(book: Book, asked: EarthingAsked, sheet: Sheet) -> Earthing | None:
    try:
        return book.asked(Earthings).earthing(asked, sheet)
    except Refused:
        return None  # its own conductors say why


@lru_cache(maxsize=4_000)
def _worked_before(book: Book, asked: EarthingAsked) -> Earthing | None:
    """Return it without its steps: the same service, as after an edit elsewhere, is worked out once."""
    return _earthing(book, asked, off())
