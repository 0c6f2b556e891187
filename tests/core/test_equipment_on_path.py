"""Equipment through two doors: alone on a quick sheet, and on a path, the same figures."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.samples import sample
from voltaje.tools.read import read_walk_through
from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document

SAME = ("device_a", "conductor", "equipment_ground")
HP_3 = st.sampled_from([0.5, 1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 75, 100, 125, 150, 200])
few = settings(max_examples=60, deadline=None)


def on_path(tool, asked, system, book="NEC 2023"):
    """The figures alone, and those of the node that the answer makes, below a board of a system."""
    alone = tools()[tool].answered({"book": book, **asked})
    nodes = [
        {"id": "src", "kind": "source", "system": system},
        {"id": "mdp", "kind": "board", "parent": "src"},
        {"id": "it", "parent": "mdp", **alone.nodes[0]},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "two doors", "book": book, "nodes": nodes}
    return alone.result, solve_document(job)["nodes"]


@few
@given(HP_3, st.sampled_from(["NEC 2017", "NEC 2020", "NEC 2023"]), st.integers(10, 120), st.sampled_from(["Cu", "Al"]))
def test_a_motor(hp, book, feet, material):
    asked = {"hp": hp, "volts": 208, "phases": 3, "length": f"{feet} ft", "material": material}
    alone, nodes = on_path("motor-branch", asked, "208Y/120", book)
    for key in SAME:
        assert nodes["it"][key] == alone[key]
    for key in ("flc_a", "conductor_min_a", "device_max_a", "overload_a", "disconnect_min_a"):
        assert nodes["it"]["motor"][key] == pytest.approx(alone[key])
    assert nodes["it"]["drop_v"] == pytest.approx(alone["drop_v"])
    # Its feeder carries 125 % of it (430.24).
    assert nodes["mdp"]["amps"]["L1"] == pytest.approx(alone["flc_a"] * 1.25)


@pytest.mark.parametrize(
    ("tool", "asked", "system"),
    [
        ("motor-branch", {"hp": 5, "volts": 240, "phases": 1}, "120/240 1ph 3w"),
        ("appliance-branch", {"kind": "charger", "load": "48 A", "length": "60 ft"}, "120/240 1ph 3w"),
        ("appliance-branch", {"kind": "space_heat", "load": "5 kW"}, "120/240 1ph 3w"),
        ("appliance-branch", {"kind": "water_heater", "load": "4.5 kW"}, "120/240 1ph 3w"),
        ("appliance-branch", {"kind": "hermetic", "rated_load_a": 18.6}, "120/240 1ph 3w"),
        ("appliance-branch", {"kind": "kiln", "load": "11.5 kW", "volts": 208, "phases": 3}, "208Y/120"),
        ("inverter-breaker", {"output": 7.6, "volts": 240}, "120/240 1ph 3w"),
        ("inverter-breaker", {"output": 15, "volts": 208, "phases": 3}, "208Y/120"),
        ("cooking-branch", {"appliances": [{"load": "12 kW"}]}, "120/240 1ph 3w"),
    ],
)
def test_equipment(tool, asked, system):
    alone, nodes = on_path(tool, asked, system)
    for key in SAME:
        assert nodes["it"][key] == alone[key], key


def test_an_inverter_under_iec():
    asked = {"output": "30 kW", "volts": 400, "phases": 3, "length": "20 m"}
    alone, nodes = on_path("inverter-breaker", asked, "230/400", "BS 7671")
    for key in SAME:
        assert nodes["it"][key] == alone[key], key


def test_a_device_over_the_ceiling_and_a_wire_under_125_percent_are_not_allowed():
    job = sample("cinder-lane")
    for node in job["nodes"]:
        if node["id"] == "pug":  # 30.8 A: 80 A first, 110 at most (123.2); 38.5 A needed
            node["run"] = {"pins": {"device_a": 125, "size": "10", "reason": "as found"}}
    found = {each["code"] for each in solve_document(job)["nodes"]["pug"]["findings"]}
    assert {"device.over_ceiling", "conductor.too_small"} <= found
    for node in job["nodes"]:
        if node["id"] == "pug":
            node["run"] = {"pins": {"device_a": 60, "size": "8", "reason": "it starts"}}
    assert solve_document(job)["nodes"]["pug"]["findings"] == []


def test_a_motor_for_another_voltage_says_so_with_its_mends():
    job = sample("cinder-lane")
    for node in job["nodes"]:
        if node["id"] == "pug":
            node["load"]["volts"] = "230 V"
    found = [each for each in solve_document(job)["nodes"]["pug"]["findings"] if each["code"] == "motor.off_volts"]
    assert "9.6 % off" in found[0]["message"]
    assert "tap" in found[0]["mend"]


KITCHEN = {
    "appliances": [
        {"kind": "cooktop", "load": "8.2 kW", "length": "6 ft"},
        {"kind": "oven", "load": "4.1 kW", "name": "Upper", "length": "8 ft"},
        {"kind": "oven", "load": "4.1 kW", "name": "Lower", "length": "10 ft"},
    ],
    "length": "45 ft",
}


@pytest.mark.parametrize("book", ["NEC 2017", "NEC 2020", "NEC 2023"])
def test_a_kitchen_is_one_load_with_parts(book):
    alone, nodes = on_path("cooking-branch", KITCHEN, "120/240 1ph 3w", book)
    for key in (*SAME, "taps"):
        assert nodes["it"][key] == alone[key], key
    assert nodes["it"]["neutral"]["size"] == alone["neutral_min"]["size"]
    assert nodes["it"]["demand_va"] == pytest.approx(alone["demand_kw"] * 1000)
    # In its feeder each appliance counts by itself: three in column B, 55 % of 16.4 kW (note 3), under column C's 14.
    assert nodes["mdp"]["demand_va"] == pytest.approx(0.55 * 16_400)


def test_an_oven_alone_counts_its_nameplate_on_the_path_too():
    alone, nodes = on_path("cooking-branch", {"appliances": [{"kind": "oven", "load": "5.2 kW"}]}, "120/240 1ph 3w")
    for key in SAME:
        assert nodes["it"][key] == alone[key], key
    assert nodes["it"]["demand_va"] == 5200


def test_two_cooktops_on_one_circuit_are_not_sized():
    asked = {"appliances": [{"kind": "cooktop", "load": "6 kW"}, {"kind": "oven", "load": "4 kW"}]}
    alone = tools()["cooking-branch"].answered(asked)
    node = {
        **alone.nodes[0],
        "load": {**alone.nodes[0]["load"], "rating": "12 kW", "parts": [{"kind": "cooktop", "load": "6 kW"}] * 2},
    }
    nodes = [{"id": "src", "kind": "source", "system": "120/240 1ph 3w"}, {"id": "it", "parent": "src", **node}]
    job = {"format": "voltaje-job", "version": 1, "name": "two", "book": "NEC 2023", "nodes": nodes}
    found = solve_document(job)["nodes"]["it"]["findings"]
    assert any("two cooktops" in each["message"] and each["severity"] == "stop" for each in found)


def test_an_oven_that_is_said_counts_its_nameplate_and_a_rating_that_is_not_its_parts_is_told():
    read = read_walk_through("wall oven 5.2 kW 30 ft", "NEC 2023")["items"][0]["nodes"][0]
    assert read["load"]["cooking"] == "oven"
    nodes = [{"id": "src", "kind": "source", "system": "120/240 1ph 3w"}, {"id": "it", "parent": "src", **read}]
    job = {"format": "voltaje-job", "version": 1, "name": "oven", "book": "NEC 2023", "nodes": nodes}
    assert solve_document(job)["nodes"]["it"]["device_a"] == 25
    kitchen = tools()["cooking-branch"].answered(KITCHEN).nodes[0]
    nodes[1] = {"id": "it", "parent": "src", **kitchen, "load": {**kitchen["load"], "rating": "12 kW"}}
    found = solve_document(job)["nodes"]["it"]["findings"]
    assert any("its rating says 12 kW" in each["message"] and each["severity"] == "stop" for each in found)
