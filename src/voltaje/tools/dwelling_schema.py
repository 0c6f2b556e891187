"""The dwelling tool's input as JSON Schema: keys, units, defaults."""

from __future__ import annotations

from typing import Any

from voltaje.books.dwellings import CookingKind, HeatingKind, Method, Occupancy, Terminals, books_with_a_sheet
from voltaje.rounding import HalfReading
from voltaje.systems import DWELLING_SYSTEMS

Json = dict[str, Any]

_TYPED = {"type": ["string", "number"]}
_LOAD: Json = {**_TYPED, "description": 'a rating: "4.5 kW", "14 200 VA", "48 A", "1½ hp"; a bare number is VA'}
_COUNT = {"type": ["integer", "string"]}


def _one_of(kinds: type[Any], default: Any, description: str) -> Json:
    return {"enum": [kind.value for kind in kinds], "default": default, "description": description}


def _list(items: Json, description: str) -> Json:
    return {"type": "array", "items": items, "default": [], "maxItems": 60, "description": description}


def _item(properties: Json, required: list[str]) -> Json:
    return {"type": "object", "properties": properties, "required": required, "additionalProperties": False}


_APPLIANCE = _item(
    {
        "name": {"type": "string", "default": ""},
        "load": _LOAD,
        "volts": {
            **_TYPED,
            "description": "120 or 240 V as it is wired; not given: amperes count at line-to-line volts, "
            "and the load stays on the neutral",
        },
        "motor": {"type": "boolean", "default": False, "description": "true by default where the load is in hp"},
        "fastened": {"type": "boolean", "default": True, "description": "fastened in place"},
    },
    ["load"],
)
_COOKING = _item(
    {
        "kind": _one_of(CookingKind, "range", "what it is"),
        "load": {**_LOAD, "description": "rating of one"},
        "count": {**_COUNT, "default": 1},
    },
    ["load"],
)
_HEATING = _item(
    {
        "kind": _one_of(HeatingKind, "resistance", "how it heats"),
        "load": {**_LOAD, "description": "load in all"},
        "units": {**_COUNT, "default": 1, "description": "separately controlled units in it"},
        "locked_out": {
            "type": "boolean",
            "default": False,
            "description": "heat pump supplement: never runs with the compressor",
        },
    },
    ["load"],
)

KEYS: Json = {
    "book": {"enum": list(books_with_a_sheet()), "default": "NEC 2023"},
    "system": {"enum": list(DWELLING_SYSTEMS), "default": "120/240 1ph 3w"},
    "method": _one_of(Method, "standard", "the method whose result sizes the service; the other is shown beside"),
    "occupancy": _one_of(
        Occupancy, "one-family", "a house with its own service, or one dwelling unit of a larger building on a feeder"
    ),
    "floor_area": {**_TYPED, "description": 'outside dimensions: "2340 ft2", "217 m²"; a bare number is ft²'},
    "small_appliance_circuits": {**_COUNT, "default": 2, "description": "2 at least"},
    "laundry_circuits": {**_COUNT, "default": 1, "description": "1 at least; 0 for a unit with a common laundry"},
    "appliances": _list(_APPLIANCE, "all but cooking, dryers, heating, cooling and chargers"),
    "dryers": _list(_LOAD, "household electric dryers, one rating each"),
    "cooking": _list(_COOKING, "household electric cooking units"),
    "heating": _list(_HEATING, "electric space heating"),
    "cooling": {**_LOAD, "description": "all the cooling that can run at one time; 0 or left out: none"},
    "vehicle_chargers": _list(_LOAD, "vehicle charging equipment, one rating each"),
    "conductor_material": {"enum": ["Cu", "Al"], "default": "Cu"},
    "terminals": _one_of(
        Terminals, "75", "what the service equipment is marked for; unmarked counts as 60 °C up to 100 A"
    ),
    "exact_half_kw": _one_of(
        HalfReading, "counts", "ranges table: whether exactly half a kilowatt is a major fraction; usual: it counts"
    ),
}


def schema() -> Json:
    """Return the JSON Schema of the tool's input."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "dwelling",
        "description": "The load of a dwelling and its service, by the standard or the optional method.",
        "type": "object",
        "properties": KEYS,
        "required": ["floor_area"],
        "additionalProperties": False,
    }
