"""A national profile of IEC 60364 as a book: its answers to the questions of a run."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache

from voltaje.books.answers import (
    Capacity,
    Choice,
    DropLimit,
    EarthConductor,
    Impedance,
    Objection,
    Run,
    Terms,
    too_small_neutral,
)
from voltaje.books.iec import rings, runs
from voltaje.books.iec.adiabatic import IecAdiabatics
from voltaje.books.iec.demands import IecDemands
from voltaje.books.iec.disconnection import IecDisconnections
from voltaje.books.iec.earthing import IecEarthings
from voltaje.books.iec.household import IecHouseholds
from voltaje.books.iec.inverters import IecInverters
from voltaje.books.iec.motors import IecMotors
from voltaje.books.iec.profile import Profile
from voltaje.books.iec.protective import protective_of
from voltaje.books.iec.residuals import IecResiduals
from voltaje.books.iec.transformers import IecTransformers
from voltaje.books.questions import (
    Adiabatics,
    C,
    Demands,
    Disconnections,
    Earthings,
    Households,
    Inverters,
    Motors,
    Residuals,
    Transformers,
    capability_of,
)
from voltaje.books.tables import number
from voltaje.errors import InputError
from voltaje.findings import Finding
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.rounding import DUST
from voltaje.sheet import Citation, Sheet
from voltaje.systems import THREE_PHASE

DROP = Formula("millivolts * amps * length / 1000 / sets")

_BOTH_WAYS = 2


TERMS = Terms(
    length_unit="m",
    insulation="PVC 70",
    method="C",
    cable="multicore",
    raceway="",
    materials=("Cu",),
    demand_cascades=True,
    way_columns=1,
    nominal=("230 1ph", "230/400", "400 3ph"),
    region="",  # the profile's own
    ground_method=runs.BURIED,
    family="iec",
    example="pump 4 kW 400 V 3ph 60 m",
    not_covered=(
        Message("Disconnection is checked to 125 A, not behind transformers: there the earth is sized, not proven."),
    ),
)
_NOT_CHECKED = Message("disconnection not checked")


# What a profile answers beside the core: one line for each family of rules.
_CAPABILITIES: dict[type, Callable[[Profile], object]] = {
    Demands: IecDemands,
    Motors: IecMotors,
    Inverters: IecInverters,
    Transformers: IecTransformers,
    Earthings: IecEarthings,
    Disconnections: IecDisconnections,
    Adiabatics: IecAdiabatics,
    Residuals: IecResiduals,
    Households: IecHouseholds,
}


@dataclass(frozen=True, eq=False)  # one of each, told apart as such
class IecBook:
    """One national profile."""

    profile: Profile
    terms: Terms

    @classmethod
    def of(cls, profile: Profile) -> IecBook:
        """Return the book of a profile."""
        grows = profile.drop_rise["percent_per_m"] > 0
        return cls(profile, replace(TERMS, region=profile.region, drop_limit_grows=grows, rings=profile.rings))

    @property
    def name(self) -> str:
        """The profile's full name."""
        return self.profile.name

    @property
    def device_rule(self) -> Citation:
        """The clause of In against Ib and Iz."""
        return self.profile.cite("coordination")

    @property
    def load_rule(self) -> Citation:
        """The clause by which a load and its current are reckoned."""
        return self.profile.cite("load")

    @property
    def shared_neutral_rule(self) -> Citation:
        """The clause of circuits that share a neutral."""
        return self.profile.cite("shared_neutral")

    @property
    def band_percent(self) -> float:
        """How far the volts at equipment may lie from its rated ones [%]."""
        return self.profile.figure("equipment_band_percent")

    @property
    def usual_single_phase_a(self) -> float:
        """The greatest single-phase supply that is usual [A]: common practice."""
        return self.profile.figure("usual_single_phase_a")

    @property
    def supply_band(self) -> tuple[float, float]:
        """How far the supply's volts may lie under nominal, and over it [%]."""
        figure = self.profile.figure
        return figure("supply_band_low_percent"), figure("supply_band_high_percent")

    def rule(self, topic: str) -> Citation | None:
        """Return the clause of a topic."""
        return self.profile.cite(topic) if topic in self.profile.clauses else None

    @property
    def shares_neutrals(self) -> bool:
        """Whether circuits may share a neutral on different legs."""
        return self.profile.shares_neutrals

    @property
    def counts_nonlinear_neutral(self) -> bool:
        """Whether nonlinear load on the neutral reduces the ampacity here."""
        return False

    @property
    def choices(self) -> Mapping[str, tuple[str, ...]]:
        """What may be chosen of a run."""
        return runs.choices(self.profile)

    @property
    def occupancies(self) -> tuple[str, ...]:
        """None: this family has no lighting by area."""
        return ()

    def asked(self, capability: type[C]) -> C:
        """Return what answers a capability's questions."""
        return capability_of(_CAPABILITIES, capability, self.profile, self.name)

    def check(self, run: Run) -> None:
        """Refuse what the tables do not hold."""
        runs.check(run, self.profile)

    def devices(self, run: Run | None = None) -> tuple[float, ...]:
        """Return modular breakers, and fuses above them; rewireable fuses for a run that has one [A]."""
        return runs.devices_of(run, self.profile)

    def made_devices(self, run: Run) -> tuple[float, ...]:
        """Return the same, every rating being one the engine chooses from; of a service the distributor's fuses [A]."""
        known = runs.devices_of(run, self.profile)
        return known if run.role != "service" else (*known, *self.asked(Households).main_fuses())

    def remarks(self, run: Run, choice: Choice, pinned: bool) -> list[Finding]:
        """Return what is worth a look in a run that complies: a conductor hotter than its terminals, a harmonic."""
        return runs.remarks(run, choice, self.profile)

    def device_need(self, run: Run, sheet: Sheet) -> float:
        """Return Ib over what the breaker keeps [A]."""
        return runs.device_need(run, self.profile, sheet)

    def sizes(self, run: Run) -> tuple[str, ...]:
        """Return the sizes of the current table [mm²]; 1 mm² is for lighting, where the profile has it at all."""
        return _sizes(
            self.profile,
            runs.kind(run),
            run.method,
            run.phases,
            run.length_m is not None,
            run.use == "lighting",
            run.ring,
        )

    def capacity(self, run: Run, choice: Choice, sheet: Sheet) -> Capacity:
        """Return factor, Iz, greatest In."""
        return runs.capacity(run, choice, self.profile, sheet)

    def objections(self, run: Run, choice: Choice) -> tuple[Objection, ...]:
        """Return what of Ib ≤ In ≤ Iz fails."""
        return runs.objections(run, choice, self.profile)

    def besides(self, run: Run, device_a: float) -> list[tuple[Choice, Message]]:
        """Return nothing."""
        return []

    def complying(self, run: Run, device_a: float, sets: int) -> Callable[[str], bool]:
        """Return the test of Ib ≤ In ≤ Iz."""
        return runs.complying(run, device_a, sets, self.profile)

    def sizes_by_choice(self, run: Run) -> tuple[str, ...]:
        """Return every size but 1 mm², which is pulled where a person asks for it (common practice)."""
        return tuple(size for size in self.sizes(run) if size != "1")

    def other_terminals(self, run: Run, choice: Choice) -> Run | None:
        """Return nothing: the family has one practice."""
        return None

    def drop_v(self, run: Run, choice: Choice, sheet: Sheet) -> float:
        """Return the drop [V] by tabulated mV/A/m."""
        key, millivolts = self._millivolts(run, choice.size)
        if run.ring:
            return rings.drop_v(run, millivolts, key, self.profile, sheet)
        return sheet.apply(
            DROP,
            Message("Voltage drop"),
            "V",
            self.profile.cite_table(key),
            Message("tabulated millivolts for each ampere and metre, at full conductor temperature"),
            millivolts=millivolts,
            amps=run.amps,
            length=run.length_m or 0.0,
            sets=choice.sets,
        )

    def _millivolts(self, run: Run, size: str) -> tuple[str, float]:
        """Return the table that holds the size, and its figure [mV/A/m]."""
        found = self._millivolts_of(run, size)
        if found is None:
            message = Message("{size} mm² is in no voltage drop table of this profile", size=size)
            raise InputError("size", message, str(self.profile.cite("drop")))
        return found

    def _millivolts_of(self, run: Run, size: str) -> tuple[str, float] | None:
        return _millivolts(self.profile, runs.kind(run), size, run.phases, run.method)

    def impedance(self, run: Run, size: str, unity: bool) -> Impedance:
        """Return half of what a single-phase circuit loses, one conductor's part [mΩ/m, as mV/A/m]."""
        key, millivolts = self._millivolts(run._replace(phases=1), size)
        return Impedance(millivolts / _BOTH_WAYS, 0.0, self.profile.cite_table(key), 1.0, along=True)

    def cold_impedance(self, run: Run, size: str) -> Impedance:
        """Return resistance at 20 °C, and the reactance that the drop table leaves beside its hot one [mΩ/m].

        No more of that than a cable has at least: what rounded tables leave may be more, and would hide a fault.
        Source: IEC 60228 (resistance), IEC 60909-0 (the greatest short circuit is that of conductors at 20 °C).
        """
        hot = self.impedance(run, size, unity=False).resistance
        cold, rule = runs.resistances(run.material)[size], self.profile.cite("interrupting")
        left = math.sqrt(max(hot**2 - (cold * runs.heat_of(run, self.profile)) ** 2, 0.0))
        return Impedance(min(cold, hot), min(left, self.profile.figure("cable_reactance")), rule, 1.0)

    def drop_limit(self, run: Run, in_total: bool) -> DropLimit:
        """Return the limit from the origin, by use and supply; long runs may have a little more.

        A final circuit alone, fed by a private supply, keeps the limits of a public one.
        """
        profile = self.profile
        limits = profile.drop_limits if in_total or run.feeder else profile.drop_final
        base = limits[f"{'lighting' if run.use == 'lighting' else 'other'}_{run.supply}"]
        rise = profile.drop_rise
        beyond = max(run.before_m + (run.length_m or 0.0) - rise["over_m"], 0.0)
        percent = base + min(beyond * rise["percent_per_m"], rise["most_percent"])
        return DropLimit(percent, profile.drop_mandatory, profile.cite("drop"))

    def earth(self, run: Run, choice: Choice, least: Choice, sheet: Sheet) -> EarthConductor:
        """Return the protective conductor by the size of the line; of flat twin its own core, which is smaller.

        Source: IEC 60364-5-54 Table 54.2; BS 7671 Table 4D5 (cores; 543.1.3 holds them by reckoning).
        """
        if run.cable == runs.FLAT_TWIN:
            size, rule = runs.own_core(choice.size), self.profile.cite_table("flat_twin_pvc70")
            sheet.read(float(size), Message("Protective conductor"), "mm²", rule, Message("the cable's own core"))
            return EarthConductor(size, run.material, self.profile.cite("adiabatic"), _NOT_CHECKED)
        size = protective_of(choice.size, Message("Protective conductor"), self.profile, sheet)
        return EarthConductor(size, run.material, self.profile.cite("protective"), _NOT_CHECKED)

    def neutral(self, run: Run, choice: Choice, earth: EarthConductor, sheet: Sheet) -> str:
        """Return the line's size, a larger one where all loads together leave more on it than the line carries.

        A smaller neutral is the designer's to prove. Source: IEC 60364-5-52 clause 524; 431.2, 523.6.3.
        Raises: NoLawfulAnswer where no size carries what comes together.
        """
        together = run.neutral.together_a if run.neutral else 0.0
        together = max(together, runs.third_harmonic(run, self.profile)[1])
        if together <= runs.carries(run, choice.size, choice.sets, self.profile) + DUST:
            return choice.size
        because = Message("with all loads running it carries more than its lines: their lags or harmonics add up on it")
        sheet.read(together, Message("On the neutral"), "A", self.profile.cite("protective"), because)
        sizes = self.sizes(run)
        larger = sizes[sizes.index(choice.size) :] if choice.size in sizes else sizes
        enough = (s for s in larger if runs.carries(run, s, choice.sets, self.profile) >= together - DUST)
        found = next(enough, None)
        if found is None:
            raise too_small_neutral(together, larger[-1], run.material, self.profile.cite("protective"))
        return found

    def area_mm2(self, size: str) -> float:
        """Return the cross-section [mm²]."""
        return float(size)

    def conduit(self, run: Run, choice: Choice, earth: EarthConductor, neutral: str) -> str:
        """Return nothing: no conduit table of this family is included."""
        return ""


@cache
def _sizes(
    profile: Profile, kind: str, method: str, phases: int, far: bool, lighting: bool, ring: bool
) -> tuple[str, ...]:
    """Return the sizes that a run may have, by all that decides it; far: it has a length."""
    known = runs.sizes_by(profile, kind, method, phases)
    if far:
        # What no drop table holds cannot be judged over a length.
        known = tuple(size for size in known if _millivolts(profile, kind, size, phases, method) is not None)
    if ring:
        return tuple(size for size in known if float(size) >= profile.figure("ring_least_mm2"))
    smallest = profile.smallest_lighting
    return tuple(size for size in known if size != "1" or (size == smallest and lighting))


@cache
def _millivolts(profile: Profile, kind: str, size: str, phases: int, method: str) -> tuple[str, float] | None:
    column = "three_phase" if phases == THREE_PHASE else "single_phase"
    method = "C" if method == "F" else method  # one column for both
    for key in profile.drops.get(kind, []):
        table = profile.table(key)
        by_method = f"{column}_{method.lower()}"
        name_of = by_method if any(each.name == by_method for each in table.columns) else column
        for row in table.rows:
            if row["size"] == size and row[name_of] is not None:
                return key, number(row, name_of)
    return None
