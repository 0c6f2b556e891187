"""Coils on cores: groups against plain phasors and a circuit simulator, textbook identities, hand-worked banks."""

import cmath
import math
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.spice import Netlist
from voltaje.design.windings.auto import every_stacking, three_phase_stack
from voltaje.design.windings.groups import HIGH, LOW, Windings, group_of, named, namings
from voltaje.errors import InputError
from voltaje.physics.motor_curve import PEAK, PEAK_SLIP, running, torque
from voltaje.physics.windings import Burden, Coil, Contradiction, three_phase, wound
from voltaje.tools.registry import tools

few = settings(max_examples=20, deadline=None)
GROUPS = [
    f"{high}{low}{hour}"
    for high, low, hours in (
        ("Y", "y", range(0, 12, 2)),
        ("D", "d", range(0, 12, 2)),
        ("D", "y", range(1, 12, 2)),
        ("Y", "d", range(1, 12, 2)),
        ("D", "z", range(0, 12, 2)),
        ("Y", "z", range(1, 12, 2)),
    )
    for hour in hours
]


def fed(windings, volts=480.0):
    return wound(windings.coils, windings.joints, dict(zip(HIGH, three_phase(volts), strict=True)))


@pytest.mark.parametrize("name", GROUPS)
def test_every_group_s_clock_by_plain_phasors(name):
    """Line a of the low side lags line A by thirty degrees an hour: rotated with plain complex arithmetic."""
    windings = named(name, 480, 208)
    assert group_of(windings).name == name
    found = fed(windings)
    hour = int(name[2:])
    line = cmath.rect(208, math.radians(30 - 30 * hour))  # A to B stands at thirty degrees
    assert found.between("a", "b") == pytest.approx(line, abs=1e-6)
    turned = [group_of(windings, ("C", "A", "B"), LOW), group_of(windings, ("B", "C", "A"), LOW)]
    assert {each.hour for each in turned} == {(hour + 4) % 12, (hour - 4) % 12}
    assert [group.hour for _lines, group in namings(windings, HIGH, LOW)] == [hour, (hour + 4) % 12, (hour + 8) % 12]


@pytest.mark.parametrize("name", GROUPS)
def test_reversing_every_coil_changes_nothing_between_lines(name):
    windings = named(name, 480, 208)
    turned = Windings(tuple(coil._replace(start=coil.end, end=coil.start) for coil in windings.coils), windings.joints)
    assert fed(turned).between("a", "b") == pytest.approx(fed(windings).between("a", "b"))
    assert group_of(turned).name == name


@pytest.mark.parametrize("name", ["Dy11", "Dy1", "Dy5", "Dd6", "Dd4", "Dz0", "Dz6"])
def test_groups_are_the_circuit_simulator_s(name):
    """Coupled windings on cores in ngspice, each core with the volts of the coil that the supply holds."""
    windings = named(name, 480, 208)
    net = Netlist()
    for leg, phasor in zip(HIGH, three_phase(480), strict=True):
        net.source(f"s{leg}", f"n{leg}", phasor)
    node = {}
    for one, other in windings.joints:
        node[one] = node.get(other, other)

    # A name of its own for each low terminal: the simulator knows no case.
    def called(end):
        head = node.get(end, end)
        return f"n{head}" if head in HIGH else f"low{ord(head[0])}{head[1:]}"

    at = {end: called(end) for coil in windings.coils for end in (coil.start, coil.end)}
    primaries = {coil.core: coil for coil in windings.coils if coil.id.startswith("h")}
    for number, coil in enumerate(each for each in windings.coils if each.id.startswith("l")):
        above = primaries[coil.core]
        net.winding(
            f"w{number}", (at[above.start], at[above.end]), (at[coil.start], at[coil.end]), coil.turns / above.turns
        )
    net.impedance("earth", at["c2" if "c2" in at else "c"], "0", 1e6 + 0j)
    for leg in LOW:
        net.voltage(at[leg])
    theirs, mine = net.solve(), fed(windings)
    across = theirs[f"v({at['a']})"] - theirs[f"v({at['b']})"]
    assert abs(across - mine.between("a", "b")) <= 1e-3 * 208


