"""The earthing tool: what a service connects to earth, from the size of its lines."""

from __future__ import annotations

from voltaje.books.answers import sets_of
from voltaje.books.machines import Earthing, EarthingAsked, EarthPart
from voltaje.books.questions import Earthings
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS_OR_NONE, SIZE, Json, one_number, one_word, whole
from voltaje.message import Message
from voltaje.path.electrodes import ELECTRODES, NAMES
from voltaje.sheet import Sheet
from voltaje.tools.conductors import MATERIALS, OfABook
from voltaje.tools.tool import Answered, Group, Head, Tool

_LINES, _NEUTRAL, _EARTH = Message("Line conductors"), Message("Neutral"), Message("Electrodes")
_KEYS = {"concrete-encased": "concrete_encased", "water pipe": "water_pipe"}  # of the rule, where it is another
_MOST_SETS = 12
_YES = {"no": Message("no"), "yes": Message("yes")}


class EarthingSheet(OfABook):
    """What a service's earthing is asked by."""

    size: str = declared(SIZE, "of each line conductor", "Size", _LINES, required=True)
    material: str = declared(
        one_word("Cu", "Al"), "of the lines and the neutral", "Metal", _LINES, shown="Cu", titles=MATERIALS
    )
    sets: int = declared(whole(1, _MOST_SETS), "conductors in parallel", "Sets", _LINES, shown=1)
    raceways: int | None = declared(
        whole(1, _MOST_SETS), "that they lie in; one for each set where not given", "Raceways", _LINES, family="nec"
    )
    disconnects: int = declared(
        whole(1, 6), "service disconnects", "Disconnects", _LINES, shown=1, more=True, family="nec"
    )
    assembly: str = declared(
        one_word("no", "yes"),
        "they stand in one listed assembly",
        "One assembly",
        _LINES,
        shown="no",
        more=True,
        titles=_YES,
        family="nec",
    )
    neutral_a: float | None = declared(
        AMPS_OR_NONE, "greatest unbalanced load", "Neutral load", _NEUTRAL, "A", family="nec"
    )
    terminal_c: int = declared(
        one_number(60, 75), "column for the neutral by its load", "Terminals", _NEUTRAL, "°C", 75, family="nec"
    )
    earthing: str = declared(
        one_word("TN-S", "TN-C-S", "TT"),
        "how the supply is earthed",
        "Earthing system",
        _NEUTRAL,
        shown="TN-C-S",
        family="iec",
    )
    supply_neutral: str = declared(
        SIZE, "of TN-C-S; as the lines where not given", "Supply neutral", _NEUTRAL, "mm²", family="iec", default=""
    )
    electrodes: tuple[str, ...] = declared(
        ELECTRODES,
        "that are there: water pipe; steel; rod; concrete-encased; ring",
        "Electrodes",
        _EARTH,
        shown=[],
        family="nec",
        default=NAMES,
    )
    ring_size: str = declared(SIZE, "of a ground ring", "Ring size", _EARTH, more=True, family="nec", default="")


def solve(asked: EarthingSheet) -> Answered:
    """Return what a service connects to earth. Raises InputError at its field."""
    book, sheet = asked.book, Sheet()
    found = book.asked(Earthings).earthing(
        EarthingAsked(
            asked.size,
            asked.material,
            asked.sets,
            asked.raceways or asked.sets,
            asked.neutral_a,
            asked.terminal_c,
            asked.ring_size,
            asked.earthing,
            asked.supply_neutral,
        ),
        sheet,
    )
    shown = _shown(asked, found)
    return Answered(
        book,
        _result(asked, found),
        sheet.steps,
        _said(asked, found),
        _heads(asked, shown),
        {"asked": asked, "parts": shown}.copy,
    )


def _shown(asked: EarthingSheet, found: Earthing) -> list[EarthPart]:
    """Return the parts, of the electrodes those that are there."""
    absent = {_KEYS.get(name, name) for name in NAMES if name not in asked.electrodes}
    return [part for part in found.parts if part.key not in absent]


def _result(asked: EarthingSheet, found: Earthing) -> Json:
    if asked.book.terms.family == "iec":
        return {part.key: {"size": part.size, "material": part.material} for part in found.parts}
    grounded = next(part for part in found.parts if part.key == "grounded")
    return {
        "neutral": {"size": grounded.size, "sets": grounded.sets, "material": asked.material},
        "grounded_conductor": {"size": grounded.size, "sets": grounded.sets, "material": asked.material},
        "grounded_by_load": found.by_load,
        "main_bonding_jumper": found.size("jumper"),
        "electrode_conductors": {name: found.size(_KEYS.get(name, name)) for name in asked.electrodes},
        "water_pipe_bond": found.size("pipe_bond"),
        "steel_bond": found.size("steel_bond"),
    }


def _said(asked: EarthingSheet, found: Earthing) -> list[Finding]:
    book = asked.book
    if book.terms.family == "iec":
        return []
    brought = Message(
        "The grounded conductor comes to every service disconnect, even where nothing uses it: a fault returns by it."
    )
    if asked.disconnects > 1 and asked.assembly == "yes":
        brought = Message(
            "{n} disconnects in one listed assembly: one grounded conductor to its common bus, sized by "
            "the lines that feed the assembly.",
            n=asked.disconnects,
        )
    elif asked.disconnects > 1:
        brought = Message(
            "{n} disconnects apart: a grounded conductor and a main bonding jumper at each, by the lines of that one.",
            n=asked.disconnects,
        )
    said = [
        Finding(Severity.NOTE, "earth.grounded_brought", brought, book.rule("grounded_service"), "size"),
        Finding(
            Severity.NOTE,
            "earth.full_jumper",
            Message(
                "The jumper is {size} Cu in full: a smaller strap between bar and enclosure is the usual mistake.",
                size=found.size("jumper"),
            ),
            book.rule("main_jumper"),
            "size",
        ),
    ]
    if {"rod", "concrete-encased", "ring"} & set(asked.electrodes):
        message = Message("Rod 6, footing 4 and ring are ceilings where the conductor goes to that electrode alone.")
        said.append(Finding(Severity.NOTE, "earth.ceilings", message, book.rule("electrode_rod"), "electrodes"))
    return said


_MAIN = 3


def _heads(asked: EarthingSheet, parts: list[EarthPart]) -> tuple[Head, ...]:
    terms = asked.book.terms
    return tuple(
        Head(
            part.name,
            sets_of(part.size, part.sets),
            f"{terms.gauge(part.size)} {part.material}",
            part.why,
            main=at < _MAIN,
        )
        for at, part in enumerate(parts[: _MAIN + 1])
    )


TOOL = Tool(
    name="earthing",
    title=Message("Earthing of a service"),
    question=Message("What size are the grounded conductor, the jumper, the electrode conductor?"),
    group=Group.SUPPLY,
    place=3,
    words=(
        "grounding electrode",
        "earth",
        "ground",
        "gec",
        "bonding",
        "jumper",
        "neutral",
        "rod",
        "ufer",
        "250.66",
        "250.102",
        "250.104",
        "250.28",
    ),
    asks=EarthingSheet,
    solve=solve,
    example={"nec": {"size": "250", "sets": 2, "neutral_a": "120 A"}, "iec": {"size": "50", "earthing": "TN-C-S"}},
    caution=Message("A lost neutral or bond puts full voltage on metal: de-energize before a bond is opened."),
)
