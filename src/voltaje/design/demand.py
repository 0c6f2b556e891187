"""Demand upward: what every node is connected to, what of it counts, and what it passes on to what feeds it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from voltaje.books.answers import BoardDemand, BoardFacts, Connected, NeutralLoad
from voltaje.books.questions import Book, Demands, Dwellings, Motors
from voltaje.design import checks, show
from voltaje.design.currents import amps_of, flow_of, needs_of, neutral_a, neutral_load, nonlinear_share, sets_together
from voltaje.design.leaves import Drawn, Flow, Leaf, Rising
from voltaje.design.solution import NodeSolution
from voltaje.errors import InputError, OutsideTable, Refused
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.model import Job, LoadSpec, Node, TransformerSpec
from voltaje.physics.currents import Currents, Placed, leg_currents, total
from voltaje.physics.transformers import Connection, connection, reflected
from voltaje.systems import System

VA_OF_AMPS_1 = Formula("amps * volts * count")
VA_OF_AMPS_3 = Formula("sqrt(3) * amps * volts * count")
VA_OF_WATTS = Formula("watts / power_factor * count")

_CONNECTED = Message("Connected load")
_THREE_PHASE = 3
BY_AREA = "by_area"


class Upward:
    """Works the demand of a job's nodes, children before parents."""

    def __init__(self, job: Job, book: Book, nodes: dict[str, NodeSolution], children: dict[str, list[Node]]):
        self.book, self.nodes, self.children = book, nodes, children
        # A dwelling whose sheet says nothing of its terminals has those of the job, where that says anything.
        self.marked = {"terminals": job.terminals.value} if job.raw.get("terminals") else {}
        self.demands = book.asked(Demands)
        self.rising: dict[str, Rising] = {}
        self.running: list[show.Running] = []  # of the node whose steps are written

    def work(self, node: Node) -> None:
        """Fill in a node's connected load, demand, currents and the findings about them."""
        solved = self.nodes[node.id]
        self.rising[node.id] = Rising()
        with solved.sheet.section("demand"):
            if node.load is not None:
                self._load(node, node.load, solved)
            elif node.dwelling is not None:
                self._dwelling(node, node.dwelling, solved)
            else:
                self._board(node, solved)
        if solved.sheet.on:
            show.current(solved, self.running, self.book)

    # A board, a source, a transformer

    def _board(self, node: Node, solved: NodeSolution) -> None:
        mine, rises = self.rising[node.id], [self.rising[child.id] for child in self.children[node.id]]
        below = [leaf for rise in rises for leaf in rise.leaves]
        system, legs = self._beneath(node, solved)
        demand = self._demand(node, solved, below, system, legs)
        solved.connected_va = sum(leaf.entered_va for leaf in below)
        pinned = node.run.pins.demand_va
        solved.demand_va = pinned or demand.demand_va
        checks.pinned_demand(node, demand.demand_va, solved, self.book)
        checks.shared_neutrals(self.children[node.id], self.nodes, self.book)
        checks.ways(node, self.children[node.id], self.nodes, self.book)
        checks.unknown_below(node, rises, mine, solved)
        below, factors = self._with_area(node, below, demand, system, legs)
        scale = pinned / demand.demand_va if pinned and demand.demand_va else 1.0
        if pinned and not demand.demand_va:
            spread = _over(pinned, system, legs)
            below, factors = [_lump(node, pinned, Flow(spread, spread, {}), {}, 0.0, pinned)], [1.0]
        shares = [factor * scale for factor in factors]
        alternatives = {key: factor * scale for key, factor in demand.alternatives.items()}
        sets = sets_together(below, shares, alternatives, legs)
        flows = [flow_of(below, each, demand.continuous, system) for each in sets]
        mine.drawn = drawn = Drawn(flows)
        if solved.sheet.on and not node.transformer:
            self.running = show.running(flows, below, sets, demand.continuous)
        drawn.nonlinear_share = nonlinear_share(below)
        mine.back = self._back(rises)
        if node.transformer:
            self._transformer(node, node.transformer, solved, flows, system)
            return
        drawn.neutral = neutral_load(below, sets, flows, system, legs)
        self._fill(solved, drawn, legs)
        checks.against_largest(node, solved, [self.nodes[child.id] for child in self.children[node.id]])
        mine.leaves = self._upward(node, solved, below, factors, demand, pinned, scale)

    def _beneath(self, node: Node, solved: NodeSolution) -> tuple[System, tuple[str, ...]]:
        """Return the system that a node feeds, and the legs of it."""
        if node.transformer:
            secondary = node.transformer.secondary
            return secondary, tuple(leg for leg, _angle in secondary.legs)
        return solved.system, solved.legs

    def _demand(
        self, node: Node, solved: NodeSolution, below: list[Leaf], system: System, legs: tuple[str, ...]
    ) -> BoardDemand:
        # A board on two legs of three is a single-phase one.
        phases = system.phases if len(legs) == _THREE_PHASE else 1
        facts = BoardFacts(node.board, phases, bool(system.line_to_neutral_v))
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
        va = demand.by_area_va
        connected = Connected(f"{node.id}/{BY_AREA}", LoadKind.GENERAL.value, va, settled=True)
        drawn = _over(va, system, legs)
        to_neutral = {leg: abs(amps) for leg, amps in drawn.items()} if system.line_to_neutral_v else {}
        continuous = demand.continuous.get(BY_AREA, 0.0)
        area = Leaf(node, connected, drawn, drawn, continuous, None, to_neutral, to_neutral, 0.0, va)
        return [*below, area], [*factors, 1.0]

    def _fill(self, solved: NodeSolution, drawn: Drawn, legs: tuple[str, ...]) -> None:
        legs = tuple(leg for leg, _angle in solved.system.legs if leg in legs)
        solved.amps = amps_of(drawn.flows, legs)
        solved.neutral_a = neutral_a(drawn.flows) if solved.system.line_to_neutral_v else 0.0
        drawn.needs = needs_of(drawn.flows, legs, self.book.terms.continuous_factor)

    def _upward(
        self, node: Node, solved: NodeSolution, below: list[Leaf], factors: list[float], demand: BoardDemand,
        pinned: float | None, scale: float,
    ) -> list[Leaf]:  # fmt: skip
        """Return what the boards above see of a board: its loads, or what was pinned in their place."""
        if self.book.terms.demand_cascades:
            kept = [
                demand.alternatives.get(leaf.connected.id, factor) for leaf, factor in zip(below, factors, strict=True)
            ]
            return [_reduced(leaf, factor * scale) for leaf, factor in zip(below, kept, strict=True)]
        if pinned:
            neutral = self.rising[node.id].drawn.neutral
            to_neutral = dict.fromkeys(solved.legs, neutral.amps) if neutral else {}
            return self._lumps(node, solved, to_neutral)
        continuous = demand.continuous
        settled = demand.settled
        if not continuous and not settled:
            return below
        return [
            _settled(leaf, demand.factors[leaf.connected.id])
            if leaf.connected.id in settled
            else leaf._replace(continuous=continuous.get(leaf.connected.id, leaf.continuous))
            for leaf in below
        ]

    def _lumps(self, node: Node, solved: NodeSolution, to_neutral: dict[str, float]) -> list[Leaf]:
        """Return one leaf for each set of loads that run together, as loads that exclude each other."""
        drawn = self.rising[node.id].drawn
        found = []
        for at, flow in enumerate(drawn.flows):
            entered = solved.connected_va if at == 0 else 0.0
            lump = _lump(node, solved.demand_va, flow, to_neutral, drawn.nonlinear_share, entered)
            if len(drawn.flows) > 1:
                connected = replace(lump.connected, id=f"{node.id}/{at}", group=f"{node.id}/together")
                lump = lump._replace(connected=connected)
            found.append(lump)
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
        joined = connection(spec.connection, secondary)
        checks.connection(node, spec, joined, solved)
        taken = joined or connection("", secondary)
        checks.loading(node, spec, solved, flows, secondary)

        def primary(currents: Currents) -> Currents:
            return reflected(currents, secondary, solved.system, solved.legs, taken or Connection("D", "Y", 1))

        mine.drawn.flows = [_through(flow, primary) for flow in flows]
        if mine.back:
            angles = secondary.phasors()
            shares = {leg: amps * angles[leg] / abs(angles[leg]) for leg, amps in mine.back.items()}
            mine.back = {leg: abs(amps) for leg, amps in primary(shares).items()}
        self._fill(solved, mine.drawn, solved.legs)
        alone = len(solved.legs) == 1
        mine.leaves = self._lumps(node, solved, dict(solved.amps) if alone else {})

    # A load

    def _load(self, node: Node, load: LoadSpec, solved: NodeSolution) -> None:
        mine, kind = self.rising[node.id], load.counts_as.value
        rules = self.demands.load_rules(kind, load.continuous)
        checks.continuous_by_rule(node, load, rules, solved)
        try:
            va = self._load_va(load, solved)
            own = load.household and load.count == 1
            counts = self.demands.branch_va(kind, va, solved.sheet) if own else va
        except Refused as error:
            checks.not_known(node, solved, error.at("load.rating"))
            mine.unknown = [node.name or node.id]
            return
        pinned = node.run.pins.demand_va
        checks.pinned_demand(node, counts, solved, self.book)
        solved.connected_va, solved.demand_va = va, pinned or counts
        solved.least_device_a = self.demands.least_device_a(kind, va / load.count) if load.household else 0.0
        lagging, level = _lagging_and_level(Placed(solved.demand_va, load.power_factor, solved.legs), solved.system)
        amps, share = abs(level[solved.legs[0]]), rules.circuit_continuous  # every leg of a load carries the same
        solved.amps = {leg: amps for leg, _angle in solved.system.legs if leg in level}
        solved.neutral_a = amps if len(level) == 1 and solved.system.line_to_neutral_v else 0.0
        mine.drawn = Drawn(needs=dict.fromkeys(solved.amps, (amps, amps * share)))
        mine.drawn.installed_factor, mine.drawn.nonlinear_share = rules.installed_factor, load.nonlinear
        mine.drawn.neutral = self._own_neutral(load, kind, solved)
        checks.volts(node, load, solved)
        checks.on_one_circuit(node, load, solved, self.book)
        if node.kind is Kind.INVERTER:
            # An inverter feeds back: it is no load of the board, nor may it make the others smaller.
            mine.back = dict(solved.amps)
            return
        if counts != va and not pinned:
            lagging, level = _lagging_and_level(Placed(va, load.power_factor, solved.legs), solved.system)
        leaf = self._leaf(node, load, solved, lagging, level)
        mine.leaves = [leaf._replace(continuous=rules.feeder_continuous)]

    def _leaf(self, node: Node, load: LoadSpec, solved: NodeSolution, lagging: Currents, level: Currents) -> Leaf:
        """Return a load as the boards above see it, at its nameplate or its pin."""
        pinned, kind = node.run.pins.demand_va, load.counts_as.value
        va = pinned or solved.connected_va
        connected = Connected(
            node.id,
            kind,
            va,
            load.count,
            f"{node.parent}/{load.group}" if load.group else "",
            1.0 if pinned else load.diversity,
            abs(level[solved.legs[0]]) / load.count,
            load.household,
            settled=bool(pinned),
        )
        share = full = 1.0
        if len(solved.legs) > 1:
            share, full = self.demands.neutral_share(kind, load.household, reducible=not solved.system.wye_legs)
        to_neutral = {leg: abs(amps) * share for leg, amps in level.items()} if share else {}
        whole = to_neutral if full == share else {leg: abs(amps) * full for leg, amps in level.items()}
        entered_va = solved.connected_va
        return Leaf(node, connected, lagging, level, 0.0, None, to_neutral, whole, load.nonlinear, entered_va)

    def _own_neutral(self, load: LoadSpec, kind: str, solved: NodeSolution) -> NeutralLoad | None:
        """Return the neutral of a circuit between lines, as household ranges and dryers have one."""
        if not load.household or len(solved.legs) == 1 or not solved.system.line_to_neutral_v:
            return None
        return self.demands.branch_neutral(
            kind, max(solved.amps.values()), reducible=not solved.system.is_wye_pair(solved.legs)
        )

    def _load_va(self, load: LoadSpec, solved: NodeSolution) -> float:
        rating, sheet, rule = load.rating, solved.sheet, self.book.load_rule
        if rating.unit == "VA":
            factor = load.power_factor if rating.is_watts else 1.0
            values = {"watts": rating.value, "power_factor": factor, "count": load.count}
            return sheet.apply(VA_OF_WATTS, _CONNECTED, "VA", rule, None, **values)
        amps = rating.value
        if rating.unit == "hp":
            amps = self.book.asked(Motors).amps(rating.value, load.phases, solved.nominal_v, "rating")
        formula = VA_OF_AMPS_3 if load.phases == _THREE_PHASE else VA_OF_AMPS_1
        return sheet.apply(formula, _CONNECTED, "VA", rule, None, amps=amps, volts=solved.nominal_v, count=load.count)

    # A dwelling

    def _dwelling(self, node: Node, dwelling: dict[str, Any], solved: NodeSolution) -> None:
        mine = self.rising[node.id]
        raw = {**self.marked, **dwelling}
        try:
            house = self.book.asked(Dwellings).on_path(raw, solved.system, solved.legs, solved.sheet)
        except Refused as error:
            if isinstance(error, InputError) and error.field and not isinstance(error, OutsideTable):
                raise error.at(f"{node.id}.dwelling.{error.field}") from error  # what is written there is no house
            checks.not_known(node, solved, error.at(f"dwelling.{error.field}".rstrip(".")))
            mine.unknown = [node.name or node.id]
            return
        solved.findings.extend(replace(each, field=each.field or node.id) for each in house.findings)
        solved.connected_va, solved.least_device_a = house.connected_va, house.least_device_a
        checks.pinned_demand(node, house.demand_va, solved, self.book)
        pinned = node.run.pins.demand_va
        solved.demand_va = pinned or house.demand_va
        drawn = leg_currents(Placed(solved.demand_va, 1.0, solved.legs), solved.system)
        share = min(house.continuous_va / solved.demand_va, 1.0) if solved.demand_va else 0.0
        steady = {leg: amps * share for leg, amps in drawn.items()}
        neutral = NeutralLoad(house.neutral_a, reducible=False)  # already reduced
        mine.drawn = Drawn([Flow(drawn, drawn, steady)], neutral=neutral, dwelling=house)
        self._fill(solved, mine.drawn, solved.legs)
        if house.amps is not None and house.demand_va:
            solved.amps = dict.fromkeys(solved.legs, house.amps * solved.demand_va / house.demand_va)
            mine.drawn.needs = {leg: (amps, amps * share) for leg, amps in solved.amps.items()}
        solved.neutral_a = house.neutral_a
        connected = Connected(node.id, Kind.DWELLING.value, solved.demand_va, house=house.house)
        if pinned:
            connected = Connected(node.id, LoadKind.GENERAL.value, pinned, settled=True)
        to_neutral = dict.fromkeys(solved.legs, house.neutral_a)
        mine.leaves = [
            Leaf(node, connected, drawn, drawn, share, None, to_neutral, to_neutral, 0.0, house.connected_va)
        ]


