"""The appliances of a kitchen that share one circuit, as the open file has them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from voltaje.errors import InputError
from voltaje.inputs.shapes import LENGTH, RATING, TEXT, Shape
from voltaje.message import Message
from voltaje.quantity import Rating


@dataclass(frozen=True)
class CookerSpec:
    """A cooking appliance on a circuit that it may share: range, cooktop or oven, its nameplate, its tap's length."""

    kind: str
    rating: Rating
    name: str = ""
    length_m: float | None = None


_COOKERS = ("range", "cooktop", "oven")
_MOST_COOKERS = 6


def _cooker(raw: Any, unit: str) -> CookerSpec:
    if not isinstance(raw, dict) or not set(raw) <= {"kind", "load", "name", "length"}:
        raise InputError("", Message("must be an object with kind, load, name and length"))
    if raw.get("kind") not in _COOKERS:
        raise InputError("", Message("must be one of: {known}", known=list(_COOKERS)))
    rating = RATING.read(raw.get("load"), unit)
    if rating.unit != "VA":
        raise InputError("", Message("give it in kW or VA"))
    length = None if raw.get("length") in (None, "") else LENGTH.read(raw["length"], unit)
    return CookerSpec(str(raw["kind"]), rating, TEXT.read(raw.get("name", ""), unit), length)


def _cookers(raw: Any, unit: str) -> tuple[CookerSpec, ...]:
    if not isinstance(raw, list) or len(raw) > _MOST_COOKERS:
        raise InputError("", Message("must be a list of at most {most}", most=_MOST_COOKERS))
    return tuple(_cooker(each, unit) for each in raw)


COOKERS = Shape(
    _cookers,
    {
        "type": "array",
        "maxItems": _MOST_COOKERS,
        "items": {
            "type": "object",
            "properties": {
                "kind": {"enum": list(_COOKERS)},
                "load": RATING.schema,
                "name": TEXT.schema,
                "length": LENGTH.schema,
            },
            "required": ["kind", "load"],
            "additionalProperties": False,
        },
    },
)
