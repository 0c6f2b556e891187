"""Two people at one job: what one takes back or takes away while the other builds on it."""

import pytest
from django.test import Client
from django.urls import reverse

from tests.web.bench import document, post
from voltaje.errors import InputError
from voltaje.path.soundness import faults
from web.jobs import rows
from web.jobs.changes import editing
from web.jobs.changes.sound import standings
from web.jobs.document import Change
from web.jobs.limits import MOST_ON_ONE
from web.jobs.models import Event, Job, Membership, Node, Received, Role
from web.jobs.order import STEP
from web.workbench.edits import changes


@pytest.fixture
def theirs(pottery, ben):
    """Ben's page of the same job."""
    Membership.objects.create(job=pottery, user=ben, role=Role.EDITOR)
    client = Client()
    client.force_login(ben)
    return client


def newest(job, kind):
    return max((node for node in Node.objects.filter(job=job, kind=kind)), key=lambda node: node.pk).key


def opens(page, job):
    assert page.get(reverse("workbench", args=[job.pk])).status_code == 200
    assert not faults(standings(document(job)))


def test_an_added_board_on_which_another_hung_a_load_is_not_taken_back_in_silence(page, theirs, pottery):
    post(page, "act", pottery, act="add", kind="board", key="mdp")
    board = newest(pottery, "board")
    post(theirs, "walk", pottery, line="saw 2 hp 208 V 3ph", at=board)
    said = post(page, "undo", pottery)
    assert "Saw was hung on Panel" in said
    assert "remove both, or keep" in said
    assert f'data-key="{board}"' in said
    opens(theirs, pottery)
    post(page, "act", pottery, act="remove", key=board)  # "remove both"
    assert board not in document(pottery)["nodes"]
    post(page, "undo", pottery)
    assert [node["name"] for node in document(pottery)["nodes"].values() if node["parent"] == board] == ["Saw"]


def test_what_hung_on_a_board_that_is_gone_does_not_come_back_without_it(page, theirs, pottery):
    post(theirs, "act", pottery, act="remove", key="sl1")
    post(page, "act", pottery, act="remove", key="shed")
    assert "hung on Glaze shed" in post(theirs, "undo", pottery)
    assert "ann has taken away" in post(theirs, "undo", pottery)
    opens(page, pottery)


def test_a_move_off_a_board_that_is_gone_is_not_taken_back(page, theirs, pottery):
    post(theirs, "act", pottery, act="move", key="sl1", to="mdp")
    post(page, "act", pottery, act="remove", key="shed")
    assert "ann has taken away" in post(theirs, "undo", pottery)
    assert document(pottery)["nodes"]["sl1"]["parent"] == "mdp"
    opens(page, pottery)


def test_each_moves_under_what_the_other_moves(page, theirs, pottery):
    post(page, "act", pottery, act="add", kind="board", key="mdp")
    other, version = newest(pottery, "board"), Job.objects.get(pk=pottery.pk).version
    post(page, "act", pottery, act="move", key="shed", to=other, version=version)
    said = post(theirs, "act", pottery, act="move", key=other, to="shed", version=version)
    assert "cannot hang there" in said
    opens(theirs, pottery)


def test_taking_a_board_away_to_which_another_adds_is_looked_at_again(page, theirs, pottery):
    version = Job.objects.get(pk=pottery.pk).version
    post(theirs, "walk", pottery, line="saw 2 hp 208 V 3ph", at="shed")
    said = post(page, "act", pottery, act="remove", key="shed", version=version)
    assert "ben has changed the same thing meanwhile" in said
    assert "shed" in document(pottery)["nodes"]


def test_a_line_for_a_board_that_is_gone_hangs_nowhere_else(page, theirs, pottery):
    post(page, "act", pottery, act="remove", key="shed")
    before = document(pottery)
    assert "deleted by someone else" in post(theirs, "walk", pottery, line="saw 2 kW 208 V", at="shed")
    text = "name,rating\nSaw,2 kW"
    assert "deleted by someone else" in post(theirs, "load-list", pottery, text=text, take="1", at="shed")
    assert document(pottery) == before


def test_two_adds_get_two_places_and_the_hundredth_drag_still_works(page, theirs, pottery):
    version = Job.objects.get(pk=pottery.pk).version
    post(page, "walk", pottery, line="saw 2 kW 208 V", at="shed", version=version)
    post(theirs, "walk", pottery, line="plane 2 kW 208 V", at="shed", version=version)
    first, second = changes.children(document(pottery), "shed")[:2]
    for _ in range(50):  # each puts the second before the first, as a drag between them does
        for key, before in ((second, first), (first, second)):
            post(page, "act", pottery, act="move", key=key, to="shed", before=before)
            assert changes.children(document(pottery), "shed")[:2] == [key, before]
    places = [node["position"] for node in document(pottery)["nodes"].values() if node["parent"] == "shed"]
    assert len(set(places)) == len(places)


def test_between_the_same_two_a_hundred_others_find_room(page, pottery):
    order = changes.children(document(pottery), "mdp")
    first, last = order[0], order[1]
    for key in [key for key in order[2:] for _ in range(3)]:
        post(page, "act", pottery, act="move", key=key, to="mdp", before=last)
    assert changes.children(document(pottery), "mdp")[0] == first
    post(page, "undo", pottery)
    opens(page, pottery)


