"""Motors by the NEC, Article 430: current by horsepower, conductors, devices, overload, disconnect, feeders."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.machines import FeederMotor, Motor, MotorCircuit, MotorFeeder, Reach
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.run_tables import all_ratings, ratings
from voltaje.books.tables import Row, Table, number, text
from voltaje.errors import InputError, OutsideTable
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.machines import Design, DeviceKind, MotorType
from voltaje.rounding import DUST
from voltaje.sheet import Sheet
from voltaje.systems import THREE_PHASE

SHARE = Formula("amps * percent / 100")
FEEDER = Formula("largest * percent / 100 + sum(others)")
DEVICES = Formula("device + sum(others)")
BY_CODE = Formula("kva_for_hp * hp * 1000 / (sqrt(3) * volts)")
BY_CODE_1 = Formula("kva_for_hp * hp * 1000 / volts")
HP = Formula("kw / 0.746")  # one horsepower in kW, as motors are rated

_TWO_PHASE = 2
_DESIGN_LETTER_C = 75
_TIMES_SINGLE_PHASE = Formula("6 * amps")  # Table 430.251(A) is six times Table 430.248 throughout
_TABLES = {1: "motor_1ph", _TWO_PHASE: "motor_2ph", THREE_PHASE: "motor_3ph"}
# System volts that belong to a column of rated volts, by the note under the tables.
_RANGES = {115: (110, 120), 230: (220, 240), 460: (440, 480), 575: (550, 600)}
CONTINUOUS = "continuous"


@dataclass(frozen=True)
class NecMotors:
    """An edition's answers about motors."""

    edition: Edition

    @property
    def extra_of_largest(self) -> float:
        """A quarter [share]. Source: 430.24, 220.50."""
        return self.edition.figure("motor_extra_percent") / 100

    def amps(self, hp: float, phases: int, volts: float, field: str) -> float:
        """Return the motor tables' current [A]. Source: Tables 430.247 to 430.250."""
        return self._table_amps(hp, self._table(phases, MotorType.SQUIRREL_CAGE), volts, field)[0]

    def output_amps(self, kw: float, phases: int, volts: float, field: str, sheet: Sheet) -> float:
        """Return the table's current of a metric motor [A], by the horsepower that its output is."""
        table = self._table(phases, MotorType.SQUIRREL_CAGE)
        hp = self._hp_of(kw, table)
        amps, rated = self._table_amps(hp, table, volts, field)
        because = Message(
            "{kw} kW at the shaft is {hp} hp; at {volts} V", kw=f"{kw:g}", hp=f"{hp:g}", volts=f"{rated:g}"
        )
        return sheet.read(
            amps, Message("Full-load current, from the table"), "A", table.cite(self.edition.name), because
        )

    def _hp_of(self, kw: float, table: Table) -> float:
        """Return the horsepower that a metric motor is sold as: within 3 % of its output, else the next above [hp]."""
        hp = HP.value(kw=kw)
        known = [number(row, "hp") for row in table.rows]
        share = self.edition.figure("motor_metric_percent") / 100
        near = [each for each in known if abs(each - hp) <= share * hp]
        return min(near, key=lambda each: abs(each - hp)) if near else min((k for k in known if k >= hp), default=hp)

    def duties(self) -> tuple[str, ...]:
        """Return the classes of duty other than continuous. Source: Table 430.22(E)."""
        return tuple(text(row, "duty") for row in self.edition.table("motor_duty").rows)

    def circuit(self, motor: Motor, sheet: Sheet) -> MotorCircuit:
        """Return what a motor's circuit needs.

        Source: 430.6(A), 430.22, 430.32, 430.52, 430.110. Raises InputError at the motor's field.
        """
        edition, findings = self.edition, list[Finding]()
        flc, rated_v = self._current(motor, sheet)
        plate = motor.nameplate_a
        if plate is None:
            plate = flc
            message = Message("No nameplate current: the table's {amps} stands in for it.", amps=Figure(flc, "A", 1))
            mend = Message("Enter the plate's amperes: the overload device goes by them.")
            rule = edition.cite("motor_amperes")
            findings.append(Finding(Severity.NOTE, "motor.no_nameplate", message, rule, "nameplate_a", mend))
        least = self._conductor(motor, flc, sheet)
        devices = self._devices(motor, flc)
        chosen = devices[motor.device_kind]
        with sheet.section("device"):
            self._write_device(motor, flc, chosen, sheet)
        overload, overload_most = self._overload(motor, plate, sheet)
        disconnect = sheet.apply(
            SHARE,
            Message("Disconnect, at least"),
            "A",
            edition.cite("motor_disconnect"),
            None,
            amps=flc,
            percent=edition.figure("motor_disconnect_percent"),
        )
        instantaneous = motor.device_kind is DeviceKind.INSTANTANEOUS
        ground = devices[DeviceKind.DUAL_ELEMENT_FUSE].most_a if instantaneous else chosen.first_a
        locked = self._locked(motor, flc, sheet)
        lettered = motor.kind is MotorType.SQUIRREL_CAGE and motor.phases == THREE_PHASE
        return MotorCircuit(
            rated_v,
            flc,
            least,
            devices,
            motor.device_kind,
            True,
            overload,
            overload_most,
            disconnect,
            ground,
            _DESIGN_LETTER_C if lettered else None,
            locked,
            "",
            tuple(findings),
        )

    def feeder(
        self, motors: Sequence[FeederMotor], other_a: float, other_continuous_a: float, sheet: Sheet
    ) -> MotorFeeder:
        """Return what a feeder of motors and other loads needs. Source: 430.24, 430.62, 430.63."""
        edition = self.edition
        each = [motor for motor in motors for _ in range(motor.count)]
        largest = max(each, key=lambda motor: motor.flc_a)
        others = [motor.flc_a for motor in each]
        others.remove(largest.flc_a)
        with_others = [*others, other_a] if other_a else others
        held = other_continuous_a * edition.figure("continuous_factor")
        conductor = sheet.apply(
            FEEDER,
            Message("Feeder conductors, at least"),
            "A",
            edition.cite("motor_feeder"),
            Message("125 % of the largest, the rest in full, what is continuous besides at 125 %"),
            largest=largest.flc_a,
            percent=edition.figure("motor_conductor_percent"),
            others=[*with_others, held] if held else with_others,
        )
        # Of several alike one is the largest: the one that leaves least to be added.
        guard = max(each, key=lambda motor: (motor.device_a, motor.flc_a))
        rest = [motor.flc_a for motor in each]
        rest.remove(guard.flc_a)
        rule = edition.cite("motor_feeder_other" if other_a or held else "motor_feeder_device")
        added = [*rest, other_a + held] if other_a or held else rest
        summed = sheet.apply(
            DEVICES,
            Message("Largest branch device and the other currents"),
            "A",
            rule,
            None,
            device=guard.device_a,
            others=added,
        )
        most = _at_or_below(ratings(edition.name), summed)
        because = Message("the standard rating that does not exceed it")
        sheet.read(most, Message("Feeder device, at most"), "A", edition.cite("standard_ratings"), because)
        return MotorFeeder(conductor, most)

    # Current

    def _table(self, phases: int, kind: MotorType) -> Table:
        if kind is MotorType.DC:
            return self.edition.table("motor_dc")
        if kind is MotorType.SYNCHRONOUS:
            return self.edition.table("motor_synchronous")
        return self.edition.table(_TABLES[phases])

    def _table_amps(self, hp: float, table: Table, volts: float, field: str) -> tuple[float, float]:
        """Return the current [A] and the rated volts of its column [V]."""
        row = _row_of(table, hp, field, self.edition)
        rated = _rated(volts, table)
        if rated is None or row.get(f"v{rated:g}") is None:
            known = [f"{_volts_of(name)} V" for name, cell in row.items() if name != "hp" and cell is not None]
            message = Message(
                "{table} has no {hp} hp at {volts} V; it has: {known}",
                table=table.numbered(self.edition.name),
                hp=f"{hp:g}",
                volts=f"{volts:g}",
                known=known,
            )
            at = field if field != "hp" else "volts"
            raise InputError(at, message, str(table.cite(self.edition.name)))
        return number(row, f"v{rated:g}"), rated

    def _current(self, motor: Motor, sheet: Sheet) -> tuple[float, float]:
        edition, table = self.edition, self._table(motor.phases, motor.kind)
        if motor.by_plate:
            if motor.nameplate_a is None:
                raise InputError("nameplate_a", Message("must be given"), str(edition.cite("motor_amperes")))
            because = Message("built for low speed or high torque, or of several speeds: its plate stands")
            sheet.read(
                motor.nameplate_a, Message("Current, from the nameplate"), "A", edition.cite("motor_amperes"), because
            )
            return motor.nameplate_a, _rated(motor.volts, table) or motor.volts
        hp = motor.hp if motor.hp is not None else self._hp_of(motor.kw or 0.0, table)
        flc, rated = self._table_amps(hp, table, motor.volts, "hp" if motor.hp is not None else "kw")
        because = Message("{hp} hp at {volts} V, not the nameplate's", hp=f"{hp:g}", volts=f"{rated:g}")
        rule = table.cite(edition.name, row=round(hp, 6), column=f"v{rated:g}")
        sheet.read(flc, Message("Full-load current, from the table"), "A", rule, because)
        return flc, rated

    def _locked(self, motor: Motor, flc: float, sheet: Sheet) -> float | None:
        edition = self.edition
        if motor.locked_rotor_a is not None:
            return motor.locked_rotor_a
        if motor.kind is MotorType.DC:
            return None
        if motor.code_letter and motor.hp:
            table = edition.table("motor_code")
            row = table.row("code_letter", edition.name, letter=motor.code_letter)
            if row["high"] is None:
                message = Message("code letter {letter} has no upper end: enter the locked-rotor amperes", letter="V")
                raise InputError("locked_rotor_a", message, str(table.cite(edition.name)))
            formula = BY_CODE if motor.phases == THREE_PHASE else BY_CODE_1
            because = Message("code letter {letter}, its upper end", letter=motor.code_letter)
            return sheet.apply(
                formula,
                Message("Locked-rotor current"),
                "A",
                edition.cite("motor_code"),
                because,
                kva_for_hp=number(row, "high"),
                hp=motor.hp,
                volts=motor.volts,
            )
        if motor.phases == 1:
            return sheet.apply(
                _TIMES_SINGLE_PHASE, Message("Locked-rotor current"), "A", edition.cite("motor_locked"), None, amps=flc
            )
        table = edition.table("motor_locked_3ph")
        hp, rated = motor.hp or 0.0, _rated(motor.volts, table)
        row_of = next((row for row in table.rows if abs(number(row, "hp") - hp) < DUST), None)
        cell = row_of.get(f"v{rated:g}") if row_of and rated else None
        if motor.kind is not MotorType.SQUIRREL_CAGE or not isinstance(cell, float):
            return None
        return sheet.read(
            cell, Message("Locked-rotor current"), "A", table.cite(edition.name), Message("designs B, C and D")
        )

    # Conductors, devices, overload

    def _conductor(self, motor: Motor, flc: float, sheet: Sheet) -> float:
        edition = self.edition
        if motor.duty == CONTINUOUS:
            percent, amps, topic = edition.figure("motor_conductor_percent"), flc, "motor_conductor"
            because = Message("a motor may run at its load for hours on end, whatever it drives")
        else:
            table = edition.table("motor_duty")
            row = next((row for row in table.rows if row["duty"] == motor.duty), None)
            if row is None:
                message = Message("{duty} is not one of: {known}", duty=motor.duty, known=[CONTINUOUS, *self.duties()])
                raise InputError("duty", message, str(table.cite(edition.name)))
            if motor.nameplate_a is None:
                message = Message("must be given: this duty goes by the nameplate's current")
                raise InputError("nameplate_a", message, str(edition.cite("motor_duty")))
            percent, amps, topic = number(row, "percent"), motor.nameplate_a, "motor_duty"
            because = Message("{duty}: of the nameplate's current", duty=motor.duty)
        with sheet.section("conductor"):
            label = Message("Conductors, at least")
            return sheet.apply(SHARE, label, "A", edition.cite(topic), because, amps=amps, percent=percent)

    def _kind(self, motor: Motor) -> str:
        if motor.kind is MotorType.SQUIRREL_CAGE:
            if motor.phases == 1:
                return "single_phase"
            return "design_b" if motor.design is Design.ENERGY_EFFICIENT else "squirrel_cage"
        return motor.kind.value

    def _devices(self, motor: Motor, flc: float) -> dict[DeviceKind, Reach]:
        edition, kind = self.edition, self._kind(motor)
        row = edition.table("motor_device").row("motor_type", edition.name, motor=kind)
        return {each: self._reach(each, kind, number(row, each.value), flc) for each in DeviceKind}

    def _reach(self, device: DeviceKind, kind: str, percent: float, flc: float) -> Reach:
        """Return how far a kind of device may go. Source: 430.52(C)(1) and its exceptions, 430.52(C)(3)."""
        wanted = SHARE.value(amps=flc, percent=percent)
        ceilings = [row for row in self.edition.table("motor_ceiling").rows if row["device"] == device.value]
        most_percent, reach = _ceiling(ceilings, kind, flc)
        ceiling = SHARE.value(amps=flc, percent=max(most_percent, percent))
        if device is DeviceKind.INSTANTANEOUS:
            return Reach(percent, wanted, most_percent, ceiling)
        known = _made(self.edition.name, device)
        first = known[min(bisect_left(known, wanted - DUST), len(known) - 1)]
        most = _at_or_below(known, ceiling)
        if reach and most > reach:
            # Past the rating that the exception reaches another percentage holds.
            over = next(number(row, "percent") for row in ceilings if row["motor"] == "over_600")
            most = max(reach, _at_or_below(known, SHARE.value(amps=flc, percent=over)))
        return Reach(percent, first, most_percent, max(first, most))

    def _write_device(self, motor: Motor, flc: float, chosen: Reach, sheet: Sheet) -> None:
        edition, trip = self.edition, motor.device_kind is DeviceKind.INSTANTANEOUS
        table = edition.table("motor_device")
        rule = table.cite(edition.name, row=self._kind(motor), column=motor.device_kind.value)
        wanted = sheet.apply(SHARE, Message("Device, by the table"), "A", rule, None, amps=flc, percent=chosen.percent)
        if trip:
            label = Message("Trip setting, at most")
            because = Message("only in a listed starter, and only where it will not start")
            sheet.apply(SHARE, label, "A", edition.cite("motor_trip"), because, amps=flc, percent=chosen.most_percent)
            return
        at_least = Message("the standard rating at or above {wanted}", wanted=Figure(wanted, "A", 2))
        sheet.read(chosen.first_a, Message("Device"), "A", edition.cite("motor_device"), at_least)
        limit = Figure(SHARE.value(amps=flc, percent=chosen.most_percent), "A", 1)
        because = Message(
            "{percent} is {limit}; only where it will not start", percent=Figure(chosen.most_percent, "%"), limit=limit
        )
        sheet.read(chosen.most_a, Message("Its ceiling"), "A", edition.cite("motor_device_most"), because)

    def _overload(self, motor: Motor, plate: float, sheet: Sheet) -> tuple[float, float]:
        edition = self.edition
        factor, rise = motor.service_factor or 0.0, motor.temp_rise_c
        robust = factor >= edition.figure("motor_service_factor") - DUST or (
            rise is not None and rise <= edition.figure("motor_rise_c")
        )
        tail = "percent" if robust else "other_percent"
        because = (
            Message("service factor 1.15 and over, or a rise of 40 °C and less")
            if robust
            else Message("neither service factor 1.15 nor a rise of 40 °C and less is marked")
        )
        with sheet.section("overload"):
            first = sheet.apply(
                SHARE,
                Message("Overload device"),
                "A",
                edition.cite("motor_overload"),
                because,
                amps=plate,
                percent=edition.figure(f"motor_overload_{tail}"),
            )
            most = sheet.apply(
                SHARE,
                Message("Overload device, at most"),
                "A",
                edition.cite("motor_overload_most"),
                Message("where it will not start or carry its load"),
                amps=plate,
                percent=edition.figure(f"motor_overload_most_{tail}"),
            )
        return first, most


