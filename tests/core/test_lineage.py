"""Editions and profiles extend each other: a local one is a file that says only what differs."""

import pytest

from voltaje.books import registry
from voltaje.books.iec import profile
from voltaje.books.lineage import rule_sets
from voltaje.books.nec import edition
from voltaje.errors import TableError
from voltaje.tools.quick import run

COUNTY = """
name = "NEC 2023 River County"
extends = "NEC 2023"
[clauses]
drop_branch = "County 12"
[figures]
drop_branch_percent = 2
continuous_factor = 1.5
[tables]
kitchen = "receptacles"
"""
ISLAND = """
name = "IEC 60364 / Island rules"
extends = "IEC 60364 / BS 7671:2018+A2:2022"
short = "Island rules"
[figures]
buried_factor = 0.8
[drop_final]
other_public = 4
"""


@pytest.fixture
def local(tmp_path, monkeypatch):
    """Two local rule sets in a folder of their own."""
    for module, text in ((edition, COUNTY), (profile, ISLAND)):
        folder = tmp_path / module.__name__
        folder.mkdir()
        (folder / "local.toml").write_text(text, "utf-8")
        monkeypatch.setattr(module, "FOLDERS", [*module.FOLDERS, folder])
    caches = (edition.editions, profile.profiles, registry.books, registry._by_short_name)
    for cache in caches:
        cache.cache_clear()
    yield
    for cache in caches:
        cache.cache_clear()


def test_a_county_changes_what_it_says_and_no_more(local):
    ask = {"amps": 20, "continuous_amps": 20, "volts": 240, "length": 50}
    county = run.TOOL.run({**ask, "book": "NEC 2023 River County"})
    plain = run.TOOL.run({**ask, "book": "NEC 2023"})
    assert (county["result"]["limit_percent"], plain["result"]["limit_percent"]) == (2, 3)
    assert (county["result"]["required_a"], plain["result"]["required_a"]) == (30, 25)
    rules = {step["rule"] for step in county["steps"]}
    assert "NEC 2023 River County County 12" in rules
    assert "NEC 2023 River County Table 310.16" in rules  # a table keeps its number
    assert edition.find_edition("NEC 2023 River County").table("kitchen").key == "receptacles"
    assert edition.find_edition("NEC 2023").table("kitchen").key == "kitchen"


def test_a_profile_extends_another(local):
    ask = {"amps": 20, "volts": 230, "cable": "armoured", "method": "D", "length": 20}
    island, plain = (run.TOOL.run({**ask, "book": book})["result"] for book in ("Island rules", "BS 7671"))
    assert (island["factor"], plain["factor"]) == (0.8, 0.9)
    assert (island["limit_percent"], plain["limit_percent"]) == (4, 5)


def test_what_extends_nothing_or_itself_is_refused(tmp_path):
    (tmp_path / "a.toml").write_text('name = "A"\nextends = "B"\n', "utf-8")
    with pytest.raises(TableError, match="no such rule set"):
        rule_sets([tmp_path])
    (tmp_path / "b.toml").write_text('name = "B"\nextends = "A"\n', "utf-8")
    with pytest.raises(TableError, match="A extends B extends A"):
        rule_sets([tmp_path])
