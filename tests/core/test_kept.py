"""Boards that are not worked out again give the figures that they would give if they were: edits at random."""

import copy

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.paths import jobs, loads
from voltaje.design import kept
from voltaje.design.solve import solve
from voltaje.errors import InputError
from voltaje.tools.solve import read_document, solution_json

EDITS = st.lists(
    st.tuples(
        st.sampled_from(
            ["rating", "length", "feeder", "move", "remove", "group", "ambient", "terminals", "name", "legs"]
        ),
        st.integers(0, 60),
        st.integers(1, 90),
        loads(1),
        st.integers(0, 40),
    ),
    min_size=8,
    max_size=8,
)


def edited(raw, what, place, number, load):
    """The job with one thing changed; none of its parts are shared with the job before."""
    raw = copy.deepcopy(raw)
    circuits = [node for node in raw["nodes"] if node["kind"] == "load"]
    boards = [node for node in raw["nodes"] if node["kind"] == "board"]
    node, board = circuits[place % len(circuits)], boards[place % len(boards)]
    match what:
        case "rating":
            node["load"] = load
        case "length":
            node["run"] = {"length": number}
        case "feeder":
            board["run"] = {"length": number}
        case "move":
            node["parent"] = board["id"]
        case "remove" if len(circuits) > 1:
            raw["nodes"].remove(node)
        case "group":
            node["load"]["group"] = "never together" if number % 2 else ""
        case "ambient":
            raw["ambient_c"] = 20 + number % 25
        case "terminals":
            raw["terminals"] = "75" if number % 2 else "unmarked"
        case "name":
            board["name"] = f"Board {number}"
        case "legs":
            node["load"]["legs"] = ["L1"]
    return raw


def figures(raw, opened=None):
    """The figures of a job, or why it has none."""
    try:
        return solution_json(solve(read_document(raw), opened))
    except InputError as error:
        return str(error)


@settings(max_examples=120, deadline=None)
@given(jobs(most=24), EDITS)
def test_a_solve_after_an_edit_is_the_solve_of_a_job_never_seen(raw, edits):
    raw["name"] = "Edited"
    for what, place, number, load, opened in edits:
        raw = edited(raw, what, place, number, load)
        keys = [node["id"] for node in raw["nodes"]]
        shared = figures(raw, keys[opened % len(keys)] if opened % 3 == 0 else None)
        kept.forget()
        assert shared == figures(raw)
        figures(raw)  # what is kept now is of this very job
