"""Transformers made of single-phase units or joined as autotransformers, as they stand on a path.

Each becomes coils with joints; ratio, currents, drop and what every coil carries come from the solver of windings.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from voltaje.design.windings.bank import OPEN, joined
from voltaje.design.windings.boost import BOOST, BUCK
from voltaje.design.windings.groups import HIGH, LOW, Windings
from voltaje.design.windings.through import Ends, Through, maps_of
from voltaje.errors import InputError
from voltaje.message import Figure, Message
from voltaje.path.transformer import MadeAs, TransformerSpec
from voltaje.physics.currents import Currents
from voltaje.physics.draws import Phasors
from voltaje.physics.reflection import connection
from voltaje.physics.transformer import USUAL_X_OVER_R, Plate
from voltaje.physics.unit import CONDUCTORS, Maps
from voltaje.physics.windings import Coil, Wound
from voltaje.systems import System

PRIMARY, SECONDARY = "primary", "secondary"
_THREE, _TWO = 3, 2
_VA_IN_KVA, _HUNDRED = 1000.0, 100.0


class Made(NamedTuple):
    """What a transformer is made of, at work between its two systems.

    units, unit_kva: of how many [count, kVA each]; maps: volts and currents through it
    rated: of each coil [V]; of half a winding that of the whole, by which its amperes are held against the unit's kVA
    share: the volts it makes of its nominal supply, of its secondary's nominal [factor]; turn: how far they turn [rad]
    winding_percent: of the rated volts of its hardest coil; capacity_a: of each line behind it [A]
    plate: as one transformer: kVA through it, impedance of one pair of lines
    fault_percent: the impedance that the hardest fault meets, of the same kVA [%]: in open delta it is less, since the
        line that both units share carries what both let through
    input_a: of the line before it that carries the most, while the lines behind carry their capacity [A]
    """

    through: Through
    units: int
    unit_kva: float
    rated: Mapping[str, float]
    maps: Maps
    share: float
    turn: float
    winding_percent: float
    capacity_a: float
    plate: Plate
    fault_percent: float
    input_a: float

    @property
    def lines(self) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The terminals of the lines before it and behind it, without the neutral's."""
        before, behind = (
            tuple(terminal for line, terminal in ends if line != "N")
            for ends in (self.through.inputs, self.through.outputs)
        )
        return before, behind

    def at_work(self, primary: System, legs: tuple[str, ...], drawn: Currents) -> Wound:
        """Return what stands and flows in it on its supply, while so much is drawn behind it."""
        amps = _phasors(drawn) * cmath.rect(1, self.turn)
        return self.through.at_work(_supply(primary, legs), amps)

    @property
    def stacked(self) -> bool:
        """Whether its output stands on its input: no isolation."""
        return self.through.stacked

    def loaded(self, drawn: Currents) -> float:
        """Return how its hardest coil is loaded by what is drawn behind it [share of its rating]."""
        return _loaded(self.through, self.rated, self.unit_kva, _phasors(drawn))

    def primary(self, drawn: Currents, legs: tuple[str, ...]) -> Currents:
        """Return what is drawn from each line before it for what is drawn behind [A, as phasors]."""
        before = self.maps.amps_of_amps @ (_phasors(drawn) * cmath.rect(1, self.turn))
        return {leg: complex(before[CONDUCTORS.index(leg)]) for leg in legs}

    def to_ground_v(self, primary: System, legs: tuple[str, ...]) -> float:
        """Return the most that a line of its output has to ground, of a supply grounded at its neutral; else 0 [V]."""
        if not primary.line_to_neutral_v:
            return 0.0
        found = self.maps.volts(_supply(primary, legs), np.zeros(len(CONDUCTORS), complex))
        return float(np.abs(found).max())

    def lost(self, drawn: Currents, voltage: tuple[str, ...]) -> complex:
        """Return what a voltage loses in its coils while so much is drawn [V]; ideal ones lose nothing."""
        fallen = -self.maps.volts_of_amps @ _phasors(drawn)
        ends = [fallen[CONDUCTORS.index(leg)] for leg in voltage]
        return complex(ends[0] - (ends[1] if len(ends) > 1 else fallen[CONDUCTORS.index("N")]))


