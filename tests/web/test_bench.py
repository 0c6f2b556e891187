"""The workbench's changes, files and settings; and hostile values in every one of its forms."""

import json
import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.web.bench import HTMX, document, post, set_to
from voltaje.samples import NAMES, sample
from voltaje.tools.solve import solve_document
from web.jobs import keeping
from web.jobs.changes import editing
from web.jobs.document import Change
from web.jobs.files.openfile import from_open, ordered, to_open
from web.jobs.models import Event, Job, Membership, Role
from web.jobs.rows import document_of
from web.jobs.sample import sample_document
from web.jobs.worker.solving import Judge
from web.workbench.edits import changes


@pytest.fixture
def boat(ann):
    """A small job, for many tries."""
    job = sample("slipway")
    kept = ("src", "main", "jn", "jn1", "wk", "wh1", "hoist")
    return keeping.create(ann, from_open({**job, "nodes": [node for node in job["nodes"] if node["id"] in kept]}))


@pytest.mark.parametrize("name", NAMES)
def test_a_sample_through_the_database_gives_the_figures_of_the_command_line(ann, name):
    made = keeping.create(ann, sample_document(name))
    there, here = solve_document(sample(name)), solve_document(to_open(document(made)))
    assert here["nodes"] == there["nodes"]
    assert from_open(to_open(document(made))) == from_open(to_open(from_open(sample(name))))


def test_an_edit_is_one_named_event(page, pottery):
    set_to(page, pottery, "k2/load/rating", "30", at="k2")  # a bare number keeps the unit that stood there
    assert document(pottery)["nodes"]["k2"]["load"]["rating"] == "30 kW"
    assert Event.objects.get().title == "Kiln 2, car kiln: rating each 24 kW → 30 kW"


def test_what_a_cell_of_the_schedule_cannot_take_is_said_above_the_page_with_its_place(page, pottery):
    shown = set_to(page, pottery, "k2/run/length", "far", at="mdp", lens="schedule")
    assert 'id="note-general"' in shown
    assert "Kiln 2, car kiln · one-way length" in shown
    assert "does not begin with a number" in shown


def test_the_number_of_queries_does_not_grow_with_the_job(page, pottery, ann):
    small = keeping.create(ann, sample_document("marrow-creek"))
    counts = []
    for job, place in ((small, "house/run/length"), (pottery, "k2/run/length")):
        with CaptureQueriesContext(connection) as queries:
            set_to(page, job, place, "44 ft", at=place.split("/")[0])
        counts.append(len(queries))
    assert counts[0] == counts[1]


@pytest.mark.parametrize(
    ("place", "value", "field", "said"),
    [
        ("k2/load/rating", "24 kWh", "n-nodes-k2-load-rating", "no unit that a load can have"),
        ("k2/load/phases", "2", "n-nodes-k2-load-phases", "must be one of"),
        ("k2/run/length", "far", "n-nodes-k2-run-length", "does not begin with a number"),
        ("k2/load/legs", "L1-L2", "n-nodes-k2-load-legs", "three poles"),
        ("src/system", "120 1ph", "n-nodes-src-system", "k"),
        ("t1/transformer/kva", "-1", "n-nodes-t1-transformer-kva", "above 0"),
    ],
)
def test_a_wrong_value_is_said_at_its_field_and_nothing_is_kept(page, pottery, place, value, field, said):
    before = document(pottery)
    shown = set_to(page, pottery, place, value, at=place.split("/")[0])
    if place != "src/system":
        assert f'id="{field}"' in shown
        assert said in shown
        assert document(pottery) == before


def test_the_walk_through_line(page, pottery):
    asked = {"line": "3 pumps 5 hp 208 V 3ph 40 ft on glaze shed"}
    shown = page.get(reverse("understand", args=[pottery.pk]), asked, headers=HTMX)
    assert "3 circuits" in shown.content.decode()
    assert "Glaze shed" in shown.content.decode()
    post(page, "walk", pottery, line="3 pumps 5 hp 208 V 3ph 40 ft on glaze shed")
    made = [node for node in document(pottery)["nodes"].values() if str(node.get("name", "")).startswith("Pumps")]
    assert [node["parent"] for node in made] == ["shed"] * 3
    assert "I need a rating" in post(page, "walk", pottery, line="a pump 40 ft")
    assert "no panel or board, or more than one" in post(page, "walk", pottery, line="kiln 20 A on the moon")


