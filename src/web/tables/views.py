"""Every table with its pedigree, so that a person can check it against their own book."""

from django.http import Http404
from django.shortcuts import render

from voltaje.books.registry import all_tables
from voltaje.books.tables import Table


def tables(request):
    """The list of tables."""
    rows = [(name, table, numbers(table)) for name, table in all_tables()]
    return render(request, "tables/tables.html", {"rows": rows})


def table(request, key):
    """One table, with its number in each edition."""
    found = dict(all_tables()).get(key)
    if found is None:
        raise Http404
    rows = [[row[column.name] for column in found.columns] for row in found.rows]
    return render(request, "tables/table.html", {"table": found, "rows": rows, "numbers": numbers(found)})


def numbers(found: Table) -> list[str]:
    """Return the table's number, once where every edition agrees, else edition by edition."""
    different = set(found.number.values())
    if len(different) == 1:
        return list(different)
    return [f"{book}: {number}" for book, number in found.number.items()]
