"""What was taken out of a line: everything that has a unit or a mark of its own."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from voltaje.message import Message
from voltaje.quantity import Rating
from voltaje.speech.plates import SeveralAmps, Sides
from voltaje.speech.said import Unused


class Power(NamedTuple):
    """A rating in kW, kVA, W, VA or hp, as typed with its unit, and where."""

    typed: str
    rating: Rating
    start: int
    end: int


class Amps(NamedTuple):
    """A current, with what it was said to be: `load`, `device`, or "" where only its kind tells; and where."""

    value: float
    is_what: str
    start: int
    end: int


@dataclass
class Taken:
    """Everything of a line that has a unit or a mark of its own."""

    powers: list[Power] = field(default_factory=list)
    amps: list[Amps] = field(default_factory=list)
    volts: list[tuple[float, ...]] = field(default_factory=list)
    systems: list[str] = field(default_factory=list)
    pairs: list[tuple[float, ...]] = field(default_factory=list)  # the volts that named a system, as typed
    phases: int = 0
    poles: int = 0
    legs: list[str] = field(default_factory=list)
    lengths: list[str] = field(default_factory=list)
    areas: list[str] = field(default_factory=list)
    count: int = 0
    circuits: int = 0
    each: bool = False
    together: bool = False
    mca: float = 0.0
    mop: float = 0.0
    mop_typed: str = ""
    duty: float = 0.0
    duty_typed: str = ""
    impedance: float = 0.0
    spaces: int = 0
    cookers: list[dict[str, str]] = field(default_factory=list)
    sides: Sides | None = None
    several: SeveralAmps | None = None
    service_factor: float = 0.0
    held_to: float = 0.0
    protective: str = ""
    shared: bool = False
    of_a_motor: bool = False
    code: str = ""
    typed: list[tuple[str, str]] = field(default_factory=list)
    output: str = ""
    shape: str = ""
    called: str = ""
    board: str = ""
    load: dict[str, Any] = field(default_factory=dict)
    run: dict[str, Any] = field(default_factory=dict)
    size: str = ""
    bare_cable: bool = False  # 12-3, without its kind
    feeder_cable: bool = False  # 2-2-2-4
    assumed_run: set[str] = field(default_factory=set)  # keys of the run that follow from how the trade says it
    problems: list[Message] = field(default_factory=list)
    unused: list[Unused] = field(default_factory=list)

    def bare_volts(self, match: re.Match[str]) -> bool:
        """Take volts that stand without their unit."""
        self.volts.append((float(match["v"]),))
        return True
