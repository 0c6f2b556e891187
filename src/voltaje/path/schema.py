"""The open job file as JSON Schema; `docs/voltaje-job.schema.json` is its written copy."""

from __future__ import annotations

from typing import Any

from voltaje.limits import MOST_AMENDMENTS, MOST_NODES
from voltaje.path.document import AMENDABLE, FORMAT, LEGS, SUPPLIES, VERSION
from voltaje.path.model import DwellingsMethod, Kind, LoadKind, Role, Terminals
from voltaje.path.surroundings import EXEMPT
from voltaje.systems import SYSTEMS

Json = dict[str, Any]

_TYPED: Json = {"type": ["string", "number"]}
_SHARE: Json = {"type": ["number", "string", "boolean"], "description": "a share 0 to 1; true is 1"}
_TEXT: Json = {"type": "string", "maxLength": 80}
_ID: Json = {"type": "string", "pattern": "^[A-Za-z0-9_-]{1,40}$"}
_LEGS: Json = {"type": "array", "items": {"enum": list(LEGS)}, "uniqueItems": True, "default": []}
_COUNT: Json = {"type": ["integer", "string"]}


def _object(properties: Json, required: tuple[str, ...] = ()) -> Json:
    return {"type": "object", "properties": properties, "required": list(required), "additionalProperties": False}


def _said(schema: Json, description: str, **more: Any) -> Json:
    return {**schema, "description": description, **more}


