"""The fault-loop tool: whether a fault to earth is opened in time, and how long the run may be."""

from __future__ import annotations

from voltaje.books.faults import Loop, LoopAsked, Protective
from voltaje.books.questions import Disconnections
from voltaje.design.loops import KINDS, Fields, LoopHere, said_of
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, FLAG, SIZE, Json, number, one_number, one_word
from voltaje.message import Figure, Message
from voltaje.quantity import read_ohms
from voltaje.sheet import Sheet
from voltaje.tools.conductors import IEC_MATERIALS, MATERIAL, TYPED_LENGTH, OfAnIecBook
from voltaje.tools.tool import Answered, Group, Head, Tool

_SUPPLY, _DEVICE, _CABLE = Message("Supply"), Message("What opens it"), Message("Cable")
_OHM = number(0, 10_000, "Ω", read_ohms)
LIES = {
    "core": Message("a core of the cable"),
    "separate": Message("apart from it"),
    "armour": Message("the cable's armour"),
}
INSULATIONS = ("PVC 70", "XLPE 90")


class LoopSheet(OfAnIecBook):
    """What a fault to earth is asked by."""

    earthing: str = declared(
        one_word("TN-S", "TN-C-S", "TT"), "how the supply is earthed", "Earthing system", _SUPPLY, shown="TN-C-S"
    )
    ze_ohm: float | None = declared(
        _OHM, "loop outside the installation, or at its board; the usual greatest where not given", "Ze", _SUPPLY, "Ω"
    )
    electrode_ohm: float | None = declared(
        _OHM, "of the installation's own electrode", "Electrode", _SUPPLY, "Ω", when=("earthing", ("TT",))
    )
    device_kind: str = declared(
        one_word(*KINDS), "type, or standard of a fuse", "Kind", _DEVICE, shown="B", titles=KINDS
    )
    device_a: float = declared(AMPS, "its rating", "Breaker or fuse", _DEVICE, "A", required=True)
    feeds: str = declared(
        one_word("sockets", "fixed", "distribution"),
        "sockets, fixed equipment, or distribution to a board",
        "Feeds",
        _DEVICE,
        shown="sockets",
    )
    rcd_ma: float | None = declared(number(0, 1000, "mA"), "rating of an RCD ahead of it", "RCD", _DEVICE, "mA")
    disconnection_s: float | None = declared(
        number(0, 10, "s"), "in which it must open; the rule's where not given", "Open within", _DEVICE, "s", more=True
    )
    line_mm2: str = declared(SIZE, "of the line", "Line", _CABLE, "mm²", required=True)
    protective_mm2: str = declared(
        SIZE, "of the protective conductor; by the line where not given", "Protective", _CABLE, "mm²", default=""
    )
    protective: str = declared(
        one_word(*LIES), "where the protective conductor lies", "Lies as", _CABLE, shown="core", titles=LIES
    )
    length: tuple[str, float] = declared(
        TYPED_LENGTH, "one way; of a ring the whole of it", "Length", _CABLE, required=True
    )
    ring: bool = declared(FLAG, "a ring final circuit", "Ring", _CABLE, shown=False)
    insulation: str = declared(one_word(*INSULATIONS), "of the line", "Insulation", _CABLE, shown="PVC 70", more=True)
    material: str = declared(
        MATERIAL, "of the conductors", "Metal", _CABLE, shown="Cu", titles=IEC_MATERIALS, more=True
    )
    cores: int = declared(one_number(2, 3, 4), "of an armoured cable", "Cores", _CABLE, shown=3, more=True)


