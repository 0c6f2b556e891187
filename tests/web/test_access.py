"""Who may see and change what."""

import json
from datetime import timedelta

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from tests.web.bench import HTMX
from voltaje.books.registry import all_tables
from web.jobs import keeping
from web.jobs.models import Job, Membership, Role
from web.jobs.sample import sample_document

HOUSE_PAGES = ["house", "house-print", "house-region"]
HOUSE_CHANGES = ["house-edit", "house-add", "house-remove", "house-undo", "house-redo"]
BENCH_PAGES = ["workbench", "region", "understand", "compare", "schedule-csv", "path-svg", "job-json", "paper"]
BENCH_CHANGES = ["edit", "walk", "act", "pin", "note", "undo", "redo", "load-list", "settings", "people"]
PAGES = [*HOUSE_PAGES, *BENCH_PAGES]
CHANGES = [*HOUSE_CHANGES, *BENCH_CHANGES, "delete-job", "restore-job"]
# Everything that any of the changes could ask for.
ASKED = {
    "path": "job/name",
    "value": "x",
    "version": 0,
    "kind": "dryer",
    "load": "5 kW",
    "line": "kiln 20 A",
    "at": "house",
    "act": "remove",
    "key": "house",
    "finding": "x",
    "reason": "x",
    "text": "name,rating\nKiln,20 A",
    "take": "1",
    "form": "job",
    "name": "x",
    "book": "NEC 2023",
    "terminals": "75",
    "supply": "public",
    "region": "US",
    "degrees": "C",
    "system-src": "480Y/277",
    "username": "ben",
    "role": "editor",
    "device": "20",
    "size": "12",
    "sets": "1",
    "material": "Cu",
}


def at(name, job):
    return reverse(name, args=[job.pk, "house"] if name.startswith("house") else [job.pk])


@pytest.mark.parametrize("name", PAGES + CHANGES)
def test_a_stranger_finds_nothing(client, job, ben, name):
    client.force_login(ben)
    asked = client.get if name in PAGES else client.post
    response = asked(at(name, job), ASKED, headers=HTMX)
    assert response.status_code in (200, 404)
    assert b"Marrow Creek" not in response.content
    assert Job.objects.get().version == 0


@pytest.mark.parametrize("name", PAGES)
def test_without_signing_in_there_is_only_the_sign_in(client, job, name):
    assert client.get(at(name, job)).status_code == 302
    response = client.get(at(name, job), headers={"HX-Request": "true"})
    assert response.status_code == 401  # the page asks for the password over itself


def test_a_viewer_reads_and_cannot_change(client, job, ben):
    Membership.objects.create(job=job, user=ben, role=Role.VIEWER)
    client.force_login(ben)
    page = client.get(at("house", job))
    assert b"view only" in page.content
    for name in CHANGES:
        client.post(at(name, job), ASKED)
    fresh = Job.objects.get()
    assert (fresh.version, fresh.deleted_at, fresh.name) == (0, None, "Marrow Creek house")
    assert set(fresh.memberships.values_list("user__username", "role")) == {("ann", "owner"), ("ben", "viewer")}


def test_an_editor_changes_but_does_not_delete(client, job, ben):
    Membership.objects.create(job=job, user=ben, role=Role.EDITOR)
    client.force_login(ben)
    client.post(at("house-edit", job), {"path": "job/name", "value": "Ben was here", "version": 0})
    assert client.post(at("delete-job", job)).status_code == 404
    fresh = Job.objects.get()
    assert (fresh.name, fresh.deleted_at) == ("Ben was here", None)


def test_changes_need_the_token(job, ann):
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(ann)
    assert strict.post(at("edit", job), ASKED).status_code == 403


def test_a_job_is_put_away_and_brought_back(client, job, ann):
    client.force_login(ann)
    client.post(at("delete-job", job))
    assert client.get(at("workbench", job)).status_code == 404
    client.post(at("restore-job", job))
    assert client.get(at("house", job)).status_code == 200


def test_a_job_put_away_is_kept_for_thirty_days(client, job, ann):
    client.force_login(ann)
    client.post(reverse("delete-job", args=[job.pk]))
    assert b"removed for good on" in client.get(reverse("jobs")).content
    away = Job.objects.get().deleted_at
    assert keeping.purge(away + timedelta(days=30)) == 0
    assert keeping.purge(away + timedelta(days=30, seconds=1)) == 1
    assert not Job.objects.exists()
    assert client.post(reverse("restore-job", args=[job.pk])).status_code == 404


def test_the_list_of_jobs_reads_them_at_once(client, job, ann):
    client.force_login(ann)
    counts = []
    for _more in range(2):
        with CaptureQueriesContext(connection) as queries:
            client.get(reverse("jobs"))
        counts.append(len(queries))
        keeping.create(ann, sample_document("cinder-lane"))
    assert counts[0] == counts[1]


def test_sign_up_sign_out_and_a_throttled_sign_in(client, db):
    words = {"username": "cyd", "password1": "verdigris-42", "password2": "verdigris-42"}
    assert client.post(reverse("sign-up"), words).status_code == 302
    assert client.get(reverse("jobs")).status_code == 200
    client.post(reverse("sign-out"))
    assert client.get(reverse("jobs")).status_code == 302
    for _ in range(5):
        response = client.post(reverse("sign-in"), {"username": "cyd", "password": "wrong"})
    assert response.status_code == 429
    right = client.post(reverse("sign-in"), {"username": "cyd", "password": "verdigris-42"})
    assert right.status_code == 429  # even the right one waits


@pytest.mark.parametrize("name", ["house", "workbench", "settings"])
def test_pages_are_strict_about_scripts_and_styles(client, job, ann, name):
    client.force_login(ann)
    page = client.get(at(name, job))
    policy = page["Content-Security-Policy"]
    assert "script-src 'self'" in policy
    assert "unsafe" not in policy
    assert b"style=" not in page.content
    assert b"<script>" not in page.content


def test_the_theme_goes_back_only_to_this_site(client, db):
    response = client.post(reverse("theme"), {"theme": "sun", "next": "https://elsewhere.example/"})
    assert response["Location"] == reverse("jobs")
    assert client.cookies["theme"].value == "sun"
    assert client.post(reverse("theme"), {"theme": "<script>"}).status_code == 302


def test_tables_are_open_to_all(client, db):
    assert b"not compared with print" in client.get(reverse("tables")).content
    page = client.get(reverse("table", args=["nec-ranges"])).content.decode()
    assert "15+1*n" in page
    assert client.get(reverse("table", args=["nothing"])).status_code == 404


def test_every_table_has_a_page(client, db):
    keys = [name for name, _table in all_tables()]
    assert len(keys) == len(set(keys)) > 10
    for key in keys:
        assert client.get(reverse("table", args=[key])).status_code == 200


def test_a_stored_house_that_cannot_be_read_is_shown_as_such(client, job, ann):
    node = job.nodes.get(key="house")
    node.data = json.loads(json.dumps(node.data).replace("8.2 kW", "-8.2 kW"))
    node.save()
    client.force_login(ann)
    assert b"can no longer be reckoned" in client.get(at("house", job)).content
    listed = client.get(reverse("jobs")).content.decode()
    assert "load: must be" in listed
    assert "cooking[0]" not in listed
