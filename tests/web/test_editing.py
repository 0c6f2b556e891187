"""Changes to a house: kept as typed, undone, done again, and safe when two pages edit."""

import pytest
from django.urls import reverse
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from web.jobs import rows
from web.jobs.changes import editing
from web.jobs.document import Change, NoSuchPlace, put, read
from web.jobs.files.house import FLAGS, HOUSE, LISTS, check, library_fields, path_of
from web.jobs.models import Event, Job, Membership, Role

DRYER = ("nodes", HOUSE, "dryers", "d1", "load")
AREA = ("nodes", HOUSE, "floor_area")


def post(page, address, job, /, **fields):
    fields.setdefault("version", Job.objects.get(pk=job.pk).version)
    return page.post(
        reverse(f"house-{address}", args=[job.pk, HOUSE]), fields, headers={"HX-Request": "true"}
    ).content.decode()


def set_to(page, job, path, value, **more):
    return post(page, "edit", job, path="/".join(path), value=value, **more)


def held(job, path):
    return read(rows.document_of(Job.objects.get(pk=job.pk)), path)


def test_an_edit_shows_its_new_figures_and_is_kept_as_typed(page, job):
    shown = set_to(page, job, DRYER, "6,400 w")
    assert held(job, DRYER) == "6,400 w"
    assert "54,354" in shown  # 53,354 + 1,000
    assert 'id="version" name="version" value="1"' in shown


def test_a_bare_number_is_kept_with_its_unit(page, job):
    set_to(page, job, DRYER, "6.4")
    set_to(page, job, AREA, "2400")
    assert (held(job, DRYER), held(job, AREA)) == ("6.4 kW", "2400 ft²")
    set_to(page, job, ("nodes", HOUSE, "area_unit"), "m²")
    assert held(job, AREA) == "2400 ft²"  # what was typed stays what it is
    set_to(page, job, AREA, "200")
    assert held(job, AREA) == "200 m²"


def test_a_wrong_value_is_said_at_the_field_and_nothing_is_kept(page, job):
    shown = set_to(page, job, ("nodes", HOUSE, "cooking", "c1", "load"), "40 kW")
    assert 'id="n-nodes-house-cooking-c1-load"' in shown
    assert "Table 220.55" in shown
    assert 'id="outcome"' not in shown
    assert Job.objects.get().version == 0


def test_undo_and_redo_survive_and_end_where_they_began(page, job):
    before = rows.document_of(job)
    set_to(page, job, DRYER, "6 kW")
    set_to(page, job, AREA, "3000 ft2")
    post(page, "remove", job, path="nodes/house/appliances/a2")
    after = rows.document_of(Job.objects.get())
    for _ in range(3):
        post(page, "undo", job)
    assert rows.document_of(Job.objects.get()) == before
    assert "nothing of yours" in post(page, "undo", job)
    for _ in range(3):
        post(page, "redo", job)
    assert rows.document_of(Job.objects.get()) == after


def test_a_new_change_ends_what_could_be_done_again(page, job):
    set_to(page, job, DRYER, "6 kW")
    post(page, "undo", job)
    set_to(page, job, AREA, "3000 ft2")
    assert "nothing of yours" in post(page, "redo", job)


def test_typing_in_one_field_is_one_change(page, job):
    for typed in ("6", "60", "600", "6000"):
        set_to(page, job, DRYER, typed)
    assert Event.objects.count() == 1
    post(page, "undo", job)
    assert held(job, DRYER) == "5.4 kW"
    Event.objects.update(at=timezone.now() - timezone.timedelta(minutes=1))
    set_to(page, job, DRYER, "7 kW")
    set_to(page, job, AREA, "3000 ft2")
    set_to(page, job, DRYER, "8 kW")
    assert Event.objects.filter(undone=False).count() == 3


def test_two_pages_that_edit_different_fields_both_keep_theirs(page, job):
    set_to(page, job, DRYER, "6 kW", version=0)
    shown = set_to(page, job, AREA, "3000 ft2", version=0)
    assert (held(job, DRYER), held(job, AREA)) == ("6 kW", "3000 ft2")
    assert 'id="inputs"' in shown  # the other page's change is shown too


def test_two_pages_that_edit_the_same_field(page, job, ben, client):
    Membership.objects.create(job=job, user=ben, role=Role.EDITOR)
    editing.edit(job.pk, ben, editing.planned(Change(DRYER, None, "7 kW")), editing.Seen(0), check)
    shown = set_to(page, job, DRYER, "6 kW", version=0)
    assert "ben set this to “7 kW”" in shown
    assert held(job, DRYER) == "7 kW"
    assert "6 kW" in set_to(page, job, DRYER, "6 kW", version=1, structure="1")
    assert held(job, DRYER) == "6 kW"


def test_undo_says_so_when_another_has_changed_the_same_thing(page, job, ben):
    Membership.objects.create(job=job, user=ben, role=Role.EDITOR)
    set_to(page, job, DRYER, "6 kW")
    editing.edit(job.pk, ben, editing.planned(Change(DRYER, None, "7 kW")), editing.Seen(1), check)
    assert "ben has since changed the same thing" in post(page, "undo", job)
    assert held(job, DRYER) == "7 kW"


