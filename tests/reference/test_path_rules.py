"""Whole paths by the rules' own text: an oracle written here from the clauses, and cases worked by hand beside it."""

import cmath
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.jobs import job_with, solved
from voltaje.tools.solve import solve_document

# 240.6(A) and Table 310.16, 75 °C copper, as recalled; 240.4(D) for the small sizes.
RATINGS = [15, 20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225, 250, 300, 350, 400]
COPPER_75 = {
    "14": 20,
    "12": 25,
    "10": 35,
    "8": 50,
    "6": 65,
    "4": 85,
    "3": 100,
    "2": 115,
    "1": 130,
    "1/0": 150,
    "2/0": 175,
    "3/0": 200,
    "4/0": 230,
    "250": 255,
    "300": 285,
    "350": 310,
    "400": 335,
    "500": 380,
    "600": 420,
}
SMALL = {"14": 15, "12": 20, "10": 30}
ANGLES = {"208Y/120": {"L1": 0, "L2": -120, "L3": 120}, "120/240 1ph 3w": {"L1": 0, "L2": 180}}
VOLTS = {"208Y/120": (120, 208), "120/240 1ph 3w": (120, 240)}
MOTORS = ("motor", "cooling")
SPLIT = "120/240 1ph 3w"


def phasors(va, legs, system):
    """The current of a load of power factor one, leg by leg."""
    to_neutral, between = VOLTS[system]
    unit = {leg: cmath.rect(1, math.radians(angle)) for leg, angle in ANGLES[system].items()}
    if len(legs) == 1:
        return {legs[0]: va / to_neutral * unit[legs[0]]}
    if len(legs) == 2:
        across = unit[legs[0]] - unit[legs[1]]
        amps = va / between * across / abs(across)
        return {legs[0]: amps, legs[1]: -amps}
    return {leg: va / (math.sqrt(3) * between) * unit[leg] for leg in legs}


def oracle(loads, system, service):
    """Amperes of each leg, device and conductor of a board: 215.2, 215.3, 220.51, 220.57, 430.24, 625.41, 240.4, 240.6.

    As a service never under 15 A for one circuit, 30 for two, 60 for more, conductors and device: 230.79, 230.42(B).
    """
    loads = [(kind, max(va, 7200) if kind == "charger" else va, *rest) for kind, va, *rest in loads]
    least = {1: 15, 2: 30}.get(len(loads), 60) if service else 0
    motors = [
        (max(abs(a) for a in phasors(va, legs, system).values()), at)
        for at, (kind, va, legs, _c) in enumerate(loads)
        if kind in MOTORS
    ]
    largest = max(motors, key=lambda each: (round(each[0], 9), f"n{each[1]}"), default=(0, None))[1]
    legs = list(ANGLES[system])
    total, steady = dict.fromkeys(legs, 0j), dict.fromkeys(legs, 0j)
    for at, (kind, va, on, continuous) in enumerate(loads):
        factor = 1.25 if at == largest else 1.0
        share = {"charger": 1, "motor": 0, "cooling": 0}.get(kind, continuous)
        for leg, amps in phasors(va, on, system).items():
            total[leg] += amps * factor
            steady[leg] += amps * factor * share
    amps = {leg: abs(total[leg]) for leg in legs}
    need = max(amps[leg] + 0.25 * abs(steady[leg]) for leg in legs)
    device = next(rating for rating in RATINGS if rating >= max(need, least) - 1e-6)
    size = next(
        size
        for size, ampacity in COPPER_75.items()
        if ampacity >= max(need, least) - 1e-6
        and next(rating for rating in RATINGS if rating >= ampacity) >= device
        and device <= SMALL.get(size, device)
    )
    return amps, device, size


single = st.sampled_from([("L1",), ("L2",), ("L1", "L2")])
three = st.sampled_from([("L1",), ("L2",), ("L3",), ("L1", "L3"), ("L2", "L3"), ("L1", "L2", "L3")])


