"""Whatever two people do to a job, in whatever order: it stays a supply that solves, and undo leads back."""

import copy

from django.contrib.auth import get_user_model
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from voltaje.errors import InputError
from voltaje.samples import sample
from voltaje.tools.solve import solve_document
from web.jobs import editing
from web.jobs.document import Change, NoSuchPlace
from web.jobs.models import Job, Membership, Role
from web.jobs.openfile import from_open, ordered, to_open
from web.jobs.solving import Judge
from web.workbench import changes

KEPT = ("src", "main", "jn", "jn1", "jn2", "wk", "wh1", "hoist")
KINDS = ("board", "load", "transformer", "inverter")
PEOPLE = st.sampled_from(["ann", "ben"])
PLACE = st.integers(0, 30)


class Bench(RuleBasedStateMachine):
    """A job, its people, and for each of them the documents before and after what they did last."""

    @initialize()
    def begin(self):
        """A few nodes of the boatyard, shared by two."""
        people = get_user_model().objects
        self.people = {name: people.create_user(f"{name}{people.count()}") for name in ("ann", "ben")}
        job = sample("slipway")
        nodes = [node for node in job["nodes"] if node["id"] in KEPT]
        self.job = editing.create(self.people["ann"], from_open({**job, "nodes": nodes}))
        Membership.objects.create(job=self.job, user=self.people["ben"], role=Role.EDITOR)
        self.last = self.typed = None
        self.version = 0

    def document(self):
        """The job as it is kept."""
        return editing.document_of(Job.objects.get(pk=self.job.pk))

    def do(self, who, wanted):
        """Make changes; remember what was before. What cannot be solved is refused, and then nothing was changed."""
        before = self.document()
        try:
            editing.edit(self.job.pk, self.people[who], wanted, self.version, Judge())
        except (InputError, NoSuchPlace):
            assert self.document() == before
            return
        if self.document() != before:
            # What one person types in one place is one change.
            typed = (
                (who, wanted[0].path) if isinstance(wanted[0].after, str) and wanted[0].path[-1] == "length" else None
            )
            goes_on = typed and typed == self.typed
            self.last, self.typed = (who, self.last[1] if goes_on else before), typed
            self.version += 1

    def node(self, place):
        """One of the job's nodes."""
        keys = ordered(self.document())
        return keys[place % len(keys)]

    @rule(who=PEOPLE, place=PLACE, kind=st.sampled_from(KINDS))
    def add(self, who, place, kind):
        """Hang something on a node."""
        document = self.document()
        board = changes.board_of(document, self.node(place))
        self.do(who, changes.new_node(document, board, kind))

    @rule(who=PEOPLE, place=PLACE, to=PLACE, before=PLACE)
    def move(self, who, place, to, before):
        """Hang a branch elsewhere."""
        self.attempt(who, lambda document: changes.move(document, self.node(place), self.node(to), self.node(before)))

    @rule(who=PEOPLE, place=PLACE, to=st.none() | PLACE)
    def copy(self, who, place, to):
        """Copy a branch."""
        target = "" if to is None else self.node(to)
        self.attempt(who, lambda document: changes.duplicate(document, self.node(place), target))

    @rule(who=PEOPLE, place=PLACE, up=st.booleans())
    def step(self, who, place, up):
        """Swap a node with its neighbour."""
        self.attempt(who, lambda document: changes.step(document, self.node(place), up))

    @precondition(lambda self: len(self.document()["nodes"]) > 3)
    @rule(who=PEOPLE, place=st.integers(1, 30))
    def remove(self, who, place):
        """Take a branch away."""
        self.attempt(who, lambda document: changes.remove(document, self.node(place)))

    @rule(who=PEOPLE, place=PLACE, feet=st.sampled_from(["5 m", "40 m", "far", ""]))
    def set_length(self, who, place, feet):
        """Type a length."""
        self.do(who, [Change(("nodes", self.node(place), "run", "length"), None, feet or None)])

    def attempt(self, who, wanted):
        """Make changes, unless the tree does not allow them."""
        document = self.document()
        untouched = copy.deepcopy(document)
        try:
            made = wanted(document)
        except changes.CannotMove:
            made = []
        assert document == untouched  # changes are but proposed
        if made:
            self.do(who, made)

    @precondition(lambda self: self.last)
    @rule()
    def undo_and_redo(self):
        """The last change taken back is the job before it; done again, the job after it."""
        who, before = self.last
        after = self.document()
        editing.undo(self.job.pk, self.people[who], Judge())
        assert self.document() == before
        editing.redo(self.job.pk, self.people[who], Judge())
        assert self.document() == after
        self.typed = None
        self.version += 2

    @invariant()
    def it_solves(self):
        """The kept job is a tree with a source at its root, and the open file it makes solves to the same figures."""
        document = self.document()
        nodes = document["nodes"]
        assert len(ordered(document)) == len(nodes)
        assert all(node["parent"] in nodes for node in nodes.values() if node["kind"] != "source")
        assert Job.objects.get(pk=self.job.pk).version == self.version
        answer = solve_document(to_open(document))
        assert answer["nodes"].keys() == nodes.keys()
        assert solve_document(to_open(from_open(to_open(document))))["nodes"] == answer["nodes"]


class TestBench(TestCase, Bench.TestCase):
    """Run in a transaction each."""

    settings = settings(max_examples=15, stateful_step_count=25, deadline=None, suppress_health_check=list(HealthCheck))
