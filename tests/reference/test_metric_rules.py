"""BS 7671 and SANS 10142-1: faults that were found from outside, each with its arithmetic and clause."""

import cmath
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.jobs import job_with, solved
from voltaje.errors import Refused
from voltaje.tools.quick import run
from voltaje.tools.read import read_walk_through
from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document

BS, SANS = "BS 7671", "SANS 10142-1"
BURIED = {"cable": "armoured", "insulation": "XLPE 90", "method": "D"}


def result(**raw):
    return run.TOOL.run({"book": BS, "volts": 230, **raw})["result"]


def said(node):
    return [found["message"] for found in node["findings"] if found["severity"] in ("stop", "warn")]


@pytest.mark.parametrize(
    ("kind", "ampacity"),
    [
        ({"cable": "armoured", "method": "C"}, 21),
        ({"cable": "armoured", "method": "E"}, 22),
        ({"cable": "multicore", "method": "E"}, 22),
    ],
)
def test_sans_cables_whose_drop_table_ends_early(kind, ampacity):
    """1.5 mm² for 20 A; 400 mm² has a current but no drop, and is not offered over a length."""
    found = result(book=SANS, amps=20, length=10, **kind)
    assert (found["conductor"]["size"], found["ampacity_a"]) == ("1.5", ampacity)
    assert found["options"]
    node = solved({"rating": "20 A", "run": {"length": 10, **kind}}, book=SANS, system="230/400")["n0"]
    assert node["conductor"]["size"] == "1.5"


def test_one_buried_circuit_is_not_reduced_and_several_touch_unless_said():
    """Tables 4C2, B.52.18: 1 for one, 0.65 for three touching; 0.75 in touching ducts; trays are not in the ground."""
    cc = 0.9  # BS 7671 433.1.203
    for arrangement in ({}, {"arrangement": "buried touching"}):
        assert result(amps=20, **BURIED, **arrangement)["factor"] == pytest.approx(cc)
        assert result(amps=20, **BURIED, **arrangement, bundled=3)["factor"] == pytest.approx(0.65 * cc)
    ducts = {"arrangement": "buried ducts touching", "bundled": 3}
    assert result(amps=20, **BURIED, **ducts)["factor"] == pytest.approx(0.75 * cc)
    for method, arrangement in (("D", "tray"), ("D", "bunched"), ("C", "buried touching")):
        with pytest.raises(Refused) as refused:
            result(amps=20, **{**BURIED, "method": method}, arrangement=arrangement, bundled=2)
        assert refused.value.field == "arrangement"


def test_factors_of_its_own():
    """4B1: 1.03 and 1.02 at 25 °C, no more below; the IEC's 1.06. 40 A buried: 6 mm² 44 × 0.9 = 39.6, so 10 mm²."""
    assert result(amps=20, ambient_c=25)["factor"] == result(amps=20, ambient_c=15)["factor"] == 1.03
    assert result(amps=20, ambient_c=25, insulation="XLPE 90")["factor"] == 1.02
    assert result(book=SANS, amps=20, ambient_c=25)["factor"] == 1.06
    assert result(amps=40, volts=400, phases=3, **BURIED)["conductor"]["size"] == "10"
    assert result(book=SANS, amps=40, volts=400, phases=3, **BURIED)["conductor"]["size"] == "6"
    fused = result(amps=20, rewireable_fuse=True, **BURIED)
    assert fused["factor"] == pytest.approx(0.725 * 0.9)  # 0.653


def test_tables_of_single_cores():
    """4E1B: 390 A, 50 m, 240 mm² by B: 0.29 × 390 × 50 = 5.66 V. 4D1B C and F: 185 mm² 0.29. 4E1A: 1.5 mm² 25 A."""
    singles = {"cable": "singles", "insulation": "XLPE 90"}
    found = result(amps=390, volts=400, phases=3, length=50, method="B", size="240", **singles)
    assert found["drop_v"] == pytest.approx(0.29 * 390 * 50 / 1000)
    flat = result(amps=300, length=50, method="F", cable="singles", size="185", insulation="PVC 70")
    assert flat["drop_v"] == pytest.approx(0.29 * 300 * 50 / 1000)
    assert result(amps=10, method="C", size="1.5", **singles)["ampacity_a"] == 25
    assert result(amps=90, method="F", cable="singles")["equipment_ground"]["size"] == "16"  # Table 54.7


