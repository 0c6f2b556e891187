"""What stands on the legs of a board: its circuits as blocks, and their best assignment.

A block weighs on each of its legs by volts to neutral, so that the blocks of a leg add up; the current of a circuit
between two legs is larger than its block. Of loads that exclude each other only the largest stands there; inverters,
which feed back, are left out too.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple

from voltaje.design.balancing import Balanced, Circuit, Legs, even_out, places_of
from voltaje.design.solution import NodeSolution, Solution
from voltaje.path.kinds import EMPTY, HOUSEHOLD, Kind
from voltaje.path.model import Job, Node
from voltaje.physics.currents import Currents
from voltaje.systems import System

_ALIKE_A = 0.005
_TWO = 2


class Block(NamedTuple):
    """A circuit on its legs.

    each_a: what it weighs on each leg [A]; own_a: its own current [A]; neutral_a: what of it goes to the neutral [A]
    stays: why it is not moved, "" where it may be: kept | all legs | feeds | excluded; group: that share a neutral
    """

    key: str
    name: str
    kind: str
    poles: int
    legs: Legs
    each_a: dict[str, float]
    own_a: float
    neutral_a: dict[str, float]
    stays: str
    group: str

    @property
    def alike(self) -> bool:
        """Whether it weighs the same on every leg of the board."""
        weights = list(self.each_a.values())
        return self.stays == ALL_LEGS and max(weights) - min(weights) <= _ALIKE_A


KEPT, ALL_LEGS, FEEDS, EXCLUDED = "kept", "all legs", "feeds", "excluded"


@dataclass(frozen=True)
class BoardLegs:
    """The legs of a board.

    blocks: what stands on them; left_out: noncoincident loads that do not count; device_a: of its main, None for none
    system, order: its system and its own legs
    """

    key: str
    name: str
    system: System
    order: Legs
    blocks: tuple[Block, ...]
    left_out: tuple[Block, ...]
    device_a: float | None

    @property
    def to_neutral_v(self) -> float:
        """The volts by which blocks weigh: to neutral, or to the middle where there is none [V]."""
        return self.system.line_to_neutral_v or self.system.to_middle_v(self.order[0])

    @property
    def totals(self) -> dict[str, float]:
        """What the blocks put on each leg [A]."""
        return {leg: sum(block.each_a.get(leg, 0.0) for block in self.blocks) for leg in self.order}

    @property
    def to_neutral(self) -> Currents:
        """The current of each leg to the neutral [A, as phasors in step with their volts]."""
        found: Currents = {}
        for leg in self.order:
            amps = sum(block.neutral_a.get(leg, 0.0) for block in self.blocks)
            found[leg] = amps * self._turn(leg)
        return found

    def _turn(self, leg: str) -> complex:
        return cmath.rect(1.0, math.radians(dict(self.system.legs)[leg]))

    def evened(self, most_moves: int | None = None) -> Balanced:
        """Return the best assignment of its circuits."""
        base = dict.fromkeys(self.order, 0.0)
        circuits, off = [], 0j
        for block in self.blocks:
            if block.stays in (ALL_LEGS, FEEDS):
                for leg, amps in block.each_a.items():
                    base[leg] += amps
                off += sum((amps * self._turn(leg) for leg, amps in block.neutral_a.items()), 0j)
                continue
            legs = tuple(leg for leg in self.order if leg in block.legs)
            may = (legs,) if block.stays else self._may(block)
            circuits.append(
                Circuit(block.key, max(block.each_a.values()), legs, may, bool(block.neutral_a), block.group)
            )
        return even_out(circuits, self.system, base, most_moves, self.order, off)

    def _may(self, block: Block) -> tuple[Legs, ...]:
        known = places_of(block.poles, self.system, block.kind in _WITH_NEUTRAL)
        return tuple(legs for legs in known if set(legs) <= set(self.order))


_WITH_NEUTRAL = (*HOUSEHOLD, Kind.DWELLING)


def legs_of(board: str, job: Job, solution: Solution, whole: bool = False) -> BoardLegs | None:
    """Return the legs of a board, None for what has fewer than two.

    whole: with what boards below feed, in place of those boards, as far as they have all of its legs
    """
    solved = solution.nodes[board]
    system, order = solved.system, solved.legs
    if solved.node.transformer:
        system = solved.node.transformer.secondary
        order = tuple(leg for leg, _angle in system.legs)
    if solved.node.kind is Kind.SOURCE:
        order = tuple(leg for leg, _angle in system.legs)
    if len(order) < _TWO:
        return None
    fed = [solution.nodes[node.id] for node in job.nodes if node.parent == board and node.kind not in EMPTY]
    out = _excluded(fed) | {each.node.id for each in fed if each.node.kind is Kind.INVERTER}
    blocks = _together([_block(each, job, solution, system, order) for each in fed if each.demand_va])
    left = tuple(block._replace(stays=EXCLUDED) for block in blocks if block.key in out)
    blocks = [block for block in blocks if block.key not in out]
    if whole:
        blocks = [each for block in blocks for each in _opened(block, job, solution, order)]
    device = solved.design.choice.device_a if solved.design else None
    main = solved.node.board.main_a if solved.node.board else None
    if solved.unit and solved.unit.behind:
        device = solved.unit.behind[0].design.choice.device_a
    return BoardLegs(board, solved.node.name or board, system, order, tuple(blocks), left, main or device)


def _opened(block: Block, job: Job, solution: Solution, order: Legs) -> list[Block]:
    """Return what a board feeds in its place, where it has all legs; else the block itself."""
    if block.kind != Kind.BOARD.value or len(block.legs) < len(order):
        return [block]
    below = legs_of(block.key, job, solution, whole=True)
    return list(below.blocks) if below and below.blocks else [block]


def _together(blocks: list[Block]) -> list[Block]:
    """Return blocks of which those stay that share a neutral, unless two of them stand on one leg.

    Their devices are tied and lie beside each other: they are moved only to mend.
    """
    found = []
    for block in blocks:
        others = [each for each in blocks if block.group and each.group == block.group and each is not block]
        apart = others and not any(set(each.legs) & set(block.legs) for each in others)
        found.append(block._replace(stays=block.stays or KEPT) if apart else block)
    return found


def _excluded(fed: list[NodeSolution]) -> set[str]:
    """Return the noncoincident loads beside the largest of each group."""
    groups: dict[str, list[NodeSolution]] = {}
    for each in fed:
        if each.node.load and each.node.load.group:
            groups.setdefault(each.node.load.group, []).append(each)
    out = set()
    for members in groups.values():
        largest = max(members, key=lambda each: each.demand_va)
        out |= {each.node.id for each in members if each is not largest}
    return out


def _block(solved: NodeSolution, job: Job, solution: Solution, system: System, order: Legs) -> Block:
    node, legs = solved.node, solved.legs
    to_neutral = system.line_to_neutral_v or system.to_middle_v(order[0])
    poles = len(legs)
    neutral_a: dict[str, float] = {}
    if node.load is not None:
        each_a = dict.fromkeys(legs, solved.demand_va / poles / to_neutral)
        kind = node.kind.value if node.kind is Kind.INVERTER else node.load.kind.value
        if poles == 1:
            neutral_a = each_a
    else:
        each_a, kind = {leg: solved.amps.get(leg, 0.0) for leg in legs}, node.kind.value
        below = legs_of(node.id, job, solution) if node.kind is Kind.BOARD else None
        neutral_a = {leg: abs(amps) for leg, amps in below.to_neutral.items()} if below else {}
        if poles == 1:
            neutral_a = each_a
    own = max(solved.amps.values(), default=0.0)
    return Block(
        node.id,
        node.name or node.id,
        kind,
        poles,
        legs,
        each_a,
        own,
        neutral_a,
        _stays(node, legs, order, each_a),
        node.load.neutral_group if node.load else "",
    )


def _stays(node: Node, legs: Legs, order: Legs, each_a: dict[str, float]) -> str:
    if len(legs) == len(order):
        return ALL_LEGS
    if node.load is not None:
        return KEPT if node.load.keep_leg else ""
    # A board or a house on some of the legs goes with all that it feeds, where its own legs carry alike.
    weights = list(each_a.values())
    return "" if max(weights) - min(weights) <= _ALIKE_A or len(legs) == 1 else FEEDS


def blocks_by_leg(board: BoardLegs) -> Iterator[tuple[str, list[Block]]]:
    """Yield for each leg the blocks that stand on it, the widest first, then the heaviest."""
    for leg in board.order:
        here = [block for block in board.blocks if leg in block.legs]
        yield leg, sorted(here, key=lambda block: (-block.poles, -block.each_a.get(leg, 0.0), block.key))