def test_textbook_identities():
    """A zigzag has 15.5 % more turns than a star; an open delta carries 57.7 % of three units; both by the solver."""
    star, zigzag = named("Dy1", 480, 208), named("Dz0", 480, 208)
    turns = [sum(coil.turns for coil in each.coils if coil.id.startswith("l")) for each in (star, zigzag)]
    assert turns[1] / turns[0] == pytest.approx(2 / math.sqrt(3))
    bank = tools()["bank"].run(
        {"units": 2, "kva_each": 25, "primary_v": 480, "secondary_v": 240, "supply_v": 480, "wanted_v": 240}
    )
    assert bank["result"]["best"]["connection"] == "Vv"
    assert bank["result"]["bank_kva"] == pytest.approx(75 / math.sqrt(3))


def test_a_reversed_coil_leaves_a_delta_open_by_twice_its_volts():
    windings = named("Dd0", 480, 240)
    coils = tuple(c._replace(start=c.end, end=c.start) if c.id == "l3" else c for c in windings.coils)
    with pytest.raises(Contradiction, match="480 V stand between"):
        fed(Windings(coils, windings.joints))
    opened = Windings(coils, tuple(joint for joint in windings.joints if joint != ("c2", "a")))
    assert abs(fed(opened).between("c2", "a")) == pytest.approx(480)
    with pytest.raises(Contradiction, match="shorted"):
        fed(Windings(windings.coils, (*windings.joints, ("a", "b"))))


def test_a_load_s_current_comes_back_by_ampere_turns():
    """10 A from a to n of a 480 Δ – 208Y/120 bank: 10 × 120 / 480 = 2.5 A in two lines of the primary."""
    found = wound(
        *named("Dy11", 480, 120 * math.sqrt(3)),
        dict(zip(HIGH, three_phase(480), strict=True)),
        [Burden("a", "n", 10 + 0j)],
    )
    assert sorted(abs(amps) for amps in found.fed.values()) == pytest.approx([0, 2.5, 2.5], abs=1e-9)


def test_a_bank_is_found_as_a_person_would():
    """498 V on 480/120 V units for 208 V: delta, star, tap +2½: 498 / 492 × 120 × √3 = 210.4 V, winding at 101 %."""
    found = tools()["bank"].run(tools()["bank"].example["nec"])["result"]
    best = found["best"]
    assert (best["connection"], best["tap"]) == ("Dy", 2.5)
    assert best["line_v"] == pytest.approx(498 / 492 * 120 * math.sqrt(3))
    assert len(found["candidates"]) == 25
    struck = [each for each in found["candidates"] if each["struck"]]
    assert struck
    assert all(each["winding_percent"] > 105 for each in struck)
    high = tools()["bank"].run({"primary_v": 2400, "secondary_v": 120, "supply_v": 4160, "wanted_v": 120})["result"]
    assert (high["best"]["connection"], round(high["best"]["line_v"])) == ("Yd", 120)


EQUALS = {"primary_v": 11000, "secondary_v": 400, "supply_v": 11000, "wanted_v": 400, "kva_each": 100}


def test_of_equal_connections_the_one_with_its_windings_at_their_rating_or_with_a_star_point_that_is_needed():
    """11 kV to 400 V of 11,000/400 V units: delta–delta at 100 %, star–star at 1 ÷ √3, two of three units: alike."""
    bank = tools()["bank"]
    found = bank.run(EQUALS)
    assert found["result"]["best"]["connection"] == "Dd"
    said = {each["code"]: each for each in found["findings"]}
    assert "Yy, Vv" in said["bank.alike"]["message"]
    star = bank.run(EQUALS | {"neutral": True})["result"]["best"]
    assert (star["connection"], star["winding_percent"]) == ("Yy", pytest.approx(100 / math.sqrt(3)))
    with pytest.raises(InputError, match="star point") as refused:
        bank.run(EQUALS | {"units": 2, "neutral": "yes"})
    assert refused.value.field == "neutral"


