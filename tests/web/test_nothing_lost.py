"""Nobody's work goes with a second sign-in, an expiry, another's token or a full log."""

import json
import re
import threading
from datetime import timedelta
from importlib import import_module

import pytest
from django.apps import apps
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from tests.conftest import PASSWORD
from tests.web.bench import document, post
from voltaje.design.ways import ways_of
from voltaje.samples import sample
from web.accounts import guests
from web.accounts.models import Session, Tally
from web.jobs import keeping, limits, rows
from web.jobs.files import reading
from web.jobs.files.openfile import from_open
from web.jobs.models import Event, Job, Membership, Reading, Received, Role, Work
from web.jobs.weight import weight_of
from web.jobs.worker.housekeeping import tidy
from web.quick.models import Kept
from web.words.met import Met
from web.workbench.parts.ways import circuits

K2_LENGTH = "nodes/k2/run/length"
LONG_AGO = guests.KEPT + timedelta(days=1)


@pytest.fixture
def visitor(client, db):
    """A visitor with a job, and their account."""
    client.post(reverse("try"), {"sample": "cinder-lane"})
    client.guest = get_user_model().objects.get(username__startswith=guests.PREFIX)
    client.job = Job.objects.get()
    return client


def sign_in(client, name="ann"):
    return client.post(reverse("sign-in"), {"username": name, "password": PASSWORD})


def share(job, user, role=Role.EDITOR):
    return Membership.objects.create(job=job, user=user, role=role)


def stay_away(guest):
    get_user_model().objects.filter(pk=guest.pk).update(last_login=timezone.now() - LONG_AGO)


# Names


@pytest.mark.parametrize("name", ["ann", "ANN", " ann"])
@pytest.mark.parametrize("as_visitor", [False, True])
def test_a_taken_name_is_said_to_be_taken(client, ann, name, as_visitor):
    if as_visitor:
        client.post(reverse("try"), {"sample": "cinder-lane"})
    answer = client.post(reverse("sign-up"), {"username": name, "password1": PASSWORD, "password2": PASSWORD})
    assert answer.status_code == 200
    said = answer.content.decode()
    assert "already exists" in said
    assert ("visitor" in said) == as_visitor  # the page still knows who asks


def test_of_two_who_take_a_name_at_once_one_is_told(client, db, monkeypatch):
    from web.accounts.forms import SignUpForm  # noqa: PLC0415

    monkeypatch.setattr(SignUpForm, "clean_username", lambda form: form.cleaned_data["username"])
    monkeypatch.setattr(SignUpForm, "validate_unique", lambda _form: None)
    get_user_model().objects.create_user("cleo")
    answer = client.post(reverse("sign-up"), {"username": "cleo", "password1": PASSWORD, "password2": PASSWORD})
    assert "already exists" in answer.content.decode()


# Signing in


def test_everything_of_a_visitor_goes_along(visitor, ann):
    """Held by the model: whatever points at an account, but for its own sign-ins, is the person's afterwards."""
    guest, job = visitor.guest, visitor.job
    post(visitor, "walk", job, line="heater 3 kW 208 V", once="one")
    Kept.objects.create(owner=guest, tool="run", name="Feeder", inputs={"amps": "60"})
    Reading.objects.create(user=guest, name="site.json", text="{}")
    Work.objects.create(user=guest, job=job, what="even", version=0)
    pointing = [
        (each.related_model, each.field.name)
        for each in get_user_model()._meta.related_objects
        if each.related_model is not Session and each.related_model._meta.app_label not in ("auth", "axes", "admin")
    ]
    had = {model: model.objects.filter(**{name: guest}).count() for model, name in pointing}
    assert all(had.values()), "this test knows nothing of one kind of row: give the visitor one"
    assert sign_in(visitor).status_code == 302
    assert {model: model.objects.filter(**{name: ann}).count() for model, name in pointing} == had
    assert not get_user_model().objects.filter(pk=guest.pk).exists()
    nodes = len(document(job)["nodes"])
    post(visitor, "undo", job)
    assert len(document(job)["nodes"]) == nodes - 1


