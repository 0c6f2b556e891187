"""Neutrals, three-wire ladders, drops node by node, single or three phase: by hand and by textbook identities."""

import cmath
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.errors import InputError
from voltaje.tools.registry import tools

few = settings(max_examples=25, deadline=None)


def result(tool, **asked):
    return tools()[tool].run(asked)["result"]


def codes(tool, **asked):
    return {each["code"]: each for each in tools()[tool].run(asked)["findings"]}


@pytest.mark.parametrize(
    ("system", "legs", "neutral"),
    [
        ("120/240 1ph 3w", [10, 10], 0),
        ("120/240 1ph 3w", [24, 5], 19),
        ("208Y/120 2 legs", [10, 10], 10),
        ("208Y/120", [10, 10], 10),
        ("208Y/120", [10, 10, 10], 0),
        ("230/400", [20, 0, 0], 20),
        # √(A² + B² + C² − AB − BC − CA), the usual formula of a wye
        ("208Y/120", [24, 18, 11], math.sqrt(24**2 + 18**2 + 11**2 - 24 * 18 - 18 * 11 - 24 * 11)),
    ],
)
def test_what_the_neutral_brings_back(system, legs, neutral):
    assert result("neutral-current", system=system, legs=legs)["neutral_a"] == pytest.approx(neutral, abs=1e-9)


def test_third_harmonics_add_and_power_factors_turn():
    """Three legs of 100 A with a third of third harmonic: 3 × 33 A. One of two legs at 180° lagging by 60°."""
    found = result("neutral-current", system="208Y/120", legs=[100, 100, 100], third_harmonic="33 %")
    assert found["neutral_a"] == pytest.approx(99)
    found = result("neutral-current", system="120/240 1ph 3w", legs=[10, 10], power_factors=[1, 0.5])
    assert found["neutral_a"] == pytest.approx(abs(10 - cmath.rect(10, -math.pi / 3)))
    split = result("neutral-current", system="120/240 1ph 3w", legs=[10, 10], third_harmonic=0.3)
    assert split["neutral_a"] == pytest.approx(0, abs=1e-9)  # half a turn apart they cancel too


@few
@given(st.floats(0.1, 500), st.sampled_from(["208Y/120", "230/400", "480Y/277", "120/240 1ph 3w"]))
def test_equal_legs_leave_nothing(amps, system):
    count = 2 if "240" in system else 3
    assert result("neutral-current", system=system, legs=[amps] * count)["neutral_a"] == pytest.approx(
        0, abs=1e-9 * amps
    )


def test_two_circuits_on_one_neutral():
    one = {
        "system": "120/240 1ph 3w",
        "neutral_size": "12",
        "circuits": [{"amps": 12, "leg": "L1", "device_a": 20}, {"amps": 9, "leg": "L1", "device_a": 20}],
    }
    found = result("neutral-current", **one)
    assert (found["neutral_a"], found["neutral_worst_a"]) == (21, 40)
    assert {"neutral.shared_on_one_leg", "neutral.too_small", "neutral.opened_together"} <= codes(
        "neutral-current", **one
    ).keys()
    two = {**one, "circuits": [{**one["circuits"][0]}, {"amps": 9, "leg": "L2", "device_a": 15}]}
    found = result("neutral-current", **two)
    assert (found["neutral_a"], found["neutral_any_a"]) == (3, 20)
    said = codes("neutral-current", **two)
    assert "neutral.shared_on_one_leg" not in said
    assert "neutral.unlike_devices" in said
    bs = codes("neutral-current", **{**two, "system": "230/400", "neutral_size": "2.5"}, book="BS 7671")
    assert "neutral.shared" in bs


LADDER = [
    {"line1_ohm": 0.06, "neutral_ohm": 0.06, "line2_ohm": 0.06, "load1_a": 24, "load2_a": 5},
    {"line1_ohm": 0.13, "neutral_ohm": 0.13, "line2_ohm": 0.13, "load1_a": 3, "load2_a": 13},
    {"line1_ohm": 0.08, "neutral_ohm": 0.08, "line2_ohm": 0.08, "load1_a": 2.5, "load2_a": 10},
]


