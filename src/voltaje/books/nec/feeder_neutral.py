"""The neutral of a run: its greatest unbalanced load, its least size, and the conductor for both."""

from __future__ import annotations

from voltaje.books.answers import Choice, NeutralLoad, Run, too_small_neutral
from voltaje.books.nec import lying, run_tables, runs
from voltaje.books.nec.conductors import Conductor, area_cmil
from voltaje.books.nec.dwelling.neutral import further_reduced
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.grounding import least_grounded
from voltaje.message import Figure, Message
from voltaje.rounding import DUST
from voltaje.sheet import Sheet

_WITH_SERVICE_FLOOR = ("service", "derived")


def neutral_size(run: Run, choice: Choice, earth: str, edition: Edition, sheet: Sheet) -> str:
    """Return the size of the neutral in each set.

    Enough, at its terminals and as installed, for the greatest unbalanced load, what exceeds 200 A at 70 % where
    that is allowed; not under the equipment grounding conductor, of a service or a derived system not under
    Table 250.102(C)(1), not under 1/0 in parallel; over its line only where it carries more than that.
    Source: NEC 220.61, 215.2(A), 250.24, 250.30(A)(3), 310.10, 310.15(E).
    Raises: NoLawfulAnswer where no size carries what comes together.
    """
    load = run.neutral
    if load is None:
        return choice.size
    amps = _load_a(run, load, edition, sheet)
    least = _least_cmil(run, choice, earth, edition, sheet)
    column = lying.column_c(run, choice.device_a, edition)
    line = area_cmil(choice.size, edition)
    ladder = run_tables.ladder(edition.name, run.material)
    made = run_tables.made_sizes(edition.name, run.insulation, run.material)
    enough = (
        each
        for each in made
        if area_cmil(each, edition) >= min(least, line)
        and min(ladder[each][column] * choice.sets, lying.adjusted_a(run, each, choice.sets, edition)) >= amps - DUST
    )
    size = next(enough, None)
    if amps <= runs.installed_a(run) + DUST and (size is None or area_cmil(size, edition) > line):
        size = choice.size  # as its lines, which carry no less
    if size is None:
        raise too_small_neutral(amps, made[-1], run.material, edition.cite("feeder_neutral"))
    label = Message("Neutral: {size} {material}", size=size, material=run.material)
    because = Message("the smallest that carries it, not under its least size")
    if area_cmil(size, edition) > line:
        because = Message("larger than its lines: it carries more than they do")
    sheet.read(area_cmil(size, edition), label, "cmil", edition.cite("feeder_neutral"), because)
    return size


def _load_a(run: Run, load: NeutralLoad, edition: Edition, sheet: Sheet) -> float:
    rule = edition.cite("feeder_neutral_load")
    sheet.read(load.amps, Message("Greatest unbalanced load"), "A", rule, Message("one leg loaded, the others not"))
    amps = further_reduced(load.amps - load.nonlinear_a, load.nonlinear_a, load.reducible, edition, sheet)
    if load.together_a <= max(amps, runs.installed_a(run)):
        return amps
    because = Message("with all loads running, more than a line carries: their lags differ")
    return sheet.read(load.together_a, Message("On the neutral together"), "A", rule, because)


def _least_cmil(run: Run, choice: Choice, earth: str, edition: Edition, sheet: Sheet) -> float:
    least = area_cmil(earth, edition)
    if run.role in _WITH_SERVICE_FLOOR:
        line = Conductor(choice.size, run.material, choice.sets, 0.0, edition.cite("grounded_service"))
        floor = least_grounded(line, edition, sheet)
        least = area_cmil(floor, edition) / choice.sets
    if run.neutral and run.neutral.least_size:
        least = max(least, area_cmil(run.neutral.least_size, edition))
    if choice.sets > 1:
        least = max(least, area_cmil(edition.size_figure("parallel_from"), edition))
    if run.feeder and sheet.on:
        label = Message("Least size of the neutral")
        sheet.read(
            least, label, "cmil", edition.cite("feeder_neutral"), Message("in each of {n} sets", n=Figure(choice.sets))
        )
    return least
