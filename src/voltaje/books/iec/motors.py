"""Motors in the IEC family: the nameplate, or a usual current; a breaker whose type lets them start."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.iec import runs
from voltaje.books.iec.profile import Profile
from voltaje.books.machines import FeederMotor, Motor, MotorCircuit, MotorFeeder, Reach
from voltaje.books.tables import number, text
from voltaje.errors import NotCovered, OutsideTable
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.machines import DeviceKind, MotorType
from voltaje.rounding import DUST
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE

KW = Formula("hp * 0.746")  # one horsepower in kW, as motors are rated
AT_VOLTS = Formula("amps * 400 / volts")
BY_OUTPUT_3 = Formula("kw * 1000 / (sqrt(3) * volts * efficiency * cosine)")
BY_OUTPUT_1 = Formula("kw * 1000 / (volts * efficiency * cosine)")
START = Formula("amps * times")
SUM = Formula("sum(parts)")

_TABLE_V = 400.0


@dataclass(frozen=True)
class IecMotors:
    """A profile's answers about motors."""

    profile: Profile

    @property
    def extra_of_largest(self) -> float:
        """Nothing: this family adds nothing for the largest [share]."""
        return 0.0

    def amps(self, hp: float, phases: int, volts: float, field: str) -> float:
        """Return the usual current of a motor rated in horsepower [A], by its output in kW."""
        return self.output_amps(KW.value(hp=hp), phases, volts, field, off())

    def output_amps(self, kw: float, phases: int, volts: float, field: str, sheet: Sheet) -> float:
        """Return the usual current of an output [A]: the table's, else by a usual efficiency and power factor.

        Usual currents, efficiency and power factor: common practice; no standard sets them.
        """
        label = Message("Design current Ib")
        row = next((row for row in self.profile.table("motors").rows if abs(number(row, "kw") - kw) < DUST), None)
        if row is not None and phases == THREE_PHASE:
            rule, because = self.profile.cite_table("motors"), Message("usual current, by voltage")
            return sheet.apply(AT_VOLTS, label, "A", rule, because, amps=number(row, "amps"), volts=volts)
        formula = BY_OUTPUT_3 if phases == THREE_PHASE else BY_OUTPUT_1
        because = Message("its shaft's output over a usual efficiency and power factor")
        return sheet.apply(
            formula,
            label,
            "A",
            self.profile.cite("load"),
            because,
            kw=kw,
            volts=volts,
            efficiency=self.profile.figure("motor_efficiency"),
            cosine=self.profile.figure("motor_cosine"),
        )

    def duties(self) -> tuple[str, ...]:
        """Return none: this family rates motors by their duty on the plate."""
        return ()

    def circuit(self, motor: Motor, sheet: Sheet) -> MotorCircuit:
        """Return what a motor's circuit needs: Ib ≤ In ≤ Iz, and a breaker type that holds the start.

        Source: IEC 60364-4-43 clause 433.1; IEC 60898-1 Table 2 (types). Usual currents: common practice.
        """
        if motor.kind is MotorType.DC:
            raise NotCovered("motor_type", Message("no rule in this book here for direct-current motors"))
        if motor.duty != "continuous":
            raise NotCovered("duty", Message("no table of duties in this book: give the current that it draws"))
        findings = list[Finding]()
        amps = self._current(motor, findings, sheet)
        times = self.profile.figure("motor_start_times")
        locked = motor.locked_rotor_a
        if locked is None:
            because = Message("usual multiple: enter the plate's locked-rotor amperes where it says them")
            locked = sheet.apply(START, Message("Starting current, about"), "A", None, because, amps=amps, times=times)
        rating, curve = self._breaker(amps, locked)
        with sheet.section("device"):
            start = Figure(locked, "A")
            because = Message("type {curve} does not trip at once under {start}", curve=curve, start=start)
            if not curve:
                because = Message("moulded case or fuse: its magnetic release set over {start}", start=start)
            sheet.read(rating, Message("Breaker {curve}", curve=curve), "A", self.profile.cite("coordination"), because)
        reach = Reach(100.0, rating, 100.0, rating)
        return MotorCircuit(
            motor.volts,
            amps,
            amps,
            dict.fromkeys(DeviceKind, reach),
            DeviceKind.INVERSE_TIME_BREAKER,
            False,
            amps,
            amps,
            amps,
            rating,
            None,
            locked,
            curve,
            tuple(findings),
        )

    def feeder(
        self, motors: Sequence[FeederMotor], other_a: float, other_continuous_a: float, sheet: Sheet
    ) -> MotorFeeder:
        """Return what a feeder of motors needs: their currents together, the largest starting beside the rest."""
        each = [motor.flc_a for motor in motors for _ in range(motor.count)]
        parts = [part for part in (*each, other_a, other_continuous_a) if part]
        amps = sheet.apply(SUM, Message("Design current Ib"), "A", self.profile.cite("load"), None, parts=parts)
        largest = max(motor.device_a for motor in motors)
        known = [
            rating for rating in runs.devices_of(None, self.profile) if rating >= amps - DUST and rating >= largest
        ]
        if not known:
            raise OutsideTable("motors", Message("{amps} is above the largest rating", amps=Figure(amps, "A", 1)))
        return MotorFeeder(amps, known[0])

    def _current(self, motor: Motor, findings: list[Finding], sheet: Sheet) -> float:
        label = Message("Design current Ib")
        if motor.nameplate_a is not None:
            return sheet.read(motor.nameplate_a, label, "A", self.profile.cite("load"), Message("from the nameplate"))
        kw = motor.kw if motor.kw is not None else KW.value(hp=motor.hp or 0.0)
        words = Message("The current is a usual one, not the plate's.")
        mend = Message("Enter the plate's amperes.")
        findings.append(Finding(Severity.NOTE, "motor.usual_current", words, None, "nameplate_a", mend))
        return self.output_amps(kw, motor.phases, motor.volts, "kw", sheet)

    def _breaker(self, amps: float, start: float) -> tuple[float, str]:
        """Return the rating and type of breaker that carries and starts it. Raises OutsideTable where none does."""
        curves = [row for row in self.profile.table("breaker_curves").rows if row["curve"] != "B"]
        modular = runs.breakers(self.profile)[-1]
        for rating in runs.devices_of(None, self.profile):
            if rating < amps - DUST:
                continue
            if rating > modular:
                return rating, ""  # moulded case: its magnetic release is set over the start
            for row in curves:
                if start <= rating * number(row, "holds") + DUST:
                    return rating, text(row, "curve")
        message = Message("no breaker starts {start}: a soft starter, or fuses by the maker", start=Figure(start, "A"))
        raise OutsideTable("kw", message)