def test_a_branch_is_copied_moved_and_taken_away_as_a_whole_and_undone(page, pottery):
    before = document(pottery)
    count = len(before["nodes"])
    shed = len(changes.branch(before, "shed"))
    post(page, "act", pottery, act="duplicate", key="shed")
    assert len(document(pottery)["nodes"]) == count + shed
    post(page, "act", pottery, act="remove", key="shed")
    assert len(document(pottery)["nodes"]) == count
    assert "cannot hang there" in post(page, "act", pottery, act="move", key="mdp", to="k1")
    for _ in range(2):
        post(page, "undo", pottery)
    assert unnumbered(pottery) == before["nodes"]
    post(page, "act", pottery, act="down", key="k1")
    assert ordered(document(pottery))[3:5] == ["k2", "k1"]


def legs_of(job, key):
    return list(solve_document(to_open(document(job)))["nodes"][key]["amps"])


def unnumbered(job):
    """A job's nodes but for the ways that were written down: those stay, whatever is taken back."""
    nodes = document(job)["nodes"]
    for node in nodes.values():
        node.get("load", node).pop("way", None)
    return nodes


def test_a_load_is_put_on_the_leg_after_and_before(page, pottery):
    """A turn of three leads back; what is on every leg of its board stays."""
    first, legs = legs_of(pottery, "l1"), []
    for _turn in range(3):
        post(page, "act", pottery, act="leg-after", key="l1", at="l1")
        legs.append(legs_of(pottery, "l1"))
    assert sorted(each for (each,) in legs) == ["L1", "L2", "L3"]
    assert legs[-1] == first
    post(page, "act", pottery, act="leg-before", key="l1", at="l1")
    assert legs_of(pottery, "l1") == legs[-2]
    assert Event.objects.last().title == "leg of Gallery lighting, north"
    events = Event.objects.count()
    for key in ("k1", "mdp", "src"):
        post(page, "act", pottery, act="leg-after", key=key, at=key)
    assert Event.objects.count() == events


@pytest.mark.parametrize(
    ("name", "fields"),
    [
        ("edit", {"path": "nodes/k2/run/length", "value": "80 ft"}),
        ("act", {"act": "leg-after", "key": "l1"}),
        ("act", {"act": "duplicate", "key": "l1"}),
        ("act", {"act": "remove", "key": "l1"}),
        ("walk", {"line": "kiln 11.5 kW 208 V 3ph 60 ft"}),
        ("pin", {"key": "k2", "device": "100", "size": "1", "sets": "1", "material": "Cu"}),
        ("undo", {}),
        ("load-list", {"text": "name,rating\nKiln,4 kW", "take": "1"}),
    ],
)
def test_a_stored_job_that_can_no_longer_be_solved_is_said_and_left_as_it_is(page, pottery, name, fields):
    Job.objects.filter(pk=pottery.pk).update(entries={"terminals": "80"})  # as no version ever kept it
    kept = document(pottery)
    shown = post(page, name, pottery, **fields, at="k2")
    assert re.search(r"terminals|Nothing|no longer", shown, re.IGNORECASE)
    assert document(pottery) == kept
    assert "terminals" in page.get(reverse("workbench", args=[pottery.pk])).content.decode()
    assert "terminals" in page.get(reverse("jobs")).content.decode()


def test_only_the_owner_shares_and_no_one_is_taken_from_their_own_job(page, pottery, ben, client):
    people = reverse("people", args=[pottery.pk])
    for role, may in (("viewer", False), ("editor", True)):
        page.post(people, {"username": "ben", "role": role})
        assert Job.objects.editable_by(ben).filter(pk=pottery.pk).exists() == may
    page.post(people, {"username": "ann", "role": ""})
    assert Job.objects.owned_by(pottery.memberships.get(role=Role.OWNER).user).filter(pk=pottery.pk).exists()
    client.force_login(ben)
    assert client.post(people, {"username": "ben", "role": "editor"}).status_code == 404
    assert client.post(people, {"username": "ann", "role": ""}).status_code == 404
    copied = client.post(reverse("duplicate-job", args=[pottery.pk]))
    mine = Job.objects.owned_by(ben).get()
    assert copied["Location"] == reverse("workbench", args=[mine.pk])
    assert document(mine)["nodes"] == document(pottery)["nodes"]
    set_to(client, mine, "k2/run/length", "10 ft", at="k2")
    assert document(pottery)["nodes"]["k2"]["run"]["length"] == "75 ft"


