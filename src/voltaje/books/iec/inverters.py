"""Inverters in the IEC family: a breaker that carries the current where it stands, and the board that it feeds."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.iec import runs
from voltaje.books.iec.profile import Profile
from voltaje.books.machines import BreakerFactors, InverterAsked, InverterRule
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.sheet import Citation, Sheet

AMBIENT = Formula("1 - percent / 100 * (ambient - reference) / 10")
SUM = Formula("main + inverter")

_BUSBAR = Citation("IEC 60364", "551.7.2", "busbar")


@dataclass(frozen=True)
class IecInverters:
    """A profile's answers about inverters."""

    profile: Profile

    def breaker(self, inverter: InverterAsked, sheet: Sheet) -> InverterRule:
        """Return the breaker's factors where it stands, and what the busbar must be rated for.

        Factors that were not entered have a usual value (trade practice), and are named. The board's rating is not
        under the main device and the inverters' current together: IEC 60364-5-551 clause 551.7.2.
        """
        usual: list[str] = []
        factors = BreakerFactors(
            self._ambient(inverter, usual, sheet),
            self._usual(inverter, "neighbours", 1.0 if inverter.alone else None, usual),
            self._usual(inverter, "enclosure", None, usual),
            tuple(usual),
        )
        least = None
        if inverter.main_a is not None:
            because = Message("both can feed it at once")
            least = sheet.apply(
                SUM, Message("Busbar, at least"), "A", _BUSBAR, because, main=inverter.main_a, inverter=inverter.amps
            )
        modular = runs.breakers(self.profile)[-1]
        poles = "4" if inverter.phases > 1 else "2"
        return InverterRule(inverter.amps, factors, poles, modular, least, _BUSBAR)

    def _ambient(self, inverter: InverterAsked, usual: list[str], sheet: Sheet) -> float:
        if "ambient" in inverter.entered:
            return inverter.entered["ambient"]
        reference = self.profile.figure(f"breaker_reference_{inverter.series}_c")
        if inverter.ambient_c is None or inverter.ambient_c <= reference:
            return 1.0
        usual.append("ambient")
        because = Message("a thermal breaker loses about 5 % for each 10 K over its reference: trade practice")
        return sheet.apply(
            AMBIENT,
            Message("Kept at {ambient} °C", ambient=f"{inverter.ambient_c:g}"),
            "",
            None,
            because,
            percent=self.profile.figure("breaker_loss_percent"),
            ambient=inverter.ambient_c,
            reference=reference,
        )

    def _usual(self, inverter: InverterAsked, key: str, known: float | None, usual: list[str]) -> float:
        if key in inverter.entered:
            return inverter.entered[key]
        if known is not None:
            return known
        usual.append(key)
        return self.profile.figure(f"breaker_{key}")
