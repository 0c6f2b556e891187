"""What a book is asked of a run: all that is known of it, from the node, the job and what lies before it."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.answers import Run
from voltaje.books.questions import Book
from voltaje.design import show
from voltaje.design.chain import Pins
from voltaje.design.drop import Fallen, balanced, falls_of, falls_on, voltages_of
from voltaje.design.leaves import Drawn
from voltaje.design.solution import NodeSolution
from voltaje.path.kinds import Kind
from voltaje.path.model import Job, Node, Terminals
from voltaje.path.run import Role
from voltaje.systems import THREE_PHASE

_ALIKE = 1e-9
_FOUR_CARRY = 4
_MOST_OF_IT = 0.5
_COPPER = "Cu"


class Asking:
    """Puts together the runs of a job.

    running: the loads of the node whose steps are written
    """

    def __init__(self, job: Job, book: Book, running: Sequence[show.Running]):
        self.job, self.book, self.running = job, book, running

    def run(self, solved: NodeSolution, above: NodeSolution, drawn: Drawn, before: Fallen) -> tuple[Run, Pins]:
        """Return the run that feeds a node, and what of it is pinned."""
        node = solved.node
        spec, terms, load = node.run, self.book.terms, node.load
        leg, (amps, continuous) = _asks_most(drawn.needs, terms.continuous_factor)
        if solved.sheet.on:
            show.need(leg, (amps, continuous), solved, self.running)
        most = max(solved.amps.values()) * drawn.installed_factor
        power_factor = load.power_factor if load else balanced(drawn.flows, solved.system, solved.legs)
        falls = () if power_factor else falls_of(drawn.flows, solved.system, solved.legs, before)
        if drawn.shared:  # its neutral brings back the others' current too
            falls = falls_on([drawn.shared.flow], solved.system, voltages_of(solved.system, solved.legs, False), before)
        role = role_of(node, above)
        run = Run(
            amps=amps,
            continuous_a=min(continuous, amps),
            volts=solved.nominal_v,
            phases=THREE_PHASE if len(solved.legs) == THREE_PHASE else 1,
            length_m=spec.long_m,
            material=drawn.dwelling.material if drawn.dwelling and spec.material == _COPPER else spec.material,
            insulation=spec.insulation or terms.insulation,
            method=spec.method or terms.method,
            cable=spec.cable or terms.cable,
            raceway=spec.raceway,
            ambient_c=self._ambient(node),
            bundled=spec.bundled or self._bundled(solved, drawn),
            arrangement=spec.arrangement,
            terminal_c=spec.terminal_c or _marked(drawn.dwelling.terminals if drawn.dwelling else self.job.terminals),
            power_factor=power_factor or 1.0,
            use=use_of(node),
            supply=self.job.supply,
            surroundings=spec.surroundings,
            drop_before_percent=max(before.values(), default=0.0),
            before_m=above.from_source_m,
            feeder=load is None,
            neutral=drawn.neutral,
            least_device_a=solved.least_device_a,
            round_up=role not in (Role.DERIVED, Role.TAP)
            and not (load and load.traits.outlet == "sockets" and load.count > 1),
            installed_a=most if most > amps else 0.0,
            role=role.value if role else "branch",
            tapped_from_a=device_before(above) if role is Role.TAP else 0.0,
            falls=falls,
            whole_dwelling=drawn.dwelling is not None,
            ring=spec.ring,
        )
        pins, device = spec.pins, spec.pins.device_a
        if device is None and role in (Role.SERVICE, Role.DERIVED, Role.TAP):
            device = node.board.main_a  # what stands at their end protects them: the board's main
        if role is Role.SERVICE and pins.device_a is None and above.node.supply.fuse_a:
            device = above.node.supply.fuse_a  # the distributor's, ahead of whatever stands at the board
        return run, Pins(device, pins.size, pins.sets or spec.sets, pins.protective)

    def _bundled(self, solved: NodeSolution, drawn: Drawn) -> int:
        """A neutral that carries mostly nonlinear load counts as current-carrying on a four-wire wye."""
        legs, share = len(solved.legs), drawn.nonlinear_share
        if not drawn.shared and legs < THREE_PHASE:
            return 0
        if drawn.shared:
            legs = sum(1 for amps in drawn.shared.flow.level.values() if amps)
            share = drawn.shared.nonlinear
        four_wire = legs == THREE_PHASE and solved.system.line_to_neutral_v and not solved.system.high_leg
        if not four_wire or not self.book.counts_nonlinear_neutral:
            return 0
        return _FOUR_CARRY if share > _MOST_OF_IT else 0

    def _ambient(self, node: Node) -> float | None:
        """Return a run's own ambient, else the job's; that is of the air, and not for what lies in the ground."""
        spec, terms = node.run, self.book.terms
        in_ground = bool(terms.ground_method) and (spec.method or terms.method) == terms.ground_method
        return spec.ambient_c if spec.ambient_c is not None or in_ground else self.job.ambient_c


def role_of(node: Node, above: NodeSolution) -> Role | None:
    """Return what a run is to the supply: as entered, else by what it comes from; None for a branch circuit."""
    if node.run.role:
        return node.run.role
    if above.node.kind is Kind.SOURCE:
        return Role.SERVICE
    if above.node.kind is Kind.TRANSFORMER and not (above.unit and above.unit.stacked):
        return Role.DERIVED
    return None if node.load else Role.FEEDER


def device_before(above: NodeSolution) -> float:
    """Return the device that guards what a tap is taken from [A]: of a tap that its feeder's; else 0."""
    design = above.design
    if design is None:
        return 0.0
    return design.run.tapped_from_a if design.run.role == Role.TAP else design.choice.device_a


def use_of(node: Node) -> str:
    """Return the use that limits tell apart: lighting, sockets, other."""
    return node.load.traits.outlet if node.load else "other"


def _asks_most(needs: dict[str, tuple[float, float]], factor: float) -> tuple[str, tuple[float, float]]:
    """Return the leg that asks most, with its current and the continuous part; of legs alike the first."""
    if len(needs) == 1:
        return next(iter(needs.items()))
    asked = {leg: amps + (factor - 1) * continuous for leg, (amps, continuous) in needs.items()}
    most = max(asked.values())
    leg = next(leg for leg, each in asked.items() if each >= most * (1 - _ALIKE))
    return leg, needs[leg]


def _marked(terminals: str) -> int | None:
    return None if terminals == Terminals.UNMARKED else int(terminals)
