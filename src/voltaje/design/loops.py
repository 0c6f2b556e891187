"""The loop of a fault to earth down a path: at every circuit and board, held against the device that must open it.

The loop grows from the supply with every run. Behind a transformer, or past a run whose length is not entered, it is
not known, and nothing is claimed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from voltaje.books.faults import HeatAsked, Loop, LoopAsked, Protective
from voltaje.books.questions import Adiabatics, Book, Disconnections
from voltaje.design.chain import RunDesign
from voltaje.errors import InputError, NotCovered
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.model import Node, SupplySpec
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE, System

_OWN = "TT"
_ARMOUR = "armour"
_LINES_OF_ONE = 2  # cores of a cable of one phase, beside the protective one
_USUAL_FUSE = "gG"
CURVES = ("B", "C", "D")
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

    first: nothing lies between it and the supply; fuse_kind: standard of the distributor's fuse, "" where not entered
    """

    ohm: float
    earthing: str
    assumed: bool
    rcd_ma: float | None = None
    first: bool = True
    fuse_kind: str = ""


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
    fuse_kind = supply.fuse_kind or (_USUAL_FUSE if supply.fuse_a else "")
    return None if ohm is None else LoopFrom(ohm, supply.earthing, assumed, fuse_kind=fuse_kind)


def judge(
    node: Node, design: RunDesign | None, above: LoopFrom | None, curve: str, book: Book, sheet: Sheet
) -> tuple[LoopFrom | None, LoopHere | None, list[Finding]]:
    """Return the loop as far as a node, held against its device where figures are here, and what is to be said of it.

    An RCD counts where it was entered: one that a rule only wants is not there yet.
    curve: of the type that its motor asks for, "" for the usual one
    """
    rules = _rules(book)
    length = node.run.long_m
    if rules is None or above is None or design is None or not length:
        return None, None, []
    run, choice = design.run, design.choice
    said = node.run.device_kind or ("BS 3036" if run.surroundings.rewireable else curve)
    kind = said or rules.usual_kind
    if above.first and above.fuse_kind:
        said = kind = above.fuse_kind
    ahead = node.run.rcd_ma or above.rcd_ma
    asked = LoopAsked(
        above.earthing,
        above.ohm,
        None,
        kind,
        choice.device_a,
        choice.size,
        _protective(node, design),
        run.insulation,
        run.material,
        _feeds(node),
        ring=run.ring,
        length_m=length / choice.sets,
        seconds=None,
        rcd_ma=ahead,
    )
    steps, judged = Sheet(on=sheet.on), rules.has(kind, choice.device_a) and node.kind is not Kind.INVERTER
    try:
        found = rules.loop(asked, steps) if judged else None
        own_ohm = found.line_ohm + found.protective_ohm if found else rules.run_ohm(asked)
    except InputError as error:
        return None, None, [_not_known(node, error)]
    further = above._replace(ohm=above.ohm + own_ohm, rcd_ma=ahead, first=False)
    if found is None:
        return further, None, []
    sheet.take(steps.steps, "earth")
    longest = None if found.longest_m is None else found.longest_m * choice.sets
    here = LoopHere(found, kind, not said, above.assumed, longest)
    own = above.earthing == _OWN
    heat = _outlives(node, design, asked, found, book, sheet)
    if own and not asked.rcd_ma and not above.first:
        return further, here, heat  # said where the supply comes in
    at = Fields(*(f"{node.id}.run.{field}" for field in ("device_kind", "rcd_ma", "length")))
    return further, here, [*said_of(here, own, asked.rcd_ma, at, book), *heat]


def _protective(node: Node, design: RunDesign) -> Protective:
    """Return the protective conductor of a run: of its armour the table's area, where no other was entered."""
    run, lies = design.run, node.run.protective
    cores = _LINES_OF_ONE
    if run.phases == THREE_PHASE:
        cores = THREE_PHASE + (1 if run.neutral else 0)
    size = design.earth.size if lies != _ARMOUR or node.run.pins.protective else ""
    return Protective(lies, size, cores)


def _not_known(node: Node, error: InputError) -> Finding:
    message = Message("The loop of a fault to earth is not known: {why}.", why=error.message)
    return Finding(Severity.WARN, "loop.not_known", message, None, f"{node.id}.run.protective")


def _outlives(node: Node, design: RunDesign, asked: LoopAsked, found: Loop, book: Book, sheet: Sheet) -> list[Finding]:
    """Return that a protective conductor smaller than its table's does not outlive a fault, where it does not."""
    plain = book.earth(design.run._replace(cable="multicore"), design.choice, design.choice, off())
    own = asked.protective
    smaller = own.lies == _ARMOUR or float(own.size) < float(plain.size)
    if not smaller or found.time_s is None:
        return []
    cable = (None, asked.material, asked.insulation, own, asked.line)
    heat = HeatAsked(found.fault_a, found.time_s, *cable, asked.kind, asked.device_a, guarded=True)
    steps, rules = Sheet(on=sheet.on), book.asked(Adiabatics)
    held = rules.at_once(heat, steps) if asked.kind in CURVES else rules.heat(heat, steps)
    sheet.take(steps.steps, "earth")
    has = held.armour_mm2 if held.armour_mm2 is not None else float(own.size)
    if not exceeds(held.least_mm2, has):
        return []
    message = Message(
        "The protective conductor has {has}, and a fault asks for {least}.",
        has=Figure(has, "mm²", 1),
        least=Figure(held.least_mm2, "mm²", 2),
    )
    mend = Message("A larger one, or what the maker's figure of let-through allows.")
    severity = Severity.WARN if asked.kind in CURVES else Severity.STOP
    return [Finding(severity, "protective.too_small", message, held.rule, f"{node.id}.run.pins.protective", mend)]


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
