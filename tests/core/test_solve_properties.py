"""What must hold of every solved job, whatever it is made of, in both families."""

import copy
import json
import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.core.paths import SYSTEMS, below, jobs
from voltaje.books.registry import find_book
from voltaje.design.chain import sized
from voltaje.design.solve import solve
from voltaje.errors import InputError
from voltaje.findings import Severity
from voltaje.systems import SYSTEMS as SUPPLIES
from voltaje.tools.solve import read_document, solve_document

quick = settings(max_examples=60, deadline=None)


def figures(job):
    """The nodes of a job, solved."""
    return solve_document(job)["nodes"]


@quick
@given(jobs())
def test_a_board_is_connected_to_all_that_hangs_below_it(job):
    nodes = figures(job)
    for board in (each["id"] for each in job["nodes"] if each["kind"] == "board"):
        loads = [nodes[key]["connected_va"] for key in below(job, board) if key.startswith("n")]
        assert nodes[board]["connected_va"] == pytest.approx(sum(loads))


@quick
@given(jobs())
def test_the_currents_of_a_board_carry_its_demand(job):
    """Volts to neutral times amps, leg by leg, is never under the demand: phasors may only add to it."""
    nodes, solution = figures(job), solve(read_document(job))
    system = SUPPLIES[job["nodes"][0]["system"]]
    assume(system.line_to_neutral_v and not system.high_leg)
    for each in job["nodes"]:
        solved = solution.nodes[each["id"]]
        carried = sum(solved.amps.values()) * system.line_to_line_v / (math.sqrt(3) if len(system.legs) == 3 else 2)
        if len(system.legs) == 1:
            carried = sum(solved.amps.values()) * system.line_to_line_v
        if each["kind"] != "load":
            assert carried >= nodes[each["id"]]["demand_va"] * 0.995


@quick
@given(jobs(), st.randoms(use_true_random=False))
def test_the_order_of_nodes_in_the_file_does_not_matter_where_legs_are_entered(job, random):
    solution = solve(read_document(job))
    for node in job["nodes"]:
        if node["kind"] == "load":
            node["load"]["legs"] = list(solution.nodes[node["id"]].legs)
    mixed = {**job, "nodes": random.sample(job["nodes"], len(job["nodes"]))}
    for key, node in figures(job).items():
        other = figures(mixed)[key]
        assert other["conductor"] == node["conductor"]
        assert other["device_a"] == node["device_a"]
        assert other["demand_va"] == pytest.approx(node["demand_va"])
        assert other["amps"] == pytest.approx(node["amps"])


@quick
@given(jobs(), st.data())
def test_a_greater_load_never_means_a_smaller_device_or_current_anywhere(job, data):
    """Single-phase loads of one kind; where demand rules reward more of a kind, the kind stays alike."""
    key = data.draw(st.sampled_from([node["id"] for node in job["nodes"] if node["kind"] == "load"]))
    more = copy.deepcopy(job)
    (node,) = [each for each in more["nodes"] if each["id"] == key]
    node["load"]["rating"] = f"{int(node['load']['rating'].split()[0]) * 2} W"
    was, now = figures(job), figures(more)
    above = {key}
    for each in reversed(job["nodes"]):
        if each["id"] in above and each.get("parent"):
            above.add(each["parent"])
    for each in above:
        assert now[each]["demand_va"] >= was[each]["demand_va"] - 1e-6
        if was[each]["device_a"] and now[each]["device_a"] and each == key:
            assert now[each]["device_a"] >= was[each]["device_a"]
    for each in was.keys() - above:
        assert now[each]["device_a"] == was[each]["device_a"]
        assert now[each]["demand_va"] == was[each]["demand_va"]


@quick
@given(jobs(books=("NEC 2017", "NEC 2023")))
def test_a_services_neutral_is_one_conductor_wherever_it_is_told(job):
    """250.24: the grounded conductor that is earthed is the neutral that is pulled."""
    services = [node for node in figures(job).values() if node.get("earthing") and node["neutral"]]
    for node in services:
        assert node["earthing"]["grounded"]["size"] == node["neutral"]["size"]


@quick
@given(jobs())
def test_the_drop_of_each_voltage_only_grows_on_the_way_from_the_source(job):
    nodes, solution = figures(job), solve(read_document(job))
    for each in job["nodes"][1:]:
        node, above = nodes[each["id"]], solution.nodes[each["parent"]].fallen
        for voltage, lost in solution.nodes[each["id"]].fallen.items():
            assert lost >= above.get(voltage, 0.0)
        assert node["volts_at_node"] <= SUPPLIES[job["nodes"][0]["system"]].line_to_line_v


