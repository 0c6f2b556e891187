"""Several nodes at once: set, acted on, copied and pasted, found."""

import copy
import json
import re

import pytest
from django.urls import reverse
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.web.bench import HTMX, document, post
from voltaje.samples import NAMES
from voltaje.tools.solve import solve_document
from web.jobs import keeping
from web.jobs.document import put
from web.jobs.files.openfile import from_open, to_open
from web.jobs.files.pasting import pasted
from web.jobs.models import Event
from web.jobs.order import branch
from web.jobs.sample import sample_document
from web.workbench.edits import several

KILNS = ("k1", "k2", "k3")


def cells(*pairs):
    return json.dumps([[f"nodes/{place}", value] for place, value in pairs])


def names(job):
    return [node.get("name") for node in document(job)["nodes"].values()]


def test_one_value_for_several_is_one_change_and_taken_back_as_one(page, pottery):
    before = document(pottery)
    post(page, "cells", pottery, cells=cells(*((f"{key}/run/length", "90") for key in KILNS)))
    assert [document(pottery)["nodes"][key]["run"]["length"] for key in KILNS] == ["90 ft"] * 3
    assert Event.objects.get().title == "3 circuits: one-way length → 90"
    post(page, "undo", pottery)
    assert document(pottery) == before


def test_what_one_of_several_cannot_take_changes_none_and_is_said_by_its_name(page, pottery):
    before = document(pottery)
    shown = post(page, "cells", pottery, cells=cells(("k1/load/rating", "30 kW"), ("k2/load/rating", "30 kg")))
    assert "Kiln 2, car kiln · rating each" in shown
    assert document(pottery) == before
    shown = post(page, "cells", pottery, cells=cells(("mdp/load/rating", "30 kW")))
    assert "None of them has that field." in shown


@pytest.mark.parametrize(
    "wrong", ["[", "[]", "[[1, 2]]", '[["job/name", "x"]]', "[" * 5_000, '[["nodes/k1/kind", "load"]]']
)
def test_cells_that_are_none_are_refused(page, pottery, wrong):
    assert 'class="wrong"' in post(page, "cells", pottery, cells=wrong)
    assert not Event.objects.exists()


def test_acts_on_several(page, pottery):
    post(page, "act", pottery, act="duplicate", key="k1", times="3")
    made = [name for name in names(pottery) if name.startswith("Kiln 1, front loader")]
    assert made == ["Kiln 1, front loader", *(f"Kiln 1, front loader {n}" for n in (2, 3, 4))]
    post(page, "act", pottery, act="move", keys="k1 k2", to="shed")
    assert {document(pottery)["nodes"][key]["parent"] for key in ("k1", "k2")} == {"shed"}
    count = len(names(pottery))
    below = len(branch(document(pottery), "shed"))
    shown = post(page, "act", pottery, act="remove", keys="k1 shed k3")  # k1 hangs on the shed: it goes once
    assert len(names(pottery)) == count - below - 1
    assert "2 circuits and what it fed deleted" in shown
    post(page, "undo", pottery)
    assert len(names(pottery)) == count


def test_a_supply_that_feeds_something_goes_only_after_it_was_shown_what_goes_with_it(page, pottery):
    post(page, "act", pottery, act="add", kind="source")
    other = next(key for key, node in document(pottery)["nodes"].items() if node["kind"] == "source" and key != "src")
    post(page, "edit", pottery, path=f"nodes/{other}/system", value="480 3ph")
    shown = post(page, "act", pottery, act="remove", key="src")
    assert "feeds Transformer 150 kVA, Studio board MDP" in shown
    assert "delete them all" in shown
    assert "src" in document(pottery)["nodes"]
    assert "what it fed is kept" in post(page, "act", pottery, act="rehang", key="src", to=other)
    assert "src" not in document(pottery)["nodes"]
    assert document(pottery)["nodes"]["t1"]["parent"] == other
    post(page, "undo", pottery)
    post(page, "act", pottery, act="remove", key="src", sure="1")
    assert list(document(pottery)["nodes"]) == [other]


def test_another_supply_is_taken_only_after_it_was_shown_what_it_would_change(page, ann):
    heater = {"kind": "heating", "rating": "9 kW", "poles": 2}
    nodes = [
        {"id": "src", "kind": "source", "system": "208Y/120"},
        {"id": "b", "kind": "board", "parent": "src", "name": "Panel"},
        {"id": "h", "kind": "load", "parent": "b", "name": "Unit heater", "load": heater, "run": {"length": "60 ft"}},
    ]
    job = keeping.create(ann, from_open({"name": "Shop", "book": "NEC 2023", "nodes": nodes}))
    shown = post(page, "edit", job, path="nodes/src/system", value="120/240 1ph 3w", at="src")
    assert re.search(r"That would change \d things: .*Unit heater 60 A · 6 AWG Cu → 50 A · 6 AWG Cu", shown)
    assert "change it so" in shown
    assert document(job)["nodes"]["src"]["system"] == "208Y/120"
    post(page, "edit", job, path="nodes/src/system", value="120/240 1ph 3w", at="src", sure="1")
    assert document(job)["nodes"]["src"]["system"] == "120/240 1ph 3w"


