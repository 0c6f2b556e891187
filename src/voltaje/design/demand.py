"""Demand upward: what every node is connected to, what of it counts, and the current of each leg."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, NamedTuple

from voltaje.books.book import BoardDemand, BoardFacts, Book, Connected, NeutralLoad
from voltaje.books.nec.edition import editions
from voltaje.books.nec.house_input import read_house
from voltaje.design.house import solve_house
from voltaje.design.solution import NodeSolution
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.model import Kind, LoadKind, LoadSpec, Node
from voltaje.physics.currents import Currents, Placed, leg_currents, neutral, total
from voltaje.sheet import Finding, Severity
from voltaje.systems import DWELLING_SYSTEMS, System

VA_OF_AMPS_1 = Formula("amps * volts * count")
VA_OF_AMPS_3 = Formula("sqrt(3) * amps * volts * count")
VA_OF_WATTS = Formula("watts / power_factor * count")
AMPS_1 = Formula("va / volts")
AMPS_3 = Formula("va / (sqrt(3) * volts)")
HEAT_AT = Formula("rated_va * (volts / rated_v) * (volts / rated_v)")

_CONNECTED = Message("Connected load")
_THREE_PHASE = 3
_DUST_A = 1e-6
_CLOSE_V = 0.06  # equipment voltages such as 230 V on 240 V lie within 6 % (common practice)
BY_AREA = "by_area"


class Leaf(NamedTuple):
    """A load at the end of the path, as every board above it sees it."""

    node: Node
    connected: Connected
    placed: Placed
    continuous: float
    nonlinear: float
    entered_va: float

    def reduced(self, factor: float) -> Leaf:
        """Return the load as a board further up sees it, where demand cascades."""
        connected = replace(self.connected, va=self.connected.va * factor, diversity=1.0, group="")
        return self._replace(connected=connected, placed=self.placed._replace(va=self.placed.va * factor))


@dataclass(slots=True)
class Drawn:
    """What a node draws beside its amps: continuous part by leg, its neutral at worst, its nonlinear share."""

    continuous: dict[str, float] = field(default_factory=dict)
    neutral: NeutralLoad | None = None
    nonlinear_share: float = 0.0


class Upward:
    """Works the demand of a job's nodes, children before parents."""

    def __init__(self, book: Book, nodes: dict[str, NodeSolution], children: dict[str, list[Node]]):
        self.book, self.nodes, self.children = book, nodes, children
        self.leaves: dict[str, list[Leaf]] = {}
        self.drawn: dict[str, Drawn] = {}

    def work(self, node: Node) -> None:
        """Fill in a node's connected load, demand, currents and the findings about them."""
        solved = self.nodes[node.id]
        self.drawn[node.id] = Drawn()
        with solved.sheet.section("demand"):
            if node.load is not None:
                self._load(node, node.load, solved)
            elif node.dwelling is not None:
                self._dwelling(node, node.dwelling, solved)
            else:
                self._board(node, solved)
        if solved.sheet.on and solved.amps:
            self._show_current(solved)

    # A board, a source, a transformer

    def _board(self, node: Node, solved: NodeSolution) -> None:
        below = [leaf for child in self.children[node.id] for leaf in self.leaves[child.id]]
        system = node.transformer.secondary if node.transformer else solved.system
        # A board on two legs of three is a single-phase one.
        phases = system.phases if node.transformer or len(solved.legs) == _THREE_PHASE else 1
        facts = BoardFacts(node.board, phases, bool(system.line_to_neutral_v))
        try:
            demand = self.book.demand([leaf.connected for leaf in below], facts, solved.sheet)
        except InputError as error:
            raise error.at(f"{node.id}.{error.field}") from error
        solved.connected_va = sum(leaf.entered_va for leaf in below)
        solved.demand_va = node.run.pins.demand_va or demand.demand_va
        self._pinned_demand(node, demand.demand_va, solved)
        self._shared_neutrals(node)
        factors = [demand.factors[leaf.connected.id] for leaf in below]
        if demand.by_area_va:
            below.append(self._by_area(node, solved, demand))
            factors.append(1.0)
        if node.transformer:
            # The primary sees a balanced load of the secondary's demand.
            balanced = Placed(solved.demand_va, 1.0, solved.legs)
            connected = Connected(node.id, LoadKind.GENERAL.value, solved.demand_va)
            self.leaves[node.id] = [Leaf(node, connected, balanced, 0.0, 0.0, solved.connected_va)]
            self._draw(solved, [leg_currents(balanced, solved.system)])
            return
        scale = solved.demand_va / demand.demand_va if demand.demand_va else 1.0
        cascades = self.book.terms.demand_cascades
        self.leaves[node.id] = [leaf.reduced(f) for leaf, f in zip(below, factors, strict=True)] if cascades else below
        shares = [factor * scale for factor in factors]
        drawn = [_scaled(leg_currents(leaf.placed, system), f) for leaf, f in zip(below, shares, strict=True)]
        level = None
        if any(leaf.placed.power_factor != 1 for leaf in below):
            placed = [leaf.placed._replace(power_factor=1.0) for leaf in below]
            level = [_scaled(leg_currents(each, system), f) for each, f in zip(placed, shares, strict=True)]
        self._draw(solved, drawn, level)
        self._beside(node, system, below, level or drawn, demand.continuous)
        self._check_against_largest(node, solved)

    def _by_area(self, node: Node, solved: NodeSolution, demand: BoardDemand) -> Leaf:
        """Return the general lighting by area beyond the circuits listed, spread over the board's legs."""
        connected = Connected(f"{node.id}/{BY_AREA}", LoadKind.GENERAL.value, demand.by_area_va)
        continuous = demand.continuous.get(BY_AREA, 0.0)
        return Leaf(node, connected, Placed(demand.by_area_va, 1.0, solved.legs), continuous, 0.0, demand.by_area_va)

    def _beside(
        self, node: Node, system: System, below: list[Leaf], drawn: list[Currents], continuous: dict[str, float]
    ) -> None:
        """Work out the continuous part of each leg, and the greatest load of one leg to neutral."""
        mine = self.drawn[node.id]
        shares = [continuous.get(leaf.connected.id, leaf.continuous) for leaf in below]
        summed = total([_scaled(amps, share) for amps, share in zip(drawn, shares, strict=True) if share], system)
        mine.continuous = {leg: abs(amps) for leg, amps in summed.items()}
        whole = sum(leaf.placed.va for leaf in below)
        mine.nonlinear_share = sum(leaf.placed.va * leaf.nonlinear for leaf in below) / whole if whole else 0.0
        if not system.line_to_neutral_v or len(self.nodes[node.id].legs) == 1:
            return
        to_neutral: dict[str, float] = {}
        nonlinear: dict[str, float] = {}
        for leaf, amps in zip(below, drawn, strict=True):
            for leg, share in self._to_neutral(leaf, amps, system).items():
                to_neutral[leg] = to_neutral.get(leg, 0.0) + share
                nonlinear[leg] = nonlinear.get(leg, 0.0) + share * leaf.nonlinear
        worst = max(to_neutral, key=lambda leg: to_neutral[leg], default="")
        amps_at_worst, nonlinear_a = to_neutral.get(worst, 0.0), nonlinear.get(worst, 0.0)
        mine.neutral = NeutralLoad(amps_at_worst, nonlinear_a, reducible=not system.wye_legs)

    def _to_neutral(self, leaf: Leaf, amps: Currents, system: System) -> dict[str, float]:
        """Return what a load puts on the neutral from each leg [A].

        All of a load to neutral and of lighting by area, the book's share of a range or dryer, of a dwelling
        what its own neutral carries.
        """
        if leaf.node.kind is Kind.DWELLING:
            own = self.drawn[leaf.node.id].neutral
            return dict.fromkeys(leaf.placed.legs, own.amps if own else 0.0)
        by_area = leaf.connected.id.endswith(f"/{BY_AREA}")
        if by_area or len(leaf.placed.legs) == 1:
            return {leg: abs(amps[leg]) for leg in leaf.placed.legs}
        share = self.book.neutral_share(leaf.connected.kind, system)
        return {leg: abs(amps[leg]) * share for leg in leaf.placed.legs} if share else {}

    def _shared_neutrals(self, node: Node) -> None:
        """Two circuits that share a neutral on one leg load it with their sum."""
        seen: dict[tuple[str, str], str] = {}
        for child in self.children[node.id]:
            if not child.load or not child.load.neutral_group:
                continue
            for leg in self.nodes[child.id].legs:
                key = (child.load.neutral_group, leg)
                if key in seen:
                    message = Message(
                        "Shares its neutral with {other} on the same leg, {leg}: it carries both.",
                        other=seen[key],
                        leg=leg,
                    )
                    mend = Message("Move one of them to another leg.")
                    rule = self.book.shared_neutral_rule
                    self.nodes[child.id].findings.append(Finding(Severity.STOP, message, rule, child.id, mend))
                seen[key] = child.name or child.id

    def _check_against_largest(self, node: Node, solved: NodeSolution) -> None:
        """A diversity that leaves a board with less than its largest circuit is worth a look."""
        if node.board.diversity == 1:
            return
        most, demand = 0.0, max(solved.amps.values(), default=0.0)
        for child in self.children[node.id]:
            most = max(most, *self.nodes[child.id].amps.values()) if self.nodes[child.id].amps else most
        if most > demand + _DUST_A:
            message = Message(
                "With its diversity the board draws {demand}, less than its largest circuit, {most}.",
                demand=Figure(demand, "A", 1),
                most=Figure(most, "A", 1),
            )
            mend = Message("Raise the diversity that was entered.")
            solved.findings.append(Finding(Severity.WARN, message, None, node.id, mend))

    def _pinned_demand(self, node: Node, worked_va: float, solved: NodeSolution) -> None:
        pinned = node.run.pins.demand_va
        if pinned is None:
            return
        with solved.sheet.section("demand"):
            solved.sheet.read(pinned, Message("Demand, pinned"), "VA", self.book.load_rule)
        if pinned < worked_va - _DUST_A:
            message = Message(
                "The demand is pinned at {pinned}, under {worked} by the rules.",
                pinned=Figure(pinned, "VA"),
                worked=Figure(worked_va, "VA"),
            )
            mend = Message("Take the pin away, or say in its reason what measurement it rests on.")
            solved.findings.append(Finding(Severity.WARN, message, None, node.id, mend))

    def _draw(self, solved: NodeSolution, drawn: list[Currents], level: list[Currents] | None = None) -> None:
        """Fill in the currents of a node: of each leg and the neutral the greater of two sums.

        drawn: each load's current with its own lag; level: the same as if none lagged. Rules add volt-amperes as they
        stand; loads whose lags differ sum to a little less, and to more in the neutral.
        """
        sums = [total(each, solved.system) for each in (drawn, level) if each is not None]
        solved.amps = {leg: max(abs(each[leg]) for each in sums) for leg in sums[0] if leg in solved.legs}
        solved.neutral_a = max(neutral(each) for each in sums) if solved.system.line_to_neutral_v else 0.0

    def _show_current(self, solved: NodeSolution) -> None:
        """Write the step of the current, where one formula gives it: a load balanced over its legs."""
        amps = max(solved.amps.values())
        formula = AMPS_3 if len(solved.legs) == _THREE_PHASE else AMPS_1
        values = {"va": solved.demand_va, "volts": solved.nominal_v}
        with solved.sheet.section("current"):
            if abs(formula.value(**values) - amps) <= _DUST_A * max(amps, 1.0):
                label = Message("Current of each line")
                solved.sheet.apply(formula, label, "A", self.book.load_rule, None, **values)
            else:
                for leg, each in solved.amps.items():
                    because = Message("the loads on it, added as phasors")
                    solved.sheet.read(each, Message("{leg}", leg=leg), "A", self.book.load_rule, because)

    # A load

    def _load(self, node: Node, load: LoadSpec, solved: NodeSolution) -> None:
        sheet = solved.sheet
        va = self._load_va(node, load, solved)
        one = va / load.count
        if load.kind in (LoadKind.RANGE, LoadKind.DRYER) and load.count == 1:
            try:
                counts = self.book.branch_va(load.kind.value, va, sheet)
            except InputError as error:
                raise error.at(f"{node.id}.{error.field}") from error
        else:
            counts = va
        pinned = node.run.pins.demand_va
        if pinned is not None:
            self._pinned_demand(node, counts, solved)
        connected = Connected(
            node.id, load.kind.value, pinned or va, load.count, load.group, load.diversity, load.continuous
        )
        placed = Placed(pinned or counts, load.power_factor, solved.legs)
        nameplate = placed if counts == va else Placed(pinned or va, load.power_factor, solved.legs)
        leaf = Leaf(node, connected, nameplate, load.continuous, load.nonlinear, va)
        # An inverter feeds back: it is no load of the board, nor may it make the others smaller.
        self.leaves[node.id] = [] if node.kind is Kind.INVERTER else [leaf]
        solved.connected_va, solved.demand_va = va, placed.va
        solved.least_device_a = self.book.least_device_a(load.kind.value, one)
        self._draw(solved, [leg_currents(placed, solved.system)])
        mine = self.drawn[node.id]
        mine.continuous = {leg: amps * load.continuous for leg, amps in solved.amps.items()}
        mine.nonlinear_share = load.nonlinear
        self._check_volts(node, load, solved)

    def _check_volts(self, node: Node, load: LoadSpec, solved: NodeSolution) -> None:
        """Equipment made for another voltage than the one it gets."""
        if load.volts is None or abs(load.volts - solved.nominal_v) <= _CLOSE_V * load.volts:
            return
        message = Message(
            "Rated {rated}, on {volts}.", rated=Figure(load.volts, "V"), volts=Figure(solved.nominal_v, "V")
        )
        low = solved.nominal_v < load.volts
        if load.kind is LoadKind.HEATING and low:
            share = HEAT_AT.value(rated_va=100.0, volts=solved.nominal_v, rated_v=load.volts)
            message = Message(
                "Rated {rated}, on {volts}: it heats with {share} of its rating.",
                rated=Figure(load.volts, "V"), volts=Figure(solved.nominal_v, "V"), share=Figure(share, "%"),
            )  # fmt: skip
        mend = Message("Boost the voltage with a transformer, or take equipment made for this supply.")
        severity = Severity.WARN if low else Severity.STOP
        solved.findings.append(Finding(severity, message, None, node.id, mend))

    def _load_va(self, node: Node, load: LoadSpec, solved: NodeSolution) -> float:
        rating, sheet, rule = load.rating, solved.sheet, self.book.load_rule
        label = _CONNECTED
        if rating.unit == "VA":
            factor = load.power_factor if rating.is_watts else 1.0
            values = {"watts": rating.value, "power_factor": factor, "count": load.count}
            return sheet.apply(VA_OF_WATTS, label, "VA", rule, None, **values)
        amps = rating.value
        field = f"{node.id}.load.rating"
        if rating.unit == "hp":
            amps = self.book.motor_amps(rating.value, load.phases, solved.nominal_v, field)
        formula = VA_OF_AMPS_3 if load.phases == _THREE_PHASE else VA_OF_AMPS_1
        return sheet.apply(formula, label, "VA", rule, None, amps=amps, volts=solved.nominal_v, count=load.count)

    # A dwelling

    def _dwelling(self, node: Node, dwelling: dict[str, Any], solved: NodeSolution) -> None:
        if self.book.name not in editions():
            message = Message("no rule in this book for a dwelling's sheet: list its circuits with your diversity")
            raise InputError(f"{node.id}.dwelling", message)
        raw = {**dwelling, "book": self.book.name, "system": _dwelling_system(node, solved)}
        try:
            house, method, edition = read_house(raw)
        except InputError as error:
            raise error.at(f"{node.id}.dwelling.{error.field}") from error
        found = solve_house(house, method, edition, record=solved.sheet.on)
        solved.sheet.take(found.demand.sheet.steps)
        demand, service = found.demand, found.service
        placed = Placed(demand.demand_va, 1.0, solved.legs)
        solved.connected_va, solved.demand_va = demand.connected_va, demand.demand_va
        connected = Connected(node.id, Kind.DWELLING.value, demand.demand_va, house=house)
        self.leaves[node.id] = [Leaf(node, connected, placed, 0.0, 0.0, demand.connected_va)]
        if solved.system.wye_legs or solved.system.phases == _THREE_PHASE:
            # As the published example: volt-amperes over twice the volts to neutral.
            solved.amps = dict.fromkeys(solved.legs, service.amps)
        else:
            self._draw(solved, [leg_currents(placed, solved.system)])
        solved.neutral_a = service.neutral.amps
        solved.findings.extend(found.findings)
        mine = self.drawn[node.id]
        solved.least_device_a = service.device_a
        mine.neutral = NeutralLoad(service.neutral.amps, reducible=False)  # already reduced
        chosen = service.conductor
        message = Message(
            "The sheet of the house allows {size} {material} for its whole service; here it is sized as any run.",
            size=chosen.size,
            material=chosen.material,
        )
        solved.findings.append(Finding(Severity.NOTE, message, chosen.rule, node.id))


def _dwelling_system(node: Node, solved: NodeSolution) -> str:
    """Return the system of a dwelling by the legs it has."""
    if solved.system.name in DWELLING_SYSTEMS:
        return solved.system.name
    if solved.system.name == "208Y/120" and len(solved.legs) < _THREE_PHASE:
        return "208Y/120 2 legs"
    message = Message("a dwelling's sheet is for {known}, not {name}", known=list(DWELLING_SYSTEMS),
                      name=solved.system.name)  # fmt: skip
    raise InputError(f"{node.id}.dwelling", message)


def _scaled(currents: Currents, factor: float) -> Currents:
    if factor == 1:
        return currents
    return {leg: amps * factor for leg, amps in currents.items()}
