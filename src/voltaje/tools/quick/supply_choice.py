"""The supply-choice tool: single phase or three, and why."""

from __future__ import annotations

from typing import NamedTuple

from voltaje.design.balancing import Balanced, Circuit, even_out, places_of
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import AMPS, NAMEPLATE, TEXT, Json, one_number, one_word
from voltaje.message import Figure, Message
from voltaje.quantity import Rating
from voltaje.sheet import Sheet
from voltaje.systems import SYSTEMS, THREE_PHASE, System
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import OfABook
from voltaje.tools.tool import Answered, Group, Head, Tool

_SUPPLY, _LOADS = Message("Supply"), Message("Loads")
_OVER_ONE_POLE_VA = 1920  # 80 % of a 120 V 20 A circuit: above it a load stands between two legs (common practice)

_SUM = Formula("sum(loads)")
_SINGLE, _THREE = Formula("va / volts"), Formula("va / (sqrt(3) * volts)")


class _Family(NamedTuple):
    """The systems of a family: single phase, three-phase, and volts between which a single-phase load counts."""

    single: System
    three: System


_FAMILIES = {
    "120/240": _Family(SYSTEMS["120/240 1ph 3w"], SYSTEMS["208Y/120"]),
    "230/400": _Family(SYSTEMS["230 1ph"], SYSTEMS["230/400"]),
}


class LoadItem(Asked):
    """A load of the place."""

    name: str = declared(TEXT, "what it is", "Name", shown="")
    load: Rating = declared(NAMEPLATE, "what it draws: VA, W, kVA or kW", "Load", required=True)
    phases: int = declared(one_number(1, 3), "3 where it only runs on three", "Phases", shown=1)


class SupplyAsked(OfABook):
    """What the choice of a supply is asked by."""

    system_family: str = declared(
        one_word(*_FAMILIES),
        "the country's volts",
        "Volts",
        _SUPPLY,
        by_family={"nec": "120/240", "iec": "230/400"},
        default="",
    )
    single_phase_limit_a: float | None = declared(
        AMPS, "greatest single-phase supply to be had; the usual one where not given", "Single phase to", _SUPPLY, "A"
    )
    loads: list[LoadItem] = many(LoadItem, _LOADS, Message("load"), required=True)


def solve(asked: SupplyAsked) -> Answered:
    """Return single phase or three, with its reason. Raises InputError at the load's field."""
    book, sheet = asked.book, Sheet()
    family = _FAMILIES[asked.system_family or ("230/400" if book.terms.family == "iec" else "120/240")]
    each = [_va(item, at) for at, item in enumerate(asked.loads)]
    total = sheet.apply(_SUM, Message("Together"), "VA", book.load_rule, None, loads=each)
    single = sheet.apply(
        _SINGLE, Message("On single phase"), "A", book.load_rule, None, va=total, volts=family.single.line_to_line_v
    )
    three = sheet.apply(
        _THREE,
        Message("On three phases, evened out"),
        "A",
        book.load_rule,
        Message("√3"),
        va=total,
        volts=family.three.line_to_line_v,
    )
    limit = asked.single_phase_limit_a or book.usual_single_phase_a
    spread = {system.name: _spread(asked, each, system) for system in family}
    needs = [item.name or f"load {at + 1}" for at, item in enumerate(asked.loads) if item.phases == THREE_PHASE]
    fullest = single if needs else max(single, spread[family.single.name].largest_a)
    phases, reason = _chosen(needs, fullest, limit, asked.single_phase_limit_a is None)
    system = family.three if phases == THREE_PHASE else family.single
    chosen = spread[system.name]
    result: Json = {
        "phases": phases,
        "system": system.name,
        "reason": str(reason),
        "amps_single": single,
        "amps_three": three,
        "amps_by_leg": chosen.amps,
        "fullest_leg_a": {"single": spread[family.single.name].largest_a, "three": spread[family.three.name].largest_a},
        "single_phase_limit_a": limit,
    }
    heads = (
        Head(
            Message("Take"),
            "3-phase" if phases == THREE_PHASE else "single phase",
            "",
            Message("{system}", system=system.name),
        ),
        Head(
            Message("On single phase"),
            Figure(single, "A", 1),
            "",
            Message("{limit} to be had", limit=Figure(limit, "A")),
        ),
        Head(
            Message("On three"),
            Figure(three, "A", 1),
            "",
            Message("fullest leg {leg}", leg=Figure(spread[family.three.name].largest_a, "A", 1)),
        ),
    )
    facts = {"asked": asked, "reason": reason, "spread": spread, "family": family, "limit": limit, "phases": phases}
    return Answered(book, result, sheet.steps, _near(phases, fullest, limit), heads, facts.copy)


