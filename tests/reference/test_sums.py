"""What rules sum is summed over all that they reach: in one place and spread over boards it is the same.

Expected values are reckoned here from the clauses named, never by the engine.
"""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document

BOOK = "NEC 2023"


def job(*nodes, system="120/240 1ph 3w", book=BOOK):
    source = {"id": "src", "kind": "source", "system": system}
    return {
        "format": "voltaje-job",
        "version": 1,
        "name": "S",
        "book": book,
        "terminals": "75",
        "nodes": [source, *nodes],
    }


def board(key, parent="src", device=0, **more):
    pins = {"pins": {"device_a": device}} if device else {}
    return {"id": key, "kind": "board", "parent": parent, "run": {"length": "10 ft", **pins}, **more}


def load(key, parent, kind="load", **entries):
    return {
        "id": key,
        "kind": kind,
        "parent": parent,
        "load": {"kind": "general", **entries},
        "run": {"length": "20 ft"},
    }


def said(node, code):
    return [found for found in node["findings"] if found["code"] == code]


def nodes_of(*nodes, **more):
    return solve_document(job(*nodes, **more))["nodes"]


# What feeds back: NEC 705.12(B)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.integers(500, 6_000), min_size=1, max_size=4), st.integers(0, 2), st.sampled_from([100, 200, 225]))
def test_a_bus_is_held_against_all_inverters_below_it(watts, depth, bus):
    """125 % of their sum and the main, within 120 % of the bus; on the board itself or however far below."""
    chain = [board("m", device=bus, main_a=bus, bus_a=bus)]
    chain += [board(f"d{at}", f"d{at - 1}" if at else "m", device=100) for at in range(depth)]
    where = f"d{depth - 1}" if depth else "m"
    inverters = [load(f"i{at}", where, "inverter", rating=f"{each} W", poles=2) for at, each in enumerate(watts)]
    big = load("x", "m", rating="40 kVA", poles=2)  # more devices than the bus: the other way of the rule is closed
    found = said(nodes_of(*chain, *inverters, big)["m"], "inverter.busbar")
    need = 1.25 * sum(watts) / 240 + bus
    assert any(each["severity"] == "stop" for each in found) == (need > 1.2 * bus + 1e-6)


def test_two_inverters_of_half_are_judged_as_one_of_the_whole():
    whole = [load("i", "m", "inverter", rating="11.4 kW", poles=2)]
    halves = [load(f"i{at}", "m", "inverter", rating="5.7 kW", poles=2) for at in range(2)]
    main, big = board("m", device=200, main_a=200, bus_a=200), load("x", "m", rating="40 kVA", poles=2)
    one, two = (said(nodes_of(main, *each, big)["m"], "inverter.busbar") for each in (whole, halves))
    assert [each["message"] for each in one] == [each["message"] for each in two]
    assert "259.4" not in one[0]["message"]
    assert "216.1 A" in one[0]["message"]  # (1.25 × 47.5 + 200) / 1.2


@pytest.mark.parametrize(("kw", "over"), [(30, False), (44.9, False), (50, True), (60, True)])
def test_what_goes_back_through_a_transformer_is_held_against_it(kw, over):
    """50 kW through 45 kVA is 111 % of it; its device and conductors hold 125 % of √3-th of that, or it is a stop."""
    unit = {
        "id": "t",
        "kind": "transformer",
        "parent": "m",
        "run": {"length": "20 ft"},
        "transformer": {"kva": 45, "secondary": "208Y/120", "impedance_percent": 4},
    }
    sun, oven = load("i", "p", "inverter", rating=f"{kw} kW", phases=3), load("x", "p", rating="15 kVA", phases=3)
    found = nodes_of(board("m"), unit, board("p", "t", device=200), sun, oven, system="480Y/277")["t"]
    assert bool(said(found, "transformer.fed_back")) == over
    need = 1.25 * kw * 1000 / (math.sqrt(3) * 480)
    stopped = said(found, "run.fed_back")[0]["severity"] == "stop"
    assert stopped == (need > min(found["device_a"], found["ampacity_a"]) + 1e-6)


# Behind a transformer: NEC 450.3(B) note 2