def test_more_than_nine_circuits_and_cables_in_parallel():
    """4C1: 0.72 on a tray, 0.70 on a wall from nine on. Two cables in parallel are two: 0.8 × 2 × 96 = 154 < 160 A."""
    assert result(amps=20, arrangement="tray", bundled=10)["factor"] == 0.72
    assert result(amps=20, arrangement="wall", bundled=25)["factor"] == 0.70
    found = result(amps=150, volts=400, phases=3, sets=2)
    assert (found["factor"], found["conductor"]["size"]) == (0.8, "35")


def test_rewireable_ratings_and_small_lighting():
    """BS 3036: 5, 15, 20, 30, 45, 60, 100 A. 1 mm² serves lighting (Table 52.3), where a person asks for it."""
    assert result(amps=28, rewireable_fuse=True)["device_a"] == 30
    assert result(amps=5, use="lighting", size="1")["ampacity_a"] == 15
    assert result(amps=5, use="lighting")["conductor"]["size"] == "1.5"
    with pytest.raises(Refused):
        result(amps=5, size="1")


def test_final_circuits_of_a_private_supply():
    """Appendix 4, 6.4: 20 A, 2.5 mm², 36 m: 18 × 20 × 36 = 12.96 V, 5.63 %, over the 5 % of a final circuit."""
    answer = run.TOOL.run({"book": BS, "amps": 20, "volts": 230, "size": "2.5", "length": 36, "supply": "private"})
    assert answer["result"]["drop_percent"] == pytest.approx(5.635, abs=0.001)
    assert any("over 5 %" in found["message"] for found in answer["findings"])


def test_the_longest_run_holds_at_its_own_length():
    """10 A, 4 mm²: 11 × 10 × L / 1000 = (5 + 0.005 (L − 100)) % of 230 V at L = 105.1 m."""
    longest = result(amps=10, size="4", length=200)["longest"]
    assert longest == pytest.approx(105.1, abs=0.05)
    for length, over in ((longest * 0.999, False), (longest * 1.001, True)):
        answer = run.TOOL.run({"book": BS, "amps": 10, "volts": 230, "size": "4", "length": length})
        assert any("over" in found["message"] for found in answer["findings"]) == over


def test_shared_neutrals_and_pins_and_diversity():
    """314.4: none at all. A pinned 33 A is no rating. 311.1: a board's 16 A device under its 32 A circuit."""
    pair = [{"rating": "10 A", "legs": [leg], "neutral_group": "A"} for leg in ("L1", "L2")]
    assert any(
        "neutral of its own" in str(found["mend"])
        for found in solved(*pair, book=BS, system="230/400")["n1"]["findings"]
    )
    assert not said(solved(*pair, book=SANS, system="230/400", length=9)["n1"])
    pinned = {"rating": "20 A", "run": {"length": 9, "pins": {"device_a": 33, "reason": "in the van"}}}
    assert any("not a standard rating" in message for message in said(solved(pinned, book=BS, system="230/400")["n0"]))
    charger = {"kind": "charger", "rating": "32 A", "diversity": 0.5}
    assert any("smaller than that of" in message for message in said(solved(charger, book=BS, system="230 1ph")["mdp"]))


