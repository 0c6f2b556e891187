"""The legs and the volts of a job: circuits moved and evened out, least metal found and pinned, all taken back."""

import json
import re

import pytest
from django.urls import reverse

from tests.web.bench import document, post, set_to
from voltaje.design.legs import legs_of
from voltaje.design.solve import solve
from web.jobs import keeping
from web.jobs.files.openfile import from_open
from web.jobs.models import Event
from web.jobs.sample import sample_document
from web.jobs.worker.solving import solve_job


def even(page, job, **asked):
    return page.post(reverse("even", args=[job.pk]), {"at": "mdp", **asked}).content.decode()


def moves(shown):
    return re.findall(r'value="(\w+:[L\d-]+)"', shown)


def legs(job, key="mdp"):
    solved = solve_job(document(job))
    return legs_of(key, solved.job, solved.solution)


def stand(job):
    return {key: set(solved.legs) for key, solved in solve_job(document(job)).solution.nodes.items()}


def test_the_blocks_of_a_board_add_up_to_its_legs(pottery):
    board = legs(pottery)
    for leg, total in board.totals.items():
        assert total == pytest.approx(sum(block.each_a[leg] for block in board.blocks if leg in block.legs))
    assert {block.name for block in board.left_out} == {"Inverter 15 kW", "Cooling, gallery"}
    assert board.device_a == 500
    # The neutral of the chain and the one of the blocks are the same phasors, but for the motors' share.
    assert abs(sum(board.to_neutral.values())) == pytest.approx(
        solve_job(document(pottery)).solution.nodes["mdp"].neutral_a, abs=1
    )


def test_what_is_proposed_is_what_is_made_and_is_taken_back_at_once(page, pottery):
    before = stand(pottery)
    shown = even(page, pottery, most=2)
    assert "Proven: no 2 moves do better." in shown
    asked = moves(shown)
    assert len(asked) == 2
    proposed = legs(pottery).evened(2)
    post(page, "act", pottery, act="even-out", key="mdp", moves=" ".join(asked))
    assert max(legs(pottery).totals.values()) == pytest.approx(proposed.largest_a)
    assert Event.objects.count() == 1
    post(page, "undo", pottery)
    assert stand(pottery) == before


def test_a_circuit_that_stays_is_left_and_every_way_lies_on_its_leg(page, pottery):
    key = moves(even(page, pottery, most=1))[0].split(":")[0]
    set_to(page, pottery, f"{key}/load/keep_leg", "yes")
    assert key not in {each.split(":")[0] for each in moves(even(page, pottery, most=3))}
    asked = moves(even(page, pottery))
    post(page, "act", pottery, act="even-out", key="mdp", moves=" ".join(asked))
    solved = solve_job(document(pottery)).solution.nodes
    for each in asked:
        moved, wanted = each.split(":")
        assert set(solved[moved].legs) == set(wanted.split("-"))
    ways = [node.get("load", {}).get("way") for node in document(pottery)["nodes"].values()]
    assert len([way for way in ways if way]) == len({way for way in ways if way})


def test_boards_below_are_evened_too_where_that_is_asked(page, pottery):
    alone, both = (moves(even(page, pottery, whole=whole)) for whole in ("", "1"))
    below = {key for key, node in document(pottery)["nodes"].items() if node.get("parent") == "shed"}
    assert not {each.split(":")[0] for each in alone} & below
    assert "error" not in even(page, pottery, whole="1")
    assert isinstance(both, list)