@pytest.mark.parametrize(
    ("devices", "stops"), [([100] * 3, 0), ([60, 60, 60, 60, 60], 0), ([100] * 4, 1), ([40] * 7, 1)]
)
def test_devices_behind_a_transformer_are_summed(devices, stops):
    """75 kVA at 208 V: 208.2 A, 125 % is 260, the next rating 300 A in all; six at most."""
    unit = {
        "id": "t",
        "kind": "transformer",
        "parent": "m",
        "run": {"length": "20 ft"},
        "transformer": {"kva": 75, "secondary": "208Y/120", "impedance_percent": 3},
    }
    boards = [board(f"p{at}", "t", device=each) for at, each in enumerate(devices)]
    loads = [load(f"x{at}", f"p{at}", rating="4 kVA", phases=3) for at in range(len(devices))]
    found = nodes_of(board("m"), unit, *boards, *loads, system="480Y/277")["t"]
    assert len([each for each in said(found, "transformer.device") if each["severity"] == "stop"]) == stops


# Loads: NEC 220.57, 230.79, 430.24, 430.62


@pytest.mark.parametrize("spread", [False, True])
@pytest.mark.parametrize(("amps", "each"), [(16, 7_200), (30, 7_200), (40, 9_600)])
def test_a_charger_counts_at_least_7200_on_whatever_board(spread, amps, each):
    boards = [board("m"), *([board("a", "m"), board("b", "a")] if spread else [])]
    where = ("b", "a") if spread else ("m", "m")
    loads = [load(f"e{at}", on, kind="load", rating=f"{amps} A", poles=2) for at, on in enumerate(where)]
    for one in loads:
        one["load"]["kind"] = "charger"
    assert nodes_of(*boards, *loads)["m"]["demand_va"] == pytest.approx(2 * each)


@pytest.mark.parametrize(("circuits", "device", "size"), [(1, 15, "14"), (2, 30, "10"), (3, 60, "6"), (9, 60, "6")])
@pytest.mark.parametrize("spread", [False, True])
def test_a_service_has_a_least_rating_by_its_circuits(circuits, device, size, spread):
    boards = [board("m"), *([board("a", "m")] if spread else [])]
    loads = [load(f"x{at}", "a" if spread else "m", rating="300 VA") for at in range(circuits)]
    found = nodes_of(*boards, *loads)["m"]
    assert (found["device_a"], found["conductor"]["size"]) == (device, size)


def test_a_feeder_of_motors_is_reckoned_once():
    """65 + 40 + 14 A: conductors 1.25 × 65 + 54 = 135.25; device 175 + 54 = 229, so 225, lawful on 1/0 of 150 A."""
    motors = [load(f"x{hp}", "p", rating=f"{hp} hp", phases=3) for hp in (50, 30, 10)]
    feeder = board("p", "m", device=225)
    feeder["run"]["pins"]["size"] = "1/0"
    answer = solve_document(job(board("m"), feeder, *motors, system="480Y/277"), "p")
    steps = {step["label"]: step["value"] for step in answer["nodes"]["p"]["steps"]}
    assert steps["Feeder conductors, at least"] == pytest.approx(135.25)
    assert steps["Largest branch device and the other currents"] == pytest.approx(229)
    assert not [each for each in answer["nodes"]["p"]["findings"] if each["severity"] == "stop"]
    feeder["run"]["pins"]["device_a"] = 250
    over = solve_document(job(board("m"), feeder, *motors, system="480Y/277"))["nodes"]["p"]["findings"]
    assert any(each["severity"] == "stop" for each in over)


# One question, one answer: the sheet and the path


@pytest.mark.parametrize(("kw", "amps"), [(7.5, 14), (5.5, 11), (11, 21), (18.5, 34), (22, 40)])
def test_metric_motors_under_the_nec_are_the_horsepower_they_are_sold_as(kw, amps):
    """Table 430.250 at 460 V: 7½ hp 11, 10 hp 14, 15 hp 21, 25 hp 34, 30 hp 40 A."""
    node = nodes_of(
        board("m"),
        {**load("x", "m", rating=f"{kw} kW", phases=3)}
        | {"load": {"kind": "motor", "rating": f"{kw} kW", "phases": 3}},
        system="480Y/277",
    )["x"]
    sheet = tools()["motor-branch"].run({"book": BOOK, "kw": kw, "volts": 460, "phases": 3})["result"]
    assert node["amps"]["L1"] == pytest.approx(amps) == sheet["flc_a"]


