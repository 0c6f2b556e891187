"""Loads that their standard gives rules of their own: what is read and not covered says so."""

from __future__ import annotations

from voltaje.books.questions import Book
from voltaje.design.solution import NodeSolution
from voltaje.findings import Finding, Severity
from voltaje.message import Message
from voltaje.path.load import LoadSpec
from voltaje.path.model import Node
from voltaje.path.own_rules import own_rules_of


def told(node: Node, load: LoadSpec, solved: NodeSolution, book: Book) -> None:
    """Say of a load with rules of its own that they are not covered, and where they stand."""
    own = own_rules_of(node.name, load.counts_as.value)
    if own is None:
        return
    message = Message("It is taken as an ordinary load: the rules of its own that such equipment has are not here.")
    if book.terms.family == "nec":
        message = Message(
            "It is taken as an ordinary load: what article {article} asks of such equipment is not here.",
            article=own.article,
        )
    mend = Message("Work its device and conductors by those rules, and fix them by hand.")
    solved.findings.append(Finding(Severity.WARN, "load.own_rules", message, None, node.id, mend))
