"""Demand of boards: Informative Annex D as remembered, and cases worked by hand with their arithmetic."""

import math

import pytest

from tests.core.jobs import solved

LATER = ["NEC 2020", "NEC 2023"]
EDITIONS = ["NEC 2017", *LATER]
UNIT = {"floor_area": 840, "laundry_circuits": 0, "occupancy": "unit"}
WITH_RANGE = {**UNIT, "cooking": [{"load": "12 kW"}]}
AREA = {"area": {"floor_area": "3000 ft2", "occupancy": "retail"}}
STORE = [
    {"kind": "lighting", "rating": "8500 VA", "poles": 2, "continuous": True},
    {"kind": "general", "rating": "6000 VA", "poles": 2, "continuous": True},  # 30 ft of show window
    {"kind": "general", "rating": "1200 VA", "poles": 2, "continuous": True},  # sign
    *[{"kind": "sockets", "rating": "180 VA", "count": 8, "poles": 2}] * 10,
]


def board(*loads, **more):
    return solved(*loads, **more)["mdp"]


def store(book):
    return board(*STORE, book=book, system="120/240 1ph 3w", board=AREA)


def test_d3_store_in_2017():
    """Annex D, example D3: lighting 9000 by area, receptacles 12,200; 28,400 VA, 118 A; 32,450 VA, 135 A, 150 A."""
    found = store("NEC 2017")
    assert found["demand_va"] == 9000 + 6000 + 1200 + 12_200 == 28_400
    assert found["amps"]["L1"] == pytest.approx(28_400 / 240)
    assert found["device_a"] == 150


@pytest.mark.parametrize("book", LATER)
def test_d3_store_by_later_unit_loads(book):
    """Derived: 1.9 VA/ft² gives 5700, so the nameplates' 8500 count, continuous: 27,900 VA, 31,825 / 240 = 132.6 A."""
    found = store(book)
    assert found["demand_va"] == 8500 + 6000 + 1200 + 12_200
    assert found["device_a"] == 150


@pytest.mark.parametrize(("book", "device"), [("NEC 2017", 150), ("NEC 2020", 125)])
def test_later_unit_loads_hold_the_125_percent(book, device):
    """10 000 ft² entered at 2.9 VA/ft²: 29 000 VA / 240 = 120.8 A; × 1.25 = 151 A only where it does not hold it."""
    area = {"area": {"floor_area": 10_000, "va_per_ft2": 2.9}}
    found = board({"kind": "lighting", "rating": "100 VA"}, book=book, system="120/240 1ph 3w", board=area)
    assert found["demand_va"] == pytest.approx(29_000)
    assert found["device_a"] == (device if book != "NEC 2017" else 175)


@pytest.mark.parametrize("book", LATER)
def test_office_by_area(book):
    """20 000 ft²: lighting 1.3 × 20 000 = 26 000; receptacles at 1 VA/ft² 20 000, not reduced (220.14(K))."""
    area = {"area": {"floor_area": 20_000, "occupancy": "office"}}
    found = board({"kind": "sockets", "rating": "180 VA", "count": 20}, book=book, board=area)
    assert found["demand_va"] == pytest.approx(26_000 + 20_000)


@pytest.mark.parametrize(("book", "percent"), [("NEC 2017", (50, 40)), ("NEC 2023", (60, 50))])
def test_hotel_lighting_steps_down(book, percent):
    area = {"area": {"floor_area": 20_000, "occupancy": "hotel"}}
    connected = 20_000 * (2 if book == "NEC 2017" else 1.7)
    expected = 20_000 * percent[0] / 100 + (connected - 20_000) * percent[1] / 100
    assert board(book=book, board=area)["demand_va"] == pytest.approx(expected)


@pytest.mark.parametrize("book", EDITIONS)
@pytest.mark.parametrize(("units", "ranges", "va", "amps"), [(20, 10, 65_590, 273), (40, 20, 104_150, 434)])
def test_d4a_multifamily_building(book, units, ranges, va, amps):
    """Annex D, example D4(a): meter bank 40,590 + 25,000 VA, 273 A; main 69,150 + 35,000 VA, 434 A."""
    homes = [WITH_RANGE] * ranges + [UNIT] * (units - ranges)
    found = board(*homes, book=book, system="120/240 1ph 3w")
    assert found["demand_va"] == pytest.approx(va)
    assert found["amps"]["L1"] == pytest.approx(amps, abs=0.5)


@pytest.mark.parametrize("book", EDITIONS)
@pytest.mark.parametrize(("units", "ranges", "va"), [(20, 10, 75_090), (40, 20, 112_650)])
def test_d5a_multifamily_building_on_three_phases(book, units, ranges, va):
    """Annex D, example D5(a): 4 between two legs, 8 ranges 23 kW, 34.5 kVA; 7, 14 ranges 29 kW, 43.5 kVA."""
    homes = [WITH_RANGE] * ranges + [UNIT] * (units - ranges)
    assert board(*homes, book=book)["demand_va"] == pytest.approx(va)


