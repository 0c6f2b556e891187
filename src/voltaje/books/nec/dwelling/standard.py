"""The load of a dwelling by the standard method, line by line."""

from __future__ import annotations

from voltaje.books.nec.dwelling.climate import Motor, standard_climate
from voltaje.books.nec.dwelling.cooking import CookingWay, between_two_legs, cooking_demand
from voltaje.books.nec.dwelling.demand import (
    IN_FULL,
    SUM,
    Demand,
    Work,
    appliance_motors,
    appliance_parts,
    closed,
    counts_as_fastened,
    fastened_percent,
    lighting_and_circuits,
    lighting_parts,
    take_climate_workings,
    take_workings,
)
from voltaje.books.nec.dwelling.house import DemandLine, House
from voltaje.books.nec.edition import Edition
from voltaje.books.tables import cell_formula, number
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import Method
from voltaje.sheet import Sheet

SHARE = Formula("load * percent / 100")
SHARE_OF_SUM = Formula("sum(parts) * percent / 100")
SHARE_AND_REST = Formula("load * percent / 100 + sum(rest)")
AT_LEAST = Formula("max(nameplate, least)")
THREE_PHASE_SHARE = Formula("sum(parts) * percent / 100 / 2 * 3")


def standard_demand(house: House, edition: Edition, record: bool = True) -> Demand:
    """Return the load of a dwelling by the standard method.

    Source: NEC Article 220 Parts II and III.
    """
    work = Work(house, edition, Sheet(on=record))
    _lighting_line(work)
    _appliances_line(work)
    _dryers_line(work)
    ways: tuple[CookingWay, ...] = ()
    if house.cooking:
        with work.sheet.section("cooking"):
            take_workings(work, *(unit.load for unit in house.cooking))
            cooking = cooking_demand(house.cooking, edition, house.half, work.sheet, house.three_phase)
        work.lines.append(cooking.line)
        ways = cooking.ways
    motors = appliance_motors(house)
    with work.sheet.section("climate"):
        take_climate_workings(work)
        climate = standard_climate(house, motors, edition, work.sheet)
    if climate:
        work.lines.append(climate.line)
        motors = [*motors, *climate.motors]
    _chargers_line(work)
    _motor_line(work, motors)
    return closed(work, Method.STANDARD, cooking_ways=ways)


def _lighting_line(work: Work) -> None:
    edition, sheet = work.edition, work.sheet
    with sheet.section("lighting"):
        connected = lighting_and_circuits(work)
        rule, portions, shares = edition.cite_table("lighting_demand"), [], []
        for row in edition.table("lighting_demand").rows:
            over, percent = number(row, "over"), number(row, "percent")
            portion = min(connected, float("inf") if row["to"] is None else number(row, "to")) - over
            if portion > 0:
                shares.append(Figure(percent, "%"))
                label = Message("{portion} at {percent}", portion=Figure(portion, "VA"), percent=shares[-1])
                portions.append(sheet.apply(SHARE, label, "VA", rule, None, load=portion, percent=percent))
        demand = sheet.apply(SUM, Message("Lighting demand"), "VA", rule, None, parts=portions)
    first = Figure(number(edition.table("lighting_demand").rows[0], "to"), "VA")
    rest = shares[1:] or shares
    summary = Message("first {first} in full, rest at {shares}", first=first, shares=rest)
    parts = lighting_parts(work.house, edition)
    work.lines.append(DemandLine("lighting", Message("Lighting and circuits"), summary, connected, demand, rule, parts))


def _appliances_line(work: Work) -> None:
    house, edition, sheet = work.house, work.edition, work.sheet
    if not house.appliances:
        return
    rule = edition.cite("fastened")
    counted = [item.load.va for item in house.appliances if counts_as_fastened(item, edition)]
    others = [item.load.va for item in house.appliances if not counts_as_fastened(item, edition)]
    percent, least = fastened_percent(house, edition), Figure(edition.figure("fastened_count"))
    with sheet.section("appliances"):
        take_workings(work, *(item.load for item in house.appliances))
        label = Message("Fastened appliances, {n}", n=len(counted))
        connected = sheet.apply(SUM, label, "VA", rule, _counted_because(edition), parts=counted) if counted else 0.0
        reduced = percent < IN_FULL
        because = (
            Message(
                "{least} or more: all of them at {percent}, so that one more can lower the demand",
                least=least,
                percent=Figure(percent, "%"),
            )
            if reduced
            else Message("fewer than {least} count: no reduction", least=least)
        )
        label = Message("Appliance demand")
        if not counted:
            demand = sheet.apply(SUM, label, "VA", rule, because, parts=others)
        elif others:
            demand = sheet.apply(
                SHARE_AND_REST, label, "VA", rule, because, load=connected, percent=percent, rest=others
            )
        else:
            demand = sheet.apply(SHARE, label, "VA", rule, because, load=connected, percent=percent)
    summary = Message("75 % of {n}", n=len(counted)) if reduced else Message("fewer than four: in full")
    if reduced and others:
        summary = Message("75 % of {n}, {others} in full", n=len(counted), others=len(others))
    parts = appliance_parts(house)
    total = connected + sum(others)
    work.lines.append(DemandLine("appliances", Message("Appliances"), summary, total, demand, rule, parts))