@pytest.mark.parametrize(("wanted", "told"), [(410, False), (411, True)])
def test_a_bank_s_volts_far_from_what_is_wanted_are_told(wanted, told):
    """400 V is 2.44 % under 410 V and 2.68 % under 411 V."""
    said = [each["code"] for each in tools()["bank"].run(EQUALS | {"wanted_v": wanted})["findings"]]
    assert ("bank.not_near" in said) is told


def test_the_nearest_is_claimed_of_those_with_a_star_point_alone():
    """277/120 V units on 480 V: star–delta would give 120 V; with a star point the nearest is 208 V."""
    asked = {"primary_v": 277, "secondary_v": 120, "supply_v": 480, "wanted_v": 120, "neutral": True}
    said = {each["code"]: each["message"] for each in tools()["bank"].run(asked)["findings"]}
    assert said["bank.not_near"].startswith("The nearest with a star point gives 207.9 V, 73.3 % off")


@few
@given(st.floats(20, 600), st.floats(5, 300), st.floats(50, 480))
def test_what_is_built_is_a_part_of_what_is_carried(high, low, from_v):
    for each in every_stacking((high, low), from_v, 1000.0):
        volts = sorted((from_v, each.output_v))
        if each.stacking.additive:
            assert each.built_va == pytest.approx(1000 * (1 - volts[0] / volts[1]))
            assert each.built_va <= 1000
        assert each.ratio == pytest.approx(from_v / each.output_v)
        assert each.input_a * from_v == pytest.approx(1000)


def test_an_autotransformer_by_hand():
    """240/24 V as a boost from 208 V: 208 × 264 / 240 = 228.8 V; 1 kVA carries 1000 / 24 A at that."""
    found = tools()["autotransformer"].run({"high_v": 240, "low_v": 24, "kva": 1, "from_v": 208, "to_v": 230})["result"]
    assert found["output_v"] == pytest.approx(228.8)
    assert found["series_a"] == pytest.approx(1000 / 24)
    assert found["load_va"] == pytest.approx(1000 / 24 * 228.8)
    wye = tools()["autotransformer"].run({"kind": "wye", "from_v": 480, "to_v": 460, "load_va": "20 kVA"})["result"]
    assert wye["built_va"] == pytest.approx(20_000 * (1 - 460 / 480))
    assert wye["output_phase_v"] == pytest.approx(460 / math.sqrt(3))
    tapped = {"kind": "tapped", "turns": 200, "from_v": 240, "to_tap": "80 %", "taps": [50], "load_va": 100}
    tap = tools()["autotransformer"].run(tapped)["result"]
    assert (tap["output_v"], tap["tap_turns"]) == pytest.approx((192, 160))
    assert tap["tap_v"][0]["volts"] == pytest.approx(120)


def test_a_terminal_fed_from_the_middle_of_two_coils():
    """An odd bank: no supply at A, fed instead with half of what stands from B to C."""
    coils = [Coil("1", "x", 100, "p", "m"), Coil("2", "x", 100, "m", "q"), Coil("3", "y", 50, "u", "v")]
    found = wound(coils, [("m", "u")], {"p": 240 + 0j, "q": 0j, "v": 20 + 0j})
    assert found.between("m", "q") == pytest.approx(120)
    assert found.between("u", "v") == pytest.approx(100)


@pytest.mark.parametrize(
    ("tool", "asked", "field"),
    [
        ("vector-group", {"group": "Yy1"}, "group"),
        ("vector-group", {}, "group"),
        ("vector-group", {"group": "Dyn11", "ask": [["a", "z"]]}, "ask"),
        ("vector-group", {"group": "Dyn11", "lines": {"low": ["a", "b", "x"]}}, "lines"),
        ("vector-group", {"group": "Dyn11", "joints": [["A2", "A"]]}, "joints"),
        ("bank", {"primary_v": 0, "secondary_v": 1, "supply_v": 1, "wanted_v": 1}, "primary_v"),
        ("bank", {"primary_v": 100, "secondary_v": 100, "supply_v": 480, "wanted_v": 100}, "supply_v"),
        ("autotransformer", {"high_v": 240, "from_v": 208}, "low_v"),
        ("autotransformer", {"kind": "tapped", "from_v": 208}, "to_tap"),
        ("autotransformer", {"kind": "wye", "from_v": 208}, "to_v"),
    ],
)
def test_wrong_input_is_said_at_its_field(tool, asked, field):
    with pytest.raises(ValueError, match=f"^{field}") as refused:
        tools()[tool].run(asked)
    assert refused.value.field == field


