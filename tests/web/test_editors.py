"""Two to four people at one job, doing everything that its pages offer, in any order, on pages that are out of date.

Whatever they do, every page answers, and the job is a tree that hangs on its source and can be solved.
`VOLTAJE_EDITOR_STEPS` sets how many steps are taken in all.
"""

import json
import os

from django.contrib.auth import get_user_model
from django.test import Client
from django.urls import reverse
from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from voltaje.path.kinds import Kind
from voltaje.path.soundness import clashes, faults
from voltaje.samples import sample
from web.jobs import keeping, rows
from web.jobs.changes.sound import standings
from web.jobs.files.openfile import from_open, ordered
from web.jobs.models import Job, Membership, Received, Role
from web.jobs.worker.solving import solve_job

STEPS = int(os.environ.get("VOLTAJE_EDITOR_STEPS", "800"))
STEPS_A_RUN = 50
PEOPLE = ("ann", "ben", "cem", "dee")
PERSON = st.sampled_from(PEOPLE)
PLACE = st.integers(0, 40)
AGE = st.sampled_from([0, 0, 0, 1, 3, 50])  # how many versions ago the person's page was drawn
ONCE = st.sampled_from(["", "", "again"])  # whether the same act is sent twice
LINES = (
    *(
        "3 pedestals 16 A 40 m",
        "hoist 11 kW 400 V 3ph 25 m",
        "kettle 2 kW on workshop",
        "0 pumps 1 kW",
        "pump 2 kW way 3",
        "EV 22 kW; spare 20A",
        "2 spaces",
        "panel B 63A 20 m",
    ),
    *("999999 loads 1 kW", "lamp ½ W", "1/0 kW", "x" * 201),
)
LIST = "name,rating,length,board\nSaw,2 kW,12 m,\nPlane,3 kW,far,\nHoist,4 kW,,Workshop"
VALUES = (
    "5 kW",
    "40 m",
    "far",
    "",
    "Fe",
    "3",
    "1e999",
    "\ud800".encode("utf-8", "replace").decode(),
    "é\x00",
    "2,5 kW",
)
PLACES = (
    *("name", "load/rating", "load/way", "load/legs", "load/phases", "load/poles", "run/length", "run/material"),
    *("run/pins/device_a", "run/method", "system", "transformer/secondary", "legs", "diversity"),
)
PAGES = ("workbench", "region", "findings", "paper", "path-svg", "schedule-csv", "job-json", "settings")
ACTS = ("duplicate", "copy", "remove", "move", "up", "down", "leg-before", "leg-after", "renumber", "right", "stand")
WITH_OTHERS = (*ACTS, "rehang")