@pytest.mark.parametrize("kw", [0.75, 2.2, 7.5, 9.3, 22, 90])
def test_a_motors_kilowatts_are_its_shafts_in_sheet_and_path(kw):
    motor = {"kind": "motor", "rating": f"{kw} kW", "phases": 3}
    node = nodes_of(board("m"), {**load("x", "m"), "load": motor}, system="230/400", book="BS 7671")["x"]
    sheet = tools()["motor-branch"].run({"book": "BS 7671", "kw": kw, "volts": 400, "phases": 3})["result"]
    assert node["amps"]["L1"] == pytest.approx(sheet["flc_a"])
    assert node["amps"]["L1"] > kw * 1000 / (math.sqrt(3) * 400)  # more than at a power factor of 1, without losses
    plate = {**motor, "nameplate_a": "20 A"}
    named = nodes_of(board("m"), {**load("x", "m"), "load": plate}, system="230/400", book="BS 7671")
    assert named["x"]["amps"]["L1"] == named["m"]["amps"]["L1"] == pytest.approx(20)


@pytest.mark.parametrize("kva", [0.05, 0.1, 0.25, 0.5, 1, 1.5, 2, 3, 5, 10])
def test_a_small_transformer_has_one_device_on_sheet_and_path(kva):
    """Table 450.3(B): under 2 A 300 %, under 9 A 167 %, else 125 % and the next rating up; 240.6(A) between them."""
    amps = kva * 1000 / 480
    limit = amps * (3 if amps < 2 else 1.67 if amps < 9 else 1.25)
    sheet = tools()["transformer"].run(
        {
            "book": BOOK,
            "kva": kva,
            "phases": 1,
            "primary_v": 480,
            "secondary_v": 120,
            "connection": "2-wire",
            "protection": "primary_only",
        }
    )["result"]
    unit = {
        "id": "t",
        "kind": "transformer",
        "parent": "m",
        "legs": ["L1", "L2"],
        "run": {"length": "10 ft"},
        "transformer": {"kva": kva, "secondary": "120 1ph", "protection": "primary_only"},
    }
    node = nodes_of(board("m"), unit, load("x", "t", rating=f"{kva * 500} VA"), system="480Y/277")["t"]
    assert node["device_a"] == sheet["primary_device_a"]
    assert amps <= sheet["primary_device_a"] <= sheet["primary_device_max_a"]
    assert sheet["primary_device_max_a"] <= limit + 1e-6 or amps >= 9


# Windings that are no wye


def test_the_common_line_of_an_open_delta_takes_root_three_in_a_fault():
    """|Vbc − Vab| / Z = √3 × 240 / (0.03 × 240² / 25,000); three such units let the same through."""
    fault = math.sqrt(3) * 25_000 / 0.03 / 240
    for units in (2, 3):
        spec = {
            "kva": 25,
            "secondary": "240 3ph",
            "made_as": "bank",
            "units": units,
            "unit_primary_v": 480,
            "unit_secondary_v": 240,
            "impedance_percent": 3,
        }
        spec |= {"connection": "Dd"} if units > 2 else {}
        unit = {"id": "t", "kind": "transformer", "parent": "m", "run": {"length": "0 ft"}, "transformer": spec}
        node = nodes_of(board("m"), unit, board("p", "t"), load("x", "p", rating="1 kVA", phases=3), system="480 3ph")[
            "t"
        ]
        assert node["transformer"]["short_circuit_a"] == pytest.approx(fault, rel=1e-3)


@pytest.mark.parametrize(
    ("three", "single", "over"), [(30, 30, True), (30, 15, False), (60, 0, False), (0, 37.4, False), (0, 37.7, True)]
)
@pytest.mark.parametrize("secondary", ["240/120 high-leg", "240 3ph"])
def test_a_delta_is_held_by_the_winding_that_carries_the_most(three, single, over, secondary):
    """Two thirds of what stands across a winding, and its third of the rest: of 75 kVA each holds 25."""
    loads = [load("a", "p", rating=f"{three} kVA", phases=3)] if three else []
    loads += [load("b", "p", rating=f"{single} kVA", legs=["L1", "L3"])] if single else []
    unit = {
        "id": "t",
        "kind": "transformer",
        "parent": "m",
        "run": {"length": "10 ft"},
        "transformer": {"kva": 75, "secondary": secondary, "impedance_percent": 3},
    }
    node = nodes_of(board("m"), unit, board("p", "t"), *loads, system="480 3ph")["t"]
    assert bool(said(node, "transformer.winding_overloaded")) == over
    assert (2 * single / 3 + three / 3 > 25) == over


