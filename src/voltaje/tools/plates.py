"""A plate typed into one field of a sheet as it is printed: what is on it goes to the fields that it belongs to.

"45 kVA 600D-208Y/120 4.5 %Z" in the rating of a transformer is its rating, both its volts, its connection and its
impedance. What stands in a field already is never written over: where the plate says otherwise, it is refused.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

from voltaje.errors import InputError
from voltaje.inputs.shapes import Json
from voltaje.message import Message
from voltaje.speech.plates import by_supply, made_by
from voltaje.speech.taken import Taken
from voltaje.speech.taking import take_all
from voltaje.speech.typed import Typed
from voltaje.speech.words import words_of
from voltaje.systems import SYSTEMS, THREE_PHASE

_NEAR = 0.06  # volts of a plate and of a field that are the same, as 460 and 480
# What is said of a plate, with its unit; what follows from it, as the connection, is on the sheet.
_SAID = {"impedance_percent": "Z ", "service_factor": "SF ", "mca": "MCA ", "mop": "MOP ", "code_letter": "code "}
_UNITS = {
    "kva": "",
    "hp": " hp",
    "kw": " kW",
    "primary_v": " V",
    "secondary_v": " V",
    "volts": " V",
    "phases": "-phase",
    "impedance_percent": " %",
    "service_factor": "",
    "nameplate_a": " A",
    "mca": "",
    "mop": "",
    "load": "",
    "rated_load_a": "",
    "code_letter": "",
    "amps": " A",
    "length": "",
}

Spread = Callable[[Taken, Mapping[str, Any]], Json]


class Laid(NamedTuple):
    """Raw inputs with a plate laid out over its fields, and what was read of it in words, None where there was none."""

    raw: Json
    read: Message | None = None


def spread(raw: Mapping[str, Any], keys: tuple[str, ...], family: str, belongs: Spread) -> Laid:
    """Return raw inputs with a plate that stands at one of `keys` laid out over its fields.

    Raises InputError at that field where the plate leaves something open, or another field says otherwise.
    """
    for key in keys:
        text = raw.get(key)
        if not isinstance(text, str) or not _is_plate(text, family):
            continue
        typed = Typed(text)
        taken = take_all(typed, family, ".")
        if taken.problems:
            raise InputError(key, taken.problems[0])
        try:
            laid = belongs(taken, raw) | ({"length": taken.lengths[0]} if taken.lengths else {})
        except InputError as error:
            raise InputError(key, error.message) from error
        _agree(key, laid, raw)
        filled = {each: value for each, value in laid.items() if each == key or raw.get(each) in (None, "")}
        read = _read(laid, [*(each.words for each in taken.unused), *_left(typed, family)])
        return Laid({**raw, **({} if key in laid else {key: ""}), **filled}, read)
    return Laid(dict(raw))


def _read(laid: Json, left: list[str]) -> Message:
    said = [f"{_SAID.get(key, '')}{value}{_UNITS.get(key, '')}" for key, value in laid.items() if key in _UNITS]
    if not left:
        return Message("Read off the plate: {said}.", said=said)
    return Message("Read off the plate: {said}; not used: {left}.", said=said, left=left)


def _left(typed: Typed, family: str) -> list[str]:
    """Return the words of a plate that nothing was made of."""
    fillers = words_of(family).lists["fillers"]
    return [word.typed for word in typed.words() if word.plain not in fillers and len(word.plain) > 1]


def _is_plate(text: str, family: str) -> bool:
    """Return whether a text says more than one quantity: an amount alone is for the field's own reader."""
    if not any(letter.isalpha() for letter in text):
        return False
    return len(take_all(Typed(text), family, ".").typed) > 1


def _agree(key: str, laid: Json, raw: Mapping[str, Any]) -> None:
    for each in ("primary_v", "secondary_v", "volts"):
        entered = str(raw.get(each) or "").lower().removesuffix("v").strip()
        if each in laid and entered.replace(".", "").isdigit() and abs(float(entered) / float(laid[each]) - 1) > _NEAR:
            message = Message("the plate says {plate} V, the field {field} V", plate=laid[each], field=entered)
            raise InputError(key, message)


