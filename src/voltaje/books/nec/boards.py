"""Demand of boards by Article 220: each kind of load by its own rule, the rest in full."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.answers import BoardDemand, BoardFacts, Connected
from voltaje.books.nec.area import area_demand, area_lighting, steps_of
from voltaje.books.nec.dwelling.cooking import cooking_demand
from voltaje.books.nec.dwelling.dwellings import dwellings_demand
from voltaje.books.nec.dwelling.house import Cooking, Load
from voltaje.books.nec.dwelling.standard import dryers_demand
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.welders import RESISTANCE
from voltaje.books.nec.welders import together as welders
from voltaje.books.noncoincident import dropped
from voltaje.books.tables import number
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import CookingKind
from voltaje.path.kinds import HOUSEHOLD, LOAD_KINDS
from voltaje.rounding import HalfReading
from voltaje.sheet import Sheet, off

SUM = Formula("sum(parts)")
SHARE = Formula("load * percent / 100")
FIRST_AND_REST = Formula("first + (load - first) * percent / 100")
NOT_UNDER = Formula("max(reduced, two_largest)")
LEAST_EACH = Formula("max(nameplate, least) * count")
LARGER = Formula("max(counted, by_area)")

BY_AREA = "by_area"
_OFFICES = ("office", "bank")
_MOTORS = tuple(kind.value for kind, traits in LOAD_KINDS.items() if traits.motor)


def board_demand(loads: Sequence[Connected], board: BoardFacts, edition: Edition, sheet: Sheet) -> BoardDemand:
    """Return the demand of a board [VA] and each load's factor in it.

    Receptacles: 10 kVA in full, the rest at 50 %. Kitchen equipment by the number of units, never
    under the two largest. Ranges and dryers by their tables, on three phases by the most between two
    legs. Several dwellings together. Lighting by area where that is more than what is listed. Of
    noncoincident loads the largest. 25 % of the largest motor (430.17: by current).
    Source: NEC 220.12, 220.14, 220.44 (220.47 in 2023), 220.50, 220.54 to 220.57, 220.60, 220.84.
    """
    work = _Board(loads, board, edition, sheet)
    for kind, reckon in work.rules.items():
        alike = [load for load in work.counted if load.kind == kind and work.by_rule(load)]
        if alike and (kind != "dwelling" or len(alike) > 1):
            work.pool(alike, reckon(alike))
    work.office_sockets()
    work.chargers()
    work.lighting_by_area()
    work.lighting_once()
    work.in_full()
    work.largest_motor()
    return work.total()


def branch_va(kind: str, va: float, edition: Edition, sheet: Sheet) -> float:
    """Return what one circuit counts of its load [VA]: a range by the ranges table.

    Source: Table 220.55 note 4.
    """
    if kind != "range":
        return va
    units = (Cooking(CookingKind.RANGE, Load("load.rating", "", va), 1),)
    return cooking_demand(units, edition, HalfReading.COUNTS, sheet).line.demand_va


def _appliances(load: Connected) -> list[tuple[float, int]]:
    """Return what a load counts as in the table of ranges: each appliance of a kitchen by itself [VA], how many."""
    return [(va, 1) for va in load.parts] or [(load.va / load.count, load.count)]


def _units(loads: Sequence[Connected]) -> list[float]:
    """Return each unit by itself [VA]."""
    return [load.va / load.count for load in loads for _ in range(load.count)]


class _Board:
    """A board's demand being worked."""

    def __init__(self, loads: Sequence[Connected], board: BoardFacts, edition: Edition, sheet: Sheet):
        self.board, self.edition, self.sheet = board, edition, sheet
        self.raised: dict[str, float] = {}
        self.loads = loads
        out = self._noncoincident(loads)
        self.counted = [load for load in loads if load.id not in out]
        self.factors = dict.fromkeys(out, 0.0) | {load.id: 1.0 for load in self.counted}
        self.pooled: set[str] = set()
        self.parts: list[float] = []
        self.continuous: dict[str, float] = {}
        self.sockets_va = sum(load.sockets_va for load in self.counted)
        self.sockets_beyond = 0.0
        self.beyond = 0.0
        self.three_phase = board.phases > 1 and board.four_wire
        self.rules = {
            "sockets": self._sockets,
            "kitchen": self._kitchen,
            "range": self._ranges,
            "dryer": self._dryers,
            "dwelling": self._dwellings,
            "sign": self._signs,
            "welder": self._arc_welders,
            "resistance_welder": self._resistance_welders,
        }

    def _noncoincident(self, loads: Sequence[Connected]) -> set[str]:
        """Return the loads that do not count; the others of their groups may run instead.

        From 2020 on a motor or cooling load that is not the largest is compared, and then counted, at 125 %.
        """
        groups = {load.group for load in loads if load.group}
        if not groups:
            return set()
        largest = {group: max(load.va for load in loads if load.group == group) for group in groups}
        extra = self.edition.figure("noncoincident_motor_percent") / 100
        for load in loads:
            smaller = load.group and load.va < largest[load.group]
            if smaller and load.kind in _MOTORS and self.edition.noncoincident_motor_extra:
                self.raised[load.id] = extra
        return dropped(loads, lambda load: load.va * self.raised.get(load.id, 1.0))

    def by_rule(self, load: Connected) -> bool:
        """Return whether the rule of a load's kind is for it: the household tables are for household equipment."""
        return not load.settled and (load.household or load.kind not in HOUSEHOLD)

    def pool(self, alike: list[Connected], demand: float) -> None:
        """Count loads of a kind together, each with the same share."""
        connected = sum(load.va for load in alike)
        self.parts.append(demand)
        for load in alike:
            self.pooled.add(load.id)
            self.factors[load.id] = demand / connected

    def chargers(self) -> None:
        """Count each vehicle charger at its nameplate, or what the edition has it count at least. Source: 220.57."""
        if not self.edition.charger_least_load:
            return
        least = self.edition.figure("charger_least_va")
        because = Message("{least} or nameplate, the greater", least=Figure(least, "VA"))
        for load in self.counted:
            if load.kind != "charger" or load.settled:
                continue
            rule = self.edition.cite("charger")
            counts = self.sheet.apply(
                LEAST_EACH,
                Message("Vehicle charger"),
                "VA",
                rule,
                because,
                nameplate=load.va / load.count,
                least=least,
                count=load.count,
            )
            self.pooled.add(load.id)
            self.factors[load.id] = counts / load.va
            self.parts.append(counts)

    def lighting_by_area(self) -> None:
        """Count the general lighting by area, where it is more than the circuits listed."""
        area = self.board.spec.area
        if area is None:
            return
        listed = [load for load in self.counted if load.kind == "lighting"]
        found = area_lighting(sum(load.va for load in listed), area, self.edition, self.sheet)
        self.continuous = {load.id: found.listed_continuous for load in listed} | {BY_AREA: found.beyond_continuous}
        self.beyond = found.beyond_va
        if self.beyond:
            self.parts.append(self.beyond)

    def lighting_once(self) -> None:
        """Take the steps of lighting demand once over the areas of all boards below, not board by board.

        Source: Table 220.42 (2023: Table 220.45), of feeders and services: of the load in all.
        """
        by_id, own = {load.id: load for load in self.counted}, self.board.spec.area if self.beyond else None
        below = [area for area in self.board.areas if area.ids and area.ids <= by_id.keys()]
        for name in sorted({steps_of(area.spec, self.edition) for area in below} - {""}):
            mine = [area for area in below if steps_of(area.spec, self.edition) == name]
            with_own = [own] if own and steps_of(own, self.edition) == name else []
            if len(mine) + len(with_own) > 1:
                once = area_demand([*(area.spec for area in mine), *with_own], self.edition, self.sheet)
                besides = area_demand(with_own, self.edition, off())
                self.pool([by_id[key] for area in mine for key in sorted(area.ids)], once - besides)

    def in_full(self) -> None:
        """Count every other load in full."""
        plain = [load.va for load in self.counted if load.id not in self.pooled]
        if plain:
            label, rule = Message("Other loads, in full"), self.edition.cite("total")
            self.parts.append(self.sheet.apply(SUM, label, "VA", rule, None, parts=plain))

    def largest_motor(self) -> None:
        """Add 25 % of the largest motor, the one of the greatest full-load current; cooling counts among them."""
        motors = [load for load in self.counted if load.kind in _MOTORS]
        largest = max(motors, key=lambda load: (load.amps, load.id), default=None)
        for load in motors:
            if load is largest or load.id in self.raised:
                percent, one = self.edition.figure("motor_extra_percent"), load.va / load.count
                because = None if load is largest else Message("not the largest of loads that exclude each other")
                label = Message("25 % of the largest motor") if load is largest else Message("25 % of a motor load")
                rule = self.edition.cite("largest_motor" if load is largest else "noncoincident")
                share = one if load is largest and load.id not in self.raised else load.va
                extra = self.sheet.apply(SHARE, label, "VA", rule, because, load=share, percent=percent)
                self.factors[load.id] += extra / load.va
                self.parts.append(extra)

    def alternatives(self) -> dict[str, float]:
        """Return the factors of the loads that do not count, if they ran instead of what does."""
        largest = max((load.amps for load in self.counted if load.kind in _MOTORS), default=0.0)
        found = {}
        for load in self.loads:
            if self.factors[load.id] == 0.0 and load.group:
                becomes_largest = load.kind in _MOTORS and load.amps > largest
                extra = self.edition.figure("motor_extra_percent") / 100 / load.count if becomes_largest else 0.0
                found[load.id] = max(self.raised.get(load.id, 1.0), 1.0 + extra)
        return found

    def total(self) -> BoardDemand:
        """Return the sum."""
        if not self.parts:
            return BoardDemand(0.0, self.factors)
        instead = self.alternatives()
        label, rule = Message("Demand"), self.edition.cite("total")
        total = self.sheet.apply(SUM, label, "VA", rule, None, parts=self.parts)
        return BoardDemand(
            total, self.factors, self.beyond, self.continuous, instead, self.sockets_va, self.sockets_beyond
        )

    def _sockets(self, loads: list[Connected]) -> float:
        edition, sheet = self.edition, self.sheet
        rule, least = edition.cite("receptacles"), edition.figure("socket_least_va")
        each = [max(load.va, load.count * least) for load in loads]
        because = Message("{least} each at least", least=Figure(least, "VA"))
        label = Message("Receptacles")
        connected = sheet.apply(SUM, label, "VA", edition.cite("receptacle_each"), because, parts=each)
        rows = edition.table("receptacles").rows
        first, percent = number(rows[0], "to"), number(rows[-1], "percent")
        demand = connected
        if connected > first:
            label = Message("Receptacle demand")
            demand = sheet.apply(FIRST_AND_REST, label, "VA", rule, None, load=connected, first=first, percent=percent)
        self.sockets_va += demand
        return demand

    def office_sockets(self) -> None:
        """Add to the receptacles of banks and offices what they lack of 1 VA/ft², which is not reduced.

        All of them below are one sum, and so are the areas, on whatever board each is entered.
        Source: 220.14(K); 2017 lacks the words of demand factors: the safe side is taken there too.
        """
        spec = self.board.spec.area
        areas = [*([spec] if spec else []), *(each.spec for each in self.board.areas)]
        ft2 = sum(each.floor_area_ft2 for each in areas if each.occupancy in _OFFICES)
        if not ft2 or not self.sockets_va:
            return
        by_area = ft2 * self.edition.figure("office_receptacle_va_per_ft2")
        label, rule = Message("Receptacles of an office"), self.edition.cite("office_receptacles")
        because = Message("1 VA/ft² at least, not reduced")
        counted = self.sheet.apply(LARGER, label, "VA", rule, because, counted=self.sockets_va, by_area=by_area)
        self.sockets_beyond, self.sockets_va = counted - self.sockets_va, counted
        if self.sockets_beyond:
            self.parts.append(self.sockets_beyond)

    def _kitchen(self, loads: list[Connected]) -> float:
        edition, sheet = self.edition, self.sheet
        units = sorted(_units(loads), reverse=True)
        rule = edition.cite("kitchen")
        percent = number(edition.table("kitchen").band("count", edition.name, len(units)), "percent")
        connected = sheet.apply(SUM, Message("Kitchen equipment"), "VA", rule, None, parts=units)
        label = Message("At the factor for {n} units", n=len(units))
        reduced = sheet.apply(SHARE, label, "VA", rule, None, load=connected, percent=percent)
        because = Message("not under the two largest")
        two = sum(units[:2])
        return sheet.apply(NOT_UNDER, Message("Kitchen demand"), "VA", rule, because, reduced=reduced, two_largest=two)

    def _ranges(self, loads: list[Connected]) -> float:
        units = tuple(
            Cooking(CookingKind.RANGE, Load(load.id, "", va), count)
            for load in loads
            for va, count in _appliances(load)
        )
        return cooking_demand(units, self.edition, HalfReading.COUNTS, self.sheet, self.three_phase).line.demand_va

    def _dryers(self, loads: list[Connected]) -> float:
        least = self.edition.figure("dryer_least_va")
        each = [max(load.va / load.count, least) for load in loads for _ in range(load.count)]
        return dryers_demand(each, self.edition, self.sheet, self.three_phase)[0]

    def _signs(self, loads: list[Connected]) -> float:
        """Return signs at 1200 VA each at least, beside the general lighting. Source: 220.14(F)."""
        least = self.edition.figure("sign_least_va")
        each = [max(load.va, load.count * least) for load in loads]
        because = Message("{least} each at least", least=Figure(least, "VA"))
        return self.sheet.apply(SUM, Message("Signs"), "VA", self.edition.cite("sign"), because, parts=each)

    def _arc_welders(self, loads: list[Connected]) -> float:
        return welders(_units(loads), "arc", self.edition, self.sheet)

    def _resistance_welders(self, loads: list[Connected]) -> float:
        return welders(_units(loads), RESISTANCE, self.edition, self.sheet)

    def _dwellings(self, loads: list[Connected]) -> float:
        houses = [load.house for load in loads]
        method = self.board.spec.dwellings
        return dwellings_demand(houses, method, self.three_phase, self.edition, self.sheet)