@settings(max_examples=150, deadline=None)
@given(st.data(), st.sampled_from(list(ANGLES)), st.integers(1, 2))
def test_random_boards_against_the_rules(data, system, boards):
    """Nothing is lost on the way up: the board, and a board that feeds it alone, are one and the same."""
    kind = st.sampled_from(["general", "lighting", "heating", "charger", "motor", "cooling"])
    legs = three if system == "208Y/120" else single
    loads = data.draw(
        st.lists(st.tuples(kind, st.integers(100, 6000), legs, st.sampled_from([0, 1])), min_size=1, max_size=9)
    )
    nodes = [{"id": "src", "kind": "source", "system": system}]
    for at in range(boards):
        nodes.append({"id": f"b{at}", "kind": "board", "parent": f"b{at - 1}" if at else "src", "run": {"length": 9}})
    for at, (what, va, on, continuous) in enumerate(loads):
        load = {"kind": what, "rating": f"{va} VA", "legs": list(on), **({"continuous": 1} if continuous else {})}
        nodes.append({"id": f"n{at}", "kind": "load", "parent": f"b{boards - 1}", "load": load})
    job = {"format": "voltaje-job", "version": 1, "name": "R", "book": "NEC 2023", "terminals": "75", "nodes": nodes}
    for at in range(boards):
        amps, device, size = oracle(loads, system, service=not at)
        board = solve_document(job)["nodes"][f"b{at}"]
        assert board["amps"] == pytest.approx(amps, rel=1e-8, abs=1e-6)
        assert (board["device_a"], board["conductor"]["size"]) == (device, size)


def stops(node):
    return [found["message"] for found in node["findings"] if found["severity"] in ("stop", "warn")]


def one(load, **more):
    return solved(load, **{"terminals": "75", **more})["n0"]


@pytest.mark.parametrize("extra", [{"poles": 3}, {"legs": ["L1", "L2", "L3"]}, {"phases": 3}])
@pytest.mark.parametrize(("rating", "amps"), [("30 A", 30), ("10.8 kVA", 10_800 / (math.sqrt(3) * 208))])
def test_three_poles_are_three_phases(extra, rating, amps):
    """30 A on three poles are 30 A a line, √3 × 208 × 30 = 10.8 kVA: 30 A, 10 AWG."""
    node = one({"rating": rating, **extra})
    assert node["amps"] == pytest.approx(dict.fromkeys(("L1", "L2", "L3"), amps))
    assert (node["device_a"], node["conductor"]["size"]) == (30, "10")


def test_horsepower_is_a_motor_whatever_it_is_called():
    """Table 430.250: 5 hp at 208 V 16.7 A; in its feeder 25 % more."""
    for kind in ("general", "heating", "cooling", "motor"):
        nodes = solved({"kind": kind, "rating": "5 hp", "poles": 3})
        assert nodes["n0"]["amps"]["L1"] == pytest.approx(16.7)
        assert (nodes["n0"]["device_a"], nodes["n0"]["conductor"]["size"]) == (45, "12")  # 41.75; 20.9 A at 75 °C
        assert nodes["mdp"]["amps"]["L1"] == pytest.approx(1.25 * 16.7)


@pytest.mark.parametrize(
    ("kind", "device", "above"),
    [("charger", 60, 60), ("heating", 60, 50), ("water_heater", 60, 50), ("cooling", 80, 60), ("general", 50, 50)],
)
def test_what_is_continuous_by_its_kind(kind, device, above):
    """48 A: 1.25 × 48 = 60 A (625.41, 424.4(B), 422.13), cooling 175 % (440.22); above it chargers, cooling's 25 %."""
    nodes = solved({"kind": kind, "rating": "48 A", "poles": 2}, system=SPLIT, terminals="75")
    assert (nodes["n0"]["device_a"], nodes["mdp"]["device_a"]) == (device, above)
    said = one({"kind": kind, "rating": "48 A", "poles": 2, "continuous": False}, system=SPLIT)
    assert any("Not allowed" in message for message in stops(said)) == (kind in ("charger", "heating", "water_heater"))
    assert said["device_a"] == device


