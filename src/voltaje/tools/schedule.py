"""The schedule of a board at 230/400 V: each circuit's design beside what was tested, as plain JSON and as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from voltaje.books.faults import TestLimits
from voltaje.books.questions import Disconnections
from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution
from voltaje.design.solve import solve
from voltaje.errors import UnknownName
from voltaje.inputs.shapes import Json
from voltaje.message import Message
from voltaje.path.kinds import EMPTY, Kind, said_of
from voltaje.path.results import TestResults
from voltaje.rounding import exceeds, plainly
from voltaje.tools.solve import read_document

# Standards of devices by their kind; common practice.
_STANDARDS = {"B": "IEC 60898-1", "C": "IEC 60898-1", "D": "IEC 60898-1", "gG": "IEC 60269-2"}
_WITH_RCD = "IEC 61009-1"
_CURVES = ("B", "C", "D")
COLUMNS = (
    *("way", "description", "points", "method", "cable", "line_mm2", "protective_mm2", "length_m"),
    *("device_standard", "device_kind", "device_a", "breaking_ka", "rcd_ma", "rcd_type"),
    *("time_s", "max_zs_ohm", "zs_ohm", "r1_r2_ohm"),
    *("tested_r1_r2_ohm", "tested_insulation_mohm", "tested_polarity", "tested_zs_ohm", "tested_rcd_ms", "tests"),
)


def board_schedule(raw: object, board: str) -> Json:
    """Return the schedule of a board of a job file, its circuits in the order of their ways.

    Raises: InputError with the place of what is wrong; UnknownName for a board that is none; NotCovered in a book that
        has no rules for loops of 230/400 V.
    """
    job = read_document(raw)
    book = find_book(job.book)
    rules = book.asked(Disconnections)
    solved = solve(job).nodes
    boards = [node.id for node in job.nodes if node.kind is Kind.BOARD]
    if board not in boards:
        raise UnknownName("--board", Message("there is no board {id}: {known}", id=board, known=boards))
    here, source = solved[board], _source(solved, board)
    circuits = [node for node in job.nodes if node.parent == board and node.kind not in EMPTY]
    rows = [_row(at, solved[node.id], here, rules) for at, node in enumerate(circuits, 1)]
    supply = source.node.supply
    return {
        "job": job.name,
        "book": book.name,
        "board": here.node.name or board,
        "supply": {
            "system": source.system.name,
            "earthing": supply.earthing,
            "ze_ohm": rules.supply_ohm(supply.earthing, supply.ze_ohm, supply.electrode_ohm),
            "ze_entered": supply.ze_ohm is not None,
            "fuse_a": supply.fuse_a,
            "fuse_kind": supply.fuse_kind or None,
            "prospective_ka": None if here.fault_a is None else here.fault_a / 1000,
            "main_a": here.node.board.main_a,
            "main_kind": here.node.board.main_kind,
        },
        "circuits": rows,
        "signed": False,
        "notice": "Not signed. A design, with results as they were entered: who tests signs for them.",
    }


def _source(solved: dict[str, NodeSolution], board: str) -> NodeSolution:
    here = solved[board]
    while here.node.parent:
        here = solved[here.node.parent]
    return here


def _row(at: int, solved: NodeSolution, board: NodeSolution, rules: Disconnections) -> Json:
    node, design, loop, rcd = solved.node, solved.design, solved.loop, solved.rcd
    load, run = node.load, node.run
    kind = loop.kind if loop else run.device_kind or rules.usual_kind
    results = node.tests
    row: Json = {
        "way": node.way or at,
        "id": node.id,
        "description": node.name or said_of(load.kind if load else node.kind).words,
        "points": (load.points or load.count) if load else None,
        "method": design.run.method if design else None,
        "cable": design.run.cable if design else None,
        "line_mm2": design.choice.size if design else None,
        "protective_mm2": design.earth.size if design else None,
        "length_m": run.long_m,
        "device_standard": _WITH_RCD if rcd and rcd.here and kind in _CURVES else _STANDARDS.get(kind, kind),
        "device_kind": kind,
        "device_a": design.choice.device_a if design else None,
        "breaking_ka": board.node.board.fault_ka,
        "rcd_ma": rcd.rated_ma if rcd else None,
        "rcd_type": rcd.type if rcd else None,
        "time_s": loop.loop.required_s if loop else None,
        "max_zs_ohm": loop.loop.most_ohm if loop else None,
        "zs_ohm": loop.loop.zs_ohm if loop else None,
        "r1_r2_ohm": loop.loop.cold_ohm if loop else None,
        "findings": sorted({each.code for each in solved.findings if each.severity.value != "note"}),
    }
    row["tests"] = _held(results, solved, rules.test_limits()) if results else None
    return row


def _held(results: TestResults, solved: NodeSolution, limits: TestLimits) -> Json:
    """Return the results, and which of them is not as it must be; `holds` None where no box is filled."""
    loop, wrong = solved.loop.loop if solved.loop else None, []
    if results.polarity is False:
        wrong.append("polarity")
    if results.insulation_mohm is not None and results.insulation_mohm < limits.least_mohm:
        wrong.append("insulation_mohm")
    if results.zs_ohm is not None and loop:
        most = max((each for each in (loop.measured_ohm, loop.most_rcd_ohm) if each is not None), default=None)
        if most is None or exceeds(results.zs_ohm, most):
            wrong.append("zs_ohm")
    if results.r1_r2_ohm is not None and loop and exceeds(results.r1_r2_ohm, loop.cold_ohm * limits.over_design):
        wrong.append("r1_r2_ohm")
    if results.rcd_ms is not None and results.rcd_ms > limits.rcd_ms:
        wrong.append("rcd_ms")
    given = {key: value for key, value in vars(results).items() if value is not None}
    return {**given, "wrong": wrong, "holds": not wrong if given else None}


def as_csv(schedule: Json) -> str:
    """Return a schedule's circuits as CSV, with what is known of the supply above them; empty boxes stay empty."""
    out = io.StringIO()
    write = csv.writer(out, lineterminator="\n")
    for key in ("job", "book", "board"):
        write.writerow([f"# {key}", _cell(schedule[key])])
    for key, value in schedule["supply"].items():
        write.writerow([f"# {key}", _cell(value)])
    write.writerow([f"# {schedule['notice']}"])
    write.writerow(COLUMNS)
    write.writerows(_cells(row) for row in schedule["circuits"])
    return out.getvalue()


def _cells(row: Json) -> Iterable[str]:
    tests = row["tests"] or {}
    for column in COLUMNS:
        if column == "tests":
            yield "" if tests.get("holds") is None else "holds" if tests["holds"] else " ".join(tests["wrong"])
        elif column.startswith("tested_"):
            yield _cell(tests.get(column.removeprefix("tested_")))
        else:
            yield _cell(row[column])


def _cell(value: object) -> str:
    """Return a value as a cell; a text that a spreadsheet would take for a formula is marked as text."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{plainly(value):.4g}"
    text = str(value)
    return f"'{text}" if text.startswith(("=", "+", "-", "@", "'")) else text
