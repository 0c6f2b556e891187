"""What every tool that names a conductor asks of its run, by the same names, and the run that it makes."""

from __future__ import annotations

from typing import Any

from voltaje.books.answers import EarthConductor, Run
from voltaje.books.questions import Book
from voltaje.books.registry import books, every_choice, find_book
from voltaje.design.chain import RunDesign
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import FLAG, HEIGHT, TEMPERATURE, Json, Shape, number, one_number, one_word, whole
from voltaje.inputs.shapes import TEXT as _TEXT
from voltaje.message import Message
from voltaje.path.surroundings import PLAIN, Surroundings
from voltaje.quantity import length_in, read_length, require_between
from voltaje.systems import THREE_PHASE
from voltaje.tools.asking import DEFAULT_BOOK, Asked

_MOST_M = 10_000.0
_MOST_BUNDLED = 200
MOST_SETS = 12

CIRCUIT, SURROUNDINGS = Message("Circuit"), Message("How it lies")


def _length(raw: Any, unit: str) -> tuple[str, float]:
    given, metres = read_length(raw, unit)
    require_between(metres, 0, _MOST_M, "m", above=True)
    return given, metres


TYPED_LENGTH = Shape(_length, {"type": ["string", "number"]}, typed=True, edges=(f"{_MOST_M} m", f"{_MOST_M + 1} m"))
MATERIAL = one_word("Cu", "Al")
BOOK = Shape(
    lambda raw, _unit: find_book(raw),
    {"type": "string", "description": f"one of: {', '.join(books())}; short names too"},
)

MATERIALS = {"Cu": Message("copper"), "Al": Message("aluminum")}
IEC_MATERIALS = {"Cu": Message("copper"), "Al": Message("aluminium")}


class OfABook(Asked):
    """What is answered by a book."""

    book: Book = declared(BOOK, "the rule set, with its edition", shown=DEFAULT_BOOK, default=find_book(DEFAULT_BOOK))


IEC_BOOK = "BS 7671"


class OfAnIecBook(OfABook):
    """What a book of the 230/400 V family alone answers."""

    book: Book = declared(BOOK, "the rule set, with its edition", shown=IEC_BOOK, default=find_book(IEC_BOOK))


class MadeOf(OfABook):
    """What conductors are of and lie in, as every run of a sheet has it."""

    material: str = declared(
        MATERIAL, "of the conductors", "Metal", CIRCUIT, shown="Cu", choices="material", titles=MATERIALS
    )
    insulation: str = declared(
        _TEXT,
        "NEC: THHN, THWN-2 (default), XHHW-2, NM-B, UF-B, SE; IEC: PVC 70 (default), XLPE 90",
        "Insulation",
        SURROUNDINGS,
        more=True,
        choices="insulation",
        by_family={"nec": "THWN-2", "iec": "PVC 70"},
        default="",
    )
    cable: str = declared(
        one_word("singles", "multicore", "armoured"),
        "IEC; multicore by default",
        "Cable",
        SURROUNDINGS,
        more=True,
        choices="cable",
        family="iec",
        by_family={"iec": "multicore"},
        default="",
    )
    arrangement: str = declared(
        one_word(*every_choice("arrangement")),
        "IEC; bunched, or touching in the ground, by default",
        "Arrangement",
        SURROUNDINGS,
        more=True,
        choices="arrangement",
        family="iec",
        default="",
    )
    raceway: str = declared(
        one_word(*every_choice("raceway")),
        "NEC: for conduit fill and impedance; PVC 40 by default",
        "Raceway",
        SURROUNDINGS,
        more=True,
        choices="raceway",
        family="nec",
        by_family={"nec": "PVC 40"},
        default="",
    )