def test_a_compressor_s_conductors_carry_125_percent_as_they_are_installed():
    """440.32: 40 A × 1.25 = 50 A at 45 °C: 8 AWG 55 × 0.87 = 47.9 A falls short, 6 AWG 75 × 0.87 = 65.3 A."""
    run = {"run": {"length": 20, "ambient_c": 45}}
    assert one({"kind": "cooling", "rating": "40 A", "poles": 2, **run})["conductor"]["size"] == "6"
    assert one({"kind": "charger", "rating": "40 A", "poles": 2, **run})["conductor"]["size"] == "8"


def test_household_tables_are_for_household_equipment():
    """Table 220.55: one household range of 12 kW counts 8 kW; a commercial or three-phase one all of its rating."""
    home = {"kind": "range", "rating": "12 kW", "poles": 2}
    assert solved(home, system=SPLIT)["mdp"]["demand_va"] == 8000
    assert solved({**home, "household": False}, system=SPLIT)["mdp"]["demand_va"] == 12_000
    node = one({"kind": "range", "rating": "24 kW", "phases": 3})
    assert node["amps"]["L1"] == pytest.approx(24_000 / (math.sqrt(3) * 208))
    dryers = [{"kind": "dryer", "rating": "24 kW", "phases": 3}] * 12
    assert solved(*dryers)["mdp"]["demand_va"] == 12 * 24_000


def test_a_range_s_neutral():
    """70 % of 33.3 A, and not under 10 AWG (210.19); two legs of a wye have no reduction: as the line."""
    home = {"kind": "range", "rating": "12 kW", "poles": 2}
    assert one(home, system=SPLIT)["neutral"]["size"] == "10"
    assert one(home)["neutral"]["size"] == "8"


def test_noncoincident_loads_on_other_legs_and_of_other_boards():
    """220.60: while the 35 A run, L2 carries 60 + 35 = 95 A. Groups of two boards exclude nothing of each other."""
    heat = {"rating": "40 A", "legs": ["L1"], "group": "g"}
    cool = {"rating": "35 A", "legs": ["L2"], "group": "g"}
    nodes = solved(heat, cool, {"rating": "60 A", "legs": ["L2"]}, system=SPLIT)
    assert nodes["mdp"]["amps"] == pytest.approx({"L1": 40, "L2": 95})
    assert nodes["src"]["amps"] == pytest.approx({"L1": 40, "L2": 95})
    assert nodes["mdp"]["device_a"] == 100
    job = job_with(heat, system=SPLIT)
    job["nodes"] += [
        {"id": "p", "kind": "board", "parent": "mdp"},
        {"id": "y", "kind": "load", "parent": "p", "load": cool},
    ]
    assert solve_document(job)["nodes"]["mdp"]["demand_va"] == 75 * 120


@pytest.mark.parametrize(("book", "demand"), [("NEC 2017", 10_000), ("NEC 2020", 11_250), ("NEC 2023", 11_250)])
def test_a_motor_that_is_not_the_largest_of_loads_that_exclude_each_other(book, demand):
    """220.60, from 2020: 9 kVA of cooling are compared, and counted, at 125 %, 11.25 kVA, against 10 kVA of heat."""
    heat = {"kind": "heating", "rating": "10 kVA", "phases": 3, "group": "g"}
    cool = {"kind": "cooling", "rating": "9 kVA", "phases": 3, "group": "g"}
    assert solved(heat, cool, book=book)["mdp"]["demand_va"] == pytest.approx(demand)


