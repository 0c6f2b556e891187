"""The vector-group tool: coils joined, by a group's name or one by one; the group found, with its clock."""

from __future__ import annotations

import cmath
import math
from typing import Any

from voltaje.design.windings import groups
from voltaje.design.windings.groups import HIGH, LOW, Lines, Windings, group_of, named, namings
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import TEXT, Json, Shape, number
from voltaje.message import Figure, Message
from voltaje.physics.windings import Coil, Contradiction, Wound, three_phase, wound
from voltaje.quantity import read_plain, read_volts
from voltaje.sheet import Sheet
from voltaje.tools.asking import Asked
from voltaje.tools.paralleling import Paralleled, may, pair_of, said_of
from voltaje.tools.tool import WINDINGS, Answered, Group, Head, Tool

_GROUP, _COILS, _FEED = Message("Group"), Message("Coils"), Message("Feed")
_MOST_COILS, _MOST_JOINTS, _THREE, _PAIR = 24, 60, 3, 2
_VOLTS = number(0, 800_000, "V", read_volts)
_HOUR_DEG = 30.0


def _pairs(raw: Any, _unit: str) -> list[tuple[str, str]]:
    """Return pairs of terminals: lists of two, or `A2-B; B2-C`."""
    given = [each for each in raw.split(";") if each.strip()] if isinstance(raw, str) else raw
    if isinstance(raw, str) and raw.strip().lower() == _NONE:
        return []
    if not isinstance(given, list) or len(given) > _MOST_JOINTS:
        raise InputError("", Message("must be a list of at most {most}", most=_MOST_JOINTS))
    found = []
    for each in given:
        ends = [end.strip() for end in each.split("-")] if isinstance(each, str) else each
        if not isinstance(ends, list) or len(ends) != _PAIR or not all(isinstance(end, str) and end for end in ends):
            raise InputError("", Message("must be pairs of terminals, such as A2-B"))
        found.append((ends[0], ends[1]))
    return found


def _words(raw: Any, _unit: str) -> list[str]:
    """Return names: a list, or `l2; l3`."""
    given = [each.strip() for each in raw.split(";")] if isinstance(raw, str) else raw
    if not isinstance(given, list) or len(given) > _MOST_COILS or not all(isinstance(each, str) for each in given):
        raise InputError("", Message("must be names of coils, such as l2; l3"))
    return [each for each in given if each]


def _sources(raw: Any, _unit: str) -> dict[str, complex]:
    """Return the volts that terminals are held at, each with its angle: by name, or `A 277 0; B 277 -120`."""
    if isinstance(raw, str):
        held = [each.split() for each in raw.split(";") if each.strip()]
        if len(held) > _MOST_JOINTS or any(len(each) != _PAIR + 1 for each in held):
            raise InputError("", Message("must be terminals with volts and degrees, such as A 277 0; B 277 -120"))
        raw = {name: [volts, degrees] for name, volts, degrees in held}
    if not isinstance(raw, dict):
        raise InputError("", Message("must be volts and degrees by terminal"))
    found = {}
    for name, each in raw.items():
        if not isinstance(each, list) or len(each) != _PAIR:
            raise InputError("", Message("must be volts and degrees by terminal"))
        found[str(name)] = cmath.rect(read_plain(each[0]), math.radians(read_plain(each[1])))
    return found


def _lines(raw: Any, _unit: str) -> dict[str, Lines]:
    if not isinstance(raw, dict) or not set(raw) <= {"high", "low"}:
        raise InputError("", Message("must name the lines of high and low"))
    found: dict[str, Lines] = {}
    for side, names in raw.items():
        if not isinstance(names, list) or len({*map(str, names)}) != _THREE:
            raise InputError("", Message("must be three terminals in phase order"))
        found[side] = (str(names[0]), str(names[1]), str(names[2]))
    return found


_NONE = "none"
_PAIRS = Shape(_pairs, {"type": ["array", "string"]})
_NAMES = Shape(_words, {"type": ["array", "string"]})
_HELD = Shape(_sources, {"type": ["object", "string"]})
_NAMED = Shape(_lines, {"type": "object"})


