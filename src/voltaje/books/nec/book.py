"""The NEC as a book: its answers to the questions of a run."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from voltaje.books.book import (
    BoardDemand,
    Capacity,
    Choice,
    Connected,
    DropLimit,
    EarthConductor,
    Objection,
    Run,
    Terms,
)
from voltaje.books.nec import runs
from voltaje.books.nec.boards import board_demand
from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.edition import Edition, find_edition
from voltaje.books.tables import number, text
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Citation, Sheet

DROP_1 = Formula("2 * amps * length * (resistance * cosine + reactance * sine) / 1000 / sets")
DROP_3 = Formula("sqrt(3) * amps * length * (resistance * cosine + reactance * sine) / 1000 / sets")
UPSIZED = Formula("table_area * area / least_area")

_FT_IN_M = 0.3048
_CMIL_IN_MM2 = 0.000506707479  # π/4 × (0.0254 mm)², exact by definition of the mil
_THREE_PHASE = 3
# Nominal system volts and the motor tables' column for them.
_MOTOR_COLUMN = {120: "v115", 208: "v208", 240: "v230", 480: "v460", 600: "v575"}


TERMS = Terms("equipment grounding conductor", "ft", "THWN-2", "raceway", "singles", ("Cu", "Al"), False)


@dataclass(frozen=True)
class NecBook:
    """One edition of the NEC."""

    edition: Edition
    terms: Terms = TERMS

    @property
    def name(self) -> str:
        """The edition's name."""
        return self.edition.name

    @property
    def device_rule(self) -> Citation:
        """The clause of the standard ratings."""
        return self.edition.cite("standard_ratings")

    def check(self, run: Run) -> None:
        """Refuse what the tables do not hold."""
        runs.check(run, self.edition)

    def devices(self) -> tuple[float, ...]:
        """Return the standard ratings [A]."""
        return runs.ratings(self.name)

    def demand(self, loads: Sequence[Connected], diversity: float, sheet: Sheet) -> BoardDemand:
        """Return the demand by Article 220; an entered diversity has no rule here."""
        return board_demand(loads, self.edition, sheet)

    def motor_amps(self, hp: float, phases: int, volts: float, field: str) -> float:
        """Return the motor tables' current [A]. Source: Tables 430.248, 430.250."""
        table = self.edition.table("motor_3ph" if phases == _THREE_PHASE else "motor_1ph")
        row = table.row(field, self.name, hp=round(hp, 6))
        column = _MOTOR_COLUMN.get(round(volts), "")
        if row.get(column) is None:
            message = Message(
                "{table} has no {hp} hp at {volts} V", table=table.numbered(self.name), hp=f"{hp:g}", volts=f"{volts:g}"
            )
            raise InputError(field, message, str(table.cite(self.name)))
        return number(row, column)

    def device_need(self, run: Run, sheet: Sheet) -> float:
        """Return the load, continuous part at 125 % [A]."""
        return runs.device_need(run, self.edition, sheet)

    def sizes(self, run: Run) -> tuple[str, ...]:
        """Return the sizes of the ampacity table."""
        return tuple(runs.ladder(self.name, run.material))

    def capacity(self, run: Run, choice: Choice, sheet: Sheet) -> Capacity:
        """Return factor, ampacity, greatest device."""
        return runs.capacity(run, choice, self.edition, sheet)

    def objections(self, run: Run, choice: Choice) -> tuple[Objection, ...]:
        """Return what fails of the three tests."""
        return runs.objections(run, choice, self.edition)

    def complies(self, run: Run, choice: Choice) -> bool:
        """Return whether the choice passes the three tests."""
        return runs.complies(run, choice, self.edition)

    def preferred(self, run: Run, size: str, sets: int) -> bool:
        """Return whether the size is pulled by choice."""
        return area_cmil(size, self.edition) <= area_cmil(self.edition.size_figure("largest_single"), self.edition)

    def drop_v(self, run: Run, choice: Choice, sheet: Sheet) -> float:
        """Return the drop [V]: direct-current resistance of small sizes at unity power factor, else Table 9.

        Source: chapter 9, Tables 8 and 9 (75 °C; conductors in PVC or cable), R cos φ + X sin φ.
        """
        resistance, reactance, table = self._impedance(choice.size, run.material, run.power_factor)
        three = run.phases == _THREE_PHASE
        return sheet.apply(
            DROP_3 if three else DROP_1,
            Message("Voltage drop"),
            "V",
            self.edition.cite_table(table),
            Message("resistance and reactance in Ω/kft at 75 °C, length in ft"),
            amps=run.amps,
            length=(run.length_m or 0.0) / _FT_IN_M,
            resistance=resistance,
            reactance=reactance,
            cosine=run.power_factor,
            sine=math.sqrt(1 - run.power_factor**2),
            sets=choice.sets,
        )

    def _impedance(self, size: str, material: str, power_factor: float) -> tuple[float, float, str]:
        return _impedance(self.name, size, material, power_factor == 1)

    def drop_limit(self, run: Run, in_total: bool) -> DropLimit:
        """Return 3 % for a branch, 5 % in all: informational."""
        key = "drop_total" if in_total else "drop_branch"
        return DropLimit(self.edition.figure(f"{key}_percent"), False, self.edition.cite(key))

    def earth(self, run: Run, choice: Choice, least: Choice, sheet: Sheet) -> EarthConductor:
        """Return the equipment grounding conductor, in full in each set, larger in proportion where the line is.

        Source: 250.122(A), (B), (F), Table 250.122.
        """
        edition, material = self.edition, run.material
        table = edition.table("equipment_conductor")
        size = text(table.round_up("device_a", self.name, "amps", choice.device_a), material.lower())
        rule = edition.cite_table("equipment_conductor")
        label = Message("Equipment grounding conductor: {size} {material}", size=size, material=material)
        because = Message("by a {device} device", device=Figure(choice.device_a, "A"))
        area = sheet.read(area_cmil(size, edition), label, "cmil", rule, because)
        line, least_line = (each.sets * area_cmil(each.size, edition) for each in (choice, least))
        if line > least_line:
            rule = edition.cite("equipment_upsized")
            because = Message("the lines are larger than {least} would do", least=least.size)
            label = Message("Increased in proportion")
            wanted = sheet.apply(
                UPSIZED, label, "cmil", rule, because, table_area=area, area=line, least_area=least_line
            )
            known = list(runs.ladder(self.name, material))
            size = next((each for each in known if area_cmil(each, edition) >= wanted - 1), choice.size)
        size = min(size, choice.size, key=lambda each: area_cmil(each, edition))
        return EarthConductor(size, material, rule)

    def area_mm2(self, size: str) -> float:
        """Return a conductor's area [mm²]."""
        return _area_mm2(self.name, size)

    def conduit(self, run: Run, choice: Choice, earth: EarthConductor, neutral: bool) -> str:
        """Return the EMT that one set fills to its limit at most. Source: chapter 9, Tables 1, 4, 5."""
        kind = runs.insulations(self.name)[run.insulation].areas
        if run.method == "cable" or not kind:
            return ""
        wires = [choice.size] * (run.phases if run.phases == _THREE_PHASE else 2) + [choice.size] * neutral
        return _conduit(self.name, kind, (*wires, earth.size))


