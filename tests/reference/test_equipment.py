"""Cooking, appliances, inverters and full-load amps: published examples and cases worked by hand, each named."""

import math

import pytest

from voltaje.errors import Refused
from voltaje.tools.registry import tools


def asked(name, **inputs):
    return tools()[name].run(inputs)["result"]


def kitchen(*units, **more):
    return asked("cooking-branch", appliances=[{"kind": kind, "load": f"{kw} kW"} for kind, kw in units], **more)


KITCHEN = (("cooktop", 8.2), ("oven", 4.1), ("oven", 4.1))

# Column C of Table 220.55 with its note on more than 12 kW: 8 kW + 5 % for each kW or major fraction.
RANGES = [(12, 8.0), (13.4, 8.4), (16, 9.6), (16.5, 10.0), (17.6, 10.4), (23, 12.4), (27, 14.0)]


@pytest.mark.parametrize(("kw", "demand"), RANGES)
def test_one_range(kw, demand):
    result = kitchen(("range", kw))
    assert result["demand_kw"] == pytest.approx(demand)
    assert result["amps"] == pytest.approx(demand * 1000 / 240)
    assert result["device_a"] >= 40


def test_the_strict_reading_of_half_a_kilowatt():
    assert kitchen(("range", 16.5), exact_half_kw="does not count")["demand_kw"] == pytest.approx(9.6)


def test_annex_d_range_branches():
    """Informative Annex D: D4(a) range branch 33 A at 240 V; D5(a) 8000/208 = 38.5 A."""
    assert kitchen(("range", 12), volts=240)["amps"] == pytest.approx(33.3, abs=0.05)
    assert kitchen(("range", 12), volts=208)["amps"] == pytest.approx(38.5, abs=0.05)


def test_a_small_range_by_column_b_and_by_column_c():
    """8.5 kW: 80 % by note 3 is 6.8 kW, column C would be 8."""
    result = kitchen(("range", 8.5))
    assert result["demand_kw"] == pytest.approx(6.8)
    assert [way["demand_kw"] for way in result["demand_ways"]] == pytest.approx([6.8, 8.0])
    assert result["neutral_min"] is None


def test_an_oven_alone_counts_its_nameplate():
    """5200 / 240 = 21.7: 25 A; 12 AWG is held to 20 A by 240.4(D), so 10."""
    result = kitchen(("oven", 5.2))
    assert (result["demand_kw"], result["device_a"], result["conductor"]["size"]) == (5.2, 25, "10")


@pytest.mark.parametrize(
    ("book", "device", "size", "neutral"),
    [("NEC 2017", 50, "6", "8"), ("NEC 2020", 40, "8", "10"), ("NEC 2023", 40, "8", "10")],
)
def test_a_kitchen_with_taps_by_edition(book, device, size, neutral):
    """16.4 kW as one range: 8 × 1.20 = 9.6 kW, 40.0 A. 2017 lets only a 50 A circuit be tapped, later ones up to it."""
    result = kitchen(*KITCHEN, book=book)
    assert result["amps"] == pytest.approx(40.0)
    assert (result["device_a"], result["conductor"]["size"]) == (device, size)
    assert result["neutral_min"] == {"amps": pytest.approx(0.7 * device), "size": neutral}
    assert [tap["conductor"]["size"] for tap in result["taps"]] == ["8", "12", "12"]
    assert result["tap_allowed"]
    if book == "NEC 2017":
        assert result["untapped"]["device_a"] == 40


def test_taps_by_the_column_of_their_terminals():
    """7.4 kW: 30.8 A, 10 AWG at 75 °C (35 A), 8 at 60 °C (40 A). 4.8 kW: 20.0 A, 12 AWG, never smaller."""
    units = (("cooktop", 7.4), ("oven", 4.8), ("oven", 4.8))
    at_75, at_60 = (kitchen(*units, terminal_c=column) for column in (75, 60))
    assert [tap["conductor"]["size"] for tap in at_75["taps"]] == ["10", "12", "12"]
    assert [tap["conductor"]["size"] for tap in at_60["taps"]] == ["8", "12", "12"]
    assert (at_75["demand_kw"], at_75["device_a"], at_75["conductor"]["size"]) == (10.0, 50, "8")


