"""A job as one document: places, changes and what takes them back; out to the open file and in again."""

import copy

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests.core.houses import houses
from tests.core.paths import jobs
from voltaje.samples import NAMES, sample
from voltaje.tools.solve import solve_document
from web.jobs.document import Change, NoSuchPlace, position, put, read
from web.jobs.files.openfile import from_open, ordered, to_open
from web.jobs.sample import sample_document
from web.jobs.worker.solving import path_of

TEXTS = st.text(st.characters(codec="ascii", categories=["L", "N"]), min_size=1, max_size=5)
VALUES = st.one_of(TEXTS, st.integers(), st.booleans())
ITEMS = st.lists(st.fixed_dictionaries({"id": TEXTS, "load": TEXTS}), max_size=4, unique_by=lambda item: item["id"])
PARTS = st.dictionaries(
    st.sampled_from(["load", "run", "pins"]), st.dictionaries(TEXTS, VALUES, min_size=1, max_size=3)
)
NODES = st.builds(
    lambda parts, items: {"kind": "load", "parent": "", "position": 1.0, **parts, "appliances": items}, PARTS, ITEMS
)
DOCUMENTS = st.builds(
    lambda nodes: {"job": {"name": "J", "book": "NEC 2023"}, "nodes": nodes},
    st.dictionaries(TEXTS, NODES, min_size=1, max_size=3),
)


@st.composite
def changed(draw):
    """A document and a change to one of its places, there or not."""
    document = draw(DOCUMENTS)
    key = draw(st.sampled_from(sorted(document["nodes"])))
    node = document["nodes"][key]
    inside = [("nodes", key), ("nodes", key, "new")]
    for part, held in node.items():
        if isinstance(held, dict):
            inside += [("nodes", key, part, name) for name in held] + [("nodes", key, part, "other")]
        elif isinstance(held, list):
            inside += [("nodes", key, part, item["id"]) for item in held]
            inside += [("nodes", key, part, item["id"], "load") for item in held]
    path = draw(st.sampled_from(inside))
    after = draw(st.none() | TEXTS)
    in_list = isinstance(read(document, path[:-1]), list)
    if len(path) == 2 or in_list:
        after = draw(st.none() | st.just({**(read(document, path) or {}), "id": path[-1], "load": "1 kW"}))
    return document, path, after


@given(changed())
def test_a_change_and_then_its_inverse_leave_the_document_as_it_was(given_change):
    document, path, after = given_change
    untouched = copy.deepcopy(document)
    made = Change(path, copy.deepcopy(read(document, path)), after, position(document, path))
    put(document, made)
    assert read(document, path) == after
    assert Change.from_json(made.as_json()) == made
    put(document, made.inverse())
    assert document == untouched


@settings(suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much])
@given(changed(), st.lists(TEXTS, min_size=1, max_size=3))
def test_a_path_that_leads_nowhere_reads_as_nothing_and_takes_nothing(given_change, rest):
    document, path, _after = given_change
    nowhere = (*path, "deeper", *rest)
    assume(not isinstance(read(document, path), dict | type(None)))
    untouched = copy.deepcopy(document)
    assert read(document, nowhere) is None
    with pytest.raises(NoSuchPlace):
        put(document, Change(nowhere, None, "x"))
    assert document == untouched


@settings(max_examples=40, deadline=None)
@given(jobs())
def test_a_job_out_and_in_again_is_the_same_job_with_the_same_figures(job):
    document = from_open(job)
    again = from_open(to_open(document))
    assert {key: {**node, "position": 0} for key, node in again["nodes"].items()} == {
        key: {**node, "position": 0} for key, node in document["nodes"].items()
    }
    assert ordered(again) == ordered(document)
    assert again["job"] == document["job"]
    mine, theirs = solve_document(to_open(document))["nodes"], solve_document(job)["nodes"]
    for key, node in theirs.items():
        assert mine[key]["demand_va"] == pytest.approx(node["demand_va"])
        assert mine[key]["connected_va"] == pytest.approx(node["connected_va"])


@settings(max_examples=30, deadline=None)
@given(houses)
def test_a_dwelling_out_and_in_again_has_the_same_figures(house):
    raw = {key: value for key, value in house.items() if key not in ("book", "system")}
    nodes = [
        {"id": "src", "kind": "source", "system": house.get("system", "120/240 1ph 3w")},
        {"id": "house", "kind": "dwelling", "parent": "src", "dwelling": raw, "run": {"length": 20}},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "H", "book": house.get("book", "NEC 2023"), "nodes": nodes}
    once = to_open(from_open(job))
    assert to_open(from_open(once)) == once
    figures = [solve_document(each)["nodes"]["house"]["demand_va"] for each in (job, once)]
    assert figures[0] == pytest.approx(figures[1])


@pytest.mark.parametrize("name", NAMES)
def test_every_field_of_the_library_leads_back_to_its_place_in_the_document(name):
    document = sample_document(name)
    for at, key in enumerate(ordered(document)):
        assert path_of(f"nodes[{at}].run.length", document) == ("nodes", key, "run", "length")
        assert path_of(f"{key}.load.rating", document) == ("nodes", key, "load", "rating")
    assert path_of("amendments[2].value", document) == ("job", "amendments", "value")
    assert [node["id"] for node in sample(name)["nodes"]] == list(document["nodes"])