@pytest.mark.parametrize("book", ["NEC 2023", "BS 7671", "SANS 10142-1"])
@pytest.mark.parametrize("pinned", [3000, 24_000])
def test_a_pinned_demand_goes_up(book, pinned):
    """Of a board, of a load: everything above counts what a person fixed, more or less than what hangs there."""
    system = "208Y/120" if book == "NEC 2023" else "230/400"
    job = job_with({"rating": "1 kVA", "phases": 3}, book=book, system=system)
    pins = {"demand_va": pinned, "reason": "measured"}
    job["nodes"] += [
        {"id": "p", "kind": "board", "parent": "mdp", "run": {"length": 9, "pins": pins}},
        {"id": "x", "kind": "load", "parent": "p", "load": {"rating": "9 kVA", "phases": 3}},
    ]
    nodes = solve_document(job)["nodes"]
    for key, demand in (("p", pinned), ("mdp", pinned + 1000), ("src", pinned + 1000)):
        assert nodes[key]["demand_va"] == pytest.approx(demand)
        volts = 208 if book == "NEC 2023" else 400
        assert max(nodes[key]["amps"].values()) == pytest.approx(demand / (math.sqrt(3) * volts))


def test_a_house_passes_up_its_pin_and_its_charger():
    """36 kVA / 240 V = 150 A; without a pin the charger's 25 % is in the need of the board above too."""
    plain = {"floor_area": 1500, "vehicle_chargers": ["48 A"]}
    nodes = solved(plain, system=SPLIT, book="NEC 2023", terminals="75")
    # 3 × 1500 + 4500 = 9000; 3000 + 35 % of 6000 = 5100; 11,520 more: 69.25 A, and 12 A for the charger.
    assert nodes["mdp"]["demand_va"] == pytest.approx(5100 + 11_520)
    assert nodes["mdp"]["device_a"] == 90
    pinned = {**plain, "run": {"length": 9, "pins": {"demand_va": 36_000, "reason": "measured"}}}
    nodes = solved(pinned, system=SPLIT, book="NEC 2023")
    assert nodes["n0"]["demand_va"] == nodes["mdp"]["demand_va"] == 36_000
    assert nodes["mdp"]["amps"] == pytest.approx({"L1": 150, "L2": 150})
    assert nodes["n0"]["device_a"] >= 150


def test_what_an_area_adds_goes_up():
    """220.14(K): 30,000 ft² are 30,000 VA of receptacles, not reduced again above; 2017's lighting stays continuous."""
    area = {"floor_area": 30_000, "occupancy": "office"}
    job = job_with({"kind": "sockets", "rating": "180 VA", "count": 100}, book="NEC 2023")
    job["nodes"][1:1] = [{"id": "main", "kind": "board", "parent": "src", "run": {"length": 9}}]
    job["nodes"][2] |= {"parent": "main", "area": area}
    nodes = solve_document(job)["nodes"]
    assert nodes["mdp"]["demand_va"] == nodes["main"]["demand_va"] == pytest.approx(39_000 + 30_000)
    job["book"], job["nodes"][3]["load"] = "NEC 2017", {"kind": "lighting", "rating": "5 kVA", "phases": 3}
    job["nodes"][2]["area"] = {"floor_area": 10_000, "occupancy": "office"}
    nodes = solve_document(job)["nodes"]
    # 3.5 × 10,000 VA / (√3 × 208) = 97.2 A; × 1.25 = 121.4 A
    assert nodes["mdp"]["device_a"] == nodes["main"]["device_a"] == 125


def test_continuous_load_on_the_other_side_of_a_transformer():
    """250 × 208 / 480 = 108.3 A; × 1.25 = 135.4 A: 150 A (215.3). 36 kVA on 15 kVA is too much, in all or one leg."""
    nodes = [
        {"id": "s", "kind": "source", "system": "480Y/277"},
        {"id": "a", "kind": "board", "parent": "s", "run": {"length": 9}},
        {"id": "t", "kind": "transformer", "parent": "a", "transformer": {"kva": 112.5, "secondary": "208Y/120"}},
        {"id": "b", "kind": "board", "parent": "t", "run": {"length": 9}},
        {"id": "x", "kind": "load", "parent": "b", "load": {"rating": "250 A", "phases": 3, "continuous": True}},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "T", "book": "NEC 2023", "terminals": "75", "nodes": nodes}
    found = solve_document(job)["nodes"]
    assert (found["a"]["device_a"], found["a"]["conductor"]["size"]) == (150, "1/0")
    # 240.21(C): no next rating up: 312.5 A on 350 A, and the conductor has 380 A, not 310 or 335.
    assert (found["b"]["device_a"], found["b"]["conductor"]["size"]) == (350, "500")
    nodes[2]["transformer"]["kva"] = 45
    assert any("of its rating" in message for message in stops(solve_document(job)["nodes"]["t"]))
    nodes[4]["load"] = {"rating": "17 kVA", "legs": ["L1"]}
    assert any("one winding" in message for message in stops(solve_document(job)["nodes"]["t"]))