class OnARun(MadeOf):
    """What is answered with a conductor."""

    length: tuple[str, float] | None = declared(
        TYPED_LENGTH,
        'one way: "150 ft", "30 m"; a bare number is ft (NEC) or m (IEC)',
        "One-way length",
        CIRCUIT,
        hint="length",
    )
    terminal_c: int | None = declared(
        one_number(60, 75),
        "NEC; not given: 60 °C for 100 A and less, 75 °C above",
        "Terminals",
        CIRCUIT,
        hint="°C",
        family="nec",
        both="conductor",
    )
    method: str = declared(
        _TEXT,
        "NEC: raceway (default), cable, buried, free air; IEC: A to F, C by default",
        "Method",
        SURROUNDINGS,
        more=True,
        choices="method",
        by_family={"nec": "raceway", "iec": "C"},
        default="",
    )
    ambient_c: float | None = declared(
        TEMPERATURE,
        "ambient or ground; the tables' base by default",
        "Ambient",
        SURROUNDINGS,
        more=True,
        hint="degrees",
        by_family={"nec": "30 °C", "iec": "30 °C"},
    )
    bundled: int = declared(
        whole(1, _MOST_BUNDLED),
        "NEC: current-carrying conductors (3); IEC: circuits (1)",
        "Grouped together",
        SURROUNDINGS,
        more=True,
        by_family={"nec": "3", "iec": "1"},
        default=0,
    )
    soil_kmw: float | None = declared(
        number(0, 4),
        "IEC method D: thermal resistivity of the soil; the tables' 2.5 by default",
        "Soil",
        SURROUNDINGS,
        hint="K·m/W",
        more=True,
        family="iec",
    )
    insulated_mm: float | None = declared(
        number(0, 10_000),
        "length in thermal insulation: Ci (IEC); any at all: SE up to 10 AWG at 60 °C (NEC)",
        "Length in insulation",
        SURROUNDINGS,
        hint="mm",
        more=True,
    )
    over_roof: float | None = declared(
        HEIGHT,
        'NEC: how high over a roof in the sun: "1/2 in"; a bare number is in',
        "Over a roof",
        SURROUNDINGS,
        hint="in",
        more=True,
        family="nec",
    )
    full_rated: bool = declared(
        FLAG,
        "NEC: device and assembly listed for 100 % of their rating",
        "Listed for 100 %",
        CIRCUIT,
        shown=False,
        more=True,
        family="nec",
    )
    whole_amperes: bool = declared(
        FLAG,
        "NEC: a fraction of an ampere under one half is dropped from the calculated load",
        "Drop fractions",
        CIRCUIT,
        shown=False,
        more=True,
        family="nec",
    )
    supply: str = declared(
        one_word("public", "private"),
        "for the IEC profiles' drop limit",
        "Supply",
        SURROUNDINGS,
        shown="public",
        more=True,
        family="iec",
    )
    sets: int | None = declared(whole(1, MOST_SETS), "parallel sets, pinned", "Parallel sets", CIRCUIT, more=True)

    def surroundings(self, exempt: str = "") -> Surroundings:
        """Return what the run lies in."""
        plain = self.soil_kmw is None and self.insulated_mm is None and self.over_roof is None
        if plain and not (exempt or self.full_rated or self.whole_amperes):
            return PLAIN
        return Surroundings(
            soil_kmw=self.soil_kmw,
            insulated_mm=self.insulated_mm or 0.0,
            exempt=exempt,
            over_roof_m=self.over_roof,
            full_rated=self.full_rated,
            whole_amperes=self.whole_amperes,
        )

    def run(self, amps: float, volts: float, phases: int, exempt: str = "", **more: Any) -> Run:
        """Return the run that carries a current [A] at nominal volts [V]."""
        terms = self.book.terms
        return Run(
            amps=amps,
            volts=volts,
            phases=phases,
            length_m=self.length[1] if self.length else None,
            material=self.material,
            insulation=self.insulation or terms.insulation,
            method=self.method or terms.method,
            cable=self.cable or terms.cable,
            raceway=self.raceway,
            ambient_c=self.ambient_c,
            bundled=self.bundled,
            arrangement=self.arrangement,
            terminal_c=more.pop("terminal_c", self.terminal_c),
            supply=self.supply,
            surroundings=self.surroundings(exempt),
            **more,
        )

    @property
    def length_unit(self) -> str:
        """The unit that the length was given in, else the book's."""
        return self.length[0] if self.length else self.book.terms.length_unit


_OWN_KEYS = (
    "insulation",
    "method",
    "cable",
    "bundled",
    "arrangement",
    "raceway",
    "terminal_c",
    "ambient_c",
    "soil_kmw",
    "insulated_mm",
    "rewireable_fuse",
    "breaker_ambient",
    "breaker_neighbours",
    "breaker_enclosure",
    "exempt",
    "full_rated",
    "whole_amperes",
)


def exactly(figure: float) -> str:
    """Return a figure as it is typed, to as many digits as it means."""
    return f"{figure:.12g}"


def run_node(asked: OnARun, **pins: float | str | None) -> Json:
    """Return the run as a node of the open job file has it, with what a person chose on the sheet, or it chose itself.

    pins: device_a, size, demand_va
    """
    given = {key: getattr(asked, key) for key in _OWN_KEYS if getattr(asked, key, None) not in (None, "", 0, False)}
    fixed = {key: value for key, value in {**pins, "sets": asked.sets}.items() if value is not None}
    if fixed:
        given["pins"] = fixed
    if asked.length:
        given["length"] = said_length(asked.length)
    if asked.over_roof is not None:
        given["over_roof"] = f"{exactly(asked.over_roof)} m"
    return {"material": asked.material, **given}


def said_length(length: tuple[str, float] | None) -> str:
    """Return a length as it was given, "" for none."""
    return f"{length_in(length[1], length[0]):g} {length[0]}" if length else ""


def conductor_of(design: RunDesign) -> Json:
    """Return the conductor of a run."""
    choice = design.choice
    return {"size": choice.size, "material": design.run.material, "sets": choice.sets}


def neutral_of(design: RunDesign) -> Json | None:
    """Return the neutral of a run, as it is pulled; None where it has none."""
    return conductor_of(design) | {"size": design.neutral} if design.neutral else None


def earth_of(earth: EarthConductor) -> Json:
    """Return the protective conductor."""
    return {"size": earth.size, "material": earth.material}


# Volts to neutral of the nominal systems, from and to, by family: what stands there takes one pole.
_TO_NEUTRAL = {"nec": ((0.0, 150.0), (260.0, 290.0), (330.0, 350.0)), "iec": ((0.0, 250.0),)}


def standing(volts: float, phases: int, book: Book) -> Json:
    """Return how a load of these volts stands on a board, as the open job file has it: its poles, its volts."""
    if phases == THREE_PHASE:
        return {"phases": 3, "volts": f"{volts:g} V"}
    to_neutral = any(low < volts <= high for low, high in _TO_NEUTRAL[book.terms.family])
    return {"poles": 1 if to_neutral else 2, "volts": f"{volts:g} V"}
