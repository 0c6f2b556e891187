"""Quick sheets: found by the question, asked in the address, answered as everywhere, kept, put into jobs."""

import json
import re
from importlib import import_module

import pytest
from django.apps import apps
from django.test import Client
from django.urls import reverse
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.web.bench import document
from voltaje.tools.registry import tools
from web.jobs import keeping
from web.jobs.models import Job
from web.jobs.sample import sample_document
from web.quick.answering import sheet_of
from web.quick.finding import find
from web.quick.inputs import as_address
from web.quick.models import Kept

FAMILIES = [(tool.name, family) for tool in tools().values() for family in tool.example]
BOOKS = {"nec": "NEC 2023", "iec": "BS 7671"}


def sheet(client, name, **inputs):
    return client.get(reverse("quick-sheet", args=[name]), inputs)


def example(name, family):
    return as_address({"book": BOOKS[family], **tools()[name].example[family]})


@pytest.mark.parametrize(
    ("words", "name"),
    [
        ("hp", "motor-branch"),
        ("430.52", "motor-branch"),
        ("kva", "full-load-amps"),
        ("house", "dwelling"),
        ("drop", "run"),
        ("430.24", "motor-feeder"),
    ],
)
def test_a_tool_is_found_by_question_synonym_and_clause(client, db, words, name):
    page = client.get(reverse("quick"), {"words": words}).content.decode()
    assert reverse("quick-sheet", args=[name]) in page


@pytest.mark.parametrize(("typed", "stands"), [("true", "yes"), ("ON", "yes"), ("no", "no"), ("perhaps", "perhaps")])
def test_a_choice_in_other_words_stands_as_the_choice_that_it_means(typed, stands):
    """The command line prints true; on the form that is yes, not a button of its own. What means none is kept."""
    view = sheet_of(tools()["bank"], example("bank", "nec") | {"neutral": typed})
    chosen = {each.place: [choice.value for choice in each.choices if choice.chosen] for each in view.form.all()}
    assert chosen["neutral"] == [stands]


@pytest.mark.parametrize(("name", "family"), FAMILIES)
def test_the_worked_example_answers_and_every_way_out_has_the_same(client, db, name, family):
    inputs = example(name, family)
    page = sheet(client, name, **inputs)
    assert page.status_code == 200
    view = sheet_of(tools()[name], inputs)
    assert view.answered
    for head in view.heads:
        assert head.value in page.content.decode()
    out = client.get(reverse("quick-json", args=[name]), inputs).json()
    assert out == json.loads(json.dumps(tools()[name].run({"book": BOOKS[family], **tools()[name].example[family]})))
    text = client.get(reverse("quick-text", args=[name]), inputs).content.decode()
    assert view.heads[0].value in text
    assert str(tools()[name].caution) in text
    paper = client.get(reverse("quick-print", args=[name]), inputs).content.decode()
    assert BOOKS[family] in paper
    # The link that the sheet gives opens the very sheet.
    assert sheet_of(tools()[name], as_address(view.raw)).answered.result == view.answered.result


@pytest.mark.parametrize("name", list(tools()))
def test_a_sheet_nothing_was_asked_of_says_its_question(client, db, name):
    assert str(tools()[name].question) in sheet(client, name).content.decode()


def test_what_is_wrong_is_said_at_its_field_and_the_last_answer_is_left(client, db):
    asked = {"hp": "13.7", "volts": "208"}
    whole = sheet(client, "motor-branch", **asked).content.decode()
    assert re.search(r'id="e-q-hp"[^>]*>13.7 hp is not in Table 430.250; beside it stand: 10 hp, 15 hp', whole)
    live = client.get(reverse("quick-sheet", args=["motor-branch"]), asked, headers={"HX-Request": "true"})
    assert live["HX-Reswap"] == "none"
    assert 'id="answer"' not in live.content.decode()
    good = client.get(
        reverse("quick-sheet", args=["motor-branch"]), {**asked, "hp": "10"}, headers={"HX-Request": "true"}
    )
    assert good["HX-Replace-Url"] == "/quick/motor-branch/?hp=10&volts=208"
    assert client.get(reverse("quick-json", args=["motor-branch"]), asked).json()["field"] == "hp"


def test_readings_of_a_rule_stand_beside_each_other(client, db):
    view = sheet_of(tools()["motor-branch"], {"hp": "7.5", "volts": "208"})
    terminals = next(each for each in view.form.all() if each.place == "terminal_c")
    assert [(choice.value, choice.answer) for choice in terminals.choices[1:]] == [("60", "8 AWG"), ("75", "10 AWG")]


def test_an_item_more_and_one_less(client, db):
    asked = {"volts": "460", "motors[0].hp": "40", "motors[1].hp": "25"}
    more = sheet(client, "motor-feeder", **asked, _add="motors").content.decode()
    assert 'name="motors[2].hp"' in more
    less = sheet(client, "motor-feeder", **asked, _drop="motors[0]").content.decode()
    assert 'name="motors[1].hp"' not in less
    assert re.search(r'name="motors\[0\].hp"\s+value="25"', less)


def test_the_cell_that_a_step_used_is_lit_in_its_table(client, db):
    page = sheet(client, "motor-branch", hp="7.5", volts="208").content.decode()
    link = re.search(r'href="(/tables/nec-motor_3ph/[^"]*)"', page)[1].replace("&amp;", "&")
    table = client.get(link).content.decode()
    assert re.search(r'<tr class="lit"[^>]*>.*?<td\s+class="lit [^"]*">24.2', table, re.DOTALL)


