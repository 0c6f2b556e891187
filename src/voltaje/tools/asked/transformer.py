"""What a transformer is asked by."""

from __future__ import annotations

from typing import Any, ClassVar

from voltaje.design.transformers.worked import BOTH, INDOORS, PLACES, PRIMARY_ONLY
from voltaje.errors import InputError
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, AMPS_OR_NONE, KVA, PART, VOLTS, Shape, number, one_number, one_word
from voltaje.message import Message
from voltaje.physics.transformer import USUAL_X_OVER_R
from voltaje.quantity import read_in, require_between
from voltaje.systems import THREE_PHASE
from voltaje.tools import plates
from voltaje.tools.conductors import CIRCUIT, TYPED_LENGTH, OnARun

_UNIT, _GUARD, _TAPS, _INSIDE = Message("Transformer"), Message("Protection"), Message("Taps"), Message("Inside")
_CONNECTIONS = ("Dyn", "Dd", "Yyn", "Yd", "high-leg", "2-wire", "3-wire")
_METHODS = {PRIMARY_ONLY: Message("primary only"), BOTH: Message("both sides")}
_BUILDS = {"dry": Message("dry"), "oil": Message("oil-filled")}
_YES = {"no": Message("no"), "yes": Message("yes")}
_MOST_TAPS, _MOST_TAP = 12, 25


def _tap_list(raw: Any, _unit: str) -> tuple[float, ...]:
    items = raw if isinstance(raw, list) else [raw]
    if len(items) > _MOST_TAPS:
        raise InputError("", Message("must be a list of at most {most}", most=_MOST_TAPS))
    found = []
    for item in items:
        value = read_in(item, "%")
        require_between(value, -_MOST_TAP, _MOST_TAP, "%")
        found.append(value)
    return tuple(found)


_TAP_LIST = Shape(
    _tap_list,
    {"type": "array", "items": {"type": ["string", "number"]}, "maxItems": _MOST_TAPS},
    edges=([_MOST_TAP] * _MOST_TAPS, [_MOST_TAP] * (_MOST_TAPS + 1)),
)
_GROWTH = number(-1e-9, 3)
_PERCENT, _RATIO = number(0, 30, "%"), number(0, 100)


