"""A plate typed into one field of a sheet as it is printed: what is on it goes to the fields that it belongs to.

"45 kVA 600D-208Y/120 4.5 %Z" in the rating of a transformer is its rating, both its volts, its connection and its
impedance. Nothing is written over and nothing chosen in silence: where a field says otherwise, or the plate itself says
two things, it is refused; what the sheet has no field for is told.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, NamedTuple

from voltaje.errors import InputError
from voltaje.inputs.shapes import Json
from voltaje.message import Message
from voltaje.quantity import read_volts
from voltaje.speech.plates import by_supply, made_by
from voltaje.speech.spelled import in_figures
from voltaje.speech.taken import Taken
from voltaje.speech.taking import take_all
from voltaje.speech.typed import Typed
from voltaje.speech.words import words_of
from voltaje.systems import SYSTEMS, THREE_PHASE

_NEAR = 0.06  # volts of a plate and of a field that are the same, as 460 and 480
_SAME = 0.03  # kilowatts and horsepower of one motor: 7.5 kW is 10 hp
_W_IN_HP = 746.0
# What is said of a plate, with its unit; what follows from it, as the connection, is on the sheet.
_SAID = {
    "impedance_percent": "Z ",
    "service_factor": "SF ",
    "mca": "MCA ",
    "mop": "MOP ",
    "code_letter": "code ",
    "power_factor": "cos φ ",
    "size": "size ",
}
_UNITS = {
    "hp": " hp",
    "kw": " kW",
    "primary_v": " V",
    "secondary_v": " V",
    "volts": " V",
    "phases": "-phase",
    "impedance_percent": " %",
    "nameplate_a": " A",
    "amps": " A",
    "device_a": " A breaker",
}
_VOLTS = ("primary_v", "secondary_v", "volts")
_FOLLOWS = ("connection", "kind")  # what is on the sheet anyway

# By the name of what takes it out of the text, see `speech.taking`: how a run is made, which every such sheet asks.
_RUN = frozenset({"length", "feet_and_inches", "ways", "method", "material", "ambient"})
_SUPPLY = frozenset({"system", "volts_and_phase", "volts", "kilovolts", "phases"})
_LOAD_AMPS = frozenset({"amps", "load_amps"})

Lay = Callable[[Taken, Mapping[str, Any]], Json]


@dataclass(frozen=True)
class Plate:
    """How a tool takes a plate that is typed whole.

    at: the fields that one may type it into, the likeliest first; lay: what of it belongs to which field
    uses: by what takes it out of the text, what `lay` has a field for; says: an example of one, by family
    """

    at: tuple[str, ...]
    lay: Lay
    uses: frozenset[str]
    says: Mapping[str, str]

    def laid(self, taken: Taken, raw: Mapping[str, Any]) -> Json:
        """Return the fields that what was taken out of a text fills. Raises InputError where it says two things."""
        return self.lay(taken, raw) | _run(taken)

    def not_used(self, typed: Typed, taken: Taken, laid: Json, family: str) -> list[str]:
        """Return the pieces of a plate that fill no field."""
        words = words_of(family)
        heads = {*words.kinds, *words.nodes}
        rest = [text for name, text in taken.typed if name not in self.uses | _RUN | {"left_over"}]
        left = [
            word.typed
            for word in typed.words()
            if word.plain not in words.lists["fillers"] | heads and len(word.plain) > 1
        ]
        unused = [each.words for each in taken.unused if "code_letter" not in laid or "code" not in each.words.lower()]
        return [*unused, *rest, *left]


class Laid(NamedTuple):
    """Raw inputs with a plate laid out over its fields, and what was read of it in words, None where there was none."""

    raw: Json
    read: Message | None = None


def spread(raw: Mapping[str, Any], plate: Plate, family: str) -> Laid:
    """Return raw inputs with a plate that stands in one of its fields laid out over those that it fills.

    Raises InputError at that field where the plate leaves something open, says two things, or a field says otherwise.
    """
    for key in plate.at:
        text = raw.get(key)
        if not isinstance(text, str) or not any(letter.isalpha() for letter in text):
            continue
        typed = Typed(in_figures(text, family))
        taken = take_all(typed, family, ".")
        if len(taken.typed) < 2:  # noqa: PLR2004  (an amount alone is for the field's own reader)
            continue
        if taken.problems:
            raise InputError(key, taken.problems[0])
        try:
            laid = plate.laid(taken, raw)
        except InputError as error:
            raise InputError(key, error.message) from error
        _agree(key, laid, raw)
        filled = {each: value for each, value in laid.items() if each == key or raw.get(each) in (None, "")}
        read = _read(laid, plate.not_used(typed, taken, laid, family))
        return Laid({**raw, **({} if key in laid else {key: ""}), **filled}, read)
    return Laid(dict(raw))


def in_words(laid: Json) -> list[str]:
    """Return what a plate was laid out as, field by field, in words."""
    return [
        f"{_SAID.get(key, '')}{value.removesuffix(_UNITS.get(key, ''))}{_UNITS.get(key, '')}"
        for key, value in laid.items()
        if key not in _FOLLOWS and isinstance(value, str)
    ]


def _read(laid: Json, left: list[str]) -> Message:
    if not left:
        return Message("Read off the plate: {said}.", said=in_words(laid))
    return Message("Read off the plate: {said}; not used: {left}.", said=in_words(laid), left=left)


def _agree(key: str, laid: Json, raw: Mapping[str, Any]) -> None:
    """Refuse a plate that says otherwise than a field does."""
    for each, value in laid.items():
        entered = raw.get(each)
        if each == key or entered in (None, "") or _are_same(each, str(value), str(entered)):
            continue
        said = f"{value}{_UNITS.get(each, '')}"
        raise InputError(key, Message("it says {said}, and its own field {entered}", said=said, entered=str(entered)))


def _are_same(key: str, value: str, entered: str) -> bool:
    if key in _VOLTS:
        volts = _volts_of(entered)
        return volts is None or abs(volts / float(value) - 1) <= _NEAR  # what is no voltage is refused at its field
    one, other = (_bare(key, text) for text in (value, entered))
    try:
        return float(one) == float(other)
    except ValueError:
        return one == other


def _bare(key: str, text: str) -> str:
    return text.strip().casefold().removesuffix(_UNITS.get(key, "").strip().casefold() or "\0").strip()


def _volts_of(entered: Any) -> float | None:
    """Return the volts that stand in a field [V]; None where nothing does, or what is no voltage."""
    if entered in (None, ""):
        return None
    try:
        return read_volts(entered)
    except InputError:
        return None


def _only(values: Iterable[float], unit: str) -> float | None:
    """Return the one value that is said, None where none is. Raises InputError where two are."""
    found = sorted(set(values))
    if len(found) > 1:
        a, b = (f"{each:g} {unit}" for each in found[:2])
        raise InputError("", Message("two ratings: {a} and {b}; write one", a=a, b=b))
    return found[0] if found else None


def _as_typed(taken: Taken, unit: str) -> str:
    """Return the number of a rating as it was typed: 1/3, 7½."""
    return next(each.typed.rpartition(" ")[0] for each in taken.powers if each.rating.unit == unit)


def _exactly(value: float) -> str:
    """Return a value as one types it."""
    return f"{value:.12g}"


def _run(taken: Taken) -> Json:
    """Return how a run is made, as far as it is said. Raises InputError where it has two lengths."""
    lengths = list(dict.fromkeys(taken.lengths))
    if len(lengths) > 1:
        raise InputError("", Message("two lengths: {a} and {b}; write one", a=lengths[0], b=lengths[1]))
    return {**({"length": lengths[0]} if lengths else {}), **taken.run}


def _load_amps(taken: Taken) -> float | None:
    """Return the current of a load [A]; what was called a breaker is none. Raises InputError where two are said."""
    return _only((each.value for each in taken.amps if each.is_what != "device"), "A")


def _volts(taken: Taken, raw: Mapping[str, Any]) -> float | None:
    """Return the volts of a plate [V]: its only ones, of several those that the field has. Raises InputError."""
    offered = [each for group in [*taken.volts, *taken.pairs] for each in group]
    entered = _volts_of(raw.get("volts"))
    if len(offered) < 2:  # noqa: PLR2004
        return offered[0] if offered else None
    near = [each for each in offered if entered is not None and abs(entered / each - 1) <= _NEAR]
    if not near:
        raise InputError(
            "", Message("its volts may be {volts}: write which in Volts", volts=[f"{each:g}" for each in offered])
        )
    return near[0]


def _supply(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return the volts and the phases that are said."""
    volts = _volts(taken, raw)
    laid: Json = {} if volts is None else {"volts": f"{volts:g}"}
    return laid | ({"phases": str(taken.phases)} if taken.phases else {})


