"""The earthing tool: what a service connects to earth, from the size of its lines."""

from __future__ import annotations

from typing import Annotated, Any

from voltaje.books.machines import Earthing, EarthingAsked
from voltaje.books.questions import Earthings
from voltaje.design.circuits.common import sets_of
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.message import Message
from voltaje.path.fields import SIZE, Shape, number, one_number, one_word, whole
from voltaje.quantity import read_amps
from voltaje.sheet import Sheet
from voltaje.tools.asking import Ask
from voltaje.tools.conductors import MATERIALS, OfABook
from voltaje.tools.tool import Answered, Group, Head, Tool

_LINES, _NEUTRAL, _EARTH = Message("Ungrounded conductors"), Message("Neutral"), Message("Electrodes")
_ELECTRODES = {"water pipe": "water_pipe", "steel": "steel", "rod": "rod", "concrete-encased": "concrete_encased",
               "ring": "ring"}  # fmt: skip
_MOST_SETS = 12


def _electrodes(raw: Any, _unit: str) -> tuple[str, ...]:
    items = [part.strip() for part in raw.split(";")] if isinstance(raw, str) else raw
    if not isinstance(items, list) or any(item not in _ELECTRODES for item in items):
        raise InputError("", Message("must be a list of: {known}", known=list(_ELECTRODES)))
    return tuple(dict.fromkeys(items))


_LIST = Shape(_electrodes, {"type": "array", "items": {"enum": list(_ELECTRODES)}})


class EarthingSheet(OfABook):
    """What a service's earthing is asked by."""

    size: Annotated[str, Ask(SIZE, "of each ungrounded conductor", Message("Size"), _LINES)]
    material: Annotated[
        str, Ask(one_word("Cu", "Al"), "of the lines and the neutral", Message("Metal"), _LINES, shown="Cu",
                 titles=MATERIALS)
    ] = "Cu"  # fmt: skip
    sets: Annotated[int, Ask(whole(1, _MOST_SETS), "conductors in parallel", Message("Sets"), _LINES, shown=1)] = 1
    raceways: Annotated[
        int | None, Ask(whole(1, _MOST_SETS), "that they lie in; one for each set where not given",
                        Message("Raceways"), _LINES)
    ] = None  # fmt: skip
    neutral_a: Annotated[
        float | None,
        Ask(number(-1e-9, 6000, "A", read_amps), "greatest unbalanced load", Message("Neutral load"), _NEUTRAL, "A"),
    ] = None  # fmt: skip
    terminal_c: Annotated[
        int, Ask(one_number(60, 75), "column for the neutral by its load", Message("Terminals"), _NEUTRAL, "°C", 75)
    ] = 75
    electrodes: Annotated[
        tuple[str, ...],
        Ask(_LIST, "that are there: water pipe; steel; rod; concrete-encased; ring", Message("Electrodes"), _EARTH,
            shown=[]),
    ] = tuple(_ELECTRODES)  # fmt: skip
    ring_size: Annotated[str, Ask(SIZE, "of a ground ring", Message("Ring size"), _EARTH, more=True)] = ""


def solve(asked: EarthingSheet) -> Answered:
    """Return what a service connects to earth. Raises InputError at its field."""
    book, sheet = asked.book, Sheet()
    raceways = asked.raceways or asked.sets
    found = book.asked(Earthings).earthing(
        EarthingAsked(asked.size, asked.material, asked.sets, raceways, asked.neutral_a, asked.terminal_c,
                      asked.ring_size), sheet,
    )  # fmt: skip
    electrodes = {name: found.electrodes[_ELECTRODES[name]] for name in asked.electrodes}
    result = {
        "grounded_conductor": {"size": found.grounded, "sets": found.grounded_sets, "material": asked.material},
        "grounded_by_load": found.by_load,
        "main_bonding_jumper": found.jumper,
        "electrode_conductors": electrodes,
        "water_pipe_bond": found.water_pipe,
        "steel_bond": found.steel,
    }
    return Answered(book, result, sheet.steps, _said(asked, found), _heads(asked, found, electrodes),
                    {"asked": asked, "found": found, "electrodes": electrodes}.copy)  # fmt: skip


def _said(asked: EarthingSheet, found: Earthing) -> list[Finding]:
    book = asked.book
    said = [
        Finding(Severity.NOTE, "earth.grounded_brought", Message(
            "The grounded conductor comes to every service disconnect, even where nothing uses it: a fault returns by "
            "it."), book.rule("grounded_service"), "size"),
        Finding(Severity.NOTE, "earth.full_jumper", Message(
            "The jumper is {size} Cu in full: a smaller strap between bar and enclosure is the usual mistake.",
            size=found.jumper), book.rule("main_jumper"), "size"),
    ]  # fmt: skip
    if {"rod", "concrete-encased", "ring"} & set(asked.electrodes):
        message = Message("Rod 6, footing 4 and ring are ceilings where the conductor goes to that electrode alone.")
        said.append(Finding(Severity.NOTE, "earth.ceilings", message, book.rule("electrode_rod"), "electrodes"))
    return said


def _heads(asked: EarthingSheet, found: Earthing, electrodes: dict[str, str]) -> tuple[Head, ...]:
    terms = asked.book.terms
    why = Message("by its load") if found.by_load else Message("by the table")
    largest = next(iter(electrodes.items()), ("", ""))
    heads = [
        Head(Message("Grounded conductor"), sets_of(found.grounded, found.grounded_sets),
             f"{terms.gauge(found.grounded)} {asked.material}", why),
        Head(Message("Main bonding jumper"), found.jumper, f"{terms.gauge(found.jumper)} Cu"),
    ]  # fmt: skip
    if largest[1]:
        heads.append(Head(Message("To the {electrode}", electrode=largest[0]), largest[1],
                          f"{terms.gauge(largest[1])} Cu"))  # fmt: skip
    heads.append(Head(Message("Bond of pipe and steel"), found.water_pipe, f"{terms.gauge(found.water_pipe)} Cu",
                      main=False))  # fmt: skip
    return tuple(heads)


TOOL = Tool(
    name="earthing",
    title=Message("Grounding of a service"),
    question=Message("What size are the grounded conductor, the jumper, the electrode conductor?"),
    group=Group.SUPPLY,
    place=3,
    words=("earth", "ground", "gec", "bonding", "jumper", "neutral", "rod", "ufer", "250.66", "250.102", "250.104",
           "250.28"),
    asks=EarthingSheet,
    solve=solve,
    example={"nec": {"size": "250", "sets": 2, "neutral_a": "120 A"}},
    caution=Message("A lost neutral or bond puts full voltage on metal: de-energize before a bond is opened."),
    families=("nec",),
)  # fmt: skip
