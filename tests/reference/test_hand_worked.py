"""Cases worked by hand with invented figures (not published); the arithmetic stands beside each."""

import pytest

from voltaje.books.nec.conductors import Conductor, area_cmil, sizes
from voltaje.books.nec.dwelling.cooking import column_c, columns_a_and_b
from voltaje.books.nec.dwelling.neutral import further_reduced
from voltaje.books.nec.edition import find_edition
from voltaje.books.nec.grounding import electrode_conductors, least_grounded
from voltaje.rounding import HalfReading
from voltaje.sheet import off
from voltaje.tools.quick import dwelling

NEC = find_edition("NEC 2023")

HOUSE = {
    "floor_area": "2400 ft2",
    "cooking": [{"kind": "range", "load": "14.8 kW"}],
    "dryers": ["5.8 kW"],
    "appliances": [
        {"name": "Water heater", "load": "4500 VA", "volts": 240},
        {"name": "Dishwasher", "load": 1300, "volts": 120},
        {"name": "Disposer", "load": 850, "volts": 120, "motor": True},
        {"name": "Microwave", "load": 1500, "volts": 120},
    ],
    "cooling": "28 A",
    "heating": [{"kind": "resistance", "load": "10 kW"}],
}


def test_house_by_the_standard_method():
    """7200 + 3000 + 1500; four appliances at 75 %; 8 kW + 3 × 5 %; heat over cooling; 25 % of the disposer."""
    result = dwelling.TOOL.run(HOUSE)["result"]
    assert result["lighting_va"] == 3000 + 0.35 * 8700
    assert result["appliances_va"] == 0.75 * (4500 + 1300 + 850 + 1500)
    assert result["cooking_va"] == pytest.approx(8000 * 1.15)
    assert result["dryer_va"] == 5800
    assert result["hvac_va"] == 10_000
    assert result["motor_25_va"] == 0.25 * 850
    assert result["demand_va"] == pytest.approx(37_370)
    assert result["device_a"] == 175
    assert (result["conductor"]["size"], result["conductors"]["Al"]["by_83_percent"]["size"]) == ("1/0", "3/0")


def test_neutral_of_that_house():
    """6045 + 0.75 × 3650 + 0.7 × 9200 + 0.7 × 5800 + 212.5, over 240 V."""
    result = dwelling.TOOL.run(HOUSE)["result"]
    assert result["neutral_va"] == pytest.approx(6045 + 2737.5 + 6440 + 4060 + 212.5)
    assert result["neutral_a"] == pytest.approx(81.2, abs=0.05)


def test_house_by_the_optional_method():
    """40,450 VA general, the first 10 kVA in full and 40 % of the rest; cooling 6720 over 65 % of 10 kW."""
    result = dwelling.TOOL.run({**HOUSE, "method": "optional"})["result"]
    assert result["general_va"] == 40_450
    assert result["hvac_va"] == 28 * 240
    assert result["demand_va"] == pytest.approx(10_000 + 0.4 * 30_450 + 6720)
    assert result["device_a"] == 125


@pytest.mark.parametrize(
    ("ratings", "half", "kw"),
    [
        ([13.4], HalfReading.COUNTS, 8 * 1.05),
        ([16.5], HalfReading.COUNTS, 8 * 1.25),
        ([16.5], HalfReading.DOES_NOT, 8 * 1.20),
        ([17.6], HalfReading.COUNTS, 8 * 1.30),
        ([23], HalfReading.COUNTS, 8 * 1.55),
        ([14.6] * 12, HalfReading.COUNTS, 27 * 1.15),
        ([9] * 4 + [13] * 6 + [17.5] * 2, HalfReading.COUNTS, 27 * 1.05),  # (48 + 78 + 35) / 12 = 13.42
    ],
)
def test_ranges_by_column_c_and_notes_1_and_2(ratings, half, kw):
    assert column_c(ratings, NEC, half, off()) == pytest.approx(kw)


@pytest.mark.parametrize(
    ("ratings", "kw"), [([7.2] * 6, 43.2 * 0.43), ([3] * 4 + [6] * 5, 12 * 0.66 + 30 * 0.45), ([8.5], 8.5 * 0.80)]
)
def test_ranges_by_columns_a_and_b(ratings, kw):
    assert columns_a_and_b(ratings, NEC, off()) == pytest.approx(kw)


@pytest.mark.parametrize(
    ("count", "each", "va"),
    [(4, 5000, 20_000), (5, 5000, 21_250), (6, 5000, 22_500), (13, 5000, 0.45 * 65_000), (30, 5000, 0.315 * 150_000)],
)
def test_dryers_at_4500_w_count_5000(count, each, va):
    result = dwelling.TOOL.run({"floor_area": 1500, "dryers": ["4.5 kW"] * count})["result"]
    assert result["dryer_va"] == pytest.approx(va)
    assert va <= count * each


@pytest.mark.parametrize(("amperes", "va"), [("32 A", 7680), ("16 A", 7200)])
def test_vehicle_charger_of_2023(amperes, va):
    result = dwelling.TOOL.run({"floor_area": 1500, "vehicle_chargers": [amperes]})["result"]
    assert result["charger_va"] == va


def test_neutral_over_200_a():
    assert further_reduced(310, 0, True, NEC, off()) == pytest.approx(200 + 0.7 * 110)
    assert further_reduced(0, 310, True, NEC, off()) == 310
    assert further_reduced(310, 0, False, NEC, off()) == 310


def line(size, sets=1, material="Cu"):
    return Conductor(size, material, sets, 0, NEC.cite("neutral"))


@pytest.mark.parametrize(
    ("size", "sets", "water_pipe"),
    [
        ("4", 1, "8"),
        ("1/0", 1, "6"),
        ("3/0", 1, "4"),
        ("350", 1, "2"),
        ("600", 1, "1/0"),
        ("500", 2, "2/0"),
        ("400", 3, "3/0"),
    ],
)
def test_electrode_conductor(size, sets, water_pipe):
    found = {item.electrode: item.size for item in electrode_conductors(line(size, sets), NEC, off())}
    assert found["water_pipe"] == water_pipe
    assert area_cmil(found["rod"], NEC) <= area_cmil("6", NEC)
    assert area_cmil(found["concrete_encased"], NEC) <= area_cmil("4", NEC)


@pytest.mark.parametrize(("size", "sets", "least"), [("250", 1, "2"), ("400", 4, "4/0")])
def test_least_grounded_conductor(size, sets, least):
    """250 kcmil: 2 AWG. 4 × 400 = 1600 kcmil: 12.5 % is 200 kcmil, 4/0 AWG."""
    assert least_grounded(line(size, sets), NEC, off()) == least


@pytest.mark.parametrize("material", ["cu", "al"])
def test_every_row_of_the_dwelling_service_table_is_83_percent(material):
    """NEC Table 310.12 against the 75 °C column of Table 310.16: two published tables hold each other."""
    ampacities = {row["size"]: row[f"{material}75"] for row in NEC.table("ampacity").rows}
    for row in NEC.table("dwelling_service").rows:
        enough = [s for s in sizes(NEC) if ampacities[s] and ampacities[s] >= 0.83 * row["amps"]]
        assert row[material] == enough[0]
