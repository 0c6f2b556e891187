"""The load of a dwelling that stands and gets more: one pool of all its loads, heating or cooling beside it."""

from __future__ import annotations

from voltaje.books.nec.dwelling.climate import existing_climate, many_units
from voltaje.books.nec.dwelling.demand import SUM, Demand, Work, closed, take_climate_workings
from voltaje.books.nec.dwelling.house import House
from voltaje.books.nec.dwelling.optional import connect, general_loads, pooled
from voltaje.books.nec.edition import Edition
from voltaje.message import Message
from voltaje.path.house import Method
from voltaje.sheet import Sheet


def existing_demand(house: House, edition: Edition, record: bool = True) -> Demand:
    """Return the load of an existing dwelling, what is added listed with what is there.

    All general loads at nameplate, the first 8 kVA in full and the rest at 40 %; heating or cooling, the larger, in
    full beside them, as where such equipment is added: the safe side where none is. Four or more separately
    controlled heating units count among the general loads.
    Source: NEC 220.83(A), (B).
    """
    work = Work(house, edition, Sheet(on=record))
    general_loads(work, "existing_general")
    many = many_units(house, edition)
    if many:
        with work.sheet.section("general"):
            because = Message("four or more separately controlled units are general load")
            rule, label = work.edition.cite("existing_general"), Message("Space heating")
            va = work.sheet.apply(SUM, label, "VA", rule, because, parts=[each.load.va for each in many])
            connect(work, ("heating", "existing_general"), label, va)
    with work.sheet.section("general"):
        general_va, general_demand_va = pooled(work, "existing")
    with work.sheet.section("climate"):
        take_climate_workings(work)
        climate = existing_climate(house, edition, work.sheet)
    if climate:
        work.lines.append(climate.line)
    return closed(work, Method.EXISTING, general_va=general_va, general_demand_va=general_demand_va)
