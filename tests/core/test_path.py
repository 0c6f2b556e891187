"""Legs, ways, pins, amendments, what was solved before: the path's own rules."""

import json
from pathlib import Path

import jsonschema
import pytest

from tests.core.jobs import job_with, solved
from voltaje.errors import InputError
from voltaje.path.schema import job_schema
from voltaje.samples import NAMES, sample
from voltaje.tools.solve import recorded, solve_document

HEATER = {"kind": "heating", "rating": "2.4 kW"}
STOP, WARN = "stop", "warn"


def messages(node, severity):
    return [finding["message"] for finding in node["findings"] if finding["severity"] == severity]


def test_the_schema_is_written_out_and_holds_every_sample():
    schema = job_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    written = Path(__file__).parents[2] / "docs" / "voltaje-job.schema.json"
    assert json.loads(written.read_text("utf-8")) == schema
    for name in NAMES:
        jsonschema.validate(sample(name), schema)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({**sample("slipway"), "colour": 1}, schema)


@pytest.mark.parametrize(
    ("book", "system", "legs"),
    [("NEC 2020", "208Y/120", ["L1", "L1", "L2", "L2", "L3"]), ("BS 7671", "230/400", ["L1", "L2", "L3", "L1", "L2"])],
)
def test_a_way_says_the_leg(book, system, legs):
    """On boards of two columns ways 1 and 2 lie in one row, on one leg; elsewhere neighbours change legs."""
    nodes = solved(*({**HEATER, "poles": 1, "way": way} for way in range(1, 6)), book=book, system=system)
    assert [next(iter(nodes[f"n{at}"]["amps"])) for at in range(5)] == legs


def test_a_board_may_take_some_of_its_parents_legs():
    job = job_with()
    job["nodes"] += [
        {"id": "sub", "kind": "board", "parent": "mdp", "legs": ["L2", "L3"], "run": {"length": 30}},
        {"id": "a", "kind": "load", "parent": "sub", "load": HEATER},
        {"id": "b", "kind": "load", "parent": "sub", "load": HEATER},
    ]
    nodes = solve_document(job)["nodes"]
    assert nodes["sub"]["amps"] == pytest.approx({"L2": 20, "L3": 20})
    assert nodes["sub"]["neutral_a"] == pytest.approx(20)
    job["nodes"].append({"id": "c", "kind": "load", "parent": "sub", "load": {**HEATER, "phases": 3}})
    with pytest.raises(InputError, match="3 poles"):
        solve_document(job)


def test_circuits_that_share_a_neutral_on_one_leg_are_stopped():
    pair = [{**HEATER, "legs": [leg], "neutral_group": "A"} for leg in ("L1", "L2")]
    assert not messages(solved(*pair)["n1"], STOP)
    same = [{**HEATER, "legs": ["L1"], "neutral_group": "A"}] * 2
    assert "neutral" in messages(solved(*same)["n1"], STOP)[0]


def test_an_inverter_is_no_load_of_its_board():
    job = job_with(HEATER)
    inverter = {"id": "i", "kind": "inverter", "parent": "mdp", "load": {"rating": "15 kW", "phases": 3}}
    job["nodes"].append(inverter)
    nodes = solve_document(job)["nodes"]
    assert nodes["mdp"]["demand_va"] == 2400
    assert nodes["i"]["amps"]["L1"] > 40


@pytest.mark.parametrize(
    ("pins", "severity", "said"),
    [
        ({"device_a": 15}, STOP, "under the load"),
        ({"size": "14"}, STOP, "14 Cu"),
        ({"demand_va": 1000}, WARN, "pinned at"),
        ({"size": "10", "sets": 2}, STOP, "parallel conductors begin"),
    ],
)
def test_a_pin_is_kept_and_what_it_breaks_is_said(pins, severity, said):
    load = {"kind": "general", "rating": "20 A", "run": {"length": 40, "pins": {**pins, "reason": "as found"}}}
    node = solved(load)["n0"]
    assert any(said in message for message in messages(node, severity))
    if "device_a" in pins:
        assert (node["device_a"], node["conductor"]["size"]) == (15, "12")


def test_a_pinned_length_counts():
    plain = solved({**HEATER, "run": {"length": 40}})["n0"]
    longer = solved({**HEATER, "run": {"length": 40, "pins": {"length": "80 ft"}}})["n0"]
    assert longer["drop_percent"] > plain["drop_percent"]


def test_equipment_for_another_voltage():
    """A 240 V heater on 208 V heats with (208 / 240)² = 75 %; a 120 V one on 208 V burns."""
    low = solved({**HEATER, "poles": 2, "volts": 240})["n0"]
    assert "75 %" in messages(low, WARN)[0]
    assert messages(solved({**HEATER, "poles": 2, "volts": 120})["n0"], STOP)
    assert not messages(solved({**HEATER, "poles": 2, "volts": 200})["n0"], WARN)


