"""The parts of the workbench on random jobs: the tree, the schedule, the chain, lists of loads."""

import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.paths import jobs
from voltaje.books.registry import conductor_colours, find_book
from voltaje.systems import SYSTEMS
from web.jobs.files.openfile import from_open, ordered
from web.jobs.sample import sample_document
from web.jobs.worker.solving import solve_job
from web.workbench.edits import changes
from web.workbench.edits.walk import circuits_of, understood
from web.workbench.files.csvlist import read_list, write_schedule
from web.workbench.parts.chain import chain_view
from web.workbench.parts.directory import directory
from web.workbench.parts.schedule import schedule_view
from web.workbench.parts.tree import ROW_H, tree_rows

quick = settings(max_examples=40, deadline=None)
FOOTER = ["NEC 2023", "Table values not checked against the printed code"]


def terms(document):
    return find_book(document["job"]["book"]).terms


# The tree


@quick
@given(jobs())
def test_the_conductors_of_the_tree_join_from_row_to_row(job):
    """Seen from the side: what leaves a row downward enters the next one, and every branch meets a trunk."""
    document = from_open(job)
    rows = tree_rows(document, solve_job(document))
    for above, below in itertools.pairwise(rows):
        leaving = {(s.x1, s.width) for s in above.gutter if s.x1 == s.x2 and s.y2 == ROW_H}
        entering = {(s.x1, s.width) for s in below.gutter if s.x1 == s.x2 and s.y1 == 0}
        assert leaving == entering
    assert not [s for s in rows[-1].gutter if s.x1 == s.x2 and s.y2 == ROW_H]
    for row in rows[1:]:
        (branch,) = [s for s in row.gutter if s.y1 == s.y2]
        assert any(s.x1 == branch.x1 and s.y1 <= branch.y1 <= s.y2 for s in row.gutter if s.x1 == s.x2)


@quick
@given(jobs())
def test_a_conductor_of_the_tree_grows_with_its_current(job):
    document = from_open(job)
    solved = solve_job(document)
    solution, amps, width = solved.solution, {}, {}
    for row in tree_rows(document, solved):
        amps[row.key] = max(solution.nodes[row.key].amps.values(), default=0)
        width[row.key] = next(s.width for s in row.gutter if s.y1 == s.y2)
        assert [bar.leg for bar in row.bars] == [leg for leg, _angle in solution.nodes[row.key].system.legs]
        assert all(bar.y >= 0 and bar.y + bar.height <= 15.01 for bar in row.bars)
    for one, other in itertools.combinations(amps, 2):
        if amps[one] > amps[other]:
            assert width[one] >= width[other]


# The schedule


@quick
@given(jobs(most=30), st.data())
def test_no_way_is_taken_twice_and_each_lies_on_the_leg_of_its_circuit(job, data):
    entered = data.draw(st.sampled_from([None, 1, 2, 7]))
    circuit = next(node for node in job["nodes"] if node["kind"] == "load")
    if entered and circuit["load"].get("phases") != 3:
        circuit["load"]["way"] = entered
    document = from_open(job)
    solution = solve_job(document).solution
    for board in (key for key, node in document["nodes"].items() if node["kind"] == "board"):
        view = schedule_view(document, solution, board, terms(document))
        taken = [int(way) for each in view.circuits for way in each.ways.split("-") if way]
        assert len(taken) == len(set(taken))
        for each in view.circuits:
            ways = [int(way) for way in each.ways.split("-")]
            assert len(ways) == len(solution.nodes[each.key].legs)
            if not solution.nodes[each.key].node.load or not solution.nodes[each.key].node.load.way:
                row = (ways[0] - 1) // terms(document).way_columns
                assert view.legs[row % len(view.legs)] == solution.nodes[each.key].legs[0]
        assert [each.key for each in view.circuits] == sorted(
            (each.key for each in view.circuits),
            key=lambda key: int(next(c.ways for c in view.circuits if c.key == key).split("-")[0]),
        )
        assert len(view.totals) == len(view.legs)


@quick
@given(jobs())
def test_a_schedule_as_csv_reads_back_as_the_loads_that_were_entered(job):
    document = from_open(job)
    solution = solve_job(document).solution
    nodes = document["nodes"]
    for board in (key for key, node in nodes.items() if node["kind"] == "board"):
        view = schedule_view(document, solution, board, terms(document))
        found = read_list(write_schedule(view, nodes, FOOTER), terms(document))
        loads = [each.key for each in view.circuits if each.kind == "load"]
        assert len(found.good) == len(loads)
        assert len(found.lines) == len(view.circuits)
        for key, line in zip(loads, found.good, strict=True):
            assert line.node["name"] == (nodes[key].get("name") or key)
            known = changes.load_named(document, board, line.node["name"])
            assert known == key
            assert changes.alter(document, known, line.node) == []