def made_of(spec: TransformerSpec, primary: System, legs: tuple[str, ...]) -> Made | None:
    """Return what a transformer is made of; None for one in a tank of its own. Raises Refused, at its field.

    primary, legs: the supply that it stands on
    """
    if spec.made_as is MadeAs.ISOLATING:
        return None
    if spec.made_as is MadeAs.BANK:
        return _bank(spec, primary, legs)
    return _stacked(spec, primary, legs)


def _bank(spec: TransformerSpec, primary: System, legs: tuple[str, ...]) -> Made:
    secondary = spec.secondary
    if len(legs) < _THREE or len(secondary.legs) < _THREE or primary.high_leg:
        raise InputError("made_as", Message("a bank stands between two three-phase systems, on one without a high leg"))
    high, low = _unit_volts(spec)
    tapped, letters = bool(secondary.high_leg), OPEN
    if spec.units != _TWO and tapped:
        # A high leg is made by a delta one of whose units has its middle brought out.
        letters = "Yd" if spec.connection[:1].upper() == "Y" else "Dd"
    elif spec.units != _TWO:
        sides = connection(spec.connection, secondary) or connection("", secondary)
        letters = f"{sides.primary}{sides.secondary.lower()}" if sides else "Dy"
    elif secondary.line_to_neutral_v and not tapped:
        raise InputError("units", Message("two units stand in open delta, which has no neutral"))
    part = 1 + spec.tap / _HUNDRED
    turns = (high, low * part) if spec.taps_on == "secondary" else (high * part, low)
    ohms = _ohms(spec, low / (spec.kva * _VA_IN_KVA / low))
    made = joined(letters, turns, tapped)
    # Half a winding has half of its impedance.
    coils = tuple(
        coil._replace(ohms=ohms * coil.turns / turns[1]) if coil.id.startswith("l") else coil for coil in made.coils
    )
    inputs = list(zip(CONDUCTORS, HIGH, strict=False))
    if letters == "Yy" and primary.line_to_neutral_v:
        inputs.append(("N", "N"))
    outputs = list(zip(CONDUCTORS, LOW, strict=False))
    if secondary.line_to_neutral_v:
        outputs.append(("N", "n"))
    through = Through(Windings(coils, made.joints), tuple(inputs), tuple(outputs), stacked=False)
    rated = {coil.id: high if coil.id.startswith("h") else low for coil in coils}
    units = _TWO if letters == OPEN else _THREE
    return _at_work(spec, through, rated, units, spec.kva, primary, legs)


def _stacked(spec: TransformerSpec, primary: System, legs: tuple[str, ...]) -> Made:
    """Return units joined as autotransformers: small ones by their windings, a whole one by what goes through it."""
    secondary = spec.secondary
    ends, count = _places(spec, primary, legs)
    wye = any(line == "N" for line, _terminal in ends[0]) or _star(spec, legs)
    root = math.sqrt(_THREE) if wye and len(legs) == _THREE else 1.0
    before = _across(primary, legs) / root
    after = secondary.line_to_line_v / root
    named = spec.connection if spec.made_as is MadeAs.BOOST else ""
    lift = named == BOOST or (named != BUCK and after >= before)
    if spec.made_as is MadeAs.BOOST:
        high, low = _unit_volts(spec)
        each_kva = spec.kva
        ohms = _ohms(spec, low / (each_kva * _VA_IN_KVA / low))
    else:
        high, low = min(before, after), abs(after - before)
        if low < high * _ALIKE:
            raise InputError("secondary", Message("both sides have the same volts"))
        # What is entered goes through it; its windings carry what they add or take.
        across = max(before, after)
        amps = spec.kva * _VA_IN_KVA / (across * (_lines(count, wye)))
        each_kva = low * amps / _VA_IN_KVA
        ohms = _ohms(spec, across / amps)
    coils: list[Coil] = []
    for at in range(1, count + 1):
        unit = f"unit {at}"
        coils.append(Coil(f"{PRIMARY} {at}", unit, high, _end("H1", at, count), _end("H4", at, count)))
        coils.append(Coil(f"{SECONDARY} {at}", unit, low, _end("X1", at, count), _end("X4", at, count), ohms))
    joints = [(_end("X4", at, count), _end("H1", at, count)) for at in range(1, count + 1)]
    joints += [(_end("H4", 1, count), _end("H4", at, count)) for at in range(_TWO, count + 1)]
    hot = ("H1", "X1") if lift else ("X1", "H1")
    inputs, outputs = (
        tuple((line, terminal.replace("hot", hot[side])) for line, terminal in each) for side, each in enumerate(ends)
    )
    through = Through(Windings(tuple(coils), tuple(joints)), inputs, outputs, stacked=True)
    rated = {coil.id: high if coil.id.startswith(PRIMARY) else low for coil in coils}
    return _at_work(spec, through, rated, count, each_kva, primary, legs)


