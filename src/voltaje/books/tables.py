"""Published tables: data files with a pedigree, and the only ways to look a value up.

One table a file. A look-up is by exact key, next size up, or band; it never extrapolates and never
guesses: outside the table it raises OutsideTable, which names the table and its range.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from voltaje.errors import OutsideTable, TableError
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.sheet import Citation

Cell = str | float | None
Row = dict[str, Cell]


@dataclass(frozen=True)
class Column:
    """What a column holds, and its unit."""

    name: str
    meaning: str
    unit: str = ""


@dataclass(frozen=True)
class Table:
    """A published table.

    key:     file name without ending, unique among tables
    number:  the table's number in each edition it stands in
    pedigree: where the figures come from and what they were compared with
    doubts:  what in it is not sure, in plain words; "" where nothing is known
    """

    key: str
    standard: str
    number: dict[str, str]
    title: str
    pedigree: str
    doubts: str
    columns: tuple[Column, ...]
    rows: tuple[Row, ...]

    def numbered(self, book: str) -> str:
        """Return the table's number in an edition; `*` in its file stands for every edition."""
        return self.number.get(book) or self.number["*"]

    def cite(self, book: str, suffix: str = "", row: Cell = "", column: str = "") -> Citation:
        """Return the citation of this table in an edition of the book.

        row: the first cell of the one that was read, or the first few, " · " between them, where one does not tell it
        """
        return Citation(book, f"{self.numbered(book)}{suffix}", self.key, _plain(row), column)

    def is_row(self, row: Row, named: str) -> bool:
        """Return whether a row is the one that a citation names by its first cells."""
        cells = [_plain(row[column.name]) for column in self.columns]
        return any(named == _BETWEEN.join(cells[:many]) for many in range(1, len(cells) + 1))

    def row(self, field: str, book: str, **keys: str | float) -> Row:
        """Return the one row with exactly these keys."""
        for row in self.rows:
            if all(row[name] == value for name, value in keys.items()):
                return row
        column = next(iter(keys))
        known = [_plain(row[column]) for row in self.rows if row[column] is not None]
        message = Message(
            "{value} is not in {table}, which has: {known}", value=keys[column], table=self.numbered(book), known=known
        )
        raise OutsideTable(field, message, str(self.cite(book)))

    def band(self, field: str, book: str, value: float) -> Row:
        """Return the row whose columns `from` and `to` hold the value; an empty `to` is "and over"."""
        for row in self.rows:
            low, high = row["from"], row["to"]
            if _number(low) <= value and (high is None or value <= _number(high)):
                return row
        raise self._outside(field, book, value, _number(self.rows[0]["from"]), self.rows[-1]["to"])

    def round_up(self, field: str, book: str, column: str, value: float) -> Row:
        """Return the first row whose column is not under the value; a cell with no figure is passed over."""
        for row in self.rows:
            if row[column] is not None and _number(row[column]) >= value:
                return row
        figures = [_number(row[column]) for row in self.rows if row[column] is not None]
        raise self._outside(field, book, value, figures[0], figures[-1])

    def _outside(self, field: str, book: str, value: float, low: float, high: Cell) -> OutsideTable:
        message = Message(
            "{value} is outside {table}, which goes from {low} to {high}",
            value=f"{value:.6g}",
            table=self.numbered(book),
            low=_plain(low),
            high=_plain(high),
        )
        return OutsideTable(field, message, str(self.cite(book)))


_BETWEEN = " · "


def named_by(*cells: Cell) -> str:
    """Return a row's name in a citation: its first cells."""
    return _BETWEEN.join(_plain(cell) for cell in cells)


def _plain(cell: Cell) -> str:
    return f"{cell:g}" if isinstance(cell, float) else str(cell)


def _number(cell: Cell) -> float:
    if not isinstance(cell, float):
        raise TableError(f"{cell!r} stands where a number is looked up")
    return cell


def number(row: Row, column: str) -> float:
    """Return a cell that must hold a number [the unit of its column]. Raises TableError otherwise."""
    return _number(row[column])


def text(row: Row, column: str) -> str:
    """Return a cell that must hold a text. Raises TableError otherwise."""
    cell = row[column]
    if not isinstance(cell, str):
        raise TableError(f"{cell!r} stands where a text is looked up")
    return cell


def cell_formula(row: Row, column: str) -> Formula:
    """Return a cell as a formula: a number, or an arithmetic text such as `15 + 1 * n`."""
    return Formula(_plain(row[column]))


@cache
def load_table(package: str, key: str) -> Table:
    """Return the table of that key in a package's `tables` folder.

    Raises: TableError where the file lacks a part, a row is short, or a key stands twice.
    """
    folder = files(package) / "tables"
    raw = tomllib.loads((folder / f"{key}.toml").read_text("utf-8"))
    try:
        source, columns = raw["source"], raw["columns"]
        named = tuple(Column(name, spec["meaning"], spec.get("unit", "")) for name, spec in columns.items())
        rows = tuple(_row(line, named, key) for line in raw["data"]["rows"])
        _refuse_double_keys(rows, source["keys"], key)
        return Table(
            key=key,
            standard=source["standard"],
            number=source["table"],
            title=source["title"],
            pedigree=source["pedigree"],
            doubts=source.get("doubts", ""),
            columns=named,
            rows=rows,
        )
    except KeyError as error:
        raise TableError(f"table {key} lacks {error}") from error


def _row(line: list[Any], columns: tuple[Column, ...], key: str) -> Row:
    if len(line) != len(columns):
        raise TableError(f"table {key}: {line} has {len(line)} cells for {len(columns)} columns")
    cells = (None if cell == "" else float(cell) if isinstance(cell, int | float) else cell for cell in line)
    return dict(zip((column.name for column in columns), cells, strict=True))


def _refuse_double_keys(rows: tuple[Row, ...], keys: list[str], key: str) -> None:
    seen = set()
    for row in rows:
        this = tuple(row[name] for name in keys)
        if this in seen:
            raise TableError(f"table {key}: the key {this} stands twice")
        seen.add(this)


def table_keys(package: str) -> Iterator[str]:
    """Yield the key of every table in a package's `tables` folder, by name."""
    names = sorted(entry.name for entry in (files(package) / "tables").iterdir())
    return (name.removesuffix(".toml") for name in names if name.endswith(".toml"))
