"""Conductors behind a transformer: sized by the rule that they are then judged by, on a path and on the sheet."""

from __future__ import annotations

from collections.abc import Callable

from voltaje.books.answers import Choice, Run
from voltaje.books.machines import SecondaryRule
from voltaje.books.questions import Book
from voltaje.design.chain import Pins, RunDesign, size_run, sized
from voltaje.design.ladder import Option
from voltaje.findings import Finding, Severity
from voltaje.message import Message
from voltaje.sheet import Sheet, off
from voltaje.systems import System

_TWO = 2

Judge = Callable[[float, Choice], tuple[SecondaryRule, ...]]
"""The rules of secondary conductors or of taps, tried on an ampacity [A] of a chosen conductor and its device."""


def held(tried: tuple[SecondaryRule, ...]) -> bool:
    """Return whether one of the rules holds; where a book has none there is nothing to hold."""
    return not tried or any(each.holds for each in tried)


def sized_by_rule(run: Run, pins: Pins, judge: Judge, book: Book, sheet: Sheet) -> RunDesign:
    """Return a secondary's run, its conductors as large as its load and as a rule of secondary conductors ask.

    A size that a person fixed stays, and what no size would help stays as its load has it: both are findings.
    Raises: as `size_run` does.
    """
    plain = sized(run, pins, book)
    tried = judge(plain.capacity.ampacity_a, plain.choice)
    if pins.size is not None or run.length_m is None or held(tried):
        return size_run(run, pins, book, sheet) if sheet.on else plain
    larger = _larger(plain.choice, run, judge, book)
    if larger is None:
        return size_run(run, pins, book, sheet) if sheet.on else plain
    found = size_run(run, Pins(pins.device_a, larger.size, larger.sets, by_rule=True), book, sheet)
    with sheet.section("conductor"):
        rule = next(each for each in judge(found.capacity.ampacity_a, larger) if each.holds).rule
        why = next(each.why for each in tried if each.rule == rule)
        label = Message("Not {size} {material}", size=plain.choice.size, material=run.material)
        sheet.read(plain.capacity.ampacity_a, label, "A", rule, why)
        sheet.decides()
    return found


def _larger(choice: Choice, run: Run, judge: Judge, book: Book) -> Choice | None:
    """Return the smallest conductor over a choice that a rule lets be so long, None where none does."""
    known = book.sizes(run)
    for size in known[known.index(choice.size) + 1 :]:
        larger = choice._replace(size=size)
        if held(judge(book.capacity(run, larger, off()).ampacity_a, larger)):
            return larger
    return None


def serves(option: Option, run: Run, judge: Judge, book: Book) -> bool:
    """Return whether another answer for a run is held by one of the rules too."""
    there = run._replace(material=option.material)
    return held(judge(book.capacity(there, option.choice, off()).ampacity_a, option.choice))


def by_primary(connection: str, secondary: System) -> bool:
    """Return whether the primary device may protect a secondary: of two wires, or a delta of three behind a delta."""
    if len(secondary.legs) == 1 or (len(secondary.legs) == _TWO and not secondary.line_to_neutral_v):
        return True
    return secondary.line_to_neutral_v is None and connection.upper() in ("", "DD", "DD0")


def too_long(tried: tuple[SecondaryRule, ...], book: Book, where: str) -> Finding:
    """Return the finding of secondary conductors that no rule lets be so long."""
    why = [each.why for each in tried if each.rule.topic == "secondary_25"] or [tried[-1].why]
    message = Message("No rule lets the secondary conductors be so long: {why}.", why=why)
    mend = Message("Place its main within 25 ft, or outdoors by the rule of outdoor conductors.")
    rule = book.rule("secondary_conductors")
    if book.terms.length_unit != "ft":
        mend = Message("Place its main nearer, or a device at the transformer.")
    return Finding(Severity.STOP, "transformer.secondary_length", message, rule, where, mend)
