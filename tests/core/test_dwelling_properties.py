"""What must hold of every house."""

import copy
import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.houses import EDITIONS, houses
from voltaje.tools.quick import dwelling

quick = settings(max_examples=60, deadline=None)


def result(raw, **more):
    return dwelling.TOOL.run({**raw, **more})["result"]


PARTS = ("lighting_va", "appliances_va", "dryer_va", "cooking_va", "hvac_va", "charger_va", "motor_25_va")


@quick
@given(houses)
def test_the_parts_of_the_standard_method_add_up(raw):
    found = result(raw, method="standard")
    assert sum(found[part] for part in PARTS) == pytest.approx(found["demand_va"])
    assert found["demand_va"] <= found["connected_va"] + found["motor_25_va"] + 7200 * 2 + 5000 * 6


@quick
@given(houses)
def test_the_parts_of_the_optional_method_add_up(raw):
    found = result(raw, method="optional")
    pooled = sum(found[part] for part in PARTS if part not in ("hvac_va", "motor_25_va"))
    assert found["general_va"] == pytest.approx(pooled)
    assert found["demand_va"] == pytest.approx(found["general_demand_va"] + found["hvac_va"])


def grown(raw, more):
    """The same house with everything larger that stays in its kind, count and table column."""
    larger = copy.deepcopy(raw)
    larger["floor_area"] += more
    larger["dryers"] = [load + more for load in raw["dryers"]]
    larger["heating"] = [{**heater, "load": heater["load"] + more} for heater in raw["heating"]]
    larger["vehicle_chargers"] = [load + more if load == 9600 else load for load in raw["vehicle_chargers"]]
    for item in larger["appliances"]:
        if isinstance(item["load"], int) and item["load"] >= 500:  # below, it may come to count toward four
            item["load"] += more
    if "cooling" in raw:
        larger["cooling"] += more
    return larger


@settings(max_examples=200, deadline=None)
@given(houses, st.integers(1, 5000))
def test_a_larger_load_never_lowers_the_demand(raw, more):
    assert result(grown(raw, more))["demand_va"] >= result(raw)["demand_va"] - 1e-6


@settings(max_examples=200, deadline=None)
@given(houses.filter(lambda raw: "cooling" in raw), st.integers(1, 5000))
def test_a_larger_cooling_load_never_lowers_the_demand(raw, more):
    assert result(raw, cooling=raw["cooling"] + more)["demand_va"] >= result(raw)["demand_va"] - 1e-6


@quick
@given(houses.filter(lambda raw: len(raw["appliances"]) > 1), st.randoms())
def test_the_order_of_appliances_does_not_matter(raw, random):
    shuffled = copy.deepcopy(raw)
    random.shuffle(shuffled["appliances"])
    random.shuffle(shuffled["cooking"])
    before, after = result(raw), result(shuffled)
    for key in ("demand_va", "neutral_va", "device_a", "cooking_va"):
        assert after[key] == pytest.approx(before[key])


@quick
@given(houses)
def test_the_service_holds(raw):
    found = result(raw)
    assert found["device_a"] >= found["required_a"] - 1e-6 >= found["amps"] - 2e-6
    assert found["conductor_ordinary"]["ampacity_a"] >= found["required_a"] - 1e-6
    if 100 <= found["device_a"] <= 400:
        assert found["conductor"]["ampacity_a"] >= 0.83 * found["device_a"]
    else:
        assert found["conductor"] == found["conductor_ordinary"]
    assert found["neutral_a"] <= found["neutral_va"] / 240 + 1e-6


@quick
@given(houses)
def test_editions_agree_where_the_rule_did_not_change(raw):
    by_book = [result(raw, book=book) for book in EDITIONS]
    for key in ("lighting_va", "cooking_va"):
        assert len({found[key] for found in by_book}) == 1
    assert by_book[1]["appliances_va"] == by_book[2]["appliances_va"]


FOUR = [{"name": name, "load": 1500, "volts": 240} for name in "abcd"]


@pytest.mark.parametrize("book", EDITIONS)
def test_the_fourth_appliance_may_lower_the_demand_and_says_so(book):
    three = result({"floor_area": 1500, "appliances": FOUR[:3]}, book=book)["appliances_va"]
    small = [*FOUR[:3], {"name": "d", "load": 600, "volts": 240}]
    answer = dwelling.TOOL.run({"book": book, "floor_area": 1500, "appliances": small})
    assert (three, answer["result"]["appliances_va"]) == (4500, 0.75 * 5100)
    assert answer["result"]["appliances_va"] < three
    assert any("one more can lower the demand" in step["because"] for step in answer["steps"])


