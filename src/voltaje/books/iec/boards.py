"""Demand of a board: the designer's own diversity, never invented."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.books.answers import BoardDemand, BoardFacts, Connected
from voltaje.books.iec.profile import Profile
from voltaje.books.noncoincident import dropped
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.sheet import Sheet

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
