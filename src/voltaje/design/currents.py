"""Currents of a node from its loads: each leg, the continuous part of it, the neutral at worst."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.answers import NeutralLoad
from voltaje.design.leaves import Drawn, Flow, Leaf
from voltaje.design.solution import NodeSolution
from voltaje.physics.currents import Currents
from voltaje.systems import THREE_PHASE, System

Legs = tuple[str, ...]


def sets_together(
    leaves: Sequence[Leaf], factors: list[float], alternatives: dict[str, float], legs: Legs
) -> list[list[float]]:
    """Return the factors of the loads for each set of them that may run together [factor].

    First what the demand counts. Then, for each leg, of every group of noncoincident loads the one that draws most
    of that leg: what is smaller in volt-amperes may be larger there.
    """
    groups: dict[str, list[int]] = {}
    for at, leaf in enumerate(leaves):
        if leaf.connected.group:
            groups.setdefault(leaf.connected.group, []).append(at)
    several = [members for members in groups.values() if len(members) > 1]
    found = [factors]
    for leg in legs if several else ():
        mine = list(factors)
        for members in several:
            scale = {at: alternatives.get(leaves[at].connected.id, factors[at]) for at in members}
            drawn = {at: abs(leaves[at].level.get(leg, 0j)) * scale[at] for at in members}
            counted = next((at for at in members if factors[at]), members[0])
            most = max(drawn.values())
            runs = counted if drawn[counted] >= most * (1 - _ALIKE) else max(members, key=lambda at: drawn[at])
            for at in members:
                mine[at] = scale[at] if at == runs else 0.0
        if mine not in found:
            found.append(mine)
    return found


_ALIKE = 1e-9


def flow_of(leaves: Sequence[Leaf], factors: Sequence[float], continuous: dict[str, float], system: System) -> Flow:
    """Return the currents of loads that run together, each with its factor.

    continuous: shares that a rule sets for loads by their id, in place of their own
    """
    legs = [leg for leg, _angle in system.legs]
    lagging, level, steady = dict.fromkeys(legs, 0j), dict.fromkeys(legs, 0j), dict.fromkeys(legs, 0j)
    alike = all(leaf.lagging is leaf.level for leaf in leaves)
    for leaf, factor in zip(leaves, factors, strict=True):
        if not factor:
            continue
        share = continuous.get(leaf.connected.id, leaf.continuous)
        for leg, amps in leaf.level.items():
            scaled = amps * factor
            level[leg] += scaled
            if leaf.steady is None and share:
                steady[leg] += scaled * share
        if leaf.steady is not None:
            _add(steady, leaf.steady, factor)
        if not alike:
            _add(lagging, leaf.lagging, factor)
    return Flow(level if alike else lagging, level, steady)


def _add(total: Currents, more: Currents, factor: float) -> None:
    for leg, amps in more.items():
        total[leg] += amps * factor


def amps_of(flows: Sequence[Flow], legs: Legs) -> dict[str, float]:
    """Return the current of each leg [A]: the most of any flow, lagging or not.

    Rules add volt-amperes as they stand; loads whose lags differ sum to a little less, and to more in the neutral.
    """
    return {leg: max(_most(flow, leg) for flow in flows) for leg in legs}


def _most(flow: Flow, leg: str) -> float:
    return max(abs(flow.lagging.get(leg, 0j)), abs(flow.level.get(leg, 0j)))


def needs_of(flows: Sequence[Flow], legs: Legs, continuous_factor: float) -> dict[str, tuple[float, float]]:
    """Return of each leg the current and its continuous part [A] where the two together ask most of the leg."""
    extra = continuous_factor - 1

    def asked(pair: tuple[float, float]) -> float:
        return pair[0] + extra * pair[1]

    return {leg: max(((_most(flow, leg), abs(flow.steady.get(leg, 0j))) for flow in flows), key=asked) for leg in legs}


def neutral_a(flows: Sequence[Flow]) -> float:
    """Return what the legs leave on the neutral at most [A]."""
    return max(abs(sum(currents.values(), 0j)) for flow in flows for currents in (flow.lagging, flow.level))


def neutral_load(
    leaves: Sequence[Leaf], sets: Sequence[Sequence[float]], flows: Sequence[Flow], system: System, legs: Legs
) -> NeutralLoad | None:
    """Return what a neutral beside the lines has to carry at worst; None where there is none, or it is one of two.

    The most that any leg draws to neutral while the others draw nothing.
    """
    if not system.line_to_neutral_v or len(legs) == 1:
        return None
    reducible = not system.is_wye_pair(legs)
    worst, nonlinear_at_worst, leg_at_worst = 0.0, 0.0, ""
    for factors in sets:
        to_neutral: dict[str, float] = {}
        nonlinear: dict[str, float] = {}
        for leaf, factor in zip(leaves, factors, strict=True):
            for leg, amps in (leaf.to_neutral if reducible else leaf.to_neutral_full).items():
                to_neutral[leg] = to_neutral.get(leg, 0.0) + amps * factor
                nonlinear[leg] = nonlinear.get(leg, 0.0) + amps * factor * leaf.nonlinear
        for leg, amps in to_neutral.items():
            if amps > worst:
                worst, nonlinear_at_worst, leg_at_worst = amps, nonlinear[leg], leg
    of_line = max((_most(flow, leg_at_worst) for flow in flows), default=0.0)
    third = nonlinear_at_worst / of_line if of_line and len(legs) == THREE_PHASE else 0.0
    return NeutralLoad(worst, nonlinear_at_worst, reducible, neutral_a(flows), min(third, 1.0))


def nonlinear_share(leaves: Sequence[Leaf]) -> float:
    """Return what share of loads is nonlinear, by their volt-amperes [share]."""
    whole = sum(leaf.connected.va for leaf in leaves)
    return sum(leaf.connected.va * leaf.nonlinear for leaf in leaves) / whole if whole else 0.0


def fill(solved: NodeSolution, drawn: Drawn, legs: Legs, continuous_factor: float) -> None:
    """Fill in a node's currents and what each leg asks of its run."""
    legs = tuple(leg for leg, _angle in solved.system.legs if leg in legs)
    solved.amps = amps_of(drawn.flows, legs)
    solved.neutral_a = neutral_a(drawn.flows) if solved.system.line_to_neutral_v else 0.0
    drawn.needs = needs_of(drawn.flows, legs, continuous_factor)