def test_the_fourth_heating_unit_may_lower_the_demand_and_says_so():
    heat = [{"kind": "resistance", "load": "9 kW", "units": units} for units in (3, 4)]
    few, many = (dwelling.TOOL.run({"method": "optional", "floor_area": 1500, "heating": [item]}) for item in heat)
    assert few["result"]["hvac_va"] == 0.65 * 9000
    assert many["result"]["hvac_va"] == 0.40 * 9000
    assert any("from 4 units on the share falls" in step["because"] for step in many["steps"])


def test_cooking_never_falls_as_one_rating_grows_within_a_column():
    demands = [result({"floor_area": 1500, "cooking": [{"load": f"{kw} kW"}]})["cooking_va"] for kw in range(9, 28)]
    assert all(later >= earlier for earlier, later in itertools.pairwise(demands))


@pytest.mark.parametrize(("book", "counts"), [("NEC 2017", True), ("NEC 2020", False), ("NEC 2023", False)])
@pytest.mark.parametrize("small", ["400 W", "1/6 hp"])
def test_small_appliances_count_toward_four_only_in_2017(book, counts, small):
    raw = {"book": book, "floor_area": 1500, "appliances": [*FOUR[:3], {"name": "d", "load": small, "volts": 120}]}
    small_va = 400 if small == "400 W" else 4.4 * 120
    assert result(raw)["appliances_va"] == pytest.approx((4500 + small_va) * (0.75 if counts else 1))


@pytest.mark.parametrize(("book", "va"), [("NEC 2017", 3840), ("NEC 2020", 3840), ("NEC 2023", 7200)])
def test_a_small_charger_counts_7200_only_in_2023(book, va):
    assert result({"book": book, "floor_area": 1500, "vehicle_chargers": ["16 A"]})["charger_va"] == va


@pytest.mark.parametrize(
    ("book", "hvac", "motor"), [("NEC 2017", 10_000, 0), ("NEC 2020", 9000, 2250), ("NEC 2023", 9000, 2250)]
)
def test_the_smaller_noncoincident_motor_is_compared_at_125_percent_from_2020(book, hvac, motor):
    raw = {"book": book, "floor_area": 1500, "heating": [{"load": "10 kW"}], "cooling": "9 kVA"}
    found = result(raw)
    assert (found["hvac_va"], found["motor_25_va"]) == (hvac, motor)


@pytest.mark.parametrize(
    ("locked", "standard", "optional"), [(False, 3840 + 9600, 3840 + 0.65 * 9600), (True, 9600, 0.65 * 9600)]
)
def test_a_supplement_that_is_locked_out(locked, standard, optional):
    heating = [
        {"kind": "heat_pump", "load": "16 A"},
        {"kind": "heat_pump_supplement", "load": "9.6 kW", "locked_out": locked},
    ]
    raw = {"floor_area": 1500, "heating": heating}
    assert result(raw)["hvac_va"] == standard
    assert result(raw)["motor_25_va"] == (0 if locked else 960)
    assert result(raw, method="optional")["hvac_va"] == pytest.approx(optional)


def test_horsepower_is_the_motor_table_not_746_watts():
    """NEC Table 430.248: 9.8 A in the 115 V column, at 120 V; 8.8 A at 208 V for 1 hp."""
    raw = {"floor_area": 1500, "appliances": [{"load": "½ hp", "volts": 120}]}
    assert result(raw)["appliances_va"] == pytest.approx(9.8 * 120)
    legs = {**raw, "system": "208Y/120 2 legs", "appliances": [{"load": "1 hp", "volts": 208}]}
    assert result(legs)["appliances_va"] == pytest.approx(8.8 * 208)


def test_a_motor_on_the_neutral():
    fan = {"name": "Fan", "load": 1000, "volts": 120, "motor": True}
    base = {"floor_area": 1500}
    assert result(base, appliances=[fan])["neutral_va"] - result(base)["neutral_va"] == 1250


def test_terminals_not_marked_take_the_60_degree_column_at_100_a():
    sizes = [result({"floor_area": 1500}, terminals=marks)["conductor"]["size"] for marks in ("75", "unmarked")]
    assert sizes == ["4", "3"]
