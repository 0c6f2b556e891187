"""Four-wire flow against a circuit simulator (ngspice) and a power-flow library (dss-python), within 0.01 %."""

import cmath
import math
import random
import warnings

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.networks import THREE, built_in_dss, ends_of, nominal, simulated, solved_by_dss
from tests.reference.spice import Netlist
from voltaje.physics.draws import Draws, NoSolution
from voltaje.physics.flow import Load, Span, alike, flow
from voltaje.physics.nodal import Branch, Taken, nodal
from voltaje.physics.reflection import connection
from voltaje.physics.unit import CONDUCTORS, single_phase, three_phase
from voltaje.systems import SYSTEMS

few = settings(max_examples=12, deadline=None)
WITHIN = 1e-4
LINEAR = (Draws.PAPER, Draws.IMPEDANCE)
ohms = st.builds(complex, st.floats(0.001, 0.05), st.floats(0.0, 0.02))


def ways(system):
    legs = [leg for leg, _angle in system.legs]
    single = [(leg,) for leg in legs if system.line_to_neutral_v and leg != system.high_leg]
    pairs = [(one, other) for at, one in enumerate(legs) for other in legs[at + 1 :]]
    return [*single, *pairs, *([tuple(legs)] if len(legs) == 3 else [])]


def networks(system, kinds, most=6):
    """Trees of any shape, each conductor with ohms of its own, loads of any connection and power factor."""
    spans = st.integers(1, most).flatmap(
        lambda n: st.tuples(
            *(
                st.tuples(st.integers(0, at - 1) if at else st.none(), st.tuples(ohms, ohms, ohms, ohms)).map(
                    lambda each: Span(*each)
                )
                for at in range(n)
            )
        )
    )
    return spans.flatmap(
        lambda tree: st.tuples(
            st.just(tree),
            st.lists(
                st.builds(
                    Load,
                    st.integers(0, len(tree) - 1),
                    st.floats(50, 4000),
                    st.sampled_from([1.0, 0.9, 0.7]),
                    st.sampled_from(ways(system)),
                    st.sampled_from(kinds),
                ),
                min_size=1,
                max_size=6,
            ),
        )
    )


def agree(mine, theirs, system):
    slack = WITHIN * system.line_to_line_v
    for at, volts in theirs.items():
        for wire, each in volts.items():
            assert abs(mine.volts[at, CONDUCTORS.index(wire)] - each) <= slack, (at, wire)


@pytest.mark.parametrize("name", [name for name, system in SYSTEMS.items() if system.line_to_neutral_v])
@few
@given(st.data())
def test_any_radial_network_is_the_simulator_s(name, data):
    """Unbalanced wyes, split phase, high-leg delta, two legs of a wye; mixed power factors, neutrals of any ohms."""
    system = SYSTEMS[name]
    spans, loads = data.draw(networks(system, LINEAR))
    mine = flow(system, spans, loads)
    agree(mine, simulated(system, spans, loads), system)
    for at in range(len(spans)):  # what goes out comes back
        assert abs(mine.amps[at].sum()) <= 1e-6 * max(1.0, abs(mine.amps[at]).max())


@few
@given(networks(SYSTEMS["208Y/120"], (Draws.CURRENT, Draws.IMPEDANCE, Draws.POWER)))
def test_any_radial_network_is_the_power_flow_library_s(network):
    spans, loads = network
    system = SYSTEMS["208Y/120"]
    mine = flow(system, spans, loads)
    built_in_dss(system, spans, loads)
    agree(mine, solved_by_dss(len(spans)), system)


def test_two_hundred_feet_of_3_awg_with_100_a_on_one_leg():
    """2 × 100 A × 0.2 kft × 0.245 Ω/kft = 9.8 V of 120 V: NEC chapter 9 Table 8, there and back."""
    found = flow(SYSTEMS["208Y/120"], [Span(None, alike(0.245 * 0.2 + 0j))], [Load(0, 12_000, 1.0, ("L1",))])
    assert SYSTEMS["208Y/120"].to_middle_v("L1") - abs(found.across(0, ("L1",))) == pytest.approx(9.8, abs=1e-9)
    assert found.neutral(0) == pytest.approx(-100)
    assert found.volts[0, 3] == pytest.approx(4.9)


def large(count, kinds):
    """A tree of four-wire nodes, one load at each, drawn with a fixed seed."""
    dice = random.Random(4)  # noqa: S311  (drawn the same each time)
    spans = [Span(None, alike(0.001 + 0.001j))]
    spans += [Span(dice.randrange(max(0, at - 8), at), alike(complex(1e-4, 4e-5))) for at in range(1, count)]
    loads = [
        Load(at, dice.uniform(20, 80), dice.choice([1.0, 0.9]), (dice.choice(THREE),), dice.choice(kinds))
        for at in range(count)
    ]
    return spans, loads


