"""Demand upward: what every node is connected to, what of it counts, and what it passes on to what feeds it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from voltaje.books.answers import AreaBelow, BoardDemand, BoardFacts, Connected
from voltaje.books.questions import Book, Demands
from voltaje.design import checks, houses, neutrals, shared_neutrals, show
from voltaje.design.currents import fill, flow_of, neutral_load, nonlinear_share, sets_together
from voltaje.design.leaves import Drawn, Flow, Leaf, Rising, lump, reduced, spread
from voltaje.design.loads import Loads
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers import checks as transformer_checks
from voltaje.design.transformers.on_path import measured
from voltaje.errors import Refused
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.path.kinds import EMPTY, LoadKind
from voltaje.path.model import Job, Node
from voltaje.path.transformer import TransformerSpec
from voltaje.physics.currents import Currents
from voltaje.physics.reflection import Connection, connection, reflected
from voltaje.systems import THREE_PHASE, System

BY_AREA = "by_area"


class Upward:
    """Works the demand of a job's nodes, children before parents."""

    def __init__(self, job: Job, book: Book, nodes: dict[str, NodeSolution], children: dict[str, list[Node]]):
        self.book, self.nodes, self.children = book, nodes, children
        # A dwelling whose sheet says nothing of its terminals has those of the job, where that says anything.
        self.marked = {"terminals": job.terminals.value} if job.raw.get("terminals") else {}
        self.demands, self.loads = book.asked(Demands), Loads(book)
        self.rising: dict[str, Rising] = {}
        self.running: list[show.Running] = []  # of the node whose steps are written

    def work(self, node: Node) -> None:
        """Fill in a node's connected load, demand, currents and the findings about them."""
        solved = self.nodes[node.id]
        self.rising[node.id] = Rising()
        with solved.sheet.section("demand"):
            if node.load is not None:
                self.rising[node.id] = self.loads.work(node, node.load, solved, self._at_home(node))
            elif node.kind in EMPTY:
                checks.empty(node, solved)
            elif node.dwelling is not None:
                self.rising[node.id] = houses.work(node, {**self.marked, **node.dwelling}, solved, self.book)
            else:
                self._board(node, solved)
        checks.assumed(node, solved)
        if solved.sheet.on:
            show.current(solved, self.running, self.book)

    def _at_home(self, node: Node) -> bool:
        above = self.nodes.get(node.parent or "")
        return bool(above and above.node.board.household)

    # A board, a source, a transformer

    def _board(self, node: Node, solved: NodeSolution) -> None:
        mine, rises = self.rising[node.id], [self.rising[child.id] for child in self.children[node.id]]
        below = [leaf for rise in rises for leaf in rise.leaves]
        system, legs = self._beneath(node, solved)
        below += self._recorded(node, solved, system, legs)
        areas = tuple(area for rise in rises for area in rise.areas)
        facts = self._facts(node, system, legs, areas)
        demand = self._demand(node, solved, below, facts)
        solved.connected_va = sum(leaf.entered_va for leaf in below)
        pinned = node.run.pins.demand_va
        solved.demand_va = pinned or demand.demand_va
        checks.pinned_demand(node, demand.demand_va, solved, self.book)
        shared_neutrals.together(self.children[node.id], self.nodes, self.rising, self.book)
        checks.ways(node, self.children[node.id], self.nodes, self.book)
        checks.unknown_below(node, rises, mine, solved)
        below, factors = self._with_area(node, below, demand, system, legs)
        passed = below
        if demand.sockets_beyond_va:  # the boards above reckon it anew, over all that they feed
            below, factors = [*below, _by_area(node, _SOCKETS, demand.sockets_beyond_va, system, legs)], [*factors, 1.0]
        scale = pinned / demand.demand_va if pinned and demand.demand_va else 1.0
        unlisted = bool(pinned and not demand.demand_va)
        if pinned and unlisted:
            evenly = spread(pinned, system, legs)
            passed = below = [lump(node, pinned, Flow(evenly, evenly, {}), {}, 0.0, pinned)]
            factors = [1.0]
        shares = [factor * scale for factor in factors]
        alternatives = {key: factor * scale for key, factor in demand.alternatives.items()}
        sets = sets_together(below, shares, alternatives, legs)
        flows = [flow_of(below, each, demand.continuous, system) for each in sets]
        mine.drawn = drawn = Drawn(flows)
        if solved.sheet.on and not node.transformer:
            self.running = show.running(flows, below, sets, demand.continuous)
        drawn.nonlinear_share = nonlinear_share(below)
        mine.back = self._back(rises)
        mine.areas, mine.sockets_va = (*areas, *_own_area(node, below, demand)), demand.sockets_va * scale
        if node.transformer:
            self._transformer(node, node.transformer, solved, flows, system)
            return
        drawn.neutral = neutrals.entered(
            node, neutral_load(below, sets, flows, system, legs), unlisted, solved, flows, self.book
        )
        fill(solved, drawn, legs, self.book.terms.continuous_factor)
        neutrals.with_harmonics(solved, drawn.neutral, self.book)
        checks.against_largest(node, solved, [self.nodes[child.id] for child in self.children[node.id]])
        mine.leaves = self._upward(node, solved, passed, factors, demand, pinned, scale)

    def _beneath(self, node: Node, solved: NodeSolution) -> tuple[System, tuple[str, ...]]:
        """Return the system that a node feeds, and the legs of it."""
        if node.transformer:
            secondary = node.transformer.secondary
            return secondary, tuple(leg for leg, _angle in secondary.legs)
        return solved.system, solved.legs

    def _recorded(self, node: Node, solved: NodeSolution, system: System, legs: tuple[str, ...]) -> list[Leaf]:
        """Return a greatest demand as it was metered, in the place of the loads that made it."""
        metered = node.board.recorded_kva
        if metered is None:
            return []
        percent, rule = self.demands.recorded()
        because = Message("in the place of the loads that made it; what is listed comes on top")
        va = solved.sheet.apply(
            RECORDED, Message("Metered demand"), "VA", rule, because, metered=metered, percent=percent
        )
        return [_by_area(node, _METERED, va, system, legs)]

    def _facts(self, node: Node, system: System, legs: tuple[str, ...], areas: tuple[AreaBelow, ...]) -> BoardFacts:
        # A board on two legs of three is a single-phase one.
        phases = system.phases if len(legs) == THREE_PHASE else 1
        return BoardFacts(node.board, phases, bool(system.line_to_neutral_v), areas)

    def _demand(self, node: Node, solved: NodeSolution, below: list[Leaf], facts: BoardFacts) -> BoardDemand:
        loads = [leaf.connected for leaf in below]
        try:
            return self.demands.demand(loads, facts, solved.sheet)
        except Refused as error:
            checks.in_full(node, solved, error)
            return BoardDemand(sum(load.va for load in loads), {load.id: 1.0 for load in loads})

    def _with_area(
        self, node: Node, below: list[Leaf], demand: BoardDemand, system: System, legs: tuple[str, ...]
    ) -> tuple[list[Leaf], list[float]]:
        """Return the leaves and their factors, with the general lighting by area beyond the circuits listed."""
        factors = [demand.factors[leaf.connected.id] for leaf in below]
        if not demand.by_area_va:
            return below, factors
        area = _by_area(node, BY_AREA, demand.by_area_va, system, legs)
        area = area._replace(continuous=demand.continuous.get(BY_AREA, 0.0))
        return [*below, area], [*factors, 1.0]

    def _upward(
        self,
        node: Node,
        solved: NodeSolution,
        below: list[Leaf],
        factors: list[float],
        demand: BoardDemand,
        pinned: float | None,
        scale: float,
    ) -> list[Leaf]:
        """Return what the boards above see of a board: its loads, or what was pinned in their place."""
        if self.book.terms.demand_cascades:
            kept = [
                demand.alternatives.get(leaf.connected.id, factor) for leaf, factor in zip(below, factors, strict=True)
            ]
            return [reduced(leaf, factor * scale) for leaf, factor in zip(below, kept, strict=True)]
        if pinned:
            neutral = self.rising[node.id].drawn.neutral
            to_neutral = dict.fromkeys(solved.legs, neutral.amps) if neutral else {}
            return self._lumps(node, solved, to_neutral)
        continuous = demand.continuous
        if not continuous:
            return below
        return [leaf._replace(continuous=continuous.get(leaf.connected.id, leaf.continuous)) for leaf in below]

    def _lumps(self, node: Node, solved: NodeSolution, to_neutral: dict[str, float]) -> list[Leaf]:
        """Return one leaf for each set of loads that run together, as loads that exclude each other."""
        drawn = self.rising[node.id].drawn
        found = []
        for at, flow in enumerate(drawn.flows):
            entered = solved.connected_va if at == 0 else 0.0
            sockets_va = self.rising[node.id].sockets_va
            one = lump(node, solved.demand_va, flow, to_neutral, drawn.nonlinear_share, entered, sockets_va)
            if len(drawn.flows) > 1:
                connected = replace(one.connected, id=f"{node.id}/{at}", group=f"{node.id}/together")
                one = one._replace(connected=connected)
            found.append(one)
        return found

    def _back(self, rises: list[Rising]) -> dict[str, float]:
        found: dict[str, float] = {}
        for rise in rises:
            for leg, amps in rise.back.items():
                found[leg] = found.get(leg, 0.0) + amps
        return found

    def _transformer(
        self, node: Node, spec: TransformerSpec, solved: NodeSolution, flows: list[Flow], secondary: System
    ) -> None:
        """Reflect what the secondary draws to the lines of the primary, and pass that up."""
        mine = self.rising[node.id]
        measured(solved, spec, flows, self.book)
        made = solved.unit.made if solved.unit else None
        joined = connection(spec.connection, secondary)
        if not made:
            transformer_checks.connection(node, spec, joined, solved)
        taken = joined or connection("", secondary)
        transformer_checks.ungrounded(node, spec, solved, self.book)
        transformer_checks.loading(node, spec, solved, flows, secondary, taken)

        def primary(currents: Currents) -> Currents:
            if made:
                return made.primary(currents, solved.legs)
            return reflected(currents, secondary, solved.system, solved.legs, taken or Connection("D", "Y", 1))

        mine.drawn.flows = [_through(flow, primary) for flow in flows]
        if mine.back:
            angles = secondary.phasors()
            shares = {leg: amps * angles[leg] / abs(angles[leg]) for leg, amps in mine.back.items()}
            mine.back = {leg: abs(amps) for leg, amps in primary(shares).items()}
        fill(solved, mine.drawn, solved.legs, self.book.terms.continuous_factor)
        mine.areas = tuple(area._replace(ids=frozenset[str]()) for area in mine.areas)
        alone = len(solved.legs) == 1
        mine.leaves = self._lumps(node, solved, dict(solved.amps) if alone else {})


