"""What an answer says beside its figures: what decided it, what lies near a limit, which cell of a table was read."""

import pytest

from tests.reference.test_sums import board, job, load, said
from voltaje.books.registry import all_tables
from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document

EXAMPLES = [(name, family) for name, tool in tools().items() for family in tool.example]


def test_what_decided_is_marked_and_told_in_a_line():
    """35 A on 8 AWG that lies among nine: it is the installation, not the terminals, that lets no smaller one be."""
    found = tools()["run"].run({"amps": 35, "volts": 240, "terminal_c": 75, "bundled": 9})
    decides = [step["label"] for step in found["steps"] if step["decides"]]
    assert decides == ["Device", "Not 10 Cu"]
    assert len(found["decided_by"]) == len(decides)
    assert "as it is installed" in found["decided_by"][1]


@pytest.mark.parametrize(("kva", "near"), [(21.5, False), (21.7, True), (24, True), (24.1, False)])
def test_a_single_phase_that_is_nearly_full(kva, near):
    """A limit of 100 A on 240 V is 24 kVA; nine tenths are 21.6."""
    asked = {"single_phase_limit_a": 100, "loads": [{"load": f"{kva} kVA", "phases": 1}]}
    codes = [each["code"] for each in tools()["supply-choice"].run(asked)["findings"]]
    assert ("supply.near_limit" in codes) is near


@pytest.mark.parametrize(("kva", "near"), [(67, False), (68, True), (75, True)])
def test_a_transformer_that_is_nearly_full(kva, near):
    unit = {
        "id": "t",
        "kind": "transformer",
        "parent": "src",
        "run": {},
        "transformer": {"kva": 75, "secondary": "208Y/120"},
    }
    some = load("l", "b", rating=f"{kva} kVA", phases=3)
    node = solve_document(job(unit, board("b", "t"), some, system="480Y/277"))["nodes"]["t"]
    assert bool(said(node, "transformer.near_full")) is near


@pytest.mark.parametrize(("name", "family"), EXAMPLES)
def test_a_cell_that_is_cited_is_one_of_its_table(name, family):
    tables = {(table.key, key.startswith("nec-")): table for key, table in all_tables()}
    book = {"nec": "NEC 2023", "iec": "BS 7671"}[family]
    steps = list(tools()[name].answered({"book": book, **tools()[name].example[family]}).steps)
    cited = [step.rule for step in steps if step.rule and step.rule.row]
    for rule in cited:
        table = tables[rule.topic, rule.book.startswith("NEC")]
        assert sum(table.is_row(row, rule.row) for row in table.rows) == 1, rule
        assert not rule.column or rule.column in [column.name for column in table.columns]