def test_what_nothing_decides_is_said():
    found = tools()["vector-group"].run({"group": "Dyn11", "ask": [["A", "a"]]})["result"]
    assert found["voltages"][0]["volts"] is None
    assert found["group"] == "Dy11"
    with pytest.raises(InputError):
        named("nonsense", 1, 1)


def boost(**asked):
    return tools()["buck-boost"].run(asked)["result"]


def test_buck_and_boost_by_hand():
    """208 V on a 240/32 V unit: 208 × 272 / 240 = 235.7 V; 8.6 kVA at 240 V are 35.83 A, × 32 V = 1.15 kVA: 1.5 kVA."""
    found = boost(line_v=208, load_v=240, load="8.6 kVA")
    assert (found["unit_kva"], found["units"], found["connection"]) == (1.5, 1, "boost")
    assert found["output_v"] == pytest.approx(208 * 272 / 240)
    assert found["isolating_kva"] == 10
    assert found["capacity_a"] == pytest.approx(1500 / 32)
    buck = boost(line_v=250, load_v=230, load="20 A")
    assert (buck["connection"], buck["output_v"]) == ("buck", pytest.approx(250 * 240 / 264))


def test_three_phase_boosts():
    """Two units as an open delta, three as a wye where a neutral is needed and comes in; none where it does not."""
    two = boost(line_v=208, load_v=230, phases=3, load="5 hp")
    assert (two["units"], two["arrangement"], two["load_a"]) == (2, "open delta", pytest.approx(15.2))
    three = boost(line_v=208, load_v=230, phases=3, load="5 kVA", supply_wires=4, neutral_needed=True)
    assert (three["units"], three["arrangement"]) == (3, "wye")
    assert three["voltage_to_ground"] == pytest.approx(three["output_v"] / math.sqrt(3))
    with pytest.raises(ValueError, match=r"^neutral_needed"):
        boost(line_v=208, load_v=230, phases=3, load="5 kVA", neutral_needed=True)


def test_a_unit_for_60_hz_bears_five_sixths_of_its_volts_at_50():
    assert all(
        each["primary_v"] * 5 / 6 * 1.05 >= 215
        for each in [boost(line_v=215, load_v=230, load="5 kVA", frequency=50, book="BS 7671")]
    )
    assert boost(line_v=215, load_v=230, load="5 kVA", frequency=60, book="BS 7671")["primary_v"] == 240


@few
@given(st.floats(190, 480), st.floats(0.9, 1.15), st.floats(0.5, 40), st.sampled_from([1, 3]))
def test_what_is_taken_carries_its_load_within_its_windings(line, share, amps, phases):
    try:
        found = boost(line_v=line, load_v=line * share, load=f"{amps} A", phases=phases)
    except ValueError:
        return
    assert found["capacity_a"] >= amps * (1 - 1e-9)
    assert found["winding_percent"] <= 105 + 1e-9
    near = [
        each for each in found["others"] if each["unit_kva"] and abs(each["output_v"] / (line * share) - 1) <= 0.025
    ]
    if abs(found["error_percent"]) <= 2.5:
        units = {"single": 1, "open delta": 2, "wye": 3}
        assert all(
            found["unit_kva"] * found["units"] <= each["unit_kva"] * units[each["arrangement"]] + 1e-9 for each in near
        )
    else:
        assert not near


# Impedance in the coils, two side by side, a motor on low volts


def test_a_ring_that_does_not_close_drives_its_volts_through_its_impedance():
    """A closed delta with one coil turned round: twice a coil's volts stand in it (textbook), over three impedances."""
    ohms = 0.3 + 1.1j
    windings = named("Dd0", 480, 240)
    coils = [
        coil._replace(ohms=ohms, start=coil.end, end=coil.start)
        if coil.id == "l2"
        else coil._replace(ohms=ohms)
        if coil.id.startswith("l")
        else coil
        for coil in windings.coils
    ]
    found = wound(coils, windings.joints, dict(zip(HIGH, three_phase(480), strict=True)))
    assert abs(found.amps["l1"]) == pytest.approx(2 * 240 / abs(3 * ohms))
    with pytest.raises(Contradiction, match="480 V stand between"):
        fed(Windings(tuple(coil._replace(ohms=0j) for coil in coils), windings.joints))


