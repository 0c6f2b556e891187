"""Hermetic compressors and inverters by the NEC: Articles 440 and 705."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass

from voltaje.books.machines import BreakerFactors, Hermetic, InverterAsked, InverterRule
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.run_tables import ratings
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.rounding import DUST
from voltaje.sheet import Sheet

GREATER = Formula("max(currents)")
SHARE = Formula("amps * percent / 100")
BUSBAR = Formula("(main + inverter) * 100 / percent")
OTHERS = Formula("sum(devices)")


@dataclass(frozen=True)
class NecCompressors:
    """An edition's answers about hermetic compressors."""

    edition: Edition

    def circuit(
        self, rated_a: float | None, selection_a: float | None, mca: float | None, mop: float | None, sheet: Sheet
    ) -> Hermetic:
        """Return what a compressor's circuit needs: by its plate, else by its rated-load current.

        Source: 440.4(B) (minimum circuit ampacity, maximum device), 440.22(A), 440.32.
        """
        edition = self.edition
        currents = [each for each in (rated_a, selection_a) if each]
        amps = max(currents) if currents else None
        if amps is None and (mca is None or mop is None):
            message = Message("give its rated-load current, or the plate's minimum circuit ampacity and maximum device")
            raise InputError("rated_load_a", message, str(edition.cite("cooling_plate")))
        if amps is not None and len(currents) > 1:
            because = Message("the greater of rated-load and branch-selection current")
            sheet.apply(GREATER, Message("Current"), "A", edition.cite("cooling_conductor"), because, currents=currents)
        if mca is not None:
            need = sheet.read(
                mca, Message("Minimum circuit ampacity, from the plate"), "A", edition.cite("cooling_plate")
            )
        else:
            need = sheet.apply(
                SHARE,
                Message("Conductors, at least"),
                "A",
                edition.cite("cooling_conductor"),
                None,
                amps=amps or 0.0,
                percent=edition.figure("hermetic_conductor_percent"),
            )
        with sheet.section("device"):
            first, most = self._devices(amps or 0.0, mop, sheet)
        return Hermetic(amps or need, need, first, most)

    def _devices(self, amps: float, mop: float | None, sheet: Sheet) -> tuple[float, float]:
        """Return the device to take first, and how far it may go where that does not let it start [A, A]."""
        if mop is not None:
            most = self._at_or_below(mop)
            because = Message("not over the {mop} A of the plate", mop=f"{mop:g}")
            sheet.read(most, Message("Device, at most"), "A", self.edition.cite("cooling_plate"), because)
            return most, most
        first = self._device(amps, "hermetic_device_percent", Message("Device"), sheet)
        most = self._device(amps, "hermetic_device_most_percent", Message("Device, if it will not start"), sheet)
        return first, most

    def _device(self, amps: float, key: str, label: Message, sheet: Sheet) -> float:
        edition = self.edition
        rule = edition.cite("cooling_device")
        limit = sheet.apply(SHARE, Message("Not over"), "A", rule, None, amps=amps, percent=edition.figure(key))
        rating = max(self._at_or_below(limit), edition.figure("hermetic_device_least_a"))
        return sheet.read(rating, label, "A", rule, Message("the standard rating that does not exceed it"))

    def _at_or_below(self, amps: float) -> float:
        known = ratings(self.edition.name)
        place = bisect_right(known, amps + DUST)
        return known[place - 1] if place else known[0]


@dataclass(frozen=True)
class NecInverters:
    """An edition's answers about inverters."""

    edition: Edition

    def breaker(self, inverter: InverterAsked, sheet: Sheet) -> InverterRule:
        """Return 125 % of the output current, and what the busbar must be rated for.

        Source: 705.60 (705.28 from 2020), 705.12: 125 % of the inverters' current and the main within 120 % of the
        busbar, the breaker at the far end; or the sum of all devices but the main within the busbar.
        """
        edition = self.edition
        needed = sheet.apply(
            SHARE,
            Message("Device and conductors, at least"),
            "A",
            edition.cite("inverter_current"),
            Message("an inverter is a continuous source"),
            amps=inverter.amps,
            percent=edition.figure("inverter_percent"),
        )
        rule, least = edition.cite("busbar"), None
        if inverter.main_a is not None:
            least = sheet.apply(
                BUSBAR,
                Message("Busbar, at least"),
                "A",
                rule,
                Message("its breaker at the far end from the main"),
                main=inverter.main_a,
                inverter=needed,
                percent=edition.figure("busbar_percent"),
            )
        given = inverter.entered
        factors = BreakerFactors(given.get("ambient", 1.0), given.get("neighbours", 1.0), given.get("enclosure", 1.0))
        poles = "3" if inverter.phases > 1 else "2"
        return InverterRule(needed, factors, poles, None, least, rule)
