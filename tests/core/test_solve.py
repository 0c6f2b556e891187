"""The open job file, and a whole job solved."""

import copy
import json

import pytest

from voltaje.errors import InputError
from voltaje.formula import evaluate
from voltaje.path.document import read_job, write_job
from voltaje.samples import NAMES, sample
from voltaje.tools.solve import solve_document

JOB = {
    "format": "voltaje-job",
    "version": 1,
    "name": "Studio",
    "book": "NEC 2020",
    "terminals": "unmarked",
    "region": "US",
    "nodes": [
        {"id": "src", "kind": "source", "name": "Utility", "system": "208Y/120"},
        {"id": "mdp", "kind": "board", "parent": "src", "name": "Board", "run": {"length": "85 ft"}},
        {
            "id": "k1",
            "kind": "load",
            "parent": "mdp",
            "name": "Kiln",
            "load": {"kind": "heating", "rating": "24 kW", "phases": 3, "continuous": True},
            "run": {"length": "75 ft"},
        },
    ],
}


def changed(path, value):
    job = copy.deepcopy(JOB)
    here = job
    for key in path[:-1]:
        here = here[key]
    here[path[-1]] = value
    return job


def with_loads(*loads, book="NEC 2020", system="208Y/120", length=None):
    job = copy.deepcopy(JOB)
    job["book"], job["nodes"][0]["system"] = book, system
    job["nodes"][2:] = [
        {"id": f"n{at}", "kind": "load", "parent": "mdp", "load": load, "run": {"length": length or 50}}
        for at, load in enumerate(loads)
    ]
    return job


def test_two_circuits_on_one_way_are_told_also_where_they_have_one_name():
    sockets = {"kind": "sockets", "rating": "180 VA", "count": 4, "poles": 1, "way": 3}
    job = with_loads(sockets, sockets, {**sockets, "way": 5})
    for node in job["nodes"][2:]:
        node["name"] = "Receptacles"
    said = [
        found["message"]
        for found in solve_document(job)["nodes"]["mdp"]["findings"]
        if found["code"] == "board.way_taken"
    ]
    assert said == ["Way 3 is given to Receptacles and to Receptacles: one way holds one device."]


def test_lighting_by_area_stands_in_the_lines_of_its_own_board():
    job = with_loads({"kind": "lighting", "rating": "1 kVA", "poles": 1})
    job["nodes"][1]["area"] = {"occupancy": "office", "floor_area": "2000 ft2"}
    reasons = [step["because"] for step in solve_document(job, "mdp")["nodes"]["mdp"]["steps"]]
    assert [why for why in reasons if "for the board as a whole" in why]
    assert not [why for why in reasons if "further down" in why]


def test_a_kiln_by_hand():
    """24 000 / (√3 × 208) = 66.6 A; × 1.25 = 83.3: 90 A; 60 °C column, 3 AWG 85 A; Table 250.122: 8 AWG."""
    node = solve_document(JOB)["nodes"]["k1"]
    assert node["amps"]["L1"] == pytest.approx(24_000 / (3**0.5 * 208))
    assert (node["device_a"], node["conductor"]["size"], node["equipment_ground"]["size"]) == (90, "3", "8")
    run_drop = 3**0.5 * node["amps"]["L1"] * 75 * 0.245 / 1000 / 208 * 100
    above = solve_document(JOB)["nodes"]["mdp"]["drop_percent"]
    assert node["drop_percent"] == pytest.approx(run_drop + above)
    assert node["volts_at_node"] == pytest.approx(208 - node["drop_v"])


def test_neutral_by_imbalance():
    """30, 20 and 10 A at unity power factor leave √(900 + 400 + 100 − 600 − 200 − 300) = 17.32 A."""
    loads = [{"kind": "general", "rating": f"{a} A", "legs": [leg]} for a, leg in ((30, "L1"), (20, "L2"), (10, "L3"))]
    board = solve_document(with_loads(*loads, book="BS 7671", system="230/400"))["nodes"]["mdp"]
    assert board["neutral_a"] == pytest.approx(17.32, abs=0.005)
    assert board["amps"] == pytest.approx({"L1": 30, "L2": 20, "L3": 10})


def test_two_legs_of_a_wye_carry_their_load_in_the_neutral():
    """Equal loads to neutral on two legs 120° apart: the neutral carries what a leg carries."""
    loads = [{"kind": "general", "rating": "2400 VA", "legs": [leg]} for leg in ("L1", "L2")]
    board = solve_document(with_loads(*loads, system="208Y/120 2 legs"))["nodes"]["mdp"]
    assert board["neutral_a"] == pytest.approx(20)