def test_a_job_that_a_visitor_shared_with_themselves_is_merged(visitor, ann):
    share(visitor.job, ann)
    visitor.post(reverse("try"), {"sample": "slipway"})
    assert sign_in(visitor).status_code == 302
    assert set(ann.memberships.values_list("role", flat=True)) == {Role.OWNER}
    assert ann.memberships.count() == 2
    assert visitor.get(reverse("workbench", args=[visitor.job.pk])).status_code == 200


def test_where_the_work_cannot_go_along_nobody_is_signed_in(visitor, ann, monkeypatch):
    def broken(**_more):
        raise RuntimeError

    guests.became.connect(broken)
    try:
        with pytest.raises(RuntimeError):
            sign_in(visitor)
    finally:
        guests.became.disconnect(broken)
    assert Membership.objects.get().user == visitor.guest
    assert visitor.get(reverse("workbench", args=[visitor.job.pk])).status_code == 200  # still the visitor's


def test_a_visitor_whose_session_ended_takes_everything_along_by_the_cookie(visitor, ann):
    Session.objects.all().delete()
    sign_in(visitor)
    assert Membership.objects.get().user == ann


def test_the_pages_say_that_the_work_is_kept(visitor):
    assert "1 job that you tried" in visitor.get(reverse("sign-up")).content.decode()
    assert "Your work is kept" in visitor.get(reverse("sign-in")).content.decode()


def test_a_visitors_sign_out_holds(visitor):
    visitor.post(reverse("sign-out"))
    assert visitor.get(reverse("home")).status_code == 200
    assert visitor.get(reverse("workbench", args=[visitor.job.pk])).status_code == 302


# Expiry


@pytest.mark.parametrize(
    ("roles", "heir"), [({"ann": Role.VIEWER, "ben": Role.EDITOR}, "ben"), ({"ann": Role.VIEWER}, "ann"), ({}, None)]
)
def test_a_visitors_expiry_takes_only_what_is_theirs_alone(visitor, ann, ben, roles, heir):
    for name, role in roles.items():
        share(visitor.job, {"ann": ann, "ben": ben}[name], role)
    stay_away(visitor.guest)
    keeping.purge(timezone.now())
    owner = Membership.objects.filter(job=visitor.job, role=Role.OWNER).first()
    assert (owner.user.username if owner else None) == heir
    assert Job.objects.filter(pk=visitor.job.pk).exists() == bool(heir)
    assert not get_user_model().objects.filter(pk=visitor.guest.pk).exists()


def test_what_a_forgotten_visitor_did_stays_in_anothers_log(visitor, ann, pottery):
    page = Client()
    page.force_login(ann)
    share(pottery, visitor.guest)
    post(visitor, "walk", pottery, line="heater 3 kW 208 V")
    stay_away(visitor.guest)
    keeping.purge(timezone.now())
    assert Event.objects.get(job=pottery).who == "a visitor"
    assert "a visitor" in page.get(reverse("settings", args=[pottery.pk])).content.decode()
    assert "since changed" not in post(page, "undo", pottery)


# Acts


def test_an_act_under_anothers_token_is_done(page, pottery, ben):
    share(pottery, ben)
    theirs = Client()
    theirs.force_login(ben)
    for client, line in ((page, "saw 2 kW 208 V"), (theirs, "oven 4 kW 208 V"), (theirs, "oven 4 kW 208 V")):
        post(client, "walk", pottery, line=line, once="the same")
    names = [node["name"] for node in document(pottery)["nodes"].values()]
    assert (names.count("Saw"), names.count("Oven")) == (1, 1)
    assert Received.objects.count() == 2


# The log has a cap


@pytest.fixture
def short_log(monkeypatch):
    monkeypatch.setattr("web.jobs.weight.MOST_EVENTS", 5)
    monkeypatch.setattr("web.jobs.weight._FOLDED_AT_ONCE", 2)


def test_undo_reaches_as_far_as_the_log(page, pottery, short_log):
    for at in range(12):
        post(page, "walk", pottery, line=f"heater {at + 1} kW 208 V")
        assert pottery.events.count() <= 8
    job = Job.objects.get()
    assert job.log_bytes == sum(event.bytes for event in job.events.all()) > 0
    reach = job.events.count()
    for _ in range(reach):
        post(page, "undo", pottery)
    assert "nothing of yours" in post(page, "undo", pottery)
    assert sum("Heater" in node["name"] for node in document(pottery)["nodes"].values()) == 12 - reach


