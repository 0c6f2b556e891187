"""The loop of a fault to earth down a path: at every circuit and board, held against the device that must open it.

The loop grows from the supply with every run. Behind a transformer, or past a run whose length is not entered, it is
not known, and nothing is claimed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from voltaje.books.faults import Loop, LoopAsked, Protective
from voltaje.books.questions import Book, Disconnections
from voltaje.design.chain import RunDesign
from voltaje.errors import NotCovered
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.model import Node, SupplySpec
from voltaje.sheet import Sheet
from voltaje.systems import System

_OWN = "TT"


class LoopFrom(NamedTuple):
    """The loop as far as a node [Ω], how its supply is earthed, whether that is assumed, the RCD before it [mA]."""

    ohm: float
    earthing: str
    assumed: bool
    rcd_ma: float | None = None


@dataclass(frozen=True)
class LoopHere:
    """The loop of a run held against its device.

    kind: the device's; usual: it was not said, the usual one is taken
    assumed: the supply's loop; longest_m: of the run
    """

    loop: Loop
    kind: str
    usual: bool
    assumed: bool
    longest_m: float | None


def begin(supply: SupplySpec, system: System, book: Book) -> LoopFrom | None:
    """Return the loop at a source; None where the book has no rules for its volts, or nothing is known of it."""
    rules = _rules(book)
    if rules is None or not rules.is_for(system):
        return None
    ohm = rules.supply_ohm(supply.earthing, supply.ze_ohm, supply.electrode_ohm)
    assumed = supply.ze_ohm is None and (supply.earthing != _OWN or supply.electrode_ohm is None)
    return None if ohm is None else LoopFrom(ohm, supply.earthing, assumed)


def judge(
    node: Node, design: RunDesign | None, above: LoopFrom | None, curve: str, book: Book, sheet: Sheet
) -> tuple[LoopFrom | None, LoopHere | None, list[Finding]]:
    """Return the loop as far as a node, held against its device where figures are here, and what is to be said of it.

    curve: of the type that its motor asks for, "" for the usual one
    """
    rules = _rules(book)
    length = node.run.long_m
    if rules is None or above is None or design is None or not length:
        return None, None, []
    run, choice = design.run, design.choice
    own = Protective("core", design.earth.size, 0)
    each_m = length / choice.sets
    so_far = above.ohm + rules.run_ohm(choice.size, own, run.insulation, run.material, each_m)
    further = above._replace(ohm=so_far, rcd_ma=node.run.rcd_ma or above.rcd_ma)
    said = node.run.device_kind or ("BS 3036" if run.surroundings.rewireable else curve)
    kind = said or rules.usual_kind
    if not rules.has(kind, choice.device_a) or node.kind is Kind.INVERTER:
        return further, None, []
    steps = Sheet(on=sheet.on)
    found = rules.loop(
        LoopAsked(
            above.earthing,
            above.ohm,
            None,
            kind,
            choice.device_a,
            choice.size,
            own,
            run.insulation,
            run.material,
            _feeds(node),
            ring=False,
            length_m=each_m,
            seconds=None,
            rcd_ma=further.rcd_ma,
        ),
        steps,
    )
    sheet.take(steps.steps, "earth")
    longest = None if found.longest_m is None else found.longest_m * choice.sets
    here = LoopHere(found, kind, not said, above.assumed, longest)
    return further, here, _said(node, here, above, further, book)


def _rules(book: Book) -> Disconnections | None:
    try:
        return book.asked(Disconnections)
    except NotCovered:
        return None


def _feeds(node: Node) -> str:
    if node.load is None:
        return "distribution"
    return "sockets" if node.load.kind is LoadKind.SOCKETS else "fixed"


def _said(node: Node, here: LoopHere, above: LoopFrom, further: LoopFrom, book: Book) -> list[Finding]:
    """Return what is to be said of a loop: once of an installation with its own electrode and no RCD."""
    loop = here.loop
    if above.earthing == _OWN and not further.rcd_ma:
        if node.load is not None:
            return []  # said at the board that the supply feeds
        message = Message("Where the installation has its own electrode, an RCD opens what a breaker cannot.")
        mend = Message("Enter the RCD that stands ahead of it.")
        return [Finding(Severity.WARN, "rcd.needed", message, book.rule("loop_tt"), f"{node.id}.run.rcd_ma", mend)]
    if loop.by:
        return []
    zs, most = Figure(loop.zs_ohm, "Ω", 2), Figure(loop.most_ohm or 0.0, "Ω", 2)
    required = Figure(loop.required_s, "s", 2)
    message = Message(
        "A fault to earth is not opened in {required}: {zs} once round, {most} at most.",
        required=required,
        zs=zs,
        most=most,
    )
    mend = Message("A larger protective conductor, a shorter run, another type of device, or an RCD.")
    severity = Severity.STOP
    if here.assumed:
        severity, mend = Severity.WARN, Message("The supply's loop is assumed: enter it as measured, then judge again.")
    return [Finding(severity, "loop.too_great", message, loop.rule, f"{node.id}.run.device_kind", mend)]
