"""What must hold of every run, in both families."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.books.answers import Choice
from voltaje.errors import Refused
from voltaje.formula import evaluate
from voltaje.tools.answer import as_pins
from voltaje.tools.quick import run

nec_runs = st.fixed_dictionaries(
    {
        "book": st.sampled_from(["NEC 2017", "NEC 2020", "NEC 2023"]),
        "amps": st.integers(1, 900),
        "volts": st.sampled_from([120, 208, 240, 480]),
        "phases": st.sampled_from([1, 3]),
        "length": st.integers(5, 900),
        "material": st.sampled_from(["Cu", "Al"]),
        "insulation": st.sampled_from(["THHN", "THWN-2", "XHHW-2", "NM-B", "SE"]),
        "bundled": st.integers(1, 12),
        "ambient_c": st.integers(10, 50),
        "power_factor": st.sampled_from([1, 0.85]),
    }
)
iec_runs = st.fixed_dictionaries(
    {
        "book": st.sampled_from(["BS 7671", "SANS 10142-1"]),
        "amps": st.integers(1, 300),
        "volts": st.sampled_from([230, 400]),
        "phases": st.sampled_from([1, 3]),
        "length": st.integers(5, 300),
        "insulation": st.sampled_from(["PVC 70", "XLPE 90"]),
        "cable": st.sampled_from(["singles", "multicore", "armoured"]),
        "method": st.just("C"),
        "bundled": st.integers(1, 6),
        "ambient_c": st.integers(20, 50),
    }
)
runs = st.one_of(nec_runs, iec_runs)
quick = settings(max_examples=60, deadline=None)


def answered(raw):
    """The answer, or None where no lawful one is to be had: a refusal that names a key."""
    try:
        return run.TOOL.run(raw)
    except Refused as refused:
        assert refused.field in run.RunAsked.asks()
        return None


@quick
@given(runs)
def test_steps_evaluate_and_solving_twice_is_identical(raw):
    found = answered(raw)
    assert found == answered(raw)
    for step in (found or {"steps": []})["steps"]:
        assert evaluate(step["formula"]) == pytest.approx(step["value"])
        assert step["rule"]


@quick
@given(runs)
def test_every_option_complies_when_fed_back(raw):
    found = answered(raw)
    for option in found["result"]["options"] if found else []:
        again = run.TOOL.run({**raw, **as_pins(option)})["result"]
        assert again["device_max_a"] >= again["device_a"] == option["device_a"]
        assert again["equipment_ground"] == option["equipment_ground"]
        assert again["drop_v"] == option["drop_v"]


@quick
@given(runs, st.sampled_from([15, 20, 32, 63, 100, 125, 400, 1000]), st.integers(1, 3))
def test_a_size_complies_where_nothing_is_objected_and_grows_with_it(raw, device, sets):
    """The quick test of a size says what the worded one says, and once it holds it holds for every larger size."""
    asked = run.RunAsked.read(raw)
    request, book = asked.as_run(), asked.book
    if device not in book.devices():
        return
    try:
        book.check(request)
    except Refused:
        return
    holds = [book.complying(request, device, sets)(size) for size in book.sizes(request)]
    assert holds == [not book.objections(request, Choice(device, size, sets)) for size in book.sizes(request)]
    assert holds == sorted(holds)


@quick
@given(runs, st.integers(1, 200))
def test_a_longer_run_never_has_less_drop_and_a_bigger_load_never_a_smaller_device(raw, more):
    found = answered(raw)
    longer = answered({**raw, "length": raw["length"] + more})
    bigger = answered({**raw, "amps": raw["amps"] + more})
    if found:
        assert longer["result"]["drop_v"] > found["result"]["drop_v"]
    if found and bigger:
        assert bigger["result"]["device_a"] >= found["result"]["device_a"]


@quick
@given(nec_runs)
def test_editions_agree_on_a_run(raw):
    results = [(answered({**raw, "book": book}) or {}).get("result") for book in ("NEC 2017", "NEC 2020", "NEC 2023")]
    assert results[0] == results[1] == results[2]


def test_the_same_run_in_both_families():
    """20 A over 30 m at 230 V: both choose a 20 A device, and their drops are within a fifth of each other."""
    nec = run.TOOL.run({"amps": 20, "volts": 230, "length": "30 m", "size": "12", "terminal_c": 75})["result"]
    iec = run.TOOL.run({"book": "BS 7671", "amps": 20, "volts": 230, "length": "30 m", "size": "4"})["result"]
    assert nec["device_a"] == iec["device_a"] == 20
    assert nec["drop_v"] / iec["drop_v"] == pytest.approx(4 / 3.31, rel=0.2)


@pytest.mark.parametrize(
    ("raw", "field"),
    [
        ({"volts": 240}, "amps"),
        ({"amps": 20}, "volts"),
        ({"amps": -1, "volts": 240}, "amps"),
        ({"amps": 20, "volts": 240, "continuous_amps": 21}, "continuous_amps"),
        ({"amps": 20, "volts": 240, "phases": 2}, "phases"),
        ({"amps": 20, "volts": 240, "book": "NEC 1999"}, "book"),
        ({"amps": 20, "volts": 240, "method": "tray"}, "method"),
        ({"amps": 20, "volts": 240, "method": "buried", "insulation": "THHN"}, "insulation"),
        ({"amps": 20, "volts": 240, "insulation": "TW"}, "insulation"),
        ({"amps": 20, "volts": 240, "ambient_c": 90}, "ambient_c"),
        ({"amps": 20, "volts": 240, "terminal_c": 65}, "terminal_c"),
        ({"amps": 50, "volts": 240, "size": "14"}, "size"),
        ({"amps": 50, "volts": 240, "size": "15"}, "size"),
        ({"amps": 50, "volts": 240, "device_a": 40}, "device_a"),
        ({"amps": 50, "volts": 240, "device_a": 55}, "device_a"),
        ({"amps": 50, "volts": 240, "size": "4", "sets": 2}, "sets"),
        ({"amps": 20, "volts": 240, "length": "long"}, "length"),
        ({"amps": 20, "volts": 240, "power_factor": 1.2}, "power_factor"),
        ({"amps": 20, "volts": 230, "book": "BS 7671", "method": "A", "cable": "armoured"}, "method"),
        ({"amps": 20, "volts": 230, "book": "BS 7671", "material": "Al"}, "material"),
        ({"amps": 20, "volts": 230, "book": "BS 7671", "bundled": 99}, "bundled"),
        ({"amps": 20, "volts": 230, "book": "BS 7671", "ambient_c": 80}, "ambient_c"),
        ({"amps": 32, "volts": 230, "book": "BS 7671", "size": "2.5"}, "size"),
        ({"amps": 32, "volts": 230, "book": "BS 7671", "method": "D", "soil_kmw": 3.5}, "soil_kmw"),
        ({"amps": 32, "volts": 230, "book": "BS 7671", "breaker_ambient": 1.2}, "breaker_ambient"),
        ({"amps": 20, "volts": 240, "raceway": "hose"}, "raceway"),
        ({"amps": 20, "volts": 240, "exempt": "because"}, "exempt"),
    ],
)
def test_each_refusal_names_the_key_that_stands_in_the_way(raw, field):
    with pytest.raises(Refused) as refused:
        run.TOOL.run(raw)
    assert refused.value.field == field
    assert str(refused.value.message)
