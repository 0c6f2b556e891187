"""Changes rules, physics and table cells by chance, one at a time, and sees whether a test notices.

    ./voltaje mutants 60 --seed 1

A change that no test notices is told with its place: it wants a test, or it changes nothing that anybody sees. Run by
hand; it takes up to as long as the tests of the library do for each change.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parents[1]
ROOMS = ("books", "design", "physics")
TESTS = ("tests/core", "tests/reference")
OTHER = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "=="}
SIGN = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}
CELL = re.compile(r"(?<=[\[ ])\d+(?:\.\d+)?(?=[,\]])")


class Mutant(NamedTuple):
    """A change: of which file, where, what becomes what."""

    path: Path
    start: int
    end: int
    was: str
    becomes: str

    def applied(self, text: str) -> str:
        """Return a file's text with the change."""
        return text[: self.start] + self.becomes + text[self.end :]

    def __str__(self) -> str:
        line = self.path.read_text("utf-8")[: self.start].count("\n") + 1
        return f"{self.path.relative_to(ROOT)}:{line}: {self.was} becomes {self.becomes}"


def of_python(path: Path) -> Iterator[Mutant]:
    """Yield the changes of a module: of its numbers, comparisons and signs."""
    text = path.read_text("utf-8")
    starts = [0]
    for line in text.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def at(line: int, column: int) -> int:
        return starts[line - 1] + len(text[starts[line - 1] :].encode()[:column].decode(errors="ignore"))

    def between(left: ast.expr, right: ast.expr, becomes: str) -> Mutant:
        start, end = at(left.end_lineno or 0, left.end_col_offset or 0), at(right.lineno, right.col_offset)
        return Mutant(path, start, end, text[start:end].strip(), f" {becomes} ")

    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.Constant) and type(node.value) in (int, float) and node.value not in (0, 1):
            start, end = at(node.lineno, node.col_offset), at(node.end_lineno or 0, node.end_col_offset or 0)
            yield Mutant(path, start, end, text[start:end], repr(_other(node.value)))
        elif isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in OTHER:
            yield between(node.left, node.comparators[0], OTHER[type(node.ops[0])])
        elif isinstance(node, ast.BinOp) and type(node.op) in SIGN:
            yield between(node.left, node.right, SIGN[type(node.op)])


def _other(value: float) -> float:
    return value + 1 if isinstance(value, int) else value * 1.1


def of_table(path: Path) -> Iterator[Mutant]:
    """Yield the changes of a table's cells."""
    text = path.read_text("utf-8")
    for found in CELL.finditer(text, text.index("rows =")):
        yield Mutant(path, *found.span(), found[0], f"{float(found[0]) * 1.1:.6g}")


def candidates() -> list[Mutant]:
    """Return every change there is, the same in every run."""
    found: list[Mutant] = []
    for room in ROOMS:
        for path in sorted((ROOT / "src" / "voltaje" / room).rglob("*.py")):
            found += of_python(path)
        for path in sorted((ROOT / "src" / "voltaje" / room).rglob("tables/*.toml")):
            found += of_table(path)
    return found


def is_noticed(mutant: Mutant) -> bool:
    """Return whether a test fails on a copy of the library that has the change."""
    with tempfile.TemporaryDirectory() as copy:
        for part in ("src", "tests", "docs", "pyproject.toml"):
            made = Path(copy) / part
            shutil.copytree(ROOT / part, made) if (ROOT / part).is_dir() else shutil.copy(ROOT / part, made)
        changed = Path(copy) / mutant.path.relative_to(ROOT)
        changed.write_text(mutant.applied(mutant.path.read_text("utf-8")), "utf-8")
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:randomly", "-n", "2", *TESTS]
        environment = {**os.environ, "PYTHONPATH": f"{copy}/src", "VOLTAJE_ROOT": copy}
        return subprocess.run(command, cwd=copy, env=environment, capture_output=True, check=False).returncode != 0


def main() -> int:
    """Try so many changes; fail where more than one in thirty goes unnoticed."""
    asked = argparse.ArgumentParser()
    asked.add_argument("number", type=int)
    asked.add_argument("--seed", type=int, default=1)
    given = asked.parse_args()
    chosen = random.Random(given.seed).sample(candidates(), given.number)  # noqa: S311
    survivors = []
    for at, mutant in enumerate(chosen, 1):
        noticed = is_noticed(mutant)
        survivors += [] if noticed else [mutant]
        print(f"{at}/{given.number} {'noticed' if noticed else 'SURVIVED'}: {mutant}", flush=True)
    print(f"{given.number - len(survivors)} of {given.number} noticed")
    return int(len(survivors) > given.number / 30)


if __name__ == "__main__":
    sys.exit(main())