class CoilItem(Asked):
    """A coil."""

    id: str = declared(TEXT, "its name", "Name", required=True)
    core: str = declared(TEXT, "the core it stands on", "Core", required=True)
    turns: float = declared(number(0, 1e6), "or rated volts: ratios matter", "Turns", required=True)
    start: str = declared(TEXT, "terminal at its marked end", "Marked end", key="from", required=True)
    end: str = declared(TEXT, "its other terminal", "Other end", key="to", required=True)


class VectorAsked(Paralleled):
    """What a vector group is asked by: its name, or coils and joints."""

    group: str | None = declared(TEXT, "to begin from: Dyn11, Yy0, Yz11", "Group", _GROUP)
    joints: list[tuple[str, str]] | None = declared(
        _PAIRS, "terminals that are joined; those of the group where not given; none", "Joints", _COILS
    )
    turned: list[str] | None = declared(
        _NAMES, "coils that are turned round, by mistake or by will", "Turned round", _COILS
    )
    coils: list[CoilItem] | None = many(
        CoilItem, Message("Coils of your own"), Message("coil"), least=0, most=_MOST_COILS
    )
    sources: dict[str, complex] | None = declared(
        _HELD,
        "volts and degrees that terminals are held at; a symmetrical supply on the high lines where not given",
        "Fed at",
        _FEED,
    )
    lines: dict[str, Lines] | None = declared(_NAMED, "line terminals in phase order; A B C and a b c where not given")
    ask: list[tuple[str, str]] | None = declared(
        _PAIRS, "terminals between which volts are asked: a-n; A-a", "Volts from to", _FEED
    )


def solve(asked: VectorAsked) -> Answered:
    """Return the group that coils show, the volts asked, every coil's. Raises InputError at its field."""
    windings = _windings(asked)
    high, low = (asked.lines or {}).get("high", HIGH), (asked.lines or {}).get("low", LOW)
    known = {end for coil in windings.coils for end in (coil.start, coil.end)}
    known |= {end for joint in windings.joints for end in joint}
    for side in (high, low):
        for name in side:
            if name not in known:
                raise InputError("lines", Message("there is no terminal {name}", name=name))
    held = asked.sources or dict(zip(high, three_phase(asked.high_v), strict=True))
    for name in held:
        if name not in known:
            raise InputError("sources", Message("there is no terminal {name}", name=name))
    found = wound(windings.coils, windings.joints, held)
    try:
        group = group_of(windings, high, low)
        others = namings(windings, high, low)
    except Contradiction as reason:  # under a symmetrical feed it cannot be; as it is fed it may
        group, others = groups.Group("?", None, 0.0, 0.0, reverse=False, reason=reason.message), []
    sheet = Sheet()
    _steps(found, low, group, sheet)
    result: Json = {
        "group": group.name if group.hour is not None else None,
        "letters": group.letters,
        "clock": group.hour,
        "reason": str(group.reason) if group.reason else None,
        "sequence": "negative" if group.reverse else "positive",
        "line_v": [{"from": one, "to": other, "volts": volts} for (one, other), volts in _lines_of(found, low).items()],
        "voltages": [_between(found, one, other, known) for one, other in asked.ask or []],
        "coils": {name: _said(volts) for name, volts in found.coils.items()},
        "namings": [{"low": list(lines), "group": each.name} for lines, each in others if each.hour is not None],
    }
    findings = []
    if group.reason:
        findings.append(Finding(Severity.WARN, "group.none", Message("{why}.", why=group.reason), None, "joints"))
    pair = pair_of(asked, windings) if asked.beside else None
    if pair:
        result["parallel"] = {**pair._asdict(), "may": may(pair)}
        findings += said_of(asked, pair)
    facts: Json = {"asked": asked, "windings": windings, "found": found, "group": group, "high": high, "low": low}
    facts |= {"pair": pair, "live": True, "joints": "; ".join("-".join(joint) for joint in windings.joints) or _NONE}
    return Answered(asked.book, result, sheet.steps, findings, _heads(group, found, low), facts.copy)


def _windings(asked: VectorAsked) -> Windings:
    """Return the coils as they are asked, those turned round with their ends exchanged."""
    found = _entered(asked)
    turned = asked.turned or []
    for name in turned:
        if name not in {coil.id for coil in found.coils}:
            raise InputError("turned", Message("there is no coil {name}", name=name))
    coils = tuple(coil._replace(start=coil.end, end=coil.start) if coil.id in turned else coil for coil in found.coils)
    return found._replace(coils=coils)


