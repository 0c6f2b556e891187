"""Whole paths against a circuit simulator (ngspice): four-wire drop, the neutral, currents through transformers."""

import cmath

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.spice import Netlist
from voltaje.design.path_flow import path_flow
from voltaje.design.solve import solve
from voltaje.physics.currents import Placed, leg_currents, total
from voltaje.physics.reflection import connection, reflected
from voltaje.systems import SYSTEMS
from voltaje.tools.solve import read_document

THREE = ("L1", "L2", "L3")
few = settings(max_examples=12, deadline=None)


def path(circuits, system="208Y/120"):
    """A feeder to a board, a second board behind it, circuits on both; all at one power factor below one."""
    nodes = [
        {"id": "src", "kind": "source", "system": system},
        {"id": "a", "kind": "board", "parent": "src", "run": {"length": 150}},
        {"id": "b", "kind": "board", "parent": "a", "run": {"length": 90}},
    ]
    for at, (board, va, legs, cosine) in enumerate(circuits):
        load = {"rating": f"{va} VA", "legs": list(legs), "power_factor": cosine}
        nodes.append({"id": f"n{at}", "kind": "load", "parent": board, "load": load, "run": {"length": 60}})
    return {"format": "voltaje-job", "version": 1, "name": "P", "book": "NEC 2023", "terminals": "75", "nodes": nodes}


@few
@given(
    st.lists(
        st.tuples(
            st.sampled_from("ab"),
            st.integers(300, 4000),
            st.sampled_from([("L1",), ("L2",), ("L3",), ("L1", "L2"), ("L2", "L3"), THREE]),
            st.sampled_from([0.95, 0.85]),
        ),
        min_size=1,
        max_size=7,
    )
)
def test_the_drop_of_every_node_is_the_flow_s(circuits):
    """Sizes as the product chose them, Table 9 on every conductor; what lies along the voltage is the drop."""
    job, system = read_document(path(circuits)), SYSTEMS["208Y/120"]
    solution = solve(job)
    flow, places = path_flow("src", job, solution)
    for key in places.keys() - {"src"}:
        for legs, percent in solution.nodes[key].fallen.items():
            # What a light leg rises while others are loaded is not counted on.
            lost = sum(max(each, 0.0) for each in along(system.phasors(), flow, solution.nodes, places, key, legs))
            assert percent == pytest.approx(lost / (120 if len(legs) == 1 else 208) * 100, rel=2e-3, abs=1e-6)


def along(source, flow, nodes, places, key, legs):
    """What each run on the way to a node loses along one of its voltages [V]."""
    whole = _between(source, legs)
    while nodes[key].node.parent:
        above = nodes[key].node.parent
        lost = flow.across(places[above], legs) - flow.across(places[key], legs)
        yield (lost * whole.conjugate()).real / abs(whole)
        key = above


def _between(volts, legs):
    return volts[legs[0]] - (volts[legs[1]] if len(legs) > 1 else 0)


@pytest.mark.parametrize(
    ("primary", "secondary", "named", "windings"),
    [
        ("480 3ph", "208Y/120", "Dyn1", [("L1", "L3", "L1", "0"), ("L2", "L1", "L2", "0"), ("L3", "L2", "L3", "0")]),
        ("480 3ph", "208Y/120", "Dyn11", [("L1", "L2", "L1", "0"), ("L2", "L3", "L2", "0"), ("L3", "L1", "L3", "0")]),
        ("480Y/277", "208Y/120", "Yyn", [("L1", "0", "L1", "0"), ("L2", "0", "L2", "0"), ("L3", "0", "L3", "0")]),
        ("480 3ph", "240 3ph", "Dd", [("L1", "L2", "L1", "L2"), ("L2", "L3", "L2", "L3"), ("L3", "L1", "L3", "L1")]),
        ("480Y/277", "240 3ph", "Yd1", [("L1", "0", "L1", "L2"), ("L2", "0", "L2", "L3"), ("L3", "0", "L3", "L1")]),
        ("480 3ph", "240/120 high-leg", "", [("L1", "L2", "L1", "L2"), ("L2", "L3", "L2", "L3")]),
    ],
)
@few
@given(st.data())
def test_currents_through_transformers(primary, secondary, named, windings, data):
    """Coils on cores with ideal ratios and a small resistance each; the loads drawn as currents."""
    mine_of, system = SYSTEMS[primary], SYSTEMS[secondary]
    low = [leg for leg, _angle in system.legs if leg != system.high_leg]
    ways = [(leg,) for leg in low if system.line_to_neutral_v] + [("L1", "L2"), ("L2", "L3"), ("L3", "L1"), THREE]
    loads = data.draw(
        st.lists(
            st.builds(Placed, st.floats(500, 20_000), st.sampled_from([1.0, 0.8]), st.sampled_from(ways)),
            min_size=1,
            max_size=4,
        )
    )
    drawn = total([leg_currents(load, system) for load in loads], system)
    joined = connection(named, system)
    mine = reflected(drawn, system, mine_of, THREE, joined)
    across, behind = mine_of.phasors() | {"0": 0j}, system.phasors() | {"0": 0j}
    net = Netlist()
    for leg, phasor in mine_of.phasors().items():
        net.source(leg, f"p{leg}", phasor)
    for at, (start, end, hot, cold) in enumerate(windings):
        ends = [f"p{leg}" if leg != "0" else "0" for leg in (start, end)]
        outs = [f"s{leg}" if leg != "0" else "0" for leg in (hot, cold)]
        ratio = abs(behind[hot] - behind[cold]) / abs(across[start] - across[end])
        net.winding(f"w{at}", ends, outs, ratio)
    if system.high_leg:  # the third winding is tapped in its middle, which is earthed
        ratio = 120 / 480
        net.winding("w2", ["pL3", "pL1"], ["sL3", "0"], ratio)
        net.winding("w3", ["pL3", "pL1"], ["0", "sL1"], ratio)
    elif not system.line_to_neutral_v:
        net.impedance("float", "sL1", "0", 1e9 + 0j)
    # The simulator's secondary stands where its windings put it: turn the loads with it.
    turn = _turn(windings[0], across, behind)
    for leg, current in drawn.items():
        net.draw(f"d{leg}", f"s{leg}", "0", current * turn)
    theirs = net.solve()
    most = max(abs(current) for current in mine.values())
    for leg in THREE:
        assert abs(mine[leg]) == pytest.approx(abs(theirs[f"v{leg}#branch".lower()]), abs=0.004 * most + 1e-4)


def _turn(winding, across, behind):
    start, end, hot, cold = winding
    return cmath.rect(1.0, cmath.phase(across[start] - across[end]) - cmath.phase(behind[hot] - behind[cold]))


def test_one_leg_of_a_delta_wye_unit():
    """14 kVA on one leg of 480 Δ – 208Y/120 V: one winding's 14 000 / 480 = 29.17 A, in two lines."""
    nodes = [
        {"id": "s", "kind": "source", "system": "480 3ph"},
        {"id": "t", "kind": "transformer", "parent": "s", "transformer": {"kva": 45, "secondary": "208Y/120"}},
        {"id": "b", "kind": "board", "parent": "t"},
        {"id": "x", "kind": "load", "parent": "b", "load": {"rating": "14 kVA", "legs": ["L1"]}},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "T", "book": "NEC 2023", "nodes": nodes}
    drawn = sorted(solve(read_document(job)).nodes["s"].amps.values())
    assert drawn == pytest.approx([0, 14_000 / 480, 14_000 / 480], rel=1e-3, abs=1e-6)