def _row_of(table: Table, hp: float, field: str, edition: Edition) -> Row:
    """Return the row of a horsepower. Raises OutsideTable that names the rows beside it."""
    known = [number(row, "hp") for row in table.rows]
    for row, here in zip(table.rows, known, strict=True):
        if abs(here - hp) < 10 * DUST:
            return row
    below, above = [each for each in known if each < hp], [each for each in known if each > hp]
    beside = [f"{each:.4g} hp" for each in (*below[-1:], *above[:1])]
    message = Message(
        "{hp} hp is not in {table}; beside it stand: {beside}",
        hp=f"{hp:.4g}",
        table=table.numbered(edition.name),
        beside=beside,
    )
    raise OutsideTable(field, message, str(table.cite(edition.name)))


def _rated(volts: float, table: Table) -> float | None:
    """Return the rated volts whose column holds for these, rated or nominal [V]."""
    columns = [_volts_of(column.name) for column in table.columns if column.name != "hp"]
    if volts in columns:
        return volts
    inside = (rated for rated, (low, high) in _RANGES.items() if low <= volts <= high and rated in columns)
    return next(inside, None)


def _volts_of(column: str) -> int:
    return int(column.removeprefix("v"))


def _ceiling(rows: Sequence[Row], kind: str, flc: float) -> tuple[float, float | None]:
    """Return the ceiling [%] and the rating up to which the exception reaches [A], None where there is no end."""
    holds = [
        row for row in rows if row["motor"] in ("any", kind) and (flc > number(row, "from_a") or not row["from_a"])
    ]
    best = holds[-1]
    return number(best, "percent"), None if best["most_a"] is None else number(best, "most_a")


def _made(book: str, device: DeviceKind) -> tuple[float, ...]:
    return ratings(book) if device is DeviceKind.INVERSE_TIME_BREAKER else all_ratings(book)


def _at_or_below(known: Sequence[float], amps: float) -> float:
    place = bisect_right(known, amps + DUST)
    return known[place - 1] if place else known[0]
