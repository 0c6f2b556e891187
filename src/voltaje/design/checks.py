"""What there is to say of nodes and of how they stand to each other: findings about load, demand and connection."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from voltaje.books.answers import LoadRules
from voltaje.books.questions import Book
from voltaje.design.leaves import Rising
from voltaje.design.solution import NodeSolution
from voltaje.errors import Refused
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.load import LoadSpec
from voltaje.path.model import Node
from voltaje.rounding import DUST
from voltaje.systems import THREE_PHASE

HEAT_AT = Formula("rated_va * (volts / rated_v) * (volts / rated_v)")

_CLOSE_V = 0.06  # equipment voltages such as 230 V on 240 V lie within 6 % (common practice)
_NAMED = 3
BY_HAND = Message("Set its breaker and size by hand, by what your book says of such equipment, and have them checked.")


# Loads


def continuous_by_rule(node: Node, load: LoadSpec, rules: LoadRules, solved: NodeSolution) -> None:
    """What is continuous by its kind may not be entered as less."""
    if rules.rule is None or load.continuous is None or load.continuous >= rules.circuit_continuous:
        return
    message = Message("Not allowed as not continuous: by rule its own circuit takes it at 125 %.")
    mend = Message("Take the entry away; the circuit is sized as the rule says.")
    solved.findings.append(
        Finding(Severity.STOP, "load.continuous_by_rule", message, rules.rule, f"{node.id}.load.continuous", mend)
    )


def not_known(node: Node, solved: NodeSolution, error: Refused) -> None:
    """A load that the book has no answer for stands apart; the job goes on without it, and says so."""
    mend = Message("Give it as the book takes it; what feeds it does not count it until then.")
    message = Message("Its load is not known: {why}.", why=error.message)
    solved.findings.append(Finding(Severity.STOP, "load.not_known", message, None, f"{node.id}.{error.field}", mend))


def unknown_below(node: Node, rises: Sequence[Rising], mine: Rising, solved: NodeSolution) -> None:
    """A board that feeds a load nobody knows says that its own figures lack it."""
    mine.unknown = [name for rise in rises for name in rise.unknown]
    if not mine.unknown or node.kind is Kind.SOURCE:
        return
    named = mine.unknown[:_NAMED]
    message = Message("Without {names}: the load there is not known, so that more will flow here.", names=named)
    if len(mine.unknown) > _NAMED:
        more = len(mine.unknown) - _NAMED
        message = Message(
            "Without {names} and {more} more, whose load is not known: more will flow here.", names=named, more=more
        )
    mend = Message("Mend those first.")
    solved.findings.append(Finding(Severity.STOP, "board.load_missing", message, None, node.id, mend))


def empty(node: Node, solved: NodeSolution) -> None:
    """A spare without a breaker: it is a space, or its breaker is not known."""
    if node.kind is Kind.SPARE and not node.run.pins.device_a:
        message = Message("A spare without its breaker.")
        mend = Message("Enter the breaker that stands there, or make it a space.")
        solved.findings.append(
            Finding(Severity.WARN, "way.spare_without_device", message, None, f"{node.id}.run.pins.device_a", mend)
        )


def _standing(solved: NodeSolution) -> Message:
    """Say on how many legs a load stands."""
    volts = Figure(solved.nominal_v, "V")
    if len(solved.legs) == 1:
        return Message("{volts} on one leg", volts=volts)
    return Message("{volts} on {n} legs", volts=volts, n=len(solved.legs))


def assumed(node: Node, solved: NodeSolution) -> None:
    """What was filled in without being said stays to be looked at until a person sets it."""
    if not node.assumed:
        return
    load, pins = node.load, node.run.pins
    words = {
        "load.poles": _standing(solved),
        "load.rating": Message("{rating}", rating=load.rating.typed if load else ""),
        "load.count": Message("{n} of them", n=load.count if load else 1),
        "run.pins.device_a": Message("the {amps} breaker", amps=Figure(pins.device_a or 0.0, "A")),
    }
    message = Message("Assumed, not entered: {what}.", what=[words[each] for each in node.assumed])
    mend = Message("Set it as it is, or say that it is right.")
    solved.findings.append(Finding(Severity.WARN, "load.assumed", message, None, f"{node.id}.{node.assumed[0]}", mend))


def not_sized(node: Node, what: str, solved: NodeSolution, why: Message | None = None) -> None:
    """A run that the engine does not size: a stop, until a person has fixed its device and its size."""
    pins = node.run.pins
    if pins.device_a and pins.size:
        message = Message("Sized by hand, and not checked by this version: the run to the {kind}.", kind=what)
        solved.findings.append(Finding(Severity.WARN, "run.by_hand", message, None, node.id, BY_HAND))
        return
    message = Message("Not sized by this version: the run to the {kind}.", kind=what)
    if why:
        message = Message("Not sized: the run to the {kind}: {why}.", kind=what, why=why)
    solved.findings.append(Finding(Severity.STOP, "run.not_sized", message, None, node.id, BY_HAND))


def otherwise_rated(load: LoadSpec, solved: NodeSolution) -> bool:
    """Return whether equipment is made for other volts than its supply's."""
    return load.volts is not None and abs(load.volts - solved.nominal_v) > _CLOSE_V * load.volts