def test_local_amendments():
    least = {"limit": "least_size_cu", "value": "10", "reason": "county rule"}
    drop = {"limit": "drop_percent", "value": 0.5, "reason": "sensitive equipment"}
    amended = solved(HEATER, amendments=[least, drop])["n0"]
    assert amended["conductor"]["size"] == "10"
    found = next(finding for finding in amended["findings"] if "drop" in finding["message"])
    assert "sensitive equipment" in found["rule"]
    pinned = {"rating": "2 kW", "run": {"length": 10, "pins": {"size": "12", "reason": "in the van"}}}
    assert "local least size" in messages(solved(pinned, amendments=[least])["n0"], STOP)[0]


@pytest.mark.parametrize(
    ("amendment", "field"),
    [
        ({"limit": "ampacity", "value": 1, "reason": "x"}, "amendments[0].limit"),
        ({"limit": "drop_percent", "value": -1, "reason": "x"}, "amendments[0].value"),
        ({"limit": "drop_percent", "value": 2}, "amendments[0].reason"),
        ({"limit": "least_size_cu", "value": "99", "reason": "x"}, "amendments[0].value"),
    ],
)
def test_a_wrong_amendment_says_where(amendment, field):
    with pytest.raises(InputError) as refused:
        solve_document(job_with(HEATER, amendments=[amendment]))
    assert refused.value.field == field


def test_a_job_tells_when_corrected_tables_change_a_figure():
    kept = recorded(sample("slipway"))
    assert not [each for each in solve_document(kept)["findings"] if "Solved before" in each["message"]]
    kept["solved"]["tables"] = "before the correction"
    kept["solved"]["nodes"]["wh1"]["size"] = "10"
    (told,) = [each for each in solve_document(kept)["findings"] if "Solved before" in each["message"]]
    assert told["field"] == "wh1"
    assert "was 10" in told["message"]


def test_opening_a_node_changes_no_figure_and_brings_options_that_comply():
    job = sample("cinder-lane")
    whole = solve_document(job)
    for node_id in ("k2", "mdp", "shed"):
        opened = solve_document(job, node_id)["nodes"][node_id]
        assert {key: opened[key] for key in whole["nodes"][node_id]} == whole["nodes"][node_id]
        for option in opened["options"]:
            again = json.loads(json.dumps(job))
            node = next(each for each in again["nodes"] if each["id"] == node_id)
            conductor = option["conductor"]
            node["run"]["material"] = conductor["material"]
            pins = {"device_a": option["device_a"], "size": conductor["size"], "sets": conductor["sets"]}
            node["run"]["pins"] = {**pins, "reason": "an option"}
            assert not messages(solve_document(again)["nodes"][node_id], STOP)


def test_a_supply_of_another_country_is_worth_a_look():
    findings = solve_document(job_with(HEATER, book="BS 7671", system="120/240 1ph 3w"))["findings"]
    assert any("not among the nominal voltages" in finding["message"] for finding in findings)


@pytest.mark.parametrize(
    ("load", "book", "system", "field"),
    [
        ({"floor_area": 900}, "BS 7671", "230/400", "n0.dwelling"),
        ({"floor_area": 900}, "NEC 2023", "480Y/277", "n0.dwelling"),
        ({"kind": "motor", "rating": "900 hp", "phases": 3}, "NEC 2023", "208Y/120", "n0.load.rating"),
        ({"kind": "range", "rating": "40 kW", "poles": 2}, "NEC 2023", "208Y/120", "n0.load.rating"),
    ],
)
def test_what_has_no_rule_in_the_book_is_a_finding_there_and_above(load, book, system, field):
    """It never takes the job down; what feeds it says that it lacks it."""
    nodes = solved(load, {"rating": "1 kVA"}, book=book, system=system)
    assert [found["field"] for found in nodes["n0"]["findings"] if "not known" in found["message"]] == [field]
    assert any("Without Load 0" in message for message in messages(nodes["mdp"], STOP))
    assert (nodes["n0"]["demand_va"], nodes["mdp"]["demand_va"]) == (0, 1000)


@pytest.mark.parametrize(
    ("area", "field"),
    [
        ({"floor_area": 900, "occupancy": "moon base"}, "mdp.area.occupancy"),
        ({"floor_area": 900, "occupancy": "bank"}, "mdp.area.va_per_ft2"),
        ({"floor_area": 900}, "mdp.area.occupancy"),
    ],
)
def test_an_area_that_cannot_be_reckoned_says_so(area, field):
    node = solved(HEATER, book="NEC 2023", board={"area": area})["mdp"]
    assert field in [found["field"] for found in node["findings"] if found["severity"] == STOP]
