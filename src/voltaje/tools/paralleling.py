"""Two transformers side by side, as the vector-group sheet asks it: the other's entries, what is said of the pair."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from voltaje.design.windings.groups import Windings, named
from voltaje.design.windings.parallel import Beside, Rated, beside
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import TEXT, number
from voltaje.message import Figure, Message
from voltaje.physics.windings import Contradiction
from voltaje.quantity import read_volts
from voltaje.tools.conductors import OfABook

_BESIDE, _GROUP = Message("Beside another"), Message("Group")
_VOLTS = number(0, 800_000, "V", read_volts)
_KVA, _Z = number(0, 100_000, "kVA"), number(0, 30, "%")
_NEAR_DEG, _NEAR_PERCENT, _MUCH_PERCENT, _UNLIKE = 0.5, 0.5, 10.0, 1.1  # common practice


class Paralleled(OfABook):
    """What a pair is asked by."""

    high_v: float = declared(_VOLTS, "line to line", "High side", _GROUP, "V", shown=480, default=480.0)
    low_v: float = declared(_VOLTS, "line to line", "Low side", _GROUP, "V", shown=208, default=208.0)
    kva: float | None = declared(
        _KVA, "of this one, where another stands beside it", "This one's kVA", _BESIDE, "kVA", more=True
    )
    impedance_percent: float | None = declared(_Z, "of this one", "This one's impedance", _BESIDE, "%", more=True)
    beside: str | None = declared(
        TEXT, "group of another that is to stand beside it", "The other's group", _BESIDE, more=True
    )
    beside_low_v: float | None = declared(
        _VOLTS,
        "of the other, line to line at this one's high volts; alike where not given",
        "The other's low side",
        _BESIDE,
        "V",
        more=True,
    )
    beside_kva: float | None = declared(
        _KVA, "of the other; alike where not given", "The other's kVA", _BESIDE, "kVA", more=True
    )
    beside_impedance_percent: float | None = declared(
        _Z, "of the other; alike where not given", "The other's impedance", _BESIDE, "%", more=True
    )


def pair_of(asked: Paralleled, windings: Windings) -> Beside:
    """Return how the other stands beside this one. Raises InputError at its field."""
    low_v = asked.beside_low_v or asked.low_v
    try:
        other = named(asked.beside or "", asked.high_v, low_v)
    except InputError as error:
        raise error.at("beside") from None
    kva, z = asked.kva, asked.impedance_percent
    first = Rated(windings, asked.low_v, kva, z)
    second = Rated(other, low_v, asked.beside_kva or kva, asked.beside_impedance_percent or z)
    try:
        return beside(first, second, asked.high_v)
    except (Contradiction, KeyError):
        raise InputError(
            "beside", Message("this one stands beside nothing: its own low side is not complete")
        ) from None


def may(pair: Beside) -> bool:
    """Return whether two may work side by side: one clock, volts alike. Common practice: within half a per cent."""
    return abs(pair.degrees) < _NEAR_DEG and abs(pair.ratio_percent) <= _NEAR_PERCENT


def said_of(asked: Paralleled, pair: Beside) -> Iterator[Finding]:
    """Yield what there is to say of two side by side: their clocks, their ratios, how they share."""
    figures: dict[str, Any] = {
        "degrees": Figure(abs(pair.degrees), "°"),
        "volts": Figure(pair.apart_v, "V", 1),
        "percent": Figure(pair.apart_percent, "%", 1),
    }
    if abs(pair.degrees) >= _NEAR_DEG:
        message = Message(
            "Never side by side: {degrees} apart, {volts} between lines of one name, {percent} of the line's.",
            **figures,
        )
        mend = Message("Only groups of one clock work together; a clock four or eight hours off is mended by names.")
        yield Finding(Severity.STOP, "parallel.clock", message, None, "beside", mend)
    elif abs(pair.ratio_percent) > _NEAR_PERCENT:
        message = Message(
            "Their volts differ by {ratio}: {volts} drive a current round them without any load.",
            ratio=Figure(abs(pair.ratio_percent), "%", 2),
            volts=figures["volts"],
        )
        yield Finding(
            Severity.WARN, "parallel.ratio", message, None, "beside_low_v", Message("Bring their taps alike.")
        )
    if pair.circulating_a is not None and pair.of_rated is not None:
        message = Message(
            "{amps} go round, {percent} of this one's rated current.",
            amps=Figure(pair.circulating_a, "A", 1),
            percent=Figure(pair.of_rated[0], "%", 1),
        )
        severity = Severity.WARN if max(pair.of_rated) > _MUCH_PERCENT else Severity.NOTE
        yield Finding(severity, "parallel.circulating", message, None, "impedance_percent")
    if pair.shares is not None and pair.carried_kva is not None:
        mine, other = asked.impedance_percent or 1.0, asked.beside_impedance_percent or asked.impedance_percent or 1.0
        message = Message(
            "Of a load this one takes {share}; together they carry {kva} before one is full.",
            share=Figure(pair.shares[0], "%", 1),
            kva=Figure(pair.carried_kva, "kVA", 1),
        )
        unlike = max(mine, other) / min(mine, other) > _UNLIKE
        severity = Severity.WARN if unlike else Severity.NOTE
        yield Finding(severity, "parallel.shares", message, None, "beside_impedance_percent")
