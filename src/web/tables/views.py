"""Every table with its pedigree, so that a person can check it against their own book."""

from django.http import Http404
from django.shortcuts import render

from voltaje.books.nec.edition import all_tables, editions


def tables(request):
    """The list of tables."""
    return render(request, "tables/tables.html", {"tables": list(all_tables()), "books": list(editions())})


def table(request, key):
    """One table, with its number in each edition."""
    found = next((each for each in all_tables() if each.key == key), None)
    if found is None:
        raise Http404
    rows = [[row[column.name] for column in found.columns] for row in found.rows]
    numbers = [(book, found.number[book]) for book in editions()]
    return render(request, "tables/table.html", {"table": found, "rows": rows, "numbers": numbers})
