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
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet
from voltaje.systems import System

_OWN = "TT"
_NEAR = 0.9  # of a limit: what is nearer to it is said
KINDS = {
    "B": Message("type B"),
    "C": Message("type C"),
    "D": Message("type D"),
    "gG": Message("gG fuse"),
    "BS 88-3": Message("BS 88-3 fuse"),
    "BS 3036": Message("rewireable fuse, BS 3036"),
}


class LoopFrom(NamedTuple):
    """The loop as far as a node [Ω], how its supply is earthed, whether that is assumed, the RCD before it [mA].

    first: nothing lies between it and the supply
    """

    ohm: float
    earthing: str
    assumed: bool
    rcd_ma: float | None = None
    first: bool = True


class Fields(NamedTuple):
    """Where what is said of a loop is mended: the kind of device, the RCD, the length."""

    device: str
    rcd: str
    length: str


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
    core = Protective("core", design.earth.size, 0)
    each_m = length / choice.sets
    so_far = above.ohm + rules.run_ohm(choice.size, core, run.insulation, run.material, each_m)
    further = above._replace(ohm=so_far, rcd_ma=node.run.rcd_ma or above.rcd_ma, first=False)
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
            core,
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
    own = above.earthing == _OWN
    if own and not further.rcd_ma and not above.first:
        return further, here, []  # said where the supply comes in
    at = Fields(*(f"{node.id}.run.{field}" for field in ("device_kind", "rcd_ma", "length")))
    return further, here, said_of(here, own, further.rcd_ma, at, book)


def _rules(book: Book) -> Disconnections | None:
    try:
        return book.asked(Disconnections)
    except NotCovered:
        return None


def _feeds(node: Node) -> str:
    if node.load is None:
        return "distribution"
    return "sockets" if node.load.kind is LoadKind.SOCKETS else "fixed"


def said_of(here: LoopHere, own_electrode: bool, rcd_ma: float | None, at: Fields, book: Book) -> list[Finding]:
    """Return what is to be said of a loop, on a sheet and down a path alike.

    own_electrode: the installation has its own (TT); rcd_ma: of the RCD before it; at: the fields to mend it at
    """
    loop = here.loop
    zs, rule = Figure(loop.zs_ohm, "Ω", 2), loop.rule
    if own_electrode and not rcd_ma:
        message = Message("Where the installation has its own electrode, an RCD opens what a breaker cannot.")
        mend = Message("Enter the RCD that stands ahead of it.")
        return [Finding(Severity.WARN, "rcd.needed", message, book.rule("loop_tt"), at.rcd, mend)]
    if loop.by == "RCD":
        message = Message("The {kind} alone does not open it in time: the RCD does.", kind=KINDS[here.kind])
        mend = Message("Prove the RCD at every test; where it fails, the metal stays live.")
        return [Finding(Severity.NOTE, "loop.by_rcd", message, book.rule("loop_tt"), at.rcd, mend)]
    if not loop.by:
        message = Message(
            "A fault to earth is not opened in {required}: {zs} once round, {most} at most.",
            required=Figure(loop.required_s, "s", 2),
            zs=zs,
            most="–" if loop.most_ohm is None else Figure(loop.most_ohm, "Ω", 2),
        )
        mend = Message("A larger protective conductor, a shorter run, another type of device, or an RCD.")
        severity = Severity.STOP
        if here.assumed:
            severity, mend = Severity.WARN, Message("The supply's loop is assumed: enter it as measured.")
        return [Finding(severity, "loop.too_great", message, rule, at.device, mend)]
    backed = loop.most_rcd_ohm is not None and not exceeds(loop.zs_ohm, loop.most_rcd_ohm)
    if loop.most_ohm is not None and exceeds(loop.zs_ohm, _NEAR * loop.most_ohm) and not backed:
        message = Message(
            "{zs} of the {most} that there are: a joint or a hot day may take the rest.",
            zs=zs,
            most=Figure(loop.most_ohm, "Ω", 2),
        )
        return [Finding(Severity.WARN, "loop.near_limit", message, rule, at.length)]
    return []
