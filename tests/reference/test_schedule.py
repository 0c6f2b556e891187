"""The schedule of a board at 230/400 V: what it has of its design, and results held against it.

Greatest Zs by Table 41.3 and 80 % of it on a cold meter (BS 7671 Appendix 3), insulation by IEC 60364-6, from memory.
"""

import csv
import io
import json

import pytest

from voltaje.cli import main
from voltaje.errors import Refused
from voltaje.tools.schedule import COLUMNS, as_csv, board_schedule

RUN = {"cable": "flat twin", "length": 20}
CIRCUITS = [
    {"name": "Ring", "load": {"kind": "sockets", "rating": "32 A"}, "run": {**RUN, "ring": True, "length": 60}},
    {"name": "=Lights", "load": {"kind": "lighting", "rating": "60 W", "count": 9}, "run": RUN},
    {"name": "Cooker", "load": {"kind": "range", "rating": "10 kW"}, "run": RUN},
]


SUPPLY = {"earthing": "TN-S", "ze_ohm": 0.5, "fuse_a": 100}


def house(tests=None, book="BS 7671"):
    nodes = [
        {
            "id": "src",
            "kind": "source",
            "system": "230 1ph",
            "supply": {"earthing": "TN-S", "ze_ohm": 0.5, "fuse_a": 100},
        },
        {"id": "cu", "kind": "board", "parent": "src", "name": "CU", "household": True, "run": {"length": 1}},
        *({"id": f"c{at}", "kind": "load", "parent": "cu", **each} for at, each in enumerate(CIRCUITS)),
        {"id": "spare", "kind": "spare", "parent": "cu"},
    ]
    if tests:
        nodes[2]["tests"] = tests
    return {"format": "voltaje-job", "version": 1, "name": "House", "book": book, "nodes": nodes}


def test_a_schedule_has_the_design_of_every_circuit():
    found = board_schedule(house(), "cu")
    ring, lights, cooker = found["circuits"]
    assert found["supply"]["ze_ohm"] == 0.5 and found["supply"]["ze_entered"] and found["supply"]["fuse_a"] == 100
    assert (ring["line_mm2"], ring["protective_mm2"], ring["rcd_ma"], ring["device_kind"]) == ("2.5", "1.5", 30, "B")
    assert ring["r1_r2_ohm"] == pytest.approx((7.41 + 12.1) * 60 / 1000 / 4)
    assert [row["max_zs_ohm"] for row in found["circuits"]] == pytest.approx(
        [0.95 * 46 / 32, 0.95 * 46 / 6, 0.95 * 46 / 25]
    )
    assert (lights["points"], cooker["rcd_ma"], cooker["device_standard"]) == (9, None, "IEC 60898-1")
    assert not found["signed"] and found["notice"].startswith("Not signed")


@pytest.mark.parametrize(
    ("tests", "wrong"),
    [
        ({"zs_ohm": 1.09, "r1_r2_ohm": 0.3, "insulation_mohm": 200, "polarity": True, "rcd_ms": 28}, []),
        ({"zs_ohm": "1.10 Ω"}, ["zs_ohm"]),
        ({"insulation_mohm": 0.9}, ["insulation_mohm"]),
        ({"polarity": False, "rcd_ms": 301}, ["polarity", "rcd_ms"]),
        ({"r1_r2_ohm": 0.33}, ["r1_r2_ohm"]),
    ],
)
def test_results_are_held_against_the_design(tests, wrong):
    """A B32 is opened to 1.37 Ω, 1.09 on a cold meter; R1 + R2 of the ring are 0.29 Ω."""
    found = board_schedule(house(tests), "cu")["circuits"][0]["tests"]
    assert (found["wrong"], found["holds"]) == (wrong, not wrong)


def test_as_csv_boxes_without_a_result_are_empty_and_no_name_is_a_formula():
    rows = list(csv.reader(io.StringIO(as_csv(board_schedule(house({"zs_ohm": 0.9}), "cu")))))
    head = rows.index(list(COLUMNS))
    ring, lights, _cooker = (dict(zip(COLUMNS, row, strict=True)) for row in rows[head + 1 :])
    assert (ring["tested_zs_ohm"], ring["tests"], ring["tested_rcd_ms"]) == ("0.9", "holds", "")
    assert (lights["description"], lights["tests"]) == ("'=Lights", "")


def test_what_has_no_schedule_says_why(tmp_path, capsys):
    with pytest.raises(Refused, match="230/400 V"):
        board_schedule(house(book="NEC 2023"), "cu")
    with pytest.raises(Refused) as wrong:
        board_schedule(house({"zs_ohm": "much"}), "cu")
    assert wrong.value.field == "nodes[2].tests.zs_ohm"
    path = tmp_path / "job.json"
    path.write_text(json.dumps(house()), "utf-8")
    assert main(["schedule", str(path), "--board", "c1"]) == 2
    assert capsys.readouterr().err.startswith("--board: ")
    assert main(["schedule", str(path), "--board", "cu", "--csv"]) == 0
    assert capsys.readouterr().out.startswith("# job,House")