def test_places_that_were_once_the_same_are_told_apart_by_a_move(page, pottery):
    Node.objects.filter(job=pottery, parent_key="shed").update(position=STEP)
    *_others, last = changes.children(document(pottery), "shed")
    post(page, "act", pottery, act="up", key=last)
    places = [node["position"] for node in document(pottery)["nodes"].values() if node["parent"] == "shed"]
    assert len(set(places)) == len(places)


def test_a_place_that_was_taken_meanwhile_is_beside_it(page, theirs, pottery):
    last = changes.children(document(pottery), "mdp")[-1]
    post(page, "act", pottery, act="remove", key=last)
    post(theirs, "walk", pottery, line="saw 2 kW 208 V", at="mdp")
    post(page, "undo", pottery)
    assert last in document(pottery)["nodes"]
    opens(page, pottery)
    post(page, "redo", pottery)
    assert last not in document(pottery)["nodes"]


def test_a_way_that_is_taken_is_said_with_who_is_on_it(page, pottery):
    post(page, "edit", pottery, path="nodes/k1/load/way", value="3", at="k1")
    said = post(page, "edit", pottery, path="nodes/k2/load/way", value="3", at="k2")
    assert "way 3 of this board is taken: Kiln 1" in said
    assert document(pottery)["nodes"]["k2"]["load"]["way"] != "3"


def test_an_act_that_is_sent_twice_counts_once(page, pottery):
    for _ in range(3):
        post(page, "walk", pottery, line="saw 2 kW 208 V", at="shed", once="a-token")
    assert sum(node.get("name") == "Saw" for node in document(pottery)["nodes"].values()) == 1
    post(page, "undo", pottery, once="another")
    post(page, "undo", pottery, once="another")
    assert (Event.objects.count(), Received.objects.count()) == (1, 2)


def test_what_waits_in_one_page_does_not_conflict_with_itself(page, theirs, pottery):
    for value in ("30 ft", "40 ft"):
        post(page, "edit", pottery, path="nodes/k2/run/length", value=value, version=0, page="mine", at="k2")
    assert document(pottery)["nodes"]["k2"]["run"]["length"] == "40 ft"
    said = post(theirs, "edit", pottery, path="nodes/k2/run/length", value="50 ft", version=0, page="theirs", at="k2")
    assert "ann set this to “40 ft”" in said


def test_a_plan_that_would_break_the_job_is_not_kept(pottery, ann):
    before = document(pottery)
    for path, value in ((("nodes", "k2", "parent"), "nowhere"), (("nodes", "mdp", "parent"), "shed")):
        with pytest.raises(InputError):
            planner = editing.planned(Change(path, None, value))
            editing.edit(pottery.pk, ann, planner, editing.Seen(0), lambda *_: None)
    assert document(pottery) == before


def test_more_than_can_be_worked_on_is_refused_with_the_cap(page, pottery):
    loads = {f"x{at}": {"kind": "load", "parent_key": "shed"} for at in range(MOST_ON_ONE - 3)}
    made = [
        Node(job=pottery, key=key, position=9e6 + at, data={"load": {"rating": "9 VA"}}, **more)
        for at, (key, more) in enumerate(loads.items())
    ]
    Node.objects.bulk_create(made)
    rows._remembered.clear()  # they came in behind its back
    said = post(page, "walk", pottery, line="10 lamps 9 VA", at="shed")
    assert "at most 1000 here" in said or "at most 1,000 here" in said


# ---- a job that was broken before it was checked


@pytest.mark.parametrize(
    ("broken", "mend"),
    [
        ({"parent_key": "gone"}, {"key": "shed", "to": "mdp"}),
        ({"parent_key": "shed"}, {"key": "shed", "to": "mdp"}),
        ({"parent_key": "gone"}, {"key": "shed", "remove": "1"}),
    ],
)
def test_a_broken_job_opens_to_be_repaired(page, pottery, broken, mend):
    Node.objects.filter(job=pottery, key="shed").update(**broken)
    repair = reverse("repair", args=[pottery.pk])
    for name in ("workbench", "region", "paper", "path-svg", "job-json", "settings", "findings", "schedule-csv"):
        assert page.get(reverse(name, args=[pottery.pk]), follow=True).redirect_chain[-1][0] == repair
    assert page.get(reverse("jobs")).status_code == 200
    shown = page.get(repair).content.decode()
    assert "hangs together no more" in shown
    assert "Glaze shed" in shown
    assert page.post(repair, {"version": "0", **mend})["Location"] == reverse("workbench", args=[pottery.pk])
    opens(page, pottery)


def test_a_broken_system_is_chosen_anew(page, pottery):
    Node.objects.filter(job=pottery, key="src").update(data={"system": "1 V"})
    repair = reverse("repair", args=[pottery.pk])
    assert "unknown system" in page.get(repair).content.decode()
    page.post(repair, {"version": "0", "key": "src", "system": "480 3ph"})
    opens(page, pottery)
