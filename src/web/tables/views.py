"""Every table with its pedigree, so that a person can check it against their own book."""

from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.utils.translation import gettext as _

from voltaje.books.registry import all_tables
from voltaje.books.tables import Table
from web.words.request import Request


def tables(request: Request) -> HttpResponse:
    """The list of tables, of a standard and by some words."""
    every = [(name, table, numbers(table)) for name, table in all_tables()]
    words, of = (request.GET.get(name, "")[:_MOST_WORDS] for name in ("words", "of"))
    standards = list(dict.fromkeys(table.standard for _name, table, _numbers in every))
    wanted = words.casefold().split()
    rows = [row for row in every if of in ("", row[1].standard) and all(word in _said(row) for word in wanted)]
    number = {standard: sum(table.standard == standard for _name, table, _numbers in every) for standard in standards}
    shows = [("", _("All"), len(every)), *((each, each, number[each]) for each in standards)]
    context = {"rows": rows, "words": words, "of": of if of in standards else "", "shows": shows}
    return render(request, "tables/tables.html", context)


_MOST_WORDS = 100
_MARKED = {"%": "percent", "kW": "kilowatts"}  # units that stand in every cell: a table may have both


def _said(row: Any) -> str:
    name, table, found = row
    return " ".join((name, table.title, table.standard, *found)).casefold()


def table(request: Request, key: str) -> HttpResponse:
    """One table, with its number in each edition."""
    found = dict(all_tables()).get(key)
    if found is None:
        raise Http404
    row_lit, column_lit = (request.GET.get(name, "")[:_MOST_WORDS] for name in ("row", "column"))
    rows = [
        (
            bool(row_lit) and found.is_row(row, row_lit),
            [(row[column.name], column.name == column_lit, _MARKED.get(column.unit, "")) for column in found.columns],
        )
        for row in found.rows
    ]
    return render(
        request,
        "tables/table.html",
        {"table": found, "rows": rows, "numbers": numbers(found), "lit_column": column_lit},
    )


def numbers(found: Table) -> list[str]:
    """Return the table's number, once where every edition agrees, else edition by edition."""
    different = set(found.number.values())
    if len(different) == 1:
        return list(different)
    return [f"{book}: {number}" for book, number in found.number.items()]