def test_citations_name_one_book():
    job = job_with(
        {"rating": "20 A", "run": {"length": 20, "cable": "armoured", "method": "C"}}, book=SANS, system="230/400"
    )
    steps = solve_document(job, "n0")["nodes"]["n0"]["steps"]
    rules = {step["rule"] for step in steps}
    assert "BS 7671 Table 4D4A" in rules
    assert not any("SANS" in rule and "BS 7671" in rule for rule in rules if rule)
    board = solve_document({**job, "book": BS}, "mdp")["nodes"]["mdp"]["steps"]
    (demand,) = [step for step in board if step["label"] == "Demand"]
    assert demand["rule"].endswith("311.1")
    assert any("4C1" in str(step["rule"]) or "Appendix 4" in str(step["rule"]) for step in board)


def load_of(line):
    return read_walk_through(line, BS)["items"][0]["nodes"][0]["load"]


def test_a_circuit_with_a_rating_is_no_way():
    assert load_of("cooker circuit 32 A 10 m")["rating"] == "32 A"
    assert "way" not in load_of("20 A plug circuit 25 m")
    assert load_of("light circuit 7 6 A 10 m")["way"] == 7
    assert load_of("heater 9 kW L1-L2-L3 10 m")["phases"] == 3


def test_drop_is_judged_at_boards_whose_loads_have_no_length():
    """SANS 6.2.7: 30 A over 60 m of 4 mm², 9.5 × 30 × 60 = 17.1 V, 4.28 %, twice in a row: 8.55 %, over 5 %."""
    job = job_with(book=SANS, system="230/400")
    job["nodes"][1]["run"] = {"length": 60}
    job["nodes"] += [
        {"id": "c", "kind": "board", "parent": "mdp", "run": {"length": 60}},
        {"id": "x", "kind": "load", "parent": "c", "load": {"rating": "30 A", "phases": 3}},
    ]
    nodes = solve_document(job)["nodes"]
    assert nodes["c"]["drop_percent"] == pytest.approx(2 * 9.5 * 30 * 60 / 1000 / 400 * 100)
    assert any(found["severity"] == "stop" for found in nodes["c"]["findings"])


def test_a_neutral_that_carries_more_than_its_lines():
    """60 A lagging 36.9° on L1 and 60 A on L2: 2 × 60 × cos 41.6° = 89.8 A; 16 mm² has 76 A, 25 mm² 96 A."""
    loads = [{"rating": "60 A", "legs": ["L1"], "power_factor": 0.8}, {"rating": "60 A", "legs": ["L2"]}]
    board = solved(*loads, book=BS, system="230/400", length=10)["mdp"]
    assert board["neutral_a"] == pytest.approx(2 * 60 * math.cos(math.radians(41.565)), abs=0.05)
    assert (board["conductor"]["size"], board["neutral"]["size"]) == ("16", "25")


@pytest.mark.parametrize(
    ("share", "size"),
    [
        (0.1, "16"),  # up to 15 %: 76 A for 63 A
        (0.3, "16"),  # 0.86 × 76 = 65.4 A
        (0.4, "25"),  # on the neutral 1.2 × 60 = 72 A; 0.86 × 76 falls short, 0.86 × 96 = 82.6 A
        (0.5, "25"),  # on the neutral 1.5 × 60 = 90 A, on 96 A
    ],
)
def test_third_harmonics_on_the_neutral(share, size):
    """IEC 60364-5-52 Table E.52.1, four-core cables; the share that is nonlinear is taken as third harmonic."""
    legs = [{"rating": "60 A", "legs": [leg], "nonlinear": share} for leg in ("L1", "L2", "L3")]
    assert solved(*legs, book=BS, system="230/400", length=10)["mdp"]["conductor"]["size"] == size


def test_one_load_without_a_rule_never_takes_the_job_down():
    """An American dwelling has no sheet here."""
    nodes = solved({"floor_area": 900}, {"rating": "10 A"}, book=BS, system="230/400")
    assert any("not known" in message for message in said(nodes["n0"]))
    assert nodes["n1"]["device_a"] == 10
    assert nodes["mdp"]["device_a"] == 10


