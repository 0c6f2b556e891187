"""No input costs more than seconds: every declared field at the largest that is taken and the first that is not.

The fields are found in the declarations, so that a new one is attacked unasked.
"""

import contextlib
import copy
import resource
import time

import pytest

from voltaje.design.balancing import Circuit, even_out, places_of, programme
from voltaje.design.least_metal import least_metal
from voltaje.design.legs import legs_of
from voltaje.design.solve import solve
from voltaje.errors import InputError, Refused
from voltaje.inputs.declare import fields_of
from voltaje.limits import MOST_VALUES
from voltaje.path import board, load, model, run, surroundings, transformer
from voltaje.path.intake import read_json
from voltaje.samples import sample
from voltaje.speech.read import read_line
from voltaje.speech.said import Where
from voltaje.systems import SYSTEMS
from voltaje.tools.registry import tools
from voltaje.tools.solve import read_document

MOST_S, MOST_MIB = 2.0, 300.0
FAMILIES = ("nec", "iec")
BOOKS = {"nec": "NEC 2023", "iec": "BS 7671"}


class Cost:
    """What something took: seconds of a core, and how far the process grew [MiB]."""

    def __enter__(self):
        self.begun, self.before = time.process_time(), self.peak()
        return self

    def __exit__(self, *_):
        self.seconds, self.mib = time.process_time() - self.begun, self.peak() - self.before

    @staticmethod
    def peak():
        return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024

    def held(self, what):
        assert self.seconds < MOST_S, (what, self.seconds)
        assert self.mib < MOST_MIB, (what, self.mib)


def asked_of(tool, family):
    """The worked example, every list of it filled with its last item up to its cap."""
    inputs = copy.deepcopy(tool.example.get(family) or next(iter(tool.example.values())))
    inputs.setdefault("book", BOOKS[family])
    for key in tool.asks.lists():
        items = inputs.get(key, [])
        for at in range(len(items), tool.asks.lists()[key].most) if items else ():
            items.append({**items[-1], **({"name": f"more {at}"} if "name" in items[-1] else {})})
    return inputs


def edges_of(tool):
    """Each field with a size, of the tool itself or of all items of a list: where, the largest, the first beyond."""
    for key, ask in tool.asks.asks().items():
        if ask.shape.edges:
            yield None, key, *ask.shape.edges
    for list_key, item in tool.asks.lists().items():
        for ask in fields_of(item.model):
            if ask.shape.edges and ask.key not in ("name", "id"):
                yield list_key, ask.key, *ask.shape.edges


def put(tool, inputs, list_key, key, value):
    made = copy.deepcopy(inputs)
    if list_key and list_key not in made:
        item = tool.asks.lists()[list_key]
        made[list_key] = [
            {ask.key: ask.shape.edges[0] for ask in fields_of(item.model) if ask.required and ask.shape.edges}
        ]
    for holder in made[list_key] if list_key else [made]:
        holder[key] = value
    return made


def answer(tool, inputs):
    try:
        return tool.run(inputs)
    except Refused as refused:
        return refused


@pytest.mark.parametrize(
    ("name", "family"), [(name, family) for name, tool in sorted(tools().items()) for family in tool.families]
)
def test_no_field_of_a_tool_costs_more_than_seconds(name, family):
    tool = tools()[name]
    plain, largest = asked_of(tool, family), asked_of(tool, family)
    for list_key, key, most, beyond in edges_of(tool):
        if most is not None:
            largest = put(tool, largest, list_key, key, most)
        for value in (most, beyond):
            with Cost() as cost:
                found = answer(tool, put(tool, plain, list_key, key, value))
            cost.held((list_key, key, value))
        assert isinstance(found, InputError), (list_key, key, beyond)
        assert any(key in error.field for error in (found, *found.also)), (found, key)
    with Cost() as cost:
        answer(tool, largest)
    cost.held("all of them at their largest")


PARTS = {
    load.LoadSpec: ("k2", "load"),
    run.RunSpec: ("k2", "run"),
    surroundings.Surroundings: ("k2", "run"),
    run.PathPins: ("k2", "run", "pins"),
    model.SupplySpec: ("src", "supply"),
    board.BoardSpec: ("mdp",),
    board.AreaSpec: ("mdp", "area"),
    board.WaySpec: ("k2",),
    transformer.TransformerSpec: ("t1", "transformer"),
}
PARTS_AT = {at: spec for spec, at in PARTS.items()}
PLACES = [(each, at) for spec, at in PARTS.items() for each in fields_of(spec) if each.shape.edges]


