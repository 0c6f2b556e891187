"""A transformer as it stands on a path: its size against its load, its sides, what it loses, what stands behind it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from voltaje.books.machines import Bonds, SecondaryRule, Side
from voltaje.design.chain import RunDesign
from voltaje.design.transformers.made import Made
from voltaje.design.transformers.worked import PrimaryChoice
from voltaje.physics.transformer import Plate


@dataclass
class Behind:
    """A run that begins at a transformer's secondary: whom it feeds, its design, the rules that were tried, its bonds.

    bonds: None where the secondary has no neutral to bond
    """

    key: str
    name: str
    design: RunDesign
    rules: tuple[SecondaryRule, ...] = ()
    bonds: Bonds | None = None

    @property
    def rule(self) -> SecondaryRule | None:
        """The rule of secondary conductors that holds, None where none does."""
        return next((each for each in self.rules if each.holds), None)


@dataclass
class Unit:
    """What is worked out of a transformer beside its run.

    needed_kva: its load with growth, or what its most loaded leg asks of it; trade_kva: the next trade size over that,
        None over the largest; worst_leg: that leg and its current [A]
    regulation_percent: None without an impedance; falls: what each voltage of its secondary loses in it [%]
    made: of what units, None of one in a tank of its own
    primary, secondary: None in a book without rules of them; choices: where the node was opened
    """

    plate: Plate
    load_kva: float
    needed_kva: float
    trade_kva: float | None
    worst_leg: tuple[str, float]
    falls: Mapping[tuple[str, ...], float] = field(default_factory=dict[tuple[str, ...], float])
    regulation_percent: float | None = None
    primary: Side | None = None
    secondary: Side | None = None
    choices: tuple[PrimaryChoice, ...] = ()
    made: Made | None = None
    behind: list[Behind] = field(default_factory=list)

    @property
    def stacked(self) -> bool:
        """Whether its output stands on its input, as an autotransformer's does."""
        return self.made is not None and self.made.stacked

    @property
    def loading_percent(self) -> float:
        """Its load, of its rating [%]."""
        return self.load_kva / self.plate.kva * 100