def test_a_copy_goes_to_another_job_as_text_and_is_the_same_there(page, pottery, ann):
    text = page.get(reverse("nodes", args=[pottery.pk]), {"keys": "shed k1"}).content.decode()
    other = keeping.create(ann, sample_document("cinder-lane"))
    post(page, "act", other, act="remove", keys="shed k1")
    post(page, "paste", other, text=text, at="mdp")
    mine, theirs = (solve_document(to_open(document(job)))["nodes"] for job in (pottery, other))

    def figures(nodes):
        kept = ("name", "demand_va", "device_a", "conductor")
        return sorted(json.dumps([node.get(each) for each in kept]) for node in nodes.values())

    assert figures(mine) == figures(theirs)
    table = page.get(reverse("nodes", args=[pottery.pk]), {"keys": "mdp", "as": "table"}).content.decode()
    shown = post(page, "load-list", pottery, text=table)
    assert 'class="bad"' not in shown
    assert 'class="good"' in shown


@settings(max_examples=40, deadline=None)
@given(st.data())
def test_what_is_pasted_is_what_was_copied(data):
    held = sample_document(data.draw(st.sampled_from(NAMES)))
    keys = data.draw(st.lists(st.sampled_from(sorted(held["nodes"])), min_size=1, max_size=4, unique=True))
    feeders = [key for key, node in held["nodes"].items() if node["kind"] in ("board", "source")]
    board = data.draw(st.sampled_from(sorted(feeders)))
    wanted = pasted(held, several.as_text(held, several.tops(held, keys)), board)
    after = copy.deepcopy(held)
    for change in wanted:
        put(after, change)

    def plain(nodes, these):
        left_out = ("parent", "position", "way")
        bare = [{k: v for k, v in nodes[key].items() if k not in left_out} for key in these]
        for node in bare:
            node["load"] = {k: v for k, v in node.get("load", {}).items() if k != "way"}
        return sorted(json.dumps(node, sort_keys=True) for node in bare)

    taken = {each for key in keys for each in branch(held, key)}
    assert plain(after["nodes"], [change.path[1] for change in wanted]) == plain(held["nodes"], taken)
    assert {key: after["nodes"][key] for key in held["nodes"]} == held["nodes"]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("[" * 20_000, "no part of a job"),
        ('{"nodes": []}', "no part of a job"),
        (json.dumps([{"id": str(n)} for n in range(4_001)]), "too long to be pasted"),
        ('{"nodes": [{"id": "a", "kind": "moter"}]}', "kind"),
        ('{"nodes": [{"id": "a", "kind": "load", "name": "Saw", "load": {"rating": "-3 kW"}}]}', "Saw"),
        ('{"nodes": [{"id": "a", "kind": "load", "name": "Saw", "load": {"rating": "3 kW", "poles": 4}}]}', "Saw"),
        ('[{"id": "a", "kind": "load", "parent": "b", "load": {"rating": "3 kW"}}]', "b"),
    ],
)
def test_what_is_no_part_of_a_job_is_refused_with_the_reason(page, pottery, text, said):
    shown = post(page, "paste", pottery, text=text)
    assert 'class="wrong"' in shown
    assert said in shown
    assert not Event.objects.exists()


def test_found_by_name_size_finding_and_clause(page, pottery):
    def found(words):
        return page.get(reverse("find", args=[pottery.pk]), {"words": words}, headers=HTMX).content.decode()

    assert found("kiln car").count("found-one") == 1
    assert "Yard lighting" in found("drop 210.19")
    assert "Kiln 1, front loader" in found("studio 100 A")
    assert "Nothing goes by that." in found("frobnicate")


def test_any_column_of_the_schedule_is_shown_and_edited(page, pottery):
    page.cookies["columns"] = "load.power_factor-run.material-no.such"
    shown = page.get(reverse("workbench", args=[pottery.pk]), {"at": "mdp", "lens": "schedule"}).content.decode()
    assert 'id="c-nodes-k2-load-power_factor"' in shown
    assert 'id="c-nodes-k2-run-material"' in shown
    post(
        page,
        "cells",
        pottery,
        cells=cells(("k2/run/material", "Al"), ("k2/load/power_factor", "90 %")),
        lens="schedule",
    )
    assert document(pottery)["nodes"]["k2"]["run"]["material"] == "Al"
    post(page, "edit", pottery, path="nodes/k2/load/way", value="21-23-25")
    assert document(pottery)["nodes"]["k2"]["load"]["way"] in (21, "21")