def with_place(at, key, value):
    raw = copy.deepcopy(sample("cinder-lane"))
    holder = next(node for node in raw["nodes"] if node["id"] == at[0])
    for step in at[1:]:
        holder = holder.setdefault(step, {})
    holder |= {each.key: each.shape.edges[0] for each in fields_of(PARTS_AT[at]) if each.required and each.shape.edges}
    holder[key] = value
    return raw


def worked(raw):
    """Everything that a page asks of a job."""
    job = read_document(raw)
    solution = solve(job)
    legs = legs_of("mdp", job, solution)
    if legs:
        legs.evened()
    least_metal(job, solution)


@pytest.mark.parametrize(("field", "at"), PLACES, ids=lambda each: getattr(each, "key", None) or "/".join(each))
def test_no_field_of_a_job_costs_more_than_seconds(field, at):
    most, beyond = field.shape.edges
    with Cost() as cost, contextlib.suppress(Refused):
        worked(with_place(at, field.key, most))
    cost.held((at, field.key, most))
    with Cost() as cost, pytest.raises(InputError, match=field.key):
        read_document(with_place(at, field.key, beyond))
    cost.held((at, field.key, beyond))


@pytest.mark.parametrize("count", ["99999", "999999", "9999999", "999999999", "9" * 150])
@pytest.mark.parametrize(
    "line", ["{n} loads 1 kW", "{n}x 20 A sockets", "{n} circuits of 10 sockets 180 VA", "{n} spares"]
)
def test_a_count_is_judged_before_anything_is_made_of_it(line, count):
    with Cost() as cost:
        found = read_line(line.format(n=count), Where("nec", SYSTEMS["120/240 1ph 3w"]))
    assert found.problems or found.items[0].circuits <= 200
    assert cost.seconds < 0.5
    assert cost.mib < 20


@pytest.mark.parametrize(
    "line", ["pump ² hp", "³ phase pump 5 hp", "kettle ²", "① kiln 5 kW", "9223372036854775808 A heater"]
)
def test_digits_that_are_none_break_nothing(line):
    for family in FAMILIES:
        assert read_line(line, Where(family, SYSTEMS["230/400"])).items


@pytest.mark.parametrize("text", ["[" + "1," * 1_950_000 + "1]", '{"nodes": [' + "{}," * 1_000_000 + "{}]}"])
def test_a_file_of_too_many_values_is_refused_before_it_is_built(text):
    with Cost() as cost, pytest.raises(InputError, match=f"{MOST_VALUES:,}|{MOST_VALUES}"):
        read_json(text)
    assert cost.seconds < 0.3


# Evening out: by counts of work, never by a clock


def large_board(circuits, amps=15.0, seed=7):
    system = SYSTEMS["208Y/120"]
    one, two = places_of(1, system), places_of(2, system)
    found = []
    for at in range(circuits):
        may = two if at % 4 == 0 else one
        each_a = amps * (0.2 + (at * seed % 97) / 50)
        found.append(Circuit(at, each_a, may[at % 2 * (at % 3)], may, may is one))
    return found, system


@pytest.mark.parametrize("most_moves", [None, 3, 20])
@pytest.mark.parametrize("amps", [15.0, 90_000.0])
@pytest.mark.parametrize(("circuits", "most_s"), [(84, 1.5), (1_000, 10.0)])
def test_a_large_board_is_evened_out_within_its_budget(circuits, most_s, amps, most_moves):
    asked = large_board(circuits, amps)
    even_out(*large_board(20), most_moves=6)  # scipy is loaded once
    with Cost() as cost:
        found = even_out(*asked, most_moves=most_moves)
    assert cost.seconds < most_s
    assert cost.mib < MOST_MIB
    assert found.bound_a <= found.largest_a + 1e-6 * found.largest_a
    assert not found.cut


def test_the_answer_does_not_hang_on_the_clock(monkeypatch):
    boards = [(*large_board(size), moves) for size, moves in ((40, 6), (60, 10), (84, None), (200, 3))]
    before = [even_out(circuits, system, most_moves=moves) for circuits, system, moves in boards]
    ticks = iter(range(0, 10**9, 1_000))
    monkeypatch.setattr(programme.time, "monotonic", lambda: next(ticks))  # a machine that stands still between looks
    for (circuits, system, moves), known in zip(boards, before, strict=True):
        found = even_out(circuits, system, most_moves=moves)
        assert (found.moves, found.bound_a, found.proven) == (known.moves, known.bound_a, known.proven)