PAIRS = [("Dyn11", "Dyn11"), ("Dyn11", "Yz11"), ("Yy0", "Dd0"), ("Yd5", "Dyn5"), ("Dyn11", "Dyn1")]


@few
@given(
    st.sampled_from(PAIRS),
    st.floats(50, 500),
    st.floats(50, 500),
    st.floats(2, 8),
    st.floats(2, 8),
    st.floats(195, 221),
)
def test_two_side_by_side_by_plain_arithmetic(groups, kva, other_kva, z, other_z, low_v):
    """Volts apart over the two impedances in a row; a load shared as kVA over per cent (handbooks)."""
    asked = {
        "group": groups[0],
        "beside": groups[1],
        "kva": kva,
        "beside_kva": other_kva,
        "beside_low_v": low_v,
        "impedance_percent": z,
        "beside_impedance_percent": other_z,
    }
    pair = tools()["vector-group"].run(asked)["result"]["parallel"]
    first, second = (int(re.search(r"\d+", each)[0]) for each in groups)
    apart = abs(208 - cmath.rect(low_v, math.radians(-30 * (second - first)))) / math.sqrt(3)
    ohms = 208**2 / kva / 1000 * z / 100 + low_v**2 / other_kva / 1000 * other_z / 100
    assert pair["apart_v"] == pytest.approx(apart, abs=1e-6)
    assert pair["circulating_a"] == pytest.approx(apart / ohms, rel=1e-6, abs=1e-6)
    share = kva / z / (kva / z + other_kva / other_z)
    assert pair["shares"][0] == pytest.approx(share * 100)
    assert pair["carried_kva"] == pytest.approx(min(kva / share, other_kva / (1 - share)))
    assert pair["may"] == (first == second and abs(low_v / 208 - 1) <= 0.005)


@given(st.floats(0.002, 1.0), st.floats(0.7, 1.1))
def test_a_motor_s_torque_is_its_equivalent_circuit_s(slip, volts):
    """V² (R/s) / ((R/s)² + X²), stator resistance left out, of which Kloss's formula is another writing."""
    reach = 1.0
    rotor = PEAK_SLIP * reach
    found = volts**2 * (rotor / slip) / ((rotor / slip) ** 2 + reach**2)
    assert torque(slip, volts) == pytest.approx(found * 2 * reach * PEAK)
    at_work = running(volts)
    assert torque(at_work.slip, volts) == pytest.approx(1) if at_work else PEAK * volts**2 <= 1


def test_an_open_delta_of_coils_of_one_s_own_is_named():
    wound_so = (("p1", "1", 240, "A"), ("p2", "2", 240, "B"), ("s1", "1", 120, "a"), ("s2", "2", 120, "b"))
    coils = [
        {"id": name, "core": core, "turns": turns, "from": start, "to": f"{start}2"}
        for name, core, turns, start in wound_so
    ]
    asked = {"coils": coils, "joints": "A2-B; B2-C; a2-b; b2-c", "ask": "a-c"}
    result = tools()["vector-group"].run(asked)["result"]
    assert result["group"] == "Vv0"
    assert result["voltages"][0]["volts"] == pytest.approx(240)


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"group": "Dyn11", "turned": "zz"}, "turned"),
        ({"group": "Dyn11", "beside": "Dy2"}, "beside"),
        ({"group": "Dyn11", "joints": "A-B-C"}, "joints"),
        ({"group": "Dyn11", "sources": "A 277"}, "sources"),
        ({"group": "Dyn11", "beside": "Dyn11", "kva": -1}, "kva"),
    ],
)
def test_what_is_entered_wrong_is_said_at_its_field(asked, field):
    with pytest.raises(InputError) as refused:
        tools()["vector-group"].run(asked)
    assert refused.value.field == field


# One winding with taps: volts go with turns, in whichever direction they are asked for


