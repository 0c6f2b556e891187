"""Transformers in the IEC family: Ib ≤ In ≤ Iz on each side, and a breaker whose type holds the switching on."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass

from voltaje.books.iec import runs
from voltaje.books.iec.profile import Profile
from voltaje.books.iec.protective import protective_of
from voltaje.books.machines import Bonds, SecondaryAsked, SecondaryRule, Side
from voltaje.books.tables import number
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.quantity import length_in
from voltaje.rounding import DUST
from voltaje.sheet import Sheet

SHARE = Formula("amps * percent / 100")

_FT_M = 0.3048
_CURVE = "D"  # taken where none is said: usual before transformers


@dataclass(frozen=True)
class IecTransformers:
    """A profile's answers about transformers."""

    profile: Profile

    def sizes(self, phases: int) -> tuple[float, ...]:
        """Return the usual ratings [kVA]."""
        rows = self.profile.table("transformer_kva").rows
        return tuple(number(row, "kva") for row in rows if row["phases"] == phases)

    def side(self, amps: float, side: str, method: str, sheet: Sheet) -> Side:  # noqa: ARG002  (asked of every book)
        """Return how far a side's device is shown: no rule of this family sets a ceiling, its cable follows it.

        Source: IEC 60364-4-43 clause 433.1, Ib ≤ In ≤ Iz. The share is common practice.
        """
        percent = self.profile.figure("transformer_shown_percent" if side == "primary" else "transformer_usual_percent")
        because = Message("no rule in this book sets a ceiling: {percent} is usual", percent=Figure(percent, "%"))
        limit = sheet.apply(SHARE, Message("Device, {side}", side=side), "A", None, because, amps=amps, percent=percent)
        known = runs.devices_of(None, self.profile)
        at = bisect_right(known, limit + DUST)
        # The next rating that carries the rated current, where none lies within the share.
        most = known[at - 1] if at and known[at - 1] >= amps - DUST else known[min(at, len(known) - 1)]
        return Side(amps, percent, most, None)

    def practical_a(self, amps: float, most_a: float) -> float:
        """Return the smallest rating that carries the rated current [A]: Ib ≤ In."""
        known = self.ratings_to(most_a)
        return known[min(bisect_left(known, amps - DUST), len(known) - 1)]

    def ratings_to(self, most_a: float) -> tuple[float, ...]:
        """Return the ratings up to one [A]."""
        known = tuple(each for each in runs.devices_of(None, self.profile) if each <= most_a + DUST)
        return known or runs.devices_of(None, self.profile)[:1]

    def usual_inrush(self, build: str) -> float:
        """Return the usual switching-on current [factor of the rated one]. Common practice."""
        return self.profile.figure(f"transformer_inrush_{build}")

    def holds(self, device_a: float, inrush_a: float, curve: str) -> bool:
        """Return whether a device does not act at once [A]: a modular one by its type, IEC 60898-1 Table 2."""
        times = self.profile.figure("breaker_instant_times")
        if device_a <= self.profile.figure("transformer_curve_to_a"):
            rows = self.profile.table("breaker_curves").rows
            times = next(number(row, "holds") for row in rows if row["curve"] == (curve or _CURVE))
        return inrush_a <= times * device_a + DUST

    def secondary(self, asked: SecondaryAsked) -> tuple[SecondaryRule, ...]:
        """Return how secondary conductors may be: short without a device at their origin, or with one there.

        Source: IEC 60364-4-43 clauses 433.2 and 434.2.
        """
        most_ft = self.profile.figure("secondary_no_device_m") / _FT_M
        short = asked.length_ft is not None and asked.length_ft <= most_ft + DUST
        most = Figure(length_in(most_ft * _FT_M, "m"), "m")
        why = (
            Message(
                "to {most} without a device at the transformer, short-circuit proof, nothing to burn by it", most=most
            )
            if short
            else Message("over {most}, or no length given", most=most)
        )
        at_origin = Message("a device at the transformer: In no more than what its conductors carry")
        carried = asked.device_a <= asked.ampacity_a + DUST
        return (
            SecondaryRule(self.profile.cite("no_device"), short, why),
            SecondaryRule(self.profile.cite("coordination"), carried, at_origin),
        )

    def bonds(self, size: str, material: str, sets: int, sheet: Sheet) -> Bonds:  # noqa: ARG002  (asked of every book)
        """Return what earths a derived neutral: one conductor by its lines, Table 54.7 of the earthing rules."""
        earthing = protective_of(size, Message("Star point to earth"), self.profile, sheet)
        return Bonds(earthing, earthing, {"rod": earthing}, self.profile.cite("earthing_conductor"), size)