# A transformer's


def _of_transformer(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what a transformer's plate says: rating, both sides, connection, impedance. Raises InputError."""
    kva = _only((each.rating.value / 1000 for each in taken.powers if each.rating.unit == "VA"), "kVA")
    if kva is None:
        raise InputError("", Message("a transformer of how many kVA?"))
    laid: Json = {"kva": f"{_exactly(kva)} kVA"}
    if taken.impedance:
        laid["impedance_percent"] = _exactly(taken.impedance)
    sides = _sides(taken, raw)
    if isinstance(sides, float):
        return laid | {"primary_v": f"{sides:g}"}
    return laid | (sides or {})


def _sides(taken: Taken, raw: Mapping[str, Any]) -> Json | float | None:
    """Return both sides as the fields have them, the primary alone [V], or None where the plate says neither."""
    entered = str(raw.get("phases") or "")
    phases = taken.phases or (int(entered) if entered in ("1", "3") else 0)
    primary, star = None, False
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
        return _only((volt for group in taken.volts for volt in group), "V")
    system = SYSTEMS[made]
    neutral = bool(system.line_to_neutral_v)
    laid: Json = {} if primary is None else {"primary_v": f"{primary:g}"}
    laid |= {"secondary_v": f"{system.line_to_line_v:g}", "phases": str(system.phases)}
    if system.phases == THREE_PHASE:
        laid["connection"] = ("Yyn" if star else "Dyn") if neutral else ("Yd" if star else "Dd")
    else:
        laid["connection"] = "3-wire" if neutral and system.line_to_line_v != system.line_to_neutral_v else "2-wire"
    return laid


def _primary(offered: tuple[float, ...], raw: Mapping[str, Any]) -> float:
    """Return the primary volts of a plate [V]: of several those that the field has. Raises InputError."""
    if len(offered) == 1:
        return offered[0]
    entered = _volts_of(raw.get("primary_v"))
    near = [each for each in offered if entered is not None and abs(entered / each - 1) <= _NEAR]
    if not near:
        first, second = (f"{each:g}" for each in offered)
        raise InputError(
            "", Message("its primary may be joined for {a} or {b} V: write which in Primary", a=first, b=second)
        )
    return near[0]


# A motor's


def _of_motor(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what a motor's plate says: output, volts, amperes, service factor, phases. Raises InputError."""
    hp = _only((each.rating.value for each in taken.powers if each.rating.unit == "hp"), "hp")
    kw = _only((each.rating.value / 1000 for each in taken.powers if each.rating.is_watts), "kW")
    if hp and kw and abs(kw * 1000 / (hp * _W_IN_HP) - 1) > _SAME:
        raise InputError("", Message("two ratings: {a} and {b}; write one", a=f"{hp:g} hp", b=f"{kw:g} kW"))
    laid: Json = {"hp": _as_typed(taken, "hp")} if hp else {"kw": _exactly(kw)} if kw else {}
    laid |= _supply(taken, raw)
    laid |= {"service_factor": _exactly(taken.service_factor)} if taken.service_factor else {}
    laid |= {"code_letter": taken.code} if taken.code else {}
    amps = _load_amps(taken)
    if taken.several:
        volts = _volts_of(laid.get("volts"))
        at = by_supply([*taken.volts, *taken.pairs], taken.several, [volts], star=False) if volts else None
        if at is None or amps is not None:
            raise InputError("", Message("{amps}: write those of the supply alone", amps=taken.several.typed))
        amps = taken.several.amps[at]
    return laid | ({} if amps is None else {"nameplate_a": _exactly(amps)})


# An appliance's, a circuit's


def _of_appliance(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what an appliance's plate says: its rating, volts, phases, a compressor's MCA and greatest device."""
    laid = _supply(taken, raw)
    if taken.mca or taken.mop:
        laid |= {"kind": "hermetic"}
        laid |= {key: f"{_exactly(value)} A" for key, value in (("mca", taken.mca), ("mop", taken.mop)) if value}
    current = _load_amps(taken)
    ratings = list(dict.fromkeys(each.typed for each in taken.powers))
    offered = [each for group in [*taken.volts, *taken.pairs] for each in group]
    if "volts" in laid and len(offered) == len(taken.powers) > 1 and current is None:
        ratings = [taken.powers[offered.index(float(laid["volts"]))].typed]  # 4500 W 240 V / 3380 W 208 V
    ratings += [] if current is None else [f"{_exactly(current)} A"]
    if len(ratings) > 1:
        raise InputError("", Message("two ratings: {a} and {b}; write one", a=ratings[0], b=ratings[1]))
    key = "rated_load_a" if taken.mca or taken.mop else "load"
    return laid | ({key: ratings[0]} if ratings else {})


def _of_run(taken: Taken, raw: Mapping[str, Any]) -> Json:
    """Return what a line says of one circuit: amperes, volts, phases, its breaker, its size. Raises InputError."""
    amps = _load_amps(taken)
    if amps is None:
        raise InputError("", Message("how many amperes?"))
    device = _only((each.value for each in taken.amps if each.is_what == "device"), "A")
    laid = {"amps": _exactly(amps), **_supply(taken, raw)}
    laid |= {"power_factor": _exactly(taken.load["power_factor"])} if "power_factor" in taken.load else {}
    laid |= {} if device is None else {"device_a": _exactly(device)}
    return laid | ({"size": taken.size} if taken.size else {})


_SIZES = frozenset({"size", "cable", "bare_cable", "call_out", "flat_cable"})
TRANSFORMER = Plate(
    ("kva",),
    _of_transformer,
    _SUPPLY | {"power", "sides", "impedance"},
    {"nec": "45 kVA 480-208Y/120 4.5 %Z", "iec": "100 kVA 400-230 1ph 4 %Z"},
)
MOTOR = Plate(
    ("hp", "kw", "nameplate_a"),
    _of_motor,
    _SUPPLY | _LOAD_AMPS | {"power", "service_factor", "several_amps"},
    {"nec": "7½ hp 208 V 3ph 60 ft", "iec": "11 kW 400 V 3ph 60 m"},
)
APPLIANCE = Plate(
    ("load",),
    _of_appliance,
    _SUPPLY | _LOAD_AMPS | {"power", "mca", "mop"},
    {"nec": "4.5 kW 240 V 30 ft", "iec": "3 kW 230 V 12 m"},
)
RUN = Plate(
    ("amps",),
    _of_run,
    _SUPPLY | _LOAD_AMPS | _SIZES | {"device", "device_by_poles", "device_by_curve", "power_factor"},
    {"nec": "48 A 240 V 60 ft", "iec": "32 A 230 V 15 m"},
)
