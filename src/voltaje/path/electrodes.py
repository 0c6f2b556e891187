"""Grounding electrodes by name, as a person lists them."""

from __future__ import annotations

from typing import Any

from voltaje.errors import UnknownName
from voltaje.inputs.shapes import Shape
from voltaje.message import Message

NAMES = ("water pipe", "steel", "concrete-encased", "rod", "ring")
USUAL = NAMES[:-1]  # a ring is not where nobody says so


def _electrodes(raw: Any, _unit: str) -> tuple[str, ...]:
    items = [part.strip().lower() for part in raw.replace(";", ",").split(",")] if isinstance(raw, str) else raw
    if not isinstance(items, list) or any(item not in NAMES for item in items):
        raise UnknownName("", Message("must be a list of: {known}", known=list(NAMES)))
    return tuple(name for name in NAMES if name in items)


ELECTRODES = Shape(_electrodes, {"type": ["string", "array"]})
