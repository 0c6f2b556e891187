"""Welders by their duty, alone and several: Article 630 reckoned here, and the metered demand of 220.87."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.test_secondary_conductors import AMPACITY
from tests.reference.test_sums import board, job, load, nodes_of, said, spread_over
from voltaje.tools.solve import solve_document

ARC = {20: 0.45, 30: 0.55, 40: 0.63, 50: 0.71, 60: 0.78, 70: 0.84, 80: 0.89, 90: 0.95, 100: 1.0}
RESISTANCE = {5: 0.22, 7.5: 0.27, 10: 0.32, 15: 0.39, 20: 0.45, 25: 0.5, 30: 0.55, 40: 0.63, 50: 0.71}
RATINGS = (
    15,
    20,
    25,
    30,
    35,
    40,
    45,
    50,
    60,
    70,
    80,
    90,
    100,
    110,
    125,
    150,
    175,
    200,
    225,
    250,
    300,
    350,
    400,
    450,
    500,
    600,
    700,
)


def welder(amps, duty, kind="arc", **more):
    return load("w", "b", **more) | {
        "load": {"kind": "welder", "rating": f"{amps} A", "welder": kind, "duty_percent": duty, "poles": 2}
    }


def by_duty(amps, duty, table):
    return amps * next(factor for most, factor in table.items() if most >= duty)


@settings(max_examples=60, deadline=None)
@given(st.integers(15, 180), st.floats(1, 100), st.sampled_from(["arc", "resistance"]))
def test_a_welder_s_conductors_and_device(amps, duty, kind):
    """630.11(A), 630.12: by its duty; a device the next over its current, not over 200 % (300 %) of what they carry."""
    table, times = (ARC, 2) if kind == "arc" else (RESISTANCE, 3)
    duty = min(duty, max(table))
    node = nodes_of(board("b"), welder(amps, duty, kind), system="480Y/277")["w"]
    device = next(rating for rating in RATINGS if rating >= amps)
    carried = max(by_duty(amps, duty, table), device / times)
    size = next(each for each, ampacity in AMPACITY.items() if ampacity >= carried - 1e-6)
    assert (node["device_a"], node["conductor"]["size"]) == (device, size)
    assert node["amps"]["L1"] == pytest.approx(by_duty(amps, duty, table))
    # A greater one, as it may be where that trips without need, asks for conductors of half (a third) of it.
    greatest = next(rating for rating in RATINGS if rating >= times * amps)
    pinned = {"run": {"pins": {"device_a": greatest}}}
    large = nodes_of(board("b"), welder(amps, duty, kind) | pinned, system="480Y/277")["w"]
    carried = max(by_duty(amps, duty, table), greatest / times)
    size = next(each for each, ampacity in AMPACITY.items() if ampacity >= carried - 1e-6)
    assert (large["device_a"], large["conductor"]["size"]) == (greatest, size)
    pinned["run"]["pins"]["device_a"] = RATINGS[RATINGS.index(greatest) + 1]
    over = nodes_of(board("b"), welder(amps, duty, kind) | pinned, system="480Y/277")["w"]
    assert said(over, "run.not_lawful")


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.integers(20, 100), st.sampled_from(list(ARC))), min_size=1, max_size=7), st.integers(1, 3))
def test_arc_welders_together_wherever_they_stand(welders, levels):
    """630.11(B): the two largest, 85 % of the third, 70 % of the fourth, 60 % of the others."""
    each = [welder(amps, duty) for amps, duty in welders]
    half = len(each) // 2
    found = nodes_of(*spread_over(levels, [({}, each[:half]), ({}, each[half:])]), system="480Y/277")
    counted = sorted((480 * by_duty(amps, duty, ARC) for amps, duty in welders), reverse=True)
    shares = [1, 1, 0.85, 0.7, *[0.6] * 7]
    assert found["f0"]["demand_va"] == pytest.approx(
        sum(va * share for va, share in zip(counted, shares, strict=False))
    )


def test_resistance_welders_together():
    """630.31(B): the largest, 60 % of the others."""
    each = [welder(amps, 10, "resistance") for amps in (100, 60, 40)]
    found = nodes_of(*spread_over(1, [({}, each)]), system="480Y/277")
    assert found["b0"]["demand_va"] == pytest.approx(480 * 0.32 * (100 + 0.6 * 60 + 0.6 * 40))


def test_a_duty_that_the_table_lacks_is_refused_at_its_field():
    node = nodes_of(board("b"), welder(60, 80, "resistance"), system="480Y/277")["w"]
    assert "50 %" in said(node, "load.not_known")[0]["message"]


# What was metered, in the place of the loads that made it: 220.87


@settings(max_examples=30, deadline=None)
@given(st.integers(5, 200), st.integers(1, 40), st.integers(0, 2))
def test_a_metered_demand_counts_at_125_percent_and_new_load_on_top(metered, new, levels):
    nodes = spread_over(levels, [({"recorded_kva": metered}, [load("x", "x", rating=f"{new} kVA", phases=3)])])
    found = solve_document(job(*nodes, system="480Y/277"))["nodes"]
    for key in [node["id"] for node in nodes if node["kind"] == "board"]:
        assert found[key]["demand_va"] == pytest.approx(1250 * metered + 1000 * new)
        amps = (1250 * metered + 1000 * new) / (3**0.5 * 480)
        assert all(each == pytest.approx(amps, rel=1e-3) for each in found[key]["amps"].values())
