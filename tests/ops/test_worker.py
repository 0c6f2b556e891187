"""The worker among the killed: what it was at is taken up by the next, and no worker is left beside another."""

import json
import time
import urllib.request
from contextlib import contextmanager

from tests.ops.instance import children, end_at_once

BEGIN = """
import json, sys
sys.path.insert(0, "benchmarks")
from solve_time import job_of
from django.contrib.auth import get_user_model
from web.jobs.files import reading
raw = {**job_of(3_500), "name": "Taken up"}
reading.begin(get_user_model().objects.get(username="demo"), "site.json", json.dumps(raw))
"""
TOLD = """
from web.jobs.models import Job, Reading
print([Reading.objects.filter(ended_at=None).count(), Job.objects.filter(name="Taken up").count()])
"""


def keeper(instance):
    return int((instance.local / "worker.pid").read_text())


@contextmanager
def within(seconds, what):
    """Ask again and again, until the time is over."""
    until = time.monotonic() + seconds

    def going_on():
        assert time.monotonic() < until, what
        time.sleep(0.2)
        return True

    yield going_on


def health(instance):
    return json.loads(urllib.request.urlopen(f"{instance.address}/health/", timeout=30).read())


def log(instance):
    return (instance.local / "worker.log").read_text()


def test_a_file_whose_worker_is_killed_is_read_by_the_next(instance):
    instance.run("manage", "shell", "-v0", "-c", BEGIN)
    with within(30, "a worker takes it") as going_on:
        while not health(instance)["queue"]["running"] and going_on():
            pass
    end_at_once(*children(keeper(instance)))
    with within(90, "the next worker reads it") as going_on:
        while instance.run("manage", "shell", "-v0", "-c", TOLD).stdout.strip() != "[0, 1]" and going_on():
            pass
    assert "the worker died (exit 137)" in log(instance)
    assert "taken up again" in log(instance)
    assert health(instance)["queue"]["waiting"] == 0


def test_what_keeps_a_worker_and_the_worker_end_together(instance):
    with within(30, "there is a worker") as going_on:
        while not children(keeper(instance)) and going_on():
            pass
    (worker,) = children(keeper(instance))
    end_at_once(keeper(instance))
    with within(30, "its worker ends too") as going_on:
        while "the worker ends" not in log(instance).rpartition("the worker begins")[2] and going_on():
            pass
    instance.run("start")
    assert children(keeper(instance)) != [worker]