_NEAR = 0.9  # of a limit: what is nearer to it is said


def _near(phases: int, amps: float, limit: float) -> list[Finding]:
    """Return what there is to say of a single phase that is all but filled."""
    if phases == THREE_PHASE or amps < _NEAR * limit:
        return []
    message = Message(
        "{amps} of the {limit} that there are: what comes later may ask for three phases.",
        amps=Figure(amps, "A", 1),
        limit=Figure(limit, "A"),
    )
    mend = Message("Ask the utility what three phases cost now, and after.")
    return [Finding(Severity.WARN, "supply.near_limit", message, None, "single_phase_limit_a", mend)]


def _va(item: LoadItem, at: int) -> float:
    if item.load.unit != "VA":
        raise InputError(f"loads[{at}].load", Message("give it in VA, W, kVA or kW"))
    return item.load.value


def _chosen(needs: list[str], amps: float, limit: float, usual: bool) -> tuple[int, Message]:
    """Return the phases, and why."""
    if needs:
        return THREE_PHASE, Message("{names} only runs on three phases: that decides.", names=", ".join(needs))
    had = Figure(limit, "A")
    if amps > limit:
        words = (
            Message(
                "{amps} are over the {limit} that is usual on single phase: three phases.",
                amps=Figure(amps, "A", 1),
                limit=had,
            )
            if usual
            else Message(
                "{amps} are over the {limit} to be had on single phase: three phases.",
                amps=Figure(amps, "A", 1),
                limit=had,
            )
        )
        return THREE_PHASE, words
    return 1, Message(
        "{amps} fit the {limit} of a single phase, and nothing needs three.", amps=Figure(amps, "A", 1), limit=had
    )


def _spread(asked: SupplyAsked, each: list[float], system: System) -> Balanced:
    """Return the loads on a system's legs, evened out; a three-phase load on a single-phase system on all it has."""
    order = [leg for leg, _angle in system.legs]
    to_neutral = system.line_to_neutral_v or system.line_to_line_v
    circuits = []
    for at, (item, va) in enumerate(zip(asked.loads, each, strict=True)):
        poles = len(order)
        if item.phases != THREE_PHASE:
            between = to_neutral < _UNDER_200_V and va > _OVER_ONE_POLE_VA
            poles = min(2 if between else 1, len(order))
        may = places_of(poles, system)
        circuits.append(Circuit(at, va / poles / to_neutral, may[at % len(may)], may, poles == 1))
    return even_out(circuits, system)


_UNDER_200_V = 200

TOOL = Tool(
    name="supply-choice",
    title=Message("Single or three phase"),
    question=Message("Single phase or three?"),
    group=Group.SUPPLY,
    place=0,
    words=("single phase", "three phase", "supply", "service", "utility", "application", "phases"),
    asks=SupplyAsked,
    solve=solve,
    example={
        "nec": {
            "loads": [
                {"name": "house", "load": "18 kVA"},
                {"name": "heat pump", "load": "7 kVA"},
                {"name": "charger", "load": "11.5 kVA"},
            ]
        },
        "iec": {
            "loads": [
                {"name": "house", "load": "9 kVA"},
                {"name": "workshop saw", "load": "4 kVA", "phases": 3},
                {"name": "charger", "load": "7.4 kVA"},
            ]
        },
    },
    caution=Message("What supply is to be had, the utility says. Local code and the licensed person decide."),
)
