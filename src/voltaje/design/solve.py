"""One call: a job in, its solution out. Demand upward, device and conductor downward, drop from the source."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from voltaje import __version__
from voltaje.books.answers import Run
from voltaje.books.machines import FeederMotor
from voltaje.books.questions import Book, Demands
from voltaje.books.registry import find_book, tables_digest
from voltaje.design import checks, loops, neutrals, residuals, taps
from voltaje.design.amended import amended
from voltaje.design.asking import Asking, use_of
from voltaje.design.chain import Pins, size_run, sized
from voltaje.design.demand import Upward
from voltaje.design.drop import Fallen, voltages_of
from voltaje.design.equipment import feeding_back
from voltaje.design.equipment.motor_feeder import fed, motors_below
from voltaje.design.equipment.on_path import equipped
from voltaje.design.kept import (
    Given,
    KeptBoard,
    KeptCircuit,
    KeptCircuits,
    circuits_before,
    find,
    from_above,
    given_of,
    keep,
    keep_circuits,
)
from voltaje.design.ladder import options
from voltaje.design.panel_checks import panel
from voltaje.design.placing import place
from voltaje.design.record import what_changed
from voltaje.design.services import limits, services
from voltaje.design.shared_neutrals import one_size
from voltaje.design.solution import NodeSolution, Solution
from voltaje.design.transformers import faults, inside
from voltaje.design.transformers.on_path import judge_of, secondaries
from voltaje.design.transformers.secondary import serves, sized_by_rule
from voltaje.errors import NotCovered, Refused
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.kinds import FEEDING, Kind
from voltaje.path.model import Job, Node
from voltaje.path.run import Role
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet, off
from voltaje.systems import System

FROM_SOURCE = Formula("above + own")

_FROM_SOURCE = Message("From the source")


Watch = Callable[[int, int], None]


_WATCHED_EACH = 8  # nodes: asking the clock takes as long as taking a node that is known


def _unwatched(_done: int, _of: int) -> None:
    """Let it take what it takes."""


def solve(job: Job, steps_for: str | None = None, watch: Watch = _unwatched) -> Solution:
    """Return a job solved; with the steps and options of one node if asked for.

    A pure function: the same job gives the same solution.
    watch: told after every few nodes how many of how many steps are done; what it raises ends the work, so that
        whoever waits can set it a budget
    Raises: InputError where a node cannot be connected as it says, or its rating has no rule in the book.
    """
    return _Solver(job, steps_for, watch).solve()


class _Solver:
    def __init__(self, job: Job, steps_for: str | None, watch: Watch):
        self.job, self.watch = job, watch
        self.book: Book = amended(find_book(job.book), job.amendments)
        self.nodes: dict[str, NodeSolution] = {}
        self.children: dict[str, list[Node]] = {node.id: [] for node in job.nodes}
        self.upward = Upward(job, self.book, self.nodes, self.children)
        self.steps_for = steps_for
        self.known: dict[str, KeptBoard] = {}
        self.fresh: dict[str, tuple[Given, NodeSolution]] = {}
        self.motors: dict[str, list[FeederMotor]] = {}  # below each feeder
        self.plain: dict[str, Given] = {}  # boards some of whose circuits are worked out anew
        self.before: dict[str, KeptCircuits] = {}
        self.taken: dict[str, KeptCircuit] = {}  # circuits that are as they were, on such boards
        for node in job.nodes:
            if node.parent:
                self.children[node.parent].append(node)

    def solve(self) -> Solution:
        order = self._downward()
        for source in (node for node in order if node.kind is Kind.SOURCE and node.system):
            system = source.system
            if system:
                self._seat(source, system, tuple(leg for leg, _angle in system.legs))
        steps = len(order) * 2
        for done, node in enumerate(reversed(order)):
            if not done % _WATCHED_EACH:
                self.watch(done, steps)
            self._upward(node)
        self.motors = motors_below(order, self.nodes, self.book)
        for done, node in enumerate(order, len(order)):
            if not done % _WATCHED_EACH:
                self.watch(done, steps)
            if not self._runs_are_known(node):
                self._run(node)
        secondaries(order, self.nodes, self.book)
        services(order, self.nodes, self.book)
        limits(order, self.nodes, self.book)
        for node in order:
            circuits = [self.nodes[child.id] for child in self.children[node.id]]
            checks.device_against_largest(node, self.nodes[node.id], circuits, self.book)
            if node.kind is Kind.BOARD:
                panel(node, self.nodes[node.id], circuits, self.book)
                one_size(circuits, self.book)
                feeding_back.bus(node, self.nodes[node.id], circuits, self.upward.rising[node.id].back, self.book)
        self._keep_boards()
        findings = [*self._about_the_book(), *what_changed(self.job, self.nodes)]
        return Solution(self.book.name, __version__, tables_digest(), self.nodes, tuple(findings))

    def _about_the_book(self) -> list[Finding]:
        found = [Finding(Severity.NOTE, "job.not_covered", message) for message in self.book.terms.not_covered]
        for node in self.job.nodes:
            if node.system and node.system.name not in self.book.terms.nominal:
                message = Message(
                    "{system} is not among the nominal voltages of {book}.",
                    system=node.system.name,
                    book=self.book.name,
                )
                mend = Message("Take the book of the country, or its supply.")
                found.append(Finding(Severity.WARN, "source.not_nominal", message, None, node.id, mend))
        return found

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
            secondary, below = its_system, its_legs
            if here.transformer:
                secondary = here.transformer.secondary
                below = tuple(leg for leg, _angle in secondary.legs)
            sheet = Sheet() if here.id == self.steps_for else off()
            self.nodes[here.id] = NodeSolution(here, its_system, its_legs, sheet=sheet)
            children = self.children[here.id]
            if children and not self._is_known(here, children):
                placed = place(children, secondary, below, self.book.terms.way_columns)
                self._take(here, children, placed)
                waiting.extend((child, secondary, placed[child.id]) for child in children if child.id not in self.taken)

    # Boards whose circuits are as they were

    def _is_known(self, board: Node, circuits: list[Node]) -> bool:
        """Take a board's circuits as they were worked out before, if everything about them is the same."""
        given = given_of(self.job, self.book, board, circuits, self.nodes[board.id])
        opened = board.id == self.steps_for or any(node.id == self.steps_for for node in circuits)
        if given is None:
            return False
        self.plain[board.id] = given
        if opened:
            return False
        known = find(self.job, given)
        if known is None:
            self.fresh[board.id] = (given, self.nodes[board.id])
            return False
        del self.plain[board.id]
        self.known[board.id] = known
        self.nodes.update(known.circuits)
        return True

    def _take(self, board: Node, circuits: list[Node], placed: Mapping[str, tuple[str, ...]]) -> None:
        """Take those circuits of a board as they were worked out before that are the same, on the same legs."""
        given = self.plain.get(board.id)
        before = circuits_before(self.job, given) if given else None
        if before is None:
            return
        self.before[board.id] = before
        for node in circuits:
            known = before.circuits.get(node.id)
            same = known and known.solution.node == node and known.solution.legs == placed[node.id]
            if known and same and node.id != self.steps_for:
                self.taken[node.id] = known
                self.nodes[node.id] = known.solution

    def _upward(self, node: Node) -> None:
        known = self.known.get(node.id)
        if known is not None:
            self.upward.rising[node.id] = known.rising
            self.nodes[node.id] = known.board.as_it_stands()
        elif node.id in self.taken:
            self.upward.rising[node.id] = self.taken[node.id].rising
        elif node.parent not in self.known:
            self.upward.work(node)
            if node.id in self.fresh:
                self.fresh[node.id] = (self.fresh[node.id][0], self.nodes[node.id].as_it_stands())

    def _runs_are_known(self, node: Node) -> bool:
        """Return whether a circuit's run is as it was; where the drop above its board is another, it is worked out."""
        if node.id in self.taken:
            return self._stands_below(node)
        known = self.known.get(node.parent or "")
        if known is None:
            return False
        above = self.nodes[known.given.board.id]
        if from_above(above) == known.from_above:
            return True
        self.fresh[known.given.board.id] = (known.given, known.board)
        was = known.circuits[node.id]
        self.nodes[node.id] = NodeSolution(node, was.system, was.legs)
        self.upward.work(node)
        return False

    def _stands_below(self, node: Node) -> bool:
        """Return whether what comes from above a circuit that was taken is as it was; else it is worked out anew."""
        board = node.parent or ""
        if from_above(self.nodes[board]) == self.before[board].from_above:
            return True
        was = self.taken.pop(node.id).solution
        self.nodes[node.id] = NodeSolution(node, was.system, was.legs)
        self.upward.work(node)
        return False

    def _keep_boards(self) -> None:
        for key, given in self.plain.items():
            risen = {
                node.id: KeptCircuit(self.nodes[node.id], self.upward.rising[node.id])
                for node in given.circuits
                if node.id != self.steps_for
            }
            keep_circuits(self.job, KeptCircuits(given, risen, from_above(self.nodes[key])))
        for key, (given, board) in self.fresh.items():
            above = self.nodes[key]
            circuits = {node.id: self.nodes[node.id] for node in given.circuits}
            keep(self.job, KeptBoard(given, board, self.upward.rising[key], circuits, from_above(above)))

    # Device, conductor, drop, earth: downward

    def _run(self, node: Node) -> None:
        solved = self.nodes[node.id]
        if node.parent is None:
            faults.begin(solved, node.supply)
            solved.loop_from = loops.begin(node.supply, solved.system, self.book)
            solved.rcd_from = residuals.begin(node.supply)
            return
        above = self.nodes[node.parent]
        board = bool(self.children[node.id]) or node.kind in FEEDING
        voltages = voltages_of(solved.system, solved.legs, board)
        before = _before(above, voltages)
        solved.from_source_m = above.from_source_m + (node.run.long_m or 0.0)
        self._size(node, solved, above, before)
        drop = solved.design.drop if solved.design else None
        own = dict(drop.falls) if drop else {}
        solved.fallen = {each: before[each] + own.get(each, own.get((), 0.0)) for each in voltages}
        solved.drop_percent = max(solved.fallen.values(), default=0.0)
        inside.passed_on(solved, above, voltages)
        if node.kind in FEEDING:
            faults.reach(solved, above, self.book)
        self._judge_drop(node, solved, above, before)
        self._to_earth(node, solved, above)
        checks.at_its_volts(node, solved, self.book)

    def _to_earth(self, node: Node, solved: NodeSolution, above: NodeSolution) -> None:
        """Hold a fault to earth against the RCD and the device that open it."""
        if node.transformer:
            return
        home = above.node.board.household
        rcd = residuals.judge(node, solved.design, above.rcd_from, home, self.book)
        solved.rcd_from, solved.rcd = rcd[:2]
        solved.findings += rcd[2]
        if above.loop_from:
            curve = solved.motor.curve if solved.motor else ""
            found = loops.judge(node, solved.design, above.loop_from, curve, self.book, solved.sheet)
            solved.loop_from, solved.loop = found[:2]
            solved.findings += found[2]

    def _size(self, node: Node, solved: NodeSolution, above: NodeSolution, before: Fallen) -> None:
        # A transformer's plate, or a device that was chosen, is enough to size a run by before any load hangs on it.
        if any(solved.amps.values()) or node.transformer or (node.kind is Kind.BOARD and node.run.pins.device_a):
            self._design(node, solved, above, before)
        feeding_back.through(node, solved, self.upward.rising[node.id].back, self.book)

    def _design(self, node: Node, solved: NodeSolution, above: NodeSolution, before: Fallen) -> None:
        drawn = self.upward.rising[node.id].drawn
        run, pins = Asking(self.job, self.book, self.upward.running).run(solved, above, drawn, before)
        if run.role == Role.SERVICE and node.kind is Kind.BOARD:
            run = self._as_service(run, node)
        if node.kind is Kind.BOARD and not self.upward.rising[node.id].leaves:
            run = neutrals.as_line(run, pins, solved, above, self.book)
        try:
            run = equipped(run, solved, above, self.book)
            if node.kind is Kind.BOARD and node.id in self.motors:
                run = fed(run, pins, self.motors[node.id], solved, self.book)
            tap = taps.judge_of(run, node, self.book) if run.role == Role.TAP else None
            judge = tap or (judge_of(above, node, self.book) if above.unit else None)
            if judge:
                solved.design = sized_by_rule(run, pins, judge, self.book, solved.sheet)
            elif solved.sheet.on:
                solved.design = size_run(run, pins, self.book, solved.sheet)
            else:
                solved.design = sized(run, pins, self.book)
        except NotCovered as error:
            checks.not_sized(node, node.load.counts_as.value if node.load else node.kind.value, solved, error.message)
            return
        except Refused as error:
            message = Message("No lawful run: {why}", why=error.message)
            solved.findings.append(
                Finding(Severity.STOP, "run.not_lawful", message, None, f"{node.id}.run.{error.field}")
            )
            return
        solved.findings.extend(solved.design.findings)
        if tap:
            taps.told(solved, solved.design, tap, self.book)
        if solved.sheet.on:
            offered = options(run, _open_pins(pins), self.book, self.book.terms.materials)
            solved.options = [each for each in offered if judge is None or serves(each, run, judge, self.book)]

    def _as_service(self, run: Run, node: Node) -> Run:
        """Return a service's run: its device has a least rating whatever the load, and its conductors hold that."""
        least = self.book.asked(Demands).least_service_a(len(self.upward.rising[node.id].leaves))
        held = max(run.installed_a, least) if least > run.amps else run.installed_a
        return run._replace(least_device_a=max(run.least_device_a, least), installed_a=held)

    def _judge_drop(self, node: Node, solved: NodeSolution, above: NodeSolution, before: Fallen) -> None:
        """Hold the drop from the source against its limit, at every board and load."""
        if node.kind in (Kind.SOURCE, Kind.TRANSFORMER):
            return
        run = solved.design.run if solved.design else Run(0.0, solved.nominal_v, 1, use=use_of(node))
        limit = self.book.drop_limit(run, True)
        drop = solved.design.drop if solved.design else None
        with solved.sheet.section("drop"):
            if drop and solved.sheet.on:
                lowest = max(solved.fallen, key=lambda voltage: solved.fallen[voltage])
                above_it, own = before[lowest], solved.fallen[lowest] - before[lowest]
                solved.sheet.apply(FROM_SOURCE, _FROM_SOURCE, "%", limit.rule, None, above=above_it, own=own)
        over = exceeds(solved.drop_percent, limit.percent)
        already = any(finding.field == "length" for finding in solved.findings)
        # What only hangs on a board that says so itself need not say it again.
        said = drop is None and above.node.kind is Kind.BOARD and exceeds(above.drop_percent, limit.percent)
        if over and not already and not said:
            message = Message(
                "The drop from the source is {percent}, over {limit}.",
                percent=Figure(solved.drop_percent, "%", 2),
                limit=Figure(limit.percent, "%", 2),
            )
            severity = Severity.STOP if limit.mandatory else Severity.WARN
            mend = Message("Take larger sizes along the path, the longest run first.")
            solved.findings.append(Finding(severity, "drop.over_limit_from_source", message, limit.rule, node.id, mend))


def _before(above: NodeSolution, voltages: list[tuple[str, ...]]) -> Fallen:
    """Return what each voltage has lost where a run begins [%]; behind a transformer all that its primary has."""
    if above.node.transformer:
        return dict.fromkeys(voltages, above.drop_percent)
    return {each: above.fallen.get(each, above.drop_percent) for each in voltages}


def _open_pins(pins: Pins) -> Pins:
    """Return pins as options are looked for: a pinned size is what the options are alternatives to."""
    return Pins(pins.device_a, None, None)
