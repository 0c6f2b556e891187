"""A sheet opened by what a person types as its question: "7½ hp 208 V", "13.4 kW range", "45 kVA 480-208Y/120"."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from voltaje.errors import InputError
from voltaje.inputs.shapes import Json
from voltaje.speech.naming import named
from voltaje.speech.spelled import in_figures
from voltaje.speech.taken import Taken
from voltaje.speech.taking import take_all
from voltaje.speech.typed import Typed
from voltaje.speech.words import words_of
from voltaje.tools.plates import APPLIANCE, MOTOR, RUN, TRANSFORMER, in_words

# Kinds of load as the line has them, by the kind that the appliance sheet asks for.
_APPLIANCES = {
    "heating": "space_heat",
    "water_heater": "water_heater",
    "charger": "charger",
    "dryer": "dryer",
    "cooling": "hermetic",
    "general": "other",
    "kitchen": "other",
}


class Opening(NamedTuple):
    """A tool and the inputs with which it answers what was typed."""

    tool: str
    inputs: Json

    @property
    def said(self) -> str:
        """What of it was taken, in words: what is not among them was left out."""
        return " · ".join(in_words(self.inputs)) or " · ".join(each["load"] for each in self.inputs["appliances"])


def openings(text: str, family: str) -> list[Opening]:
    """Return the sheets that answer an amount as it was typed, the likeliest first; none where it says none."""
    typed, words = Typed(in_figures(text, family)), words_of(family)
    taken = take_all(typed, family, ".")
    if taken.problems or not (taken.powers or taken.amps or taken.mca):
        return []
    head = named(typed, words, taken).head
    kind = "" if head is None else head.kind
    found = []
    for tool, inputs in _of(taken, kind):
        try:
            found.append(Opening(tool, inputs()))
        except InputError:
            continue  # it leaves something open: its own sheet asks
    return found


def _of(taken: Taken, kind: str) -> Iterator[tuple[str, Callable[[], Json]]]:
    """Yield each tool that may answer, with what lays its inputs out."""
    power = taken.powers[0] if taken.powers else None
    if power is None:
        if kind in _APPLIANCES and kind != "general":
            yield "appliance-branch", lambda: {"kind": _APPLIANCES[kind], **APPLIANCE.laid(taken, {})}
        elif taken.mca:
            yield "appliance-branch", lambda: APPLIANCE.laid(taken, {})
        else:
            yield "run", lambda: RUN.laid(taken, {})
        return
    in_va = power.rating.unit == "VA" and not power.rating.is_watts
    if power.rating.unit == "hp" or kind == "motor":
        yield "motor-branch", lambda: MOTOR.laid(taken, {})
    elif kind == "range":
        yield "cooking-branch", lambda: {"appliances": [{"load": power.typed}]}
    elif kind in _APPLIANCES and kind != "general":
        yield "appliance-branch", lambda: {"kind": _APPLIANCES[kind], **APPLIANCE.laid(taken, {})}
    else:
        if in_va:
            yield "transformer", lambda: TRANSFORMER.laid(taken, {})
        key, unit = ("kva", "kVA") if in_va else ("kw", "kW")
        yield "full-load-amps", lambda: {key: f"{power.rating.value / 1000:g} {unit}", **_volts(taken)}
        if not in_va:
            yield "appliance-branch", lambda: APPLIANCE.laid(taken, {})


def _volts(taken: Taken) -> Json:
    volts = [each for group in taken.volts for each in group]
    return {"volts": f"{volts[0]:g}"} if len(volts) == 1 else {}
