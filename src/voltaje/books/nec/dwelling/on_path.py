"""A dwelling as one node of a path: what it draws there, by its own sheet."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.answers import DwellingDemand
from voltaje.books.nec.dwelling.solution import HouseSolution, solve_house
from voltaje.books.nec.dwelling.taken import house_of
from voltaje.books.nec.edition import Edition
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.message import Message
from voltaje.path.house import HouseSpec, Method
from voltaje.sheet import Sheet
from voltaje.systems import DWELLING_SYSTEMS, SYSTEMS, System

_PAIR = 2


@dataclass(frozen=True)
class NecDwellings:
    """An edition's answers about dwellings on a path."""

    edition: Edition

    def on_path(self, spec: HouseSpec, system: System, legs: tuple[str, ...], sheet: Sheet) -> DwellingDemand:
        """Return what a dwelling draws by its own sheet."""
        return dwelling_on_path(spec, self.edition, system, legs, sheet)


def dwelling_on_path(
    spec: HouseSpec, edition: Edition, system: System, legs: tuple[str, ...], sheet: Sheet
) -> DwellingDemand:
    """Return what a dwelling draws where it hangs; book and system come from the path.

    Source: NEC Article 220 Parts III and IV; 220.61.
    Raises: InputError at a field of the dwelling, or at "" for a supply that its sheet is not for.
    """
    method = spec.method
    house = house_of(spec, edition, SYSTEMS[_system(system, legs)])
    found = solve_house(house, method, edition, record=sheet.on)
    sheet.take(found.demand.sheet.steps)
    demand, service = found.demand, found.service
    by_method = found.demands[Method.STANDARD] if method is Method.STANDARD else demand
    return DwellingDemand(
        connected_va=demand.connected_va,
        demand_va=demand.demand_va,
        continuous_va=by_method.of("chargers"),
        # As the published example: volt-amperes over twice the volts to neutral.
        amps=service.amps if house.system.wye_legs or system.phases > 1 else None,
        neutral_a=service.neutral.amps,
        least_device_a=service.device_a,
        terminals=house.terminals.value,
        material=house.material,
        findings=(*found.findings, _by_its_sheet(found)),
        house=house,
    )


def _by_its_sheet(found: HouseSolution) -> Finding:
    chosen = found.service.conductor
    message = Message(
        "The sheet of the house allows {size} {material} for its whole service; here it is sized as any run.",
        size=chosen.size,
        material=chosen.material,
    )
    return Finding(Severity.NOTE, "dwelling.sized_as_any_run", message, chosen.rule)


def _system(system: System, legs: tuple[str, ...]) -> str:
    """Return the system of a dwelling by the legs it has."""
    if system.name in DWELLING_SYSTEMS:
        return system.name
    if len(legs) == _PAIR and system.line_to_neutral_v == _HOUSEHOLD_V:
        if system.is_wye_pair(legs):
            return "208Y/120 2 legs"
        if system.high_leg not in legs:
            return "120/240 1ph 3w"
    message = Message("a dwelling's sheet is for {known}, not {name}", known=list(DWELLING_SYSTEMS), name=system.name)
    raise InputError("", message)


_HOUSEHOLD_V = 120
