"""Two windings stacked as an autotransformer, in every way; a single winding with taps.

Each stacking is put to the solver: volts, the currents of both windings and at the node where they meet come out of it.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import NamedTuple

from voltaje.design.windings.groups import Joint, Windings
from voltaje.physics.windings import Burden, Coil, Wound, wound

HIGH_COIL, LOW_COIL = "H", "X"


class Stacking(NamedTuple):
    """A way to stack: what the input stands across and the output, of H, X, their sum and difference.

    common: the coil that both stand on, or the one whole side; series: the other
    """

    name: str
    input: str
    output: str
    common: str
    series: str
    additive: bool


class Stacked(NamedTuple):
    """A stacking at work: ratio (input to output), volts, currents [A], built and carried volt-amperes."""

    stacking: Stacking
    ratio: float
    output_v: float
    input_a: float
    output_a: float
    series_v: float
    series_a: float
    common_v: float
    common_a: float
    built_va: float
    load_va: float
    winding_percent: float
    coils: tuple[Coil, ...]
    joints: tuple[Joint, ...]
    found: Wound
    terminals: tuple[str, str, str]


STACKINGS = tuple(
    Stacking(f"{source} to {load}", source, load, common, series, additive)
    for common, series in ((HIGH_COIL, LOW_COIL), (LOW_COIL, HIGH_COIL))
    for additive in (True, False)
    for whole in (f"{HIGH_COIL}+{LOW_COIL}" if additive else f"{HIGH_COIL}-{LOW_COIL}",)
    for source, load in ((common, whole), (whole, common))
)


def stacked(stacking: Stacking, turns: tuple[float, float], from_v: float, load_va: float) -> Stacked:
    """Return a stacking at work from an input of so many volts, with a load at unity power factor.

    turns: of the high and of the low winding, by their rated volts. Raises Contradiction where its ends would meet.
    """
    coils = (Coil(HIGH_COIL, "core", turns[0], "H1", "H2"), Coil(LOW_COIL, "core", turns[1], "X1", "X2"))
    common = ("H1", "H2") if stacking.common == HIGH_COIL else ("X1", "X2")
    series = ("X1", "X2") if stacking.common == HIGH_COIL else ("H1", "H2")
    # On top of the common winding's marked end: aiding with its other end there, opposing with its marked one.
    near, far = (series[1], series[0]) if stacking.additive else (series[0], series[1])
    joints = ((common[0], near),)
    across = {stacking.common: common[0]}
    top = far
    source = across.get(stacking.input, top)
    load = across.get(stacking.output, top)
    idle = wound(coils, joints, {source: complex(from_v), common[1]: 0j})
    output = idle.between(load, common[1]) or 0j
    amps = (load_va / output).conjugate() if output else 0j
    found = wound(coils, joints, {source: complex(from_v), common[1]: 0j}, [Burden(load, common[1], amps)])
    rated = dict(zip((HIGH_COIL, LOW_COIL), turns, strict=True))
    series_v, common_v = abs(found.coils[stacking.series]), abs(found.coils[stacking.common])
    series_a, common_a = abs(found.amps[stacking.series]), abs(found.amps[stacking.common])
    return Stacked(
        stacking,
        from_v / abs(output) if output else 0.0,
        abs(output),
        abs(found.fed[source]),
        abs(amps),
        series_v,
        series_a,
        common_v,
        common_a,
        series_v * series_a,
        load_va,
        common_v / rated[stacking.common] * 100,
        coils,
        joints,
        found,
        (source, load, common[1]),
    )


def every_stacking(turns: tuple[float, float], from_v: float, load_va: float) -> list[Stacked]:
    """Return every stacking at work, without those whose windings cancel."""
    opposing = abs(turns[0] - turns[1]) < _SMALL * max(turns)
    return [stacked(each, turns, from_v, load_va) for each in STACKINGS if each.additive or not opposing]


_SMALL = 1e-9


def tapped(turns: float, low: float, high: float, from_v: float, load_va: float) -> Wound:
    """Return a single winding fed from one tap to its end and loaded from another; taps in turns from that end."""
    parts = sorted({0.0, low, high, turns})
    coils = [
        Coil(f"part {at}", "core", after - before, f"t{at + 1}", f"t{at}")
        for at, (before, after) in enumerate(pairwise(parts))
    ]
    source, load = f"t{parts.index(high)}", f"t{parts.index(low)}"
    idle = wound(coils, (), {source: complex(from_v), "t0": 0j})
    output = idle.between(load, "t0") or 1
    return wound(coils, (), {source: complex(from_v), "t0": 0j}, [Burden(load, "t0", (load_va / output).conjugate())])


_LINES = (("A", "a"), ("B", "b"), ("C", "c"))  # fed, and loaded


def three_phase_stack(wye: bool, from_v: float, to_v: float) -> Windings:
    """Return a three-phase autotransformer's coils: three in star, or two in open delta; volts line to line.

    Each unit has its common winding and its series one; where volts go up the output stands on the series winding's
    far end, where they go down the input does.
    """
    root = math.sqrt(3) if wye else 1.0
    common_v, series_v = min(from_v, to_v) / root, abs(to_v - from_v) / root
    coils, joints = list[Coil](), list[Joint]()
    for at, (line, out) in enumerate(_LINES, 1):
        if not wye and line == _STRAIGHT:
            joints.append((line, out))  # this line goes straight through
            continue
        unit = f"unit {at if wye else len(coils) // 2 + 1}"
        end = "N" if wye else _STRAIGHT
        near, far = (out, line) if from_v >= to_v else (line, out)
        coils.append(Coil(f"s{at}", unit, series_v, far, near))
        coils.append(Coil(f"c{at}", unit, common_v, near, end))
    return Windings(tuple(coils), tuple(joints))


_STRAIGHT = "B"
