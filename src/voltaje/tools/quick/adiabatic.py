"""The adiabatic tool: what a protective conductor must have to outlive a fault."""

from __future__ import annotations

from voltaje.books.faults import Heat, HeatAsked, Protective
from voltaje.books.questions import Adiabatics
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS_OR_NONE, FLAG, SIZE, Json, number, one_number, one_word
from voltaje.message import Figure, Message
from voltaje.quantity import read_amps
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet
from voltaje.tools.conductors import IEC_MATERIALS, MATERIAL, OfAnIecBook
from voltaje.tools.quick.fault_loop import INSULATIONS, LIES
from voltaje.tools.tool import Answered, Group, Head, Tool

_FAULT, _CONDUCTOR = Message("Fault"), Message("Protective conductor")
_KINDS = {"": Message("not given"), "B": Message("type B"), "C": Message("type C")}


class HeatSheet(OfAnIecBook):
    """What a conductor in a fault is asked by."""

    fault_a: float = declared(number(0, 200_000, "A", read_amps), "that flows", "Current", _FAULT, "A", required=True)
    seconds: float = declared(number(0, 10, "s"), "until it is opened", "For", _FAULT, "s", required=True)
    device_kind: str = declared(
        one_word(*_KINDS), "of a breaker that opens at once", "Opened by", _FAULT, shown="", titles=_KINDS
    )
    device_a: float | None = declared(AMPS_OR_NONE, "its rating", "Rated", _FAULT, "A")
    protective: str = declared(one_word(*LIES), "where it lies", "Lies as", _CONDUCTOR, shown="core", titles=LIES)
    material: str = declared(MATERIAL, "its metal", "Metal", _CONDUCTOR, shown="Cu", titles=IEC_MATERIALS)
    insulation: str = declared(one_word(*INSULATIONS), "of the cable", "Insulation", _CONDUCTOR, shown="PVC 70")
    line_mm2: str = declared(
        SIZE, "of its line, for the table beside the equation", "Line", _CONDUCTOR, "mm²", default=""
    )
    k: float | None = declared(number(0, 300), "entered, in place of the table's", "k", _CONDUCTOR, more=True)
    guarded: bool = declared(
        FLAG, "apart from its lines, in conduit or trunking", "Guarded", _CONDUCTOR, shown=False, more=True
    )
    cores: int = declared(one_number(2, 3, 4), "of an armoured cable", "Cores", _CONDUCTOR, shown=3, more=True)


def solve(asked: HeatSheet) -> Answered:
    """Return the least protective conductor. Raises InputError at its field."""
    book, sheet = asked.book, Sheet()
    heat = book.asked(Adiabatics).heat(
        HeatAsked(
            asked.fault_a,
            asked.seconds,
            asked.k,
            asked.material,
            asked.insulation,
            Protective(asked.protective, "", asked.cores),
            asked.line_mm2,
            asked.device_kind,
            asked.device_a or 0.0,
            asked.guarded,
        ),
        sheet,
    )
    result: Json = {
        "k": heat.k,
        "energy_a2s": heat.energy,
        "min_mm2": heat.least_mm2,
        "size_mm2": heat.size or None,
        "table_mm2": heat.table or None,
        "take_mm2": heat.taken or None,
        "by": heat.by,
        "armour_mm2": heat.armour_mm2,
        "holds": heat.armour_mm2 is None or not exceeds(heat.least_mm2, heat.armour_mm2),
    }
    return Answered(book, result, sheet.steps, _said(heat), _heads(heat), {"asked": asked, "heat": heat}.copy)


def _said(heat: Heat) -> list[Finding]:
    found = []
    if heat.armour_mm2 is not None and exceeds(heat.least_mm2, heat.armour_mm2):
        message = Message(
            "The armour has {has}, and the fault asks for {least}.",
            has=Figure(heat.armour_mm2, "mm²", 1),
            least=Figure(heat.least_mm2, "mm²", 1),
        )
        mend = Message("A protective conductor beside it, or a core of the cable.")
        found.append(Finding(Severity.STOP, "protective.too_small", message, heat.rule, "line_mm2", mend))
    if heat.at_once:
        message = Message("Opened in under 0.1 s, what the device lets through decides: take its maker's figure.")
        if heat.by_class:
            message = Message("By what breakers of the usual class let through: its maker's figure goes before it.")
        found.append(Finding(Severity.WARN, "protective.let_through", message, heat.rule, "seconds"))
    return found


def _heads(heat: Heat) -> tuple[Head, ...]:
    least = Head(Message("Least"), Figure(heat.least_mm2, "mm²", 2), "", Message("√(I²t) ÷ k, k {k}", k=f"{heat.k:g}"))
    if heat.armour_mm2 is not None:
        has = Head(Message("The armour has"), Figure(heat.armour_mm2, "mm²", 0))
        return has, least
    why = Message("by the table of its line's size") if heat.by == "table" else Message("by the equation")
    heads = (Head(Message("Take"), heat.taken, "mm²", why), least)
    return (*heads, Head(Message("By the table"), heat.table, "mm²")) if heat.table else heads


TOOL = Tool(
    name="adiabatic",
    title=Message("Conductor in a fault"),
    question=Message("Does the protective conductor survive the fault?"),
    group=Group.CIRCUIT,
    place=9,
    words=("adiabatic", "k", "protective", "cpc", "i2t", "let-through", "54.7", "543.1.3", "armour", "earth conductor"),
    asks=HeatSheet,
    solve=solve,
    example={"iec": {"fault_a": "1.6 kA", "seconds": "0.4 s", "line_mm2": "16"}},
    caution=Message("A protective conductor that burns off leaves metal live: prove it dead before it is touched."),
    families=("iec",),
)