def test_kept_sheets_are_ones_own_and_can_be_compared_deleted_and_brought_back(client, ann, ben):
    client.force_login(ann)
    other = Client()
    other.force_login(ben)
    for name, hp in (("small", "5"), ("large", "10")):
        client.post(reverse("quick-keep", args=["motor-branch"]), {"_name": name, "hp": hp, "volts": "230"})
    large, small = Kept.objects.of(ann)
    page = client.get(reverse("quick-compare"), {"kept": [small.pk, large.pk]}).content.decode()
    assert page.count("≠") >= 3
    assert client.get(reverse("quick-kept", args=[small.pk]))["Location"] == "/quick/motor-branch/?hp=5&volts=230"
    assert other.get(reverse("quick-kept", args=[small.pk])).status_code == 404
    assert other.post(reverse("quick-forget", args=[small.pk])).status_code == 404
    client.post(reverse("quick-forget", args=[small.pk]))
    assert list(Kept.objects.of(ann)) == [large]
    client.post(reverse("quick-back", args=[small.pk]))
    assert set(Kept.objects.of(ann)) == {small, large}


def as_nodes(name):
    return tools()[name].answered({"book": BOOKS["nec"], **tools()[name].example["nec"]}).nodes


@pytest.mark.parametrize(("name", "family"), [each for each in FAMILIES if each[1] == "nec" and as_nodes(each[0])])
def test_put_into_a_job_and_taken_out_by_undo(client, ann, name, family):
    client.force_login(ann)
    job = keeping.create(ann, sample_document("cinder-lane"))
    before = document(job)
    answer = client.post(reverse("quick-put", args=[name]), {"_job": job.pk, **example(name, family)})
    assert answer["Location"].startswith(reverse("workbench", args=[job.pk])), answer
    assert len(document(job)["nodes"]) == len(before["nodes"]) + len(as_nodes(name))
    version = Job.objects.get(pk=job.pk).version
    client.post(reverse("undo", args=[job.pk]), {"version": version, "at": "", "lens": "path"})
    assert document(job)["nodes"] == before["nodes"]


def test_a_job_of_someone_else_takes_nothing(client, ann, ben):
    job = keeping.create(ben, sample_document("cinder-lane"))
    client.force_login(ann)
    put = client.post(reverse("quick-put", args=["run"]), {"_job": job.pk, "amps": "20", "volts": "208"})
    assert put.status_code == 404


WORDS = st.text(max_size=24) | st.sampled_from(["7½ hp", "-5", "1e400", "90 kV", "NEC 2017", "é", "\x00", "['", "5,5"])
PLACES = st.sampled_from(
    [
        "book",
        "hp",
        "kw",
        "volts",
        "phases",
        "amps",
        "kva",
        "length",
        "motors[0].hp",
        "motors[3].volts",
        "motors",
        "terminal_c",
        "appliances[0].load",
        "dryers",
        "floor_area",
        "a.b",
        "[0]",
        "motors[999].hp",
        "_drop",
        "_add",
    ]
)


@pytest.mark.parametrize("name", list(tools()))
@settings(max_examples=25, deadline=None)
@given(st.dictionaries(PLACES, WORDS, max_size=6))
def test_whatever_is_asked_is_answered_or_refused_at_a_field(name, asked):
    view = sheet_of(tools()[name], {key: value for key, value in asked.items() if not key.startswith("_")})
    assert view.answered or view.blank or view.form.general or any(each.error for each in view.form.all())


@pytest.mark.parametrize(
    ("words", "name"),
    [
        ("7½ hp", "motor-branch"),
        ("7.5 hp", "motor-branch"),
        ("fuse", "run"),
        ("MCB", "run"),
        ("240.4(B)", "run"),
        ("turns", "autotransformer"),
        ("step up", "buck-boost"),
        ("grounding electrode", "earthing"),
        ("450.3", "transformer"),
    ],
)
def test_a_sheet_is_found_by_what_people_call_it(words, name):
    assert name in [tool.name for shelf in find(words) for tool in shelf.tools]


def test_a_kept_ladder_opens_the_section_that_it_opened(ann):
    """Sections counted from 0 when it was kept: its 1 is the second."""
    inputs = example("edison", "nec")
    del inputs["opened_section"]
    kept = Kept.objects.create(owner=ann, tool="edison", name="Row 4", inputs=inputs | {"open_neutral_at": "1"})
    import_module("web.quick.migrations.0002_ladder_sections_from_1").forwards(apps, None)
    kept.refresh_from_db()
    assert kept.inputs == inputs | {"opened_section": "2"}
    assert sheet_of(tools()["edison"], kept.inputs).answered


def test_a_plate_typed_into_one_field_stands_in_all_that_it_fills(client, db):
    page = sheet(client, "transformer", kva="45 kVA 600D-208Y/120 4.5 %Z").content.decode()
    for place, value in (("kva", "45"), ("primary_v", "600"), ("secondary_v", "208"), ("impedance_percent", "4.5")):
        assert re.search(rf'name="{place}"\s+value="{value}"', page), place
    assert "Read off the plate" in page
