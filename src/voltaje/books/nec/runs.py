"""Conductors of a run by three tests: terminals, installation, device."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable
from dataclasses import replace
from functools import cache
from typing import Any, NamedTuple

from voltaje.books.answers import Capacity, Choice, Objection, Run
from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.lying import (
    COOLEST,
    NOT_BUNDLED,
    adjustment_percent,
    ambient_factor,
    column_c,
    factor_of,
    in_thermal_insulation,
    write_roof,
)
from voltaje.books.nec.run_tables import (
    FREE_AIR,
    ampacity_table,
    insulations,
    ladder,
    limits,
    ratings,
    small_conductors,
)
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.rounding import DUST, nearest_ampere
from voltaje.sheet import Citation, Sheet

NEED = Formula("other + continuous * factor")
FACTOR = Formula("ambient * adjustment / 100")
ADJUSTED = Formula("sets * ampacity * factor")
TERMINAL = Formula("sets * ampacity")
LOWER = Formula("min(adjusted, terminal)")

_LOAD, _LOAD_CONTINUOUS = Message("Load"), Message("Load, continuous part at 125 %")


def need_a(run: Run, edition: Edition) -> float:
    """Return what `device_need` shows [A], for the many sizes that are only tried. Source: NEC 210.20(A), 215.3."""
    if run.needed_a or not run.continuous_a or run.surroundings.full_rated:
        return _counted(run, run.needed_a or run.amps)
    factor = limits(edition.name)["continuous_factor"]
    return _counted(run, NEED.value(other=run.amps - run.continuous_a, continuous=run.continuous_a, factor=factor))


def _counted(run: Run, amps: float) -> float:
    """Return a calculated current as it counts [A]: a fraction under one half is dropped where a person chose so."""
    return min(amps, float(nearest_ampere(amps))) if run.surroundings.whole_amperes else amps


def least_device(run: Run, need: float) -> float:
    """Return what a device may not be under [A]: what must be carried through it, the rating that its kind has."""
    return run.amps if run.guard else max(need, run.least_device_a)


def installed_a(run: Run) -> float:
    """Return what conductors must carry as they are installed [A]: any line's current, a compressor's at 125 %."""
    return _counted(run, max(run.amps, run.installed_a))


def _working(run: Run, choice: Choice, edition: Edition) -> str:
    """Return how the ampacity as installed is reckoned, in numbers."""
    factor, corrected_c = factor_of(run, edition)
    ampacity = ladder(edition.name, run.material, run.method)[choice.size][corrected_c]
    return _times(choice.sets, ampacity, factor)


def _times(sets: int, ampacity: float, factor: float) -> str:
    """Return the product as a person writes it: `2 × 290 × 0.8`."""
    parts = [ampacity, factor] if sets == 1 else [sets, ampacity, factor]
    return " × ".join(f"{part:g}" for part in parts)


# Runs whose conductors have no next rating up, by their role: the clause that says so.
_NO_ROUND_UP = {"derived": "secondary_conductors", "tap": "tap_conductors"}


def device_need(run: Run, edition: Edition, sheet: Sheet) -> float:
    """Return noncontinuous load and 125 % of continuous load [A]. Source: 210.20(A), 215.3, 220.5(B)."""
    need = _device_need(run, edition, sheet)
    counted = _counted(run, need)
    if counted < need:
        because = Message("a fraction under half an ampere may be dropped, and is here")
        sheet.read(counted, Message("In whole amperes"), "A", edition.cite("rounding"), because)
    return counted


def _device_need(run: Run, edition: Edition, sheet: Sheet) -> float:
    rule = edition.cite("feeder_continuous" if run.feeder else "branch_continuous")
    if run.continuous_a and run.surroundings.full_rated and not run.needed_a:
        full = edition.cite("feeder_full" if run.feeder else "branch_full")
        return sheet.read(run.amps, _LOAD, "A", full, Message("listed for 100 %: what is continuous counts as it is"))
    if run.needed_a or not run.continuous_a:
        return sheet.read(run.needed_a or run.amps, _LOAD, "A", rule)
    return sheet.apply(
        NEED,
        _LOAD_CONTINUOUS,
        "A",
        rule,
        None,
        other=run.amps - run.continuous_a,
        continuous=run.continuous_a,
        factor=limits(edition.name)["continuous_factor"],
    )


class _Amps(NamedTuple):
    """The two ampacities of a choice [A], all sets: at the terminals, and as installed."""

    factor: float
    terminal: float
    adjusted: float
    column: int

    @property
    def final(self) -> float:
        return min(self.terminal, self.adjusted)


def _amps(run: Run, choice: Choice, edition: Edition) -> _Amps:
    row = lain = ladder(edition.name, run.material)[choice.size]
    if run.method == FREE_AIR:
        lain = ladder(edition.name, run.material, FREE_AIR)[choice.size]
    factor, corrected_c = factor_of(run, edition)
    column = column_c(run, choice.device_a, edition)
    if run.surroundings.insulated_mm and in_thermal_insulation(run, choice.size, edition):
        column = min(column, COOLEST)
    return _Amps(factor, choice.sets * row[column], choice.sets * lain[corrected_c] * factor, column)


def device_max(run: Run, choice: Choice, ampacity_a: float, edition: Edition) -> float:
    """Return the greatest device the conductors may have [A].

    Up to 800 A the next standard rating, unless `round_up` is off; above, not over the ampacity;
    small conductors have limits of their own.
    Source: 240.4(B), (C), (D).
    """
    if run.guard:
        return run.guard.most_a
    known = ratings(edition.name)
    place = bisect_right(known, ampacity_a + DUST)
    below = known[place - 1] if place else 0.0
    allowed = below
    if run.round_up and below < ampacity_a - DUST and place < len(known):
        allowed = known[place] if known[place] <= limits(edition.name)["round_up_to_a"] else below
    small = small_limit(run, choice, edition)
    return min(allowed, small) if small else allowed


def small_limit(run: Run, choice: Choice, edition: Edition) -> float | None:
    """Return the greatest device of a small conductor [A], None where there is no such limit.

    Source: 240.4(D); not for taps, 240.4(E), nor motors, cooling equipment and welders, 240.4(G).
    """
    if run.surroundings.exempt or choice.sets > 1:
        return None
    return small_conductors(edition.name).get((choice.size, run.material))


def complying(run: Run, device_a: float, sets: int, edition: Edition) -> Callable[[str], bool]:
    """Return the test whether a size passes everything that `objections` would object to.

    Source: NEC 110.14(C), 310.15, 240.4.
    """
    need = need_a(run, edition)
    if device_a < least_device(run, need) - DUST or (run.guard and device_a > run.guard.most_a + DUST):
        return _nothing_serves
    # What does not depend on the size is worked out once: this is asked for many sizes of every run.
    book, rows = edition.name, ladder(edition.name, run.material)
    lain = rows if run.method != FREE_AIR else ladder(book, run.material, FREE_AIR)
    factor, corrected_c = factor_of(run, edition)
    column, cool = column_c(run, device_a, edition), bool(run.surroundings.insulated_mm)
    under, rounded = _may_round_up_over(run, device_a, edition)
    small = {} if run.surroundings.exempt or sets > 1 else _small_of(book, run.material)
    parallel = sets > 1
    need, load = need - DUST, installed_a(run) - DUST
    device = 0.0 if run.guard else device_a - DUST  # a guard against short circuit alone asks nothing of the wire

    def holds(size: str) -> bool:
        row = rows[size]
        mine = min(column, COOLEST) if cool and in_thermal_insulation(run, size, edition) else column
        terminal, adjusted = sets * row[mine], sets * lain[size][corrected_c] * factor
        final = terminal if terminal < adjusted else adjusted
        return (
            terminal >= need
            and adjusted >= load
            and (final >= device or (rounded and final > under))
            and device <= small.get(size, device)
            and not (parallel and area_cmil(size, edition) < _parallel_from_cmil(edition))
        )

    return holds


def _may_round_up_over(run: Run, device_a: float, edition: Edition) -> tuple[float, bool]:
    """Return the standard rating under a device [A], and whether an ampacity over it may have that device."""
    known = ratings(edition.name)
    place = bisect_left(known, device_a - DUST)
    under = known[place - 1] if place else 0.0
    return under + DUST, run.round_up and device_a <= limits(edition.name)["round_up_to_a"]


@cache
def _small_of(book: str, material: str) -> dict[str, float]:
    return {size: most for (size, made_of), most in small_conductors(book).items() if made_of == material}


def _nothing_serves(_size: str) -> bool:
    return False


def _parallel_from_cmil(edition: Edition) -> float:
    return area_cmil(edition.size_figure("parallel_from"), edition)


def objections(run: Run, choice: Choice, edition: Edition) -> tuple[Objection, ...]:
    """Return why a choice fails the three tests, the device's own need, or the rule on parallel sets.

    Source: NEC 110.14(C), 310.15, 240.4.
    """
    found = []
    amps, need = _amps(run, choice, edition), need_a(run, edition)
    if choice.device_a < least_device(run, need) - DUST:
        least = Figure(least_device(run, need), "A", 1)
        message = Message("{device} is under the load's {need}", device=Figure(choice.device_a, "A"), need=least)
        found.append(Objection("device_a", message, edition.cite("branch_continuous")))
    if amps.terminal < need - DUST:
        message = Message(
            "{size} {material} has {amps} in the {column} column of its terminals, under {need}",
            size=choice.size,
            material=run.material,
            amps=Figure(amps.terminal, "A"),
            column=Figure(amps.column, "°C"),
            need=Figure(need, "A", 1),
        )
        found.append(Objection("size", message, edition.cite("terminals")))
    load = installed_a(run)
    if amps.adjusted < load - DUST:
        message = Message(
            "{size} {material} carries {amps} as it is installed, {working}, under the load of {load}",
            size=choice.size,
            material=run.material,
            amps=Figure(amps.adjusted, "A", 1),
            load=Figure(load, "A", 1),
            working=_working(run, choice, edition),
        )
        found.append(Objection("size", message, edition.cite("adjustment")))
    most = device_max(run, choice, amps.final, edition)
    if run.guard and choice.device_a > most:
        message = Message(
            "{device} is over {most}, the most this equipment may have",
            device=Figure(choice.device_a, "A"),
            most=Figure(most, "A", 1),
        )
        found.append(Objection("device_a", message, run.guard.rule, "ceiling"))
    elif choice.device_a > most:
        message = Message(
            "{size} {material} carries {amps} and may have {most} at most, not {device}",
            size=choice.size,
            material=run.material,
            amps=Figure(amps.final, "A", 1),
            most=Figure(most, "A"),
            device=Figure(choice.device_a, "A"),
        )
        small = small_limit(run, choice, edition) == most
        topic = "small_conductors" if small else "round_up"
        if not small:
            topic = _NO_ROUND_UP.get(run.role, topic)
        found.append(Objection("size", message, edition.cite(topic)))
    largest = insulations(edition.name)[run.insulation].largest[run.material]
    if found and choice.size == largest:
        message = Message(
            "{insulation} is made up to {size} {material}: {why}",
            insulation=run.insulation,
            size=largest,
            material=run.material,
            why=found[0].message,
        )
        found[0] = replace(found[0], message=message)
    smallest = edition.size_figure("parallel_from")
    if choice.sets > 1 and area_cmil(choice.size, edition) < _parallel_from_cmil(edition):
        message = Message("parallel conductors begin at {least}", least=smallest)
        found.append(Objection("sets", message, edition.cite("parallel")))
    return tuple(found)


def capacity(run: Run, choice: Choice, edition: Edition, sheet: Sheet) -> Capacity:
    """Return factor, ampacity and greatest device of a choice, the tests written on the sheet.

    Source: NEC 110.14(C), 310.15, 240.4.
    """
    amps = _amps(run, choice, edition)
    below = _at_or_below(edition.name, amps.final)
    if not sheet.on:
        return Capacity(amps.factor, amps.final, device_max(run, choice, amps.final, edition), below)
    named = {"size": choice.size, "material": run.material}
    insulation = insulations(edition.name)[run.insulation]
    row = ladder(edition.name, run.material)[choice.size]
    lain = ladder(edition.name, run.material, FREE_AIR if run.method == FREE_AIR else "")[choice.size]
    write_roof(run, edition, sheet)
    factor = sheet.apply(
        FACTOR,
        Message("Ambient and adjustment"),
        "",
        edition.cite("adjustment"),
        Message("{bundled} current-carrying conductors", bundled=run.bundled or NOT_BUNDLED),
        ambient=ambient_factor(run, insulation, edition),
        adjustment=adjustment_percent(run, edition),
    )
    adjusted = sheet.apply(
        ADJUSTED,
        Message("{size} {material} as installed", **named),
        "A",
        edition.table(ampacity_table(run.method)).cite(
            edition.name, row=choice.size, column=f"{run.material.lower()}{insulation.corrected_c}"
        ),
        Message("from the {column} column of its insulation", column=Figure(insulation.corrected_c, "°C")),
        sets=choice.sets,
        ampacity=lain[insulation.corrected_c],
        factor=factor,
    )
    terminal = sheet.apply(
        TERMINAL,
        Message("{size} {material} at its terminals", **named),
        "A",
        edition.cite("terminals"),
        _why_column(run, choice, amps.column, edition),
        sets=choice.sets,
        ampacity=row[amps.column],
    )
    final = sheet.apply(
        LOWER, Message("Ampacity"), "A", edition.cite("terminals"), None, adjusted=adjusted, terminal=terminal
    )
    most = device_max(run, choice, final, edition)
    sheet.read(
        most,
        Message("Greatest device"),
        "A",
        _device_rule(run, edition),
        _why_device(run, choice, final, most, edition),
    )
    label = Message("At or below the conductor")
    sheet.read(below, label, "A", edition.cite("round_up"), Message("the other way to choose a device"))
    return Capacity(factor, final, most, below)


def _device_rule(run: Run, edition: Edition) -> Citation:
    if run.guard:
        return run.guard.rule
    return edition.cite(_NO_ROUND_UP.get(run.role, "round_up"))


def _at_or_below(book: str, ampacity_a: float) -> float:
    known = ratings(book)
    place = bisect_right(known, ampacity_a + DUST)
    return known[place - 1] if place else 0.0


def _why_column(run: Run, choice: Choice, column: int, edition: Edition) -> Message:
    most = limits(edition.name)["terminals_60_to_a"]
    values: dict[str, Any] = {"column": Figure(column, "°C"), "most": Figure(most, "A")}
    if run.terminal_c is not None:
        return Message("from the {column} column: terminals as marked, the insulation allowing", **values)
    if choice.device_a <= most:
        return Message("from the {column} column: terminals not marked, {most} or less", **values)
    return Message("from the {column} column: over {most}", **values)


def _why_device(run: Run, choice: Choice, final: float, most: float, edition: Edition) -> Message:
    if run.guard:
        return Message("by the rule of what it feeds: it guards against short circuit, not overload")
    if small_limit(run, choice, edition) == most:
        return Message("the limit of a small conductor")
    if most > final:
        return Message("the next standard rating above the ampacity")
    if not run.round_up and run.role == "derived":
        return Message("conductors of a transformer's secondary have no next rating up (240.21(C))")
    if not run.round_up and run.role == "tap":
        return Message("taps have no next rating up (240.21(B))")
    return Message("the standard rating at or below the ampacity")