def test_a_row_taken_away_elsewhere_is_not_brought_back_by_typing(page, job):
    post(page, "remove", job, path="nodes/house/dryers/d1")
    shown = set_to(page, job, DRYER, "6 kW")
    assert "deleted by someone else" in shown
    assert held(job, ("nodes", HOUSE, "dryers")) == []


@pytest.mark.parametrize(
    ("fields", "key", "expected"),
    [
        ({"kind": "kitchen", "name": "Microwave", "load": "1500 VA", "volts": "120"}, "appliances", "1500 VA"),
        ({"kind": "range", "load": "12 kW"}, "cooking", "12 kW"),
        ({"kind": "charger", "load": "32 A"}, "vehicle_chargers", "32 A"),
        ({"kind": "heat", "load": "5 kW"}, "heating", "5 kW"),
    ],
)
def test_adding_a_row(page, job, fields, key, expected):
    shown = post(page, "add", job, **fields)
    assert held(job, ("nodes", HOUSE, key))[-1]["load"] == expected
    assert 'data-focus="add-name"' in shown
    post(page, "undo", job)
    assert rows.document_of(Job.objects.get()) == rows.document_of(job)


def test_a_row_without_a_rating_is_refused_at_the_line(page, job):
    shown = post(page, "add", job, kind="kitchen", name="Microwave", load="lots")
    assert 'id="note-add"' in shown
    assert "lots" in shown
    assert "5.5 what? Write its unit" in post(page, "add", job, kind="dryer", load="5.5")


def test_switches(page, job):
    set_to(page, job, ("nodes", HOUSE, "method"), "optional", structure="1")
    set_to(page, job, ("nodes", HOUSE, "heating", "h2", "locked_out"), "true", structure="1")
    shown = set_to(page, job, ("nodes", HOUSE, "appliances", "a1", "fastened"), "false", structure="1")
    assert "Optional method, chosen" in shown
    assert held(job, ("nodes", HOUSE, "heating", "h2", "locked_out")) is True
    assert held(job, ("nodes", HOUSE, "appliances", "a1", "fastened")) is False


def test_a_change_of_supply_that_breaks_a_row_names_the_row(page, job):
    set_to(page, job, ("nodes", HOUSE, "appliances", "a3", "volts"), "240", structure="1")
    shown = set_to(page, job, ("job", "book"), "NEC 1999", structure="1")
    assert "unknown book" in shown


def test_fields_of_the_library_lead_back_to_their_place(job):
    document = rows.document_of(job)
    assert path_of("cooking[1].load", document) == ("nodes", HOUSE, "cooking", "c2", "load")
    assert path_of("dryers[0]", document) == DRYER
    assert path_of("system", document) == ("nodes", "src", "system")
    assert library_fields(document["nodes"][HOUSE])["dryers"] == ["5.4 kW"]


def test_putting_where_there_is_no_place():
    with pytest.raises(NoSuchPlace):
        put({"job": {}}, Change(("nodes", "house", "x"), None, "y"))


ITEMS = (("appliances", "a2"), ("heating", "h2"), ("cooking", "c1"))
PLACES = [
    *(f"nodes/house/{key}" for key in ("floor_area", "cooling", "method", "laundry_circuits", "terminals", "x")),
    *(f"nodes/house/{key}/{item}/{part}" for key, item in ITEMS for part in (*LISTS[key], "id")),
    *(
        "job/book",
        "job/name",
        "nodes/src/system",
        "job/id",
        "nodes/house/appliances",
        "nodes/house/appliances/z/load",
        "",
    ),
]
ODD = st.one_of(
    st.text(max_size=30),
    st.sampled_from(["", "-1", "0", "1e999", "½", "9" * 199, "null", "[]", "\x00", "٣", "true", "²"]),
)


@settings(max_examples=70, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.sampled_from(PLACES), ODD, st.sampled_from(["0", "1", "-1", "x", "9" * 30]))
def test_nothing_typed_anywhere_breaks_the_page(page, job, path, typed, version):
    fields = {"path": path, "value": typed, "version": version}
    assert page.post(reverse("house-edit", args=[job.pk, HOUSE]), fields).status_code == 200
    add = {"kind": "utility", "name": typed, "load": typed, "volts": typed, "version": version}
    assert page.post(reverse("house-add", args=[job.pk, HOUSE]), add).status_code == 200
    assert page.post(reverse("house-remove", args=[job.pk, HOUSE]), fields).status_code == 200
    assert page.get(reverse("house", args=[job.pk, HOUSE])).status_code == 200
    check(rows.document_of(Job.objects.get()))


def test_flags_are_known_to_the_lists():
    assert all(any(flag in parts for parts in LISTS.values()) for flag in FLAGS)


def test_a_new_house(page, django_user_model):
    words = {"name": "Shed", "floor_area": "80 m²", "book": "NEC 2020", "system": "120/240 1ph 3w"}
    response = page.post(reverse("new-house"), words)
    made = Job.objects.get()
    assert response["Location"] == reverse("house", args=[made.pk, HOUSE])
    assert held(made, AREA) == "80 m²"
    again = page.post(reverse("new-house"), {**words, "floor_area": "-5", "name": "Kept"})
    assert "must be above 0" in again.content.decode()
    assert 'value="Kept"' in again.content.decode()
