"""What an autotransformer is not: isolating; what follows of it, where codes restrict it, its device."""

from __future__ import annotations

from typing import Protocol

from voltaje.books.questions import Book, Transformers
from voltaje.design.windings.bank import MOST_PERCENT
from voltaje.errors import OutsideTable
from voltaje.findings import Finding, Severity
from voltaje.inputs.shapes import Json
from voltaje.message import Figure, Message
from voltaje.path.transformer import MadeAs
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet
from voltaje.systems import system_of

NEAR_PERCENT = 2.5  # of what is wanted: common practice
_OF_SYSTEM = 0.03  # of the volts wanted: nearer names are one system


class Fed(Protocol):
    """What is asked of an autotransformer, as far as it matters here."""

    @property
    def book(self) -> Book:
        """The book that is asked."""

    @property
    def from_v(self) -> float:
        """What it is fed with [V]."""

    @property
    def to_v(self) -> float | None:
        """What is wanted [V]."""

    @property
    def kva(self) -> float | None:
        """Of the unit, as a two-winding transformer [kVA]; None where it is not known."""


def said_of(asked: Fed, result: Json, sheet: Sheet) -> list[Finding]:
    """Say what an autotransformer is not: no isolation; what its faults give; how it is protected."""
    rule = asked.book.rule("auto_restricted")
    said = [
        Finding(
            Severity.WARN,
            "auto.not_isolated",
            Message(
                "No isolation: one earth holds for both sides. If the common part opens, or the series is shorted, "
                "the load gets the supply's {whole} in place of its {output}.",
                whole=Figure(asked.from_v, "V", 0),
                output=Figure(result["output_v"], "V", 0),
            ),
            rule,
            "to_v",
        ),
        Finding(
            Severity.NOTE,
            "auto.fault",
            Message(
                "It lets more through in a fault than a unit of two windings: only its series part holds back, {share} "
                "of the load's base.",
                share=Figure(result["built_percent"], "%", 1),
            ),
            None,
            "load_va",
        ),
    ]
    said.append(_needed(asked, result))
    try:
        if result["input_a"] is None:
            raise OutsideTable("load_va", Message("no load is given"))
        side = asked.book.asked(Transformers).side(result["input_a"], "primary", "autotransformer", sheet)
    except OutsideTable:
        result["device_max_a"] = None  # under the smallest standard rating
    else:
        words = Message(
            "Device ahead of it: {most} at most, none in the common winding.", most=Figure(side.most_a, "A")
        )
        said.append(Finding(Severity.NOTE, "auto.device", words, side.rule, "from_v"))
        result["device_max_a"] = side.most_a
    off = (result["output_v"] / asked.to_v - 1) * 100 if asked.to_v else 0.0
    if exceeds(abs(off), NEAR_PERCENT):
        message = Message(
            "It gives {volts}, {off} off the {wanted} wanted.",
            volts=Figure(result["output_v"], "V", 1),
            off=Figure(off, "%", 1),
            wanted=Figure(asked.to_v or 0.0, "V", 1),
        )
        mend = Message("Another tap, another unit, or a boost beside it.")
        said.insert(0, Finding(Severity.WARN, "auto.not_near", message, None, "to_v", mend))
    if result.get("winding_percent", 0.0) > MOST_PERCENT:
        message = Message(
            "The winding stands at {percent} of its rating.", percent=Figure(result["winding_percent"], "%")
        )
        said.insert(0, Finding(Severity.STOP, "auto.over_rating", message, None, "from_v"))
    return [*_over_their_amperes(asked, result), *said]


def _over_their_amperes(asked: Fed, result: Json) -> list[Finding]:
    """Hold each winding's current against its own rating."""
    hardest = max(result.get("windings") or [], key=lambda each: each["percent"], default=None)
    if hardest is None or not exceeds(hardest["percent"], 100.0):
        return []
    message = Message(
        "Its {winding} winding carries {amps}, rated {rated}: {percent}.",
        winding=hardest["winding"],
        amps=Figure(hardest["amps"], "A", 1),
        rated=Figure(hardest["rated_a"], "A", 1),
        percent=Figure(hardest["percent"], "%"),
    )
    mend = Message(
        "A unit of {kva} or more carries it, or less load.",
        kva=Figure((asked.kva or 0.0) * hardest["percent"] / 100, "kVA", 2),
    )
    return [Finding(Severity.STOP, "auto.overloaded", message, None, "load_va", mend)]


def _needed(asked: Fed, result: Json) -> Finding:
    """Say where a code restricts it and what it then needs. From memory."""
    rule = asked.book.rule("auto_restricted")
    if asked.book.terms.family == "nec":
        message = Message(
            "A branch circuit hangs on it only with its grounded conductor joined to the supply's; "
            "208 to 240 V or back, and in industry 480 to 600 V or back, may be without."
        )
        return Finding(Severity.NOTE, "auto.restricted", message, rule, "to_v")
    message = Message(
        "Its common terminal is joined to the neutral where there is one; it never makes a safety extra-low voltage."
    )
    if result["output_v"] > asked.from_v:
        message = Message(
            "Its common terminal is joined to the neutral where there is one; as it steps up, a "
            "switch opens every live conductor before it, and no IT supply feeds it."
        )
    return Finding(Severity.NOTE, "auto.restricted", message, rule, "to_v")


def node_of(wye: bool, volts: tuple[float, float], load_va: float) -> Json | None:
    """Return a three-phase autotransformer as a transformer of a job; None where its volts are no system's.

    wye: three in star, with the supply's neutral; else two in open delta; volts: of the supply and the load
    """
    secondary = system_of(volts[1], 3, neutral=wye, within=_OF_SYSTEM)
    if secondary is None:
        return None
    entries = {"made_as": MadeAs.AUTO.value, "kva": f"{load_va / 1000:g}", "secondary": secondary.name}
    made = entries if wye else {**entries, "units": "2"}
    return {"kind": "transformer", "name": "Autotransformer", "transformer": made}