@pytest.mark.parametrize("kinds", [LINEAR, (Draws.CURRENT, Draws.POWER)])
def test_a_thousand_nodes(kinds):
    system = SYSTEMS["208Y/120"]
    spans, loads = large(1000, kinds)
    mine = flow(system, spans, loads)
    if kinds == LINEAR:
        agree(mine, simulated(system, spans, loads, every=25), system)
    else:
        built_in_dss(system, spans, loads)
        agree(mine, solved_by_dss(len(spans)), system)


@pytest.mark.parametrize(
    ("primary", "secondary", "named"),
    [
        ("480 3ph", "208Y/120", "Dyn1"),
        ("480 3ph", "208Y/120", "Dyn11"),
        ("480 3ph", "208Y/120", "Dyn5"),
        ("480Y/277", "208Y/120", "YNyn"),
        ("480 3ph", "240 3ph", "Dd"),
        ("480Y/277", "240 3ph", "Yd1"),
        ("480Y/277", "240 3ph", "Yd11"),
        ("480 3ph", "240/120 high-leg", ""),
        ("400 3ph", "230/400", "Dyn11"),
        ("480 1ph", "120/240 1ph 3w", ""),
        ("480Y/277", "120/240 1ph 3w", ""),
    ],
)
@settings(max_examples=5, deadline=None)
@given(st.data())
def test_through_a_transformer(primary, secondary, named, data):
    """Feeder, transformer with its own ohms, a board behind it: coil by coil in the simulator."""
    above, below = SYSTEMS[primary], SYSTEMS[secondary]
    spans, loads = data.draw(networks(below, LINEAR, 3))
    own = 0.01 + 0.03j
    if len(below.legs) == 3:
        unit = three_phase(connection(named, below), above, below, own)
    else:
        legs = ("L1", "L2") if len(above.legs) == 2 else ("L1",)
        volts = above.line_to_line_v if len(legs) == 2 else above.to_middle_v("L1")
        unit = single_phase(legs, volts, below, own)
    before = alike(0.02 + 0.01j)
    whole = [Span(None, before, unit, below)]
    whole += [Span(span.after + 1 if span.after is not None else 0, span.ohms) for span in spans]
    moved = [load._replace(at=load.at + 1) for load in loads if load.draws is Draws.IMPEDANCE]
    mine = flow(above, whole, moved)
    theirs = behind_coils(above, below, unit, before, whole, moved)
    for at, volts in theirs.items():
        for wire, each in volts.items():
            assert abs(mine.volts[at, CONDUCTORS.index(wire)] - each) <= WITHIN * below.line_to_line_v


def behind_coils(above, below, unit, before, spans, loads):
    net = Netlist()
    for leg, phasor in above.phasors().items():
        net.source(leg, f"{leg}s", phasor)
    net.impedance("grounded", "Ns", "0", 1e-9 + 0j)
    for at, wire in enumerate((*(leg for leg, _angle in above.legs), "N")):
        net.impedance(f"p{wire}", f"{wire}s", f"{wire}p", before[at])
    wires, earthed = [f"{wire}p" for wire in CONDUCTORS] + ["star"], any(3 in pair.secondary for pair in unit)
    behind = [f"{wire}0" for wire in CONDUCTORS]
    for at, pair in enumerate(unit):
        ends = [wires[end] for end in pair.primary]
        hot, cold = (behind[end] for end in pair.secondary)
        net.winding(f"w{at}", ends, (f"w{at}own", cold), 1 / pair.ratio)
        net.impedance(f"z{at}", f"w{at}own", hot, pair.ohms - 1e-4)
    net.impedance("bond", "N0", "0", 1e-9 + 0j)
    for leg in () if earthed else THREE:  # counted from the middle of its lines, as the product does
        net.impedance(f"mid{leg}", f"{leg}0", "0", 1e7 + 0j)
    used = [leg for leg, _angle in below.legs] + ["N"] * earthed
    for at, span in enumerate(spans):
        for wire in used:
            if at:
                net.impedance(f"{wire}{at}", f"{wire}{span.after}", f"{wire}{at}", span.ohms[CONDUCTORS.index(wire)])
            net.voltage(f"{wire}{at}")
    _loaded(net, below, loads)
    found = net.solve()
    return {at: {wire: found[f"v({wire}{at})".lower()] for wire in used} for at in range(len(spans))}


