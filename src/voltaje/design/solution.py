"""A job solved: what each node draws, and how its run is sized."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from voltaje.books.machines import Earthing, MotorCircuit, SecondaryRule
from voltaje.design.chain import RunDesign
from voltaje.design.equipment.cooking import TapRun
from voltaje.design.ladder import Option
from voltaje.design.loops import LoopFrom, LoopHere
from voltaje.design.residuals import NOTHING_AHEAD, ResidualFrom, ResidualHere
from voltaje.design.transformers.unit import Unit
from voltaje.findings import Finding
from voltaje.path.model import Node
from voltaje.physics.fault import Met
from voltaje.sheet import Sheet, off
from voltaje.systems import System


@dataclass(slots=True)
class NodeSolution:
    """A node's figures.

    system: at the node's supply side; legs: those it is connected to
    amps: current of each leg at demand [A]; neutral_a: what they leave on the neutral [A]
    design: its run sized, None where it has none; options: other answers, where the node was opened
    drop_percent, from_source_m: from the source, of the nominal [%, m]
    motor: what the rules of its motor say, None for what is none
    unit: of a transformer, all that is its own
    earthing: of a service, what it connects to earth; None where the book has no such rules
    taps: of a kitchen on one circuit, the tap to each appliance
    motors_most_a: of a feeder of motors, how far its device may go for them to start [A]
    tried: of a tap, each rule that may let it be so
    fallen: of each voltage at the node, by its legs, what it has lost in conductors from the source [%]
    loop_from, loop: the loop of a fault to earth as far as here, and held against its device; None where not known
    rcd_from, rcd: the RCDs ahead of what follows, and that of a circuit; None where none is wanted or entered
    inside: the same, in transformers; supply_share: the volts that it begins with, of the nominal, by measured source
        and taps; met, fault_a: what a bolted short circuit meets, and draws [Ω, A]; None where the source is not known
    """

    node: Node
    system: System
    legs: tuple[str, ...]
    connected_va: float = 0.0
    demand_va: float = 0.0
    amps: dict[str, float] = field(default_factory=dict)
    neutral_a: float = 0.0
    least_device_a: float = 0.0
    design: RunDesign | None = None
    options: list[Option] = field(default_factory=list)
    drop_percent: float = 0.0
    from_source_m: float = 0.0
    fallen: dict[tuple[str, ...], float] = field(default_factory=dict)
    motor: MotorCircuit | None = None
    motors_most_a: float | None = None
    tried: tuple[SecondaryRule, ...] = ()
    taps: tuple[TapRun, ...] = ()
    unit: Unit | None = None
    earthing: Earthing | None = None
    inside: dict[tuple[str, ...], float] = field(default_factory=dict)
    supply_share: float = 1.0
    met: Met | None = None
    fault_a: float | None = None
    loop_from: LoopFrom | None = None
    loop: LoopHere | None = None
    rcd_from: ResidualFrom = NOTHING_AHEAD
    rcd: ResidualHere | None = None
    findings: list[Finding] = field(default_factory=list)
    sheet: Sheet = field(default_factory=off)

    def as_it_stands(self) -> NodeSolution:
        """Return a copy that what is worked out from now on does not reach."""
        return replace(self, findings=list(self.findings), amps=dict(self.amps), sheet=off())

    @property
    def nominal_v(self) -> float:
        """The node's nominal volts: to neutral for one leg, else line to line [V]."""
        one = len(self.legs) == 1
        return (self.system.line_to_neutral_v if one else None) or self.system.line_to_line_v

    @property
    def lost_percent(self) -> float:
        """What its lowest voltage has lost from the source, in conductors and transformers [%]."""
        return max((lost + self.inside.get(each, 0.0) for each, lost in self.fallen.items()), default=0.0)

    @property
    def volts(self) -> float:
        """The volts that it has at its load, the lowest of its voltages [V]."""
        return self.nominal_v * self.supply_share * (1 - self.lost_percent / 100)

    @property
    def worst(self) -> str:
        """The state to show: stop, warn or holds."""
        severities = {str(finding.severity) for finding in self.findings}
        return next((each for each in ("stop", "warn") if each in severities), "holds")


@dataclass(frozen=True)
class Solution:
    """A job solved: book, engine, digest of the tables, nodes by id, findings of the whole."""

    book: str
    engine: str
    tables: str
    nodes: dict[str, NodeSolution]
    findings: tuple[Finding, ...]