def test_half_of_a_single_phase_figure_is_one_conductors_part():
    """One leg alone on a four-wire board drops what a single-phase circuit of that cable does, line and neutral."""
    alone = solved({"rating": "30 A", "legs": ["L1"]}, book=BS, system="230/400", length=40)["mdp"]
    circuit = result(amps=30, length=40, size=alone["conductor"]["size"])
    assert alone["drop_percent"] == pytest.approx(circuit["drop_percent"])


# BS 7671 Table 4D2A, three-core cables by method C, 70 °C; ratings of BS EN 60898 and of gG fuses.
METHOD_C = {"1.5": 17.5, "2.5": 24, "4": 32, "6": 41, "10": 57, "16": 76, "25": 96, "35": 119, "50": 144, "70": 184}
RATINGS = [6, 8, 10, 13, 16, 20, 25, 32, 40, 45, 50, 63, 80, 100, 125, 160]
ANGLES = {"L1": 0, "L2": -120, "L3": 120}


def metric_oracle(loads, diversity):
    """Ib of each leg by the designer's diversity; In not under it; Iz not under In (311.1, 433.1.1)."""
    total = dict.fromkeys(ANGLES, 0j)
    for va, legs, share in loads:
        for leg in legs:
            volts = 230 if len(legs) == 1 else 400 * math.sqrt(3)
            total[leg] += cmath.rect(va * share * diversity / volts, math.radians(ANGLES[leg]))
    amps = {leg: abs(each) for leg, each in total.items()}
    device = next(rating for rating in RATINGS if rating >= max(amps.values()) - 1e-6)
    return amps, device, next(size for size, carries in METHOD_C.items() if carries >= device)


@settings(max_examples=80, deadline=None)
@given(
    st.lists(
        st.tuples(
            st.integers(100, 5000),
            st.sampled_from([("L1",), ("L2",), ("L3",), ("L1", "L2", "L3")]),
            st.sampled_from([1, 0.5]),
        ),
        min_size=1,
        max_size=9,
    ),
    st.sampled_from([1, 0.8, 0.6]),
)
def test_random_boards_by_coordination(loads, diversity):
    """A board, and one above it that feeds nothing else: what is not reduced there is the same."""
    entered = [{"rating": f"{va} VA", "legs": list(legs), "diversity": share} for va, legs, share in loads]
    job = job_with(*entered, book=BS, system="230/400", length=1, board={"diversity": diversity})
    job["nodes"].insert(1, {"id": "main", "kind": "board", "parent": "src", "run": {"length": 1}})
    job["nodes"][2]["parent"] = "main"
    amps, device, size = metric_oracle(loads, diversity)
    nodes = solve_document(job)["nodes"]
    for board in (nodes["mdp"], nodes["main"]):
        assert board["amps"] == pytest.approx(amps, abs=1e-6)
        assert (board["device_a"], board["conductor"]["size"]) == (device, size)


# What 230/400 V work asks for its safety; standards from memory


def british(*nodes, system="230/400", **supply):
    source = {"id": "src", "kind": "source", "system": system, "supply": supply}
    job = {"format": "voltaje-job", "version": 1, "name": "t", "book": "BS 7671", "nodes": [source, *nodes]}
    return solve_document(job)["nodes"]


def codes_of(node):
    return {each["code"] for each in node["findings"]}


@pytest.mark.parametrize(("rating", "stops"), [(6, True), (7, False)])
def test_breaking_capacity_is_held_against_cold_conductors(rating, stops):
    """434.5.1: 10 mm², 18.6 m: R20 1.83 and X 0.08 mΩ/m; with 4.6 mΩ of the source 231 / √(34.0² + 6.1²) = 6.7 kA."""
    run = {"length": "18.6 m", "pins": {"size": "10", "device_a": 50}}
    board = {"id": "b", "kind": "board", "parent": "src", "fault_ka": rating, "run": run}
    load = {"id": "l", "kind": "load", "parent": "b", "load": {"kind": "general", "rating": "20 kW", "phases": 3}}
    node = british(board, load, fault_ka=50)["b"]
    assert node["short_circuit_a"] == pytest.approx(6686, rel=0.003)
    assert ("device.interrupting" in codes_of(node)) is stops


