"""Currents and voltage drop against a circuit simulator (ngspice), on the same network.

Currents: loads as impedances at their nominal voltage on ideal sources, so that both must agree to the last figure.
Drop: the tables' R and X as a line, the load as a current; R cos φ + X sin φ leaves out a small quadrature part.
"""

import cmath
import math
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.spice import Netlist
from voltaje.design.solve import solve
from voltaje.physics.currents import Placed, leg_currents, neutral, total
from voltaje.systems import SYSTEMS
from voltaje.tools.quick import run
from voltaje.tools.solve import read_document

THREE = ("L1", "L2", "L3")
NAMES = [name for name, system in SYSTEMS.items() if len(system.legs) > 1]
few = settings(max_examples=12, deadline=None)


def ways_to_connect(system):
    """Every set of legs that a load may have there, in every order that boards give them."""
    legs = [leg for leg, _angle in system.legs]
    single = [(leg,) for leg in legs if system.line_to_neutral_v and leg != system.high_leg]
    pairs = [(one, other) for one in legs for other in legs if one != other]
    rotated = [tuple(legs[at:] + legs[:at]) for at in range(3)] if len(legs) == 3 else []
    return [*single, *pairs, *rotated]


def simulated(placed, system):
    """The current of each leg, by the simulator: three-phase loads as a wye on a point of its own."""
    net = Netlist()
    for leg, phasor in system.phasors().items():
        net.source(leg, leg, phasor)
    for at, load in enumerate(placed):
        lag = cmath.rect(1.0, math.acos(load.power_factor))
        if len(load.legs) == 1:
            net.impedance(f"a{at}", load.legs[0], "0", system.line_to_neutral_v**2 / load.va * lag)
        elif len(load.legs) == 2:
            net.impedance(f"a{at}", *load.legs, system.line_to_line_v**2 / load.va * lag)
        else:
            for leg in load.legs:
                net.impedance(f"a{at}{leg}", leg, f"star{at}", system.line_to_line_v**2 / load.va * lag)
    found = net.solve()
    return {leg: -found[f"v{leg}#branch".lower()] for leg, _angle in system.legs}


@pytest.mark.parametrize("name", NAMES)
@few
@given(st.data())
def test_leg_and_neutral_currents_of_any_loads(name, data):
    system = SYSTEMS[name]
    placed = data.draw(
        st.lists(
            st.builds(
                Placed,
                st.floats(50, 20_000),
                st.sampled_from([1.0, 0.95, 0.8, 0.5]),
                st.sampled_from(ways_to_connect(system)),
            ),
            min_size=1,
            max_size=7,
        )
    )
    mine = total([leg_currents(load, system) for load in placed], system)
    theirs = simulated(placed, system)
    # Volts are named rounded, 230/400 though 230 × √3 is 398.4: what lies to neutral differs by less than 0.45 %.
    rough = 0.0045 if system.line_to_neutral_v and (len(system.legs) == 3 or system.wye_legs) else 1e-6
    slack = rough * sum(load.va for load in placed) / (system.line_to_neutral_v or system.line_to_line_v)
    for leg, amps in theirs.items():
        assert abs(mine[leg] - amps) <= slack
    if system.line_to_neutral_v:
        assert neutral(mine) == pytest.approx(abs(sum(theirs.values())), abs=slack)


@pytest.mark.parametrize(
    ("system", "circuits"),
    [
        ("208Y/120", [(27_000, 3, 1), (1_400, 1, 1), (11_100, 3, 1), (900, 1, 1), (8_600, 1, 2), (3_800, 3, 1)]),
        ("230/400", [(11_000, 3, 1), (3_680, 1, 1), (3_680, 1, 1), (7_360, 1, 1), (5_500, 3, 1)]),
        ("240/120 high-leg", [(9_000, 3, 1), (1_500, 1, 1), (1_200, 1, 1), (4_500, 1, 2), (6_000, 3, 1)]),
    ],
)
def test_a_board_whose_three_phase_circuits_begin_on_any_leg(system, circuits):
    """A board as people list it: three-phase circuits among single-phase ones, on whatever legs come next."""
    nodes = [{"id": "src", "kind": "source", "system": system}, {"id": "b", "kind": "board", "parent": "src"}]
    for at, (va, phases, poles) in enumerate(circuits):
        load = {"kind": "general", "rating": f"{va} VA", "phases": phases, **({"poles": poles} if poles > 1 else {})}
        nodes.append({"id": f"n{at}", "kind": "load", "parent": "b", "load": load})
    book = "BS 7671" if system == "230/400" else "NEC 2023"
    solution = solve(read_document({"format": "voltaje-job", "version": 1, "name": "B", "book": book, "nodes": nodes}))
    placed = [Placed(va, 1.0, solution.nodes[f"n{at}"].legs) for at, (va, _phases, _poles) in enumerate(circuits)]
    theirs = simulated(placed, SYSTEMS[system])
    for leg, amps in theirs.items():
        assert solution.nodes["b"].amps[leg] == pytest.approx(abs(amps), rel=0.003)


def line_drop(volts, ohms, amps, cosine):
    """How much less a load sees at the end of a line there and back, by the simulator."""
    net = Netlist()
    net.source("s", "from", complex(volts))
    net.impedance("line", "from", "to", ohms)
    net.draw("load", "to", "0", amps * cmath.rect(1.0, -math.acos(cosine)))
    net.voltage("to")
    return volts - abs(net.solve()["v(to)"])


@few
@given(
    st.integers(5, 400),
    st.integers(10, 300),
    st.sampled_from([1.0, 0.95, 0.85, 0.7]),
    st.sampled_from([1, 3]),
    st.sampled_from(["Cu", "Al"]),
)
def test_the_drop_of_a_run_by_table_9(amps, feet, cosine, phases, material):
    raw = {"book": "NEC 2023", "amps": amps, "volts": 480, "phases": phases, "length": feet, "material": material}
    found = run.TOOL.run({**raw, "power_factor": cosine})
    (step,) = [each for each in found["steps"] if each["label"].startswith("Voltage drop")]
    drop = found["result"]["drop_v"]
    if not 0.2 < drop < 24 or cosine == 1:
        return  # direct-current resistance stands in the formula alone; and beyond 5 % nobody builds it
    resistance, reactance = impedance_of(step["formula"])
    sets = found["result"]["conductor"]["sets"]
    per_line = complex(resistance, reactance) * feet / 1000 / sets
    ways = 2 if phases == 1 else 1
    across = 480 if phases == 1 else 480 / math.sqrt(3)
    theirs = line_drop(across, per_line * ways, amps, cosine) * (1 if phases == 1 else math.sqrt(3))
    assert drop == pytest.approx(theirs, rel=0.03)


def impedance_of(formula):
    """R and X [Ω per 1,000 ft] out of the formula that a step shows."""
    match = re.search(r"\(([\d.]+) \* [\d.]+ \+ ([\d.]+) \* [\d.]+\)", formula)
    assert match, formula
    return float(match[1]), float(match[2])