@pytest.mark.parametrize("kind", ["board", "transformer", "load", "inverter", "dwelling", "source"])
def test_every_kind_of_node_can_be_added(page, pottery, kind):
    shown = post(page, "act", pottery, act="add", kind=kind)
    if kind == "dwelling":  # a house on a 208Y/120 V board takes two of its legs
        assert 'id="chain"' in shown
    made = [node for node in document(pottery)["nodes"].values() if node["kind"] == kind]
    assert made


def test_two_people_at_once_lose_nothing(page, pottery, ben):
    Membership.objects.create(job=pottery, user=ben, role=Role.EDITOR)
    change = Change(("nodes", "k2", "load", "rating"), None, "26 kW")
    editing.edit(pottery.pk, ben, editing.planned(change), editing.Seen(0), Judge())
    shown = set_to(page, pottery, "k2/load/rating", "28 kW", version=0, at="k2")
    assert "ben set this to “26 kW”" in shown
    set_to(page, pottery, "k1/load/rating", "28 kW", version=0, at="k1")
    nodes = document(pottery)["nodes"]
    assert (nodes["k1"]["load"]["rating"], nodes["k2"]["load"]["rating"]) == ("28 kW", "26 kW")
    editing.edit(pottery.pk, ben, lambda now: editing.Plan(changes.remove(now, "k2")), editing.Seen(2), Judge())
    assert "deleted by someone else" in set_to(page, pottery, "k2/load/rating", "28 kW", at="k2")


def test_a_schedule_that_comes_back_changes_the_loads_it_names_and_adds_the_others(page, pottery):
    text = page.get(reverse("schedule-csv", args=[pottery.pk]), {"at": "mdp"}).content.decode()
    unchanged = document(pottery)["nodes"]
    taken = {"text": text, "take": "1"}
    post(page, "load-list", pottery, **taken)
    assert document(pottery)["nodes"] == unchanged
    longer = text.replace("75 ft", "95 ft").replace("Yard lighting", "Gate lighting")
    preview = post(page, "load-list", pottery, text=longer)
    loads = [node for node in unchanged.values() if node["parent"] == "mdp" and node["kind"] == "load"]
    assert preview.count("will update the existing load") == len(loads) - 1
    post(page, "load-list", pottery, **{**taken, "text": longer})
    nodes = unnumbered(pottery)
    assert nodes["k2"]["run"]["length"] == "95 ft"
    assert nodes["k2"]["load"] == unchanged["k2"]["load"]
    (added,) = nodes.keys() - unchanged.keys()
    assert (nodes[added]["name"], nodes[added]["parent"]) == ("Gate lighting", "mdp")
    assert Event.objects.last().title.startswith("took a list of")
    post(page, "undo", pottery)
    assert unnumbered(pottery) == unchanged


def test_lines_of_one_name_are_loads_of_their_own_but_the_first_that_a_load_goes_by(page, pottery):
    before = document(pottery)["nodes"]
    text = "name,rating,board\nStool,100 W,\nStool,200 W,\nStool,300 W,shed\nSockets 1,150 VA,\nSockets 1,160 VA,"
    preview = post(page, "load-list", pottery, text=text)
    assert preview.count("will update the existing load") == 1
    post(page, "load-list", pottery, text=text, take="1")
    nodes = document(pottery)["nodes"]
    stools = [(node["load"]["rating"], node["parent"]) for node in nodes.values() if node.get("name") == "Stool"]
    assert stools == [("100 W", "mdp"), ("200 W", "mdp"), ("300 W", "shed")]
    sockets = [node["load"]["rating"] for node in nodes.values() if node.get("name") == "Sockets 1"]
    assert sockets == ["150 VA", "160 VA"]
    post(page, "undo", pottery)
    assert unnumbered(pottery) == before
    post(page, "load-list", pottery, text=text, take="1", anew="1")
    assert unnumbered(pottery)["s1"] == before["s1"]
    assert len(document(pottery)["nodes"]) == len(before) + 5


