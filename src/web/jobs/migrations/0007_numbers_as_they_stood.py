"""Circuits of two-columned panels keep the numbers they had: new ones take both columns, the left no longer first.

Numbers that nobody had entered were reckoned anew each time. A directory hangs on the panel's door by now, so that what
was reckoned until today is written down before it is reckoned otherwise.
"""

from typing import Any

from django.db import migrations

from voltaje.books.registry import find_book
from voltaje.design.placing import circuits_on
from voltaje.design.ways import Placed, span
from voltaje.errors import Refused
from voltaje.limits import MOST_WAYS
from voltaje.tools.solve import read_document
from web.jobs.files.openfile import to_open

_ROWS = 21


def as_they_stood(circuits: dict[str, Placed], legs: tuple[str, ...]) -> dict[str, int]:
    """Return the first way of each circuit without one, as it was filled: down the left column, then the right."""
    order = [*range(1, 2 * _ROWS, 2), *range(2, 2 * _ROWS + 1, 2), *range(2 * _ROWS + 1, MOST_WAYS + 1)]
    taken = {way for each in circuits.values() if each.way for way in span(each.way, len(each.legs), 2)}
    found = {}
    for key, each in circuits.items():
        if each.way or not each.legs:
            continue
        for way in order:
            wanted = span(way, len(each.legs), 2)
            on = legs[(way - 1) // 2 % len(legs)]
            if on == each.legs[0] and not taken.intersection(wanted) and wanted[-1] <= MOST_WAYS:
                found[key] = way
                taken.update(wanted)
                break
    return found


def forwards(apps: Any, _editor: Any) -> None:
    """Write down the numbers of every kept job that can be read."""
    for job in apps.get_model("jobs", "Job").objects.all():
        rows = {node.key: node for node in job.nodes.all()}
        nodes = {
            key: {"kind": row.kind, "parent": row.parent_key, "position": row.position, **row.data}
            for key, row in rows.items()
        }
        document = {"job": {"name": job.name, "book": job.book, **job.entries}, "nodes": nodes}
        changed = []
        try:
            if find_book(job.book).terms.way_columns == 1:
                continue
            read = read_document(to_open(document))
        except (Refused, KeyError):
            continue  # it waits for its repair, and shows no numbers
        for board in (key for key, row in rows.items() if row.kind == "board"):
            try:
                ways = as_they_stood(*circuits_on(read, board, 2))
            except Refused:
                continue
            for key, way in ways.items():
                place = rows[key].data["load"] if rows[key].data.get("load") else rows[key].data
                place["way"] = way
                changed.append(rows[key])
        apps.get_model("jobs", "Node").objects.bulk_update(changed, ["data"], batch_size=500)


class Migration(migrations.Migration):
    """Entries of nodes alone; no column changes, and nothing to take back."""

    dependencies = (("jobs", "0006_work"),)
    operations = (migrations.RunPython(forwards, migrations.RunPython.noop),)