class Editors(RuleBasedStateMachine):
    """A small boatyard, its people, and what they may post."""

    sample, kept = "slipway", ("src", "main", "jn", "jn1", "jn2", "wk", "wh1", "hoist")

    @initialize()
    def begin(self):
        """A few nodes, shared by four."""
        people = get_user_model().objects
        self.number = people.count()
        users = {name: people.create_user(f"{name}{self.number}") for name in PEOPLE}
        job = sample(self.sample)
        nodes = [node for node in job["nodes"] if node["id"] in self.kept]
        self.job = keeping.create(users["ann"], from_open({**job, "nodes": nodes}))
        self.pages, self.acts, self.seen, self.version, self.judged = {}, 0, [], -1, -1
        for name, user in users.items():
            self.pages[name] = Client(headers={"HX-Request": "true", "host": "localhost"})
            self.pages[name].force_login(user)
            if name != "ann":
                Membership.objects.create(job=self.job, user=user, role=Role.EDITOR)

    def document(self):
        """The job as it is kept, read once for each of its versions."""
        version = Job.objects.values_list("version", flat=True).get(pk=self.job.pk)
        if version != self.version:
            self.version = version
            (self.read,) = rows.documents_of([Job.objects.get(pk=self.job.pk)])  # nothing that is remembered
            self.seen += [key for key in self.read["nodes"] if key not in self.seen]
        return self.read

    def key(self, place):
        """One of the nodes that are or were: people act on what their pages still show."""
        self.document()
        return self.seen[place % len(self.seen)]

    def post(self, who, name, age=0, once="", **fields):
        """Send what a page sends; twice with one token it counts once."""
        version = max(Job.objects.get(pk=self.job.pk).version - age, 0)
        self.acts += 1
        token = f"{who}-{self.acts}" if once else ""
        asked = {"version": version, "lens": "path", "page": f"page of {who}", "once": token, **fields}
        address = reverse(name, args=[self.job.pk])
        answer = self.pages[who].post(address, asked)
        assert answer.status_code == 200, (name, asked, answer.content[:300])
        if once and Received.objects.filter(job=self.job, once=token).exists():
            before = self.document()
            assert self.pages[who].post(address, asked).status_code == 200
            assert self.document() == before

    @precondition(lambda self: len(self.document()["nodes"]) < 60)
    @rule(who=PERSON, at=PLACE, kind=st.sampled_from([kind.value for kind in Kind]), age=AGE, once=ONCE)
    def add(self, who, at, kind, age, once):
        """Hang something on a node."""
        self.post(who, "act", age, once, act="add", kind=kind, key=self.key(at))

    @precondition(lambda self: len(self.document()["nodes"]) < 60)
    @rule(who=PERSON, at=PLACE, line=st.sampled_from(LINES), age=AGE, once=ONCE)
    def say(self, who, at, line, age, once):
        """Say a load."""
        self.post(who, "walk", age, once, line=line, at=self.key(at))

    @precondition(lambda self: len(self.document()["nodes"]) < 60)
    @rule(who=PERSON, at=PLACE, take=st.booleans(), anew=st.booleans(), age=AGE)
    def paste(self, who, at, take, anew, age):
        """Take a list of loads."""
        flags = {name: "1" for name, wanted in (("take", take), ("anew", anew)) if wanted}
        self.post(who, "load-list", age, text=LIST, at=self.key(at), **flags)

    @rule(who=PERSON, at=PLACE, act=st.sampled_from(ACTS), to=PLACE, before=PLACE, age=AGE, once=ONCE)
    def act(self, who, at, act, to, before, age, once):
        """Move, copy, take away."""
        many = len(self.document()["nodes"]) > 60 and act in ("duplicate", "copy")
        few = len(self.document()["nodes"]) < 4 and act == "remove"
        if not many and not few:
            where = {"to": self.key(to), "before": self.key(before), "poles": to % 3 + 1}
            self.post(who, "act", age, once, act=act, key=self.key(at), **where)

    @rule(who=PERSON, at=PLACE, place=st.sampled_from(PLACES), value=st.sampled_from(VALUES), age=AGE, once=ONCE)
    def type(self, who, at, place, value, age, once):
        """Type into a field."""
        key = self.key(at)
        self.post(who, "edit", age, once, path=f"nodes/{key}/{place}", value=value, at=key)

    @rule(
        who=PERSON,
        at=st.lists(PLACE, min_size=1, max_size=5),
        act=st.sampled_from(WITH_OTHERS),
        to=PLACE,
        more=st.sampled_from([{}, {"times": "2"}, {"times": "51"}, {"sure": "1"}]),
        age=AGE,
        once=ONCE,
    )
    def act_on_several(self, who, at, act, to, more, age, once):
        """Do something to several nodes at once."""
        many = len(self.document()["nodes"]) > 60 and act in ("duplicate", "copy")
        few = len(self.document()["nodes"]) < 6 and act in ("remove", "rehang")
        if not many and not few:
            keys = " ".join(self.key(each) for each in at)
            self.post(who, "act", age, once, act=act, key=self.key(at[0]), keys=keys, to=self.key(to), **more)

    @rule(
        who=PERSON,
        cells=st.lists(st.tuples(PLACE, st.sampled_from(PLACES), st.sampled_from(VALUES)), max_size=4),
        age=AGE,
        once=ONCE,
    )
    def type_many(self, who, cells, age, once):
        """Set many fields at once."""
        wanted = [[f"nodes/{self.key(at)}/{place}", value] for at, place, value in cells]
        self.post(who, "cells", age, once, cells=json.dumps(wanted))

    @precondition(lambda self: len(self.document()["nodes"]) < 60)
    @rule(who=PERSON, copied=st.lists(PLACE, min_size=1, max_size=3), at=PLACE, age=AGE, once=ONCE)
    def copy_and_paste(self, who, copied, at, age, once):
        """Copy branches as text and hang them elsewhere."""
        address = reverse("nodes", args=[self.job.pk])
        answer = self.pages[who].get(address, {"keys": " ".join(self.key(each) for each in copied)})
        if answer.status_code == 200:
            self.post(who, "paste", age, once, text=answer.content.decode(), at=self.key(at))

    @rule(who=PERSON, at=PLACE, size=st.sampled_from(["16", "2.5", "x"]), age=AGE)
    def pin(self, who, at, size, age):
        """Pin an option."""
        self.post(who, "pin", age, key=self.key(at), device="40", size=size, sets="1", material="Cu")

    @rule(who=PERSON, turn=st.sampled_from(["undo", "undo", "redo"]), times=st.integers(1, 2), once=ONCE)
    def turn(self, who, turn, times, once):
        """Take one's own changes back, or do them again."""
        for _ in range(times):
            self.post(who, turn, 0, once)

    @rule(who=PERSON, at=PLACE, name=st.sampled_from(PAGES))
    def look(self, who, at, name):
        """Open one of the job's pages."""
        answer = self.pages[who].get(reverse(name, args=[self.job.pk]), {"at": self.key(at)})
        assert answer.status_code == 200 or (name, answer.status_code) == ("schedule-csv", 404)

    @invariant()
    def it_holds(self):
        """The kept job is a tree that hangs on its source, nothing stands in another's place, and it solves."""
        document = self.document()
        if self.judged == self.version:
            return
        self.judged = self.version
        standing = standings(document)
        assert not faults(standing)
        assert not clashes(standing)
        assert set(ordered(document)) == set(document["nodes"])
        assert rows.document_of(Job.objects.get(pk=self.job.pk)) == document  # what is remembered is what is kept
        solve_job(document)


class Pottery(Editors):
    """The same people at a studio by another family of books, with a transformer and a house."""

    sample, kept = "cinder-lane", ("src", "t1", "mdp", "k1", "k2", "shed", "pug")


SETTINGS = settings(
    max_examples=max(STEPS // 2 // STEPS_A_RUN, 1),
    stateful_step_count=STEPS_A_RUN,
    deadline=None,
    # To make a failure smaller takes minutes: HYPOTHESIS_PROFILE=default does.
    phases=[
        phase for phase in Phase if phase not in (Phase.shrink, Phase.explain) or "HYPOTHESIS_PROFILE" in os.environ
    ],
    suppress_health_check=list(HealthCheck),
)


class TestEditors(TestCase, Editors.TestCase):
    """Run in a transaction each."""

    settings = SETTINGS


class TestEditorsOfAPottery(TestCase, Pottery.TestCase):
    """Likewise."""

    settings = SETTINGS