def of_transformer(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what a transformer's plate says: rating, both sides, connection, impedance. Raises InputError."""
    power = next((each for each in taken.powers if each.rating.unit == "VA"), None)
    if power is None:
        raise InputError("", Message("a transformer of how many kVA?"))
    laid = {"kva": f"{power.rating.value / 1000:g} kVA"}
    if taken.impedance:
        laid["impedance_percent"] = f"{taken.impedance:g}"
    phases = taken.phases or int(str(raw.get("phases") or 0)) if str(raw.get("phases") or 0).isdigit() else taken.phases
    primary, star = 0.0, False
    if taken.sides:
        primary = _primary(taken.sides.primary, raw)
        made = made_by(taken.sides, phases)
        if isinstance(made, Message):
            raise InputError("", made)
    elif len(taken.systems) > 1:
        primary, star, made = SYSTEMS[taken.systems[0]].line_to_line_v, True, taken.systems[-1]
    elif taken.systems:
        made = taken.systems[-1]
    else:
        return laid | ({"primary_v": f"{taken.volts[0][0]:g}"} if taken.volts and len(taken.volts[0]) == 1 else {})
    system = SYSTEMS[made]
    neutral = bool(system.line_to_neutral_v)
    laid |= {"secondary_v": f"{system.line_to_line_v:g}", "phases": str(min(system.phases, THREE_PHASE))}
    laid |= {"primary_v": f"{primary:g}"} if primary else {}
    if system.phases == THREE_PHASE:
        laid["connection"] = ("Yyn" if star else "Dyn") if neutral else ("Yd" if star else "Dd")
    else:
        laid["connection"] = "3-wire" if neutral and system.line_to_line_v != system.line_to_neutral_v else "2-wire"
    return laid


def _primary(offered: tuple[float, ...], raw: Mapping[str, Any]) -> float:
    """Return the primary volts of a plate [V]: of several those that the field has. Raises InputError."""
    entered = str(raw.get("primary_v") or "").lower().removesuffix("v").strip()
    if len(offered) == 1:
        return offered[0]
    near = [each for each in offered if entered.isdigit() and abs(float(entered) / each - 1) <= _NEAR]
    if not near:
        first, second = (f"{each:g}" for each in offered)
        raise InputError(
            "", Message("its primary may be joined for {a} or {b} V: write which in Primary", a=first, b=second)
        )
    return near[0]


def of_motor(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what a motor's plate says: output, volts, amperes, service factor, phases. Raises InputError."""
    laid: Json = {}
    for power in taken.powers:
        if power.rating.unit == "hp":
            laid["hp"] = f"{power.rating.value:g}"
        elif power.rating.is_watts:
            laid["kw"] = f"{power.rating.value / 1000:g}"
    volts = _volts(taken, raw)
    laid |= {"volts": f"{volts:g}"} if volts else {}
    laid |= {"phases": str(taken.phases)} if taken.phases else {}
    laid |= {"service_factor": f"{taken.service_factor:g}"} if taken.service_factor else {}
    laid |= {"code_letter": taken.code} if taken.code else {}
    amps = {each.value for each in taken.amps}
    if taken.several:
        at = by_supply([*taken.volts, *taken.pairs], taken.several, [volts], star=False) if volts else None
        if at is None:
            raise InputError("", Message("{amps}: write the volts of the supply in Volts", amps=taken.several.typed))
        amps = {taken.several.amps[at]}
    if len(amps) > 1:
        first, second = (f"{each:g}" for each in sorted(amps)[:2])
        raise InputError("", Message("two ratings: {a} and {b}; write one", a=f"{first} A", b=f"{second} A"))
    return laid | ({"nameplate_a": f"{amps.pop():g}"} if amps else {})


def _volts(taken: Taken, raw: Mapping[str, Any]) -> float:
    """Return the volts of a plate that the field has, else its only ones [V]; 0 where it says none."""
    offered = [each for group in [*taken.volts, *taken.pairs] for each in group]
    entered = str(raw.get("volts") or "").lower().removesuffix("v").strip()
    near = [each for each in offered if entered.isdigit() and abs(float(entered) / each - 1) <= _NEAR]
    if near:
        return near[0]
    if len(offered) > 1 and not entered:
        raise InputError(
            "", Message("its volts may be {volts}: write which in Volts", volts=[f"{each:g}" for each in offered])
        )
    return offered[0] if offered else 0.0


def of_appliance(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what an appliance's plate says: its rating, volts, phases, a compressor's MCA and greatest device."""
    laid: Json = {}
    volts = _volts(taken, raw)
    laid |= {"volts": f"{volts:g}"} if volts else {}
    laid |= {"phases": str(taken.phases)} if taken.phases else {}
    if taken.mca or taken.mop:
        laid |= {"kind": "hermetic"}
        laid |= {key: f"{value:g} A" for key, value in (("mca", taken.mca), ("mop", taken.mop)) if value}
    currents = sorted({each.value for each in taken.amps})
    ratings = [each.typed for each in taken.powers] or [f"{each:g} A" for each in currents]
    offered = [each for group in [*taken.volts, *taken.pairs] for each in group]
    if volts and len(offered) == len(taken.powers) > 1 and not currents:
        ratings = [taken.powers[offered.index(volts)].typed]  # 4500 W 240 V / 3380 W 208 V: those of the volts
    elif len(taken.powers) + len(currents) > 1:
        both = [*(each.typed for each in taken.powers), *(f"{each:g} A" for each in currents)]
        raise InputError("", Message("two ratings: {a} and {b}; write one", a=both[0], b=both[1]))
    key = "rated_load_a" if taken.mca or taken.mop else "load"
    return laid | ({key: ratings[0]} if ratings else {})


def of_run(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what a line says of one circuit: its amperes, volts and phases. Raises InputError."""
    if not taken.amps:
        raise InputError("", Message("how many amperes?"))
    volts = _volts(taken, raw)
    laid: Json = {"amps": f"{taken.amps[0].value:g}"}
    laid |= {"volts": f"{volts:g}"} if volts else {}
    return laid | ({"phases": str(taken.phases)} if taken.phases else {})
