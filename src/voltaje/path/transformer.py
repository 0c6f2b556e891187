"""A transformer as entered: its plate, what it is made of, its taps, how it is protected and bonded."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from voltaje.path.fields import SYSTEM, TEXT, VOLTS, declared, number, one_number, one_of, one_word
from voltaje.systems import System


class MadeAs(StrEnum):
    """What a transformer is made of: a tank with windings of its own, single-phase units, or units stacked."""

    ISOLATING = "isolating"
    BANK = "bank"
    AUTO = "autotransformer"
    BOOST = "buck-boost"


@dataclass(frozen=True)
class TransformerSpec:
    """A transformer as entered; its secondary is a system of its own.

    kva: of a bank and of buck-boost units that of each unit; of an autotransformer what may go through it
    units: of a bank or of units in star three, in open delta two; 0 is three, or one on a single phase
    """

    kva: float = declared(
        "kva", number(0, 10_000, "kVA"), "its rating [kVA]; of a bank or of buck-boost units that of each one",
        required=True, label="kVA", link="kva",
    )  # fmt: skip
    secondary: System = declared(
        "secondary", SYSTEM, "the system that it makes", required=True, label="Secondary", link="load"
    )
    connection: str = declared(
        "connection", TEXT, "Dyn, Yyn, Dd, Yd; of buck-boost units boost or buck; by the secondary where not given",
        default="", label="Connection", link="load", hint="Dyn",
    )  # fmt: skip
    made_as: MadeAs = declared(
        "made_as", one_of(MadeAs), "isolating, a bank of single-phase units, an autotransformer, buck-boost units",
        default=MadeAs.ISOLATING, shown=MadeAs.ISOLATING.value, label="Made as", link="kva", hint="isolating",
    )  # fmt: skip
    units: int = declared(
        "units", one_number(2, 3), "of a bank, of units on three phases: 3 by default, 2 stand in open delta",
        default=0, label="Units", link="kva", hint="3",
    )  # fmt: skip
    unit_primary_v: float | None = declared(
        "unit_primary_v", VOLTS, "rated volts of each unit's primary, as it is joined", label="Unit, primary",
        link="kva", hint="V",
    )  # fmt: skip
    unit_secondary_v: float | None = declared(
        "unit_secondary_v", VOLTS, "rated volts of each unit's secondary, as it is joined", label="Unit, secondary",
        link="kva", hint="V",
    )  # fmt: skip
    growth: float = declared(
        "growth", number(-1e-9, 3), "share of growth on the load behind it", default=0.0, shown=0,
        label="Growth", link="kva", hint="0",
    )  # fmt: skip
    build: str = declared(
        "build", one_word("dry", "oil"), "dry, or oil-filled", default="dry", shown="dry", label="Kind", link="kva",
        hint="dry",
    )  # fmt: skip
    protection: str = declared(
        "protection", one_word("primary_only", "primary_and_secondary"), "devices on the primary alone, or on both "
        "sides (NEC)", default="primary_and_secondary", shown="primary_and_secondary", label="Protection",
        link="device", family="nec", hint="both sides",
    )  # fmt: skip
    inrush_multiple: float | None = declared(
        "inrush_multiple", number(0, 40), "switching-on current over the rated one; usual where not given",
        label="Inrush", link="device", hint="×",
    )  # fmt: skip
    curve: str = declared(
        "curve", one_word("B", "C", "D"), "type of the primary's breaker (IEC)", default="D", shown="D",
        label="Breaker type", link="device", family="iec", hint="D",
    )  # fmt: skip
    impedance_percent: float | None = declared(
        "impedance_percent", number(0, 30, "%"), "its impedance [%]", label="Impedance", link="inside", hint="%"
    )
    x_over_r: float | None = declared(
        "x_over_r", number(0, 100), "its X over R; usual where not given", label="X over R", link="inside", hint="3"
    )
    tap: float = declared(
        "tap", number(-25, 25, "%"), "the tap in use: per cent of its winding's volts", default=0.0, shown=0,
        label="Tap in use", link="inside", hint="%",
    )  # fmt: skip
    taps_on: str = declared(
        "taps_on", one_word("primary", "secondary"), "which winding has the taps", default="primary", shown="primary",
        label="Taps on", link="inside", hint="primary",
    )  # fmt: skip
    secondary_place: str = declared(
        "secondary_place", one_word("indoors", "outdoors", "industrial"),
        "where its secondary conductors are, for the rule that lets them be long (NEC)",
        default="indoors", shown="indoors", label="They are", link="secondary_conductor", family="nec", hint="indoors",
    )  # fmt: skip
    bond_at: str = declared(
        "bond_at", one_word("transformer", "board"), "where its neutral is bonded, once (NEC)",
        default="transformer", shown="transformer", label="The one bond is at the", link="bond", family="nec",
        hint="transformer",
    )  # fmt: skip
