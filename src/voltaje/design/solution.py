"""A job solved: what each node draws, and how its run is sized."""

from __future__ import annotations

from dataclasses import dataclass, field

from voltaje.design.chain import RunDesign
from voltaje.path.model import Node
from voltaje.sheet import Finding, Sheet
from voltaje.systems import System


@dataclass
class NodeSolution:
    """A node's figures.

    system: at the node (a transformer: its secondary); legs: those it is connected to
    amps: current of each leg at demand [A]; design: its run sized, None where it has none
    drop_percent: from the source, of the nominal
    """

    node: Node
    system: System
    legs: tuple[str, ...]
    connected_va: float = 0.0
    demand_va: float = 0.0
    amps: dict[str, float] = field(default_factory=dict)
    neutral_a: float = 0.0
    design: RunDesign | None = None
    drop_percent: float = 0.0
    findings: list[Finding] = field(default_factory=list)
    sheet: Sheet = field(default_factory=lambda: Sheet(on=False))

    @property
    def nominal_v(self) -> float:
        """The node's nominal volts: to neutral for one leg, else line to line."""
        one = len(self.legs) == 1
        return (self.system.line_to_neutral_v if one else None) or self.system.line_to_line_v


@dataclass(frozen=True)
class Solution:
    """A job solved: book, engine, digest of the tables, nodes by id, findings of the whole."""

    book: str
    engine: str
    tables: str
    nodes: dict[str, NodeSolution]
    findings: tuple[Finding, ...]
