"""A household cooking circuit: one range, one oven or cooktop, or a cooktop with ovens as one range; its taps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.machines import CookingCircuit, CookingDemandWay, CookingUnit, Tap
from voltaje.books.nec.dwelling.cooking import cooking_demand
from voltaje.books.nec.dwelling.house import Cooking, Load
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.run_tables import ratings, receptacle_ratings
from voltaje.errors import NotCovered, OutsideTable
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import CookingKind
from voltaje.rounding import DUST, HalfReading
from voltaje.sheet import Sheet

SUM = Formula("sum(parts)")
AMPS = Formula("kw * 1000 / volts")
NOT_UNDER = Formula("max(amps, least)")
NEXT = Formula("min(ratings)")
SHARE = Formula("device * percent / 100")

_MOST_OVENS = 2
_RANGE, _COOKTOP, _OVEN = "range", "cooktop", "oven"


@dataclass(frozen=True)
class NecCooking:
    """An edition's answers about cooking circuits."""

    edition: Edition

    def circuit(self, units: Sequence[CookingUnit], volts: float, half: HalfReading, sheet: Sheet) -> CookingCircuit:
        """Return what a cooking circuit needs.

        Source: 210.3, 210.19(A)(3) (210.19(C) in 2023) and its exceptions, 220.55, Table 220.55 and its notes.
        Raises: NotCovered for a set of units that the rule does not take as one; OutsideTable above the table.
        """
        edition = self.edition
        self._require_one_set(units)
        with sheet.section("demand"):
            as_range, ways = self._ways(units, half, sheet)
            least = ways[0]
            amps = sheet.apply(
                AMPS, Message("Current"), "A", edition.cite("volts"), least.name, kw=least.kw, volts=volts
            )
        large = as_range is not None and as_range >= edition.figure("cooking_column_c_over_kw") - DUST
        with sheet.section("device"):
            device, untapped = self._device(units, amps, large, sheet)
        several = len(units) > 1
        taps = self._taps(units, volts, sheet) if several else ()
        may = device <= edition.figure("tap_most_a") + DUST
        if edition.taps_only_of_largest:
            may = abs(device - edition.figure("tap_most_a")) < DUST
        by_c = large and any("column C" in way.name.template for way in ways[:1])
        neutral = None
        if by_c:
            percent = edition.figure("neutral_percent")
            with sheet.section("conductor"):
                neutral = sheet.apply(
                    SHARE,
                    Message("Neutral, at least"),
                    "A",
                    edition.cite("range_neutral"),
                    None,
                    device=device,
                    percent=percent,
                )
        return CookingCircuit(
            tuple(ways),
            amps,
            device,
            untapped,
            may,
            tuple(taps),
            neutral,
            edition.size_figure("range_neutral_least"),
            edition.size_figure("tap_least"),
        )

    def _require_one_set(self, units: Sequence[CookingUnit]) -> None:
        counts = {kind: sum(unit.kind == kind for unit in units) for kind in (_RANGE, _COOKTOP, _OVEN)}
        alone = len(units) == 1
        as_one = counts[_RANGE] == 0 and counts[_COOKTOP] == 1 and 1 <= counts[_OVEN] <= _MOST_OVENS
        if alone or as_one:
            return
        why = Message(
            "one range, one oven, one cooktop, or one cooktop with one or two wall ovens stand on one circuit"
        )
        if counts[_OVEN] > _MOST_OVENS:
            why = Message("more than two ovens: not on one circuit by this rule")
        elif counts[_COOKTOP] > 1:
            why = Message("two cooktops: not on one circuit by this rule")
        raise NotCovered("appliances", why, str(self.edition.cite("cooking_one")))

    def _ways(
        self, units: Sequence[CookingUnit], half: HalfReading, sheet: Sheet
    ) -> tuple[float | None, list[CookingDemandWay]]:
        """Return the kilowatts that count as one range, None for a lone oven or cooktop, and the lawful ways."""
        edition = self.edition
        rule = edition.cite("cooking_one")
        if len(units) == 1 and units[0].kind != _RANGE:
            self._within(units[0].va / 1000, "appliances[0].load")
            because = Message("one oven or cooktop alone: its nameplate, no demand factor")
            kw = sheet.read(units[0].va / 1000, Message("Load of the circuit"), "kW", rule, because)
            return None, [CookingDemandWay(Message("at nameplate"), kw)]
        whole = units[0].va / 1000
        field = "appliances[0].load"
        if len(units) > 1:
            because = Message("a cooktop with one or two ovens in one room: as one range")
            whole = sheet.apply(
                SUM, Message("Nameplates together"), "kW", rule, because, parts=[unit.va / 1000 for unit in units]
            )
            field = "appliances"
        one = Cooking(CookingKind.RANGE, Load(field, "", whole * 1000), 1)
        found = cooking_demand((one,), edition, half, sheet)
        lawful = [CookingDemandWay(way.name, way.demand_va / 1000) for way in found.ways if way.lawful]
        return whole, lawful or [CookingDemandWay(Message("at nameplate"), whole)]

    def _within(self, kw: float, field: str) -> None:
        most = self.edition.figure("cooking_most_kw")
        if kw > most:
            message = Message(
                "{rating} is outside {table}, which goes up to {most}",
                rating=Figure(kw, "kW", 2),
                table=self.edition.table("ranges").numbered(self.edition.name),
                most=Figure(most, "kW", 2),
            )
            raise OutsideTable(field, message, str(self.edition.cite_table("ranges")))

    def _device(self, units: Sequence[CookingUnit], amps: float, large: bool, sheet: Sheet) -> tuple[float, float]:
        """Return the rating [A], and the one that would do without taps."""
        edition, need = self.edition, amps
        if large:
            need = sheet.apply(
                NOT_UNDER,
                Message("Need, and the least rating"),
                "A",
                edition.cite("range_circuit"),
                Message("8¾ kW and over: 40 A at least"),
                amps=amps,
                least=edition.figure("range_circuit_least_a"),
            )
        several = len(units) > 1
        known = (*receptacle_ratings(edition.name),) if several else ratings(edition.name)
        enough = [rating for rating in known if rating >= need - DUST]
        rule = edition.cite("branch_ratings" if several else "standard_ratings")
        if not enough:
            message = Message(
                "{need} is over {most}, the largest circuit of several appliances: a circuit each",
                need=Figure(need, "A", 1),
                most=Figure(known[-1], "A"),
            )
            raise OutsideTable("appliances", message, str(rule))
        because = (
            Message("a circuit of several outlets is 15, 20, 30, 40 or 50 A")
            if several
            else Message("the smallest standard rating not under {need}", need=Figure(need, "A", 1))
        )
        first = sheet.apply(NEXT, Message("Device"), "A", rule, because, ratings=enough[:3])
        if several and edition.taps_only_of_largest:
            most = edition.figure("tap_most_a")
            because = Message("this edition lets only a {most} circuit be tapped", most=Figure(most, "A"))
            return sheet.read(most, Message("Device, with taps"), "A", edition.cite("cooking_taps"), because), first
        return first, first

    def _taps(self, units: Sequence[CookingUnit], volts: float, sheet: Sheet) -> list[Tap]:
        edition, found = self.edition, []
        least = edition.figure("tap_least_a")
        with sheet.section("taps"):
            for unit in units:
                amps = sheet.apply(
                    AMPS,
                    Message("Tap, {name}", name=unit.name),
                    "A",
                    edition.cite("cooking_taps"),
                    Message("by its nameplate; {least} at least", least=Figure(least, "A")),
                    kw=unit.va / 1000,
                    volts=volts,
                )
                found.append(Tap(amps, max(amps, least)))
        return found
