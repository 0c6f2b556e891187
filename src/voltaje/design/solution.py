"""A job solved: what each node draws, and how its run is sized."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from voltaje.books.machines import Bonds, MotorCircuit, SecondaryRule
from voltaje.design.chain import RunDesign
from voltaje.design.equipment.cooking import TapRun
from voltaje.design.ladder import Option
from voltaje.findings import Finding
from voltaje.path.model import Node
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
    secondary_rule, bonds: of what stands behind a transformer: which rule lets its conductors be, what bonds it
    taps: of a kitchen on one circuit, the tap to each appliance
    motors_most_a: of a feeder of motors, how far its device may go for them to start [A]
    fallen: of each voltage at the node, by its legs, what it has lost from the source [%]
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
    taps: tuple[TapRun, ...] = ()
    secondary_rule: SecondaryRule | None = None
    bonds: Bonds | None = None
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
