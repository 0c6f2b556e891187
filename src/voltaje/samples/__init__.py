"""The sample world as open job files."""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Any

NAMES = ("marrow-creek", "cinder-lane", "slipway")


def sample(name: str) -> dict[str, Any]:
    """Return a sample job's document."""
    document: dict[str, Any] = json.loads((files(__package__ or "") / f"{name}.json").read_text("utf-8"))
    return document