def test_houses_along_a_three_phase_supply(page, ann):
    """Each house a board on one leg: the supply's legs are evened by moving houses."""
    nodes = [{"id": "s", "kind": "source", "system": "230/400"}, {"id": "line", "kind": "board", "parent": "s"}]
    for at in range(6):
        nodes.append({"id": f"h{at}", "kind": "board", "parent": "line", "legs": ["L1"], "name": f"House {at}"})
        nodes.append({"id": f"x{at}", "kind": "load", "parent": f"h{at}", "load": {"rating": "4.6 kW"}})
    raw = {"format": "voltaje-job", "version": 1, "name": "Lane", "book": "BS 7671", "nodes": nodes}
    job = keeping.create(ann, from_open(raw))
    asked = moves(even(page, job, at="line"))
    assert len(asked) == 4
    post(page, "act", job, act="even-out", key="line", moves=" ".join(asked))
    assert legs(job, "line").totals == pytest.approx({"L1": 40, "L2": 40, "L3": 40})


@pytest.mark.parametrize(
    "asked",
    [
        {"act": "even-out", "key": "mdp", "moves": "l1:L9"},
        {"act": "even-out", "key": "mdp", "moves": "l1:L1-L2"},
        {"act": "even-out", "key": "mdp", "moves": "nobody:L1"},
        {"act": "even-out", "key": "mdp", "moves": ""},
        {"act": "leg-to", "key": "l1", "to": "L1-L1"},
        {"act": "leg-to", "key": "k1", "to": "L1"},
        {"act": "leg-to", "key": "src", "to": "L1"},
    ],
)
def test_legs_that_are_none_change_nothing(page, pottery, asked):
    before = document(pottery)
    shown = post(page, "act", pottery, **asked)
    assert 'class="wrong"' in shown
    assert document(pottery) == before


def test_one_circuit_to_another_leg(page, pottery):
    post(page, "act", pottery, act="leg-to", key="l1", to="L2", lens="legs")
    assert solve_job(document(pottery)).solution.nodes["l1"].legs == ("L2",)
    post(page, "undo", pottery)
    assert solve_job(document(pottery)).solution.nodes["l1"].legs == ("L3",)


def test_least_metal_keeps_every_limit_and_is_taken_back_at_once(page, pottery):
    before = document(pottery)
    shown = page.post(reverse("least", args=[pottery.pk]), {"margin": "0.2"}).content.decode()
    assert "No standard sizes use less: proven." in shown
    found = re.findall(r'data-swap value="(\w+)" data-size="([^"]+)"', re.sub(r"\s+", " ", shown))
    assert ("l6", "12") in found
    wanted = [
        [f"nodes/{key}/run/pins/{place}", value]
        for key, size in found
        for place, value in (("size", size), ("reason", "least metal"))
    ]
    post(page, "cells", pottery, cells=json.dumps(wanted))
    solution = solve(solve_job(document(pottery)).job)
    said = {finding.code for node in solution.nodes.values() for finding in node.findings}
    assert not any(code.startswith("drop.over") for code in said)
    assert max(node.drop_percent for node in solution.nodes.values()) <= 4.8
    post(page, "undo", pottery)
    assert document(pottery)["nodes"] == before["nodes"]
    assert "wrong" in page.post(reverse("least", args=[pottery.pk]), {"margin": "much"}).content.decode()


@pytest.mark.parametrize("sample", ["cinder-lane", "slipway", "marrow-creek"])
@pytest.mark.parametrize("lens", ["legs", "volts"])
def test_the_lenses_show_every_sample(page, ann, sample, lens):
    job = keeping.create(ann, sample_document(sample))
    for key, node in document(job)["nodes"].items():
        if node["kind"] != "load":
            answer = page.get(reverse("workbench", args=[job.pk]), {"at": key, "lens": lens})
            assert answer.status_code == 200
            assert f'data-shows="{lens}"' in answer.content.decode()


def test_a_board_opens_as_a_ladder(page, pottery):
    shown = page.get(reverse("workbench", args=[pottery.pk]), {"at": "shed", "lens": "legs"}).content.decode()
    link = re.search(r'href="(/quick/edison/\?[^"]+)"', shown)[1].replace("&amp;", "&")
    ladder = page.get(link).content.decode()
    assert "Glaze shed L1" in ladder
    assert "as phasors" in ladder or "summed as phasors" in ladder