@pytest.mark.parametrize(
    ("size", "sets", "earthing", "bonding"),
    [("120", 2, "120", "50"), ("95", 2, "95", "50"), ("16", 1, "16", "10"), ("35", 1, "16", "10")],
)
def test_lines_in_parallel_count_together_for_earthing_and_bonding(size, sets, earthing, bonding):
    """Tables 54.7 and 54.8: half of 240 mm² is 120, a neutral over 150 mm² asks for 50."""
    found = tools()["earthing"].run({"book": "BS 7671", "size": size, "sets": sets, "earthing": "TN-C-S"})["result"]
    assert (found["earthing"]["size"], found["bonding"]["size"]) == (earthing, bonding)


def test_an_earthing_conductor_is_not_under_the_bonding_it_is_in_series_with():
    """542.3.1 with 544.1.1: lines of 16 mm², a supply neutral of 70."""
    asked = {"book": "BS 7671", "size": "16", "earthing": "TN-C-S", "supply_neutral": "70"}
    found = tools()["earthing"].run(asked)["result"]
    assert found["earthing"]["size"] == found["bonding"]["size"] == "25"


def test_third_harmonics_stand_on_the_neutral():
    """Annex E: three circuits of 39 A, half of it third harmonic: 3 × 0.5 × 39 = 58.5 A."""
    loads = [
        {
            "id": f"l{at}",
            "kind": "load",
            "parent": "b",
            "load": {"kind": "lighting", "rating": "39 A", "nonlinear": 0.5, "legs": [f"L{at + 1}"]},
        }
        for at in range(3)
    ]
    board = {"id": "b", "kind": "board", "parent": "src", "run": {"length": "10 m"}}
    assert british(board, *loads)["b"]["neutral_a"] == pytest.approx(58.5)
    alone = {"id": "l", "kind": "load", "parent": "b", "load": {"kind": "general", "rating": "39 A", "phases": 3}}
    assert "load.harmonics_uncounted" not in codes_of(british(board, alone)["l"])
    alone["load"]["nonlinear"] = 0.5
    assert "load.harmonics_uncounted" in codes_of(british(board, alone)["l"])


@pytest.mark.parametrize(("amps", "hot"), [(32, True), (27, False)])
def test_a_conductor_hotter_than_its_terminals_is_told(amps, hot):
    """512.1.5: 2.5 mm² of 36 A heats to 30 + 60 (32/36)² = 77 °C, at 27 A to 64 °C."""
    asked = {
        "book": "BS 7671",
        "amps": amps,
        "volts": 230,
        "length": "10 m",
        "cable": "armoured",
        "size": "2.5",
        "insulation": "XLPE 90",
        "method": "C",
    }
    assert ("device.terminals_hot" in codes_of(tools()["run"].run(asked))) is hot


@pytest.mark.parametrize(("kilowatts", "over"), [(22, False), (30, True)])
def test_a_single_phase_ends_at_what_is_usually_given(kilowatts, over):
    board = {"id": "b", "kind": "board", "parent": "src", "run": {"length": "3 m"}}
    load = {"id": "l", "kind": "load", "parent": "b", "load": {"kind": "heating", "rating": f"{kilowatts} kW"}}
    assert ("service.single_phase" in codes_of(british(board, load, system="230 1ph")["b"])) is over


@pytest.mark.parametrize(("book", "device"), [("BS 7671", 40), ("SANS 10142-1", 40), ("NEC 2023", 40)])
def test_an_appliance_is_rated_for_its_countrys_volts_where_none_are_given(book, device):
    """7.4 kW: 32.2 A at 230 V; 30.8 A at 240 V, as continuous 38.5."""
    asked = {"book": book, "kind": "charger", "load": "7.4 kW", "length": "10 m"}
    assert tools()["appliance-branch"].run(asked)["result"]["device_a"] == device