def test_a_ladder_by_junctions_and_loops():
    """120 − 0.06 (29.5 + 1.5) = 118.14; then 118.14 − 0.13 × 5.5 + 0.13 × 17.5 = 119.7; Kirchhoff, by hand."""
    rows = result("edison", volts=[120, 120], sections=LADDER)["sections"]
    assert [row["neutral_a"] for row in rows] == pytest.approx([-1.5, 17.5, 7.5])
    assert [row["line1_a"] for row in rows] == pytest.approx([29.5, 5.5, 2.5])
    assert [row["line2_a"] for row in rows] == pytest.approx([28, 23, 10])
    assert [row["load1_v"] for row in rows] == pytest.approx([118.14, 119.7, 120.1])
    assert [row["load2_v"] for row in rows] == pytest.approx([118.41, 113.145, 111.745])


def test_a_lost_neutral_puts_two_loads_in_a_row():
    """A 60 W and a 600 W load at 120 V, no conductor ohms: 240 and 24 Ω across 240 V: 218.2 and 21.8 V."""
    sections = [{"load1_w": 60, "load2_w": 600}]
    found = result("edison", volts=[120, 120], sections=sections, opened_section=1)["sections"][0]
    assert found["load1_v"] == pytest.approx(240 * 240 / 264)
    assert found["load2_v"] == pytest.approx(240 * 24 / 264)
    assert found["neutral_a"] == 0
    same = result("edison", volts=[120, 120], sections=[{"load1_ohm": 240, "load2_a": 5}], opened_section=1)
    assert same["sections"][0]["load1_v"] == pytest.approx(240 * 240 / 264)
    said = codes("edison", volts=[120, 120], sections=sections, opened_section=1)
    assert said["ladder.out_of_band"]["severity"] == "stop"
    assert said["ladder.spliced"]["rule"].endswith("300.13(B)")


@few
@given(st.lists(st.tuples(*[st.floats(0, 0.5)] * 3, *[st.floats(0.1, 40)] * 2), min_size=1, max_size=5), st.data())
def test_currents_at_each_junction_sum_to_nothing(sections, data):
    asked = [
        dict(zip(("line1_ohm", "neutral_ohm", "line2_ohm", "load1_a", "load2_a"), each, strict=True))
        for each in sections
    ]
    opened = data.draw(st.one_of(st.none(), st.integers(0, len(asked) - 1)))
    given_ = {"opened_section": opened + 1} if opened is not None else {}
    rows = result("edison", volts=[120, 120], sections=asked, **given_)["sections"]
    for row, beyond in zip(rows, [*rows[1:], None], strict=True):
        assert row["line1_a"] + row["neutral_a"] == pytest.approx(row["line2_a"], abs=1e-6)
        after = beyond or dict.fromkeys(("line1_a", "line2_a", "neutral_a"), 0.0)
        assert row["line1_a"] == pytest.approx(row["load1_a"] + after["line1_a"], abs=1e-6)
        assert row["neutral_a"] == pytest.approx(row["load2_a"] - row["load1_a"] + after["neutral_a"], abs=1e-6)
    if opened is not None:
        assert rows[opened]["neutral_a"] == 0


def test_a_drop_segment_by_segment():
    """Poles on 120 V, NEC Chapter 9 Table 8: 2 × 14 × 100 × 1.24 / 1000 = 3.472 V, then 8 A and 4 A on."""
    segments = [
        {"length": "100 ft", "size": "10", "load": "6 A"},
        {"length": "80 ft", "size": "10", "load": "480 VA"},
        {"length": "80 ft", "size": "12", "load": "4 A"},
    ]
    found = result("voltage-drop", volts=120, segments=segments)
    assert [each["amps"] for each in found["segments"]] == pytest.approx([14, 8, 4])
    assert [each["drop_v"] for each in found["segments"]] == pytest.approx([3.472, 1.5872, 1.2672])
    assert found["total_percent"] == pytest.approx(6.3264 / 1.2)
    assert (found["limit_percent"], found["within"], found["smallest_size"]) == (3, False, "6")
    assert {each["method"] for each in found["beside"]} == {"dc resistance", "effective impedance"}


