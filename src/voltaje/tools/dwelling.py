"""The dwelling tool: a house's loads in, its demand and service out."""

from __future__ import annotations

from voltaje.books.dwellings import MATERIALS, HouseSolution, Pick, read_house, solve_house
from voltaje.tools.answer import Json, answer, conductor_json

NAME = "dwelling"


def run(raw: object) -> Json:
    """Return a house's answer. Raises InputError, the first with the others on it."""
    house, method, edition = read_house(raw)
    solution = solve_house(house, method, edition)
    steps = [*solution.demand.sheet.steps, *solution.service.sheet.steps]
    return answer(NAME, edition.name, result_of(solution), steps, solution.findings)


def result_of(solution: HouseSolution) -> Json:
    """Return the result's figures, not rounded.

    In the standard method the parts add up to `demand_va`; in the optional one the parts named after
    loads are what enters the general loads, and `general_demand_va` and `hvac_va` add up to it.
    """
    demand, service = solution.demand, solution.service
    picks = service.picks[solution.house.material]
    return {
        "method": solution.method.value,
        "connected_va": demand.connected_va,
        "demand_va": demand.demand_va,
        "amps": service.amps,
        "leg_amps": service.leg_amps,
        "required_a": service.need_a,
        "device_a": service.device_a,
        "device_without_continuous_a": service.device_plain_a,
        "conductor": conductor_json(service.conductor),
        "conductor_ordinary": conductor_json(picks.ordinary),
        "conductors": {material: _pick_json(pick) for material, pick in service.picks.items()},
        "neutral_va": service.neutral.load_va,
        "neutral_a": service.neutral.amps,
        "neutral_conductor": conductor_json(service.neutral_conductor),
        "grounding_electrode": {item.electrode: item.size for item in service.electrodes},
        "grounding_electrode_material": MATERIALS[0],
        "lighting_va": demand.of("lighting"),
        "cooking_va": demand.of("cooking"),
        "cooking_ways": [
            {"way": str(way.name), "demand_va": way.demand_va, "lawful": way.lawful} for way in demand.cooking_ways
        ],
        "dryer_va": demand.of("dryers"),
        "appliances_va": demand.of("appliances"),
        "hvac_va": demand.of("climate"),
        "motor_25_va": demand.of("motor"),
        "charger_va": demand.of("chargers"),
        "general_va": demand.general_va,
        "general_demand_va": demand.general_demand_va,
        "other_method": _other(solution),
    }


def _pick_json(pick: Pick) -> Json:
    return {
        "by_83_percent": conductor_json(pick.by_83) if pick.by_83 else None,
        "ordinary": conductor_json(pick.ordinary),
        "ordinary_pair": conductor_json(pick.ordinary_pair) if pick.ordinary_pair else None,
    }


def _other(solution: HouseSolution) -> Json:
    other = solution.other
    service = solution.services[other]
    return {
        "method": other.value,
        "demand_va": solution.demands[other].demand_va,
        "amps": service.amps,
        "device_a": service.device_a,
    }