def test_a_circuit_each_has_more_copper_and_the_lengths_may_be_named():
    lengths = {"branch": "45 ft", "Cooktop": "6 ft", "Wall oven 1": "8 ft", "Wall oven 2": "10 ft"}
    result = kitchen(*KITCHEN, cable_lengths=lengths)
    assert result["each"]["metal_kg"] > result["metal_kg"] > 0
    assert [each["device_a"] for each in result["each"]["circuits"]] == [35, 20, 20]


@pytest.mark.parametrize(
    ("units", "field"),
    [
        ((("range", 40),), "appliances[0].load"),
        ((("range", -1),), "appliances[0].load"),
        ((), "appliances"),
        ((("cooktop", 6), ("cooktop", 6)), "appliances"),
        ((("range", 9), ("oven", 4)), "appliances"),
        ((("cooktop", 6), *[("oven", 3)] * 3), "appliances"),
        ((("cooktop", 12), ("oven", 8), ("oven", 7)), "appliances"),
    ],
)
def test_what_stands_on_no_one_circuit_is_refused(units, field):
    with pytest.raises(Refused) as refused:
        kitchen(*units)
    assert refused.value.field == field


# Worked by hand: amperes, 125 % where continuous, the next standard rating; size at 60 °C to 100 A.
APPLIANCES = [
    ({"kind": "charger", "load": "48 A"}, 48, 60, 60, "4"),
    ({"kind": "charger", "load": "48 A", "managed_limit_a": 32}, 32, 40, 40, "8"),
    ({"kind": "space_heat", "load": "5 kW"}, 5000 / 240, 26.04, 30, "10"),
    ({"kind": "water_heater", "load": "4.5 kW"}, 18.75, 23.44, 25, "10"),
    ({"kind": "dryer", "load": "5.4 kW"}, 22.5, 22.5, 25, "10"),
    ({"kind": "kiln", "load": "11.5 kW", "volts": 208, "phases": 3}, 31.92, 39.9, 40, "8"),
    ({"kind": "other", "load": "16 A", "continuous_share": 0.5}, 16, 18, 20, "12"),
    ({"kind": "hermetic", "rated_load_a": 18.6}, 18.6, 23.25, 30, "10"),  # 175 % is 32.55
    ({"kind": "hermetic", "rated_load_a": 18.6, "branch_selection_a": 21}, 21, 26.25, 35, "10"),  # 36.75
    ({"kind": "hermetic", "mca": 28.4, "mop": 45}, 28.4, 28.4, 45, "10"),
    ({"kind": "hermetic", "mca": 28.4, "mop": 47}, 28.4, 28.4, 45, "10"),
]


@pytest.mark.parametrize(("inputs", "amps", "required", "device", "size"), APPLIANCES)
def test_appliances_worked_by_hand(inputs, amps, required, device, size):
    result = asked("appliance-branch", **inputs)
    assert (result["amps"], result["required_a"]) == (pytest.approx(amps, abs=0.01), pytest.approx(required, abs=0.01))
    assert (result["device_a"], result["conductor"]["size"]) == (device, size)
    assert result["device_max_a"] >= result["device_a"]


def test_a_compressor_may_go_to_225_percent_where_it_does_not_start():
    """18.6 × 2.25 = 41.85: 40 A."""
    assert asked("appliance-branch", kind="hermetic", rated_load_a=18.6)["device_max_a"] == 40


def test_resistance_on_another_voltage():
    """5 kW, 240 V on 208 V: 20.83 × 208/240 = 18.06 A, (208/240)² = 75.1 %."""
    result = asked("appliance-branch", kind="space_heat", load="5 kW", supply_v=208)
    assert (result["amps"], result["output_percent"]) == (
        pytest.approx(18.06, abs=0.01),
        pytest.approx(75.11, abs=0.01),
    )


@pytest.mark.parametrize(
    ("inputs", "field"),
    [
        ({"kind": "charger"}, "load"),
        ({"kind": "hermetic"}, "rated_load_a"),
        ({"kind": "dryer", "mca": 20}, "mca"),
        ({"kind": "charger", "load": "48 A", "continuous_share": 0}, "continuous_share"),
        ({"kind": "dryer", "load": "5 kW", "managed_limit_a": 9}, "managed_limit_a"),
        ({"kind": "hermetic", "rated_load_a": 30, "mop": 20, "mca": 30}, "mop"),
        ({"kind": "toy", "load": 5}, "kind"),
    ],
)
def test_wrong_appliances_are_refused_at_their_field(inputs, field):
    with pytest.raises(Refused) as refused:
        asked("appliance-branch", **inputs)
    assert refused.value.field == field