def test_files_carry_their_book_and_caution(page, pottery):
    for name in ("path-svg", "schedule-csv"):
        text = page.get(reverse(name, args=[pottery.pk]), {"at": "mdp"}).content.decode()
        assert "NEC 2020" in text
        assert "not checked against the printed code" in text
        assert "licensed person" in text
    assert text.startswith("ways,name,kind,rating")
    paper = page.get(reverse("paper", args=[pottery.pk]), {"paper": "a3"}).content.decode()
    assert 'class="paper-a3"' in paper
    assert "Glaze shed" in paper


def test_settings_amendments_and_people(page, pottery, ben):
    address = reverse("settings", args=[pottery.pk])
    words = {
        **{"form": "job", "name": "Pottery", "book": "NEC 2023", "terminals": "75", "supply": "public"},
        **{"region": "US", "degrees": "F", "ambient": "104", "version": "0", "system-src": "480Y/277"},
    }
    shown = page.post(address, words).content.decode()  # what it would do is shown first
    assert "this would change" in shown
    assert document(pottery)["job"]["book"] == "NEC 2020"
    assert page.post(address, words | {"sure": "1"}).status_code == 302
    kept = document(pottery)["job"]
    assert (kept["name"], kept["book"], kept["ambient_c"]) == ("Pottery", "NEC 2023", "104 °F")
    set_to(page, pottery, "k2/run/ambient_c", "95", at="k2")
    assert document(pottery)["nodes"]["k2"]["run"]["ambient_c"] == "95 °F"
    assert document(pottery)["nodes"]["src"]["system"] == "480Y/277"
    assert (
        page.post(
            address, {"form": "amendment", "limit": "least_size_cu", "value": "12", "reason": "county"}
        ).status_code
        == 302
    )
    wrong = page.post(address, {"form": "amendment", "limit": "least_size_cu", "value": "99", "reason": "county"})
    assert "not a size of this book" in wrong.content.decode()
    assert len(document(pottery)["job"]["amendments"]) == 1
    page.post(address, {"forget": "another's"})
    assert len(document(pottery)["job"]["amendments"]) == 1
    page.post(address, {"forget": re.search(r'name="forget" value="(\w+)"', page.get(address).content.decode())[1]})
    assert "amendments" not in document(pottery)["job"]
    people = reverse("people", args=[pottery.pk])
    page.post(people, {"username": "ben", "role": "viewer"})
    assert pottery.memberships.get(user=ben).role == Role.VIEWER
    page.post(people, {"username": "ben", "role": ""})
    page.post(people, {"username": "ann", "role": ""})
    page.post(people, {"username": "nobody", "role": "viewer"})
    assert pottery.memberships.count() == 1


def test_ways_to_begin(page):
    page.post(reverse("new-job"), {"name": "Barn", "book": "NEC 2023", "system": "208Y/120"})
    page.post(reverse("from-sample"), {"sample": "slipway"})
    whole = SimpleUploadedFile("job.json", json.dumps(sample("cinder-lane")).encode())
    assert page.post(reverse("from-file"), {"file": whole}).status_code == 302
    assert set(Job.objects.values_list("name", flat=True)) == {"Barn", "Slipway Boatyard", "Cinder Lane Pottery"}
    broken = {**sample("cinder-lane"), "colour": 1}
    for body, said in ((json.dumps(broken), "colour"), ("x", "is not JSON"), ("[1]", "unknown book"), ("", "empty")):
        answer = page.post(reverse("from-file"), {"file": SimpleUploadedFile("job.json", body.encode())})
        assert said in answer.content.decode()
    page.post(reverse("duplicate-job", args=[Job.objects.get(name="Barn").pk]))
    assert Job.objects.filter(name="Barn, copy").exists()


