"""The run that feeds a node, as entered: its conductors, how they lie, what a person fixed."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import (
    AMPS,
    AMPS_OR_NONE,
    FLAG,
    LENGTH,
    SIZE,
    TEMPERATURE,
    TEXT,
    number,
    one_of,
    one_word,
    whole,
)
from voltaje.limits import MOST_VA
from voltaje.path.surroundings import PLAIN, Surroundings

SETS = whole(1, 12)


class Role(StrEnum):
    """What a run is to the supply, as grounding rules tell runs apart."""

    SERVICE = "service"
    FEEDER = "feeder"
    DERIVED = "derived"
    TAP = "tap"


@dataclass(frozen=True)
class PathPins:
    """What a person fixed on a run by hand, and why."""

    device_a: float | None = declared(AMPS, "the device [A]", "Set breaker or fuse by hand", link="device", hint="A")
    size: str | None = declared(SIZE, "the conductor, as its table has it", "Set size by hand", link="conductor")
    sets: int | None = declared(SETS, "conductors in parallel", "Parallel sets", link="conductor")
    length_m: float | None = declared(
        LENGTH, "the length that counts, as measured", "Measured length", key="length", link="drop", hint="length"
    )
    demand_va: float | None = declared(
        number(0, MOST_VA, "VA"), "the demand [VA]", "Set demand by hand", link="demand", hint="VA"
    )
    neutral_a: float | None = declared(
        AMPS_OR_NONE,
        "what its neutral carries at most: the greatest unbalanced load [A]",
        "Set neutral load by hand",
        link="conductor",
        hint="A",
    )
    protective: str | None = declared(
        SIZE,
        "the protective conductor [mm²] (IEC)",
        "Set protective conductor by hand",
        link="earth",
        family="iec",
        hint="mm²",
    )
    reason: str = declared(TEXT, "why it is fixed", "Why", link="reason", default="")


@dataclass(frozen=True)
class RunSpec:
    """The run that feeds a node, as entered; None and "" are left to the book's defaults.

    role: None is told by what the run comes from
    """

    length_m: float | None = declared(
        LENGTH,
        'one way: "85 ft", "30 m"; a bare number is ft (NEC) or m (IEC)',
        "One-way length",
        key="length",
        link="drop",
        hint="length",
        column=True,
    )
    material: str = declared(
        TEXT,
        "of the conductors: Cu, Al",
        "Material",
        shown="Cu",
        link="conductor",
        choices="material",
        family="nec",
        hint="Cu",
    )
    insulation: str = declared(
        TEXT,
        "THWN-2 (NEC) or PVC 70 (IEC) by default",
        "Insulation",
        link="conductor",
        choices="insulation",
        default="",
    )
    method: str = declared(
        TEXT,
        "raceway, cable, buried (NEC); A to F, flat twin 100 to 103 (IEC); raceway or C by default",
        "Method",
        link="conductor",
        choices="method",
        default="",
    )
    cable: str = declared(
        TEXT,
        "singles, multicore, armoured, flat twin (IEC); multicore by default",
        "Cable",
        link="conductor",
        choices="cable",
        family="iec",
        default="",
    )
    raceway: str = declared(
        TEXT,
        "PVC 40 (default), PVC 80, EMT, RMC (NEC)",
        "Raceway",
        link="conductor",
        choices="raceway",
        family="nec",
        default="",
    )
    device_kind: str = declared(
        one_word("", "B", "C", "D", "gG", "BS 88-3", "BS 3036"),
        "type of its breaker, or standard of its fuse; the usual type by default (IEC)",
        "Device is",
        shown="",
        link="device",
        family="iec",
        hint="usual",
    )
    rcd_ma: float | None = declared(
        number(0, 1000, "mA"), "rating of an RCD here (IEC)", "RCD", link="device", family="iec", hint="mA"
    )
    rcd_type: str = declared(
        one_word("", "AC", "A", "F", "B"),
        "its type; as what it feeds asks by default (IEC)",
        "RCD is of type",
        shown="",
        link="device",
        family="iec",
        hint="automatic",
    )
    ring: bool = declared(
        FLAG,
        "a ring final circuit: its length is that of the whole loop (IEC)",
        "Ring final",
        shown=False,
        link="conductor",
        family="iec",
        hint="no",
    )
    protective: str = declared(
        one_word("core", "separate", "armour"),
        "where its protective conductor lies: core of the cable, apart from it, or its armour (IEC)",
        "Protective lies as",
        shown="core",
        link="earth",
        family="iec",
        hint="core",
    )
    ambient_c: float | None = declared(
        TEMPERATURE,
        "ambient or ground, °C where it has no unit; the tables' base by default",
        "Ambient",
        link="conductor",
        hint="degrees",
    )
    bundled: int = declared(
        whole(1, 200),
        "current-carrying conductors (NEC) or circuits (IEC) together",
        "Grouped together",
        link="conductor",
        hint="bundled",
        default=0,
    )
    arrangement: str = declared(
        TEXT,
        "bunched, wall, tray, buried touching, buried ducts touching (IEC); by its method by default",
        "Arrangement",
        link="conductor",
        choices="arrangement",
        family="iec",
        hint="automatic",
        default="",
    )
    sets: int | None = declared(SETS, "conductors in parallel")
    terminal_c: int | None = declared(
        whole(0, 200),
        "what the terminals of this run are marked for; the job's by default",
        "Terminals",
        link="conductor",
        choices="terminal_c",
        family="nec",
        hint="as the job has it",
    )
    role: Role | None = declared(
        one_of(Role),
        "service, feeder, derived (from a transformer), or tap (its device at its end); by what "
        "it comes from by default",
        "Kind of run",
        link="conductor",
        hint="automatic",
    )
    tap_place: str = declared(
        one_word("indoors", "outdoors", "high bay"),
        "where a tap is, for the rule that lets it be long (NEC)",
        "A tap is",
        shown="indoors",
        link="conductor",
        family="nec",
        hint="indoors",
    )
    surroundings: Surroundings = PLAIN
    pins: PathPins = PathPins()

    @property
    def long_m(self) -> float | None:
        """The length that counts [m]: the pinned one, else the entered one."""
        return self.pins.length_m if self.pins.length_m is not None else self.length_m
