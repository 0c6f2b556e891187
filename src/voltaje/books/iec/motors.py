"""Motors in the IEC family: the nameplate, or a usual current; a breaker whose type lets them start."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.iec import runs
from voltaje.books.iec.profile import Profile
from voltaje.books.machines import FeederMotor, Motor, MotorCircuit, MotorFeeder, Reach
from voltaje.books.tables import number, text
from voltaje.errors import InputError, NotCovered, OutsideTable
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.machines import DeviceKind, MotorType
from voltaje.sheet import Sheet

KW = Formula("hp * 0.746")  # one horsepower in kW, as motors are rated
AT_VOLTS = Formula("amps * 400 / volts")
START = Formula("amps * times")
SUM = Formula("sum(parts)")

_THREE_PHASE, _TABLE_V = 3, 400.0
_DUST = 1e-6


@dataclass(frozen=True)
class IecMotors:
    """A profile's answers about motors."""

    profile: Profile

    def amps(self, hp: float, phases: int, volts: float, field: str) -> float:
        """Refuse to give a current [A]: no rule goes by horsepower here."""
        raise NotCovered(field, Message("no rule in this book for horsepower: give kW, or the nameplate's A"))

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
            motor.volts, amps, amps, dict.fromkeys(DeviceKind, reach), DeviceKind.INVERSE_TIME_BREAKER, False, amps,
            amps, amps, rating, None, locked, None, curve, tuple(findings),
        )  # fmt: skip

    def feeder(
        self, motors: Sequence[FeederMotor], other_a: float, other_continuous_a: float, sheet: Sheet
    ) -> MotorFeeder:
        """Return what a feeder of motors needs: their currents together, the largest starting beside the rest."""
        each = [motor.flc_a for motor in motors for _ in range(motor.count)]
        parts = [part for part in (*each, other_a, other_continuous_a) if part]
        amps = sheet.apply(SUM, Message("Design current Ib"), "A", self.profile.cite("load"), None, parts=parts)
        largest = max(motor.device_a for motor in motors)
        known = [rating for rating in runs.devices_of(None) if rating >= amps - _DUST and rating >= largest]
        if not known:
            raise OutsideTable("motors", Message("{amps} is above the largest rating", amps=Figure(amps, "A", 1)))
        return MotorFeeder(amps, known[0])

    def _current(self, motor: Motor, findings: list[Finding], sheet: Sheet) -> float:
        label = Message("Design current Ib")
        if motor.nameplate_a is not None:
            return sheet.read(motor.nameplate_a, label, "A", self.profile.cite("load"), Message("from the nameplate"))
        field = "kw" if motor.kw is not None else "hp"
        kw = motor.kw if motor.kw is not None else KW.value(hp=motor.hp or 0.0)
        if motor.phases != _THREE_PHASE:
            message = Message("must be given: usual currents are for three phases")
            raise InputError("nameplate_a", message)
        table = self.profile.table("motors")
        found = next((row for row in table.rows if abs(number(row, "kw") - kw) < _DUST), None)
        if found is None:
            known = [number(row, "kw") for row in table.rows]
            beside = [*[each for each in known if each < kw][-1:], *[each for each in known if each > kw][:1]]
            message = Message(
                "{kw} kW is not among the usual motors; beside it stand: {beside}; or give the nameplate's A",
                kw=f"{kw:.4g}", beside=[f"{each:g} kW" for each in beside],
            )  # fmt: skip
            raise OutsideTable(field, message)
        words = Message("The current is a usual one, not the plate's.")
        mend = Message("Enter the plate's amperes.")
        findings.append(Finding(Severity.WARN, "motor.usual_current", words, None, "nameplate_a", mend))
        rule, because = self.profile.cite_table("motors"), Message("usual current, by voltage")
        return sheet.apply(AT_VOLTS, label, "A", rule, because, amps=number(found, "amps"), volts=motor.volts)

    def _breaker(self, amps: float, start: float) -> tuple[float, str]:
        """Return the rating and type of breaker that carries and starts it. Raises OutsideTable where none does."""
        curves = [row for row in self.profile.table("breaker_curves").rows if row["curve"] != "B"]
        modular = max(number(row, "amps") for row in self.profile.table("breakers").rows)
        for rating in runs.devices_of(None):
            if rating < amps - _DUST:
                continue
            if rating > modular:
                return rating, ""  # moulded case: its magnetic release is set over the start
            for row in curves:
                if start <= rating * number(row, "holds") + _DUST:
                    return rating, text(row, "curve")
        message = Message("no breaker starts {start}: a soft starter, or fuses by the maker", start=Figure(start, "A"))
        raise OutsideTable("kw", message)