def solve(asked: LoopSheet) -> Answered:
    """Return the loop held against what opens it. Raises InputError at its field."""
    book, sheet = asked.book, Sheet()
    loop = book.asked(Disconnections).loop(
        LoopAsked(
            asked.earthing,
            asked.ze_ohm,
            asked.electrode_ohm,
            asked.device_kind,
            asked.device_a,
            asked.line_mm2,
            Protective(asked.protective, asked.protective_mm2, asked.cores),
            asked.insulation,
            asked.material,
            asked.feeds,
            asked.ring,
            asked.length[1],
            asked.disconnection_s,
            asked.rcd_ma,
        ),
        sheet,
    )
    result: Json = {
        "zs_ohm": loop.zs_ohm,
        "max_zs_ohm": loop.most_ohm,
        "max_zs_measured_ohm": loop.measured_ohm,
        "max_loop_rcd_ohm": loop.most_rcd_ohm,
        "ze_ohm": loop.ze_ohm,
        "ze_assumed": loop.ze_assumed,
        "line_ohm": loop.line_ohm,
        "protective_ohm": loop.protective_ohm,
        "r1_r2_ohm": loop.cold_ohm,
        "protective_mm2": loop.protective,
        "fault_a": loop.fault_a,
        "time_s": loop.time_s,
        "required_s": loop.required_s,
        "by": loop.by or None,
        "holds": bool(loop.by),
        "longest_m": loop.longest_m,
    }
    facts = {"asked": asked, "loop": loop}
    return Answered(book, result, sheet.steps, _said(asked, loop), _heads(loop), facts.copy)


def _said(asked: LoopSheet, loop: Loop) -> list[Finding]:
    at = Fields("device_kind", "rcd_ma", "length")
    here = LoopHere(loop, asked.device_kind, usual=False, assumed=loop.ze_assumed, longest_m=loop.longest_m)
    found = said_of(here, asked.earthing == "TT", asked.rcd_ma, at, asked.book)
    if loop.ze_assumed:
        ze = Figure(loop.ze_ohm, "Ω", 2)
        message = Message("The supply's {ze} are assumed: ask the distributor, or measure.", ze=ze)
        found.append(Finding(Severity.WARN, "loop.ze_assumed", message, None, "ze_ohm"))
    return found


def _heads(loop: Loop) -> tuple[Head, ...]:
    most = Message("no figure for its time")
    bound = loop.most_rcd_ohm if loop.by == "RCD" else loop.most_ohm
    if bound is not None:
        most = Message("of {most} at most", most=Figure(bound, "Ω", 2))
    time = Message("not in {required}", required=Figure(loop.required_s, "s", 2))
    if loop.time_s is not None:
        time = Message("opened within {time}", time=Figure(loop.time_s, "s", 2))
    return (
        Head(Message("Zs, once round"), Figure(loop.zs_ohm, "Ω", 2), "", most),
        Head(Message("Current of the fault"), Figure(loop.fault_a, "A", 0), "", time),
        Head(
            Message("Longest run"),
            "–" if loop.longest_m is None else Figure(loop.longest_m, "m", 0),
            "",
            Message("the RCD opens it at any length") if loop.by == "RCD" else Message("that the device still opens"),
        ),
        Head(
            Message("R1 + R2, cold"),
            Figure(loop.cold_ohm, "Ω", 2),
            "",
            Message("expect this on the meter at 20 °C"),
            main=False,
        ),
    )


TOOL = Tool(
    name="fault-loop",
    title=Message("Fault loop"),
    question=Message("Does a fault to earth clear in time?"),
    group=Group.CIRCUIT,
    place=8,
    words=("zs", "ze", "loop", "impedance", "disconnection", "r1+r2", "earth fault", "rcd", "41.3", "411.4.4", "cpc"),
    asks=LoopSheet,
    solve=solve,
    example={
        "iec": {
            "earthing": "TN-C-S",
            "ze_ohm": 0.35,
            "device_kind": "B",
            "device_a": 32,
            "line_mm2": "2.5",
            "protective_mm2": "1.5",
            "length": "50 m",
            "ring": True,
        }
    },
    caution=Message("A loop test is live work: rated leads, covers on until ready. The licensed person decides."),
    families=("iec",),
)
