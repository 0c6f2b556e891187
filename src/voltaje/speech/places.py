"""What each thing that a line makes has a place for: whatever else was read is told, for nothing said vanishes."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.message import Message
from voltaje.path.kinds import Kind
from voltaje.speech.said import Unused
from voltaje.speech.taken import Taken

_WHY = Message("it has no place here")
# By the name of what takes it, see `taking`. What all have: a name, a count, a board, a run.
_RUN = {
    "called",
    "negative",
    "left_over",
    "cable",
    "bare_cable",
    "call_out",
    "flat_cable",
    "feet_and_inches",
    "ways",
    "method",
    "size",
    "material",
    "ambient",
    "length",
    "circuits",
    "count",
    "together",
    "said_each",
    "board",
}
_DEVICE = {"device", "device_by_poles", "device_by_curve", "load_amps", "amps", "shape"}
_SUPPLY = {"system", "volts_and_phase", "volts", "kilovolts", "phases", "poles", "legs"}
_LOAD = (
    _DEVICE
    | _SUPPLY
    | {
        "mca",
        "duty",
        "mop",
        "output",
        "power",
        "area",
        "power_factor",
        "continuous",
        "way",
        "several_amps",
        "cookers",
        "service_factor",
        "held_to",
        "shared",
    }
)
_HAS = {
    Kind.LOAD: _LOAD,
    Kind.INVERTER: _LOAD - {"mca", "duty", "area", "several_amps", "service_factor", "held_to", "shared"},
    Kind.BOARD: _DEVICE | _SUPPLY | {"spaces"},
    Kind.TRANSFORMER: _DEVICE | _SUPPLY | {"power", "sides", "impedance"},
    Kind.SPARE: _DEVICE | {"phases", "poles", "way"},
    Kind.SPACE: _DEVICE | {"phases", "poles", "way"},
    Kind.DWELLING: {"area"},
    Kind.SOURCE: _DEVICE | {"system"},
}


def without_a_place(kind: Kind, taken: Taken) -> Iterator[Unused]:
    """Yield what was read of a line and fills nothing in what the line makes."""
    for taken_as, typed in taken.typed:
        if taken_as not in _RUN | _HAS[kind]:
            yield Unused(typed, _WHY)
