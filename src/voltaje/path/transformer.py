"""A transformer as entered: its plate, what it is made of, its taps, how it is protected and bonded."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import SYSTEM, TEXT, VOLTS, number, one_number, one_of, one_word
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
        number(0, 10_000, "kVA"),
        "its rating [kVA]; of a bank or of buck-boost units that of each one",
        "kVA",
        required=True,
        link="kva",
    )
    secondary: System = declared(SYSTEM, "the system that it makes", "Secondary", required=True, link="load")
    connection: str = declared(
        TEXT,
        "Dyn, Yyn, Dd, Yd; of buck-boost units boost or buck; by the secondary where not given",
        "Connection",
        link="load",
        hint="Dyn",
        default="",
    )
    made_as: MadeAs = declared(
        one_of(MadeAs),
        "isolating, a bank of single-phase units, an autotransformer, buck-boost units",
        "Made as",
        shown=MadeAs.ISOLATING.value,
        link="kva",
        hint="isolating",
        default=MadeAs.ISOLATING,
    )
    units: int = declared(
        one_number(2, 3),
        "of a bank, of units on three phases: 3 by default, 2 stand in open delta",
        "Units",
        link="kva",
        hint="3",
        default=0,
    )
    unit_primary_v: float | None = declared(
        VOLTS, "rated volts of each unit's primary, as it is joined", "Unit, primary", link="kva", hint="V"
    )
    unit_secondary_v: float | None = declared(
        VOLTS, "rated volts of each unit's secondary, as it is joined", "Unit, secondary", link="kva", hint="V"
    )
    growth: float = declared(
        number(-1e-9, 3), "share of growth on the load behind it", "Growth", shown=0, link="kva", hint="0", default=0.0
    )
    build: str = declared(one_word("dry", "oil"), "dry, or oil-filled", "Kind", shown="dry", link="kva", hint="dry")
    protection: str = declared(
        one_word("primary_only", "primary_and_secondary"),
        "devices on the primary alone, or on both sides (NEC)",
        "Protection",
        shown="primary_and_secondary",
        link="device",
        family="nec",
        hint="both sides",
    )
    inrush_multiple: float | None = declared(
        number(0, 40),
        "switching-on current over the rated one; usual where not given",
        "Inrush",
        link="device",
        hint="×",
    )
    curve: str = declared(
        one_word("B", "C", "D"),
        "type of the primary's breaker (IEC)",
        "Breaker type",
        shown="D",
        link="device",
        family="iec",
        hint="D",
    )
    impedance_percent: float | None = declared(
        number(0, 30, "%"), "its impedance [%]", "Impedance", link="inside", hint="%"
    )
    x_over_r: float | None = declared(
        number(0, 100), "its X over R; usual where not given", "X over R", link="inside", hint="3"
    )
    tap: float = declared(
        number(-25, 25, "%"),
        "the tap in use: per cent of its winding's volts",
        "Tap in use",
        shown=0,
        link="inside",
        hint="%",
        default=0.0,
    )
    taps_on: str = declared(
        one_word("primary", "secondary"),
        "which winding has the taps",
        "Taps on",
        shown="primary",
        link="inside",
        hint="primary",
    )
    secondary_place: str = declared(
        one_word("indoors", "outdoors", "industrial"),
        "where its secondary conductors are, for the rule that lets them be long (NEC)",
        "They are",
        shown="indoors",
        link="secondary_conductor",
        family="nec",
        hint="indoors",
    )
    bond_at: str = declared(
        one_word("transformer", "board"),
        "where its neutral is bonded, once (NEC)",
        "The one bond is at the",
        shown="transformer",
        link="bond",
        family="nec",
        hint="transformer",
    )
