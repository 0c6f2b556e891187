"""What there is to say of a board as it is made: its room, its bus, its main breaker."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.questions import Book
from voltaje.design.solution import NodeSolution
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import BOARD_WORDS
from voltaje.path.model import Node
from voltaje.rounding import DUST


def panel(node: Node, solved: NodeSolution, circuits: Sequence[NodeSolution], book: Book) -> None:
    """Hold a board against what was entered of it.

    Source: NEC 408.30 (rating not less than the load), 408.36 (protected at not more than its rating); from memory.
    """
    word = BOARD_WORDS[book.terms.family]
    _room(node, solved, circuits, word)
    drawn = max(solved.amps.values(), default=0.0)
    need = max(solved.design.need_a if solved.design else 0.0, drawn)
    ahead = solved.design.choice.device_a if solved.design else node.run.pins.device_a
    board = node.board
    if board.main_a and board.main_a < need - DUST:
        message = Message(
            "Its main breaker, {main}, is smaller than what it needs, {need}.",
            main=Figure(board.main_a, "A"),
            need=Figure(need, "A", 1),
        )
        mend = Message("Take a larger main, or move load to another {board}.", board=word)
        solved.findings.append(
            Finding(Severity.STOP, "board.main_small", message, book.rule("panel_rating"), f"{node.id}.main_a", mend)
        )
    if not board.bus_a:
        return
    if board.bus_a < drawn - DUST:
        message = Message("Its bus, {bus}, carries {drawn}.", bus=Figure(board.bus_a, "A"), drawn=Figure(drawn, "A", 1))
        mend = Message("Take a {board} with a larger bus, or move load to another.", board=word)
        solved.findings.append(
            Finding(Severity.STOP, "board.bus_small", message, book.rule("panel_rating"), f"{node.id}.bus_a", mend)
        )
    protected = min(each for each in (board.main_a, ahead, float("inf")) if each)
    if board.bus_a < protected < float("inf"):
        message = Message(
            "Its bus, {bus}, is protected at {device}.", bus=Figure(board.bus_a, "A"), device=Figure(protected, "A")
        )
        mend = Message("Take a main breaker, or a device ahead of it, of not more than the bus.")
        rule = book.rule("panel_protection")
        solved.findings.append(Finding(Severity.STOP, "board.bus_unprotected", message, rule, f"{node.id}.bus_a", mend))


def _room(node: Node, solved: NodeSolution, circuits: Sequence[NodeSolution], word: str) -> None:
    if not node.board.ways:
        return
    used = sum(len(each.legs) for each in circuits)
    last = max((each.node.way for each in circuits), default=0)
    if used <= node.board.ways and last <= node.board.ways:
        return
    message = Message(
        "It has {ways} spaces: its circuits take {used}, up to number {last}.",
        ways=node.board.ways,
        used=used,
        last=max(last, used),
    )
    mend = Message("Take a larger {board}, or feed some circuits from another.", board=word)
    solved.findings.append(Finding(Severity.WARN, "board.no_room", message, None, f"{node.id}.ways", mend))
