"""Declared fields as JSON Schema."""

from __future__ import annotations

from voltaje.inputs.declare import Items, fields_of, lists_of
from voltaje.inputs.shapes import Json

DRAFT = "https://json-schema.org/draft/2020-12/schema"


def properties_of(model: type) -> Json:
    """Return a model's fields as properties, each with its meaning and what is taken where it is not given."""
    found = {}
    for each in fields_of(model):
        shown = {} if each.shown is None else {"default": each.shown}
        found[each.key] = {**each.shape.schema, "description": each.meaning, **shown}
    return found


def required_of(model: type) -> list[str]:
    """Return the keys that must be given."""
    lists = [each.key for each in lists_of(model) if each.required]
    return [*(each.key for each in fields_of(model) if each.required), *lists]


def schema_of(model: type, title: str, description: str) -> Json:
    """Return the JSON Schema of a model with its lists."""
    head: Json = {"$schema": DRAFT, "title": title, "description": description}
    return {**head, **_object(model)}


def _object(model: type) -> Json:
    lists = {each.key: _list(each) for each in lists_of(model)}
    found: Json = {"type": "object", "properties": {**properties_of(model), **lists}}
    return {**found, "required": required_of(model), "additionalProperties": False}


def _list(items: Items) -> Json:
    least = {"minItems": 1} if items.required else {}
    return {"type": "array", "items": _object(items.model), **least, "maxItems": items.most}
