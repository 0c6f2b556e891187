"""A small transformer put before a load with one press: what it becomes, what it keeps, how it is taken back."""

import pytest

from tests.web.bench import document, post, set_to
from web.jobs.worker.solving import solve_job


def solved(job):
    return solve_job(document(job)).solution.nodes


def unit_of(job):
    return next(key for key, node in document(job)["nodes"].items() if node.get("transformer", {}).get("made_as"))


def test_the_cold_kiln_gets_its_boost_and_heats_as_it_should(page, pottery):
    before = document(pottery)
    assert "load.other_voltage" in {each.code for each in solved(pottery)["k3"].findings}
    post(page, "act", pottery, act="boost", key="k3")
    unit, nodes = unit_of(pottery), document(pottery)["nodes"]
    assert nodes[unit]["parent"] == "mdp" and nodes["k3"]["parent"] == unit
    assert nodes[unit]["run"] == before["nodes"]["k3"]["run"] and not nodes["k3"].get("run")
    assert nodes[unit]["transformer"] == {
        "made_as": "buck-boost",
        "connection": "boost",
        "kva": "1.5",
        "secondary": "240 1ph",
        "unit_primary_v": "240",
        "unit_secondary_v": "32",
    }
    found = solved(pottery)
    assert found["k3"].findings == []
    # 208 V lifted by 32/240; before what conductors and the transformer above lose.
    assert found["k3"].supply_share * 240 == pytest.approx(208 * 272 / 240)
    assert max(found[unit].amps.values()) == pytest.approx(8600 / 240 * 272 / 240)
    post(page, "undo", pottery)
    after = document(pottery)["nodes"]
    assert after["k3"] == before["nodes"]["k3"] and after.keys() == before["nodes"].keys()


def test_its_place_and_its_legs_go_to_the_boost(page, pottery):
    set_to(page, pottery, "k3/load/way", "13")
    post(page, "act", pottery, act="boost", key="k3")
    nodes = document(pottery)["nodes"]
    assert nodes[unit_of(pottery)]["way"] == "13" and "way" not in nodes["k3"]["load"]
    post(page, "undo", pottery)
    assert document(pottery)["nodes"]["k3"]["load"]["way"] == "13"


def test_what_a_person_fixed_on_the_load_stays_fixed(page, pottery):
    for place, value in (("device_a", "60"), ("size", "4"), ("reason", "the maker asks for it"), ("length", "38 ft")):
        set_to(page, pottery, f"k3/run/pins/{place}", value)
    pins = document(pottery)["nodes"]["k3"]["run"]["pins"]
    post(page, "act", pottery, act="boost", key="k3")
    nodes = document(pottery)["nodes"]
    kept, moved = nodes["k3"]["run"]["pins"], nodes[unit_of(pottery)]["run"]["pins"]
    assert kept == {key: pins[key] for key in ("device_a", "size", "reason")}
    assert moved == {key: pins[key] for key in ("length", "reason")}


def test_a_three_phase_kiln_gets_two_in_open_delta(page, pottery):
    set_to(page, pottery, "k1/load/volts", "240")
    post(page, "act", pottery, act="boost", key="k1")
    entered = document(pottery)["nodes"][unit_of(pottery)]["transformer"]
    assert (entered["units"], entered["secondary"]) == ("2", "240 3ph")
    assert solved(pottery)["k1"].findings == []


def test_what_no_small_unit_mends_is_refused_and_nothing_changes(page, pottery):
    before = document(pottery)
    for key in ("k1", "mdp", "nobody"):
        post(page, "act", pottery, act="boost", key=key)
    assert document(pottery) == before