def test_an_autotransformers_winding_is_held_against_its_own_amperes():
    """500 VA, 240/24: the 24 V winding holds 20.8 A; 22.7 of 5,200 VA at 228.8 V are 109 %."""
    auto = {"high_v": 240, "low_v": 24, "kva": 0.5, "from_v": 208, "to_v": 230, "load_va": "5.2 kVA"}
    answer = tools()["autotransformer"].run(auto)
    assert [each["percent"] for each in answer["result"]["windings"]] == pytest.approx([109.1, 109.1], abs=0.1)
    assert said(answer, "auto.overloaded")
    assert not said(tools()["autotransformer"].run({**auto, "load_va": "4.7 kVA"}), "auto.overloaded")


# Services: NEC 230.71, 230.95


@pytest.mark.parametrize(
    ("amps", "system", "told"),
    [(1_000, "480Y/277", True), (800, "480Y/277", False), (1_200, "208Y/120", False), (1_000, "480 3ph", False)],
)
def test_a_large_wye_service_has_ground_fault_protection(amps, system, told):
    """1,000 A and over, a solidly grounded wye of over 150 V to ground."""
    node = nodes_of(board("m", device=amps), load("x", "m", rating=f"{amps * 0.7} A", phases=3), system=system)["m"]
    assert bool(said(node, "service.ground_fault")) == told


@pytest.mark.parametrize("number", [6, 7])
def test_six_disconnects_at_most_stand_on_one_supply(number):
    boards = [board(f"m{at}") for at in range(number)]
    loads = [load(f"x{at}", f"m{at}", rating="2 kVA", poles=2) for at in range(number)]
    assert bool(said(nodes_of(*boards, *loads)["src"], "service.disconnects")) == (number > 6)


@pytest.mark.parametrize(("main", "stopped"), [(100, False), (300, False), (400, True)])
def test_the_main_behind_a_transformer_is_its_device(main, stopped):
    """Of 75 kVA at 208 V: 208.2 A, 125 % and the next rating: 300 A; its conductors hold what the main lets through."""
    unit = {
        "id": "t",
        "kind": "transformer",
        "parent": "m",
        "run": {"length": "20 ft"},
        "transformer": {"kva": 75, "secondary": "208Y/120"},
    }
    answer = nodes_of(
        board("m"), unit, board("p", "t", main_a=main), load("x", "p", rating="9 kVA", phases=3), system="480Y/277"
    )
    assert answer["p"]["device_a"] == main <= answer["p"]["ampacity_a"]
    assert any(each["severity"] == "stop" for each in said(answer["p"], "transformer.device")) == stopped


@pytest.mark.parametrize(("feeder", "trips"), [(100, False), (90, True), (60, True)])
def test_switching_on_is_held_against_every_device_above(feeder, trips):
    """45 kVA at 480 V: 54.1 A, 18 times that is 974 A for an instant; a breaker stays in up to ten times itself."""
    unit = {
        "id": "t",
        "kind": "transformer",
        "parent": "b",
        "run": {"length": "20 ft"},
        "transformer": {"kva": 45, "secondary": "208Y/120", "inrush_multiple": 18},
    }
    boards = [board("m", device=400), board("a", "m", device=feeder), board("b", "a", device=100)]
    node = nodes_of(*boards, unit, board("p", "t"), load("x", "p", rating="12 kVA", phases=3), system="480Y/277")["t"]
    assert 18 * 45_000 / math.sqrt(3) / 480 == pytest.approx(974.3, abs=0.1)
    assert bool([each for each in said(node, "transformer.inrush") if "at a" in each["message"]]) == trips


