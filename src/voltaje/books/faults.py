"""The words that books are asked about faults to earth in, and answer in. Nothing here knows a rule."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from voltaje.message import Message
from voltaje.sheet import Citation


class Protective(NamedTuple):
    """A protective conductor: as a core of the cable, apart from it, or its armour.

    size: "" for that which the rule gives by the line [mm²]; of armour its area, that of the cable where not given
    cores: of an armoured cable [count]
    """

    lies: str
    size: str
    cores: int


@dataclass(frozen=True)
class LoopAsked:
    """A circuit with the loop that a fault to earth goes round.

    earthing: TN-S, TN-C-S or TT; ze_ohm: of the supply, None for the usual greatest; electrode_ohm: of TT
    kind, device_a: type B, C, D or the standard of a fuse, its rating; feeds: sockets, fixed or distribution
    length_m: one way; of a ring the whole of it; seconds: in which it must open, None for the rule's
    rcd_ma: of an RCD ahead of it, None where there is none
    """

    earthing: str
    ze_ohm: float | None
    electrode_ohm: float | None
    kind: str
    device_a: float
    line: str
    protective: Protective
    insulation: str
    material: str
    feeds: str
    ring: bool
    length_m: float
    seconds: float | None
    rcd_ma: float | None


@dataclass(frozen=True)
class Loop:
    """A loop held against what opens it.

    ze_ohm, line_ohm, protective_ohm: its parts, hot; zs_ohm: all of it; cold_ohm: line and protective at 20 °C
    most_ohm: with which the device still opens in time, None where nothing shows that it does; most_rcd_ohm: the RCD
    measured_ohm: what a meter may read of cold conductors, for the device
    by: "device" or "RCD", "" where neither opens it in time; longest_m: as far as `by` still opens, None for nothing
    """

    ze_ohm: float
    ze_assumed: bool
    line_ohm: float
    protective_ohm: float
    zs_ohm: float
    cold_ohm: float
    protective: str
    most_ohm: float | None
    measured_ohm: float | None
    most_rcd_ohm: float | None
    required_s: float
    fault_a: float
    time_s: float | None
    by: str
    longest_m: float | None
    rule: Citation


class ResidualAsked(NamedTuple):
    """A circuit that may want an RCD.

    feeds: what its kind is; device_a: its rating; home: of a dwelling; hidden: in a wall or a ceiling, unarmoured
    own_electrode: the installation has its own (TT)
    """

    feeds: str
    device_a: float
    home: bool
    hidden: bool
    own_electrode: bool


class Residual(NamedTuple):
    """An RCD that a rule wants: its rating [mA], why, by which rule."""

    rated_ma: float
    why: Message
    rule: Citation


class ResidualType(NamedTuple):
    """The type of RCD that suits a load, every type that may stand there, why, by which rule."""

    name: str
    lawful: tuple[str, ...]
    why: Message
    rule: Citation


class TestLimits(NamedTuple):
    """What tests are held against: insulation at least [MΩ], an RCD's time at most [ms], R1 + R2 over the design."""

    least_mohm: float
    rcd_ms: float
    over_design: float


class HeatAsked(NamedTuple):
    """A protective conductor in a fault. k: None for the table's; kind, device_a: of what lets it through, "" and 0."""

    fault_a: float
    seconds: float
    k: float | None
    material: str
    insulation: str
    protective: Protective
    line: str
    kind: str
    device_a: float
    guarded: bool


@dataclass(frozen=True)
class Heat:
    """What a protective conductor must have to outlive a fault.

    energy: let through [A²s]; by_class: it is that of a usual class of breakers
    at_once: opened so soon that the let-through of the device decides; least_mm2: reckoned
    size, table: the next trade size, and the one by the line's size; taken: the smaller that is lawful
    armour_mm2: what the armour has, None where it is no armour
    """

    k: float
    energy: float
    by_class: bool
    at_once: bool
    least_mm2: float
    size: str
    table: str
    taken: str
    by: str
    armour_mm2: float | None
    rule: Citation
