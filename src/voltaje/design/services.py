"""What each service of a job connects to earth, by the run that brings it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from voltaje.books.machines import EarthingAsked
from voltaje.books.questions import Book, Earthings
from voltaje.design.solution import NodeSolution
from voltaje.errors import Refused
from voltaje.path.model import Node, Role

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
        try:
            solved.earthing = book.asked(Earthings).earthing(asked, solved.sheet)
        except Refused:
            continue  # its own conductors say why
