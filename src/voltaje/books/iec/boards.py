"""Demand of a board: the designer's own diversity, never invented."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.answers import BoardDemand, BoardFacts, Connected
from voltaje.books.households import HouseCircuit
from voltaje.books.iec.household import IecHouseholds
from voltaje.books.iec.profile import Profile
from voltaje.books.noncoincident import dropped
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.sheet import Sheet

COUNTED = Formula("sum(parts)")
DIVERSE = Formula("sum(parts) * diversity")


def board_demand(loads: Sequence[Connected], board: BoardFacts, profile: Profile, sheet: Sheet) -> BoardDemand:
    """Return the demand of a board [VA] and each load's factor: what was entered, 1 where nothing was.

    Source: IEC 60364-1 clause 311 (diversity is the designer's).
    """
    out, diversity = dropped(loads), board.spec.diversity
    instead = {load.id: load.diversity * diversity for load in loads}
    factors = {key: 0.0 if key in out else factor for key, factor in instead.items()}
    alternatives = {key: factor for key, factor in instead.items() if key in out}
    parts = [load.va * load.diversity for load in loads if load.id not in out]
    if not parts:
        return BoardDemand(0.0, factors)
    because = Message("diversity as entered by the designer") if diversity != 1 else None
    rule = profile.cite("load")
    demand = sheet.apply(DIVERSE, Message("Demand"), "VA", rule, because, parts=parts, diversity=diversity)
    return BoardDemand(demand, factors, alternatives=alternatives)


def household_demand(
    loads: Sequence[Connected], households: IecHouseholds, profile: Profile, sheet: Sheet
) -> BoardDemand:
    """Return the demand of a dwelling's board [VA]: each line by what stands on it, as household practice has it.

    What stands on several lines counts as on the one where it counts most. What is not a circuit of its own (a board
    below that has its own diversity) counts as it stands. Source: IEC 60364-1 clause 311; common practice.
    """
    out = dropped(loads)
    factors = dict.fromkeys((load.id for load in loads), 1.0)
    legs = dict.fromkeys(leg for load in loads if load.home for leg in load.home.legs)
    on: dict[str, float] = {}
    for leg in legs:
        mine = [load for load in loads if load.id not in out and load.home and leg in load.home.legs and load.va]
        circuits = [_circuit(load, at) for at, load in enumerate(mine)]
        for load, counted in zip(mine, households.demand(circuits, sheet), strict=True):
            share = counted.total_a / counted.connected_a
            on[load.id] = max(on.get(load.id, 0.0), share)
    factors.update(on)
    alternatives = {key: factor for key, factor in factors.items() if key in out}
    factors.update(dict.fromkeys(out, 0.0))
    parts = [load.va * factors[load.id] for load in loads if load.id not in out]
    if not parts:
        return BoardDemand(0.0, factors)
    because = Message("each line's circuits by household practice")
    demand = sheet.apply(COUNTED, Message("Demand"), "VA", profile.cite("household"), because, parts=parts)
    return BoardDemand(demand, factors, alternatives=alternatives)


def _circuit(load: Connected, at: int) -> HouseCircuit:
    home = load.home
    assert home is not None  # those alone are asked  # noqa: S101
    amps = load.amps * load.count
    return HouseCircuit(home.kind, amps, 1, home.points, home.with_socket, 1, home.diversity, f"circuits[{at}]")
