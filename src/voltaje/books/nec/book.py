"""The NEC as a book: its answers to the questions of a run."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache

from voltaje.books.answers import Capacity, Choice, DropLimit, EarthConductor, Impedance, Objection, Run, Terms
from voltaje.books.nec import lying, run_tables, runs, whole_dwelling
from voltaje.books.nec.circuits import remarks
from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.cooking_circuit import NecCooking
from voltaje.books.nec.demands import NecDemands
from voltaje.books.nec.dwelling.on_path import NecDwellings
from voltaje.books.nec.earthing import NecEarthings
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.equipment import NecCompressors, NecInverters
from voltaje.books.nec.feeder_neutral import neutral_size
from voltaje.books.nec.grounding import supply_side_bond
from voltaje.books.nec.motors import NecMotors
from voltaje.books.nec.taps import NecTaps
from voltaje.books.nec.transformers import NecTransformers
from voltaje.books.nec.welders import NecWelders
from voltaje.books.questions import (
    C,
    Compressors,
    CookingCircuits,
    Demands,
    Dwellings,
    Earthings,
    Inverters,
    Motors,
    Taps,
    Transformers,
    Welders,
    capability_of,
)
from voltaje.books.tables import named_by, number, text
from voltaje.findings import Finding
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Citation, Sheet
from voltaje.systems import THREE_PHASE

DROP_1 = Formula("2 * amps * length * (resistance * cosine + reactance * sine) / 1000 / sets")
DROP_3 = Formula("sqrt(3) * amps * length * (resistance * cosine + reactance * sine) / 1000 / sets")
UPSIZED = Formula("table_area * area / least_area")

_DROP = Message("Voltage drop")
_BY_TABLE = Message("resistance and reactance in Ω/kft at 75 °C, length in ft")
_FT_IN_M = 0.3048
_CMIL_IN_MM2 = 0.000506707479  # π/4 × (0.0254 mm)², exact by definition of the mil

TERMS = Terms(
    length_unit="ft",
    insulation="THWN-2",
    method="raceway",
    cable="singles",
    raceway="PVC 40",
    materials=("Cu", "Al"),
    demand_cascades=False,
    way_columns=2,
    nominal=(
        *("120 1ph", "208 1ph", "240 1ph", "480 1ph", "120/240 1ph 3w", "208Y/120", "208Y/120 2 legs", "480Y/277"),
        *("600Y/347", "240 3ph", "480 3ph", "600 3ph", "240/120 high-leg"),
    ),
    region="US",
    continuous_factor=1.25,
    family="nec",
    gauges=((0, "AWG"), (250, "kcmil")),
    symbols="nec",
    paper="letter",
    example="kiln 11.5 kW 208 V 3ph 60 ft",
)


# What an edition answers beside the core: one line for each family of rules.
_CAPABILITIES: dict[type, Callable[[Edition], object]] = {
    Demands: NecDemands,
    Dwellings: NecDwellings,
    Motors: NecMotors,
    CookingCircuits: NecCooking,
    Compressors: NecCompressors,
    Inverters: NecInverters,
    Transformers: NecTransformers,
    Earthings: NecEarthings,
    Taps: NecTaps,
    Welders: NecWelders,
}


@dataclass(frozen=True, eq=False)  # one of each, told apart as such
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

    @property
    def load_rule(self) -> Citation:
        """The clause by which a load and its current are reckoned."""
        return self.edition.cite("volts")

    @property
    def shared_neutral_rule(self) -> Citation:
        """The clause of circuits that share a neutral."""
        return self.edition.cite("shared_neutral")

    @property
    def band_percent(self) -> float:
        """How far the volts at equipment may lie from its rated ones [%]."""
        return self.edition.figure("equipment_band_percent")

    @property
    def usual_single_phase_a(self) -> float:
        """The greatest single-phase supply that is usual [A]: common practice."""
        return self.edition.figure("usual_single_phase_a")

    @property
    def supply_band(self) -> tuple[float, float]:
        """How far the supply's volts may lie under nominal, and over it [%]."""
        figure = self.edition.figure
        return figure("supply_band_low_percent"), figure("supply_band_high_percent")

    def rule(self, topic: str) -> Citation | None:
        """Return the clause of a topic."""
        return self.edition.cite(topic) if topic in self.edition.clauses else None

    @property
    def shares_neutrals(self) -> bool:
        """Whether circuits may share a neutral. Source: 210.4."""
        return True

    @property
    def counts_nonlinear_neutral(self) -> bool:
        """Whether nonlinear load on the neutral reduces the ampacity here."""
        return True

    @property
    def choices(self) -> Mapping[str, tuple[str, ...]]:
        """What may be chosen of a run."""
        return lying.choices(self.name)

    @property
    def occupancies(self) -> tuple[str, ...]:
        """The occupancies of the table of unit loads."""
        return tuple(text(row, "occupancy") for row in self.edition.table("unit_loads").rows)

    def asked(self, capability: type[C]) -> C:
        """Return what answers a capability's questions."""
        return capability_of(_CAPABILITIES, capability, self.edition, self.name)

    def check(self, run: Run) -> None:
        """Refuse what the tables do not hold."""
        lying.check(run, self.edition)

    def devices(self, run: Run | None = None) -> tuple[float, ...]:
        """Return the standard ratings [A]."""
        return run_tables.ratings(self.name)

    def made_devices(self, run: Run) -> tuple[float, ...]:
        """Return the standard ratings of breakers and of fuses [A]. Source: 240.6(A)."""
        return run_tables.all_ratings(self.name)

    def device_need(self, run: Run, sheet: Sheet) -> float:
        """Return the load, continuous part at 125 % [A]."""
        return runs.device_need(run, self.edition, sheet)

    def sizes(self, run: Run) -> tuple[str, ...]:
        """Return the sizes of the ampacity table."""
        return run_tables.made_sizes(self.name, run.insulation, run.material)

    def capacity(self, run: Run, choice: Choice, sheet: Sheet) -> Capacity:
        """Return factor, ampacity, greatest device."""
        return runs.capacity(run, choice, self.edition, sheet)

    def objections(self, run: Run, choice: Choice) -> tuple[Objection, ...]:
        """Return what fails of the three tests; a dwelling's conductors may go by the rule of 83 % instead."""
        found = runs.objections(run, choice, self.edition)
        if found and whole_dwelling.allowed(run, choice, self.edition):
            return tuple(each for each in found if each.key != "size")
        return found

    def besides(self, run: Run, device_a: float) -> list[tuple[Choice, Message]]:
        """Return the conductor of a whole dwelling at 83 %. Source: 310.12."""
        return whole_dwelling.besides(run, device_a, self.edition)

    def complying(self, run: Run, device_a: float, sets: int) -> Callable[[str], bool]:
        """Return the three tests of a size."""
        return runs.complying(run, device_a, sets, self.edition)

    def sizes_by_choice(self, run: Run) -> tuple[str, ...]:
        """Return the sizes up to the largest that is pulled as one conductor by choice."""
        if run.whole_dwelling:
            return self.sizes(run)  # as its own sheet has it: one conductor as far as the table goes
        return run_tables.sizes_by_choice(self.name, run.insulation, run.material)

    def drop_v(self, run: Run, choice: Choice, sheet: Sheet) -> float:
        """Return the drop [V]: direct-current resistance of small sizes at unity power factor, else Table 9.

        Source: chapter 9, Tables 8 and 9 (75 °C; columns of the raceway; cable as PVC), R cos φ + X sin φ.
        """
        found = self.impedance(run, choice.size, run.power_factor == 1)
        three = run.phases == THREE_PHASE
        return sheet.apply(
            DROP_3 if three else DROP_1,
            _DROP,
            "V",
            found.rule,
            _BY_TABLE,
            amps=run.amps,
            length=(run.length_m or 0.0) / found.unit_m,
            resistance=found.resistance,
            reactance=found.reactance,
            cosine=run.power_factor,
            sine=math.sqrt(1 - run.power_factor**2),
            sets=choice.sets,
        )

    def impedance(self, run: Run, size: str, unity: bool) -> Impedance:
        """Return resistance and reactance [Ω/kft]. Source: chapter 9, Tables 8 and 9."""
        lining = run_tables.RACEWAYS[run.raceway or self.terms.raceway].lining if run.method == "raceway" else "pvc"
        resistance, reactance, table = _impedance(self.edition, size, run.material, unity, lining)
        return Impedance(resistance, reactance, self.edition.cite_table(table), _FT_IN_M)

    def cold_impedance(self, run: Run, size: str) -> Impedance:
        """Return the tables' own, of conductors at 75 °C: what 110.9 is usually reckoned by (common practice)."""
        return self.impedance(run, size, unity=False)

    def remarks(self, run: Run, choice: Choice, pinned: bool) -> list[Finding]:
        """Return what an inspector would ask about: terminals at 90 °C, receptacles of no such rating."""
        return remarks(run, choice, self.edition)

    def drop_limit(self, run: Run, in_total: bool) -> DropLimit:
        """Return 3 % for a branch, 5 % in all: informational."""
        return _drop_limit(self.edition, in_total, run.feeder)

    def other_terminals(self, run: Run, choice: Choice) -> Run | None:
        """Return the run with terminals marked 75 °C where they count as 60 °C, and the other way.

        Source: 110.14(C).
        """
        if choice.device_a > run_tables.limits(self.name)["terminals_60_to_a"]:
            return None
        return run._replace(terminal_c=75 if run.terminal_c in (None, 60) else 60)

    def earth(self, run: Run, choice: Choice, least: Choice, sheet: Sheet) -> EarthConductor:
        """Return the equipment grounding conductor, in full in each set, larger in proportion where the line is.

        From a transformer to its first device it is the supply-side bonding jumper, of each raceway by its own lines.
        Source: 250.122(A), (B), (F), Table 250.122; 250.30(A)(2).
        """
        edition, material = self.edition, run.material
        if run.role == "derived":
            return supply_side_bond(choice.size, material, edition, sheet)
        device_a = run.guard.ground_a if run.guard and choice.device_a == run.guard.device_a else choice.device_a
        device_a = max(device_a, run.tapped_from_a)  # a tap's goes by the device before it: 250.122(G)
        size, row = _equipment_conductor(self.edition, device_a, material)
        rule = self.edition.cite_table("equipment_conductor", row=row, column=material.lower())
        area = area_cmil(size, edition)
        if sheet.on:
            label = Message("Equipment grounding conductor: {size} {material}", size=size, material=material)
            sheet.read(area, label, "cmil", rule, Message("by a {device} device", device=Figure(device_a, "A")))
        line = least_line = choice.sets * area_cmil(choice.size, edition)
        if least is not choice:
            least_line = least.sets * area_cmil(least.size, edition)
        if line > least_line:
            rule = edition.cite("equipment_upsized")
            because = Message("the lines are larger than {least} would do", least=least.size)
            label = Message("Increased in proportion")
            wanted = sheet.apply(
                UPSIZED, label, "cmil", rule, because, table_area=area, area=line, least_area=least_line
            )
            size = next((each for each in self.sizes(run) if area_cmil(each, edition) >= wanted - 1), choice.size)
        if area_cmil(choice.size, edition) < area_cmil(size, edition):
            size = choice.size
            if sheet.on:
                label = Message("No larger than the lines: {size} {material}", size=size, material=material)
                sheet.read(area_cmil(size, edition), label, "cmil", edition.cite("equipment_ground"))
        return EarthConductor(size, material, rule)

    def area_mm2(self, size: str) -> float:
        """Return a conductor's area [mm²]."""
        return area_cmil(size, self.edition) * _CMIL_IN_MM2

    def neutral(self, run: Run, choice: Choice, earth: EarthConductor, sheet: Sheet) -> str:
        """Return the neutral for its greatest unbalanced load. Source: 220.61, 215.2(A)."""
        return neutral_size(run, choice, earth.size, self.edition, sheet)

    def conduit(self, run: Run, choice: Choice, earth: EarthConductor, neutral: str) -> str:
        """Return the raceway that one set fills to its limit at most. Source: chapter 9, Tables 1, 4, 5."""
        kind = run_tables.insulations(self.name)[run.insulation].areas
        if run.method in ("cable", run_tables.FREE_AIR) or not kind:
            return ""
        wires = [choice.size] * (run.phases if run.phases == THREE_PHASE else 2) + [neutral] * bool(neutral)
        return _conduit(self.edition, kind, run.raceway or self.terms.raceway, (*wires, earth.size))


