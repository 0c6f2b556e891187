"""Whether a fault to earth is opened in time: the loop that it goes round, against the device and the RCD."""

from __future__ import annotations

import math
from dataclasses import dataclass

from voltaje.books.faults import Loop, LoopAsked, Protective, TestLimits
from voltaje.books.iec import rings
from voltaje.books.iec.profile import PACKAGE, Profile
from voltaje.books.iec.protective import protective_of
from voltaje.books.iec.runs import breakers, resistances
from voltaje.books.tables import load_table, number, text
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.rounding import exceeds
from voltaje.sheet import Citation, Sheet, off
from voltaje.systems import THREE_PHASE, System

HOT = Formula("cold * heat * length / 1000")
BY_AREA = Formula("resistivity * length / area")
ARMOUR = Formula("resistivity / area * heat * length")
RING = Formula("once_round / 4")
LOOP = Formula("ze + line + protective")
MOST = Formula("share * volts / (times * rating)")
REST = Formula("(1 - share) * most")
FAULT = Formula("share * volts / loop")
BY_RCD = Formula("touch / (trips / 1000)")
LONGEST = Formula("(most - ze) / each_metre")

CURVES = ("B", "C", "D")
FUSES = ("gG", "BS 88-3", "BS 3036")
CORE, SEPARATE, ARMOURED = "core", "separate", "armour"
SOCKETS, FIXED, DISTRIBUTION = "sockets", "fixed", "distribution"
_TT = "TT"
_SHORT_S, _LONG_S = 0.4, 5.0  # the times for which fuses have a figure
_MA = 1000.0
_NOMINAL = 0.01  # 230.9 V is 230 V


