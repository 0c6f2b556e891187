"""Nodes, runs and loads of a job, typed; nothing here is computed yet."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, SIZE, TEMPERATURE, TEXT, VOLTS, number, one_of, one_word
from voltaje.path.board import BoardSpec, WaySpec
from voltaje.path.electrodes import ELECTRODES
from voltaje.path.kinds import Kind
from voltaje.path.load import LoadSpec
from voltaje.path.results import TestResults
from voltaje.path.run import RunSpec
from voltaje.path.transformer import TransformerSpec
from voltaje.quantity import read_ohms
from voltaje.systems import System

SUPPLIES = ("public", "private")


class Terminals(StrEnum):
    """What the terminals on a job are marked for."""

    MARKED_60 = "60"
    MARKED_75 = "75"
    UNMARKED = "unmarked"


USUAL_EARTHING = "TN-C-S"  # of a supply where nothing is said: the greater bonding


@dataclass(frozen=True)
class SupplySpec:
    """What is known of a source beside its system: what it can feed into a fault, its volts, how it is earthed.

    fault_ka: None is taken as infinite where something else limits it; measured_v: None is the nominal
    """

    fault_ka: float | None = declared(
        number(0, 300, "kA"),
        "bolted short circuit there, as the utility says; infinite if not given",
        "Short circuit",
        link="load",
        hint="kA",
    )
    measured_v: float | None = declared(
        VOLTS, "measured, line to line; nominal if not given", "Measured volts", link="load", hint="V"
    )
    electrodes: tuple[str, ...] = declared(
        ELECTRODES,
        "what is there, of: water pipe, steel, concrete-encased, rod, ring; all but the ring by default (NEC)",
        "Electrodes",
        link="load",
        family="nec",
        hint="pipe, steel, rod",
        default=(),
    )
    ring_size: str = declared(
        SIZE, "of a ground ring (NEC)", "Ring size", link="load", family="nec", hint="2", default=""
    )
    earthing: str = declared(
        one_word("TN-S", "TN-C-S", "TT"),
        "how the supply is earthed (IEC)",
        "Earthing system",
        shown=USUAL_EARTHING,
        link="load",
        family="iec",
        hint="TN-C-S",
    )
    ze_ohm: float | None = declared(
        number(0, 10_000, "Ω", read_ohms),
        "loop of the supply outside the installation; the usual greatest if not given (IEC)",
        "Ze",
        link="load",
        family="iec",
        hint="Ω",
    )
    electrode_ohm: float | None = declared(
        number(0, 10_000, "Ω", read_ohms),
        "of the installation's own electrode, TT (IEC)",
        "Electrode",
        link="load",
        family="iec",
        hint="Ω",
    )
    fuse_a: float | None = declared(
        AMPS, "of the distributor's fuse, the cut-out [A] (IEC)", "Cut-out fuse", link="load", family="iec", hint="A"
    )
    fuse_kind: str = declared(
        one_word("", "gG", "BS 88-3", "BS 3036"),
        "its standard; gG by default (IEC)",
        "Fuse is",
        shown="",
        link="load",
        family="iec",
        hint="gG",
    )
    neutral_mm2: str = declared(
        SIZE,
        "supply neutral of TN-C-S [mm²]; as the service's lines by default (IEC)",
        "Supply neutral",
        link="load",
        family="iec",
        hint="mm²",
        default="",
    )


@dataclass(frozen=True)
class Amendment:
    """A local amendment beside the book: a limit or a least size, and the reason for it."""

    limit: str
    value: str | float
    reason: str


@dataclass(frozen=True)
class Node:
    """A node of the path; the run, device first, comes from its parent.

    legs: of a board, transformer or dwelling that takes only some of its parent's
    place: in its board, of what is no load; assumed: places of the file that were filled without being said
    note: a person's own words about it; nothing is made of them; tests: results, None where none were entered
    """

    id: str
    kind: Kind
    name: str
    parent: str | None = None
    system: System | None = None
    run: RunSpec = field(default_factory=RunSpec)
    load: LoadSpec | None = None
    supply: SupplySpec = SupplySpec()
    transformer: TransformerSpec | None = None
    dwelling: dict[str, Any] | None = None
    board: BoardSpec = field(default_factory=BoardSpec)
    legs: tuple[str, ...] = ()
    place: WaySpec = field(default_factory=WaySpec)
    assumed: tuple[str, ...] = ()
    note: str = ""
    tests: TestResults | None = None

    @property
    def way(self) -> int:
        """Its place in its board [count], 0 where it takes the next one."""
        return self.load.way if self.load else self.place.way


@dataclass(frozen=True, kw_only=True)
class Job:
    """One site: its book, its practices, its nodes in the order they were entered.

    supply: public or private, for the IEC profiles' drop limits
    ambient_c: of runs that say none [°C]; solved: what an earlier solution gave
    """

    name: str = declared(TEXT, "of the job", default="")
    book: str = declared(TEXT, "full name with its edition, or the short name", default="")
    terminals: Terminals = declared(
        one_of(Terminals),
        "what terminals are marked for; unmarked: 60 °C for 100 A and less (NEC)",
        shown=Terminals.UNMARKED.value,
        default=Terminals.UNMARKED,
    )
    region: str = declared(TEXT, "whose conductor colours hold", default="")
    supply: str = declared(one_word(*SUPPLIES), "for the drop limits of IEC profiles", shown=SUPPLIES[0])
    ambient_c: float | None = declared(TEMPERATURE, "ambient of runs that say none, °C where no unit is given")
    amendments: tuple[Amendment, ...]
    solved: dict[str, Any] | None
    nodes: tuple[Node, ...]
    raw: dict[str, Any]

    def node(self, node_id: str) -> Node:
        """Return a node by its id. Raises KeyError."""
        return next(node for node in self.nodes if node.id == node_id)