def volts(node: Node, load: LoadSpec, solved: NodeSolution) -> None:
    """Equipment made for another voltage than the one it gets."""
    if load.counts_as is LoadKind.MOTOR:
        return  # has a finding of its own, with what another voltage does to it
    if load.volts is None or not otherwise_rated(load, solved):
        return
    rated, given = Figure(load.volts, "V"), Figure(solved.nominal_v, "V")
    message = Message("Rated {rated}, on {volts}.", rated=rated, volts=given)
    low = solved.nominal_v < load.volts
    if load.traits.resistive and low:
        share = HEAT_AT.value(rated_va=100.0, volts=solved.nominal_v, rated_v=load.volts)
        message = Message(
            "Rated {rated}, on {volts}: it heats with {share} of its rating.",
            rated=rated,
            volts=given,
            share=Figure(share, "%"),
        )
    mend = Message("Boost the voltage with a transformer, or take equipment made for this supply.")
    solved.findings.append(
        Finding(Severity.WARN if low else Severity.STOP, "load.other_voltage", message, None, node.id, mend)
    )


def harmonics_without_neutral(node: Node, load: LoadSpec, solved: NodeSolution) -> None:
    """Third harmonics of a load on three lines alone: nothing brings them back, so nothing here counts them."""
    if not load.nonlinear or len(solved.legs) != THREE_PHASE:
        return
    message = Message(
        "Its nonlinear part of {share} is not counted: a load on three lines has no neutral here.",
        share=Figure(load.nonlinear * 100, "%"),
    )
    mend = Message("Where it has a neutral, list it as three loads to neutral, a leg each.")
    where = f"{node.id}.load.nonlinear"
    solved.findings.append(Finding(Severity.WARN, "load.harmonics_uncounted", message, None, where, mend))


def at_its_volts(node: Node, solved: NodeSolution, book: Book) -> None:
    """Volts at equipment beyond its band, once what transformers lose and how the supply stands is counted.

    What conductors alone lose has limits of its own; equipment made for other volts is told as that.
    """
    load = node.load
    if load is None or node.kind is not Kind.LOAD or not (solved.inside or solved.supply_share != 1):
        return
    if otherwise_rated(load, solved):
        return
    rated = load.volts or solved.nominal_v
    band, off = book.band_percent, (solved.volts / rated - 1) * 100
    if abs(off) <= band + DUST:
        return
    low = Message(
        "{volts} at the load, {percent} under its {rated}: more than its band of {band}.",
        volts=Figure(solved.volts, "V", 1),
        percent=Figure(-off, "%", 1),
        rated=Figure(rated, "V"),
        band=Figure(band, "%"),
    )
    high = Message(
        "{volts} at the load, {percent} over its {rated}: more than its band of {band}.",
        volts=Figure(solved.volts, "V", 1),
        percent=Figure(off, "%", 1),
        rated=Figure(rated, "V"),
        band=Figure(band, "%"),
    )
    mend = Message("Another tap, a transformer of less impedance, or larger conductors.")
    message = low if off < 0 else high
    solved.findings.append(Finding(Severity.WARN, "load.volts_out_of_band", message, None, node.id, mend))


