"""Demand of boards that are not dwellings."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.book import BoardDemand, Connected
from voltaje.books.nec.edition import Edition
from voltaje.books.noncoincident import dropped
from voltaje.books.tables import number
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Sheet

SUM = Formula("sum(parts)")
SHARE = Formula("load * percent / 100")
FIRST_AND_REST = Formula("first + (load - first) * percent / 100")
NOT_UNDER = Formula("max(reduced, two_largest)")


def board_demand(loads: Sequence[Connected], edition: Edition, sheet: Sheet) -> BoardDemand:
    """Return the demand of a board [VA] and each load's factor in it.

    Receptacles: 10 kVA in full, the rest at 50 %. Kitchen equipment by the number of units, never
    under the two largest. Of noncoincident loads the largest. 25 % of the largest motor.
    Source: NEC 220.14(I), 220.44 (220.47 in 2023), 220.50, 220.56, 220.60.
    """
    out = dropped(loads)
    counted = [load for load in loads if load.id not in out]
    factors = dict.fromkeys(out, 0.0) | {load.id: 1.0 for load in counted}
    parts = []
    for kind, reckon in (("sockets", _sockets), ("kitchen", _kitchen)):
        alike = [load for load in counted if load.kind == kind]
        if alike:
            demand = reckon(alike, edition, sheet)
            parts.append(demand)
            connected = sum(load.va for load in alike)
            factors |= {load.id: demand / connected for load in alike}
    plain = [load.va for load in counted if load.kind not in ("sockets", "kitchen")]
    if plain:
        parts.append(sheet.apply(SUM, Message("Other loads, in full"), "VA", edition.cite("total"), None, parts=plain))
    motors = [load for load in counted if load.kind == "motor"]
    if motors:
        largest = max(motors, key=lambda load: load.va / load.count)
        percent, one = edition.figure("motor_extra_percent"), largest.va / largest.count
        label, rule = Message("25 % of the largest motor"), edition.cite("largest_motor")
        extra = sheet.apply(SHARE, label, "VA", rule, None, load=one, percent=percent)
        factors[largest.id] += extra / largest.va
        parts.append(extra)
    if not parts:
        return BoardDemand(0.0, factors)
    return BoardDemand(sheet.apply(SUM, Message("Demand"), "VA", edition.cite("total"), None, parts=parts), factors)


def _sockets(loads: list[Connected], edition: Edition, sheet: Sheet) -> float:
    rule, least = edition.cite("receptacles"), edition.figure("socket_least_va")
    each = [max(load.va, load.count * least) for load in loads]
    because = Message("{least} each at least", least=Figure(least, "VA"))
    connected = sheet.apply(SUM, Message("Receptacles"), "VA", edition.cite("receptacle_each"), because, parts=each)
    rows = edition.table("receptacles").rows
    first, percent = number(rows[0], "to"), number(rows[-1], "percent")
    if connected <= first:
        return connected
    label = Message("Receptacle demand")
    return sheet.apply(FIRST_AND_REST, label, "VA", rule, None, load=connected, first=first, percent=percent)


def _kitchen(loads: list[Connected], edition: Edition, sheet: Sheet) -> float:
    units = sorted((load.va / load.count for load in loads for _ in range(load.count)), reverse=True)
    rule = edition.cite("kitchen")
    percent = number(edition.table("kitchen").band("count", edition.name, len(units)), "percent")
    connected = sheet.apply(SUM, Message("Kitchen equipment"), "VA", rule, None, parts=units)
    label = Message("At the factor for {n} units", n=len(units))
    reduced = sheet.apply(SHARE, label, "VA", rule, None, load=connected, percent=percent)
    because = Message("not under the two largest")
    two = sum(units[:2])
    return sheet.apply(NOT_UNDER, Message("Kitchen demand"), "VA", rule, because, reduced=reduced, two_largest=two)
