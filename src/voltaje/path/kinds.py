"""The kinds of nodes and of loads: each with its words and the key of its glyph.

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
    SIGN = "sign"
    WELDER = "welder"
    GENERAL = "general"


class Said(NamedTuple):
    """A kind in words, and the key of its glyph."""

    words: str
    glyph: str


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
LOAD_KINDS: dict[LoadKind, Said] = {
    LoadKind.LIGHTING: Said("lighting", "lamp"),
    LoadKind.SOCKETS: Said("sockets", "socket"),
    LoadKind.KITCHEN: Said("kitchen equipment", "appliance"),
    LoadKind.HEATING: Said("heating", "heater"),
    LoadKind.COOLING: Said("cooling", "cooler"),
    LoadKind.MOTOR: Said("motor", "motor"),
    LoadKind.WATER_HEATER: Said("storage water heater", "heater"),
    LoadKind.CHARGER: Said("vehicle charger", "charger"),
    LoadKind.RANGE: Said("range", "appliance"),
    LoadKind.DRYER: Said("dryer", "appliance"),
    LoadKind.SIGN: Said("sign", "lamp"),
    LoadKind.WELDER: Said("welder", "appliance"),
    LoadKind.GENERAL: Said("load", "appliance"),
}
BOARD_WORDS = {"nec": "panel", "iec": "board"}  # what the trade calls a board, by family of books
FEEDING = (Kind.BOARD, Kind.TRANSFORMER)  # what has circuits of its own below it, and a run to it
EMPTY = (Kind.SPARE, Kind.SPACE)  # a place in a board: with a breaker that feeds nothing, or without one
HOUSEHOLD = (LoadKind.RANGE, LoadKind.DRYER)  # what the household tables of demand are for


def said_of(kind: str) -> Said:
    """Return a node's or load's kind in words, with its glyph; the kind itself where it is not known."""
    if kind in set(LoadKind):
        return LOAD_KINDS[LoadKind(kind)]
    return NODE_KINDS[Kind(kind)] if kind in set(Kind) else Said(kind, "appliance")
