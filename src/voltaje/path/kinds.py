"""The kinds of nodes and of loads: each with its words, the key of its glyph, and what holds of every load of it.

The words of the walk-through line lie in `line/words/`, by kind; what a kind is by rule is its book's to say.
"""

from __future__ import annotations

from enum import StrEnum
from typing import NamedTuple


class Kind(StrEnum):
    """What a node is."""

    SOURCE = "source"
    BOARD = "board"
    TRANSFORMER = "transformer"
    LOAD = "load"
    INVERTER = "inverter"
    DWELLING = "dwelling"
    SPARE = "spare"
    SPACE = "space"


class LoadKind(StrEnum):
    """What a load is, as demand rules tell loads apart."""

    LIGHTING = "lighting"
    SOCKETS = "sockets"
    KITCHEN = "kitchen"
    HEATING = "heating"
    COOLING = "cooling"
    MOTOR = "motor"
    WATER_HEATER = "water_heater"
    CHARGER = "charger"
    RANGE = "range"
    DRYER = "dryer"
    SHOWER = "shower"
    SIGN = "sign"
    WELDER = "welder"
    GENERAL = "general"


class Said(NamedTuple):
    """A kind in words, and the key of its glyph."""

    words: str
    glyph: str


class Traits(NamedTuple):
    """A kind of load in words, the key of its glyph, and what holds of every load of it.

    resistive: it draws and heats as V/Vr and (V/Vr)²; motor: it is one, or has one that counts among motors
    household: whether the household tables of demand are for it; its own circuit is a single phase then
    continuous: topic of the clause by which its own circuit takes it as continuous, "" where none does (NEC)
    feeds_so: whether what feeds it takes it as continuous by that clause too
    outlet: the use that limits of drop and sizes tell apart: lighting, sockets, other
    own_circuit: topic of the clause by which no two share a circuit, "" where none does (NEC)
    at_home: what household practice takes it for (IEC)
    """

    words: str
    glyph: str = "appliance"
    resistive: bool = False
    motor: bool = False
    household: bool = False
    continuous: str = ""
    feeds_so: bool = False
    outlet: str = "other"
    own_circuit: str = ""
    at_home: str = "other"


NODE_KINDS: dict[Kind, Said] = {
    Kind.SOURCE: Said("source", "source"),
    Kind.BOARD: Said("board", "board"),
    Kind.TRANSFORMER: Said("transformer", "transformer"),
    Kind.LOAD: Said("load", "appliance"),
    Kind.INVERTER: Said("inverter", "inverter"),
    Kind.DWELLING: Said("dwelling", "dwelling"),
    Kind.SPARE: Said("spare", "spare"),
    Kind.SPACE: Said("space", "space"),
}
LOAD_KINDS: dict[LoadKind, Traits] = {
    LoadKind.LIGHTING: Traits("lighting", "lamp", outlet="lighting", at_home="lighting"),
    LoadKind.SOCKETS: Traits("sockets", "socket", outlet="sockets", at_home="radial sockets"),
    LoadKind.KITCHEN: Traits("kitchen equipment"),
    LoadKind.HEATING: Traits("heating", "heater", resistive=True, continuous="heating_continuous", at_home="heating"),
    LoadKind.COOLING: Traits("cooling", "cooler", motor=True, at_home="heat pump"),
    LoadKind.MOTOR: Traits("motor", "motor", motor=True),
    LoadKind.WATER_HEATER: Traits(
        "storage water heater", "heater", resistive=True, continuous="water_heater_continuous", at_home="water heater"
    ),
    LoadKind.CHARGER: Traits(
        "vehicle charger",
        "charger",
        continuous="charger_continuous",
        feeds_so=True,
        own_circuit="charger_own_circuit",
        at_home="charger",
    ),
    LoadKind.RANGE: Traits("range", resistive=True, household=True, at_home="cooker"),
    LoadKind.DRYER: Traits("dryer", resistive=True, household=True),
    LoadKind.SHOWER: Traits("instantaneous shower", "heater", resistive=True, at_home="shower"),
    LoadKind.SIGN: Traits("sign", "lamp", continuous="sign_continuous", feeds_so=True),
    LoadKind.WELDER: Traits("welder"),
    LoadKind.GENERAL: Traits("load"),
}
BOARD_WORDS = {"nec": "panel", "iec": "board"}  # what the trade calls a board, by family of books
FEEDING = (Kind.BOARD, Kind.TRANSFORMER)  # what has circuits of its own below it, and a run to it
EMPTY = (Kind.SPARE, Kind.SPACE)  # a place in a board: with a breaker that feeds nothing, or without one
HOUSEHOLD = tuple(kind for kind, traits in LOAD_KINDS.items() if traits.household)


def said_of(kind: str) -> Said:
    """Return a node's or load's kind in words, with its glyph; the kind itself where it is not known."""
    if kind in set(LoadKind):
        traits = LOAD_KINDS[LoadKind(kind)]
        return Said(traits.words, traits.glyph)
    return NODE_KINDS[Kind(kind)] if kind in set(Kind) else Said(kind, "appliance")


def traits_of(kind: str) -> Traits:
    """Return what holds of every load of a kind; of what is no load (a house, a receptacle's share) nothing special."""
    return LOAD_KINDS[LoadKind(kind)] if kind in set(LoadKind) else Traits(kind)
