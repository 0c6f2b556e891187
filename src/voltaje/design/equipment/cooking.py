"""A kitchen on its circuit: the branch, its taps, and a circuit each beside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from voltaje.books.answers import Guard, Run
from voltaje.books.machines import CookingCircuit, CookingUnit, Tap
from voltaje.books.questions import Book, CookingCircuits
from voltaje.design.chain import Pins, RunDesign, size_run
from voltaje.design.equipment.kitchen import branch
from voltaje.design.ladder import METAL_KG_PER_M_MM2, kg_per_m
from voltaje.errors import NoLawfulAnswer
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.rounding import HalfReading
from voltaje.sheet import Sheet, off

_TAP = "tap"
_TAP_COLUMN_C = 60  # unless it is marked
_WIRES = 3  # of a tap beside its protective conductor: two lines and the neutral


@dataclass(frozen=True)
class TapRun:
    """A tap: what it feeds, its current [A], its size, its length [m], its metal [kg]."""

    unit: CookingUnit
    amps: float
    size: str
    length_m: float | None
    metal_kg: float | None


@dataclass(frozen=True)
class Plan:
    """One way to wire a kitchen: its circuits, the device of each [A], the metal of all [kg]."""

    designs: tuple[RunDesign, ...]
    metal_kg: float | None


@dataclass(frozen=True)
class CookingRun:
    """A kitchen sized: one circuit with its taps, and a circuit each."""

    circuit: CookingCircuit
    design: RunDesign
    taps: tuple[TapRun, ...]
    metal_kg: float | None
    untapped: RunDesign | None
    each: Plan | None


class _On(NamedTuple):
    """What a tap branches from: what lies there, the book, the sheet, the protective conductor's size."""

    base: Run
    book: Book
    sheet: Sheet
    earth: str


def cooking_run(
    units: Sequence[CookingUnit],
    lengths: Sequence[float | None],
    half: HalfReading,
    base: Run,
    book: Book,
    sheet: Sheet,
    sets: int | None = None,
) -> CookingRun:
    """Return a kitchen sized. Raises as the book's rule does, and where nothing is lawful.

    lengths: of the tap to each unit [m]; base: what the branch lies in, at its volts; sets: pinned
    """
    rules = book.asked(CookingCircuits)
    circuit = rules.circuit(units, base.volts, half, sheet)
    design = _branch(circuit, circuit.device_a, base, book, sheet, sets)
    taps = taps_of(units, lengths, circuit, base, design.earth.size, book, sheet)
    untapped = None
    if circuit.untapped_a != circuit.device_a:
        untapped = _branch(circuit, circuit.untapped_a, base, book, off(), sets)
    branch_kg = _metal(design, book)
    known = [branch_kg, *(tap.metal_kg for tap in taps)]
    whole = None if any(kg is None for kg in known) else sum(kg for kg in known if kg is not None)
    each = _each(units, lengths, half, base, book) if len(units) > 1 else None
    return CookingRun(circuit, design, taps, whole, untapped, each)


def taps_of(
    units: Sequence[CookingUnit],
    lengths: Sequence[float | None],
    circuit: CookingCircuit,
    base: Run,
    earth: str,
    book: Book,
    sheet: Sheet,
) -> tuple[TapRun, ...]:
    """Return the tap to each unit of a circuit, none where there is but one; earth: the branch's protective conductor.

    Raises: NoLawfulAnswer where no size carries one.
    """
    on = _On(base, book, sheet, earth)
    return tuple(
        _tap(unit, tap, length, circuit, on) for unit, tap, length in zip(units, circuit.taps, lengths, strict=False)
    )


_NOTHING_A = 0.5


def nothing_to_spare(circuit: CookingCircuit, book: Book, where: str) -> list[Finding]:
    """Return what there is to say of a device that its circuit's demand all but fills."""
    if circuit.device_a - circuit.amps >= _NOTHING_A:
        return []
    message = Message(
        "{amps} on {device}: nothing to spare. Lawful, cooking is not continuous; the next rating leaves room.",
        amps=Figure(circuit.amps, "A", 1),
        device=Figure(circuit.device_a, "A"),
    )
    return [Finding(Severity.WARN, "cooking.nothing_to_spare", message, book.rule("range_circuit"), where)]


def _branch(
    circuit: CookingCircuit, device_a: float, base: Run, book: Book, sheet: Sheet, sets: int | None = None
) -> RunDesign:
    return size_run(branch(base, circuit, device_a), Pins(sets=sets), book, sheet)


def _tap(unit: CookingUnit, tap: Tap, length_m: float | None, circuit: CookingCircuit, on: _On) -> TapRun:
    """Return the tap to a unit: the smallest size that carries it, by the column of what is not marked."""
    base, book, device = on.base, on.book, circuit.device_a
    rule = book.rule("cooking_taps") or book.device_rule
    run = base._replace(
        amps=tap.least_a,
        guard=Guard(device, device, device, rule),
        terminal_c=base.terminal_c or _TAP_COLUMN_C,
        surroundings=base.surroundings.with_exempt(_TAP),
    )
    holds, least_mm2 = book.complying(run, device, 1), book.area_mm2(circuit.tap_least)
    size = next((each for each in book.sizes(run) if holds(each) and book.area_mm2(each) >= least_mm2), None)
    if size is None:
        message = Message("no size carries the {amps} of a tap", amps=Figure(tap.least_a, "A", 1))
        raise NoLawfulAnswer("appliances", message, str(rule))
    with on.sheet.section("taps"):
        label = Message("Tap to {name}: {size} {material}", name=unit.name, size=size, material=base.material)
        because = Message(
            "the smallest that carries {least}, not under {smallest}",
            least=Figure(tap.least_a, "A", 1),
            smallest=circuit.tap_least,
        )
        on.sheet.read(tap.least_a, label, "A", rule, because)
    metal = None
    if length_m is not None and on.earth:
        earth_mm2 = min(book.area_mm2(on.earth), book.area_mm2(size))
        metal = length_m * (_WIRES * book.area_mm2(size) + earth_mm2) * METAL_KG_PER_M_MM2[base.material]
    return TapRun(unit, tap.amps, size, length_m, metal)


def _metal(design: RunDesign, book: Book) -> float | None:
    run = design.run
    if run.length_m is None:
        return None
    return run.length_m * kg_per_m(run, design.choice, design.neutral, design.earth, book)


def _each(
    units: Sequence[CookingUnit], lengths: Sequence[float | None], half: HalfReading, base: Run, book: Book
) -> Plan:
    """Return a circuit for each unit, as long as the branch and its tap together."""
    designs = []
    for unit, length in zip(units, lengths, strict=True):
        alone = book.asked(CookingCircuits).circuit([unit], base.volts, half, off())
        both = None if base.length_m is None or length is None else base.length_m + length
        designs.append(_branch(alone, alone.device_a, base._replace(length_m=both), book, off()))
    metals = [_metal(design, book) for design in designs]
    whole = None if any(kg is None for kg in metals) else sum(kg for kg in metals if kg is not None)
    return Plan(tuple(designs), whole)