def _entered(asked: VectorAsked) -> Windings:
    if asked.coils:
        ids = [coil.id for coil in asked.coils]
        for at, name in enumerate(ids):
            if name in ids[:at]:
                raise InputError(f"coils[{at}].id", Message("{name} is there already", name=name))
        made = tuple(Coil(coil.id, coil.core, coil.turns, coil.start, coil.end) for coil in asked.coils)
        return Windings(made, tuple(asked.joints or ()))
    if not asked.group:
        raise InputError("group", Message("give a group, or its coils"))
    try:
        found = named(asked.group, asked.high_v, asked.low_v)
    except InputError as error:
        raise error.at("group") from None
    return found if asked.joints is None else found._replace(joints=tuple(asked.joints))


def _said(volts: complex) -> Json:
    return {"volts": abs(volts), "degrees": math.degrees(cmath.phase(volts)) if abs(volts) > _DUST else 0.0}


_DUST = 1e-9


def _between(found: Wound, one: str, other: str, known: set[str]) -> Json:
    for name in (one, other):
        if name not in known:
            raise InputError("ask", Message("there is no terminal {name}", name=name))
    volts = found.between(one, other)
    return {"from": one, "to": other, **(_said(volts) if volts is not None else {"volts": None, "degrees": None})}


def _steps(found: Wound, low: Lines, group: groups.Group, sheet: Sheet) -> None:
    for name, volts in found.coils.items():
        angle = Figure(_said(volts)["degrees"], "°", 1)
        sheet.read(abs(volts), Message("Coil {name}, at {angle}", name=name, angle=angle), "V", None)
    for (one, other), volts in _lines_of(found, low).items():
        sheet.read(volts, Message("{one} to {other}", one=one, other=other), "V", None)
    if group.hour is not None:
        because = Message("{lag} behind A, {hour} times 30°", lag=Figure(group.degrees, "°", 1), hour=group.hour)
        sheet.read(group.hour, Message("Hour of a"), "", None, because)


def _lines_of(found: Wound, low: Lines) -> dict[tuple[str, str], float]:
    """Return the volts between each two lines of the low side, where something decides them [V]."""
    pairs = ((one, low[(at + 1) % len(low)]) for at, one in enumerate(low))
    stands = ((pair, found.between(*pair)) for pair in pairs)
    return {pair: abs(volts) for pair, volts in stands if volts is not None}


_UNEVEN = 1e-3  # of the greatest: lines that differ by less are told as one


def _heads(group: groups.Group, found: Wound, low: Lines) -> tuple[Head, ...]:
    lines = _lines_of(found, low)
    heads = [Head(Message("Group"), group.name, "", group.reason)]
    if group.hour is not None:
        heads.append(
            Head(Message("Clock"), str(group.hour), "", Message("{lag} behind", lag=Figure(group.degrees, "°")))
        )
    volts = list(lines.values())
    if volts and max(volts) - min(volts) > _UNEVEN * max(volts):
        heads += [
            Head(Message("{one} to {other}", one=one, other=other), Figure(each, "V", 1), "", Message("uneven"))
            for (one, other), each in lines.items()
        ]
    elif volts:
        heads.append(Head(Message("Low side"), Figure(volts[0], "V", 1), "", Message("line to line")))
    return tuple(heads)


TOOL = Tool(
    name="vector-group",
    title=Message("Vector group"),
    question=Message("Which group do these coils make, and what does its clock mean?"),
    group=Group.SUPPLY,
    place=8,
    words=("vector group", "clock", "Dyn11", "Yy0", "zigzag", "delta", "star", "phasor", "phase shift", "paralleling"),
    studio=WINDINGS,
    asks=VectorAsked,
    solve=solve,
    example={
        "nec": {"group": "Dyn1", "high_v": "480 V", "low_v": "208 V", "ask": ["a-n", "a-b"]},
        "iec": {"group": "Dyn11", "high_v": "11000 V", "low_v": "400 V", "ask": ["a-n", "a-b"]},
    },
    caution=Message(
        "Groups that differ never work side by side. Prove the phases before two sources meet; above "
        "1,000 V only those trained for it."
    ),
)