def test_a_heavy_log_is_folded_and_the_last_act_stays(page, pottery, monkeypatch):
    monkeypatch.setattr("web.jobs.weight.MOST_LOG_BYTES", 2_000)
    for _ in range(8):
        post(page, "walk", pottery, line="4 heaters 3 kW 208 V")
        post(page, "undo", pottery)
        post(page, "redo", pottery)
    assert Job.objects.get().log_bytes < 4_000
    assert pottery.events.count() >= 1


def test_other_processes_hear_of_what_was_folded(page, pottery, short_log):
    first = document(pottery)
    stale = dict(rows._remembered)
    for at in range(9):
        post(page, "edit", pottery, path=K2_LENGTH, value=f"{40 + at} ft", page=f"p{at}")
    rows._remembered.clear()
    rows._remembered.update(stale)
    assert document(pottery)["nodes"]["k2"]["run"]["length"] == "48 ft" != first["nodes"]["k2"]["run"]["length"]


def test_a_page_older_than_the_log_writes_over_nothing_unasked(page, pottery, short_log):
    for at in range(9):
        post(page, "edit", pottery, path=K2_LENGTH, value=f"{40 + at} ft", page=f"p{at}")
    said = post(page, "edit", pottery, path=K2_LENGTH, value="77 ft", version=0, page="old")
    assert "someone set this to" in said
    assert document(pottery)["nodes"]["k2"]["run"]["length"] == "48 ft"


# A long life: numbers that a page sends back are written without the marks of thousands


def test_a_job_of_more_than_a_thousand_changes_is_changed_as_before(page, pottery):
    Job.objects.update(version=1_234_567)
    shown = page.get(reverse("workbench", args=[pottery.pk])).content.decode()
    (version,) = re.findall(r'id="seen-version" name="version" value="([^"]*)"', shown)
    said = post(page, "edit", pottery, path=K2_LENGTH, value="44 ft", version=version)
    assert document(pottery)["nodes"]["k2"]["run"]["length"] == "44 ft"
    (version,) = re.findall(r'id="seen-version" name="version" value="([^"]*)"', said)
    assert "nothing of yours" not in post(page, "undo", pottery, version=version)


@pytest.mark.parametrize("name", ["workbench", "settings", "repair", "quick"])
def test_no_number_that_is_sent_back_has_marks_of_thousands(page, ann, pottery, name):
    Job.objects.update(version=1_234_567)
    Kept.objects.create(pk=1_234_567, owner=ann, tool="run", name="Feeder", inputs={"amps": "60"})
    shown = page.get(reverse(name, args=[] if name == "quick" else [pottery.pk])).content.decode()
    assert not re.findall(r'(?:value|data-version|hx-vals)="?[^">]*1,234,567', shown)


# Bytes


def test_a_jobs_bytes_are_counted_as_they_come_and_go(page, pottery):
    post(page, "walk", pottery, line="saw 2 kW 208 V")  # the ways of the others are written down with it
    before = Job.objects.get().bytes
    post(page, "walk", pottery, line="20 heaters 3 kW 208 V")
    assert Job.objects.get().bytes - before > 20 * 100
    post(page, "undo", pottery)
    assert Job.objects.get().bytes == pytest.approx(before, abs=100)  # ways that were written down stay
    assert before == pytest.approx(weight_of(document(pottery)), rel=0.05)


def test_a_full_job_and_a_full_account_are_told_and_counted(page, pottery, monkeypatch):
    monkeypatch.setattr("web.jobs.weight.MOST_BYTES", Job.objects.get().bytes + 2_000)
    assert "at most 0 MB" in post(page, "walk", pottery, line="20 heaters 3 kW 208 V")
    monkeypatch.setattr("web.jobs.weight.MOST_BYTES", limits.MOST_BYTES)
    monkeypatch.setattr("web.jobs.weight.MOST_BYTES_OF_ALL", Job.objects.get().bytes + 2_000)
    assert "all jobs of an account" in post(page, "walk", pottery, line="20 heaters 3 kW 208 V")
    with pytest.raises(limits.OverCap):
        keeping.create(pottery.members.get(), from_open(sample("cinder-lane")))
    assert Met.objects.get(name="bytes of a job").number == 1
    health = page.get(reverse("health")).json()
    assert health["limits_met"]["bytes of an account"] >= 1