def test_line_to_line_currents_on_a_split_phase_cancel_in_the_neutral():
    loads = [
        {"kind": "heating", "rating": "4.8 kW", "poles": 2},
        {"kind": "general", "rating": "1.2 kW", "legs": ["L1"]},
    ]
    board = solve_document(with_loads(*loads, system="120/240 1ph 3w"))["nodes"]["mdp"]
    assert board["amps"] == pytest.approx({"L1": 30, "L2": 20})
    assert board["neutral_a"] == pytest.approx(10)


def test_unplaced_circuits_take_legs_by_the_order_of_ways():
    one = {"kind": "general", "rating": "1200 VA"}
    nodes = solve_document(with_loads(one, one, {**one, "poles": 2}, one))["nodes"]
    assert [tuple(nodes[f"n{at}"]["amps"]) for at in range(4)] == [("L1",), ("L2",), ("L1", "L3"), ("L2",)]


def test_diversity_is_the_designers_and_runs_down_to_the_source():
    job = with_loads(
        {"kind": "general", "rating": "10 kVA", "phases": 3, "diversity": 0.8}, book="BS 7671", system="230/400"
    )
    job["nodes"][1]["diversity"] = 0.5
    nodes = solve_document(job)["nodes"]
    assert nodes["mdp"]["demand_va"] == nodes["src"]["demand_va"] == pytest.approx(4000)
    assert any("less than its largest circuit" in finding["message"] for finding in nodes["mdp"]["findings"])
    assert any("not proven" in finding["message"] for finding in solve_document(job)["findings"])


def test_what_is_not_sized_says_so():
    job = with_loads({"kind": "motor", "rating": "5 hp", "phases": 3, "count": 2})
    node = solve_document(job)["nodes"][job["nodes"][-1]["id"]]
    assert node["device_a"] is None
    assert node["amps"]
    assert [f["severity"] for f in node["findings"] if "Not sized" in f["message"]] == ["stop"]


def test_the_transformer_of_the_pottery_is_sized_and_its_secondary_is_lawful():
    """150 kVA at 480 V: 180.4 A × 125 % = 225.5, 250 A on 4/0; 500 A behind it on 510 A, 20 ft: 240.21(C)(6)."""
    nodes = solve_document(sample("cinder-lane"))["nodes"]
    assert (nodes["t1"]["device_a"], nodes["t1"]["conductor"]["size"]) == (250, "4/0")
    assert nodes["t1"]["transformer"]["secondary"][0]["secondary_rule"] == "240.21(C)(6)"
    assert nodes["t1"]["transformer"]["secondary"][0]["bonding_jumper"] == "1/0"
    far = sample("cinder-lane")
    next(node for node in far["nodes"] if node["id"] == "mdp")["run"]["length"] = "40 ft"
    codes = [each["code"] for each in solve_document(far)["nodes"]["mdp"]["findings"]]
    assert "transformer.secondary_length" in codes


def test_motors_and_inverters_of_the_pottery_are_sized():
    """15 hp at 208 V: 46.2 A, × 1.25 = 57.75 on 6 AWG, 250 % = 115.5, 125 A. 15 kVA: 41.6 A × 1.25 = 52.04, 60 A."""
    nodes = solve_document(sample("cinder-lane"))["nodes"]
    assert (nodes["air"]["device_a"], nodes["air"]["conductor"]["size"]) == (125, "6")
    assert nodes["air"]["motor"]["overload_max_a"] == pytest.approx(1.3 * 46.2)
    assert (nodes["inv"]["device_a"], nodes["inv"]["conductor"]["size"]) == (60, "6")


@pytest.mark.parametrize("name", NAMES)
def test_samples_solve_with_only_the_findings_that_were_planted(name):
    answer = solve_document(sample(name))
    found = {
        node_id
        for node_id, node in answer["nodes"].items()
        for finding in node["findings"]
        if finding["severity"] != "note" and "Not sized" not in finding["message"]
    }
    assert found == {"marrow-creek": {"house"}, "cinder-lane": {"l6", "k3", "t1"}, "slipway": {"quay", "js8"}}[name]
    assert len(answer["nodes"]) >= {"marrow-creek": 2}.get(name, 30)
    assert answer == solve_document(sample(name))


@pytest.mark.parametrize("name", NAMES)
def test_every_step_of_every_node_of_the_samples_evaluates(name):
    for node in sample(name)["nodes"]:
        steps = solve_document(sample(name), node["id"])["nodes"][node["id"]]["steps"]
        for step in steps:
            assert evaluate(step["formula"]) == pytest.approx(step["value"], rel=1e-9)
        assert steps or node["kind"] == "source"


