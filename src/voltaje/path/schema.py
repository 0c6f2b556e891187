"""The open job file as JSON Schema; `docs/voltaje-job.schema.json` is its written copy."""

from __future__ import annotations

from typing import Any

from voltaje.inputs.declare import fields_of
from voltaje.inputs.schema import properties_of, required_of
from voltaje.inputs.shapes import LEG_NAMES, Json
from voltaje.limits import MOST_AMENDMENTS, MOST_ASSUMED, MOST_NODES, MOST_REASON
from voltaje.path.board import AreaSpec, BoardSpec, WaySpec
from voltaje.path.document import AMENDABLE, ASSUMABLE, FORMAT, VERSION
from voltaje.path.kinds import Kind
from voltaje.path.load import LoadSpec
from voltaje.path.model import Job, SupplySpec
from voltaje.path.results import TestResults
from voltaje.path.run import PathPins, RunSpec
from voltaje.path.surroundings import Surroundings
from voltaje.path.transformer import TransformerSpec
from voltaje.systems import SYSTEMS

_TYPED: Json = {"type": ["string", "number"]}
_TEXT: Json = {"type": "string", "maxLength": 80}
_ID: Json = {"type": "string", "pattern": "^[A-Za-z0-9_-]{1,40}$"}


def _object(properties: Json, required: tuple[str, ...] = ()) -> Json:
    return {"type": "object", "properties": properties, "required": list(required), "additionalProperties": False}


def _said(schema: Json, description: str, **more: Any) -> Json:
    return {**schema, "description": description, **more}


def _of(model: type, **more: Json) -> Json:
    return _object({**properties_of(model), **more}, tuple(required_of(model)))


_RUN = _of(RunSpec, **properties_of(Surroundings), pins=_said(_of(PathPins), "values fixed by hand"))
_NODE = _object(
    {
        "id": _ID,
        "kind": {"enum": [kind.value for kind in Kind]},
        "parent": _said(_ID, "of all but a source"),
        "name": _TEXT,
        "system": _said({"enum": list(SYSTEMS)}, "of a source"),
        "legs": _said(LEG_NAMES.schema, "of a board, transformer or dwelling that takes only some of its parent's"),
        "run": _said(_RUN, "the conductors that feed it, the device at their upstream end"),
        "load": _said(_of(LoadSpec), "of a load or an inverter"),
        "supply": _said(_of(SupplySpec), "of a source"),
        "transformer": _said(_of(TransformerSpec), "of a transformer"),
        "dwelling": {"type": "object", "description": "input of the dwelling tool; book and system come from the path"},
        **properties_of(BoardSpec),
        **properties_of(WaySpec),
        "note": _said({"type": "string", "maxLength": MOST_REASON}, "a person's own words about it"),
        "tests": _said(_of(TestResults), "of a circuit: results of its tests"),
        "assumed": _said(
            {"type": "array", "items": {"enum": list(ASSUMABLE)}, "maxItems": MOST_ASSUMED},
            "places that were filled without being said",
        ),
        "area": _said(_of(AreaSpec), "of a board: general lighting by area"),
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
                **properties_of(Job),
                "amendments": {"type": "array", "items": _AMENDMENT, "maxItems": MOST_AMENDMENTS, "default": []},
                "solved": {"type": "object", "description": "what an earlier solution gave, to tell what changed"},
                "nodes": {"type": "array", "items": _NODE, "minItems": 1, "maxItems": MOST_NODES},
            },
            ("format", "version", "book", "nodes"),
        ),
    }


_PLACES: tuple[tuple[str, tuple[type, ...]], ...] = (
    ("load", (LoadSpec,)),
    ("run", (RunSpec, Surroundings)),
    ("run.pins", (PathPins,)),
    ("supply", (SupplySpec,)),
    ("transformer", (TransformerSpec,)),
    ("area", (AreaSpec,)),
    ("", (BoardSpec, WaySpec)),
)


def places() -> dict[str, tuple[type, ...]]:
    """Return where in a node the declared fields lie, by the key of the object that holds them."""
    return dict(_PLACES)


def fields_as_markdown() -> str:
    """Return the declared fields as the table of the documentation."""
    rows = [
        f"| `{f'{place}.{each.key}' if place else each.key}` | {each.meaning} |"
        for place, models in _PLACES
        for model in models
        for each in fields_of(model)
    ]
    return "\n".join(["| field of a node | meaning |", "|---|---|", *rows, ""])