_ALIKE = 1e-6


def _lines(units: int, wye: bool) -> float:
    """Return how many of a unit's own currents what goes through it makes up: of a star three, of an open delta √3."""
    if units == _TWO:
        return math.sqrt(_THREE)
    return float(_THREE) if wye and units == _THREE else 1.0


def _end(name: str, unit: int, count: int) -> str:
    return f"{name}.{unit}" if count > 1 else name


def _star(spec: TransformerSpec, legs: tuple[str, ...]) -> bool:
    return len(legs) == _THREE and spec.units != _TWO


def _places(spec: TransformerSpec, primary: System, legs: tuple[str, ...]) -> tuple[tuple[Ends, Ends], int]:
    """Return the lines and terminals of both sides, `hot` where units differ, and how many units.

    Raises: InputError where units cannot stand so: a neutral that nobody brings, a star without one.
    """
    secondary = spec.secondary
    behind = tuple(leg for leg, _angle in secondary.legs)
    if len(behind) != len(legs):
        raise InputError("secondary", Message("an autotransformer has as many lines behind it as before it"))
    if secondary.high_leg or primary.high_leg:
        raise InputError("made_as", Message("not worked out for a delta with a high leg"))
    if len(legs) == 1:
        return (((legs[0], "hot"), ("N", "H4")), ((behind[0], "hot"), ("N", "H4"))), 1
    if len(legs) == _TWO:
        if secondary.line_to_neutral_v:
            raise InputError("secondary", Message("one unit on two lines makes no neutral: take an isolating one"))
        return (((legs[0], "hot"), (legs[1], "H4")), ((behind[0], "hot"), (behind[1], "H4"))), 1
    common = _end("H4", 1, len(legs))
    if _star(spec, legs):
        if not primary.line_to_neutral_v and (secondary.line_to_neutral_v or spec.made_as is MadeAs.BOOST):
            raise InputError("units", Message("three in star need the supply's neutral: two stand in open delta"))
        lines: Ends = tuple((leg, f"hot.{at}") for at, leg in enumerate(legs, 1))
        neutral: Ends = (("N", common),) if primary.line_to_neutral_v else ()
        return ((*lines, *neutral), (*lines, *(neutral if secondary.line_to_neutral_v else ()))), len(legs)
    if secondary.line_to_neutral_v:
        raise InputError("units", Message("two units stand in open delta, which has no neutral"))
    lines = ((legs[0], "hot.1"), (legs[1], common), (legs[2], "hot.2"))
    return (lines, lines), _TWO


def _unit_volts(spec: TransformerSpec) -> tuple[float, float]:
    for field, volts in (("unit_primary_v", spec.unit_primary_v), ("unit_secondary_v", spec.unit_secondary_v)):
        if not volts:
            raise InputError(field, Message("must be given: the rated volts of its windings"))
    return spec.unit_primary_v or 0.0, spec.unit_secondary_v or 0.0


def _ohms(spec: TransformerSpec, base: float) -> complex:
    """Return an impedance in per cent as ohms of the winding that has it, of a base of so many ohms."""
    z, ratio = (spec.impedance_percent or 0.0) / _HUNDRED, spec.x_over_r or USUAL_X_OVER_R
    resistance = z / math.sqrt(1 + ratio**2)
    return complex(resistance, resistance * ratio) * base