def test_multifamily_optional_table():
    """14 × (2700 + 4500 + 10 000 + 5000 + 4500 + 1200 + 6000) = 474 600; × 40 % = 189 840 VA; 791 A."""
    home = {
        "floor_area": 900,
        "occupancy": "unit",
        "cooking": [{"load": "10 kW"}],
        "dryers": ["5 kW"],
        "appliances": [{"load": "4.5 kW", "volts": 240}, {"load": "1.2 kW", "volts": 120}],
        "heating": [{"load": "6 kW"}],
        "cooling": "3.6 kVA",
    }
    found = board(*[home] * 14, system="120/240 1ph 3w", board={"dwellings": "optional"})
    assert found["demand_va"] == pytest.approx(0.40 * 14 * 33_900)
    two = board(*[home] * 2, system="120/240 1ph 3w", board={"dwellings": "optional"})
    assert two["demand_va"] == board(*[home] * 2, system="120/240 1ph 3w")["demand_va"]  # fewer than three


def test_ranges_on_a_three_phase_feeder():
    """22 of 12 kW: 8 between two legs, 16 by the table 31 kW, 46.5 kVA."""
    found = board(*[{"kind": "range", "rating": "12 kW", "poles": 2}] * 22)
    assert found["demand_va"] == pytest.approx(46_500)
    assert sum(found["amps"].values()) / 3 == pytest.approx(46_500 / (math.sqrt(3) * 208), rel=0.02)


def test_dryers_on_a_three_phase_feeder():
    """10 of 5.5 kW: 4 between two legs, 8 at 60 % of 44 kW is 26.4, / 2 × 3 = 39.6 kVA."""
    assert board(*[{"kind": "dryer", "rating": "5.5 kW", "poles": 2}] * 10)["demand_va"] == pytest.approx(39_600)


@pytest.mark.parametrize(
    ("kilowatts", "amps", "device"), [(12, 8000 / 240, 40), (14, 8800 / 240, 40), (7, 5600 / 240, 25)]
)
def test_a_range_on_a_circuit_of_its_own(kilowatts, amps, device):
    """Table 220.55: 8 kW up to 12 kW, 5 % more for each kW above, column B at 80 %; 40 A at least from 8¾ kW."""
    load = {"kind": "range", "rating": f"{kilowatts} kW", "poles": 2}
    node = solved(load, system="120/240 1ph 3w")["n0"]
    assert node["amps"]["L1"] == pytest.approx(amps)
    assert node["device_a"] == device


def test_receptacles_beyond_10_kva_count_half():
    """150 yokes × 180 VA = 27 000: 10 000 + 50 % of 17 000 = 18 500 VA (220.44)."""
    found = board(*[{"kind": "sockets", "rating": "180 VA", "count": 10}] * 15)
    assert (found["connected_va"], found["demand_va"]) == (27_000, 18_500)


@pytest.mark.parametrize(("ratings", "kva"), [((12, 9, 6, 4, 3), 23.8), ((20, 15, 2, 1), 35)])
def test_kitchen_equipment_is_never_under_its_two_largest(ratings, kva):
    loads = [{"kind": "kitchen", "rating": f"{rating} kVA", "phases": 3} for rating in ratings]
    assert board(*loads)["demand_va"] == pytest.approx(kva * 1000)


def test_noncoincident_loads_and_the_largest_motor():
    heat = {"kind": "heating", "rating": "9 kVA", "phases": 3, "group": "season"}
    cool = {"kind": "cooling", "rating": "6 kVA", "phases": 3, "group": "season"}
    pump = {"kind": "motor", "rating": "5 hp", "phases": 3}
    motor_va = math.sqrt(3) * 208 * 16.7
    assert board(heat, cool, pump)["demand_va"] == pytest.approx(9000 + 1.25 * motor_va)


def test_the_neutral_of_a_feeder_over_200_a():
    """310 A to neutral on one leg: 200 + 0.7 × 110 = 277 A; nonlinear load is not reduced (220.61)."""

    def neutral(share):
        lights = {"kind": "general", "rating": f"{310 * 120} VA", "legs": ["L1"], "nonlinear": share}
        steady = {"kind": "general", "rating": "130 kVA", "phases": 3}
        return board(lights, steady)["neutral"]["size"]

    # Two sets of lines for 671 A; of the neutrals 2 × 1/0 carry 300 A, 2 × 2/0 carry 350 A.
    assert neutral(0) == "1/0"
    assert neutral(1) == "2/0"


def test_lighting_by_area_and_ranges_count_on_the_neutral():
    """Store of D3: the 9000 VA are to neutral, 37.5 A a leg: 8 AWG. Five ranges: 20 kW, 83.3 A, at 70 % 58.3 A."""
    area = {"area": {"floor_area": 3000, "occupancy": "retail"}}
    store = board(book="NEC 2017", system="120/240 1ph 3w", board=area, terminals="75")
    assert store["neutral"]["size"] == "8"  # 50 A; 10 AWG has 35 A
    ranges = [{"kind": "range", "rating": "12 kW", "poles": 2}] * 5
    kitchen = board(*ranges, system="120/240 1ph 3w", terminals="75")
    assert kitchen["demand_va"] == 20_000
    assert kitchen["neutral"]["size"] == "6"  # 65 A carries 58.3; 8 AWG has 50 A


def test_a_board_on_two_legs_of_a_wye_is_single_phase():
    """Ten ranges there count 25 kW by the table, not by the most between two of three legs."""
    ranges = [{"kind": "range", "rating": "12 kW", "poles": 2, "legs": ["L1", "L2"]}] * 10
    assert board(*ranges, board={"legs": ["L1", "L2"]})["demand_va"] == pytest.approx(25_000)
