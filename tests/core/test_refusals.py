"""Wrong input: one typed error with field, message and rule, and every other error with it."""

import pytest

from voltaje.books.nec.edition import find_edition
from voltaje.books.tables import load_table
from voltaje.errors import InputError, OutsideTable, TableError, UnknownName
from voltaje.tools.quick import dwelling

AREA = {"floor_area": 1500}


@pytest.mark.parametrize(
    ("raw", "field", "rule"),
    [
        ({}, "floor_area", ""),
        ({"floor_area": -5}, "floor_area", "220.5(C)"),
        ({"floor_area": 0}, "floor_area", "220.5(C)"),
        ({"floor_area": float("nan")}, "floor_area", ""),
        ({"floor_area": "lots"}, "floor_area", ""),
        ({**AREA, "small_appliance_circuits": 0}, "small_appliance_circuits", "210.11(C)(1)"),
        ({**AREA, "small_appliance_circuits": 2.5}, "small_appliance_circuits", "210.11(C)(1)"),
        ({**AREA, "laundry_circuits": 0}, "laundry_circuits", "210.11(C)(2)"),
        ({**AREA, "cooking": [{"load": "40 kW"}]}, "cooking[0].load", "Table 220.55"),
        ({**AREA, "cooking": [{"load": "9 kW", "kind": "kiln"}]}, "cooking[0].kind", ""),
        ({**AREA, "book": "NEC 1999"}, "book", ""),
        ({**AREA, "book": ["NEC 2023"]}, "book", ""),
        ({**AREA, "system": "480Y/277"}, "system", ""),
        ({**AREA, "method": "guess"}, "method", ""),
        ({**AREA, "colour": "red"}, "colour", ""),
        ({**AREA, "appliances": [{"load": 500}, {"load": 0}]}, "appliances[1].load", ""),
        ({**AREA, "appliances": [{"load": 500, "volts": 480}]}, "appliances[0].volts", ""),
        ({**AREA, "appliances": [{"load": "0.6 hp", "volts": 120}]}, "appliances[0].load", "Table 430.248"),
        ({**AREA, "appliances": [{"name": "a"}]}, "appliances[0].load", ""),
        ({**AREA, "appliances": [{"load": 5, "motor": "maybe"}]}, "appliances[0].motor", ""),
        ({**AREA, "appliances": ["toaster"]}, "appliances[0]", ""),
        ({**AREA, "appliances": "toaster"}, "appliances", ""),
        ({**AREA, "dryers": ["-5 kW"]}, "dryers[0]", ""),
        ({**AREA, "dryers": [{}]}, "dryers[0]", ""),
        ({**AREA, "heating": [{"load": "9 kW", "units": 0}]}, "heating[0].units", ""),
        ({**AREA, "cooling": "3 ton"}, "cooling", ""),
        ({**AREA, "vehicle_chargers": [True]}, "vehicle_chargers[0]", ""),
        ({**AREA, "conductor_material": "gold"}, "conductor_material", ""),
        ([], "input", ""),
        (None, "input", ""),
    ],
)
def test_each_refusal_names_its_field_and_rule(raw, field, rule):
    with pytest.raises(InputError) as refused:
        dwelling.TOOL.run(raw)
    assert refused.value.field == field
    assert rule in refused.value.rule
    assert str(refused.value.message)


def test_a_demand_beyond_the_standard_ratings():
    with pytest.raises(OutsideTable) as refused:
        dwelling.TOOL.run({**AREA, "dryers": ["900 kW"] * 4})
    assert "240.6" in refused.value.rule


def test_all_errors_come_together():
    with pytest.raises(InputError) as refused:
        dwelling.TOOL.run({"floor_area": "x", "small_appliance_circuits": "few", "dryers": ["y"]})
    assert [error.field for error in refused.value.also] == ["small_appliance_circuits", "dryers[0]"]


def test_looking_up_outside_a_table():
    edition = find_edition("NEC 2023")
    dryers, ratings, motors = (edition.table(key) for key in ("dryers", "standard_ratings", "motor_1ph"))
    with pytest.raises(OutsideTable, match=r"Table 220\.54.*from 1"):
        dryers.band("dryers", edition.name, 0)
    with pytest.raises(OutsideTable, match="1 to 6000"):
        ratings.round_up("demand", edition.name, "amps", 6001)
    with pytest.raises(OutsideTable):
        motors.row("load", edition.name, hp=0.6)
    with pytest.raises(UnknownName):
        find_edition("NEC 1999")


GOOD = """
[source]
standard = "X"
title = "T"
pedigree = "invented"
keys = ["a"]
table = { X = "1" }
[columns]
a = { meaning = "a" }
b = { meaning = "b" }
[data]
rows = [[1, 2], [3, 4]]
"""


@pytest.mark.parametrize(
    ("was", "wrong"),
    [("[3, 4]", "[3]"), ("[3, 4]", "[1, 4]"), ('pedigree = "invented"', ""), ('title = "T"', "")],
    ids=["short row", "double key", "no pedigree", "no title"],
)
def test_a_malformed_table_is_refused(was, wrong, tmp_path, monkeypatch):
    package = tmp_path / "made_up"
    (package / "tables").mkdir(parents=True)
    (package / "__init__.py").touch()
    (package / "tables" / "good.toml").write_text(GOOD)
    (package / "tables" / "bad.toml").write_text(GOOD.replace(was, wrong))
    monkeypatch.syspath_prepend(tmp_path)
    assert len(load_table("made_up", "good").rows) == 2
    with pytest.raises(TableError):
        load_table("made_up", "bad")