def on_one_circuit(node: Node, load: LoadSpec, solved: NodeSolution, book: Book) -> None:
    """Several vehicle chargers on one circuit."""
    rule = book.rule(load.traits.own_circuit)
    if load.count == 1 or rule is None:
        return
    message = Message("{n} charging outlets on one circuit: each has a circuit of its own.", n=load.count)
    mend = Message("List each on its own, or let a management system share the circuit and enter what it allows.")
    solved.findings.append(Finding(Severity.STOP, "charger.shares_circuit", message, rule, node.id, mend))


def pinned_demand(node: Node, worked_va: float, solved: NodeSolution, book: Book) -> None:
    """A demand fixed by hand, and what the rules would have made of it."""
    pinned = node.run.pins.demand_va
    if pinned is None:
        return
    with solved.sheet.section("demand"):
        solved.sheet.read(pinned, Message("Demand, pinned"), "VA", book.load_rule)
    if pinned < worked_va - DUST:
        message = Message(
            "The demand is pinned at {pinned}, under {worked} by the rules.",
            pinned=Figure(pinned, "VA"),
            worked=Figure(worked_va, "VA"),
        )
        mend = Message("Take the pin away, or say in its reason what measurement it rests on.")
        solved.findings.append(Finding(Severity.WARN, "demand.pinned_low", message, None, node.id, mend))


# Boards


def in_full(node: Node, solved: NodeSolution, error: Refused) -> None:
    """A board whose demand no rule of the book gives: everything counts in full."""
    message = Message("No demand by rule: {why}. Everything on it is counted in full.", why=error.message)
    mend = Message("Mend the entry, or list the circuits.")
    solved.findings.append(Finding(Severity.STOP, "demand.no_rule", message, None, f"{node.id}.{error.field}", mend))


def _named(node: Node) -> str:
    return node.name or node.id


def ways(board: Node, circuits: Iterable[Node], nodes: dict[str, NodeSolution], book: Book) -> None:
    """Two circuits that were given one way of a board."""
    taken: dict[int, Node] = {}
    for child in circuits:
        if not child.way:
            continue
        for at in range(len(nodes[child.id].legs)):
            way = child.way + at * book.terms.way_columns
            holder = taken.setdefault(way, child)
            if holder is not child:
                message = Message(
                    "Way {way} is given to {one} and to {other}: one way holds one device.",
                    way=way,
                    one=_named(holder),
                    other=_named(child),
                )
                mend = Message("Give one of them another way.")
                nodes[board.id].findings.append(
                    Finding(Severity.WARN, "board.way_taken", message, book.rule("ways"), board.id, mend)
                )
                break


def against_largest(node: Node, solved: NodeSolution, circuits: Sequence[NodeSolution]) -> None:
    """A diversity that leaves a board with less than its largest circuit is worth a look."""
    if node.board.diversity == 1:
        return
    demand = max(solved.amps.values(), default=0.0)
    most = max((amps for circuit in circuits for amps in circuit.amps.values()), default=0.0)
    if most > demand + DUST:
        message = Message(
            "With its diversity the board draws {demand}, less than its largest circuit, {most}.",
            demand=Figure(demand, "A", 1),
            most=Figure(most, "A", 1),
        )
        mend = Message("Raise the diversity that was entered.")
        solved.findings.append(Finding(Severity.WARN, "board.under_largest_circuit", message, None, node.id, mend))


def device_against_largest(node: Node, solved: NodeSolution, circuits: Sequence[NodeSolution], book: Book) -> None:
    """A board whose device is smaller than that of one of its circuits trips before it."""
    rule = book.rule("largest_circuit")
    if rule is None or solved.design is None:
        return
    device = solved.design.choice.device_a
    larger = [each for each in circuits if each.design and each.design.choice.device_a > device + DUST]
    if not larger:
        return
    worst = max(larger, key=lambda each: each.design.choice.device_a if each.design else 0.0)
    message = Message(
        "Its device, {device}, is smaller than that of {circuit}, {most}.",
        device=Figure(device, "A"),
        circuit=worst.node.name or worst.node.id,
        most=Figure(worst.design.choice.device_a if worst.design else 0.0, "A"),
    )
    mend = Message("Raise the diversity that was entered, or pin a device that lets the circuit have its load.")
    solved.findings.append(Finding(Severity.WARN, "device.under_circuit", message, rule, node.id, mend))
