"""Neutrals whose load a person said, or nobody did: then it is taken as loaded as a line, and said so."""

from __future__ import annotations

import math
from collections.abc import Sequence

from voltaje.books.answers import NeutralLoad, Run
from voltaje.books.questions import Book
from voltaje.design.chain import Pins
from voltaje.design.leaves import Flow
from voltaje.design.solution import NodeSolution
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.model import Node
from voltaje.physics.transformer import rated_amps


def entered(
    node: Node, found: NeutralLoad | None, unlisted: bool, solved: NodeSolution, flows: Sequence[Flow], book: Book
) -> NeutralLoad | None:
    """Return what a board's neutral carries: as found, unless a person said it, or entered its demand and no loads.

    unlisted: whether the demand was entered and no loads are listed
    """
    pinned = node.run.pins.neutral_a
    if found is None:
        return None
    if pinned is not None:
        return NeutralLoad(pinned, reducible=False)
    if not unlisted:
        return found
    amps = max(abs(each) for flow in flows for each in flow.level.values())
    solved.findings.append(taken_as_line(amps, book, _field(node)))
    return NeutralLoad(amps, reducible=False)


def as_line(run: Run, pins: Pins, solved: NodeSolution, above: NodeSolution, book: Book) -> Run:
    """Return the run of a board that nothing hangs on yet, its neutral as loaded as its lines may be [A].

    They carry what their device lets through, and no more than a transformer makes.
    """
    if run.neutral is None or solved.node.run.pins.neutral_a is not None or not pins.device_a:
        return run
    amps = pins.device_a
    if above.unit is not None:
        plate = above.unit.plate
        amps = min(amps, rated_amps(plate.kva, plate.secondary_v, plate.phases))
    solved.findings.append(taken_as_line(amps, book, _field(solved.node)))
    return run._replace(neutral=NeutralLoad(amps, reducible=False))


def with_harmonics(solved: NodeSolution, load: NeutralLoad | None, book: Book) -> None:
    """Add to what a node's legs leave on its neutral the third harmonics of its lines [A], which add up there.

    Where nonlinear means third harmonic, in the IEC family. Source: IEC 60364-5-52 Annex E.
    """
    if load is not None and load.third_harmonic and book.terms.family == "iec":
        solved.neutral_a = math.hypot(solved.neutral_a, load.third_harmonic * sum(solved.amps.values()))


def _field(node: Node) -> str:
    return f"{node.id}.run.pins.neutral_a"


def taken_as_line(amps: float, book: Book, field: str) -> Finding:
    """Return the note that a neutral is taken as loaded as a line [A]."""
    message = Message(
        "The neutral is taken as loaded as a line, {amps}: its greatest unbalanced load may ask for less.",
        amps=Figure(amps, "A", 1),
    )
    return Finding(Severity.NOTE, "neutral.as_line", message, book.rule("neutral"), field)