def _loaded(net, system, loads):
    for number, load in enumerate(loads):
        for part, (ends, share) in enumerate(ends_of(load)):
            lag = cmath.rect(1.0, math.acos(load.power_factor))
            size = abs(nominal(system, ends)) ** 2 / (load.va * share)
            net.impedance(f"d{number}x{part}", *(f"{end}{load.at}" for end in ends), size * lag)


@few
@given(networks(SYSTEMS["230/400"], tuple(Draws)))
def test_both_solvers_find_the_same(network):
    """The sweep down the tree and Kirchhoff's laws all at once, on loads of every kind."""
    spans, loads = network
    system = SYSTEMS["230/400"]
    mine = flow(system, spans, loads)
    branches = [Branch("earth", f"{leg}s", 0, phasor) for leg, phasor in system.phasors().items()]
    branches.append(Branch("earth", "Ns", 0))
    for at, span in enumerate(spans):
        above = "s" if span.after is None else span.after
        branches += [
            Branch(f"{wire}{above}", f"{wire}{at}", each) for wire, each in zip(CONDUCTORS, span.ohms, strict=True)
        ]
    taken = [
        Taken(
            *(f"{end}{load.at}" for end in ends), load.va * share, load.power_factor, nominal(system, ends), load.draws
        )
        for load in loads
        for ends, share in ends_of(load)
    ]
    found = nodal(branches, taken, "earth")
    for at in range(len(spans)):
        for wire in CONDUCTORS:
            assert abs(found.volts[f"{wire}{at}"] - mine.volts[at, CONDUCTORS.index(wire)]) <= 1e-7


@few
@given(st.lists(st.tuples(ohms, ohms, ohms, st.floats(3, 400), st.floats(3, 400)), min_size=1, max_size=5), st.data())
def test_a_ladder_with_its_neutral_opened_is_the_simulator_s(sections, data):
    broken = data.draw(st.integers(0, len(sections) - 1))
    net = Netlist()
    net.source("a", "a", 120 + 0j)
    net.source("b", "b", -120 + 0j)
    branches = [Branch("0", "a", 0, 120 + 0j), Branch("0", "b", 0, -120 + 0j), Branch("0", "n", 0)]
    net.impedance("g", "n", "0", 1e-9 + 0j)
    taken, last = [], ("a", "n", "b")
    for at, (one, neutral, other, over, under) in enumerate(sections):
        here = (f"a{at}", f"n{at}", f"b{at}")
        for start, end, each in zip(last, here, (one, neutral, other), strict=True):
            if end[0] == "n" and at == broken:
                continue
            net.impedance(f"z{end}", start, end, each)
            branches.append(Branch(start, end, each))
        net.impedance(f"u{at}", here[0], here[1], complex(over))
        net.impedance(f"v{at}", here[1], here[2], complex(under))
        taken.append(Taken(here[0], here[1], 120**2 / over, 1.0, 120, Draws.IMPEDANCE))
        taken.append(Taken(here[1], here[2], 120**2 / under, 1.0, 120, Draws.IMPEDANCE))
        for end in here:
            net.voltage(end)
        last = here
    theirs, mine = net.solve(), nodal(branches, taken, "0")
    for name in mine.volts.keys() - {"0", "a", "b", "n"}:
        assert abs(mine.volts[name] - theirs[f"v({name})"]) <= WITHIN * 120


def test_what_no_supply_can_carry_is_refused():
    """A load of constant power beyond V² / 4R: no volts hold."""
    system = SYSTEMS["230/400"]
    short = [Span(None, alike(1 + 0j))]
    flow(system, short, [Load(0, 6_000, 1.0, ("L1",), Draws.POWER)])
    with pytest.raises(NoSolution, match="no voltages hold"):
        flow(system, short, [Load(0, 7_000, 1.0, ("L1",), Draws.POWER)])
    with warnings.catch_warnings(), pytest.raises(NoSolution, match="nothing decides"):
        warnings.simplefilter("error")
        nodal([Branch("e", "a", 0, 120), Branch("b", "c", 1)], [], "e")
    with pytest.raises(NoSolution, match="against each other"):
        nodal([Branch("e", "a", 0, 120), Branch("e", "a", 0, 110)], [], "e")
    with pytest.raises(NoSolution, match="star point"):
        unit = three_phase(connection("Yyn", SYSTEMS["208Y/120"]), SYSTEMS["480 3ph"], SYSTEMS["208Y/120"], 0.01j)
        flow(SYSTEMS["480 3ph"], [Span(None, alike(0), unit, SYSTEMS["208Y/120"])], [])