@cache
def _drop_limit(edition: Edition, in_total: bool, feeder: bool) -> DropLimit:
    key = "drop_total" if in_total else "drop_branch"
    return DropLimit(edition.figure(f"{key}_percent"), False, edition.cite("drop_feeder" if feeder else key))


@cache
def _equipment_conductor(edition: Edition, device_a: float, material: str) -> tuple[str, str]:
    """Return the size, and the row of the table that it stands in."""
    row = edition.table("equipment_conductor").round_up("device_a", edition.name, "amps", device_a)
    return text(row, material.lower()), named_by(row["amps"])


@cache
def _impedance(edition: Edition, size: str, material: str, unity: bool, lining: str) -> tuple[float, float, str]:
    """Return resistance, reactance [Ω/kft] and the table they stand in."""
    known = list(run_tables.ladder(edition.name, "Cu"))
    resistances = [row for row in edition.table("conductor_areas").rows if row["size"] == size]
    # The alternating-current table skips some sizes: the next smaller one stands for them, the safe side.
    up_to = set(known[: known.index(size) + 1])
    alternating = [row for row in edition.table("impedance").rows if row["size"] in up_to]
    small = known.index(size) < known.index(edition.size_figure("skin_effect_from"))
    if unity and small:
        column = "cu_uncoated" if material == "Cu" else "al"
        return number(resistances[-1], column), 0.0, "conductor_areas"
    row = alternating[-1]
    reactance = number(row, "x_steel" if lining == "steel" else "x_pvc")
    return number(row, f"{material.lower()}_{lining}"), reactance, "impedance"


@cache
def _conduit(edition: Edition, kind: str, raceway: str, wires: tuple[str, ...]) -> str:
    areas = {row["size"]: number(row, "area") for row in edition.table("wire_areas").rows if row["kind"] == kind}
    if any(wire not in areas for wire in wires):
        return ""
    percent = number(edition.table("fill").band("fill", edition.name, len(wires)), "percent")
    for row in edition.table("conduit").rows:
        mine = row["kind"] == run_tables.RACEWAYS[raceway].kind
        if mine and number(row, "area") * percent / 100 >= sum(areas[wire] for wire in wires):
            return f"{raceway} {row['trade_size']}"
    return ""
