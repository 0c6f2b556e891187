"""The neutral of a feeder or branch circuit: its greatest unbalanced load, and the conductor for it."""

from __future__ import annotations

from voltaje.books.book import Choice, Run
from voltaje.books.nec import run_tables, runs
from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.neutral import further_reduced
from voltaje.message import Message
from voltaje.sheet import Sheet


def neutral_size(run: Run, choice: Choice, earth: str, edition: Edition, sheet: Sheet) -> str:
    """Return the size of the neutral in each set.

    Enough for the greatest unbalanced load, what exceeds 200 A at 70 % where that is allowed; not under
    the equipment grounding conductor, not under 1/0 in parallel, never over its line.
    Source: NEC 220.61, 215.2(A), 310.10.
    """
    load = run.neutral
    if load is None:
        return choice.size
    rule = edition.cite("feeder_neutral_load")
    linear = load.amps - load.nonlinear_a
    sheet.read(load.amps, Message("Greatest unbalanced load"), "A", rule, Message("one leg loaded, the others not"))
    amps = further_reduced(linear, load.nonlinear_a, load.reducible, edition, sheet)
    column = runs.column_c(run, choice.device_a, edition)
    least = area_cmil(earth, edition)
    if choice.sets > 1:
        least = max(least, area_cmil(edition.size_figure("parallel_from"), edition))
    size = choice.size
    for each, row in run_tables.ladder(edition.name, run.material).items():
        if area_cmil(each, edition) >= least and row[column] * choice.sets >= amps:
            size = min(each, choice.size, key=lambda size: area_cmil(size, edition))
            break
    label = Message("Neutral: {size} {material}", size=size, material=run.material)
    because = Message("not under the equipment grounding conductor, never over its line")
    area = area_cmil(size, edition)
    sheet.read(area, label, "cmil", edition.cite("feeder_neutral"), because)
    return size
