"""Welders by the NEC: what their duty lets them count, their conductors, their device, several of them together."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.machines import WelderAsked, WelderCircuit
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.run_tables import ratings
from voltaje.books.tables import number
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.rounding import DUST
from voltaje.sheet import Sheet

BY_DUTY = Formula("amps * factor")
SHARE = Formula("amps * percent / 100")
NOT_UNDER = Formula("max(by_duty, device * 100 / percent)")
TOGETHER = Formula("sum(parts)")

RESISTANCE = "resistance"


@dataclass(frozen=True)
class NecWelders:
    """An edition's answers about welders."""

    edition: Edition

    def factor(self, kind: str, duty_percent: float) -> float:
        """Return what of its rated current a welder counts [factor]; between two duties that of the greater.

        Source: Tables 630.11(A), 630.31(A). Raises: InputError for a duty over the table's.
        """
        table = self.edition.table("welders")
        rows = [row for row in table.rows if row["kind"] == kind]
        found = next((row for row in rows if number(row, "duty") >= duty_percent - DUST), None)
        if found is None:
            most = Figure(number(rows[-1], "duty"), "%")
            message = Message("is over {most}, where the table of such welders ends", most=most)
            raise InputError("duty_percent", message, str(table.cite(self.edition.name)))
        return number(found, "factor")

    def circuit(self, asked: WelderAsked, sheet: Sheet) -> WelderCircuit:
        """Return what a welder's circuit needs [A].

        Its conductors carry what its duty lets it count, and are guarded by a device that the rule lets be so much
        over them; that device is the next rating over its rated current, and may be greater.
        Source: 630.11(A), 630.12, 630.31(A), 630.32.
        """
        edition, resistance = self.edition, asked.kind == RESISTANCE
        table, device_rule = edition.table("welders"), edition.cite("welder_resistance" if resistance else "welder_arc")
        factor = self.factor(asked.kind, asked.duty_percent)
        with sheet.section("device"):
            percent = edition.figure("welder_resistance_percent" if resistance else "welder_arc_percent")
            limit = sheet.apply(
                SHARE, Message("Device, at most"), "A", device_rule, None, amps=asked.amps, percent=percent
            )
            most = sheet.read(self._next(limit), Message("The rating there or next up"), "A", device_rule)
            because = Message("the smallest rating over its rated current; greater where it trips without need")
            device = asked.device_a or sheet.read(self._next(asked.amps), Message("Device"), "A", device_rule, because)
        with sheet.section("conductor"):
            because = Message("a duty of {duty}", duty=Figure(asked.duty_percent, "%"))
            by_duty = sheet.apply(
                BY_DUTY, Message("By its duty"), "A", table.cite(edition.name), because, amps=asked.amps, factor=factor
            )
            because = Message("a device is not over {percent} of what they carry", percent=Figure(percent, "%"))
            carried = sheet.apply(
                NOT_UNDER,
                Message("Conductors, at least"),
                "A",
                device_rule,
                because,
                by_duty=by_duty,
                device=device,
                percent=percent,
            )
        return WelderCircuit(by_duty, carried, device, most, device_rule)

    def _next(self, amps: float) -> float:
        known = ratings(self.edition.name)
        return known[min(bisect_left(known, amps - DUST), len(known) - 1)]


def together(loads: Sequence[float], kind: str, edition: Edition, sheet: Sheet) -> float:
    """Return what several welders ask of what feeds them [VA], each counted by its duty.

    Arc: the two largest, 85 % of the third, 70 % of the fourth, 60 % of the others. Resistance: the largest, 60 % of
    the others. Source: 630.11(B), 630.31(B).
    """
    figure = edition.figure
    shares = [100.0, figure("welder_others_percent")]
    if kind != RESISTANCE:
        shares = [
            100.0,
            100.0,
            figure("welder_third_percent"),
            figure("welder_fourth_percent"),
            figure("welder_others_percent"),
        ]
    ordered = sorted(loads, reverse=True)
    parts = [va * shares[min(at, len(shares) - 1)] / 100 for at, va in enumerate(ordered)]
    rule = edition.cite("welder_resistance_group" if kind == RESISTANCE else "welder_arc_group")
    because = Message("the largest in full, the others less by their number")
    return sheet.apply(TOGETHER, Message("Welders together"), "VA", rule, because, parts=parts)
