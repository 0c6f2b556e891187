"""The rules of a house one by one: selections, neutral, service, findings."""

import pytest
from hypothesis import given, settings

from tests.core.houses import houses
from voltaje.books.nec.edition import find_edition
from voltaje.books.nec.overcurrent import may_protect, next_rating
from voltaje.errors import InputError, OutsideTable
from voltaje.rounding import nearest_ampere
from voltaje.samples import sample
from voltaje.sheet import off
from voltaje.tools.quick import dwelling
from voltaje.tools.solve import solve_document

AREA = {"floor_area": 1500}
NEC = find_edition("NEC 2023")


def answer(**more):
    return dwelling.TOOL.run({**AREA, **more})


def result(**more):
    return answer(**more)["result"]


def heat(kind, load, **more):
    return {"kind": kind, "load": load, **more}


@pytest.mark.parametrize(
    ("heating", "cooling", "va"),
    [
        ([], "5 kVA", 5000),  # (1) cooling
        ([heat("heat_pump", "5 kVA")], None, 5000),  # (2) heat pump alone
        ([heat("heat_pump", "5 kVA"), heat("heat_pump_supplement", "10 kW")], None, 11_500),  # (3) 5000 + 65 %
        ([heat("resistance", "10 kW", units=3)], None, 6500),  # (4) fewer than four
        ([heat("resistance", "10 kW", units=4)], None, 4000),  # (5) four or more
        ([heat("resistance", "4 kW", units=2), heat("resistance", "6 kW", units=2)], None, 4000),  # (5) together four
        ([heat("thermal_storage", "10 kW")], None, 10_000),  # (6)
        ([heat("resistance", "10 kW")], "7 kVA", 7000),  # the largest selection alone
        ([heat("thermal_storage", "6 kW"), heat("resistance", "10 kW")], None, 6500),
        ([heat("heat_pump", "5 kVA"), heat("heat_pump_supplement", "6 kW", locked_out=True)], None, 5000),
    ],
)
def test_selections_of_the_optional_method(heating, cooling, va):
    more = {"cooling": cooling} if cooling else {}
    assert result(method="optional", heating=heating, **more)["hvac_va"] == pytest.approx(va)


def test_heating_in_two_selections_is_worth_a_look():
    heating = [heat("thermal_storage", "6 kW"), heat("resistance", "10 kW")]
    findings = answer(method="optional", heating=heating)["findings"]
    assert any(
        finding["severity"] == "warn" and "more than one selection" in finding["message"] for finding in findings
    )


@pytest.mark.parametrize(
    ("heating", "va"),
    [
        ([heat("resistance", "10 kW", units=5)], 10_000),
        ([heat("thermal_storage", "6 kW"), heat("resistance", "10 kW")], 16_000),
        ([heat("heat_pump", "5 kVA"), heat("heat_pump_supplement", "10 kW")], 15_000),
        ([heat("heat_pump", "5 kVA"), heat("heat_pump_supplement", "10 kW", locked_out=True)], 10_000),
        ([heat("heat_pump", "12 kVA"), heat("heat_pump_supplement", "10 kW", locked_out=True)], 12_000),
    ],
)
def test_heating_of_the_standard_method_is_all_that_runs_together(heating, va):
    assert result(heating=heating)["hvac_va"] == va


def test_a_small_general_load_is_counted_in_full():
    small = result(method="optional", floor_area=200)
    assert small["general_va"] == small["general_demand_va"] == 600 + 3000 + 1500


def test_lighting_steps_down_at_3000_and_at_120_000():
    """(400 000 − 4 500)/3 … : 3000 + 35 % of 117 000 + 25 % of the rest."""
    found = result(floor_area=60_000)
    connected = 180_000 + 4500
    assert found["lighting_va"] == pytest.approx(3000 + 0.35 * 117_000 + 0.25 * (connected - 120_000))