@dataclass(frozen=True)
class IecDisconnections:
    """A profile's answers about automatic disconnection."""

    profile: Profile

    def loop(self, asked: LoopAsked, sheet: Sheet) -> Loop:
        """Return the loop of a fault to earth, hot, held against what opens it.

        Source: IEC 60364-4-41 411.3.2 (times), 411.4.4 (TN: Zs × Ia ≤ U0), 411.5.3 (TT: RA × IΔn ≤ 50 V); resistance
        by IEC 60228; Cmin 0.95 by BS 7671 411.4.4. AS/NZS 3000 B5.2: lengths where the supply's loop is not known.
        Raises: InputError at the field that no table has, or that cannot be.
        """
        self._check(asked)
        profile, rule = self.profile, self._rule(asked)
        required = asked.seconds or self._required(asked, sheet)
        with sheet.section("limit"):
            most = self._most(asked, required, sheet)
            by_rcd = self._most_rcd(asked, sheet)
        with sheet.section("loop"):
            ze, assumed, by_area = self._ze(asked, most, sheet)
            own, line, protective, cold = self._parts(asked, by_area, sheet)
            zs = sheet.apply(LOOP, Message("Zs, once round"), "Ω", rule, None, ze=ze, line=line, protective=protective)
            fault = sheet.apply(
                FAULT,
                Message("Current of the fault"),
                "A",
                rule,
                None,
                share=profile.figure("loop_of_nominal"),
                volts=profile.figure("nominal_to_earth_v"),
                loop=zs,
            )
        measured = None if most is None else most * profile.figure("loop_measured")
        by, time = self._opened(asked, zs, ze + protective, most, by_rcd, required, fault)
        longest = None
        if by != "RCD" and most is not None and most > ze:  # where the RCD opens it, the drop bounds its length
            each = (line + protective) / asked.length_m
            longest = sheet.apply(LONGEST, Message("Longest run"), "m", rule, None, most=most, ze=ze, each_metre=each)
        known = (ze, assumed, line, protective, zs, cold, own)
        return Loop(*known, most, measured, by_rcd, required, fault, time, by, longest, rule)

    @property
    def usual_kind(self) -> str:
        """The type of breaker that is usual."""
        return self.profile.usual_curve

    def is_for(self, system: System) -> bool:
        """Return whether a supply has the nominal volts to earth. Source: IEC 60038, 230/400 V."""
        star = system.line_to_line_v / (math.sqrt(3) if system.phases == THREE_PHASE else 1)
        to_earth = system.line_to_neutral_v or star
        return abs(to_earth / self.profile.figure("nominal_to_earth_v") - 1) < _NOMINAL

    def has(self, kind: str, amps: float) -> bool:
        """Return whether there are figures of a device."""
        return amps in breakers(self.profile) if kind in CURVES else amps in self._fuses(kind)

    def test_limits(self) -> TestLimits:
        """Return what results are held against [MΩ, ms, factor]. Source: IEC 60364-6 Table 6A, IEC 61008-1."""
        figure = self.profile.figure
        return TestLimits(figure("test_least_mohm"), figure("rcd_at_rating_s") * _MA, figure("test_over_design"))

    def supply_ohm(self, earthing: str, ze_ohm: float | None, electrode_ohm: float | None) -> float | None:
        """Return a supply's part of the loop [Ω]. Source: IEC 60364-4-41 411.4.4, 411.5; usual ones by practice."""
        if ze_ohm is not None or earthing == _TT:
            return ze_ohm if ze_ohm is not None else electrode_ohm
        return self.profile.figure("ze_tn_c_s" if earthing == "TN-C-S" else "ze_tn_s") or None

    def run_ohm(self, asked: LoopAsked) -> float:
        """Return what a run adds to the loop, line and protective conductor hot [Ω].

        Source: IEC 60228. Raises: InputError at the size or the armour that no table has.
        """
        _size, line, back, _cold = self._parts(asked, False, off())
        return line + back

    def _rule(self, asked: LoopAsked) -> Citation:
        return self.profile.cite("loop_tt" if asked.earthing == _TT else "loop")

    def _check(self, asked: LoopAsked) -> None:
        known = self._ratings(asked.kind)
        if asked.device_a not in known:
            message = Message(
                "{amps} A is no rating of {kind}: {known}", amps=f"{asked.device_a:g}", kind=asked.kind, known=known
            )
            raise InputError("device_a", message)
        if asked.ring and asked.device_a not in rings.devices(self.profile):
            raise InputError("ring", Message("a ring is protected at 30 or 32 A"), "BS 7671 433.1.204")
        own, made = asked.protective, resistances(asked.material)
        sizes = {"line_mm2": asked.line, "protective_mm2": own.size if own.lies != ARMOURED else ""}
        for field, size in sizes.items():
            if size and size not in made:
                message = Message("{size} mm² is not in the table, which has: {known}", size=size, known=list(made))
                raise InputError(field, message, str(self.profile.cite_table("resistance")))
        if own.lies != ARMOURED and own.size and float(own.size) > float(asked.line):
            message = Message("is over its line's {line} mm²: give both as they are", line=asked.line)
            raise InputError("protective_mm2", message)
        if asked.earthing == _TT and asked.ze_ohm is None and asked.electrode_ohm is None:
            raise InputError("electrode_ohm", Message("give the electrode's resistance, or the loop as measured"))

    def _ratings(self, kind: str) -> tuple[float, ...]:
        if kind in CURVES:
            return breakers(self.profile)
        found = self._fuses(kind)
        if not found:
            raise InputError(
                "device_kind", Message("{book} has no figures of {kind} here", book=self.profile.short, kind=kind)
            )
        return found

    def _fuses(self, kind: str) -> tuple[float, ...]:
        rows = self.profile.table("fuse_loops").rows
        return tuple(number(row, "amps") for row in rows if row["kind"] == kind)

    def _required(self, asked: LoopAsked, sheet: Sheet) -> float:
        """Return the time in which the circuit must be opened [s]."""
        to_a = {SOCKETS: "time_sockets_to_a", FIXED: "time_fixed_to_a"}.get(asked.feeds)
        final = to_a is not None and asked.device_a <= self.profile.figure(to_a)
        system = "tt" if asked.earthing == _TT else "tn"
        seconds = self.profile.figure(f"time_{system}_{'final' if final else 'other'}_s")
        because = (
            Message("a final circuit of its kind") if final else Message("a larger circuit, or one of distribution")
        )
        with sheet.section("limit"):
            return sheet.read(seconds, Message("Open within"), "s", self.profile.cite("disconnection"), because)

    def _most(self, asked: LoopAsked, required: float, sheet: Sheet) -> float | None:
        """Return the greatest loop with which the device opens in time [Ω]; None where no figure says so."""
        profile, rule = self.profile, self._rule(asked)
        if asked.kind in CURVES:
            if required < profile.figure("loop_at_once_s"):
                return None
            return sheet.apply(
                MOST,
                Message("Greatest Zs for the device"),
                "Ω",
                rule,
                Message("it opens at once at so many times its rating"),
                share=profile.figure("loop_of_nominal"),
                volts=profile.figure("nominal_to_earth_v"),
                times=profile.figure(f"loop_times_{asked.kind.lower()}"),
                rating=asked.device_a,
            )
        if required < _SHORT_S:
            return None  # no figure between: none is made up
        rows = profile.table("fuse_loops").rows
        row = next(row for row in rows if row["kind"] == asked.kind and row["amps"] == asked.device_a)
        column = "zs_5" if required >= _LONG_S and row["zs_5"] is not None else "zs_0_4"
        if row[column] is None:
            return None
        label = Message("Greatest Zs for the fuse")
        return sheet.read(number(row, column), label, "Ω", profile.cite_table("fuse_loops"))

    def _most_rcd(self, asked: LoopAsked, sheet: Sheet) -> float | None:
        if not asked.rcd_ma:
            return None
        return sheet.apply(
            BY_RCD,
            Message("Greatest loop for the RCD"),
            "Ω",
            self.profile.cite("loop_tt"),
            None,
            touch=self.profile.figure("touch_v"),
            trips=asked.rcd_ma,
        )

    def _ze(self, asked: LoopAsked, most: float | None, sheet: Sheet) -> tuple[float, bool, bool]:
        """Return the supply's part [Ω], whether it is assumed, and whether its circuit goes by areas alone."""
        profile, rule = self.profile, self._rule(asked)
        known = asked.ze_ohm if asked.ze_ohm is not None else asked.electrode_ohm if asked.earthing == _TT else None
        if known is not None:
            return sheet.read(known, Message("Of the supply"), "Ω", rule), False, False
        usual = profile.figure("ze_tn_c_s" if asked.earthing == "TN-C-S" else "ze_tn_s")
        if usual:
            because = Message("the usual greatest: not measured")
            return sheet.read(usual, Message("Of the supply"), "Ω", rule, because), True, False
        if most is None:
            raise InputError("ze_ohm", Message("give the supply's loop: nothing here says what to take for it"))
        because = Message("of the volts so much is left for the circuit: the supply's loop is not known")
        share = profile.figure("length_supply_share")
        return sheet.apply(REST, Message("Of the supply"), "Ω", rule, because, share=share, most=most), True, True

    def _parts(self, asked: LoopAsked, by_area: bool, sheet: Sheet) -> tuple[str, float, float, float]:
        """Return the protective conductor's size, line and protective conductor hot, both of them cold [Ω]."""
        profile, own = self.profile, asked.protective
        heat = profile.figure("heat_90" if asked.insulation == "XLPE 90" else "heat_70")
        size = own.size or self._by_line(asked, sheet)
        if by_area:
            given = {"resistivity": profile.figure("length_ohm_mm2_m"), "length": asked.length_m}
            rule = profile.cite("loop")
            line = sheet.apply(BY_AREA, Message("Line"), "Ω", rule, None, **given, area=float(asked.line))
            back = sheet.apply(BY_AREA, Message("Protective conductor"), "Ω", rule, None, **given, area=float(size))
            cold = line + back
        else:
            line, cold_line = self._of_core(asked, asked.line, heat, Message("Line"), sheet)
            if own.lies == ARMOURED:
                back, cold_back = self._of_armour(asked, size, sheet)
            else:
                warm = heat if own.lies == CORE else profile.figure("loop_separate")
                back, cold_back = self._of_core(asked, size, warm, Message("Protective conductor"), sheet)
            cold = cold_line + cold_back
        if asked.ring:
            rule = profile.cite("loop")
            because = Message("from both ends of the ring, at its middle")
            line = sheet.apply(RING, Message("Line of the ring"), "Ω", rule, because, once_round=line)
            back = sheet.apply(RING, Message("Protective conductor of the ring"), "Ω", rule, because, once_round=back)
            cold /= 4
        return size, line, back, cold

    def _by_line(self, asked: LoopAsked, sheet: Sheet) -> str:
        if asked.protective.lies == ARMOURED:
            return f"{armour_area(asked.line, asked.protective, 'protective_mm2'):g}"
        return protective_of(asked.line, Message("Protective conductor"), self.profile, sheet)

    def _of_core(self, asked: LoopAsked, size: str, heat: float, label: Message, sheet: Sheet) -> tuple[float, float]:
        cold = resistances(asked.material)[size]
        hot = sheet.apply(
            HOT, label, "Ω", self.profile.cite_table("resistance"), None, cold=cold, heat=heat, length=asked.length_m
        )
        return hot, hot / heat

    def _of_armour(self, asked: LoopAsked, area: str, sheet: Sheet) -> tuple[float, float]:
        heat = self.profile.figure("armour_heat_xlpe" if asked.insulation == "XLPE 90" else "armour_heat_pvc")
        hot = sheet.apply(
            ARMOUR,
            Message("Armour"),
            "Ω",
            self.profile.cite_table("armour_areas"),
            None,
            resistivity=self.profile.figure("armour_ohm_mm2_m"),
            area=float(area),
            heat=heat,
            length=asked.length_m,
        )
        return hot, hot / heat

    def _opened(
        self,
        asked: LoopAsked,
        zs: float,
        to_earth: float,
        most: float | None,
        by_rcd: float | None,
        required: float,
        fault: float,
    ) -> tuple[str, float | None]:
        """Return what opens the fault in time, and in which [s]."""
        if most is not None and not exceeds(zs, most):
            if asked.kind in CURVES:
                return "device", self.profile.figure("loop_at_once_s")
            return "device", _LONG_S if required >= _LONG_S else _SHORT_S
        if by_rcd is None or exceeds(to_earth if asked.earthing == _TT else zs, by_rcd):
            return "", None
        times = fault / ((asked.rcd_ma or 0.0) / _MA)
        known = ((5, "rcd_at_five_s"), (2, "rcd_at_twice_s"), (1, "rcd_at_rating_s"))
        time = next((self.profile.figure(key) for least, key in known if times >= least), None)
        return ("RCD", time) if time is not None and not exceeds(time, required) else ("", None)


def armour_area(line: str, own: Protective, field: str) -> float:
    """Return the area of a cable's armour [mm²]. Raises InputError at `field` where the table has none."""
    rows = load_table(PACKAGE, "armour_areas").rows
    found = next((row for row in rows if text(row, "size") == line and row["cores"] == own.cores), None)
    if found is None:
        message = Message("no area is here for the armour of {n} × {size} mm²: give it", n=own.cores, size=line)
        raise InputError(field, message)
    return number(found, "armour")