@cache
def _area_mm2(book: str, size: str) -> float:
    return area_cmil(size, find_edition(book)) * _CMIL_IN_MM2


@cache
def _impedance(book: str, size: str, material: str, unity: bool) -> tuple[float, float, str]:
    edition = find_edition(book)
    known = list(runs.ladder(book, "Cu"))
    resistances = [row for row in edition.table("conductor_areas").rows if row["size"] == size]
    # The alternating-current table skips some sizes: the next smaller one stands for them, the safe side.
    up_to = set(known[: known.index(size) + 1])
    alternating = [row for row in edition.table("impedance").rows if row["size"] in up_to]
    small = known.index(size) < known.index(edition.size_figure("skin_effect_from"))
    if unity and small:
        column = "cu_uncoated" if material == "Cu" else "al"
        return number(resistances[-1], column), 0.0, "conductor_areas"
    return number(alternating[-1], f"{material.lower()}_pvc"), number(alternating[-1], "x_pvc"), "impedance"


@cache
def _conduit(book: str, kind: str, wires: tuple[str, ...]) -> str:
    edition = find_edition(book)
    areas = {row["size"]: number(row, "area") for row in edition.table("wire_areas").rows if row["kind"] == kind}
    if any(wire not in areas for wire in wires):
        return ""
    percent = number(edition.table("fill").band("fill", book, len(wires)), "percent")
    for row in edition.table("conduit").rows:
        if row["kind"] == "EMT" and number(row, "area") * percent / 100 >= sum(areas[wire] for wire in wires):
            return f"EMT {row['trade_size']}"
    return ""
