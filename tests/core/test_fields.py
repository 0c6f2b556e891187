"""Fields of the open file are declared once: the schema, the documentation and the kinds follow."""

import json
import re
from pathlib import Path

import pytest

import voltaje
from voltaje.docs import made
from voltaje.errors import InputError
from voltaje.inputs.declare import fields_of, keys_of
from voltaje.path.kinds import LOAD_KINDS, NODE_KINDS, Kind, LoadKind, said_of
from voltaje.path.schema import job_schema, places
from voltaje.tools.registry import tools

LINKS = ("", "load", "demand", "device", "conductor", "drop", "earth", "reason")
OF_TRANSFORMERS = ("kva", "inside", "secondary_conductor", "bond")
ROOT = Path(voltaje.__file__).parents[2]


@pytest.mark.parametrize("path", made(ROOT), ids=lambda path: path.name)
def test_what_the_documentation_is_made_of_is_as_the_code_has_it(path):
    """Where it is not: `./voltaje docs`."""
    assert path.read_text("utf-8") == made(ROOT)[path]


def test_every_declared_field_is_in_the_schema_with_its_meaning():
    node = job_schema()["properties"]["nodes"]["items"]
    for place, models in places().items():
        here = node
        for part in place.split(".") if place else ():
            here = here["properties"][part]
        for each in (field for model in models for field in fields_of(model)):
            assert here["properties"][each.key]["description"] == each.meaning
            assert each.meaning and each.link in (*LINKS, *OF_TRANSFORMERS)
            assert bool(each.label) == bool(each.link)
    assert json.dumps(node)


def test_no_key_stands_twice_at_one_place():
    for models in places().values():
        keys = [key for model in models for key in keys_of(model)]
        assert len(keys) == len(set(keys))


def test_every_kind_has_its_words():
    assert set(LOAD_KINDS) == set(LoadKind)
    assert set(NODE_KINDS) == set(Kind)
    assert said_of("water_heater").words == "storage water heater"
    assert said_of("no such kind").words == "no such kind"


def typed_fields():
    """Every field of path and sheets that is typed as an amount and shows its unit."""
    models = [model for some in places().values() for model in some] + [tool.asks for tool in tools().values()]
    for model in models:
        for each in fields_of(model):
            if each.shape.typed and re.fullmatch(r"[kM]?VA|k?A|V|%|ft|hp|°C|s|kW|Ω|VA/ft²|mV/A/m", each.hint):
                yield pytest.param(each, id=f"{model.__name__}.{each.key}")


@pytest.mark.parametrize("field", list(typed_fields()))
def test_an_amount_may_be_typed_with_the_unit_that_its_field_shows(field):
    number = 100 if field.key == "winding_percent" else 2.5

    def read(typed):
        value = field.shape.read(typed, "ft")
        return getattr(value, "value", value)

    try:
        plain = read(number)
    except InputError as unclear:  # a bare number that may be two amounts is refused
        assert "what" in str(unclear) or "unit" in str(unclear)
    else:
        assert read(f"{number} {field.hint}") == pytest.approx(plain)
