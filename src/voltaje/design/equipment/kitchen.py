"""A kitchen on the path: a load with parts, or a household range by itself, by the rule of cooking circuits."""

from __future__ import annotations

from voltaje.books.answers import NeutralLoad, Run
from voltaje.books.machines import CookingCircuit, CookingUnit
from voltaje.books.questions import Book, CookingCircuits
from voltaje.errors import NotCovered
from voltaje.message import Figure, Message
from voltaje.path.load import LoadSpec
from voltaje.rounding import HalfReading
from voltaje.sheet import Sheet, off

_SAME_VA = 1.0


def units_of(load: LoadSpec) -> list[CookingUnit]:
    """Return the cooking units of a load: its parts, or itself as what it is.

    Raises: NotCovered where its rating is not that of its parts together.
    """
    if not load.parts:
        return [CookingUnit(load.cooking, load.rating.value, load.cooking)]
    together = sum(part.rating.value for part in load.parts)
    if abs(together - load.rating.value) > _SAME_VA:
        said, rating = Figure(together / 1000, "kW", 2), Figure(load.rating.value / 1000, "kW", 2)
        message = Message("its appliances are {parts} together, its rating says {rating}", parts=said, rating=rating)
        raise NotCovered("load.rating", message)
    names = [part.name or f"{part.kind} {at}" for at, part in enumerate(load.parts, 1)]
    return [CookingUnit(part.kind, part.rating.value, name) for part, name in zip(load.parts, names, strict=True)]


def circuit_of(load: LoadSpec, volts: float, book: Book, sheet: Sheet) -> CookingCircuit:
    """Return what the book says of it. Raises NotCovered for what stands on no one circuit, OutsideTable."""
    return book.asked(CookingCircuits).circuit(units_of(load), volts, HalfReading.COUNTS, sheet)


def kitchen_va(load: LoadSpec, volts: float, book: Book, sheet: Sheet) -> float:
    """Return what the circuit of a kitchen counts of its load [VA]."""
    told = Sheet() if sheet.on else off()
    circuit = circuit_of(load, volts, book, told)
    sheet.take(told.of("demand"), "demand")
    return circuit.ways[0].kw * 1000


def branch(run: Run, circuit: CookingCircuit, device_a: float) -> Run:
    """Return the branch of a cooking circuit: its conductors no less than its rating, whatever its load."""
    neutral = NeutralLoad(circuit.amps, reducible=False)
    if circuit.neutral_a is not None:
        neutral = NeutralLoad(circuit.neutral_a, reducible=False, least_size=circuit.neutral_least)
    return run._replace(amps=circuit.amps, least_device_a=device_a, round_up=False, neutral=neutral)
