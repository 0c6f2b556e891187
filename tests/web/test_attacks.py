"""Attacks on every address and form there is: nothing breaks a page, nothing leaks, nothing changes that may not.

`VOLTAJE_ATTACKS` sets how many hostile requests are made.
"""

import os

import pytest
from django.test import Client
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.web.addresses import field_names, named_addresses, parts_for
from tests.web.bench import document
from web.jobs.models import Job, Membership, Reading, Role

ATTACKS = int(os.environ.get("VOLTAJE_ATTACKS", "500"))
SCRIPT = "<script>mark</script>"
METHODS = ("get", "post", "put", "delete", "patch", "head", "options")
ADDRESSES = named_addresses()
OF_JOBS = [(name, parts) for name, parts in ADDRESSES if "job_id" in parts]
# What a person who may only look may still do with a job: copy it for themselves.
READS = ("duplicate-job",)

HOSTILE = st.one_of(
    st.sampled_from(
        [
            *(
                "",
                "0",
                "-1",
                "1",
                "true",
                "²",
                "½",
                "٣",
                "9" * 5_000,
                "1e999",
                "NaN",
                "null",
                "[]",
                "\x00",
                "\ud7ff",
                "\u202e",
            ),
            *(
                SCRIPT,
                '"><img src=x onerror=mark>',
                "'; DROP TABLE jobs_job; --",
                "{{ 7*7 }}",
                "%s%n",
                "../../etc/passwd",
            ),
            *(
                "999999 loads 1 kW",
                "0 pedestals 32 A 22/7 ft",
                "nodes/k2/load/rating",
                "nodes/k2/run/material",
                "job/book",
            ),
            *(
                "name,rating\nKiln,5 kW",
                "Fe",
                "NEC 2023",
                "k2",
                "mdp",
                "schedule",
                "remove",
                "add",
                "move",
                "job",
                "amendment",
            ),
            *("e\u0301" * 50, "a" * 300, "a/" * 90, "=1+1", "x" * 100_000),
        ]
    ),
    st.text(max_size=40),
    st.integers().map(str),
)
KEYS = st.sampled_from(["k2", "src", "nowhere"])
FIELDS = st.dictionaries(st.sampled_from(field_names()), HOSTILE, max_size=8)


def ask(client, method, name, parts, job, fields=None, key="k2", **headers):
    address = reverse(name, args=list(parts_for(parts, job, key).values()))
    client.raise_request_exception = False
    return getattr(client, method)(address, fields or {}, headers=headers)


@settings(max_examples=ATTACKS, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.sampled_from(ADDRESSES), st.sampled_from(["get", "post"]), FIELDS, KEYS, st.booleans())
def test_nothing_that_is_posted_anywhere_breaks_a_page(page, pottery, address, method, fields, key, htmx):
    name, parts = address
    if name == "sign-out":
        return
    seen = {"version": str(Job.objects.get(pk=pottery.pk).version), "at": "k2", "lens": "path"}
    fields = {**seen, **{key: value.replace("\ud800", "") for key, value in fields.items()}}
    answer = ask(page, method, name, parts, pottery, fields, key, **({"HX-Request": "true"} if htmx else {}))
    assert answer.status_code < 500, (name, method, fields)
    shown = b"" if answer.streaming or "json" in answer["Content-Type"] else answer.content
    assert SCRIPT.encode() not in shown
    assert b"<img src=x" not in shown
    Job.objects.filter(pk=pottery.pk).update(deleted_at=None)


def states(job):
    kept = Job.objects.get(pk=job.pk)
    members = sorted(kept.memberships.values_list("user__username", "role"))
    return document(job), kept.version, kept.deleted_at, members


@pytest.mark.parametrize("htmx", [{}, {"HX-Request": "true"}], ids=["page", "part"])
@pytest.mark.parametrize("address", OF_JOBS, ids=lambda each: each[0])
def test_strangers_and_anonymous_learn_and_change_nothing(pottery, ben, address, htmx):
    before = states(pottery)
    stranger, nobody = Client(), Client()
    stranger.force_login(ben)
    for method in METHODS:
        for client in (stranger, nobody):
            answer = ask(client, method, *address, pottery, {"version": "0", "form": "job", "act": "remove"}, **htmx)
            assert answer.status_code in (302, 401, 403, 404, 405), (address, method, answer.status_code)
            assert b"Kiln" not in answer.content
            if answer.status_code == 302:
                # To the sign-in, or from a part of a page to its page, which is attacked itself.
                assert answer["Location"].startswith((reverse("sign-in"), reverse("workbench", args=[pottery.pk])))
    assert states(pottery) == before
    assert not Job.objects.owned_by(ben).exists()


@pytest.mark.parametrize("address", OF_JOBS, ids=lambda each: each[0])
def test_who_may_only_look_changes_nothing(pottery, ben, address):
    Membership.objects.create(job=pottery, user=ben, role=Role.VIEWER)
    before = states(pottery)
    viewer = Client()
    viewer.force_login(ben)
    fields = {
        **{
            "version": "0",
            "path": "nodes/k2/load/rating",
            "value": "1 kW",
            "act": "remove",
            "key": "k2",
            "form": "job",
        },
        **{
            "line": "pump 1 kW",
            "text": "name,rating\nX,1 kW",
            "take": "1",
            "finding": "x",
            "username": "ben",
            "role": "owner",
        },
        **{"device": "40", "size": "8", "sets": "1", "material": "Cu", "limit": "least_size_cu", "remove": "1"},
    }
    answer = ask(viewer, "post", *address, pottery, fields)
    assert answer.status_code in ((302,) if address[0] in READS else (302, 403, 404, 405, 200))
    assert states(pottery) == before


def test_a_form_of_another_site_is_refused(pottery, ann):
    client = Client(enforce_csrf_checks=True)
    client.force_login(ann)
    for name, parts in OF_JOBS:
        answer = ask(client, "post", name, parts, pottery, {"version": "0", "act": "remove", "key": "k2"})
        assert answer.status_code in (403, 405), name
    assert "k2" in document(pottery)["nodes"]


def test_anothers_reading_is_not_told(page, ben):
    reading = Reading.objects.create(user=ben, name="their file", text="{}")
    assert page.get(reverse("reading", args=[reading.pk])).status_code == 404