@pytest.mark.parametrize("name", ["=1+1", "+44", "-x", "@sum", "Kiln; 4, big", 'A "quoted" one', "'=x"])
def test_no_name_is_a_formula_in_a_spreadsheet_and_every_name_comes_back(name):
    document = sample_document("cinder-lane")
    document["nodes"]["k1"]["name"] = name
    view = schedule_view(document, solve_job(document).solution, "mdp", terms(document))
    text = write_schedule(view, document["nodes"], FOOTER)
    cells = next(line for line in text.splitlines() if "27 kW" in line).split(",")
    assert not cells[1].lstrip('"').startswith(("=", "+", "-", "@"))
    assert name in [line.node["name"] for line in read_list(text, terms(document)).good]


@pytest.mark.parametrize(
    ("region", "system", "colours"),
    [
        # NEC 110.15 for the high leg; the rest common practice; Europe by IEC 60445, as remembered
        ("US", "208Y/120", ["black", "red", "blue", "white", "green"]),
        ("US", "480Y/277", ["brown", "orange", "yellow", "grey", "green"]),
        ("US", "240/120 high-leg", ["black", "orange", "blue", "white", "green"]),
        ("UK", "230/400", ["brown", "black", "grey", "blue", "green-yellow"]),
        ("ZA", "230/400", ["red", "yellow", "blue", "black", "green-yellow"]),
        ("XX", "230/400", []),
    ],
)
def test_conductor_colours_by_region_and_system(region, system, colours):
    assert [colour for _part, colour in conductor_colours(region, SYSTEMS[system])] == colours


# The chain


@quick
@given(jobs(), st.data())
def test_the_chain_shows_the_figures_of_the_solution_and_every_finding_at_a_link(job, data):
    document = from_open(job)
    key = data.draw(st.sampled_from(ordered(document)))
    solution = solve_job(document, key).solution
    solved, view = solution.nodes[key], chain_view(solution, key, "Board")
    links = {link.key: link for link in view.links}
    assert list(links)[:7] == ["load", "demand", "current", "device", "conductor", "drop", "earth"]
    assert list(links)[7:] == (["service"] if solved.earthing else [])
    assert float(links["load"].value.replace(",", "")) == pytest.approx(solved.connected_va / 1000, abs=0.0051)
    assert float(links["demand"].value.replace(",", "")) == pytest.approx(solved.demand_va / 1000, abs=0.0051)
    assert float(links["current"].value.replace(",", "")) == pytest.approx(max(solved.amps.values()), abs=0.051)
    at_links = [finding for link in view.links for finding in link.findings]
    assert sorted(map(str, at_links)) == sorted(map(str, solved.findings))
    for link in view.links:
        severities = {str(finding.severity) for finding in link.findings}
        assert link.state in ("stop", "warn") if severities & {"stop", "warn"} else link.state in ("holds", "none")
    if solved.design:
        assert links["device"].value == f"{solved.design.choice.device_a:g}"
        assert solved.design.choice.size in links["conductor"].value
        assert links["earth"].value == solved.design.earth.size
        chosen = [row for row in links["device"].options if row.chosen]
        assert len(chosen) == 1
        assert all(link.chip for link in view.links[3:])


@quick
@given(st.floats(10, 90_000), st.integers(1, 20), st.sampled_from(["W", "VA", "kW", "kVA", "A"]), st.integers(1, 300))
def test_what_the_walk_through_line_says_before_is_what_is_added(rating, count, unit, length):
    document = sample_document("cinder-lane")
    line = (
        f"sockets x{count} {rating:.0f} {unit} {length} ft on glaze shed"
        if count > 1
        else (f"heater {rating:.0f} {unit} 120 V {length} ft on glaze shed")
    )
    said = understood(document, line, "mdp")
    if said.problems:
        return
    (item,) = said.items
    shown = " ".join(chip.words for chip in item.chips)
    made = list(circuits_of(item.item))
    assert item.board == "shed"
    assert all(str(node["load"]["rating"]).lower() in shown.lower() for node in made)
    assert f"{length} ft" in shown
    assert all(node["run"]["length"] == f"{length} ft" for node in made)
    before = sum(node["kind"] == "load" for node in document["nodes"].values())
    for change in changes.add(document, item.board, made):
        document["nodes"][change.path[1]] = change.after
    assert sum(node["kind"] == "load" for node in document["nodes"].values()) == before + len(made)
    assert math.isfinite(solve_job(document).solution.nodes["shed"].demand_va)


def test_a_panels_directory_has_odd_ways_at_the_left_and_devices_span_theirs():
    rows = directory([((1, 3, 5), "k", "Kiln", "50 A"), ((4,), "l", "Lamps", "20 A")], spaces=12)
    assert [(row.left.way, row.right.way) for row in rows] == [(1, 2), (3, 4), (5, 6), (7, 8), (9, 10), (11, 12)]
    assert [row.left.name for row in rows[:4]] == ["Kiln", "Kiln", "Kiln", ""]
    assert [row.left.goes_on for row in rows[:3]] == [False, True, True]
    assert (rows[1].right.name, rows[0].right.name) == ("Lamps", "")
