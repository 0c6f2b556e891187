"""The options of a run: lawful, told apart, and ordered by what they cost."""

import itertools

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.core.test_run import answered, runs
from voltaje.tools.quick import run

quick = settings(max_examples=50, deadline=None)


def rows(raw):
    """The answer and its options."""
    found = answered(raw)
    assume(found)
    return found["result"], found["result"]["options"]


def answer_of(option):
    """What tells an option apart."""
    conductor = option["conductor"]
    return option["device_a"], conductor["size"], conductor["material"], conductor["sets"]


@quick
@given(runs)
def test_options_cost_more_from_row_to_row_and_none_stands_twice(raw):
    _mine, options = rows(raw)
    assert all(one["metal_kg"] <= other["metal_kg"] + 1e-9 for one, other in itertools.pairwise(options))
    assert len({answer_of(option) for option in options}) == len(options)
    assert all(option["remark"] for option in options)


@quick
@given(runs)
def test_the_answer_itself_is_among_its_options(raw):
    mine, options = rows(raw)
    known = {answer_of(option) for option in options}
    assert answer_of(mine) in known


@quick
@given(runs)
def test_more_metal_of_one_kind_on_one_device_never_drops_more(raw):
    _mine, options = rows(raw)
    for one, other in itertools.combinations(options, 2):
        alike = all(one["conductor"][key] == other["conductor"][key] for key in ("material", "sets"))
        if alike and one["device_a"] == other["device_a"] and one["drop_v"] is not None:
            assert other["drop_v"] <= one["drop_v"] + 1e-9


@quick
@given(runs, st.data())
def test_an_option_pinned_keeps_its_device_and_says_nothing_is_wrong(raw, data):
    mine, options = rows(raw)
    option = data.draw(st.sampled_from(options))
    device, size, material, sets = answer_of(option)
    pinned = run.TOOL.run({**raw, "material": material, "device_a": device, "size": size, "sets": sets})
    assert answer_of(pinned["result"]) == (device, size, material, sets)
    stops = [finding for finding in pinned["findings"] if finding["severity"] == "stop"]
    own = answer_of(option) == answer_of(mine)
    assert all(own and finding["field"] == "length" for finding in stops)
    assert pinned["result"]["drop_v"] == pytest.approx(option["drop_v"])
    assert pinned["result"]["equipment_ground"] == option["equipment_ground"]


@pytest.mark.parametrize(
    ("amps", "feet", "least"),
    [
        # Mass of metal by its density, 8.96 and 2.70 kg/dm³, on the areas of chapter 9, Table 8 (as remembered):
        # 12 AWG 6,530 cmil is 3.31 mm²; three conductors (two lines and the ground) of 30.5 m.
        (16, 100, 3 * 3.31e-6 * 30.48 * 8960),
        (24, 100, (2 * 5.26 + 5.26) * 1e-6 * 30.48 * 8960),
    ],
)
def test_the_metal_of_an_option_is_its_mass(amps, feet, least):
    found = run.TOOL.run({"book": "NEC 2023", "amps": amps, "volts": 240, "phases": 1, "length": feet})
    copper = [option for option in found["result"]["options"] if option["conductor"]["material"] == "Cu"]
    assert copper[0]["metal_kg"] == pytest.approx(least, rel=0.02)
