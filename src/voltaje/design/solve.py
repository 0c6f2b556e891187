"""One call: a job in, its solution out. Demand upward, device and conductor downward, drop from the source."""

from __future__ import annotations

from dataclasses import dataclass, replace

from voltaje import __version__
from voltaje.books.book import Book, Connected, Run
from voltaje.books.nec.house_input import read_house
from voltaje.books.registry import find_book, tables_digest
from voltaje.design.chain import Pins, size_run
from voltaje.design.house import solve_house
from voltaje.design.placing import place
from voltaje.design.solution import NodeSolution, Solution
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.model import Job, Kind, LoadKind, LoadSpec, Node, Terminals
from voltaje.physics.currents import Currents, Placed, leg_currents, neutral, total
from voltaje.sheet import Finding, Severity, Sheet
from voltaje.systems import System

VA_OF_AMPS_1 = Formula("amps * volts * count")
VA_OF_AMPS_3 = Formula("sqrt(3) * amps * volts * count")
VA_OF_WATTS = Formula("watts / power_factor * count")
FROM_SOURCE = Formula("sum(parts)")

_THREE_PHASE = 3
_NOT_SIZED = (LoadKind.MOTOR,)


@dataclass(frozen=True)
class _Leaf:
    """A load at the end of the path, as every board above it sees it."""

    node: Node
    connected: Connected
    placed: Placed
    continuous: float
    entered_va: float

    def reduced(self, factor: float) -> _Leaf:
        """Return the load as a board further up sees it, where demand cascades."""
        connected = replace(self.connected, va=self.connected.va * factor, diversity=1.0, group="")
        return replace(self, connected=connected, placed=replace(self.placed, va=self.placed.va * factor))


