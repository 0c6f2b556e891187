"""A dwelling on a path: its own sheet says what it draws; a pin stands in its place."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from voltaje.books.answers import Connected, NeutralLoad
from voltaje.books.questions import Book, Dwellings
from voltaje.design import checks
from voltaje.design.currents import fill
from voltaje.design.leaves import Drawn, Flow, Leaf, Rising
from voltaje.design.solution import NodeSolution
from voltaje.errors import InputError, OutsideTable, Refused
from voltaje.path.house import read_house
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.model import Node
from voltaje.physics.currents import Placed, leg_currents


def work(node: Node, raw: dict[str, Any], solved: NodeSolution, book: Book) -> Rising:
    """Fill in a dwelling's demand and currents by its own sheet; return what it passes up."""
    mine = Rising()
    try:
        house = book.asked(Dwellings).on_path(read_house(raw, book.rule), solved.system, solved.legs, solved.sheet)
    except Refused as error:
        if isinstance(error, InputError) and error.field and not isinstance(error, OutsideTable):
            raise error.at(f"{node.id}.dwelling.{error.field}") from error  # what is written there is no house
        checks.not_known(node, solved, error.at(f"dwelling.{error.field}".rstrip(".")))
        mine.unknown = [node.name or node.id]
        return mine
    solved.findings.extend(replace(each, field=each.field or node.id) for each in house.findings)
    solved.connected_va, solved.least_device_a = house.connected_va, house.least_device_a
    checks.pinned_demand(node, house.demand_va, solved, book)
    pinned = node.run.pins.demand_va
    solved.demand_va = pinned or house.demand_va
    drawn = leg_currents(Placed(solved.demand_va, 1.0, solved.legs), solved.system)
    share = min(house.continuous_va / solved.demand_va, 1.0) if solved.demand_va else 0.0
    steady = {leg: amps * share for leg, amps in drawn.items()}
    scale = solved.demand_va / house.demand_va if house.demand_va else 1.0
    neutral_a = house.neutral_a * scale
    neutral = NeutralLoad(neutral_a, reducible=False)  # already reduced
    mine.drawn = Drawn([Flow(drawn, drawn, steady)], neutral=neutral, dwelling=house)
    fill(solved, mine.drawn, solved.legs, book.terms.continuous_factor)
    if house.amps is not None and house.demand_va:
        solved.amps = dict.fromkeys(solved.legs, house.amps * scale)
        mine.drawn.needs = {leg: (amps, amps * share) for leg, amps in solved.amps.items()}
    solved.neutral_a = neutral_a
    connected = Connected(node.id, Kind.DWELLING.value, solved.demand_va, house=house.house)
    if pinned:
        connected = Connected(node.id, LoadKind.GENERAL.value, pinned, settled=True)
    to_neutral = dict.fromkeys(solved.legs, neutral_a)
    mine.leaves = [Leaf(node, connected, drawn, drawn, share, None, to_neutral, to_neutral, 0.0, house.connected_va)]
    return mine
