"""Least metal over a whole job, against an exhaustive search over every lawful size of every run."""

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.books.registry import find_book
from voltaje.design.ladder import kg_per_m
from voltaje.design.least_metal import least_metal
from voltaje.design.solve import solve
from voltaje.tools.solve import read_document

SIZES = ("14", "12", "10", "8", "6", "4")


def job_of(feeder_ft, circuits, pins=None):
    nodes = [
        {"id": "s", "kind": "source", "system": "120/240 1ph 3w"},
        {"id": "b", "kind": "board", "parent": "s", "run": {"length": f"{feeder_ft} ft", "role": "feeder"}},
    ]
    for at, (amps, feet) in enumerate(circuits):
        load = {"rating": f"{amps} A", "legs": ["L1"]}
        nodes.append({"id": f"c{at}", "kind": "load", "parent": "b", "load": load, "run": {"length": f"{feet} ft"}})
    for node in nodes:
        if pins and node["id"] in pins:
            node["run"]["pins"] = {"size": pins[node["id"]], "reason": "least metal"}
    job = {"format": "voltaje-job", "version": 1, "name": "M", "book": "NEC 2023", "terminals": "75", "nodes": nodes}
    return read_document(job)


def metal(solution):
    book = find_book("NEC 2023")
    designs = [node.design for node in solution.nodes.values() if node.design]
    return sum(each.run.length_m * kg_per_m(each.run, each.choice, each.neutral, each.earth, book) for each in designs)


def lawful(solution):
    return not any(
        finding
        for node in solution.nodes.values()
        for finding in node.findings
        if finding.code.startswith(("drop.", "conductor."))
    )


@settings(max_examples=5, deadline=None)
@given(
    st.integers(60, 200), st.lists(st.tuples(st.sampled_from([6, 9, 12]), st.integers(40, 160)), min_size=1, max_size=2)
)
def test_it_is_the_exhaustive_search_s(feeder_ft, circuits):
    names = ["b", *(f"c{at}" for at in range(len(circuits)))]
    best = None
    for sizes in itertools.product(SIZES, repeat=len(names)):
        solution = solve(job_of(feeder_ft, circuits, dict(zip(names, sizes, strict=True))))
        if lawful(solution):
            kg = metal(solution)
            best = kg if best is None else min(best, kg)
    job = job_of(feeder_ft, circuits)
    found = least_metal(job, solve(job))
    if best is None:
        return  # beyond the sizes that were searched
    assert found.proven
    assert found.kg_after == pytest.approx(best, rel=1e-6)
    pinned = {swap.key: swap.after for swap in found.swaps}
    after = solve(job_of(feeder_ft, circuits, pinned))
    assert lawful(after)
    assert metal(after) == pytest.approx(found.kg_after, rel=1e-6)


def test_a_long_feeder_is_made_larger_where_that_is_less_than_every_branch():
    """Eight branches of 2.6 % behind a feeder of 2.9 %: one feeder a size up, not eight branches."""
    circuits = [(12, 55)] * 8
    job = job_of(150, circuits)
    before = solve(job)
    assert max(node.drop_percent for node in before.nodes.values()) > 5
    found = least_metal(job, before, 0.2)
    assert found.proven
    assert "b" in {swap.key for swap in found.swaps}
    after = solve(job_of(150, circuits, {swap.key: swap.after for swap in found.swaps}))
    assert max(node.drop_percent for node in after.nodes.values()) <= 4.8 + 1e-9


def test_a_size_that_a_person_pinned_stays_and_prices_weigh():
    job = job_of(150, [(12, 150)], {"b": "4"})
    object.__setattr__(job.node("b").run.pins, "reason", "in stock")
    found = least_metal(job, solve(job), prices={"Cu": 10.0})
    assert "b" not in {swap.key for swap in found.swaps}
    assert found.kg_after == pytest.approx(10 * least_metal(job, solve(job)).kg_after)