@pytest.mark.parametrize(
    ("cooking", "va"),
    [
        ([{"load": "1.5 kW"}], 1500),  # outside the table: at nameplate
        ([{"load": "8.75 kW"}], 7000),  # column B, 80 %
        ([{"load": "8.76 kW"}], 8000),  # column C
        ([{"load": "3.4 kW"}], 2720),  # column A, 80 %
        ([{"load": "12 kW", "count": 2}], 11_000),
        ([{"load": "12.4 kW"}], 8000),  # under half a kilowatt: no increase
        ([{"load": "27 kW"}], 8000 * 1.75),
        ([{"load": "12 kW"}, {"kind": "oven", "load": "5 kW"}], 11_000),  # column C for two, under 8 + 4
        ([{"load": "18 kW"}, {"kind": "oven", "load": "2 kW"}], 8000 * 1.3 + 1600),  # note 3 beside column C
        ([{"load": "12 kW", "count": 30}], 45_000),
        ([{"load": "12 kW", "count": 50}], 62_500),
    ],
)
def test_cooking(cooking, va):
    assert result(cooking=cooking)["cooking_va"] == pytest.approx(va)


def test_the_other_ways_to_reckon_cooking_are_shown():
    cooking = [{"kind": "cooktop", "load": "8.2 kW"}, {"kind": "oven", "load": "4.1 kW", "count": 2}]
    ways = {way["way"]: way for way in result(cooking=cooking)["cooking_ways"]}
    assert {name: way["demand_va"] for name, way in ways.items()} == pytest.approx(
        {"column B, note 3": 9020, "column C": 14_000, "as one range, for a branch circuit they share": 9600}
    )
    assert [way["lawful"] for way in ways.values()].count(False) == 1


@pytest.mark.parametrize(("half", "va"), [("counts", 8400), ("does not count", 8000)])
def test_exactly_half_a_kilowatt_is_a_choice(half, va):
    assert result(cooking=[{"load": "12.5 kW"}], exact_half_kw=half)["cooking_va"] == va


def test_the_charger_is_in_the_device_and_not_in_the_demand():
    found = result(vehicle_chargers=["48 A"], heating=[heat("resistance", "25 kW")])
    assert found["required_a"] == pytest.approx((found["demand_va"] + 0.25 * 11_520) / 240)
    assert found["device_a"] == 200
    assert found["device_without_continuous_a"] == 175


def test_a_charger_listed_as_appliance_is_the_other_reading_of_2020():
    three = [{"name": name, "load": 1500, "volts": 240} for name in "abc"]
    charger = {"name": "Charger", "load": "48 A", "volts": 240}
    apart = result(book="NEC 2020", appliances=three, vehicle_chargers=["48 A"])
    among = result(book="NEC 2020", appliances=[*three, charger])
    assert apart["appliances_va"] + apart["charger_va"] == 4500 + 11_520
    assert among["appliances_va"] == 0.75 * (4500 + 11_520)


@pytest.mark.parametrize(
    ("kilowatts", "device", "by_83"), [(1, 100, True), (85, 400, True), (97, 450, False), (200, 1000, False)]
)
def test_the_83_percent_rule_reaches_from_100_to_400_a(kilowatts, device, by_83):
    found = result(heating=[heat("resistance", f"{kilowatts} kW")])
    assert found["device_a"] == device
    assert (found["conductor"] != found["conductor_ordinary"]) is by_83
    assert (found["conductors"]["Al"]["by_83_percent"] is not None) is by_83
    assert (found["conductors"]["Cu"]["ordinary_pair"] is not None) is (not by_83 and found["conductor"]["sets"] == 1)


def test_a_unit_on_a_feeder_has_no_electrode_and_its_own_least_sizes():
    found = result(occupancy="unit", floor_area=500, laundry_circuits=0)
    assert found["grounding_electrode"] == {}
    assert found["device_a"] == 60
    assert found["neutral_conductor"]["size"] == "10"  # as the equipment conductor of 60 A
    assert result(occupancy="unit", floor_area=500, method="optional")["device_a"] == 100


def test_the_neutral_is_never_larger_than_its_line():
    appliances = [{"name": f"Load {at}", "load": "5 kW", "volts": 120, "fastened": False} for at in range(3)]
    found = result(appliances=appliances)
    line, neutral = found["conductor"], found["neutral_conductor"]
    assert found["device_a"] == 100
    assert line["size"] == neutral["size"] == "4"


def test_a_voltage_not_given_stays_on_the_neutral():
    given, missing = ({"load": 1000, "volts": 240}, {"load": 1000})
    assert result(appliances=[missing])["neutral_va"] - result(appliances=[given])["neutral_va"] == 1000
    assert any(finding["field"] == "appliances[0].volts" for finding in answer(appliances=[missing])["findings"])