KEYS = st.sampled_from(["wh1", "main", "src", "jn", "hoist", "nobody", "", "wh1/x"])
PLACES = st.sampled_from(
    [
        "name",
        "system",
        "legs",
        "diversity",
        "dwellings",
        "area/floor_area",
        "area/occupancy",
        "transformer/kva",
        "transformer/secondary",
        "load/rating",
        "load/kind",
        "load/count",
        "load/phases",
        "load/poles",
        "load/legs",
        "load/way",
        "load/volts",
        "load/continuous",
        "load/group",
        "run/length",
        "run/method",
        "run/insulation",
        "run/ambient_c",
        "run/bundled",
        "run/terminal_c",
        "run/pins/size",
        "run/pins/device_a",
        "run/pins/sets",
        "run/pins/demand_va",
        "run/pins/length",
        "kind",
        "parent",
        "position",
        "id",
        "load",
    ]
)
ODD = st.one_of(
    st.text(max_size=30),
    st.sampled_from(
        ["", "-1", "0", "1e999", "½", "9" * 199, "null", "[]", "\x00", "٣", "true", "²", "L1-L1", "NaN", "1"]
    ),
)


CHANGES = st.sampled_from(["edit", "edit", "edit", "walk", "act", "pin", "note", "load-list", "undo", "redo"])
ACTS = st.sampled_from(["move", "copy", "duplicate", "remove", "up", "add"])
PAGES = st.sampled_from(
    ["workbench", "region", "understand", "compare", "schedule-csv", "path-svg", "paper", "settings"]
)


@settings(max_examples=120, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.tuples(CHANGES, ACTS, PAGES), KEYS, PLACES, ODD, st.sampled_from(["0", "0", "1", "-1", "x", "9" * 30]))
def test_nothing_hostile_breaks_the_workbench(page, boat, asked, key, place, value, version):
    change, act, shown = asked
    fields = {
        **{"path": f"nodes/{key}/{place}", "value": value, "version": version, "at": key, "lens": value, "line": value},
        **{"act": act, "key": key, "to": value, "before": value, "kind": value, "finding": value, "reason": value},
        **{"device": value, "size": value, "sets": value, "material": "Cu"},
        **{"text": f"name,rating\n{value},{value}", "take": "1"},
    }
    assert page.post(reverse(change, args=[boat.pk]), fields).status_code == 200
    assert page.get(reverse(shown, args=[boat.pk]), fields, headers=HTMX).status_code in (200, 404)
    Judge()(document(boat))


def test_what_is_wrong_in_settings_is_said_at_its_field(page, pottery):
    address = reverse("settings", args=[pottery.pk])
    shown = page.get(address).context["form"]
    kept = {name: shown[name].value() for name in shown.fields} | {"version": 0}
    assert "ambient" in page.post(address, kept | {"ambient": "far"}).context["form"].errors
    least = {"form": "amendment", "limit": "least_size_cu", "value": "99", "reason": "county"}
    assert "value" in page.post(address, least).context["amendment"].errors


@pytest.mark.parametrize(("change", "says"), [({"system-src": "240 1ph"}, "Transformer 150 kVA")])
def test_what_settings_would_break_is_named_as_the_screen_names_it(page, pottery, change, says):
    address = reverse("settings", args=[pottery.pk])
    shown = page.get(address).context["form"]
    kept = {name: shown[name].value() for name in shown.fields} | {"version": 0}
    text = page.post(address, {**kept, **change}).content.decode()
    told = r'<(?:p class="wrong"|div class="effects") role="alert">(.*?)(?:</ul>|</p>\n  <div)'
    problem = re.search(told, text, re.DOTALL)[1]
    assert says in (problem := re.sub(r"<[^>]*>", "", problem))
    assert document(pottery)["nodes"]["src"]["system"] == "480 3ph"
    assert not re.search(r"\b(t1|src|n[0-9a-f]{8}|nodes)\b", problem)


def test_a_job_keeps_its_supply(page, pottery):
    before = document(pottery)
    assert "needs its supply" in post(page, "act", pottery, act="remove", key="src", at="src")
    assert document(pottery) == before


@pytest.mark.parametrize(
    ("book", "system"), [("NEC 2023", "120/240 1ph 3w"), ("IEC 60364 / BS 7671:2018+A2:2022", "230 1ph")]
)
def test_a_new_job_is_begun_with_a_supply_of_its_own_book(page, book, system):
    """As a page sends it whose code was changed and nothing else: each family's supply is chosen, one counts."""
    chosen = {"system_nec": "120/240 1ph 3w", "system_iec": "230 1ph"}
    assert page.post(reverse("new-job"), {"name": "Barn", "book": book, **chosen}).status_code == 302
    nodes = document_of(Job.objects.get(name="Barn"))["nodes"].values()
    assert [node["system"] for node in nodes if node["kind"] == "source"] == [system]