class TransformerAsked(OnARun):
    """What a transformer is asked by. Its run's fields are those of the primary; the secondary lies in the same."""

    plate: ClassVar[plates.Plate | None] = plates.TRANSFORMER

    kva: float | None = declared(KVA, "its rating; or give the load", "Rating", _UNIT, "kVA")
    load_kva: float | None = declared(KVA, "the load behind it, for the next trade size", "Load", _UNIT, "kVA")
    leg_a: float | None = declared(
        AMPS, "of its most loaded leg, where the legs are uneven", "Most loaded leg", _UNIT, "A", more=True
    )
    neutral_a: float | None = declared(
        AMPS_OR_NONE,
        "greatest unbalanced load of its secondary; as a line where not given",
        "Neutral load",
        _UNIT,
        "A",
        more=True,
    )
    tapped_kva: float | None = declared(
        KVA,
        "single-phase load on the tapped winding of a high-leg delta, beside the load",
        "On the tapped winding",
        _UNIT,
        "kVA",
        more=True,
    )
    growth: float = declared(_GROWTH, "share of growth on the load", "Growth", _UNIT, shown=0, more=True, default=0.0)
    phases: int = declared(one_number(1, THREE_PHASE), "1 or 3", "Phases", _UNIT, shown=3)
    primary_v: float = declared(VOLTS, "line to line", "Primary", _UNIT, "V", required=True)
    secondary_v: float = declared(VOLTS, "line to line; 240 for 120/240 V", "Secondary", _UNIT, "V", required=True)
    connection: str = declared(
        one_word(*_CONNECTIONS),
        "Dyn (default), Dd, Yyn, Yd, high-leg; single-phase: 2-wire, 3-wire (default)",
        "Connection",
        _UNIT,
        default="",
    )
    protection: str = declared(
        one_word(PRIMARY_ONLY, BOTH),
        "devices on the primary alone, or on both sides",
        "Devices",
        _GUARD,
        shown=BOTH,
        titles=_METHODS,
        family="nec",
    )
    motor_control: str = declared(
        one_word("no", "yes"),
        "a control transformer in a motor's starter, primary device alone: 430.72(C)",
        "Motor control",
        _GUARD,
        shown="no",
        more=True,
        titles=_YES,
        family="nec",
    )
    primary_device_a: float | None = declared(AMPS, "a lawful one in place of the usual", "Primary device", _GUARD, "A")
    secondary_device_a: float | None = declared(
        AMPS, "the main at the end of the secondary", "Secondary main", _GUARD, "A"
    )
    secondary_length: tuple[str, float] | None = declared(
        TYPED_LENGTH, "of the secondary conductors to their main", "Secondary length", CIRCUIT, hint="length"
    )
    secondary_place: str = declared(
        one_word(*PLACES),
        "where they are, for the rule that lets them be long",
        "They are",
        CIRCUIT,
        shown=INDOORS,
        more=True,
        family="nec",
    )
    feeder_device_a: float | None = declared(
        AMPS, "of the feeder that it is tapped from", "Feeder's device", CIRCUIT, "A", more=True, family="nec"
    )
    impedance_percent: float | None = declared(_PERCENT, "of its plate", "Impedance", _INSIDE, "%")
    x_over_r: float = declared(
        _RATIO,
        "its X over R; 3 is usual of small dry units",
        "X over R",
        _INSIDE,
        shown=3,
        more=True,
        default=USUAL_X_OVER_R,
    )
    power_factor: float = declared(
        PART, "of its load, lagging", "Power factor", _INSIDE, shown="0.9", more=True, default=0.9
    )
    source_ka: float | None = declared(
        number(0, 300, "kA"),
        "short circuit at its primary; infinite where not given",
        "Short circuit before it",
        _INSIDE,
        "kA",
        more=True,
    )
    build: str = declared(
        one_word("dry", "oil"),
        "dry, or oil-filled: for its usual inrush",
        "Kind",
        _INSIDE,
        shown="dry",
        more=True,
        titles=_BUILDS,
    )
    curve: str = declared(
        one_word("B", "C", "D"), "type of the primary's breaker", "Breaker type", _GUARD, shown="D", family="iec"
    )
    inrush_multiple: float | None = declared(
        number(0, 40),
        "switching-on current over the rated one; usual 12 dry, 10 oil",
        "Inrush",
        _INSIDE,
        "×",
        shown=12,
        more=True,
        default=None,
    )
    inrush_s: float = declared(
        number(0, 10, "s"), "for so long; 0.1 s is usual", "Inrush time", _INSIDE, "s", shown=0.1, more=True
    )
    taps: tuple[float, ...] = declared(
        _TAP_LIST,
        "its taps, per cent of the winding's volts: [5, 2.5, 0, -2.5]",
        "Taps",
        _TAPS,
        "%",
        more=True,
        shown=[],
        default=(),
    )
    taps_on: str = declared(
        one_word("primary", "secondary"), "which winding has them", "Taps on", _TAPS, shown="primary", more=True
    )
    source_v: float | None = declared(VOLTS, "measured at its primary", "Measured volts", _TAPS, "V", more=True)
    wanted_v: float | None = declared(
        VOLTS, "wanted at its secondary; its own where not given", "Wanted volts", _TAPS, "V", more=True
    )

    def joined(self) -> str:
        """Return its connection, the usual one where none is given. Raises InputError where it does not fit."""
        single = self.phases == 1
        usual = "3-wire" if single else "Dyn"
        connection = self.connection or usual
        if (connection in ("2-wire", "3-wire")) != single:
            raise InputError("connection", Message("does not go with so many phases"))
        return connection