_PINS = _object(
    {
        "device_a": _said(_TYPED, "the device [A]"),
        "size": _said({"type": "string"}, "the conductor, as its table has it"),
        "sets": _said(_COUNT, "conductors in parallel"),
        "length": _said(_TYPED, "the length that counts, as measured"),
        "demand_va": _said(_TYPED, "the demand [VA]"),
        "reason": _said(_TEXT, "why it is fixed"),
    }
)
_RUN = _object(
    {
        "length": _said(_TYPED, 'one way: "85 ft", "30 m"; a bare number is ft (NEC) or m (IEC)'),
        "material": _said({"enum": ["Cu", "Al"]}, "of the conductors", default="Cu"),
        "insulation": _said(_TEXT, "THWN-2 (NEC) or PVC 70 (IEC) by default"),
        "method": _said(_TEXT, "raceway, cable, buried (NEC); A to F (IEC); raceway or C by default"),
        "cable": _said(_TEXT, "singles, multicore, armoured (IEC); multicore by default"),
        "raceway": _said(_TEXT, "PVC 40 (default), PVC 80, EMT, RMC (NEC)"),
        "ambient_c": _said(_TYPED, "ambient or ground, °C where it has no unit; the tables' base by default"),
        "bundled": _said(_COUNT, "current-carrying conductors (NEC) or circuits (IEC) together"),
        "arrangement": _said(
            _TEXT,
            "bunched, wall, tray, buried touching, buried ducts touching (IEC); by its method by default",
        ),
        "sets": _said(_COUNT, "conductors in parallel"),
        "terminal_c": _said(_TYPED, "what the terminals of this run are marked for; the job's by default"),
        "role": _said(
            {"enum": [each.value for each in Role]},
            "service, feeder, or derived (from a transformer); by what it comes from by default",
        ),
        "soil_kmw": _said(_TYPED, "thermal resistivity of the soil [K·m/W] (IEC)"),
        "insulated_mm": _said(_TYPED, "length in thermal insulation [mm]"),
        "rewireable_fuse": _said({"type": "boolean"}, "semi-enclosed fuse (IEC)", default=False),
        "breaker_ambient": _said(_TYPED, "what a modular breaker keeps at its ambient (IEC)", default=1),
        "breaker_neighbours": _said(_TYPED, "the same beside its neighbours (IEC)", default=1),
        "breaker_enclosure": _said(_TYPED, "the same in its enclosure (IEC)", default=1),
        "exempt": _said({"enum": [each for each in EXEMPT if each]}, "why small-conductor limits do not hold (NEC)"),
        "pins": _said(_PINS, "values fixed by hand"),
    }
)
_LOAD = _object(
    {
        "kind": _said(
            {"enum": [kind.value for kind in LoadKind]}, "as demand rules tell loads apart", default="general"
        ),
        "rating": _said(_TYPED, 'of one: "4.5 kW", "180 VA", "16 A", "5 hp"; a bare number is VA'),
        "volts": _said(_TYPED, "what the equipment is rated for; the supply's own by default"),
        "phases": _said({"enum": [1, 3, "1", "3"]}, "3 on three poles or legs, else 1, by default"),
        "poles": _said({"enum": [1, 2, 3, "1", "2", "3"]}, "to neutral where the system has one, by default"),
        "legs": _said(_LEGS, "by the order of ways by default"),
        "way": _said(_COUNT, "place in the board; two neighbouring ways share a leg (NEC)"),
        "count": _said(_COUNT, "how many such", default=1),
        "power_factor": _said(_TYPED, "lagging", default=1),
        "continuous": _said(_SHARE, "three hours or more; by its kind where not given"),
        "nonlinear": _said(_SHARE, "share of nonlinear load", default=0),
        "group": _said(_TEXT, "noncoincident loads: of one group only the largest counts"),
        "neutral_group": _said(_TEXT, "circuits that share a neutral"),
        "diversity": _said(_SHARE, "entered by the designer (IEC)", default=1),
        "household": _said({"type": "boolean"}, "household range or dryer (NEC); true on a single phase by default"),
    },
    ("rating",),
)
_TRANSFORMER = _object(
    {
        "kva": _TYPED,
        "secondary": {"enum": list(SYSTEMS)},
        "connection": _TEXT,
        "impedance_percent": _TYPED,
    },
    ("kva", "secondary"),
)
_AREA = _object(
    {
        "floor_area": _said(_TYPED, 'for general lighting by area (NEC): "3000 ft2", "280 m²"'),
        "occupancy": _said(_TEXT, "as the table of unit loads has it"),
        "va_per_ft2": _said(_TYPED, "a unit load of your own in place of the table's"),
    },
    ("floor_area",),
)
_NODE = _object(
    {
        "id": _ID,
        "kind": {"enum": [kind.value for kind in Kind]},
        "parent": _said(_ID, "of all but a source"),
        "name": _TEXT,
        "system": _said({"enum": list(SYSTEMS)}, "of a source"),
        "legs": _said(_LEGS, "of a board, transformer or dwelling that takes only some of its parent's"),
        "run": _said(_RUN, "the conductors that feed it, the device at their upstream end"),
        "load": _said(_LOAD, "of a load or an inverter"),
        "transformer": _TRANSFORMER,
        "dwelling": {"type": "object", "description": "input of the dwelling tool; book and system come from the path"},
        "diversity": _said(_SHARE, "of a board, entered by the designer (IEC)", default=1),
        "area": _said(_AREA, "of a board: general lighting by area"),
        "dwellings": {"enum": [each.value for each in DwellingsMethod], "default": "standard"},
    },
    ("id", "kind"),
)
_AMENDMENT = _object(
    {
        "limit": {"enum": list(AMENDABLE)},
        "value": _said(_TYPED, "per cent, or a size"),
        "reason": {"type": "string", "maxLength": 200},
    },
    ("limit", "value", "reason"),
)


def job_schema() -> Json:
    """Return the JSON Schema of the open job file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Voltaje job",
        **_object(
            {
                "format": {"const": FORMAT},
                "version": {"const": VERSION},
                "name": _TEXT,
                "book": _said({"type": "string"}, "full name with its edition, or the short name"),
                "terminals": {"enum": [each.value for each in Terminals], "default": Terminals.UNMARKED.value},
                "region": _TEXT,
                "supply": _said({"enum": list(SUPPLIES)}, "for the drop limits of IEC profiles", default="public"),
                "ambient_c": _said(_TYPED, "ambient of runs that say none, °C where no unit is given"),
                "amendments": {"type": "array", "items": _AMENDMENT, "maxItems": MOST_AMENDMENTS, "default": []},
                "solved": {"type": "object", "description": "what an earlier solution gave, to tell what changed"},
                "nodes": {"type": "array", "items": _NODE, "minItems": 1, "maxItems": MOST_NODES},
            },
            ("format", "version", "book", "nodes"),
        ),
    }