@pytest.mark.parametrize(
    ("inputs", "amps", "device", "busbar"),
    [
        # 7600 / 240 = 31.67; 125 % is 39.6: 40 A. 39.58 + 200 is within 120 % of 200; with a 225 A main it is not.
        ({"output": 7.6, "volts": 240, "busbar_a": 200, "main_a": 200}, 31.67, 40, True),
        ({"output": 7.6, "volts": 240, "busbar_a": 200, "main_a": 225}, 31.67, 40, False),
        # Over 120 %, but all devices but the main together are within the busbar: 150 + 40 ≤ 200.
        ({"output": 7.6, "volts": 240, "busbar_a": 200, "main_a": 225, "other_devices_a": 150}, 31.67, 40, True),
        ({"output": 7.6, "volts": 240}, 31.67, 40, None),
        # 45 A in a box beside another: 45 / (0.9 × 0.9) = 55.6, 63 A; factors of 1: 45 A, which is sold in Britain.
        ({"book": "BS 7671", "greatest_current": 45, "volts": 400, "phases": 3}, 45, 63, None),
        (
            {
                "book": "BS 7671",
                "greatest_current": 45,
                "volts": 400,
                "phases": 3,
                "grouping_factor": 1,
                "enclosure_factor": 1,
            },
            45,
            45,
            None,
        ),
        # 30 000 / (√3 × 400) = 43.3; 10 K and more over 30 °C: 1 − 0.05 × 2 = 0.9; 43.3 / 0.729 = 59.4.
        ({"book": "BS 7671", "output": 30, "volts": 400, "phases": 3, "ambient_c": 50}, 43.3, 63, None),
        # 125 + 43.3 is over 160.
        ({"book": "BS 7671", "output": 30, "volts": 400, "phases": 3, "busbar_a": 160, "main_a": 125}, 43.3, 63, False),
    ],
)
def test_inverters_worked_by_hand(inputs, amps, device, busbar):
    result = asked("inverter-breaker", **inputs)
    assert (result["amps"], result["device_a"], result["busbar_ok"]) == (pytest.approx(amps, abs=0.01), device, busbar)
    factors = result["factors"]
    kept = result["device_a"] * factors["ambient"] * factors["neighbours"] * factors["enclosure"]
    assert kept >= result["needed_a"] - 1e-9


def test_several_inverters_give_a_table_and_large_ones_a_moulded_case():
    result = asked("inverter-breaker", book="BS 7671", output=["30 kW", "50 kW", "100 kW"], volts=400, phases=3)
    assert [each["output"] for each in result["table"]] == [30, 50, 100]
    assert [each["device_a"] for each in result["table"]] == sorted(each["device_a"] for each in result["table"])
    assert asked("inverter-breaker", book="BS 7671", output="100 kW", volts=400, phases=3)["kind"] == "moulded case"


@pytest.mark.parametrize("inputs", [{"output": -3, "volts": 240}, {"volts": 240}, {"output": "3 hp", "volts": 240}])
def test_wrong_inverters_are_refused_at_the_output(inputs):
    with pytest.raises(Refused) as refused:
        asked("inverter-breaker", **inputs)
    assert refused.value.field == "output"


@pytest.mark.parametrize(
    ("inputs", "amps", "kva", "kw"),
    [
        ({"kva": 75, "volts": 208, "phases": 3}, 75_000 / (math.sqrt(3) * 208), 75, 75),
        ({"kw": 11, "volts": 400, "phases": 3, "power_factor": 0.85, "efficiency": 0.9}, 20.754, 14.379, 11),
        ({"amps": 100, "volts": 480, "phases": 3, "power_factor": "80 %"}, 100, 83.138, 66.511),
        ({"kva": "10", "volts": 240}, 41.667, 10, 10),
    ],
)
def test_full_load_amps_both_ways(inputs, amps, kva, kw):
    result = asked("full-load-amps", **inputs)
    assert (result["amps"], result["kva"], result["kw"]) == pytest.approx((amps, kva, kw), rel=1e-4)
    rest = {key: value for key, value in inputs.items() if key not in ("kva", "kw", "amps")}
    again = asked("full-load-amps", **rest, amps=result["amps"])
    assert again == pytest.approx(result)


@pytest.mark.parametrize("inputs", [{"volts": 240}, {"kva": 5, "amps": 3, "volts": 240}, {"kva": 5}])
def test_full_load_amps_asks_for_one_of_three(inputs):
    with pytest.raises(Refused):
        asked("full-load-amps", **inputs)