def test_the_neutral_of_a_hot_feeder_a_service_and_a_nonlinear_board():
    """100 A at 50 °C: 3 AWG 115 × 0.82 = 94.3 A falls short. Mostly nonlinear: four carry, 0.8 × 115 = 92 A."""
    legs = [{"rating": "100 A", "legs": [leg]} for leg in ("L1", "L2", "L3")]
    hot = {"run": {"length": 9, "ambient_c": 50}}
    assert solved(*legs, terminals="75", board=hot)["mdp"]["neutral"]["size"] == "2"
    assert solved(*legs, terminals="75")["mdp"]["neutral"]["size"] == "3"
    nonlinear = [{**each, "nonlinear": 1} for each in legs]
    assert solved(*nonlinear, terminals="75")["mdp"]["neutral"]["size"] == "2"
    # Table 250.102(C)(1): by 1/0 copper 6 AWG at a service; a feeder needs its equipment conductor's, 6 AWG by 150 A.
    steady = {"rating": "140 A", "poles": 2}
    service = {"run": {"length": 9, "role": "service"}}
    assert solved({**steady, "rating": "200 A"}, system=SPLIT, terminals="75")["mdp"]["neutral"]["size"] == "4"
    feeder = {"run": {"length": 9, "role": "feeder"}}
    assert solved({**steady, "rating": "200 A"}, system=SPLIT, board=feeder)["mdp"]["neutral"]["size"] == "6"
    assert solved(steady, system=SPLIT, terminals="75", board=service)["mdp"]["neutral"]["size"] == "6"


def test_a_neutral_that_no_size_carries_is_refused_and_two_sets_serve():
    """50 kVA at a power factor of 0.3 on L1, at 1 on L2: 416.7 A each, 120° - arccos 0.3 = 47.5° apart.

    2 × 416.7 × cos (47.5° ÷ 2) = 762.9 A come back on the neutral; 2000 kcmil carries 750 A.
    """
    loads = [{"rating": "50 kVA", "legs": ["L1"], "power_factor": 0.3}, {"rating": "50 kVA", "legs": ["L2"]}]
    board = solved(*loads, terminals="75")["mdp"]
    assert board["conductor"] is None and "762.9 A" in " ".join(each["message"] for each in board["findings"])
    parallel = solved(*loads, terminals="75", board={"run": {"length": 9, "sets": 2}})["mdp"]
    lines, neutral = parallel["conductor"]["size"], parallel["neutral"]["size"]
    # Table 310.16 at 75 °C: 208.3 A and a device of 450 A by 4/0, 230 A; 381.4 A by 600 kcmil, 420 A (500: 380).
    assert (lines, neutral) == ("4/0", "600")


def test_one_leg_drops_with_its_neutral():
    """100 A on L1 alone over 200 ft of 3 AWG, 0.245 Ω/kft: 2 × 100 × 0.2 × 0.245 = 9.8 V of 120, 8.17 %."""
    nodes = solved({"rating": "100 A", "legs": ["L1"]}, book="NEC 2023", terminals="75", length=200)
    assert nodes["mdp"]["drop_percent"] == pytest.approx(9.8 / 120 * 100, rel=1e-3)
    even = [{"rating": "100 A", "legs": [leg]} for leg in ("L1", "L2", "L3")]
    nodes = solved(*even, book="NEC 2023", terminals="75", length=200)
    assert nodes["mdp"]["drop_percent"] == pytest.approx(math.sqrt(3) * 100 * 0.2 * 0.245 / 208 * 100, rel=1e-3)


