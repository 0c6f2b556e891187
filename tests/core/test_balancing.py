"""Legs evened out: against an exhaustive search on small boards, and what must hold on any."""

import cmath
import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.design.balancing import Circuit, even_out, places_of
from voltaje.systems import SYSTEMS

NAMES = ["120/240 1ph 3w", "208Y/120", "208Y/120 2 legs", "240/120 high-leg", "230/400"]
few = settings(max_examples=15, deadline=None)


@st.composite
def boards(draw, most, names=NAMES):
    system = SYSTEMS[draw(st.sampled_from(names))]
    circuits = []
    for at in range(draw(st.integers(1, most))):
        poles = draw(st.sampled_from([1, 1, 1, 2]))
        may = places_of(poles, system)
        legs = draw(st.sampled_from(may))
        amps = draw(st.integers(1, 400)) / 10
        pinned = draw(st.sampled_from([False, False, False, True]))
        circuits.append(Circuit(at, amps, legs, (legs,) if pinned else may, poles == 1))
    return system, circuits


def standing(system, circuits, ways):
    """Largest leg, neutral, moves."""
    amps, neutral = {leg: 0.0 for leg, _angle in system.legs}, 0j
    for circuit, legs in zip(circuits, ways, strict=True):
        for leg in legs:
            amps[leg] += circuit.each_a
            neutral += cmath.rect(circuit.each_a, math.radians(dict(system.legs)[leg])) * circuit.neutral
    moves = sum(legs != circuit.legs for circuit, legs in zip(circuits, ways, strict=True))
    return round(max(amps.values()), 5), round(abs(neutral), 5), moves


def best(system, circuits, most_moves=None):
    every = itertools.product(*[circuit.may for circuit in circuits])
    found = (standing(system, circuits, ways) for ways in every)
    return min(each for each in found if most_moves is None or each[2] <= most_moves)


@few
@given(boards(6), st.sampled_from([None, 1, 2]))
def test_the_best_assignment_is_the_exhaustive_search_s(board, most_moves):
    system, circuits = board
    found = even_out(circuits, system, most_moves=most_moves)
    largest, neutral, moves = best(system, circuits, most_moves)
    assert found.largest_a == pytest.approx(largest, abs=1e-4)
    assert found.neutral_a == pytest.approx(neutral, abs=2e-3)
    assert len(found.moves) == moves
    assert found.bound_a <= largest + 1e-4


@few
@given(boards(40))
def test_evening_out_never_worsens_and_moves_what_may_be_moved(board):
    system, circuits = board
    found = even_out(circuits, system)
    assert found.largest_a <= max(found.amps_before.values()) + 0.1
    assert sum(found.amps.values()) == pytest.approx(sum(found.amps_before.values()))
    assert found.bound_a <= found.largest_a + 1e-6
    ways = {circuit.key: circuit.legs for circuit in circuits} | {move.key: move.after for move in found.moves}
    assert all(ways[circuit.key] in circuit.may for circuit in circuits)
    largest, neutral, moves = standing(system, circuits, [ways[circuit.key] for circuit in circuits])
    assert (largest, neutral) == pytest.approx((found.largest_a, found.neutral_a), abs=1e-3)
    assert moves == len(found.moves)


def test_circuits_that_share_a_neutral_get_legs_of_their_own():
    system = SYSTEMS["208Y/120"]
    may = places_of(1, system)
    shared = [Circuit(name, 10, ("L1",), may, neutral=True, kept_apart="a") for name in "xyz"]
    found = even_out([*shared, Circuit("w", 30, ("L1",), may, neutral=True)], system)
    legs = {move.key: move.after for move in found.moves}
    assert len({legs.get(name, ("L1",)) for name in "xyz"}) == 3
    assert found.largest_a == pytest.approx(40)  # three apart put 10 A on each leg, and 30 A lie on one of them


@pytest.mark.parametrize("name", ["120/240 1ph 3w", "208Y/120"])
def test_a_board_of_84_ways_is_proven_to_the_tenth_of_an_ampere(name):
    system = SYSTEMS[name]
    may = places_of(1, system)
    amps = [5 + (at * 37 % 130) / 10 for at in range(84)]
    found = even_out([Circuit(at, each, ("L1",), may, neutral=True) for at, each in enumerate(amps)], system)
    assert found.proven
    assert found.largest_a <= sum(amps) / len(system.legs) + 0.1 + 1e-9
    assert found.neutral_a < 1