def test_a_star_primary_of_a_star_secondary_has_its_neutral():
    """Yyn, 12 kVA from one line to neutral at 208Y/120: 12,000 / 277 = 43.3 A by the neutral of the primary."""
    for connection, brought in (("Yyn", True), ("Dyn", False)):
        unit = {
            "id": "t",
            "kind": "transformer",
            "parent": "m",
            "run": {"length": "20 ft"},
            "transformer": {"kva": 75, "secondary": "208Y/120", "connection": connection},
        }
        node = nodes_of(board("m"), unit, board("p", "t"), load("x", "p", rating="12 kVA"), system="480Y/277")["t"]
        assert bool(node["neutral"]) == brought
        assert node["neutral_a"] == pytest.approx(12_000 / 277 if brought else 0, abs=0.1)


@pytest.mark.parametrize(("ratings", "told"), [(("16 A", "16 A"), False), (("16 A", "32 A"), True)])
def test_unlike_devices_on_one_neutral_are_told_on_the_path_as_on_the_sheet(ratings, told):
    loads = [
        load(f"x{at}", "m", rating=each, legs=[f"L{at + 1}"], neutral_group="g") for at, each in enumerate(ratings)
    ]
    nodes = nodes_of(board("m"), *loads)
    assert [bool(said(nodes[f"x{at}"], "neutral.unlike_devices")) for at in range(2)] == [told, told]
    circuits = [{"amps": 10, "leg": f"L{at + 1}", "device_a": nodes[f"x{at}"]["device_a"]} for at in range(2)]
    sheet = tools()["neutral-current"].run({"system": "120/240 1ph 3w", "circuits": circuits})
    assert bool(said(sheet, "neutral.unlike_devices")) == told


@pytest.mark.parametrize(
    ("amps", "size", "stopped"), [(60, "14", True), (20, "12", False), (115, "2", False), (131, "2", True)]
)
def test_a_drop_sheet_looks_at_the_ampacity(amps, size, stopped):
    """Table 310.16 at terminals not marked, 110.14(C): 14 AWG 15 A, 12 AWG 20 A at 60 °C, 2 AWG 115 A at 75 °C."""
    asked = {"volts": 240, "segments": [{"amps": amps, "size": size, "length": "3 ft"}]}
    assert bool(said(tools()["voltage-drop"].run(asked), "drop.over_ampacity")) == stopped


@pytest.mark.parametrize(
    ("name", "kind", "article"),
    [
        ("Fire pump 30 hp", "motor", "695"),
        ("Freight elevator", "motor", "620"),
        ("Generator 100 kW", "general", "445"),
        ("Arc welder", "general", "630"),
        ("Fire pump room lights", "lighting", ""),
        ("Lifting table", "motor", ""),
    ],
)
def test_what_has_rules_of_its_own_says_that_they_are_not_covered(name, kind, article):
    node = {**load("x", "m", rating="10 kVA", phases=3), "name": name}
    node["load"]["kind"] = kind
    found = said(nodes_of(board("m"), node, system="480Y/277")["x"], "load.own_rules")
    assert [f"article {article} " in each["message"] for each in found] == ([True] if article else [])


def test_a_feeder_of_motors_that_is_pinned_too_small_is_told_and_takes_nothing_down():
    """5 hp at 230 V single phase draws 28 A: with a 12 kW range behind 60 A more than that is needed."""
    small = [board("m"), board("a", "m", device=60), load("r", "a", rating="12 kW", poles=2)]
    pump = load("c", "a", rating="5 hp", phases=1, poles=2)
    pump["load"]["kind"] = "motor"
    found = nodes_of(*small, pump)
    assert "device.under_load" in {each["code"] for each in found["a"]["findings"]}
    assert found["c"]["device_a"] == 70  # 250 % of 28 A


def test_cooling_under_a_diversity_takes_no_job_down_where_no_rule_of_feeders_is_for_it():
    """Two of 900 A on a board whose diversity is a half: 900 A there, and 1,800 A if all were added up."""
    cooling = [load(f"c{at}", "m", rating="900 A", phases=3) for at in range(2)]
    for each in cooling:
        each["load"]["kind"] = "cooling"
    found = nodes_of(board("m", diversity=0.5), *cooling, system="230/400", book="BS 7671")
    assert found["m"]["amps"]["L1"] == pytest.approx(900)
    assert found["c0"]["device_a"] >= 900


# Offices and lighting by area: NEC 220.14(K), Table 220.42 (2023: 220.45)


