"""The full-load-amps tool: kVA, kW or amperes, one into the others."""

from __future__ import annotations

import math

from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, KVA, KW, PART, VOLTS, one_number
from voltaje.message import Figure, Message
from voltaje.sheet import Sheet
from voltaje.tools.conductors import OfABook, exactly, standing
from voltaje.tools.tool import Answered, Group, Head, Tool

_SINGLE, _THREE = Formula("kva * 1000 / volts"), Formula("kva * 1000 / (sqrt(3) * volts)")
_KVA_SINGLE, _KVA_THREE = Formula("volts * amps / 1000"), Formula("sqrt(3) * volts * amps / 1000")
_INPUT = Formula("kw / (power_factor * efficiency)")
_OUTPUT = Formula("kva * power_factor * efficiency")

_LOAD, _SUPPLY = Message("Load"), Message("Supply")
_PHASES = 3


class FullLoadAsked(OfABook):
    """What the current of a load is asked by: one of kVA, kW and A."""

    kva: float | None = declared(KVA, "apparent power; one of kva, kw, amps", "Apparent power", _LOAD, "kVA")
    kw: float | None = declared(KW, "real power; of a motor or converter, what it gives", "Real power", _LOAD, "kW")
    amps: float | None = declared(AMPS, "current per line", "Current", _LOAD, "A")
    power_factor: float = declared(PART, "lagging", "Power factor", _LOAD, shown=1, default=1.0)
    efficiency: float = declared(
        PART, "output over input; 1 where the load's own power is given", "Efficiency", _LOAD, shown=1, default=1.0
    )
    volts: float = declared(VOLTS, "line to line on three phase", "Volts", _SUPPLY, "V", required=True)
    phases: int = declared(one_number(1, _PHASES), "1 or 3", "Phases", _SUPPLY, shown=1)


def solve(asked: FullLoadAsked) -> Answered:
    """Return kVA, kW and amperes. Raises InputError unless exactly one of them is given."""
    given = [key for key in ("kva", "kw", "amps") if getattr(asked, key) is not None]
    if len(given) != 1:
        message = Message("give one of kVA, kW and A") if not given else Message("give only one of kVA, kW and A")
        raise InputError(given[1] if given else "kva", message)
    sheet, rule = Sheet(), asked.book.load_rule
    three = asked.phases == _PHASES
    if asked.amps is not None:
        because = _root_three(three)
        kva = sheet.apply(
            _KVA_THREE if three else _KVA_SINGLE,
            Message("Apparent power"),
            "kVA",
            rule,
            because,
            volts=asked.volts,
            amps=asked.amps,
        )
        amps = asked.amps
    else:
        kva = (
            asked.kva
            if asked.kva is not None
            else sheet.apply(
                _INPUT,
                Message("Apparent power"),
                "kVA",
                rule,
                Message("what it gives, over power factor and efficiency"),
                kw=asked.kw or 0.0,
                power_factor=asked.power_factor,
                efficiency=asked.efficiency,
            )
        )
        amps = sheet.apply(
            _THREE if three else _SINGLE, Message("Current"), "A", rule, _root_three(three), kva=kva, volts=asked.volts
        )
    kw = (
        asked.kw
        if asked.kw is not None
        else sheet.apply(
            _OUTPUT,
            Message("Real power"),
            "kW",
            rule,
            None,
            kva=kva,
            power_factor=asked.power_factor,
            efficiency=asked.efficiency,
        )
    )
    other = kva * 1000 / (asked.volts if three else math.sqrt(3) * asked.volts)
    amps_else = Figure(other, "A", 1)
    wrong = Message("on three phases of the same volts it would be {amps}", amps=amps_else)
    if three:
        wrong = Message("as single phase it would be {amps}: the common error is √3", amps=amps_else)
    heads = (
        Head(Message("Current"), Figure(amps, "A", 1), "", wrong),
        Head(Message("Apparent power"), Figure(kva, "kVA", 2), main=False),
        Head(Message("Real power"), Figure(kw, "kW", 2), main=False),
    )
    result = {"amps": amps, "kva": kva, "kw": kw}
    return Answered(
        asked.book, result, sheet.steps, (), heads, {"other": other, "asked": asked}.copy, (_node(asked, amps),)
    )


def _root_three(three: bool) -> Message | None:
    return Message("three lines share the load, 120° apart: √3") if three else None


def _node(asked: FullLoadAsked, amps: float) -> dict[str, object]:
    load = {"kind": "general", "rating": f"{exactly(amps)} A", **standing(asked.volts, asked.phases, asked.book)}
    return {"kind": "load", "name": "Load", "load": {**load, "power_factor": asked.power_factor}, "run": {}}


TOOL = Tool(
    name="full-load-amps",
    title=Message("Full-load amps"),
    question=Message("How many amps is so many kVA, kW?"),
    group=Group.LOAD,
    place=0,
    words=("current", "ampere", "kva", "kw", "three phase", "power", "root three", "convert", "220.5", "311.1"),
    asks=FullLoadAsked,
    solve=solve,
    example={
        "nec": {"kva": "75 kVA", "volts": "208 V", "phases": 3},
        "iec": {"kw": "11 kW", "volts": "400 V", "phases": 3, "power_factor": "0.85", "efficiency": "0.9"},
    },
    caution=Message("A nameplate's own amperes stand before any that are reckoned."),
)
