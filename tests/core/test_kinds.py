"""Every kind of load is let in at every door, and what holds of it holds there: a new one is asked for too."""

import pytest

from tests.core.jobs import solved
from voltaje.books.registry import find_book
from voltaje.path.kinds import LOAD_KINDS, LoadKind
from voltaje.path.schema import job_schema
from voltaje.speech.words import words_of
from web.drawing.symbols import SYMBOLS

RESISTIVE = [kind for kind, traits in LOAD_KINDS.items() if traits.resistive]
CONTINUOUS = [kind for kind, traits in LOAD_KINDS.items() if traits.continuous]


def one(kind, book="NEC 2023", **load):
    rating = load.pop("rating", "4 kW")
    return solved(
        {"kind": kind.value, "rating": rating, **load},
        book=book,
        **({"system": "230/400"} if find_book(book).terms.family == "iec" else {}),
    )["n0"]


@pytest.mark.parametrize("book", ["NEC 2017", "NEC 2023", "BS 7671", "SANS 10142-1"])
@pytest.mark.parametrize("kind", LoadKind)
def test_a_load_of_it_is_solved_or_says_what_it_lacks(kind, book):
    node = one(kind, book)
    assert node["device_a"] or any(found["severity"] == "stop" and found["mend"] for found in node["findings"])


@pytest.mark.parametrize("kind", LoadKind)
def test_it_is_in_the_schema_has_a_glyph_and_is_understood_by_its_words(kind):
    node = job_schema()["properties"]["nodes"]["items"]["properties"]
    assert kind.value in node["load"]["properties"]["kind"]["enum"]
    assert LOAD_KINDS[kind].glyph in {*SYMBOLS, "appliance"}
    for family in ("nec", "iec"):
        assert kind.value in words_of(family).kinds.values()


@pytest.mark.parametrize("kind", RESISTIVE)
def test_what_heats_says_how_much_less_it_heats_on_fewer_volts(kind):
    """(208/240)² is 75 %."""
    (found,) = [each for each in one(kind, volts=240, poles=2)["findings"] if each["code"] == "load.other_voltage"]
    assert "75 %" in found["message"]


@pytest.mark.parametrize("kind", LoadKind)
def test_only_what_a_clause_makes_continuous_is_taken_so_on_its_own_circuit(kind):
    """4 kW on 208 V are 19.2 A: a 20 A device, at 125 % one of 25 A; compressors and motors have rules of theirs."""
    if LOAD_KINDS[kind].motor or kind is LoadKind.RANGE:
        return
    assert one(kind, poles=2)["device_a"] == (25 if kind in CONTINUOUS else 20)