def spread_over(levels, boards):
    """A chain of feeders with boards hanging from its end, each a list of nodes made for its board."""
    chain = [board(f"f{at}", f"f{at - 1}" if at else "src") for at in range(levels)]
    top = chain[-1]["id"] if chain else "src"
    made = []
    for at, (entries, loads) in enumerate(boards):
        made.append(board(f"b{at}", top, **entries))
        made += [{**each, "id": f"b{at}l{n}", "parent": f"b{at}"} for n, each in enumerate(loads)]
    return [*chain, *made]


@settings(max_examples=30, deadline=None)
@given(st.integers(5_000, 40_000), st.integers(10, 200), st.integers(1, 3), st.booleans())
def test_receptacles_of_an_office_are_held_against_its_area_wherever_they_stand(feet2, count, levels, behind):
    """10 kVA and half of the rest, or 1 VA/ft² if that is more; on another board, or behind a transformer."""
    lights = load("x", "x") | {"load": {"kind": "lighting", "rating": "100 VA", "poles": 1}}
    plugs = load("x", "x") | {"load": {"kind": "sockets", "rating": "180 VA", "count": count, "poles": 1}}
    sockets = 180 * count
    demand = min(sockets, 10_000) + max(sockets - 10_000, 0) / 2
    area = {"area": {"floor_area": feet2, "occupancy": "office"}}
    lighting = max(feet2 * 1.3, 100)  # Table 220.42(A) of 2023
    nodes = spread_over(levels, [(area, [lights]), ({}, [] if behind else [plugs])])
    if behind:
        unit = {
            "id": "t",
            "kind": "transformer",
            "parent": "b1",
            "run": {},
            "transformer": {"kva": 500, "secondary": "208Y/120", "connection": "Dyn"},
        }
        nodes += [unit, board("tb", "t"), {**plugs, "id": "tl", "parent": "tb"}]
    found = nodes_of(*nodes, system="208Y/120")
    expected = lighting + max(demand, feet2 * 1.0)
    assert found["f0"]["demand_va"] == pytest.approx(expected)
    assert found["b1"]["demand_va"] == pytest.approx(demand)  # a board without the area counts what hangs on it
    both = [{**lights, "id": "a", "parent": "one"}, {**plugs, "id": "c", "parent": "one"}]
    alone = nodes_of(board("one", **area), *both, system="208Y/120")
    assert alone["one"]["demand_va"] == pytest.approx(expected)
    if not behind:  # a transformer passes a leg's load to two lines
        assert sum(found["f0"]["amps"].values()) == pytest.approx(sum(alone["one"]["amps"].values()))


@settings(max_examples=30, deadline=None)
@given(st.lists(st.integers(2_000, 60_000), min_size=1, max_size=4), st.integers(1, 3), st.sampled_from([2017, 2023]))
def test_steps_of_lighting_are_taken_once_over_all_boards(areas, levels, edition):
    """A warehouse: the first 12.5 kVA in full, the rest at half; of all its boards together."""
    unit, book = {2017: 0.25, 2023: 1.2}[edition], f"NEC {edition}"
    boards = [({"area": {"floor_area": each, "occupancy": "warehouse"}}, []) for each in areas]
    found = nodes_of(*spread_over(levels, boards), system="208Y/120", book=book)
    whole = sum(areas) * unit
    assert found["f0"]["demand_va"] == pytest.approx(min(whole, 12_500) + max(whole - 12_500, 0) / 2)
    own = areas[0] * unit
    assert found["b0"]["demand_va"] == pytest.approx(min(own, 12_500) + max(own - 12_500, 0) / 2)


def test_a_sign_counts_beside_the_lighting_by_area():
    """220.14(F): 1200 VA at least; 3000 ft² of a shop at 1.9 VA/ft² are 5700 VA, in 2017 at 3 VA/ft² 9000 VA."""
    sign = load("n", "b", rating="800 VA", poles=1) | {"load": {"kind": "sign", "rating": "800 VA", "poles": 1}}
    lights = load("l", "b") | {"load": {"kind": "lighting", "rating": "1000 VA", "poles": 1}}
    shop = board("b", area={"floor_area": 3000, "occupancy": "store"})
    for book, by_area in (("NEC 2017", 9000), (BOOK, 5700)):
        found = nodes_of(shop, sign, lights, system="208Y/120", book=book)
        assert found["b"]["demand_va"] == pytest.approx(by_area + 1200)
        assert not said(found["b"], "demand.no_rule")