# The worker


@pytest.mark.django_db(transaction=True)
def test_what_an_ended_worker_left_is_read_by_the_next_and_made_once(ann, settings):
    settings.TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
    found = Reading.objects.create(user=ann, name="site.json", text=json.dumps(sample("cinder-lane")))
    DBTaskResult.objects.create(
        status="RUNNING",
        task_path=reading.read_in_background.module_path,
        run_after=timezone.now(),
        args_kwargs={"args": [str(found.pk)], "kwargs": {}},
        backend_name="default",
    )
    reading.resume()
    assert sorted(DBTaskResult.objects.values_list("status", flat=True)) == ["FAILED", "READY"]
    reading.resume()  # twice puts nothing in twice
    assert DBTaskResult.objects.count() == 2
    call_command("work", "--batch", "--no-startup-delay", verbosity=0)
    assert Job.objects.get().name == "Cinder Lane Pottery"


@pytest.mark.django_db(transaction=True)
def test_two_workers_do_not_read_one_file(ann, monkeypatch):
    found = Reading.objects.create(user=ann, name="site.json", text=json.dumps(sample("cinder-lane")))
    reached, goes_on = threading.Event(), threading.Event()
    solve_job = reading.solve_job

    def slow(*arguments, **more):
        reached.set()
        assert goes_on.wait(20)
        return solve_job(*arguments, **more)

    monkeypatch.setattr(reading, "solve_job", slow)
    first = threading.Thread(target=reading.read_in_background.func, args=[str(found.pk)])
    first.start()
    assert reached.wait(20)
    reading.read_in_background.func(str(found.pk))  # leaves it to the first
    assert not Job.objects.exists()
    goes_on.set()
    first.join(20)
    assert Job.objects.count() == 1


def test_rows_of_trade_are_taken_away(ann, client):
    now = timezone.now()
    client.force_login(ann)
    Session.objects.update(expire_date=now - timedelta(days=1))
    Tally.objects.create(key="wrong passwords: 10.0.0.1", since=now - timedelta(days=2))
    DBTaskResult.objects.create(
        status="SUCCESSFUL",
        task_path="x",
        run_after=now,
        args_kwargs={},
        backend_name="default",
        finished_at=now - timedelta(days=2),
    )
    tidy(now)
    assert not any(model.objects.exists() for model in (Session, Tally, DBTaskResult))


def test_health_tells_what_waits_and_since_when(client, db):
    DBTaskResult.objects.create(task_path="x", run_after=timezone.now(), args_kwargs={}, backend_name="default")
    DBTaskResult.objects.update(enqueued_at=timezone.now() - timedelta(seconds=90))
    queue = client.get(reverse("health")).json()["queue"]
    assert queue["waiting"] == 1
    assert queue["oldest_s"] >= 90


def test_pages_of_a_job_are_stored_nowhere(page, pottery):
    for name in ("workbench", "settings"):
        assert page.get(reverse(name, args=[pottery.pk]))["Cache-Control"] == "no-store"


def test_numbers_on_a_panels_door_outlive_another_way_of_numbering(ann):
    """Ten circuits were numbered down the left column, and stay so; a panel begun today fills both columns evenly."""
    nodes = [
        {"id": "src", "kind": "source", "system": "120/240 1ph 3w"},
        {"id": "mdp", "kind": "board", "parent": "src"},
        *(
            {"id": f"k{at}", "kind": "load", "parent": "mdp", "load": {"rating": "1 kVA", "poles": 1 + (at == 3)}}
            for at in range(10)
        ),
    ]
    open_job = {"format": "voltaje-job", "version": 1, "name": "Door", "book": "NEC 2023", "nodes": nodes}
    job = keeping.create(ann, from_open(open_job))

    def numbers():
        placed, legs = circuits(rows.documents_of([job])[0], "mdp")  # as kept, not as remembered
        return [way for ways in ways_of(placed, legs, 2).values() for way in ways]

    assert sorted(numbers()) == list(range(1, 12))
    import_module("web.jobs.migrations.0007_numbers_as_they_stood").forwards(apps, None)
    assert numbers() == [1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21]