def _at_work(
    spec: TransformerSpec,
    through: Through,
    rated: Mapping[str, float],
    units: int,
    unit_kva: float,
    primary: System,
    legs: tuple[str, ...],
) -> Made:
    secondary = spec.secondary
    maps = maps_of(through)
    supply = _supply(primary, legs)
    nothing = np.zeros(len(CONDUCTORS), complex)
    found = maps.volts(supply, nothing)
    behind = tuple(leg for leg, _angle in secondary.legs)
    stands, wanted = _first(found, behind), _first(_supply(secondary, behind), behind)
    work = through.at_work(supply, nothing)
    # By volts per turn: a tap with more turns bears more.
    percent = max(abs(work.coils[coil.id]) / coil.turns for coil in through.coils) * _HUNDRED
    balanced = _balanced(secondary, behind)
    capacity_a = 1 / _loaded(through, rated, unit_kva, balanced)
    root = math.sqrt(_THREE) if len(behind) == _THREE else 1.0
    lost = maps.volts_of_amps @ balanced
    drawn = abs(_first(balanced, behind)) / (1 if len(behind) == _THREE else _TWO)
    own = abs(_first(lost, behind)) / drawn
    kva = root * secondary.line_to_line_v * capacity_a / _VA_IN_KVA
    percent_z = own / (secondary.line_to_line_v**2 / (kva * _VA_IN_KVA)) * _HUNDRED
    hardest = _hardest_fault(maps, found, behind)
    at_fault = secondary.line_to_line_v / root / hardest if hardest and len(behind) == _THREE else own
    plate = Plate(
        kva,
        _THREE if len(behind) == _THREE else 1,
        _across(primary, legs),
        secondary.line_to_line_v,
        percent_z,
        spec.x_over_r or USUAL_X_OVER_R,
    )
    return Made(
        through,
        units,
        unit_kva,
        rated,
        maps,
        abs(stands) / abs(wanted),
        cmath.phase(stands / wanted),
        percent,
        capacity_a,
        plate,
        percent_z * min(at_fault / own, 1.0) if own else 0.0,
        float(np.abs(maps.amps_of_amps @ balanced).max()) * capacity_a,
    )


def _hardest_fault(maps: Maps, stands: Phasors, behind: tuple[str, ...]) -> float:
    """Return the greatest current of a line while all lines behind are bolted together [A]; 0 where nothing limits it.

    Volts behind E - Z I of every line alike, and no current by the neutral.
    """
    at = [CONDUCTORS.index(leg) for leg in behind]
    ohms = -maps.volts_of_amps[np.ix_(at, at)]
    if not np.abs(ohms).max():
        return 0.0
    size = len(at)
    equations = np.zeros((size + 1, size + 1), complex)
    equations[:size, :size], equations[:size, size], equations[size, :size] = ohms, 1, 1
    amps = np.linalg.lstsq(equations, np.append(stands[at], 0), rcond=None)[0][:size]
    return float(np.abs(amps).max())


def _loaded(through: Through, rated: Mapping[str, float], unit_kva: float, drawn: Phasors) -> float:
    work = through.at_work(np.zeros(len(CONDUCTORS), complex), drawn)
    return max(abs(work.amps[coil]) * volts for coil, volts in rated.items()) / (unit_kva * _VA_IN_KVA)


def _phasors(drawn: Mapping[str, complex]) -> Phasors:
    """Return conductors' figures in their order; the neutral brings back what the lines do not."""
    found = np.array([drawn.get(leg, 0j) for leg in CONDUCTORS], complex)
    found[CONDUCTORS.index("N")] = -found.sum() if drawn else 0j
    return found


def _supply(system: System, legs: tuple[str, ...]) -> Phasors:
    volts = system.phasors()
    return np.array([volts[leg] if leg in legs else 0j for leg in CONDUCTORS], complex)


def _balanced(system: System, legs: tuple[str, ...]) -> Phasors:
    """Return an ampere in each line, of a load on them alone: along its volts to the middle of them."""
    volts = system.phasors()
    middle = sum(volts[leg] for leg in legs) / len(legs) if system.high_leg else 0j
    return _phasors({leg: (volts[leg] - middle) / abs(volts[leg] - middle) for leg in legs})


def _first(found: Phasors, legs: tuple[str, ...]) -> complex:
    """Return what stands between the first two lines, or from the one to its neutral."""
    return complex(found[CONDUCTORS.index(legs[0])] - found[CONDUCTORS.index(legs[1] if len(legs) > 1 else "N")])


def _across(system: System, legs: tuple[str, ...]) -> float:
    return abs(_first(_supply(system, legs), legs))


def figure_of(made: Made) -> Message:
    """Return how many units of what size, in words."""
    return Message("{n} × {kva}", n=made.units, kva=Figure(made.unit_kva, "kVA", 2))