def test_a_drop_by_figures_that_were_entered():
    """230 V: 30 m of 11 mV/A/m at 14 A; 400 V three-phase by ohms: √3 × 20 × 50 × 1.83 / 1000."""
    one = result("voltage-drop", book="BS 7671", volts=230, segments=[{"length": 30, "amps": 14, "mv_per_a_m": 11}])
    assert one["total_v"] == pytest.approx(4.62)
    assert one["total_v"] == pytest.approx(
        result("voltage-drop", book="BS 7671", volts=230, segments=[{"length": 30, "amps": 14, "size": "4"}])["total_v"]
    )
    three = result(
        "voltage-drop",
        book="BS 7671",
        volts=400,
        phases=3,
        segments=[{"length": 50, "load": "20 A", "ohm_per_km": 1.83}],
    )
    assert three["total_v"] == pytest.approx(math.sqrt(3) * 20 * 50 * 1.83 / 1000)
    assert three["longest_last"] == pytest.approx(50 * 20 / three["total_v"])


@few
@given(st.floats(1, 100), st.floats(5, 300), st.sampled_from([1, 3]), st.sampled_from([1.0, 0.9, 0.8]))
def test_the_smallest_size_holds_the_limit_and_the_longest_reaches_it(amps, feet, phases, cosine):
    segment = {"length": f"{feet} ft", "load": f"{amps} A", "power_factor": cosine}
    try:
        found = result("voltage-drop", volts=240, phases=phases, segments=[segment])
    except InputError:
        return
    assert found["within"]
    longest = {**segment, "length": f"{found['longest_last']} ft", "size": found["segments"][0]["size"]}
    again = result("voltage-drop", volts=240, phases=phases, segments=[longest])
    assert again["total_percent"] == pytest.approx(found["limit_percent"])


def test_single_phase_or_three():
    loads = [{"name": "house", "load": "18 kVA"}, {"name": "charger", "load": "11.5 kVA"}]
    found = result("supply-choice", loads=loads)
    assert (found["phases"], found["amps_single"]) == (1, pytest.approx(29_500 / 240))
    assert result("supply-choice", loads=loads, single_phase_limit_a=100)["phases"] == 3
    saw = [*loads, {"name": "saw", "load": "3 kVA", "phases": 3}]
    found = result("supply-choice", loads=saw)
    assert (found["phases"], found["system"]) == (3, "208Y/120")
    assert "saw" in found["reason"]
    assert found["amps_three"] == pytest.approx(32_500 / (math.sqrt(3) * 208))
    iec = result("supply-choice", book="BS 7671", loads=[{"load": "9.2 kVA"}] * 3, single_phase_limit_a="60 A")
    assert (iec["phases"], iec["amps_by_leg"]) == (3, pytest.approx({"L1": 40, "L2": 40, "L3": 40}))


@pytest.mark.parametrize(
    ("tool", "asked", "field"),
    [
        ("neutral-current", {"system": "480 3ph", "legs": [1]}, "system"),
        ("neutral-current", {"system": "208Y/120", "legs": [1, -2]}, "legs"),
        ("neutral-current", {"system": "120/240 1ph 3w", "legs": [1, 2, 3]}, "legs[2]"),
        ("neutral-current", {"system": "208Y/120", "circuits": [{"amps": 1, "leg": "L4"}]}, "circuits[0].leg"),
        ("edison", {"sections": []}, "sections"),
        ("edison", {"sections": [{"load1_a": 1, "load1_w": 100}]}, "sections[0].load1_w"),
        ("edison", {"sections": [{"load1_a": 1}], "opened_section": 2}, "opened_section"),
        ("edison", {"sections": [{"line1_ohm": -1}]}, "sections[0].line1_ohm"),
        ("balance", {"system": "230 1ph", "circuits": [{"load": "1 kW"}]}, "system"),
        ("balance", {"system": "208Y/120", "circuits": [{"load": "1 kW", "leg": "L1-L2"}]}, "circuits[0].leg"),
        (
            "balance",
            {"system": "208Y/120", "circuits": [{"load": "1 kW", "shares_neutral_with": "x"}]},
            "circuits[0].shares_neutral_with",
        ),
        ("supply-choice", {"loads": [{"load": "10 A"}]}, "loads[0].load"),
        ("voltage-drop", {"volts": 120, "segments": [{"length": "10 ft"}]}, "segments[0].load"),
        (
            "voltage-drop",
            {"volts": 120, "segments": [{"length": "10 ft", "load": "1 A", "size": "99"}]},
            "segments[0].size",
        ),
    ],
)
def test_wrong_input_is_said_at_its_field(tool, asked, field):
    with pytest.raises(InputError) as refused:
        tools()[tool].run(asked)
    assert refused.value.field == field
