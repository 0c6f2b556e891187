"""What is worked out is said in the units of the job's own book."""

import pytest

from voltaje.quantity import mass_by
from voltaje.samples import sample
from voltaje.tools.solve import solve_document


def test_a_pound_is_what_it_is_defined_as():
    assert mass_by(0.45359237, "ft") == (1.0, "lb")  # international pound, 1959
    assert mass_by(2.0, "m") == (2.0, "kg")


@pytest.mark.parametrize(("name", "node", "unit"), [("cinder-lane", "k1", "ft"), ("slipway", "js1", "m")])
def test_the_longest_run_is_said_in_the_units_of_its_book(name, node, unit):
    solved = solve_document(sample(name), node)
    longest = [step for step in solved["nodes"][node]["steps"] if step["label"].startswith("Longest run")]
    assert longest
    assert {step["unit"] for step in longest} == {unit}
