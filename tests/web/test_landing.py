"""The first page: a circuit worked for a stranger, and a scratch job that is kept for a week, or for good."""

from datetime import timedelta

import pytest
from django.contrib.auth import get_user_model
from django.urls import reverse
from django.utils import timezone

from tests.web.bench import HTMX, post
from web.accounts import guests
from web.jobs import keeping
from web.jobs.models import Event, Job, Membership
from web.landing.worked import BOOKS, EXAMPLES, work

NEW = {"username": "eve", "password1": "verdigris-42", "password2": "verdigris-42"}


def begin(client, **fields):
    answer = client.post(reverse("try"), fields)
    assert answer.status_code == 302
    return Job.objects.get(pk=answer["Location"].split("/")[-2])


def test_a_stranger_reads_what_this_is_and_sees_a_circuit_worked(client, db):
    page = client.get("/").content.decode()
    for words in ("3 AWG Cu", "90 A", "66.6 A", "It covers", "It does not", "Try it without an account", "prove dead"):
        assert words in page
    assert "60 A" in client.get(reverse("worked"), {"line": "EV charger 48 A 60 ft"}, headers=HTMX).content.decode()


@pytest.mark.parametrize("book", BOOKS)
@pytest.mark.parametrize(
    "line", [*EXAMPLES, "", "asdf", "pump 5 hp", "panel B 100 A", "x" * 300, "lights 277 V 900 W", "\x00½"]
)
def test_whatever_is_typed_there_is_answered(client, db, line, book):
    answer = client.get(reverse("worked"), {"line": line, "book": book}, headers=HTMX)
    assert answer.status_code == 200
    if len(line) <= 200:
        worked = work(line, book)
        assert worked.problems or worked.links


def test_a_scratch_job_has_the_rights_and_limits_of_any_and_comes_back_by_its_cookie(client, db):
    job = begin(client, sample="cinder-lane")
    post(client, "walk", job, line="saw 2 kW 208 V", at="shed")
    assert client.get(reverse("workbench", args=[job.pk])).status_code == 200
    cookie = client.cookies["scratch"]
    assert cookie["max-age"] == 7 * 24 * 3600
    client.cookies.pop("sessionid")
    assert client.get(reverse("workbench", args=[job.pk])).status_code == 302
    client.get("/")
    assert client.get(reverse("workbench", args=[job.pk])).status_code == 200
    client.cookies.pop("sessionid")
    client.cookies["scratch"] = cookie.value[:-3] + "xyz"
    client.get("/")
    assert client.get(reverse("workbench", args=[job.pk])).status_code == 302


def test_what_was_typed_goes_along_on_the_supply_that_was_chosen(client, db):
    job = begin(client, line="EV charger 48 A 60 ft; kiln 9 kW", book="NEC 2020", system="120/240 1ph 3w")
    assert job.book == "NEC 2020"
    nodes = {node.data.get("name"): node.data for node in job.nodes.all()}
    assert {"EV charger", "Kiln"} <= set(nodes)
    assert "120/240 1ph 3w" in str(nodes)


def test_what_is_no_load_is_said_and_nothing_is_begun(client, db):
    page = client.post(reverse("try"), {"line": "kiln 60 ft", "book": "NEC 2023"})
    assert page.status_code == 200
    assert "I need a rating" in page.content.decode()
    assert not Job.objects.exists()


def test_on_signing_up_it_is_kept_for_good(client, db):
    job = begin(client, book="BS 7671")
    assert job.book == "BS 7671"
    client.post(reverse("sign-up"), NEW)
    assert Job.objects.owned_by(get_user_model().objects.get(username="eve")).get() == job
    keeping.purge(timezone.now() + timedelta(days=20))
    assert Job.objects.filter(pk=job.pk).exists()
    assert "scratch" not in client.cookies or not client.cookies["scratch"].value


def test_who_signs_in_takes_along_what_was_tried(client, ann, db):
    ann.set_password("verdigris-42")
    ann.save()
    job = begin(client, sample="cinder-lane")
    post(client, "walk", job, line="saw 2 kW 208 V", at="shed")
    client.post(reverse("sign-in"), {"username": "ann", "password": "verdigris-42"})
    assert Membership.objects.get(job=job).user == ann
    assert Event.objects.get().actor == ann
    assert not get_user_model().objects.filter(username__startswith=guests.PREFIX).exists()


def test_a_guest_who_stays_away_is_forgotten(client, db):
    job = begin(client)
    keeping.purge(timezone.now() + timedelta(days=6))
    assert Job.objects.filter(pk=job.pk).exists()
    keeping.purge(timezone.now() + timedelta(days=8))
    assert not Job.objects.filter(pk=job.pk).exists()
    assert not get_user_model().objects.exists()


def test_one_address_begins_so_often_and_all_together_so_many(client, db, monkeypatch):
    for _ in range(guests.BEGINNINGS.most):
        client.cookies.clear()
        begin(client)
    client.cookies.clear()
    assert client.post(reverse("try")).status_code == 429
    monkeypatch.setattr(guests, "MOST_GUESTS", 1)
    assert client.post(reverse("try"), REMOTE_ADDR="10.0.0.9").status_code == 429


def test_no_person_is_named_like_a_guest(client, db):
    client.post(reverse("sign-up"), {**NEW, "username": "Guest-1"})
    assert not get_user_model().objects.exists()
