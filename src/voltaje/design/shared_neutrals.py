"""Circuits that share a neutral, taken as one thing: their legs, what it carries, its size, its drop, its loss."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from voltaje.books.questions import Book
from voltaje.design.chain import RunDesign
from voltaje.design.leaves import Flow, Rising, Shared
from voltaje.design.solution import NodeSolution
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.model import Node
from voltaje.physics.currents import Currents, total
from voltaje.rounding import exceeds
from voltaje.sheet import off
from voltaje.systems import System


def groups_of(circuits: Iterable[Node]) -> dict[str, list[Node]]:
    """Return the circuits of a board that share neutrals, by the name of each."""
    found: dict[str, list[Node]] = {}
    for node in circuits:
        if node.load and node.load.neutral_group:
            found.setdefault(node.load.neutral_group, []).append(node)
    return found


def together(
    circuits: Iterable[Node], nodes: Mapping[str, NodeSolution], rising: Mapping[str, Rising], book: Book
) -> None:
    """Let each circuit know what its neutral carries with the others', and say what is wrong with their legs."""
    for group in groups_of(circuits).values():
        _legs(group, nodes, book)
        leaves = [leaf for node in group for leaf in rising[node.id].leaves]
        if len(group) == 1 or not leaves or not book.shares_neutrals:
            continue
        system = nodes[group[0].id].system
        lagging = total([leaf.lagging for leaf in leaves], system)
        level = total([leaf.level for leaf in leaves], system)
        whole = sum(leaf.connected.va for leaf in leaves)
        nonlinear = sum(leaf.nonlinear * leaf.connected.va for leaf in leaves) / whole if whole else 0.0
        for node in group:
            rising[node.id].drawn.shared = Shared(Flow(lagging, level, {}), nonlinear)
            solved = nodes[node.id]
            solved.neutral_a = abs(sum(lagging.values(), 0j))
        _said(group, nodes, lagging, level, system, book)


def _legs(group: Sequence[Node], nodes: Mapping[str, NodeSolution], book: Book) -> None:
    """Circuits of one neutral on one leg load it with their sum; some books allow no sharing at all."""
    others: list[Node] = []
    for node in group:
        legs, solved = nodes[node.id].legs, nodes[node.id]
        clash = next((other for other in others if set(nodes[other.id].legs) & set(legs)), None)
        if others and not book.shares_neutrals:
            message = Message(
                "Shares its neutral with {other}: each final circuit has its own.", other=_named(others[0])
            )
            mend = Message("Give each circuit a neutral of its own, or make them one circuit with one device.")
            solved.findings.append(
                Finding(Severity.STOP, "neutral.shared", message, book.shared_neutral_rule, node.id, mend)
            )
        elif clash:
            leg = next(leg for leg in legs if leg in nodes[clash.id].legs)
            message = Message(
                "Shares its neutral with {other} on the same leg, {leg}: it carries both.", other=_named(clash), leg=leg
            )
            mend = Message("Move one of them to another leg.")
            solved.findings.append(
                Finding(Severity.STOP, "neutral.shared_on_one_leg", message, book.shared_neutral_rule, node.id, mend)
            )
        others.append(node)


def _said(
    group: Sequence[Node],
    nodes: Mapping[str, NodeSolution],
    lagging: Currents,
    level: Currents,
    system: System,
    book: Book,
) -> None:
    """Say of a shared neutral, at its first circuit, what opens with it and what its loss does to what hangs on it."""
    first, rule = nodes[group[0].id], book.shared_neutral_rule
    carries = Figure(abs(sum(lagging.values(), 0j)), "A", 1)
    message = Message(
        "One neutral for {names}, {amps} while all run: one handle opens them all.",
        names=[_named(node) for node in group],
        amps=carries,
    )
    first.findings.append(Finding(Severity.NOTE, "neutral.opened_together", message, rule, group[0].id))
    lost = lost_volts(level, system)
    if not lost:
        return
    low, high = min(lost.values()), max(lost.values())
    message = Message(
        "Were that neutral lost, {low} and {high} would stand on its loads.",
        low=Figure(low, "V"),
        high=Figure(high, "V"),
    )
    mend = Message("Joined by a splice, never through a device's terminals.")
    first.findings.append(Finding(Severity.NOTE, "neutral.lost", message, rule, group[0].id, mend))


def lost_volts(level: Currents, system: System) -> dict[str, float]:
    """Return the volts on the loads of each leg with the neutral open, each load an impedance [V]; none for one leg."""
    volts, nominal = system.phasors(), system.line_to_neutral_v
    loaded = {leg: abs(amps) for leg, amps in level.items() if abs(amps) > 0}
    if not nominal or len(loaded) == 1 or not loaded:
        return {}
    # Where the legs' impedances meet there is no current out: their volts, weighted by their admittances.
    star = sum(volts[leg] * amps for leg, amps in loaded.items()) / sum(loaded.values())
    return {leg: abs(volts[leg] - star) for leg in loaded}


def one_size(circuits: Sequence[NodeSolution], book: Book) -> None:
    """Give circuits that share a neutral one neutral, as large as the largest of their lines; tell unlike devices."""
    for group in groups_of([each.node for each in circuits]).values():
        mine = [each for each in circuits if each.node in group and each.design]
        designs = [each.design for each in mine if each.design]
        if len(designs) < 2 or not book.shares_neutrals:  # noqa: PLR2004
            continue
        largest = max((design.choice.size for design in designs), key=book.area_mm2)
        for each in mine:
            if each.design:
                each.design = replace(each.design, neutral=largest)
                _alone(each, each.design, book)
        devices = {design.choice.device_a for design in designs}
        if not exceeds(max(devices), min(devices)):
            continue
        message = Message(
            "Unlike devices on one neutral: every conductor, the neutral too, suits the larger, {most}.",
            most=Figure(max(devices), "A"),
        )
        mend = Message("Take like devices with a common trip, and conductors of one size.")
        for each in mine:
            rule, where = book.shared_neutral_rule, each.node.id
            each.findings.append(Finding(Severity.WARN, "neutral.unlike_devices", message, rule, where, mend))


def _alone(solved: NodeSolution, design: RunDesign, book: Book) -> None:
    """Tell a circuit whose drop is within its limit only while the others on its neutral run."""
    drop, run = design.drop, design.run
    if drop is None or len(solved.legs) > 1 or exceeds(drop.percent, drop.limit.percent):
        return
    percent = book.drop_v(run, design.choice, off()) / run.volts * 100
    if not exceeds(percent, drop.limit.percent):
        return
    message = Message(
        "While the others on its neutral are off it loses {percent}, over {limit}.",
        percent=Figure(percent, "%", 2),
        limit=Figure(drop.limit.percent, "%", 2),
    )
    mend = Message("Take a larger size from the options, or shorten the run.")
    solved.findings.append(Finding(Severity.WARN, "drop.alone_over_limit", message, drop.limit.rule, "length", mend))


def _named(node: Node) -> str:
    return node.name or node.id
