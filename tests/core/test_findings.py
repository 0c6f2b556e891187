"""Findings have codes: each is listed with its meaning, and none is listed that nobody says."""

import ast
from pathlib import Path

import voltaje
from tests.core.jobs import solved
from voltaje.findings import as_markdown, kinds

ROOT = Path(voltaje.__file__).parent


def codes_in_source():
    """Every code that the library gives to a finding."""
    for path in ROOT.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            makes = isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("Finding", "_stop")
            if makes or (isinstance(node, ast.Dict) and path.name == "chain.py"):
                given = node.args if makes else node.values
                yield from (each.value for each in given if isinstance(each, ast.Constant) and "." in str(each.value))


def test_every_code_is_listed_and_every_listed_one_is_said():
    assert set(codes_in_source()) == set(kinds())


def test_the_list_is_written_out():
    assert (ROOT.parents[1] / "docs" / "findings.md").read_text("utf-8") == as_markdown()


def test_a_finding_keeps_its_code_and_its_severities():
    nodes = solved({"kind": "charger", "rating": "48 A", "poles": 2, "count": 2, "continuous": False}, length=900)
    found = {finding["code"]: finding["severity"] for node in nodes.values() for finding in node["findings"]}
    assert {"charger.shares_circuit", "load.continuous_by_rule", "drop.over_limit"} <= found.keys()
    assert all(severity in kinds()[code].severities for code, severity in found.items())