class _Solver:
    def __init__(self, job: Job, steps_for: str | None):
        self.job = job
        self.book: Book = find_book(job.book)
        self.nodes: dict[str, NodeSolution] = {}
        self.leaves: dict[str, list[_Leaf]] = {}
        self.continuous: dict[str, dict[str, float]] = {}
        self.children: dict[str, list[Node]] = {node.id: [] for node in job.nodes}
        self.service_a: dict[str, float] = {}
        self.steps_for = steps_for
        for node in job.nodes:
            if node.parent:
                self.children[node.parent].append(node)

    def solve(self) -> Solution:
        for source in (node for node in self.job.nodes if node.kind is Kind.SOURCE):
            if source.system:
                self._seat(source, source.system, tuple(leg for leg, _angle in source.system.legs))
        for node in reversed(self._downward()):
            self._demand(node)
        for node in self._downward():
            self._run(node)
        findings = [Finding(Severity.NOTE, message) for message in self.book.terms.not_covered]
        digest = tables_digest()
        return Solution(self.book.name, __version__, digest, self.nodes, tuple(findings))

    def _downward(self) -> list[Node]:
        """Return nodes with parents before children."""
        order = [node for node in self.job.nodes if node.kind is Kind.SOURCE]
        for node in order:
            order.extend(self.children[node.id])
        return order

    def _seat(self, node: Node, system: System, legs: tuple[str, ...]) -> None:
        """Give a node and everything below it its system and legs."""
        waiting = [(node, system, legs)]
        while waiting:
            here, its_system, its_legs = waiting.pop()
            secondary = here.transformer.secondary if here.transformer else its_system
            sheet = Sheet(on=here.id == self.steps_for)
            self.nodes[here.id] = NodeSolution(here, its_system, its_legs, sheet=sheet)
            placed = place(self.children[here.id], secondary)
            waiting.extend((child, secondary, placed[child.id]) for child in self.children[here.id])

    # Demand, upward

    def _demand(self, node: Node) -> None:
        solved = self.nodes[node.id]
        with solved.sheet.section("demand"):
            if node.load is not None:
                self._load_leaf(node, node.load, solved)
            elif node.dwelling is not None:
                self._dwelling_leaf(node, solved)
            else:
                self._gather(node, solved)

    def _gather(self, node: Node, solved: NodeSolution) -> None:
        below = [leaf for child in self.children[node.id] for leaf in self.leaves[child.id]]
        demand = self.book.demand([leaf.connected for leaf in below], node.diversity, solved.sheet)
        solved.connected_va = sum(leaf.entered_va for leaf in below)
        solved.demand_va = node.run.pins.demand_va or demand.demand_va
        system = node.transformer.secondary if node.transformer else solved.system
        if node.transformer:
            # The primary sees a balanced load of the secondary's demand.
            balanced = Placed(solved.demand_va, 1.0, solved.legs)
            connected = Connected(node.id, LoadKind.GENERAL.value, solved.demand_va)
            self.leaves[node.id] = [_Leaf(node, connected, balanced, 0.0, solved.connected_va)]
            self._draw(solved, [leg_currents(balanced, solved.system)])
            self.continuous[node.id] = {}
            return
        factors = [demand.factors[leaf.connected.id] for leaf in below]
        cascades = self.book.terms.demand_cascades
        self.leaves[node.id] = [leaf.reduced(f) for leaf, f in zip(below, factors, strict=True)] if cascades else below
        drawn = [_scaled(leg_currents(leaf.placed, system), f) for leaf, f in zip(below, factors, strict=True)]
        self._draw(solved, drawn)
        shares = [_scaled(amps, leaf.continuous) for leaf, amps in zip(below, drawn, strict=True)]
        summed = total(shares, system)
        self.continuous[node.id] = {leg: abs(amps) for leg, amps in summed.items()}

        self._check_against_largest(node, solved)

    def _check_against_largest(self, node: Node, solved: NodeSolution) -> None:
        """A diversity that leaves a board with less than its largest circuit is worth a look."""
        most, demand = 0.0, max(solved.amps.values(), default=0.0)
        for child in self.children[node.id]:
            most = max(most, *self.nodes[child.id].amps.values()) if self.nodes[child.id].amps else most
        if node.diversity < 1 and most > demand + _DUST_A:
            message = Message(
                "With its diversity the board draws {demand}, less than its largest circuit, {most}.",
                demand=Figure(demand, "A", 1),
                most=Figure(most, "A", 1),
            )
            mend = Message("Raise the diversity that was entered.")
            solved.findings.append(Finding(Severity.WARN, message, None, node.id, mend))

    def _draw(self, solved: NodeSolution, drawn: list[Currents]) -> None:
        summed = total(drawn, solved.system)
        solved.amps = {leg: abs(amps) for leg, amps in summed.items() if leg in solved.legs}
        solved.neutral_a = neutral(summed) if solved.system.line_to_neutral_v else 0.0

    def _load_leaf(self, node: Node, load: LoadSpec, solved: NodeSolution) -> None:
        va = self._load_va(node, load, solved)
        connected = Connected(node.id, load.kind.value, va, load.count, load.group, load.diversity)
        placed = Placed(node.run.pins.demand_va or va, load.power_factor, solved.legs)
        self.leaves[node.id] = [_Leaf(node, connected, placed, load.continuous, va)]
        solved.connected_va, solved.demand_va = va, placed.va
        self._draw(solved, [leg_currents(placed, solved.system)])
        self.continuous[node.id] = {leg: amps * load.continuous for leg, amps in solved.amps.items()}

    def _load_va(self, node: Node, load: LoadSpec, solved: NodeSolution) -> float:
        rating, sheet, rule = load.rating, solved.sheet, self.book.device_rule
        label = Message("Connected load")
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

    def _dwelling_leaf(self, node: Node, solved: NodeSolution) -> None:
        raw = {**(node.dwelling or {}), "book": self.job.book, "system": solved.system.name}
        try:
            house, method, edition = read_house(raw)
        except InputError as error:
            raise error.at(f"{node.id}.dwelling.{error.field}") from error
        found = solve_house(house, method, edition, record=solved.sheet.on)
        solved.sheet.take(found.demand.sheet.steps)
        demand, service = found.demand, found.service
        placed = Placed(demand.demand_va, 1.0, solved.legs)
        solved.connected_va, solved.demand_va = demand.connected_va, demand.demand_va
        connected = Connected(node.id, Kind.DWELLING.value, demand.demand_va)
        self.leaves[node.id] = [_Leaf(node, connected, placed, 0.0, demand.connected_va)]
        self._draw(solved, [leg_currents(placed, solved.system)])
        solved.neutral_a = service.neutral.amps
        solved.findings.extend(found.findings)
        self.continuous[node.id] = {}
        self.service_a[node.id] = service.device_a
        chosen = service.conductor
        message = Message(
            "The sheet of the house allows {size} {material} for its whole service; here it is sized as any run.",
            size=chosen.size,
            material=chosen.material,
        )
        solved.findings.append(Finding(Severity.NOTE, message, chosen.rule, node.id))

    # Device, conductor, drop, earth: downward

    def _run(self, node: Node) -> None:
        solved = self.nodes[node.id]
        if node.parent is None:
            return
        above = self.nodes[node.parent]
        solved.drop_percent = above.drop_percent
        if node.kind in (Kind.TRANSFORMER, Kind.INVERTER) or (node.load and node.load.kind in _NOT_SIZED):
            what = node.load.kind.value if node.kind is Kind.LOAD and node.load else node.kind.value
            message = Message("Not sized by this version: the run to the {kind}.", kind=what)
            solved.findings.append(Finding(Severity.STOP, message, None, node.id))
            return
        if not any(solved.amps.values()):
            return
        run, pins = self._asked(node, solved)
        try:
            solved.design = size_run(run, pins, self.book, solved.sheet)
        except InputError as error:
            message = Message("No lawful run: {why}", why=error.message)
            solved.findings.append(Finding(Severity.STOP, message, None, f"{node.id}.run.{error.field}"))
            return
        solved.findings.extend(solved.design.findings)
        if solved.design.drop_percent is not None:
            self._sum_drop(node, above, solved, run)

    def _sum_drop(self, node: Node, above: NodeSolution, solved: NodeSolution, run: Run) -> None:
        own = solved.design.drop_percent if solved.design and solved.design.drop_percent else 0.0
        limit = self.book.drop_limit(run, True)
        with solved.sheet.section("drop"):
            label = Message("From the source")
            parts = [above.drop_percent, own]
            solved.drop_percent = solved.sheet.apply(FROM_SOURCE, label, "%", limit.rule, None, parts=parts)
        already = any(finding.field == "length" for finding in solved.findings)
        if solved.drop_percent > limit.percent and not already and not self.children[node.id]:
            message = Message(
                "The drop from the source is {percent}, over {limit}.",
                percent=Figure(solved.drop_percent, "%", 2),
                limit=Figure(limit.percent, "%", 2),
            )
            severity = Severity.STOP if limit.mandatory else Severity.WARN
            mend = Message("Take larger sizes along the path, the longest run first.")
            solved.findings.append(Finding(severity, message, limit.rule, node.id, mend))

    def _asked(self, node: Node, solved: NodeSolution) -> tuple[Run, Pins]:
        spec, terms = node.run, self.book.terms
        heaviest = max(solved.amps, key=lambda leg: solved.amps[leg])
        load = node.load
        run = Run(
            amps=solved.amps[heaviest],
            continuous_a=min(self.continuous[node.id].get(heaviest, 0.0), solved.amps[heaviest]),
            volts=solved.nominal_v,
            phases=_THREE_PHASE if len(solved.legs) == _THREE_PHASE else 1,
            length_m=spec.length_m,
            material=spec.material,
            insulation=spec.insulation or terms.insulation,
            method=spec.method or terms.method,
            cable=spec.cable or terms.cable,
            ambient_c=spec.ambient_c,
            bundled=spec.bundled or self._bundled(node, solved),
            arrangement=spec.arrangement,
            terminal_c=None if self.job.terminals is Terminals.UNMARKED else int(self.job.terminals.value),
            power_factor=load.power_factor if load else 1.0,
            use="lighting" if load and load.kind is LoadKind.LIGHTING else "other",
            supply="public",
            device_factor=spec.device_factor,
            round_up=not (load and load.kind is LoadKind.SOCKETS and load.count > 1),
        )
        pins = spec.pins
        return run, Pins(pins.device_a or self.service_a.get(node.id), pins.size, pins.sets)

    def _bundled(self, node: Node, solved: NodeSolution) -> int:
        """A neutral that carries mostly nonlinear load counts as current-carrying on a four-wire wye."""
        if len(solved.legs) != _THREE_PHASE or not solved.system.line_to_neutral_v:
            return 0
        if self.book.terms.length_unit != "ft":
            return 0
        loads = [leaf.node.load for leaf in self.leaves[node.id] if leaf.node.load]
        shares = [(leaf.connected.va, load.nonlinear) for leaf, load in zip(self.leaves[node.id], loads, strict=False)]
        whole = sum(va for va, _share in shares)
        nonlinear = sum(va * share for va, share in shares)
        return _FOUR_CARRY if whole and nonlinear / whole > _MOST_OF_IT else 0


_FOUR_CARRY = 4
_DUST_A = 1e-6
_MOST_OF_IT = 0.5


def _scaled(currents: Currents, factor: float) -> Currents:
    return {leg: amps * factor for leg, amps in currents.items()}


def solve(job: Job, steps_for: str | None = None) -> Solution:
    """Return a job solved; with the steps of one node if asked for.

    A pure function: the same job gives the same solution.
    Raises: InputError where a node cannot be connected as it says, or its rating has no rule in the book.
    """
    return _Solver(job, steps_for).solve()