def test_both_methods_and_what_the_other_would_save():
    found = result(cooking=[{"load": "14 kW"}], heating=[heat("resistance", "18 kW")])
    optional = result(method="optional", cooking=[{"load": "14 kW"}], heating=[heat("resistance", "18 kW")])
    assert found["other_method"]["demand_va"] == optional["demand_va"]
    assert optional["other_method"]["amps"] == found["amps"]
    notes = [finding["message"] for finding in answer(heating=[heat("resistance", "18 kW")])["findings"]]
    assert any("optional method is lawful here" in note for note in notes)


def test_a_supplement_without_a_heat_pump_is_worth_a_look():
    findings = answer(heating=[heat("heat_pump_supplement", "5 kW")])["findings"]
    assert any("no heat pump" in finding["message"] for finding in findings)


@pytest.mark.parametrize(("amps", "whole"), [(77.5, 78), (60.6, 61), (64.2, 64), (0, 0), (99.49, 99)])
def test_nearest_ampere(amps, whole):
    """Annex D rounds so: 77.5 to 78, 60.6 to 61, 64.2 to 64."""
    assert nearest_ampere(amps) == whole


@pytest.mark.parametrize("amps", [-1, float("nan"), float("inf")])
def test_amperes_that_are_none(amps):
    with pytest.raises(InputError):
        nearest_ampere(amps)


@pytest.mark.parametrize(
    ("device", "ampacity", "allowed"),
    [(225, 201, True), (225, 200, False), (225, 225, True), (800, 760, True), (1000, 930, False), (1000, 1005, True)],
)
def test_which_device_may_protect_a_conductor(device, ampacity, allowed):
    assert may_protect(device, ampacity, NEC) is allowed


@pytest.mark.parametrize(
    ("need", "rating"), [(15, 15), (15.01, 20), (100, 100), (100.5, 110), (401, 450), (6000, 6000)]
)
def test_next_standard_rating(need, rating):
    assert next_rating(need, NEC, off()) == rating


def test_no_standard_rating_above_6000_a():
    with pytest.raises(OutsideTable):
        next_rating(6001, NEC, off())


@settings(max_examples=60, deadline=None)
@given(houses)
def test_a_house_on_a_path_is_sized_as_its_own_sheet_has_it(raw):
    """One ordinary conductor in both places; the rule of 83 % is named beside it, and lawful where it is pinned."""
    sheet = dwelling.TOOL.run({**raw, "occupancy": "one-family"})["result"]
    house = {key: value for key, value in raw.items() if key not in ("book", "system", "occupancy")}
    nodes = [
        {"id": "s", "kind": "source", "system": raw["system"]},
        {"id": "h", "kind": "dwelling", "parent": "s", "dwelling": house, "run": {"length": 20}},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "H", "book": raw["book"], "nodes": nodes}
    node = solve_document(job, "h")["nodes"]["h"]
    ordinary = sheet["conductor_ordinary"]
    assert node["device_a"] == sheet["device_a"]
    assert node["conductor"] == {key: ordinary[key] for key in ("size", "material", "sets")}
    named = [option for option in node["options"] if "whole dwelling" in option["remark"]]
    for option in named:
        assert option["conductor"]["size"] == sheet["conductor"]["size"]
        nodes[1]["run"]["pins"] = {"size": option["conductor"]["size"], "reason": "310.12"}
        pinned = solve_document(job)["nodes"]["h"]
        assert not [found for found in pinned["findings"] if found["code"].startswith("conductor")]


@pytest.mark.parametrize("times", [0.5, 2.0])
def test_a_pinned_demand_takes_the_neutral_of_a_house_with_it(times):
    job = sample("marrow-creek")
    before = solve_document(job)["nodes"]["house"]
    house = next(node for node in job["nodes"] if node["id"] == "house")
    house.setdefault("run", {})["pins"] = {"demand_va": times * before["demand_va"], "reason": "metered"}
    after = solve_document(job)["nodes"]["house"]
    assert after["neutral_a"] == pytest.approx(times * before["neutral_a"])
    assert max(after["amps"].values()) == pytest.approx(times * max(before["amps"].values()))


def test_the_rule_of_83_percent_is_named_beside_marrow_creek():
    """250 A: 0.83 × 250 = 207.5 A, 4/0 copper 230 A; by the ordinary table 234.3 A and 250 kcmil, 255 A."""
    node = solve_document(sample("marrow-creek"), "house")["nodes"]["house"]
    (named,) = [option for option in node["options"] if "whole dwelling" in option["remark"]]
    assert (named["conductor"]["size"], node["conductor"]["size"]) == ("4/0", "250")