@quick
@given(jobs())
def test_what_was_chosen_complies_with_the_book_that_chose_it(job):
    solution = solve(read_document(job))
    book = find_book(job["book"])
    for solved in solution.nodes.values():
        design = solved.design
        if design is None:
            continue
        assert book.objections(design.run, design.choice) == ()
        assert design.choice.device_a >= design.need_a - 1e-6
        assert design.choice.device_a in book.devices()
        assert design.capacity.device_max_a >= design.choice.device_a
        smaller = [
            size for size in book.sizes_by_choice(design.run) if book.area_mm2(size) < book.area_mm2(design.choice.size)
        ]
        if smaller and design.choice.sets == 1:
            assert not book.complying(design.run, design.choice.device_a, 1)(smaller[-1])


@quick
@given(jobs(), st.data())
def test_a_solve_after_an_edit_is_the_solve_of_a_job_never_seen(job, data):
    """Runs alike are sized once; that may never show."""
    figures(job)
    edited = copy.deepcopy(job)
    node = data.draw(st.sampled_from([node for node in edited["nodes"] if "run" in node]))
    node["run"]["length"] = data.draw(st.integers(1, 300))
    warm = solve_document(edited)
    sized.cache_clear()
    assert solve_document(edited) == warm


@quick
@given(jobs(), st.floats(1, 9))
def test_a_local_limit_of_drop_is_the_only_thing_an_amendment_of_it_changes(job, limit):
    amended = {**job, "amendments": [{"limit": "drop_percent", "value": limit, "reason": "local rule"}]}
    was, now = solve_document(job), solve_document(amended)
    drops = {key: node.design and node.design.drop for key, node in solve(read_document(job)).nodes.items()}
    for key, node in was["nodes"].items():
        other = now["nodes"][key]
        assert {**other, "findings": []} == {**node, "findings": []}
        over = [found for found in other["findings"] if "The drop is" in found["message"]]
        own = drops[key].percent if drops[key] else 0.0
        assert bool(over) == (own > limit + 1e-9) or abs(own - limit) < 1e-6
        assert all("local rule" in str(found["rule"]) for found in over)


HOSTILE = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**20), 10**20),
    st.floats(allow_nan=True, allow_infinity=True),
    st.text(max_size=12),
    st.just([]),
    st.just({}),
    st.just([{}]),
    st.just({"length": {"a": 1}}),
    st.sampled_from(["-4 kW", "1e400", "9" * 70, "½", "½ hp", "0", "L1", "src", "NEC 2023", "٣ kW", "\x00"]),
)


def places(value, path=()):
    """Every place in a document."""
    yield path
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        yield from places(inner, (*path, key))


@settings(max_examples=300, deadline=None)
@given(jobs(most=4), st.data())
def test_whatever_stands_anywhere_in_a_file_is_solved_or_refused_with_its_place(job, data):
    path = data.draw(st.sampled_from([path for path in places(job) if path]))
    holder = job
    for key in path[:-1]:
        holder = holder[key]
    holder[path[-1]] = data.draw(HOSTILE)
    try:
        answer = solve_document(job)
    except InputError as refused:
        assert refused.field
        assert str(refused)
        return
    text = json.dumps(answer, allow_nan=False)  # neither infinite nor not a number
    assert len(text) > 2
    for node in answer["nodes"].values():
        assert node["demand_va"] >= 0
        assert all(amps >= 0 for amps in node["amps"].values())


@pytest.mark.parametrize("book", SYSTEMS)
def test_findings_name_a_place_that_is_there(book):
    nodes = [
        {"id": "src", "kind": "source", "system": SYSTEMS[book][1]},
        {"id": "b0", "kind": "board", "parent": "src", "run": {"length": 300}},
        {"id": "n0", "kind": "load", "parent": "b0", "load": {"rating": "9 kW", "volts": 100}, "run": {"length": 900}},
    ]
    solution = solve(read_document({"format": "voltaje-job", "version": 1, "name": "F", "book": book, "nodes": nodes}))
    found = [finding for solved in solution.nodes.values() for finding in solved.findings]
    assert {Severity.STOP, Severity.WARN} & {finding.severity for finding in found}
    assert all(finding.mend or finding.severity is Severity.NOTE for finding in found)


def seated(job):
    """The job with the legs that every load has got entered, so that no other load moves it."""
    solution = solve(read_document(job))
    made = copy.deepcopy(job)
    for node in made["nodes"]:
        if node["kind"] == "load":
            node["load"]["legs"] = list(solution.nodes[node["id"]].legs)
    return made


@quick
@given(jobs(books=("NEC 2023", "BS 7671")))
def test_three_phases_are_alike(job):
    """Every load one leg further: every current one leg further, and not a figure else."""
    system = SUPPLIES[job["nodes"][0]["system"]]
    assume(system.phases == 3 and not system.high_leg)
    first = seated(job)
    turned = copy.deepcopy(first)
    after = {"L1": "L2", "L2": "L3", "L3": "L1"}
    for node in turned["nodes"]:
        if node["kind"] == "load":
            node["load"]["legs"] = [after[leg] for leg in node["load"]["legs"]]
    was, now = figures(first), figures(turned)
    for key, node in was.items():
        assert {after[leg]: amps for leg, amps in node["amps"].items()} == pytest.approx(now[key]["amps"])
        assert now[key]["neutral_a"] == pytest.approx(node["neutral_a"], abs=1e-6)
        for figure in ("device_a", "conductor", "demand_va", "neutral", "equipment_ground"):
            assert now[key][figure] == node[figure]