@pytest.mark.parametrize("name", NAMES)
def test_writing_what_was_read_changes_nothing(name):
    document = sample(name)
    assert json.dumps(write_job(read_job(document, "ft"))) == json.dumps(sample(name))


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        (("format",), "other", "format"),
        (("version",), 2, "format"),
        (("colour",), 1, "colour"),
        (("book",), "NEC 1999", "book"),
        (("terminals",), "80", "terminals"),
        (("nodes",), [], "nodes"),
        (("nodes",), "x", "nodes"),
        (("nodes", 0, "system"), "9 V", "nodes[0].system"),
        (("nodes", 0, "parent"), "mdp", "nodes[0].parent"),
        (("nodes", 1, "parent"), "nowhere", "nodes[1].parent"),
        (("nodes", 1, "parent"), "mdp", "nodes[1].parent"),
        (("nodes", 1, "parent"), "k1", "nodes[1].parent"),
        (("nodes", 1, "kind"), "fridge", "nodes[1].kind"),
        (("nodes", 1, "id"), "src", "nodes[1].id"),
        (("nodes", 1, "id"), "a b", "nodes[1].id"),
        (("nodes", 1, "extra"), 1, "nodes[1].extra"),
        (("nodes", 2), "kiln", "nodes[2]"),
        (("nodes", 2, "load"), None, "nodes[2].load"),
        (("nodes", 2, "load", "rating"), "-4 kW", "nodes[2].load.rating"),
        (("nodes", 2, "load", "phases"), 2, "nodes[2].load.phases"),
        (("nodes", 2, "load", "continuous"), 2, "nodes[2].load.continuous"),
        (("nodes", 2, "load", "legs"), ["L9"], "nodes[2].load.legs"),
        (("nodes", 2, "load", "power_factor"), 0, "nodes[2].load.power_factor"),
        (("nodes", 2, "run", "length"), "far", "nodes[2].run.length"),
        (("nodes", 2, "run", "pins"), {"sets": 0}, "nodes[2].run.pins.sets"),
        (("nodes", 2, "load", "legs"), ["L1", "L1", "L2"], "nodes[2].load.legs"),
        (("nodes", 2, "load", "legs"), ["L1", "L2"], "nodes[2].load.legs"),
        (("nodes", 2, "load", "poles"), 2, "nodes[2].load.poles"),
        (("nodes", 2, "load", "household"), True, "nodes[2].load.household"),
        (("nodes", 0, "system"), "120/240 1ph 3w", "k1.load.poles"),
    ],
)
def test_each_refusal_says_where(path, value, field):
    with pytest.raises(InputError) as refused:
        solve_document(changed(path, value))
    assert refused.value.field == field


def test_an_unlawful_run_is_a_finding_not_an_end():
    node = solve_document(changed(("nodes", 2, "run", "method"), "tray"))["nodes"]["k1"]
    assert node["device_a"] is None
    assert any("tray" in finding["message"] for finding in node["findings"])


def test_what_the_engine_does_not_size_stands_as_it_was_set_by_hand():
    motor = {"kind": "motor", "rating": "15 hp", "phases": 3, "count": 2}
    job = with_loads(motor, motor)
    job["nodes"][-1]["run"] = {"pins": {"device_a": 50, "size": "8", "reason": "430.52, by hand"}}
    nodes = solve_document(job, job["nodes"][-1]["id"])["nodes"]
    codes = [[found["code"] for found in nodes[node["id"]]["findings"]] for node in job["nodes"][-2:]]
    assert codes == [["run.not_sized"], ["run.by_hand"]]
    links = {link["key"]: link for link in nodes[job["nodes"][-1]["id"]]["links"]}
    assert (links["device"]["value"], links["conductor"]["value"]) == ("50 A", "8")


@pytest.mark.parametrize(
    ("made", "codes"),
    [
        ({"ways": 42, "bus_a": 225, "main_a": 200, "fault_ka": 22}, set()),
        ({"ways": 2}, {"board.no_room"}),
        ({"bus_a": 60}, {"board.bus_small", "board.bus_unprotected"}),  # 408.30: 72 A; 408.36: its device is larger
        ({"bus_a": 75}, {"board.bus_unprotected"}),
        ({"bus_a": 75, "main_a": 70}, {"board.main_small"}),
    ],
)
def test_a_board_is_held_against_how_it_is_made(made, codes):
    """26 kVA three-phase at 208 V: 72.2 A. Source: NEC 408.30 (not less than the load), 408.36 (its protection)."""
    heater = {"kind": "general", "rating": "13 kVA", "phases": 3}
    job = with_loads(heater, heater)
    board = next(node for node in job["nodes"] if node["kind"] == "board")
    board |= made
    found = solve_document(job)["nodes"][board["id"]]["findings"]
    assert {each["code"] for each in found if each["code"].startswith("board.")} == codes
