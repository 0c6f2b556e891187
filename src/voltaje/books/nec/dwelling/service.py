"""The service of a dwelling: current, device, line and neutral conductors, electrode conductor."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.nec.conductors import (
    Conductor,
    dwelling_service_conductor,
    ordinary_conductor,
    ordinary_pair,
    terminal_column,
)
from voltaje.books.nec.dwelling.demand import Demand
from voltaje.books.nec.dwelling.house import House
from voltaje.books.nec.dwelling.neutral import Neutral, dwelling_neutral
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.grounding import (
    ElectrodeConductor,
    electrode_conductors,
    least_feeder_neutral,
    least_grounded,
    neutral_conductor,
)
from voltaje.books.nec.overcurrent import next_rating
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.path.house import MATERIALS, Method, Occupancy
from voltaje.sheet import Citation, Sheet, off

CURRENT = Formula("demand / volts")
CURRENT_TWO_LEGS = Formula("demand / (2 * volts)")
WITH_CONTINUOUS = Formula("(demand + continuous * percent / 100) / volts")
LEG = Formula("to_neutral / (2 * neutral_volts) + to_line / line_volts")
AT_LEAST = Formula("max(need, least)")


@dataclass(frozen=True)
class Pick:
    """Line conductors of one material: at 83 % where the rule reaches, and by the ordinary table."""

    by_83: Conductor | None
    ordinary: Conductor
    ordinary_pair: Conductor | None

    @property
    def chosen(self) -> Conductor:
        """The one the service is built with: at 83 % where that applies."""
        return self.by_83 or self.ordinary


@dataclass(frozen=True)
class Service:
    """A sized service, or the feeder of a dwelling unit.

    amps: demand at the system's volts; need_a: with 125 % of continuous load
    leg_amps: the leg figure of two legs of a wye, None elsewhere
    device_plain_a: the device without the continuous extra, the other practice
    picks: by material
    """

    amps: float
    need_a: float
    leg_amps: float | None
    device_a: float
    device_plain_a: float
    least_a: float
    column_c: int
    picks: dict[str, Pick]
    conductor: Conductor
    neutral: Neutral
    neutral_conductor: Conductor
    electrodes: tuple[ElectrodeConductor, ...]
    sheet: Sheet


def size_service(demand: Demand, standard: Demand, house: House, edition: Edition, record: bool = True) -> Service:
    """Return the service of a dwelling from its demand by the chosen method.

    standard: the demand by the standard method, from which the neutral is always reckoned
    Source: NEC 220.61, 230.42, 230.79, 240.6, 310.12, 250.24, 250.66.
    Raises: OutsideTable where the demand is beyond the standard ratings.
    """
    sheet = Sheet(on=record)
    with sheet.section("current"):
        amps, need, leg = _currents(demand, standard, house, edition, sheet)
    with sheet.section("device"):
        least, rule = _least_rating(demand, house, edition)
        need_or_least = sheet.apply(
            AT_LEAST, Message("Need, and the least rating"), "A", rule, None, need=need, least=least
        )
        device = next_rating(need_or_least, edition, sheet)
    plain = next_rating(max(amps, least), edition, off())
    column = terminal_column(device, house.terminals, edition)
    picks = {}
    for material in MATERIALS:
        mine = material == house.material
        picks[material] = _pick(need, device, material, house, column, edition, sheet if mine else off())
    line = picks[house.material].chosen
    with sheet.section("neutral"):
        neutral = dwelling_neutral(standard, house, edition, sheet)
        at_service = house.occupancy is Occupancy.ONE_FAMILY
        if at_service:
            least_size = least_grounded(line, edition, sheet)
        else:
            least_size = least_feeder_neutral(device, house.material, edition, sheet)
        neutral_line = neutral_conductor(neutral.amps, least_size, line, column, edition, sheet)
    with sheet.section("electrode"):
        electrodes = tuple(electrode_conductors(line, edition, sheet)) if at_service else ()
    return Service(amps, need, leg, device, plain, least, column, picks, line, neutral, neutral_line, electrodes, sheet)


def _currents(
    demand: Demand, standard: Demand, house: House, edition: Edition, sheet: Sheet
) -> tuple[float, float, float | None]:
    system, rule = house.system, edition.cite("volts")
    to_neutral = system.line_to_neutral_v or system.line_to_line_v
    volts = 2 * to_neutral
    leg = None
    if system.wye_legs:
        because = Message("each leg takes half, at its volts to neutral")
        label = Message("Demand current")
        amps = sheet.apply(CURRENT_TWO_LEGS, label, "A", rule, because, demand=demand.demand_va, volts=to_neutral)
        part = _share_to_neutral(demand, house)
        leg = sheet.apply(
            LEG,
            Message("Leg current, line-to-line loads at line volts"),
            "A",
            rule,
            Message("shown beside; the sum takes the two currents as in step, the safe side"),
            to_neutral=part,
            neutral_volts=to_neutral,
            to_line=demand.demand_va - part,
            line_volts=system.line_to_line_v,
        )
    else:
        label = Message("Demand current")
        amps = sheet.apply(CURRENT, label, "A", rule, None, demand=demand.demand_va, volts=volts)
    continuous = standard.of("chargers") if demand.method is Method.STANDARD else demand.of("chargers")
    if not continuous:
        return amps, amps, leg
    need = sheet.apply(
        WITH_CONTINUOUS,
        Message("With the charger at 125 %"),
        "A",
        edition.cite("continuous"),
        Message("a vehicle charger is continuous: for device and conductors, not in the demand"),
        demand=demand.demand_va,
        continuous=continuous,
        percent=edition.figure("continuous_extra_percent"),
        volts=volts,
    )
    return amps, need, leg


def _share_to_neutral(demand: Demand, house: House) -> float:
    """Return what of the demand is wired line to neutral [VA]; a pooled load by its connected share."""
    on_neutral = sum(item.load.va for item in house.appliances if item.on_neutral)
    appliances = sum(item.load.va for item in house.appliances)
    if demand.method is Method.STANDARD:
        share = demand.of("appliances") * on_neutral / appliances if appliances else 0.0
        return demand.of("lighting") + share
    return demand.general_demand_va * (demand.of("lighting") + on_neutral) / demand.general_va


def _least_rating(demand: Demand, house: House, edition: Edition) -> tuple[float, Citation]:
    if house.occupancy is Occupancy.ONE_FAMILY:
        return edition.figure("service_least_a"), edition.cite("service_least")
    if demand.method is Method.OPTIONAL:
        return edition.figure("optional_least_a"), edition.cite("optional")
    return edition.figure("unit_least_a"), edition.cite("unit_least")


def _pick(need: float, device: float, material: str, house: House, column: int, edition: Edition, sheet: Sheet) -> Pick:
    with sheet.section("conductor"):
        by_83 = dwelling_service_conductor(device, house.occupancy, material, column, edition, sheet)
    with sheet.section("ordinary"):
        ordinary = ordinary_conductor(need, device, material, column, edition, sheet)
    over = device > edition.figure("service_83_to_a")
    pair = ordinary_pair(need, device, ordinary, column, edition) if over and ordinary.sets == 1 else None
    return Pick(by_83, ordinary, pair)