@quick
@given(jobs(books=("NEC 2023",)), st.sampled_from(["480 3ph", "480Y/277", "240 3ph"]))
def test_a_transformer_asks_its_primary_for_the_demand_of_its_secondary(job, primary):
    system = SUPPLIES[job["nodes"][0]["system"]]
    assume(system.phases == 3)
    plain = figures(job)
    unit = {"kva": "300", "secondary": system.name, "connection": "Dyn"}
    above = [
        {"id": "utility", "kind": "source", "system": primary},
        {"id": "src", "kind": "transformer", "parent": "utility", "transformer": unit, "run": {"length": 30}},
    ]
    nodes = figures({**job, "nodes": [*above, *job["nodes"][1:]]})
    for key in plain.keys() - {"src"}:
        assert nodes[key]["demand_va"] == pytest.approx(plain[key]["demand_va"])
        assert nodes[key]["amps"] == pytest.approx(plain[key]["amps"])
    # Legs that carry unlike currents draw more than their share; nothing is ever less than its volt-amperes.
    each = plain["src"]["demand_va"] / (math.sqrt(3) * SUPPLIES[primary].line_to_line_v)
    assert max(nodes["utility"]["amps"].values()) >= each * 0.999
    assert nodes["utility"]["demand_va"] == pytest.approx(plain["src"]["demand_va"])
    assert nodes["src"]["connected_va"] == pytest.approx(plain["src"]["connected_va"])


@quick
@given(jobs(), st.integers(1, 40))
def test_an_inverter_makes_no_load_and_takes_none_away(job, kilowatts):
    first = seated(job)
    plain = figures(first)
    phases = SUPPLIES[job["nodes"][0]["system"]].phases
    load = {"rating": f"{kilowatts} kW", **({"phases": 3} if phases == 3 else {"poles": len(plain["src"]["amps"])})}
    inverter = {"id": "inv", "kind": "inverter", "parent": "b0", "load": load, "run": {"length": 10}}
    nodes = figures({**first, "nodes": [*first["nodes"], inverter]})
    assert nodes["inv"]["demand_va"] == pytest.approx(kilowatts * 1000)
    for key, node in plain.items():
        for figure in ("connected_va", "demand_va", "neutral_a", "device_a", "conductor"):
            assert nodes[key][figure] == node[figure]


@quick
@given(jobs(books=("BS 7671", "SANS 10142-1")), st.floats(0.1, 1))
def test_a_designers_diversity_scales_the_demand_of_its_board_and_of_no_other_branch(job, share):
    """IEC: a board counts what it is said to; the boards above count what it then demands."""
    first = seated(job)
    less = copy.deepcopy(first)
    less["nodes"][1]["diversity"] = share
    was, now = figures(first), figures(less)
    assert now["b0"]["demand_va"] == pytest.approx(was["b0"]["demand_va"] * share)
    assert now["src"]["demand_va"] == pytest.approx(was["src"]["demand_va"] * share)
    assert now["src"]["connected_va"] == pytest.approx(was["src"]["connected_va"])
    for key in below(job, "b0"):
        assert now[key]["demand_va"] == was[key]["demand_va"]
        assert now[key]["device_a"] == was[key]["device_a"]


@quick
@given(jobs(), st.data(), st.sampled_from([{"ambient_c": 45}, {"bundled": 9}, {"length": 400}]))
def test_heat_bundling_and_length_never_give_less(job, data, harder):
    """Of the run itself: no smaller device or conductor; a longer one no less drop. Nothing else but drop changes."""
    first = seated(job)
    key = data.draw(st.sampled_from([node["id"] for node in first["nodes"] if "run" in node]))
    more = copy.deepcopy(first)
    (node,) = [each for each in more["nodes"] if each["id"] == key]
    node["run"].update(harder)
    was, now = solve(read_document(first)).nodes, solve(read_document(more)).nodes
    book = find_book(job["book"])
    for each, solved in was.items():
        before, after = solved.design, now[each].design
        if before is None or after is None:
            assert each == key or before is after
            continue
        assert after.choice.device_a >= before.choice.device_a - 1e-9
        areas = [design.choice.sets * book.area_mm2(design.choice.size) for design in (before, after)]
        assert areas[1] >= areas[0] - 1e-9
        assert each == key or after.choice == before.choice
        if "length" in harder and each == key and before.drop and after.drop:
            assert after.drop.percent >= before.drop.percent - 1e-9
