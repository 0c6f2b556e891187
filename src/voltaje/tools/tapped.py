"""A tapped winding as an autotransformer: its volts between any taps, and the tap that makes what is wanted."""

from __future__ import annotations

from itertools import combinations
from typing import Protocol

from voltaje.design.windings.auto import tapped
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.inputs.shapes import Json
from voltaje.message import Figure, Message
from voltaje.sheet import Sheet

OUTPUT = Formula("given * load_turns / source_turns")
LOADED_AT = Formula("source_turns * wanted / given")
FED_AT = Formula("load_turns * given / wanted")
EACH = Formula("given / source_turns")
DIFFERENCE = Formula("high - low")

KIND = "tapped"
_WHOLE = 100.0
_FAR = 1.5  # a tap so far over the whole winding is no tap of it: common practice


class Tapped(Protocol):
    """What is asked of a tapped winding; a tap is in turns, or in per cent of the whole (value, in per cent)."""

    @property
    def turns(self) -> float | None:
        """Of the whole winding; per cent where not known [count]."""

    @property
    def taps(self) -> list[float] | None:
        """Its taps [%]; over 100 where the winding goes on beyond."""

    @property
    def from_tap(self) -> tuple[float, bool] | None:
        """Where it is fed [turns, or %]."""

    @property
    def to_tap(self) -> tuple[float, bool] | None:
        """Where it is loaded [turns, or %]."""

    @property
    def from_v(self) -> float:
        """What it is fed with [V]."""

    @property
    def to_v(self) -> float | None:
        """What is wanted [V]."""


def volts_of(asked: Tapped, sheet: Sheet) -> Json:
    """Return where a winding is fed and loaded [turns], what that gives [V], its taps, the volts between any two.

    Of where it is fed and where it is loaded one may be left out if volts are wanted: the tap nearest to what makes
    them is taken, or the very place where it has no taps. Raises: InputError at the field that stands in the way.
    """
    turns = asked.turns or _WHOLE
    taps = [percent / _WHOLE * turns for percent in asked.taps or []]
    source, load_at = _places(asked, turns, taps, sheet)
    said = [at for at in (asked.from_tap, asked.to_tap) if at and at[1]]  # over 100 %: it goes on so far at least
    whole = max([turns, *taps, *(_in_turns(at, turns) or 0.0 for at in said)])
    for field, at in (("from_tap", source), ("to_tap", load_at)):
        if at > whole * (1 + 1e-9):
            raise InputError(field, Message("the winding has {turns} turns", turns=f"{whole:g}"))
    volts = sheet.apply(
        OUTPUT,
        Message("Output"),
        "V",
        None,
        Message("volts go with turns"),
        given=asked.from_v,
        load_turns=load_at,
        source_turns=source,
    )
    each = sheet.apply(EACH, Message("Each turn"), "V", None, None, given=asked.from_v, source_turns=source)
    ends = [(0.0, 0.0), *zip(asked.taps or [], taps, strict=True)]
    between = [
        {"from": one, "to": other, "volts": abs(there - here) * each}
        for (one, here), (other, there) in combinations(ends, 2)
    ]
    return {
        "output_v": volts,
        "fed_turns": source,
        "tap_turns": load_at,
        "volts_per_turn": each,
        "tap_v": [
            {"tap": percent, "turns": at, "volts": at * each}
            for percent, at in zip(asked.taps or [], taps, strict=True)
        ],
        "between_v": between,
        "found": lambda va: tapped(whole, load_at, source, asked.from_v, va),
    }


def _places(asked: Tapped, turns: float, taps: list[float], sheet: Sheet) -> tuple[float, float]:
    """Return where the winding is fed and where it is loaded [turns]."""
    source = _in_turns(asked.from_tap, turns)
    load_at = _in_turns(asked.to_tap, turns)
    wanted = asked.to_v
    end = max([turns, *taps])
    if load_at is None and source is None and wanted is not None and wanted > asked.from_v * end / turns:
        load_at = end  # more volts than the whole gives: loaded there, fed within
    if load_at is None:
        source = turns if source is None else source
        if wanted is None:
            raise InputError("to_tap", Message("give where it is loaded, or the volts wanted"))
        exact = sheet.apply(
            LOADED_AT,
            Message("Loaded at, for these volts"),
            "turns",
            None,
            None,
            source_turns=source,
            wanted=wanted,
            given=asked.from_v,
        )
        return source, _nearest(exact, [*taps, turns] if taps else [], turns, "to_v", sheet)
    if source is None and wanted is not None:
        exact = sheet.apply(
            FED_AT,
            Message("Fed at, for these volts"),
            "turns",
            None,
            None,
            load_turns=load_at,
            given=asked.from_v,
            wanted=wanted,
        )
        return _nearest(exact, [*taps, turns] if taps else [], turns, "to_v", sheet), load_at
    return (turns if source is None else source), load_at


def _nearest(exact: float, taps: list[float], turns: float, field: str, sheet: Sheet) -> float:
    """Return the tap nearest to a place, the place itself where there are no taps [turns]."""
    if taps:
        best = min(taps, key=lambda tap: (abs(tap - exact), tap))
        because = Message("the nearest of its taps, {percent} of the whole", percent=Figure(best / turns * 100, "%", 1))
        return sheet.read(best, Message("Tap taken"), "turns", None, because)
    if exact > turns * _FAR:
        message = Message(
            "would ask for {turns} turns, and the winding has {whole}", turns=f"{exact:.4g}", whole=f"{turns:g}"
        )
        raise InputError(field, message)
    return exact


def _in_turns(tap: tuple[float, bool] | None, turns: float) -> float | None:
    if tap is None:
        return None
    value, percent = tap
    return value / _WHOLE * turns if percent else value
