"""When something fails: what is said, what a monitor is told, what is written down."""

import json
import logging
import os
import subprocess
import sys

import pytest
from django.core.management import call_command
from django.db import OperationalError, connection
from django.test import Client, override_settings
from django.urls import reverse

from web.config import health, logs, reach, trouble
from web.workbench import views


class Diskful(Exception):
    sqlstate = "53100"


def away(cause=None):
    def raises(*_args, **_more):
        raise OperationalError("server closed the connection unexpectedly") from cause

    return raises


@pytest.fixture
def calm(page):
    page.raise_request_exception = False
    return page


def test_health_tells_a_database_that_is_away(client, monkeypatch, db):
    assert (client.get("/health/").status_code, client.get("/health/live/").status_code) == (200, 200)
    with monkeypatch.context() as patch:
        patch.setattr(health.connection, "cursor", away())
        patch.setattr(health.connection, "close", lambda: None)
        answer = client.get("/health/")
        assert (answer.status_code, answer.content) == (503, b"the database does not answer")
        assert client.get("/health/live/").status_code == 200


@pytest.mark.parametrize(
    ("cause", "kind", "words"),
    [(None, "away", "The database is away"), (Diskful(), "full", "The disk of the database is full")],
)
def test_a_page_says_what_to_do_when_the_database_is_in_trouble(calm, pottery, monkeypatch, cause, kind, words):
    monkeypatch.setattr(views, "document_of", away(cause))
    answer = calm.get(reverse("workbench", args=[pottery.pk]))
    assert (answer.status_code, answer["X-Trouble"], answer["Retry-After"]) == (503, kind, "5")
    text = answer.content.decode()
    assert words in text
    assert answer["X-Request-Id"] in text


def test_trouble_on_the_way_in_is_said_too(calm, monkeypatch):
    monkeypatch.setattr("django.contrib.sessions.backends.db.SessionStore.load", away())
    answer = calm.get(reverse("jobs"))
    assert (answer.status_code, answer["X-Trouble"]) == (503, "away")


def test_what_was_not_foreseen_is_written_down_with_the_id_that_the_page_shows(calm, pottery, monkeypatch, caplog):
    monkeypatch.setattr(views, "document_of", lambda _job: 1 / 0)
    answer = calm.get(reverse("workbench", args=[pottery.pk]))
    assert answer.status_code == 500
    assert f"request {answer['X-Request-Id']}" in answer.content.decode()
    assert "ZeroDivisionError" in caplog.text


def test_pages_that_are_not_there_or_not_ones_own(calm, pottery, ben):
    assert "no such page" in calm.get("/nowhere/").content.decode()
    assert calm.post(reverse("edit", args=[pottery.pk]), b"x" * 2_000_000, "text/plain").status_code in (200, 400)
    forged = Client(enforce_csrf_checks=True).post(reverse("sign-in"), {})
    assert forged.status_code == 403
    assert "too old" in forged.content.decode()


def test_each_request_is_one_line_of_json(page, pottery, caplog):
    (formatter,) = [each.formatter for each in logging.getLogger().handlers if each.name == "console"]
    with caplog.at_level(logging.INFO, "voltaje.requests"):
        answer = page.get(reverse("workbench", args=[pottery.pk]))
        page.get("/health/")
    (record,) = [each for each in caplog.records if each.name == "voltaje.requests"]
    token = logs.ID.set(answer["X-Request-Id"])
    logs.WithRequestId().filter(record)
    logs.ID.reset(token)
    line = json.loads(formatter.format(record))
    assert (line["method"], line["status"], line["user"]) == ("GET", 200, page.session["_auth_user_id"] and record.user)
    assert line["request_id"] == answer["X-Request-Id"]
    assert line["ms"] >= 0


@override_settings(BEHIND_TLS=True)
def test_behind_a_proxy_its_request_id_is_kept(client, db):
    given = "proxy-0123456789"
    assert client.get("/health/live/", headers={"X-Request-Id": given})["X-Request-Id"] == given
    assert client.get("/health/live/", headers={"X-Request-Id": "<script>"})["X-Request-Id"] != "<script>"


def test_a_deployment_has_nothing_to_complain_of():
    key = "aB3$" + "".join(chr(97 + at % 26) for at in range(60))
    told = {"VOLTAJE_TLS": "1", "VOLTAJE_HOSTS": "volts.example.org", "VOLTAJE_SECRET_KEY": key, "PYTHONPATH": "src"}
    command = [sys.executable, "-m", "web.manage", "check", "--deploy", "--fail-level", "WARNING"]
    told = {name: value for name, value in os.environ.items() if name != "DJANGO_ALLOW_ASYNC_UNSAFE"} | told
    done = subprocess.run(command, env=told, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


@pytest.mark.parametrize(
    ("url", "says"),
    [
        ("nonsense", "must name a PostgreSQL"),
        ("mysql://a@b/c", "must name a PostgreSQL"),
        ("postgres://voltaje:x@127.0.0.1:9/voltaje", "(127.0.0.1, database voltaje) cannot be reached"),
    ],
)
def test_a_database_that_cannot_be_used_is_said_in_one_line(url, says):
    said = reach.trouble(url)
    assert says in said
    assert "\n" not in said


def test_what_is_busy_is_not_said_to_be_away():
    class Locked(Exception):
        sqlstate = "55P03"

    error = OperationalError()
    error.__cause__ = Locked()
    assert (trouble.cause_of(error), trouble.cause_of(ValueError())) == ("busy", "")


def test_the_database_waits_for_no_lock_longer_than_a_person(db):
    with connection.cursor() as cursor:
        cursor.execute("SHOW lock_timeout")
        assert cursor.fetchone() == ("15s",)


def test_preparing_twice_changes_nothing(db, monkeypatch, django_user_model):
    monkeypatch.setenv("VOLTAJE_DEMO_PASSWORD", "copper-and-verdigris")
    for _ in range(2):
        call_command("prepare", "--demo", verbosity=0)
    assert django_user_model.objects.get(username="demo").jobs.count() == 3