def _counted_because(edition: Edition) -> Message | None:
    if edition.fastened_least_rating:
        return Message("fastened in place, ¼ hp or 500 W and over; no cooking, dryer, heating, cooling")
    return Message("fastened in place; no cooking, dryer, heating, cooling")


def _dryers_line(work: Work) -> None:
    house, edition, sheet = work.house, work.edition, work.sheet
    if not house.dryers:
        return
    least, rule = edition.figure("dryer_least_va"), edition.cite_table("dryers")
    with sheet.section("dryers"):
        take_workings(work, *house.dryers)
        each = [
            sheet.apply(
                AT_LEAST,
                Message("Dryer"),
                "VA",
                edition.cite("dryers"),
                Message("{least} or nameplate, the greater", least=Figure(least, "W")),
                nameplate=dryer.va,
                least=least,
            )
            for dryer in house.dryers
        ]
        demand, percent = dryers_demand(each, edition, sheet, house.three_phase)
    summary = (
        Message("{n} dryers at {percent}", n=len(each), percent=Figure(percent, "%", 1))
        if len(each) > 1
        else Message("nameplate, 5 kW at least")
    )
    connected = sum(dryer.va for dryer in house.dryers)
    label = Message("Dryer") if len(each) == 1 else Message("Dryers")
    work.lines.append(DemandLine("dryers", label, summary, connected, demand, rule))


def dryers_demand(each: list[float], edition: Edition, sheet: Sheet, three_phase: bool) -> tuple[float, float]:
    """Return the demand of dryers [VA] and their factor [%]; `each` holds at least 5000 VA already.

    Source: NEC 220.54, Table 220.54.
    """
    rule, counted = edition.cite_table("dryers"), each
    three_phase = three_phase and len(each) > 1
    if three_phase:
        topic = "three_phase_dryers"
        counted = sorted(each, reverse=True)[: between_two_legs(len(each), edition, topic, sheet)]
    cell = cell_formula(edition.table("dryers").band("dryers", edition.name, len(counted)), "percent")
    values = {"n": float(len(counted))} if cell.names else {}
    percent = sheet.apply(cell, Message("Demand factor for {n}", n=len(counted)), "%", rule, None, **values)
    formula = THREE_PHASE_SHARE if three_phase else SHARE_OF_SUM
    demand = sheet.apply(formula, Message("Dryer demand"), "VA", rule, None, parts=counted, percent=percent)
    return demand, percent


def _chargers_line(work: Work) -> None:
    house, edition, sheet = work.house, work.edition, work.sheet
    if not house.chargers:
        return
    rule = edition.cite("charger")
    with sheet.section("chargers"):
        take_workings(work, *house.chargers)
        if edition.charger_least_load:
            least = edition.figure("charger_least_va")
            because = Message("{least} or nameplate, the greater", least=Figure(least, "VA"))
            each = [
                sheet.apply(
                    AT_LEAST, Message("Vehicle charger"), "VA", rule, because, nameplate=charger.va, least=least
                )
                for charger in house.chargers
            ]
            summary = because
        else:
            each = [charger.va for charger in house.chargers]
            summary = Message("at nameplate")
        apart = Message("kept apart from the fastened appliances, the safe side; the other reading lists it among them")
        why = None if edition.charger_least_load else apart
        demand = sheet.apply(SUM, Message("Charger load"), "VA", rule, why, parts=each)
    connected = sum(charger.va for charger in house.chargers)
    work.lines.append(DemandLine("chargers", Message("Vehicle charger"), summary, connected, demand, rule))


def _motor_line(work: Work, motors: list[Motor]) -> None:
    if not motors:
        return
    edition, rule = work.edition, work.edition.cite("largest_motor")
    largest = max(motors, key=lambda motor: motor.va)
    percent = edition.figure("motor_extra_percent")
    with work.sheet.section("motor"):
        label = Message("Largest motor: {name}", name=largest.name)
        extra = work.sheet.apply(SHARE, label, "VA", rule, None, load=largest.va, percent=percent)
    summary = Message("{percent} of {load} added", percent=Figure(percent, "%"), load=Figure(largest.va, "VA"))
    work.lines.append(DemandLine("motor", label, summary, 0.0, extra, rule))
