"""The run tool's input as JSON Schema: keys, units, defaults by family."""

from __future__ import annotations

from typing import Any

from voltaje.books.registry import books, every_choice
from voltaje.path.surroundings import EXEMPT

Json = dict[str, Any]

DEFAULT_BOOK = "NEC 2023"
_TYPED = {"type": ["string", "number"]}

KEYS: Json = {
    "book": {
        "type": "string",
        "default": DEFAULT_BOOK,
        "description": f"one of: {', '.join(books())}; short names too",
    },
    "amps": {**_TYPED, "description": "load current per line, in all"},
    "continuous_amps": {**_TYPED, "default": 0, "description": "the part of it that is continuous"},
    "volts": {**_TYPED, "description": "nominal: line to line on three phase"},
    "phases": {"enum": [1, 3], "default": 1},
    "length": {**_TYPED, "description": 'one way: "150 ft", "30 m"; a bare number is ft (NEC) or m (IEC)'},
    "material": {"enum": ["Cu", "Al"], "default": "Cu"},
    "insulation": {
        "type": "string",
        "description": "NEC: THHN, THWN-2 (default), XHHW-2, NM-B, UF-B, SE; IEC: PVC 70 (default), XLPE 90",
    },
    "method": {"type": "string", "description": "NEC: raceway (default), cable, buried; IEC: A to F, C by default"},
    "cable": {"enum": ["singles", "multicore", "armoured"], "description": "IEC; multicore by default"},
    "ambient_c": {**_TYPED, "description": "ambient or ground; the tables' base by default"},
    "bundled": {
        "type": ["integer", "string"],
        "description": "NEC: current-carrying conductors (3); IEC: circuits (1)",
    },
    "arrangement": {
        "enum": list(every_choice("arrangement")),
        "description": "IEC; bunched, or touching in the ground, by default",
    },
    "terminal_c": {"enum": [60, 75, 90], "description": "NEC; not given: 60 °C for 100 A and less, 75 °C above"},
    "sets": {"type": ["integer", "string"], "description": "parallel sets, pinned"},
    "device_a": {**_TYPED, "description": "the device, pinned"},
    "size": {"type": ["string", "integer"], "description": "the conductor, pinned"},
    "power_factor": {**_TYPED, "default": 1},
    "use": {"enum": ["lighting", "other"], "default": "other", "description": "for the IEC profiles' drop limit"},
    "supply": {"enum": ["public", "private"], "default": "public", "description": "for the IEC profiles' drop limit"},
    "raceway": {
        "enum": list(every_choice("raceway")),
        "description": "NEC: for conduit fill and impedance; PVC 40 by default",
    },
    "soil_kmw": {**_TYPED, "description": "IEC method D: thermal resistivity of the soil; the tables' 2.5 by default"},
    "insulated_mm": {
        **_TYPED,
        "description": "length in thermal insulation: Ci (IEC); any at all: SE up to 10 AWG at 60 °C (NEC)",
    },
    "rewireable_fuse": {"type": "boolean", "default": False, "description": "IEC: semi-enclosed fuse, Cf"},
    "breaker_ambient": {**_TYPED, "description": "IEC: what a modular breaker keeps at its ambient; 1 by default"},
    "breaker_neighbours": {**_TYPED, "description": "IEC: the same, beside its neighbours; 1 by default"},
    "breaker_enclosure": {**_TYPED, "description": "IEC: the same, in its enclosure; 1 by default"},
    "exempt": {
        "enum": [each for each in EXEMPT if each],
        "description": "NEC: why the limits of small conductors do not hold, 240.4(E) and (G)",
    },
    "round_up": {
        "type": "boolean",
        "default": True,
        "description": "NEC: false for branch circuits of several cord-and-plug outlets",
    },
}


def schema() -> Json:
    """Return the JSON Schema of the tool's input."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "run",
        "description": "One run: device, conductor, equipment ground, voltage drop and other lawful answers.",
        "type": "object",
        "properties": KEYS,
        "required": ["amps", "volts"],
        "additionalProperties": False,
    }