TAPS = st.lists(st.sampled_from([50, 65, 80, 90, 95, 100, 105, 110]), min_size=1, max_size=6, unique=True)


@few
@given(st.floats(100, 600), st.floats(0.6, 1.2), st.floats(100, 4000), TAPS)
def test_a_tap_for_the_volts_wanted_is_the_nearest_there_is(from_v, part, turns, taps):
    wanted = from_v * part
    asked = {"kind": "tapped", "from_v": from_v, "to_v": wanted, "turns": turns, "taps": taps}
    loaded = auto(**asked)
    each = [from_v * tap / 100 for tap in {*taps, 100}]
    if wanted > max(each):  # more than it makes fed whole: it is loaded at its end and fed within
        assert loaded["output_v"] == auto(**asked, to_tap=max(*taps, 100) / 100 * turns)["output_v"]
        return
    assert abs(loaded["output_v"] - wanted) == pytest.approx(min(abs(volts - wanted) for volts in each))
    fed = auto(**asked, to_tap=turns)
    each = [from_v * 100 / tap for tap in {*taps, 100}]
    # Where it is fed the volts are as one over the turns: nearest by turns.
    assert fed["output_v"] == pytest.approx(min(each, key=lambda volts: abs(1 / volts - 1 / wanted)))
    at = {"0": 0.0, **{f"{tap}": tap / 100 * from_v for tap in taps}}
    for row in loaded["between_v"]:
        assert row["volts"] == pytest.approx(abs(at[f"{row['to']:g}"] - at[f"{row['from']:g}"]))


@few
@given(st.floats(100, 600), st.floats(0.7, 1.3), st.floats(100, 4000))
def test_without_taps_it_is_fed_at_the_very_turn(from_v, part, turns):
    found = auto(kind="tapped", from_v=from_v, to_v=from_v * part, turns=turns, to_tap=turns * min(part, 1))
    assert found["output_v"] == pytest.approx(from_v * part)
    assert found["fed_turns"] * found["volts_per_turn"] == pytest.approx(from_v)
    assert found["load_va"] is found["series_a"] is None  # nobody said a load: volts and ratio stand without one
    assert found["built_percent"] == pytest.approx((1 - min(part, 1 / part)) * 100)


def auto(**asked):
    return tools()["autotransformer"].run(asked)["result"]


def test_a_group_that_is_fed_unevenly_is_told_with_its_three_volts():
    """A delta-star loses the feed of a phase to 70 %: two of its three lines fall, by the phasors of its coils."""
    held = {"A": [277, 0], "B": [277, -120], "C": [194, 120]}
    found = auto_group(sources=held)
    lines = {(each["from"], each["to"]): each["volts"] for each in found["line_v"]}
    feed = {name: cmath.rect(size, math.radians(angle)) for name, (size, angle) in held.items()}
    # Each low coil stands in the ratio of its delta's coil: A–B, B–C, C–A, joined in their other ends.
    coils = [feed[one] - feed[other] for one, other in ("AB", "BC", "CA")]
    ratio = 208 / math.sqrt(3) / 480
    expected = sorted(abs(coils[one] - coils[other]) * ratio for one, other in ((0, 1), (1, 2), (2, 0)))
    assert sorted(lines.values()) == pytest.approx(expected)


def auto_group(**asked):
    return tools()["vector-group"].run({"group": "Dyn1", "high_v": 480, "low_v": 208, **asked})["result"]


@few
@given(st.booleans(), st.floats(100, 600), st.floats(0.6, 1.6))
def test_the_coils_of_a_three_phase_autotransformer_give_its_volts(wye, from_v, part):
    """What is drawn is what is answered: every line of the output at the volts wanted, every coil at its own."""
    windings = three_phase_stack(wye, from_v, from_v * part)
    found = wound(windings.coils, windings.joints, dict(zip(HIGH, three_phase(from_v), strict=True)))
    for at, line in enumerate(LOW):
        assert abs(found.between(line, LOW[at - 1])) == pytest.approx(from_v * part)
    for coil in windings.coils:
        assert abs(found.coils[coil.id]) == pytest.approx(coil.turns, abs=1e-6)
    assert len(windings.coils) == (6 if wye else 4)
