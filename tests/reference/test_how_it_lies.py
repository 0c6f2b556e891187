"""Roofs, free air, devices listed for all of their rating, feeder taps: held against the clauses reckoned here."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.test_secondary_conductors import AMPACITY, SMALL
from tests.reference.test_sums import board, job, load, said
from voltaje.books.nec.run_tables import FREE_AIR, TERMINALS_C, ladder
from voltaje.errors import InputError
from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document


def run(**asked):
    return tools()["run"].run({"volts": 480, "phases": 3, "terminal_c": 75, **asked})["result"]


# Over a roof: 310.15(B)(2), 2017: 310.15(B)(3)(c)


@pytest.mark.parametrize(
    ("height", "insulation", "ambient", "factor"),
    [
        ("1/2 in", "THHN", 40, 0.50),  # 40 + 33 = 73: √((90 − 75) / 60) of its band
        ("0.5", "THWN-2", 27, 0.71),  # 60 °C: √((90 − 60) / 60)
        ("20 mm", "THHN", 30, 0.65),  # 63 °C, the band to 65
        ("7/8 in", "THHN", 40, 0.91),  # not nearer than that: its own ambient
        ("30 mm", "THHN", 40, 0.91),
        ("0", "XHHW-2", 40, 0.91),  # an insulation that the adder does not concern
    ],
)
def test_a_roof_in_the_sun_adds_to_the_ambient(height, insulation, ambient, factor):
    found = run(amps=60, insulation=insulation, ambient_c=ambient, over_roof=height)
    assert found["factor"] == factor


def test_too_hot_a_roof_is_refused_at_its_field():
    with pytest.raises(InputError) as refused:
        run(amps=20, insulation="SE", method="cable", ambient_c=45, over_roof="0")
    assert refused.value.field == "ambient_c"


# Free air: Table 310.17, the terminals by Table 310.16 all the same (110.14(C))


@pytest.mark.parametrize("material", ["Cu", "Al"])
def test_in_free_air_every_size_carries_more_and_more_of_itself(material):
    raceway, air = ladder("NEC 2023", material), ladder("NEC 2023", material, FREE_AIR)
    assert list(raceway) == list(air)
    for column in TERMINALS_C:
        assert all(air[size][column] > raceway[size][column] for size in raceway)
        steps = [air[size][column] for size in air]
        assert steps == sorted(steps)
    # A temperature rise of 60 K against 45 K: as √(60/45) of it, to the table's rounding.
    ratios = [air[size][90] / air[size][75] for size in air if size not in ("14", "12", "10")]
    assert all(1.08 < ratio < 1.2 for ratio in ratios)


def test_its_terminals_hold_back_what_free_air_lets_it_carry():
    """3/0: 350 A × 0.82 at 50 °C = 287, at its terminals 200; in a raceway 225 × 0.82 = 184.5."""
    air = run(amps=200, method="free air", ambient_c=50)
    assert (air["conductor"]["size"], air["ampacity_a"]) == ("3/0", 200)
    assert run(amps=200, ambient_c=50)["conductor"]["size"] == "4/0"
    with pytest.raises(InputError) as refused:
        run(amps=20, method="free air", insulation="NM-B")
    assert refused.value.field == "insulation"


def test_a_metal_clad_cable_is_corrected_from_90_and_ends_at_its_terminals():
    """330.80: eight conductors, 70 %: 6 AWG 75 × 0.7 = 52.5 under 65 at its terminals."""
    found = run(amps=50, insulation="MC", method="cable", bundled=8)
    assert (found["conductor"]["size"], found["ampacity_a"]) == ("6", 52.5)


# Listed for 100 %: 210.20(A) Exception, 215.3 Exception


@settings(max_examples=30, deadline=None)
@given(st.integers(20, 380))
def test_what_is_continuous_counts_as_it_is_where_the_assembly_is_listed_so(amps):
    usual, full = run(amps=amps, continuous_amps=amps), run(amps=amps, continuous_amps=amps, full_rated=True)
    assert usual["required_a"] == pytest.approx(1.25 * amps)
    assert full["required_a"] == amps
    assert full["device_a"] == run(amps=amps)["device_a"]


# Fractions of an ampere: 220.5(B)


@settings(max_examples=30, deadline=None)
@given(st.sampled_from([20, 60, 100, 200, 400]), st.floats(0.01, 0.99).map(lambda part: round(part, 2)))
def test_a_fraction_under_half_an_ampere_is_dropped_where_a_person_chose_so(rating, part):
    usual, dropped = run(amps=rating + part), run(amps=rating + part, whole_amperes=True)
    assert usual["device_a"] > rating
    assert (dropped["device_a"] == rating) is (part < 0.5)


# Feeder taps: 240.21(B)


def serves(size, main, feeder, feet):
    ampacity = AMPACITY[size]
    if ampacity < main or main > SMALL.get(size, main):
        return False
    return ampacity >= feeder / 10 if feet <= 10 else feet <= 25 and ampacity >= feeder / 3


@settings(max_examples=60, deadline=None)
@given(st.sampled_from([200, 400, 600, 800, 1200]), st.sampled_from([30, 60, 100, 200]), st.integers(2, 25))
def test_a_tap_is_the_smallest_that_the_clause_lets_be(feeder, main, feet):
    feeding, tap = board("f", device=feeder), board("t", "f", main_a=main)
    tap["run"] = {"length": f"{feet} ft", "role": "tap"}
    some = load("l", "t", rating=f"{main * 0.6} A", phases=3)
    found = solve_document(job(feeding, tap, some, system="480Y/277"))["nodes"]["t"]
    size, sizes = found["conductor"]["size"], list(AMPACITY)
    assert not said(found, "tap.not_held")
    assert found["device_a"] == main
    assert serves(size, main, feeder, feet)
    smaller = sizes[max(sizes.index(size) - 1, 0)]
    assert size == "14" or not serves(smaller, main, feeder, feet)
    # Its ground goes by the device before it, and is no larger than its lines (250.122(G)).
    ground = {200: "6", 400: "3", 600: "1", 800: "1/0", 1200: "3/0"}[feeder]
    assert found["equipment_ground"]["size"] == sizes[min(sizes.index(ground), sizes.index(size))]


@pytest.mark.parametrize(
    ("feet", "more", "holds"),
    [(26, {"main_a": 60}, False), (80, {"main_a": 60, "outdoors": True}, True), (20, {}, False), (8, {}, True)],
)
def test_where_no_rule_lets_it_be_it_is_a_stop(feet, more, holds):
    outdoors = more.pop("outdoors", False)
    tap = board("t", "f", **more)
    tap["run"] = {"length": f"{feet} ft", "role": "tap"} | ({"tap_place": "outdoors"} if outdoors else {})
    nodes = solve_document(
        job(board("f", device=400), tap, load("l", "t", rating="30 A", phases=3), system="480Y/277")
    )["nodes"]
    assert bool(said(nodes["t"], "tap.not_held")) is not holds


@pytest.mark.parametrize(
    ("feet", "feeder", "size", "holds"),
    [(90, 150, None, True), (101, 150, None, False), (90, 400, None, True), (90, 150, "8", False)],
)
def test_a_tap_of_a_high_bay(feet, feeder, size, holds):
    """240.21(B)(4), from memory: to 100 ft, one third of the feeder's device, 6 AWG copper at least."""
    tap = board("t", "f", main_a=40)
    pins = {"pins": {"size": size, "reason": "in stock"}} if size else {}
    tap["run"] = {"length": f"{feet} ft", "role": "tap", "tap_place": "high bay"} | pins
    nodes = solve_document(
        job(board("f", device=feeder), tap, load("l", "t", rating="20 A", phases=3), system="480Y/277")
    )["nodes"]
    assert bool(said(nodes["t"], "tap.not_held")) is not holds
    if holds:
        sizes = list(AMPACITY)
        least = next(each for each in sizes if AMPACITY[each] >= max(40, feeder / 3))
        assert nodes["t"]["conductor"]["size"] == max(least, "6", key=sizes.index)


def test_a_tap_of_nothing_is_refused():
    tap = board("t", main_a=60)
    tap["run"] |= {"role": "tap"}
    nodes = solve_document(job(tap, load("l", "t", rating="30 A", phases=3), system="480Y/277"))["nodes"]
    assert "there is none before it" in said(nodes["t"], "run.not_lawful")[0]["message"]
