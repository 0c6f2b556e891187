"""The RCD of a circuit down a path: as entered, as one ahead of it serves, or named where a rule wants one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from voltaje.books.faults import ResidualAsked
from voltaje.books.questions import Book, Residuals
from voltaje.design.chain import RunDesign
from voltaje.errors import NotCovered
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind
from voltaje.path.model import Node, SupplySpec
from voltaje.rounding import exceeds
from voltaje.sheet import Citation

_OWN, _COMBINED = "TT", "TN-C-S"
_IN_WALLS = ("A", "100", "101", "102", "103")  # methods of cables in or above what is insulated
_ARMOURED = "armoured"


class ResidualFrom(NamedTuple):
    """What lies ahead of a node: how its supply is earthed, the least RCD [mA], None where there is none."""

    earthing: str
    rated_ma: float | None = None


NOTHING_AHEAD = ResidualFrom("")


@dataclass(frozen=True)
class ResidualHere:
    """The RCD that guards a circuit.

    rated_ma, type: its rating and type; here: it stands in this circuit, else ahead of it
    entered: by a person, else named by `rule` because of `why`
    """

    rated_ma: float
    type: str
    here: bool
    entered: bool
    why: Message | None
    rule: Citation | None


def begin(supply: SupplySpec) -> ResidualFrom:
    """Return what lies ahead at a source."""
    return ResidualFrom(supply.earthing)


def judge(
    node: Node, design: RunDesign | None, above: ResidualFrom, home: bool, book: Book
) -> tuple[ResidualFrom, ResidualHere | None, list[Finding]]:
    """Return what lies ahead of what follows, the RCD of a circuit, and what is to be said of it.

    home: it hangs on the board of a household
    """
    mine = node.run.rcd_ma
    ahead = min((each for each in (mine, above.rated_ma) if each), default=None)
    further = above._replace(rated_ma=ahead)
    try:
        rules = book.asked(Residuals)
    except NotCovered:
        return further, None, []
    if node.load is None or design is None:
        return further, None, []
    kind = Kind.INVERTER.value if node.kind is Kind.INVERTER else node.load.counts_as.value
    hidden = design.run.method in _IN_WALLS and design.run.cable != _ARMOURED
    own = above.earthing == _OWN
    needed = rules.needed(ResidualAsked(kind, design.choice.device_a, home, hidden, own))
    suits, found, at = rules.type_for(kind), list[Finding](), f"{node.id}.run"
    # One that lies further ahead may be coarse: a finer one is named for the circuit itself.
    if needed and mine and ahead and exceeds(ahead, needed.rated_ma):
        message = Message(
            "{why}: an RCD of {wanted} is wanted, {rated} stands there.",
            why=needed.why,
            wanted=Figure(needed.rated_ma, "mA"),
            rated=Figure(ahead, "mA"),
        )
        found.append(Finding(Severity.STOP, "rcd.needed", message, needed.rule, f"{at}.rcd_ma"))
    if node.run.rcd_type and node.run.rcd_type not in suits.lawful:
        message = Message("Type {type} may be blinded here: {why}.", type=node.run.rcd_type, why=suits.why)
        mend = Message("Take type {type}.", type=suits.name)
        found.append(Finding(Severity.STOP, "rcd.type", message, suits.rule, f"{at}.rcd_type", mend))
    pen = book.rule("open_pen")
    if kind == "charger" and pen and above.earthing == _COMBINED:
        message = Message("Outdoors on TN-C-S a lost PEN makes the vehicle live.")
        mend = Message("A device that opens on a lost PEN, or an electrode of its own.")
        found.append(Finding(Severity.NOTE, "charger.open_pen", message, pen, f"{at}.device_kind", mend))
    rated = ahead if mine or (ahead and not (needed and exceeds(ahead, needed.rated_ma))) else None
    if rated is None and needed is None:
        return further, None, found
    named = rated is None
    here = ResidualHere(
        rated or (needed.rated_ma if needed else 0.0),
        node.run.rcd_type or suits.name,
        bool(mine) or named,
        not named,
        needed.why if needed else None,
        needed.rule if needed else None,
    )
    return further, here, found