def test_high_legs_feed_nothing_to_neutral():
    ranges = [{"kind": "range", "rating": "12 kW", "poles": 2}] * 3
    nodes = solved(*ranges, system="240/120 high-leg")
    assert all(set(nodes[f"n{at}"]["amps"]) == {"L1", "L3"} for at in range(3))
    house = solved({"floor_area": 1500}, system="240/120 high-leg")["n0"]
    assert set(house["amps"]) == {"L1", "L3"}


@pytest.mark.parametrize(
    ("load", "said"),
    [
        ({"kind": "charger", "rating": "16 A", "poles": 2, "count": 2}, "charging outlets on one circuit"),
        ({"kind": "sockets", "rating": "33 A"}, "receptacle circuit of 35 A"),
        ({"rating": "70 A", "poles": 2, "run": {"length": 9, "terminal_c": 90}}, "90 °C"),
        ({"rating": "120 A", "poles": 2, "run": {"length": 9, "insulation": "NM-B", "method": "cable"}}, "lawful"),
        ({"rating": "20 A", "run": {"length": 9, "pins": {"device_a": 33, "reason": "x"}}}, "not a standard rating"),
    ],
)
def test_what_an_inspector_would_ask_about_is_said(load, said):
    assert any(said in message for message in stops(one(load, system=SPLIT)))


def test_a_way_given_twice_and_a_feeder_fed_back_are_said():
    job = job_with({"rating": "10 A", "way": 1}, {"rating": "10 A", "way": 3}, {"rating": "9 A", "poles": 2, "way": 1})
    assert any("one way holds one device" in message for message in stops(solve_document(job)["nodes"]["mdp"]))
    inverter = {"id": "i", "kind": "inverter", "parent": "mdp", "load": {"rating": "45 kW", "phases": 3}}
    job = job_with({"rating": "1 kVA"})
    job["nodes"].append(inverter)
    # 45 kW / (√3 × 208 V) = 124.9 A back through a feeder of 15 A
    assert any("124.9 A can flow back" in message for message in stops(solve_document(job)["nodes"]["mdp"]))


def test_a_local_least_size_is_no_reason_for_a_small_equipment_conductor():
    """250.122(B): 10 AWG where 14 would do: 14 × 10,380 / 4110 cmil, 10 AWG too."""
    least = {"limit": "least_size_cu", "value": "10", "reason": "county rule"}
    node = solved({"rating": "10 A"}, amendments=[least])["n0"]
    assert (node["conductor"]["size"], node["equipment_ground"]["size"]) == ("10", "10")


def test_heat_of_houses_taken_together():
    """Lock-outs are each house's own: 3 houses of a 5 kW pump locked out with 8 kW, 3 of 6 kW with 4 kW."""

    def house(pump, supplement):
        heating = [
            {"kind": "heat_pump", "load": f"{pump} kW"},
            {"kind": "heat_pump_supplement", "load": f"{supplement} kW", "locked_out": True},
        ]
        return {"floor_area": 900, "occupancy": "unit", "heating": heating, "cooking": [{"load": "8 kW"}]}

    homes = [house(5, 8)] * 3 + [house(6, 4)] * 3
    found = solved(*homes, system=SPLIT, book="NEC 2023", board={"dwellings": "optional"})["mdp"]
    standard = solved(*homes, system=SPLIT, book="NEC 2023")["mdp"]
    alone = solved(*[{**each, "heating": []} for each in homes], system=SPLIT, book="NEC 2023")["mdp"]
    # and 25 % of the largest compressor that runs, 6 kW
    assert standard["demand_va"] - alone["demand_va"] == pytest.approx(3 * 8000 + 3 * 6000 + 1500)
    # each: 2700 + 4500 + 8000; heat 8 and 6 kW; Table 220.84 for 6: 44 %
    assert found["demand_va"] == pytest.approx(0.44 * (6 * 15_200 + 3 * 8000 + 3 * 6000))
