"""Whether a protective conductor outlives a fault: the adiabatic equation, beside the table by the line's size."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.faults import Heat, HeatAsked
from voltaje.books.iec.disconnection import ARMOURED, SEPARATE, armour_area
from voltaje.books.iec.profile import PACKAGE, Profile
from voltaje.books.iec.protective import protective_of, protective_sizes
from voltaje.books.tables import load_table, number
from voltaje.errors import InputError, NoLawfulAnswer
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.sheet import Sheet

ENERGY = Formula("amps * amps * seconds")
LEAST = Formula("sqrt(energy) / k")
_KA = 1000.0


@dataclass(frozen=True)
class IecAdiabatics:
    """A profile's answers about conductors in a fault."""

    profile: Profile

    def heat(self, asked: HeatAsked, sheet: Sheet) -> Heat:
        """Return the least protective conductor by S = √(I²t) / k, by the table, and the smaller that is lawful.

        Source: IEC 60364-5-54 543.1.2 and Tables A.54.2 to A.54.5; BS 7671 543.1.3, 543.1.4, 543.1.1. Under 0.1 s by
        what breakers of class 3 let through (EN 60898-1), never more than they let through in 0.1 s.
        Raises: InputError at the field that no table has.
        """
        profile, rule, own = self.profile, self.profile.cite("adiabatic"), asked.protective
        k = self._k(asked, sheet)
        energy, by_class = self._energy(asked, sheet)
        at_once = asked.seconds < profile.figure("let_through_s")
        least = sheet.apply(LEAST, Message("Least size"), "mm²", rule, None, energy=energy, k=k)
        if own.lies == ARMOURED:
            area = float(own.size) if own.size else armour_area(asked.line, own, "line_mm2") if asked.line else None
            if area is None:
                raise InputError("line_mm2", Message("give the cable's line, or its armour's area"))
            sheet.read(area, Message("The armour has"), "mm²", profile.cite_table("armour_areas"))
            return Heat(k, energy, by_class, at_once, least, "", "", "", "adiabatic", area, rule)
        floor = 0.0
        if own.lies == SEPARATE:
            floor = profile.figure("separate_guarded_mm2" if asked.guarded else "separate_bare_mm2")
            because = Message("apart from its lines")
            sheet.read(floor, Message("Never under"), "mm²", profile.cite("separate_least"), because)
        sizes = protective_sizes()
        size = next((each for each in sizes if float(each) >= max(least, floor)), None)
        if size is None:
            message = Message("{least} mm² is more than {most} mm², the largest", least=f"{least:.4g}", most=sizes[-1])
            raise NoLawfulAnswer("fault_a", message, str(rule))
        sheet.read(float(size), Message("Next size"), "mm²", rule)
        table = protective_of(asked.line, Message("By the line's size"), profile, sheet) if asked.line else ""
        if table and float(table) < floor:
            table = next(each for each in sizes if float(each) >= floor)
        by = "table" if table and float(table) < float(size) else "adiabatic"
        return Heat(k, energy, by_class, at_once, least, size, table, table if by == "table" else size, by, None, rule)

    def at_once(self, asked: HeatAsked, sheet: Sheet) -> Heat:
        """Return the same of what a breaker opens at once: by its class, and far over its rating by half a cycle.

        Source: BS 7671 543.1.3, EN 60898-1 Table ZA.1; half a cycle by common practice, the maker's figure goes first.
        """
        figure, by_class = self.profile.figure, Sheet(on=sheet.on)
        at_once = min(asked.seconds, figure("let_through_s") / 2)  # under the time from which current and time decide
        held, steps = self.heat(asked._replace(seconds=at_once), by_class), by_class
        if asked.fault_a >= figure("far_over_times") * asked.device_a:
            in_half = Sheet(on=sheet.on)
            brief = asked._replace(seconds=figure("half_cycle_s"), kind="", device_a=0.0)
            half = self.heat(brief, in_half)
            held, steps = (half, in_half) if half.least_mm2 < held.least_mm2 else (held, steps)
        sheet.take(steps.steps)
        return held

    def _k(self, asked: HeatAsked, sheet: Sheet) -> float:
        if asked.k is not None:
            return sheet.read(asked.k, Message("k, entered"), "", None)
        table, lies = self.profile.table("k_values"), asked.protective.lies
        material = "steel" if lies == ARMOURED else asked.material
        row = table.row("insulation", self.profile.name, where=lies, insulation=asked.insulation, material=material)
        return sheet.read(number(row, "k"), Message("k"), "", self.profile.cite_table("k_values"))

    def _energy(self, asked: HeatAsked, sheet: Sheet) -> tuple[float, bool]:
        """Return what the fault lets through [A²s], and whether that is by a class of breakers."""
        profile, rule = self.profile, self.profile.cite("adiabatic")
        shortest = profile.figure("let_through_s")
        rows = [
            number(row, "energy")
            for row in load_table(PACKAGE, "let_through").rows
            if row["curve"] == asked.kind
            and number(row, "amps_to") >= asked.device_a
            and number(row, "fault_ka") * _KA >= asked.fault_a
        ]
        if asked.seconds < shortest and asked.device_a and rows:
            label = Message("Let through by such a breaker at most")
            by_class = sheet.read(min(rows), label, "A²s", profile.cite_table("let_through"))
            in_time = sheet.apply(
                ENERGY, Message("In the time that it has"), "A²s", rule, None, amps=asked.fault_a, seconds=shortest
            )
            return min(by_class, in_time), by_class <= in_time
        let = sheet.apply(ENERGY, Message("Let through"), "A²s", rule, None, amps=asked.fault_a, seconds=asked.seconds)
        return let, False
