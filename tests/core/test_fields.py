"""Fields of the open file are declared once: the schema, the documentation and the kinds follow."""

import json
from pathlib import Path

import pytest

import voltaje
from voltaje.docs import made
from voltaje.inputs.declare import fields_of, keys_of
from voltaje.path.kinds import LOAD_KINDS, NODE_KINDS, Kind, LoadKind, said_of
from voltaje.path.schema import job_schema, places

LINKS = ("", "load", "demand", "device", "conductor", "drop", "reason")
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
