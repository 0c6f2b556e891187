"""Small units wired as autotransformers to lift or lower the voltage a little: every connection by the solver."""

from __future__ import annotations

import cmath
import math
import tomllib
from functools import cache
from importlib.resources import files
from typing import Any, NamedTuple

from voltaje.design.windings.groups import Joint
from voltaje.physics.windings import Burden, Coil, Wound, wound

BOOST, BUCK = "boost", "buck"
SINGLE, OPEN_DELTA, WYE = "single", "open delta", "wye"
_UNITS_OF = {SINGLE: 1, OPEN_DELTA: 2, WYE: 3}
_THREE = 3
_SPLIT_V = (216.0, 260.0)  # so many volts stand between two halves of a tapped winding; others between lines of a wye
_TO_NEUTRAL_V = 150.0


@cache
def small_units() -> dict[str, Any]:
    """Return the trade's small units: coils, sizes, frequency."""
    text = files("voltaje.design.windings").joinpath("small_units.toml").read_text("utf-8")
    return tomllib.loads(text)


class Wiring(NamedTuple):
    """A unit wired: which way, its coils' volts, each side in series or parallel."""

    way: str
    primary_coil_v: float
    secondary_coil_v: float
    primary_series: bool
    secondary_series: bool

    @property
    def primary_v(self) -> float:
        """The volts of its primary as it is joined [V]."""
        return self.primary_coil_v * (2 if self.primary_series else 1)

    @property
    def secondary_v(self) -> float:
        """The volts of its secondary as it is joined [V]."""
        return self.secondary_coil_v * (2 if self.secondary_series else 1)

    @property
    def joints(self) -> tuple[Joint, ...]:
        """What is joined: H1 to H4, X1 to X4."""
        primary = (("H2", "H3"),) if self.primary_series else (("H1", "H3"), ("H2", "H4"))
        secondary = (("X2", "X3"),) if self.secondary_series else (("X1", "X3"), ("X2", "X4"))
        return (*primary, *secondary, ("X4", "H1"))

    @property
    def coils(self) -> tuple[Coil, ...]:
        """Its four coils on one core."""
        high, low = self.primary_coil_v, self.secondary_coil_v
        return (
            Coil("H1-H2", "core", high, "H1", "H2"),
            Coil("H3-H4", "core", high, "H3", "H4"),
            Coil("X1-X2", "core", low, "X1", "X2"),
            Coil("X3-X4", "core", low, "X3", "X4"),
        )


class Offer(NamedTuple):
    """A wiring for a job: what it gives, what of it is needed.

    volts: at the measured input, and at 5 % under and over it; size: kVA of each, None where none is large enough
    capacity_a: of the load [A]; winding_percent: of rated volts at that frequency
    """

    wiring: Wiring
    arrangement: str
    volts: tuple[float, float, float]
    size: float | None
    capacity_a: float
    capacity_kva: float
    winding_percent: float
    input_a: float
    error_percent: float

    @property
    def units(self) -> int:
        """How many [count]."""
        return _UNITS_OF[self.arrangement]

    @property
    def total_kva(self) -> float:
        """Nameplate in all [kVA]."""
        return self.units * (self.size or math.inf)


def wirings() -> list[Wiring]:
    """Return every way to wire every unit."""
    flags = (True, False)
    return [
        Wiring(way, unit["primary_coil_v"], unit["secondary_coil_v"], primary, secondary)
        for unit in small_units()["units"]
        for way in (BOOST, BUCK)
        for primary in flags
        for secondary in flags
    ]


def at_work(wiring: Wiring, volts: float, load_a: float = 0.0) -> tuple[Wound, complex]:
    """Return a unit at work on an input [V], with its output; the load's current is in step with it."""
    source, load = ("H1", "X1") if wiring.way == BOOST else ("X1", "H1")
    held = {source: complex(volts), "H4": 0j}
    loads = [Burden(load, "H4", complex(load_a))] if load_a else []
    found = wound(wiring.coils, wiring.joints, held, loads)
    return found, found.between(load, "H4") or 0j


def offers(
    line_v: float, load_v: float, load_a: float, arrangements: tuple[str, ...], frequency: float, most_percent: float
) -> list[Offer]:
    """Return every wiring that its windings bear, with the size that carries the load; in no order.

    line_v, load_v: line to line; load_a: of each line at the wanted volts; most_percent: of rated volts
    """
    found = []
    sizes, rated_hz = small_units()["kva"], small_units()["rated_hz"]
    for arrangement in arrangements:
        across = line_v / math.sqrt(_THREE) if arrangement == WYE else line_v
        for wiring in wirings():
            work, output = at_work(wiring, across, load_a)
            percent = abs(work.coils["H1-H2"]) / (wiring.primary_coil_v * min(frequency / rated_hz, 1.0)) * 100
            if percent > most_percent:
                continue
            ratio = abs(output) / across
            # What each coil of the secondary carries beside what it may: the kVA that it asks for.
            amps = max(abs(work.amps["X1-X2"]), abs(work.amps["X3-X4"]))
            asked_kva = 2 * amps * wiring.secondary_coil_v / 1000
            size = next((each for each in sizes if each >= asked_kva * (1 - 1e-9)), None)
            capacity_a = load_a * size / asked_kva if size and asked_kva else 0.0
            volts = (line_v * ratio, line_v * ratio * 0.95, line_v * ratio * 1.05)
            root = 1.0 if arrangement == SINGLE else math.sqrt(_THREE)
            found.append(
                Offer(
                    wiring,
                    arrangement,
                    volts,
                    size,
                    capacity_a,
                    root * volts[0] * capacity_a / 1000,
                    percent,
                    load_a * ratio,
                    (volts[0] / load_v - 1) * 100,
                )
            )
    return found


def chosen(found: list[Offer], tolerance_percent: float) -> Offer | None:
    """Return the one to take: within the tolerance the smallest nameplate, then the nearest; else the nearest."""
    made = [each for each in found if each.size]
    near = [each for each in made if abs(each.error_percent) <= tolerance_percent]
    if near:
        return min(near, key=lambda each: (round(each.total_kva, 6), abs(each.error_percent)))
    return min(made, key=lambda each: (abs(each.error_percent), each.total_kva), default=None)


def to_ground(offer: Offer, line_v: float) -> float:
    """Return the most that an output line has to ground [V], of a supply that is grounded in its middle."""
    if offer.arrangement == WYE:
        return offer.volts[0] / math.sqrt(_THREE)
    if offer.arrangement == SINGLE and line_v <= _TO_NEUTRAL_V:
        return offer.volts[0]
    apart = 180.0 if offer.arrangement == SINGLE and _SPLIT_V[0] < line_v < _SPLIT_V[1] else 120.0
    to_middle = line_v / (2 * math.sin(math.radians(apart / 2)))
    first, second = to_middle + 0j, cmath.rect(to_middle, -math.radians(apart))
    moved = second + (first - second) * (offer.volts[0] / line_v)
    return max(abs(moved), to_middle)
