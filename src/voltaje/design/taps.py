"""Taps on a path: conductors behind a larger device than theirs, their own at their end, by a rule of taps."""

from __future__ import annotations

from voltaje.books.answers import Choice, Run
from voltaje.books.machines import SecondaryRule, TapAsked
from voltaje.books.questions import Book, Taps
from voltaje.design.chain import RunDesign
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers.secondary import Judge, held
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.message import Message
from voltaje.path.kinds import Kind
from voltaje.path.model import Node
from voltaje.path.run import Role

_FT_M = 0.3048


def judge_of(run: Run, node: Node, book: Book) -> Judge | None:
    """Return what judges a tap; None for any other run. Raises: InputError where there is no device before it."""
    if run.role != Role.TAP:
        return None
    if not run.tapped_from_a:
        raise InputError("role", Message("a tap is taken from a feeder that has a device: there is none before it"))
    rules, long_m = book.asked(Taps), node.run.long_m
    single = node.kind is Kind.BOARD and bool(node.board.main_a or node.run.pins.device_a)
    single = single or (node.load is not None and bool(node.run.pins.device_a))

    def judge(ampacity_a: float, choice: Choice) -> tuple[SecondaryRule, ...]:
        length_ft = None if long_m is None else long_m / _FT_M
        return rules.taps(
            TapAsked(
                ampacity_a,
                length_ft,
                run.tapped_from_a,
                choice.device_a,
                choice.size,
                run.material,
                single,
                node.run.tap_place,
            )
        )

    return judge


def told(solved: NodeSolution, design: RunDesign, judge: Judge, book: Book) -> None:
    """Say by which rule a tap may be so, or that none lets it be."""
    tried = judge(design.capacity.ampacity_a, design.choice)
    solved.tried = tried
    if held(tried):
        return
    message = Message("No rule of taps lets it be so: {why}.", why=[each.why for each in tried])
    mend = Message(
        "A main at its end within 10 or 25 ft (100 ft in a high bay), larger conductors, or a device where it begins."
    )
    rule, where = book.rule("tap_conductors"), f"{solved.node.id}.run.length"
    solved.findings.append(Finding(Severity.STOP, "tap.not_held", message, rule, where, mend))