def _lagging_and_level(placed: Placed, system: System) -> tuple[Currents, Currents]:
    lagging = leg_currents(placed, system)
    return lagging, lagging if placed.power_factor == 1 else leg_currents(placed._replace(power_factor=1.0), system)


def _through(flow: Flow, primary: Callable[[Currents], Currents]) -> Flow:
    """Return a flow on the other side of a transformer."""
    level = primary(flow.level)
    return Flow(level if flow.lagging is flow.level else primary(flow.lagging), level, primary(flow.steady))


def _over(va: float, system: System, legs: tuple[str, ...]) -> Currents:
    """Return the current of a load that is spread evenly over legs: to neutral where the system has one."""
    low = tuple(leg for leg in legs if leg != system.high_leg)
    if not system.line_to_neutral_v or (len(legs) == _THREE_PHASE and not system.high_leg):
        return leg_currents(Placed(va, 1.0, legs), system)
    each = [leg_currents(Placed(va / len(low), 1.0, (leg,)), system) for leg in low]
    return {leg: amps for leg, amps in total(each, system).items() if leg in legs}


def _lump(node: Node, va: float, flow: Flow, to_neutral: dict[str, float], nonlinear: float, entered_va: float) -> Leaf:
    """Return a leaf that stands for a node as a whole: what it draws counts in full in everything above it."""
    amps = max((abs(each) for each in flow.level.values()), default=0.0)
    connected = Connected(node.id, LoadKind.GENERAL.value, va, amps=amps, settled=True)
    return Leaf(
        node, connected, flow.lagging, flow.level, 0.0, flow.steady, to_neutral, to_neutral, nonlinear, entered_va
    )


def _reduced(leaf: Leaf, factor: float) -> Leaf:
    """Return a load as a board further up sees it, where demand cascades."""
    connected = replace(leaf.connected, va=leaf.connected.va * factor, diversity=1.0)
    return _scaled(leaf, factor)._replace(connected=connected)


def _settled(leaf: Leaf, factor: float) -> Leaf:
    """Return a load whose demand is settled by a board: the boards above do not reduce it again."""
    connected = replace(leaf.connected, va=leaf.connected.va * factor, settled=True)
    return _scaled(leaf, factor)._replace(connected=connected)


def _scaled(leaf: Leaf, factor: float) -> Leaf:
    if factor == 1:
        return leaf
    level = {leg: amps * factor for leg, amps in leaf.level.items()}
    return leaf._replace(
        lagging=level if leaf.lagging is leaf.level else {leg: amps * factor for leg, amps in leaf.lagging.items()},
        level=level,
        steady=None if leaf.steady is None else {leg: amps * factor for leg, amps in leaf.steady.items()},
        to_neutral={leg: amps * factor for leg, amps in leaf.to_neutral.items()},
        to_neutral_full={leg: amps * factor for leg, amps in leaf.to_neutral_full.items()},
    )
