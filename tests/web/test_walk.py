"""The walk-through line in a job: what is assumed stays to be looked at, what is not used is asked about."""

import csv

import pytest
from django.urls import reverse

from tests.web.bench import HTMX, document, post, set_to
from voltaje.tools.solve import solve_document
from web.jobs.files.openfile import to_open


def named(job, name):
    return next((key, node) for key, node in document(job)["nodes"].items() if node.get("name") == name)


def said(page, job, line, at="mdp"):
    return page.get(reverse("understand", args=[job.pk]), {"line": line, "at": at}, headers=HTMX).content.decode()


def test_with_words_left_over_it_takes_a_second_enter(page, pottery):
    count = len(document(pottery)["nodes"])
    answer = post(page, "walk", pottery, line="hot tub 50A gfci", at="mdp")
    assert "Not used: “gfci”" in answer
    assert len(document(pottery)["nodes"]) == count
    post(page, "walk", pottery, line="hot tub 50A gfci 20 ft", again="hot tub 50A gfci", at="mdp")
    assert len(document(pottery)["nodes"]) == count  # it is another line by now
    post(page, "walk", pottery, line="hot tub 50A gfci", again="hot tub 50A gfci", at="mdp")
    assert named(pottery, "Hot tub")[1]["load"]["poles"] == 2


def test_what_was_assumed_stays_to_be_looked_at_until_it_is_set_or_said_to_be_right(page, pottery):
    assert "→ 120\xa0V 1-pole" in said(page, pottery, "EV 48A")
    post(page, "walk", pottery, line="EV 48A", at="mdp")
    post(page, "walk", pottery, line="EV2 40A charger", at="mdp")
    (first, _), (second, _) = named(pottery, "EV"), named(pottery, "EV2 charger")
    solved = solve_document(to_open(document(pottery)))["nodes"]
    assert [found["code"] for found in solved[first]["findings"]] == ["load.assumed"]
    assert post(page, "act", pottery, act="right", key=first, at=first)
    assert "assumed" not in document(pottery)["nodes"][first]
    post(page, "act", pottery, act="stand", key=second, poles="3", at=second)
    load = document(pottery)["nodes"][second]["load"]
    assert (load["poles"], load["phases"]) == (3, 3)
    assert "assumed" not in document(pottery)["nodes"][second]


def test_what_each_choice_costs_is_worked_out_before_one_is_taken(page, pottery):
    before = document(pottery)
    shown = page.get(
        reverse("costs", args=[pottery.pk]), {"line": "EV 48A 80 ft", "at": "mdp"}, headers=HTMX
    ).content.decode()
    assert shown.count('class="reading') >= 2
    assert "60 A" in shown
    assert " lb" in shown
    assert document(pottery) == before


@pytest.mark.parametrize(
    ("line", "kind", "holds"),
    [
        ("panel B 100A 120 ft away", "board", {"run": {"length": "120 ft", "pins": {"device_a": 100}}}),
        ("spare 20A", "spare", {"poles": 1}),
        ("2 spaces", "space", {"poles": 1}),
        ("transformer 15 kVA 208-480Y/277", "transformer", {"transformer": {"kva": "15", "secondary": "480Y/277"}}),
        ("apartment 900 sf", "dwelling", {"floor_area": "900 ft²"}),
    ],
)
def test_what_is_no_load_becomes_what_it_is(page, pottery, line, kind, holds):
    before = document(pottery)["nodes"].keys()
    demand = solve_document(to_open(document(pottery)))["nodes"]["mdp"]["demand_va"]
    post(page, "walk", pottery, line=line, at="mdp")
    nodes = document(pottery)["nodes"]
    made = [nodes[key] for key in nodes.keys() - before]
    assert made
    assert {node["kind"] for node in made} == {kind}
    for key, value in holds.items():
        part = made[0][key]
        assert (
            part == value
            or part.items() >= {**value, **({"pins": part.get("pins")} if "pins" in value else {})}.items()
        )
    if kind != "dwelling":
        assert solve_document(to_open(document(pottery)))["nodes"]["mdp"]["demand_va"] == pytest.approx(demand)


def numbers(page, job, board="mdp"):
    """The ways of a board as its schedule shows them."""
    text = page.get(reverse("schedule-csv", args=[job.pk]), {"at": board}).content.decode()
    return {row[1]: row[0] for row in csv.reader(text.splitlines()) if row and row[0][:1].isdigit()}


def test_a_circuits_number_stays_when_another_is_deleted_added_or_moved(page, pottery):
    before = numbers(page, pottery, "shed")
    answer = post(page, "act", pottery, act="remove", key="sl1", at="shed")
    after = numbers(page, pottery, "shed")
    assert len(after) == len(before) - 1
    assert after.items() <= before.items()
    assert "deleted" in answer
    post(page, "walk", pottery, line="bench lamp 100 W 120 V 10 ft", at="shed")
    post(page, "act", pottery, act="down", key="dryr", at="shed")
    assert after.items() <= numbers(page, pottery, "shed").items()
    for _ in range(3):
        post(page, "undo", pottery)
    assert numbers(page, pottery, "shed") == before
    post(page, "act", pottery, act="renumber", key="shed", at="shed")
    assert set(numbers(page, pottery, "shed")) == set(before)


def test_a_way_takes_its_circuit_to_the_leg_it_lies_on(page, pottery):
    set_to(page, pottery, "mill/load/way", "20", at="mill")
    solved = solve_document(to_open(document(pottery)))["nodes"]["mill"]
    assert next(iter(solved["amps"])) == "L1"


def test_a_note_is_kept_with_any_node(page, pottery):
    for key in ("k2", "mdp", "t1"):
        set_to(page, pottery, f"{key}/note", "behind the door, see panel card", at=key)
        assert document(pottery)["nodes"][key]["note"].startswith("behind")
    assert to_open(document(pottery))["nodes"][1]["note"]


def test_a_second_multiwire_circuit_has_a_neutral_of_its_own(page, pottery):
    """Two of a kind on one board are two neutrals, each with opposite legs on it: 210.4, and no stop."""
    for line in ("multiwire 12-3 20A 20A 20 ft", "multiwire 12-3 20A 20A 20 ft; multiwire 12-3 15A 15A 20 ft"):
        post(page, "walk", pottery, line=line, at="mdp")
    nodes = document(pottery)["nodes"]
    groups = [node["load"]["neutral_group"] for node in nodes.values() if node.get("load", {}).get("neutral_group")]
    assert sorted(groups) == ["Multiwire", "Multiwire", "Multiwire 2", "Multiwire 2", "Multiwire 3", "Multiwire 3"]
    solved = solve_document(to_open(document(pottery)))
    of_neutrals = [each for each in solved["findings"] if each["code"].startswith("neutral.")]
    assert not [each for each in of_neutrals if each["severity"] == "stop"], of_neutrals
