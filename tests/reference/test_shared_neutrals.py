"""Circuits that share a neutral, one thing: held against phasors added here, and a nodal solver for its loss."""

import cmath
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.test_sums import board, load, nodes_of, said
from voltaje.physics.ladder import Rung, Section, ladder

ANGLES = {"120/240 1ph 3w": (0, 180), "208Y/120": (0, -120, 120)}
AMPS = st.lists(st.integers(4, 15), min_size=3, max_size=3)


def circuits(amps, group, **more):
    made = [load(f"c{at}", "b", rating=f"{each} A", poles=1, **more) for at, each in enumerate(amps)]
    for each in made:
        each["load"] |= {"neutral_group": group} if group else {}
    return made


def solved(system, amps, group="g", *, between=(), **more):
    beginning = {**board("b"), "run": {}}  # of no length: what drops is the circuit's own
    return nodes_of(beginning, *circuits(amps, group, **more), *between, system=system)


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(list(ANGLES)), AMPS)
def test_its_current_and_each_drop_are_of_all_that_run(system, amps):
    """Half of what the circuit drops alone is its line's; the neutral's part is its current along the line's volts."""
    angles = ANGLES[system]
    amps = amps[: len(angles)]
    shared, alone = solved(system, amps), solved(system, amps, "")
    turned = [cmath.rect(each, math.radians(angle)) for each, angle in zip(amps, angles, strict=True)]
    back = sum(turned)
    for at, (each, angle) in enumerate(zip(amps, angles, strict=True)):
        node = shared[f"c{at}"]
        along = (back * cmath.rect(1, -math.radians(angle))).real
        expected = alone[f"c{at}"]["drop_v"] / 2 * (1 + along / each)
        assert node["neutral_a"] == pytest.approx(abs(back), abs=1e-9)
        # Where the neutral's current lags the line's volts, Table 9 stands in for Table 8, with its reactance.
        near = 0.03 * alone[f"c{at}"]["drop_v"] if len(angles) > 2 else 1e-9
        assert node["drop_v"] == pytest.approx(max(expected, 0), abs=near)
    sizes = {node["neutral"]["size"] for key, node in shared.items() if key.startswith("c")}
    lines = [node["conductor"]["size"] for key, node in shared.items() if key.startswith("c")]
    assert sizes == {min(lines, key=int)}  # the largest of its lines: of these gauges the smallest number
    assert len([key for key in shared if said(shared[key], "neutral.opened_together")]) == 1


@settings(max_examples=30, deadline=None)
@given(AMPS)
def test_its_loss_against_a_nodal_solver(amps):
    """Two loads left in series across 240 V."""
    node = solved("120/240 1ph 3w", amps[:2])["c0"]
    rungs = (Rung(ohms=120 / amps[0]), Rung(ohms=120 / amps[1]), Rung())
    found = ladder((120, -120), [Section((1e-9, 1e-9, 1e-9), rungs)], 0)[0]
    low, high = sorted(abs(each) for each in found.volts[:2])
    (message,) = [each["message"] for each in said(node, "neutral.lost")]
    assert f"{low:.0f} V and {high:.0f} V" in message


def test_its_circuits_keep_off_each_others_legs_whatever_stands_between():
    """By the order of ways the third circuit would stand on the first one's leg again."""
    between = [load("x", "b", rating="5 A", poles=1)]
    nodes = nodes_of(board("b"), *circuits([10], "g"), *between, *circuits([10, 12], "g")[1:], system="120/240 1ph 3w")
    assert not any(said(node, "neutral.shared_on_one_leg") for node in nodes.values())


@pytest.mark.parametrize(("nonlinear", "carries"), [(1, 32), (0.4, 35)])
def test_a_neutral_of_mostly_nonlinear_load_counts_as_carrying(nonlinear, carries):
    """310.15(E)(3), (C)(1): four carry, 80 %: of 10 AWG, 40 A at 90 °C, 32 A are left; the terminals let 35."""
    nodes = solved("208Y/120", [24.5] * 3, nonlinear=nonlinear)
    assert {nodes[key]["ampacity_a"] for key in ("c0", "c1", "c2")} == {carries}


def test_alone_it_may_drop_more_than_with_the_others():
    nodes = nodes_of(board("b"), *[{**each, "run": {"length": "70 ft"}} for each in circuits([12, 12], "g")])
    assert nodes["c0"]["drop_percent"] < 3
    assert said(nodes["c0"], "drop.alone_over_limit")
    near = nodes_of(board("b"), *[{**each, "run": {"length": "40 ft"}} for each in circuits([12, 12], "g")])
    assert not said(near["c0"], "drop.alone_over_limit")
