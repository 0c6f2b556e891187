"""Worked examples of NEC Informative Annex D, as remembered; figures written as their arithmetic."""

import pytest

from voltaje.tools.quick import dwelling

EDITIONS = ["NEC 2017", "NEC 2020", "NEC 2023"]

D1A = {"floor_area": 1500, "cooking": [{"kind": "range", "load": "12 kW"}], "dryers": ["5.5 kW"]}
D2A = {
    "method": "optional",
    "floor_area": 1500,
    "cooking": [{"kind": "range", "load": "12 kW"}],
    "dryers": ["5 kW"],
    "appliances": [
        {"name": "Water heater", "load": "2.5 kW", "volts": 240},
        {"name": "Dishwasher", "load": "1.2 kW", "volts": 120},
    ],
    "heating": [{"kind": "resistance", "load": "9 kW", "units": 5}],
    "cooling": "1.38 kVA",
}
D4A_UNIT = {
    "occupancy": "unit",
    "floor_area": 840,
    "laundry_circuits": 0,
    "cooking": [{"kind": "range", "load": "12 kW"}],
}


def solved(book, raw, **more):
    return dwelling.TOOL.run({"book": book, **raw, **more})["result"]


@pytest.mark.parametrize("book", EDITIONS)
def test_d1a_one_family_by_the_standard_method(book):
    """Annex D, example D1(a): 18,600 VA, 78 A, 100 A service, neutral 14,550 VA and 61 A."""
    result = solved(book, D1A)
    assert result["lighting_va"] == 3000 + 0.35 * (4500 + 3000 + 1500 - 3000)
    assert result["cooking_va"] == 8000
    assert result["demand_va"] == 18_600
    assert result["amps"] == 77.5
    assert result["device_a"] == 100
    assert result["neutral_va"] == 5100 + 0.7 * 8000 + 0.7 * 5500
    assert result["neutral_a"] == pytest.approx(60.625)


@pytest.mark.parametrize("book", EDITIONS)
def test_d2a_one_family_by_the_optional_method(book):
    """Annex D, example D2(a): 21,480 VA, 90 A, neutral 15,400 VA and 64.2 A."""
    result = solved(book, D2A)
    assert result["general_va"] == 29_700
    assert result["general_demand_va"] == 10_000 + 0.4 * 19_700
    assert result["hvac_va"] == 0.4 * 9000
    assert result["demand_va"] == 21_480
    assert result["amps"] == 89.5
    assert result["device_a"] == 100
    assert result["neutral_va"] == 15_400
    assert result["neutral_a"] == pytest.approx(64.17, abs=0.01)


@pytest.mark.parametrize("book", EDITIONS)
@pytest.mark.parametrize(("cooking", "amps", "neutral_a"), [(True, 49.5, 39.5), (False, 16.2, 16.2)])
def test_d4a_unit_of_a_multifamily_building(book, cooking, amps, neutral_a):
    """Annex D, example D4(a), each unit: 49.5 A with the range and 39.5 A on its neutral, 16.2 A without."""
    raw = D4A_UNIT if cooking else {**D4A_UNIT, "cooking": []}
    result = solved(book, raw)
    assert result["amps"] == pytest.approx(amps, abs=0.05)
    assert result["neutral_a"] == pytest.approx(neutral_a, abs=0.05)


@pytest.mark.parametrize("book", EDITIONS)
def test_d5a_unit_on_two_legs_of_a_wye(book):
    """Annex D, example D5(a), each unit on 208Y/120 V: 11,882 VA over 2 × 120 V is 49.5 A."""
    result = solved(book, D4A_UNIT, system="208Y/120 2 legs")
    assert result["amps"] == pytest.approx(49.5, abs=0.05)
    assert result["leg_amps"] == pytest.approx(3882 / 240 + 8000 / 208)
    # 220.61(C) allows no reduction there, so the neutral carries what a leg carries.
    assert result["neutral_a"] == pytest.approx(49.5, abs=0.05)


@pytest.mark.parametrize("book", EDITIONS)
def test_d6_twenty_four_ranges_of_16_kw(book):
    """Annex D, example D6: 39 kW and 4 × 5 % of it, 46.8 kW."""
    result = solved(book, {"floor_area": 1500, "cooking": [{"load": "16 kW", "count": 24}]})
    assert result["cooking_va"] == pytest.approx(46_800)


@pytest.mark.parametrize("book", EDITIONS)
def test_d7_conductors_of_a_175_a_service(book):
    """Annex D, example D7: 83 % of 175 A is 145.25 A: 1/0 AWG copper or 3/0 AWG aluminum."""
    # 1500 ft² and these loads reach a demand between 150 A and 175 A.
    raw = {**D1A, "heating": [{"load": "20 kW"}]}
    conductors = solved(book, raw)["conductors"]
    assert solved(book, raw)["device_a"] == 175
    assert conductors["Cu"]["by_83_percent"]["size"] == "1/0"
    assert conductors["Al"]["by_83_percent"]["size"] == "3/0"