_SOCKETS, _METERED = "by_area_receptacles", "metered"
RECORDED = Formula("metered * 1000 * percent / 100")


def _by_area(node: Node, what: str, va: float, system: System, legs: tuple[str, ...]) -> Leaf:
    """Return what counts by a board's area beyond the circuits listed, spread evenly over its legs."""
    connected = Connected(f"{node.id}/{what}", LoadKind.GENERAL.value, va, settled=True)
    drawn = spread(va, system, legs)
    to_neutral = {leg: abs(amps) for leg, amps in drawn.items()} if system.line_to_neutral_v else {}
    return Leaf(node, connected, drawn, drawn, 0.0, None, to_neutral, to_neutral, 0.0, va)


def _own_area(node: Node, below: list[Leaf], demand: BoardDemand) -> list[AreaBelow]:
    """Return a board's own area with the loads that count by it, as the boards above see it."""
    if node.board.area is None:
        return []
    counts = [leaf.connected.id for leaf in below if leaf.connected.kind == LoadKind.LIGHTING]
    ids = frozenset([*counts, f"{node.id}/{BY_AREA}"]) if demand.by_area_va else frozenset[str]()
    return [AreaBelow(node.board.area, ids)]


def _through(flow: Flow, primary: Callable[[Currents], Currents]) -> Flow:
    """Return a flow on the other side of a transformer."""
    level = primary(flow.level)
    return Flow(level if flow.lagging is flow.level else primary(flow.lagging), level, primary(flow.steady))
