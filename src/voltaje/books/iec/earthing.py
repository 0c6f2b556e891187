"""What a supply connects to earth in the IEC family: earthing conductor, main protective bonding, by its system."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.answers import sets_of
from voltaje.books.iec.profile import Profile
from voltaje.books.iec.protective import protective_of, protective_sizes
from voltaje.books.machines import Earthing, EarthingAsked, EarthPart
from voltaje.books.tables import number
from voltaje.errors import UnknownName
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Citation, Sheet

HALF = Formula("earthing / 2")


_COPPER, _COMBINED, _OWN = "Cu", "TN-C-S", "TT"


@dataclass(frozen=True)
class IecEarthings:
    """A profile's answers about what is connected to earth."""

    profile: Profile

    def earthing(self, asked: EarthingAsked, sheet: Sheet) -> Earthing:
        """Return the earthing conductor and the main protective bonding conductors of a supply.

        Lines in parallel count together.
        Source: IEC 60364-5-54 clause 542.3 and Table 54.2 (earthing), 544.1.1 (bonding: half of it, 6 to 25 mm²);
        BS 7671 Table 54.8 where the supply is TN-C-S.
        """
        known = protective_sizes()
        for key, size in (("size", asked.size), ("supply_neutral", asked.supply_neutral)):
            if size and size not in known:
                message = Message("{size} is not in the table, which has: {known}", size=size, known=list(known))
                raise UnknownName(key, message)
        profile, rule = self.profile, self.profile.cite("earthing_conductor")
        with sheet.section("electrodes"):
            earthing = protective_of(asked.size, Message("Earthing conductor"), profile, sheet, asked.sets)
            why = Message("by its lines, {size} mm²", size=sets_of(asked.size, asked.sets))
            buried = profile.figure("buried_earthing_mm2")
            if asked.system == _OWN and float(earthing) < buried:
                earthing, why = f"{buried:g}", Message("in the ground to its own electrode, guarded against corrosion")
                sheet.read(buried, Message("Earthing conductor in the ground"), "mm²", rule, why)
        bonding, by, bonding_rule = self._bonding(asked, earthing, sheet)
        if self._combined(asked) and float(earthing) < float(bonding):
            # In series with what the bond carries of the network: it is no smaller. BS 7671 542.3.1.
            earthing, why = bonding, Message("as the main bonding, which it is in series with")
            with sheet.section("electrodes"):
                sheet.read(float(earthing), Message("Earthing conductor, not under the bonding"), "mm²", rule, why)
        parts = [EarthPart("earthing", Message("earthing conductor"), earthing, _COPPER, rule, why)]
        parts.append(EarthPart("bonding", Message("main protective bonding"), bonding, _COPPER, bonding_rule, by))
        return Earthing(tuple(parts))

    def _combined(self, asked: EarthingAsked) -> bool:
        return asked.system == _COMBINED and self.profile.combined_by_neutral

    def _bonding(self, asked: EarthingAsked, earthing: str, sheet: Sheet) -> tuple[str, Message, Citation]:
        profile = self.profile
        with sheet.section("bonds"):
            if self._combined(asked):
                table = profile.table("main_bonding")
                neutral = float(asked.supply_neutral) if asked.supply_neutral else float(asked.size) * asked.sets
                rows = ((row["neutral_to"], number(row, "bonding")) for row in table.rows)
                size = next(each for most, each in rows if most is None or neutral <= float(most))
                rule = profile.cite_table("main_bonding")
                why = Message(
                    "by the supply's neutral, {size} mm²: it may carry what the network leaves on it",
                    size=f"{neutral:g}",
                )
            else:
                rule = profile.cite("bonding")
                half = sheet.apply(
                    HALF, Message("Half of the earthing conductor"), "mm²", rule, None, earthing=float(earthing)
                )
                least, most = profile.figure("bonding_least_mm2"), profile.figure("bonding_most_mm2")
                wanted = min(max(half, least), most)
                size = next(float(each) for each in protective_sizes() if float(each) >= wanted)
                why = Message(
                    "half of it, {least} at least, never more than {most}",
                    least=Figure(least, "mm²"),
                    most=Figure(most, "mm²"),
                )
            sheet.read(size, Message("Main protective bonding"), "mm²", rule, why)
        return f"{size:g}", why, rule
