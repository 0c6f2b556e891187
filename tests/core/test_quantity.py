"""Reading what people type."""

import doctest
import re
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import voltaje.formula
import voltaje.message
import voltaje.rounding
from voltaje import quantity, typed
from voltaje.errors import InputError
from voltaje.message import Figure, decimals_shown, write_figure
from voltaje.quantity import (
    read_amps,
    read_area,
    read_count,
    read_length,
    read_nameplate,
    read_number,
    read_ohms,
    read_rating,
    read_share,
    read_temperature,
    read_volts,
    read_watts,
)
from voltaje.typed import with_point, with_unit


@pytest.mark.parametrize("module", [quantity, typed, voltaje.formula, voltaje.message, voltaje.rounding])
def test_examples_in_docstrings(module):
    tried = doctest.testmod(module)
    assert tried.attempted > 0
    assert tried.failed == 0


@pytest.mark.parametrize(
    ("typed", "value", "unit"),
    [
        ("13.9 kW", 13_900, "VA"),
        ("14 200 VA", 14_200, "VA"),
        ("14\u2009200 VA", 14_200, "VA"),
        ("14,200 VA", 14_200, "VA"),
        ("1,234,567.5 w", 1_234_567.5, "VA"),
        ("7.5 hp", 7.5, "hp"),
        ("½ hp", 0.5, "hp"),
        ("1/2 hp", 0.5, "hp"),
        ("1½ hp", 1.5, "hp"),
        ("1-1/2 hp", 1.5, "hp"),
        ("1 1/2 HP", 1.5, "hp"),
        ("40 A", 40, "A"),
        ("40a", 40, "A"),
        ("4500", 4500, "VA"),
        (4500, 4500, "VA"),
        (0.5, 0.5, "VA"),
    ],
)
def test_ratings(typed, value, unit):
    rating = read_rating(typed)
    assert (rating.value, rating.unit) == (value, unit)


@pytest.mark.parametrize("typed", ["2340 ft2", "2,340 ft²", "2340", 2340, "2340 sq ft"])
def test_areas_in_square_feet(typed):
    assert read_area(typed)[1] == 2340


def test_area_in_square_metres():
    """The international foot is 0.3048 m exactly."""
    assert read_area("217 m²")[1] == pytest.approx(217 / 0.3048**2)


@pytest.mark.parametrize(
    "typed",
    [
        "",
        "kW",
        "120/240 V",
        "22/11 A",
        "480/277",
        "4/8 hp",
        "1/240",
        "1.2.3",
        "12 34",
        "1,234 567",
        "1/0 hp",
        "3/2-1 hp",
        "1 5/4 hp",
        "--5",
        "5 kWh",
        "5 volts",
        "5 m",
        "٣ kW",
        "1e5",
        "nan",
        "inf",
        "9" * 61,
        True,
        None,
        [],
        float("nan"),
        float("inf"),
        10**400,
        "\x00",
        "5\n000 x",
    ],
)
def test_nonsense_is_refused_with_a_reason(typed):
    with pytest.raises(InputError) as refused:
        read_rating(typed)
    assert str(refused.value.message)


def test_heating_output_is_not_taken_for_electrical_input():
    with pytest.raises(InputError, match="output"):
        read_rating("24000 BTU/h")


@pytest.mark.parametrize("plate", ["120/240", "208/120", "22/11", "6.8/3.4", "230/115", "3/2", "13.2/12.4"])
def test_two_ratings_of_a_plate_are_never_a_fraction(plate):
    with pytest.raises(InputError) as refused:
        read_amps(plate)
    words = str(refused.value)
    assert all(each in words for each in plate.split("/"))  # both are offered


@given(
    st.integers(0, 40),
    st.sampled_from([Fraction(top, bottom) for bottom in (2, 3, 4, 5, 8, 16, 32, 64) for top in range(1, bottom)]),
)
def test_a_fraction_as_printed_reads_back(whole, part):
    printed = f"{whole} {part.numerator}/{part.denominator}" if whole else f"{part.numerator}/{part.denominator}"
    assert read_number(printed) == pytest.approx(whole + part)
    assert read_number(printed.replace(" ", "-")) == pytest.approx(whole + part)


@given(st.text("0123456789/ -.,½", min_size=1, max_size=9))
def test_no_plate_gives_another_value_than_the_grammar_written_out(text):
    try:
        value = read_number(text)
    except InputError:
        return
    assert value == pytest.approx(slowly(text.strip()))


def slowly(text):
    """The grammar of a number, written out: what it may be, and nothing else."""
    if text[0] == "-":
        return -slowly(text[1:].strip())
    if text[-1] == "½":
        return 0.5 + (float(text[:-1].rstrip(" -")) if text[:-1] else 0)
    if "/" in text:
        top, bottom = text.replace("-", " ").split("/")
        *whole, top = top.split()
        return sum(map(float, whole)) + float(Fraction(int(top), int(bottom)))
    marks = [each for each in text if each in ",."]
    if not marks:
        return float(text.replace(" ", ""))
    if len(marks) == 1:
        before, after = re.split("[,.]", text)
        grouped = marks[0] == "," and len(after) == 3 and before not in ("", "0")
        return float(before.replace(" ", "") + ("" if grouped else ".") + after)
    if "." not in marks:
        return float(text.replace(",", ""))
    whole, _point, part = text.rpartition(".")
    return float(whole.replace(",", "") + "." + part)


@pytest.mark.parametrize(("typed", "volts"), [("15 kV", 15_000), ("0.4 kV", 400), ("600D", 600), ("600 V", 600)])
def test_volts_as_plates_have_them(typed, volts):
    assert read_volts(typed) == volts


def test_volts_of_a_wye_are_two_and_both_are_offered():
    with pytest.raises(InputError, match="208 or 120"):
        read_volts("208Y/120")


def test_a_nameplate_needs_its_unit():
    with pytest.raises(InputError, match=r"14\.2 kW or 14\.2 A"):
        read_nameplate(14.2)
    assert read_nameplate("14.2 kW").value == 14_200


def test_a_comma_that_groups_nothing_is_a_decimal_mark():
    assert [read_number(text) for text in ("2,2", "13,9", "0,125", "1,2345")] == [2.2, 13.9, 0.125, 1.2345]
    assert read_number("14,200") == 14_200


def test_decimal_comma_by_locale():
    assert read_number("13,9", ",") == 13.9
    assert read_number("14.200,5", ",") == 14_200.5
    assert with_point("8,2 kW", ",") == "8.2 kW"
    with pytest.raises(InputError):  # 14200 or 14.2
        read_number("14.200", ",")


def test_a_kept_value_carries_its_unit():
    assert with_unit("2,340", "ft²") == "2,340 ft²"
    assert with_unit("½ hp", "VA") == "½ hp"
    assert with_unit("nonsense", "VA") == "nonsense"


@given(st.integers(0, 10**9), st.integers(0, 99))
def test_grouping_never_changes_a_number(whole, cents):
    plain = f"{whole}.{cents:02}"
    assert read_number(f"{whole:,}.{cents:02}") == read_number(plain) == float(plain)
    assert read_number(f"{whole:,}".replace(",", "\u202f")) == whole


@given(st.text(max_size=20))
def test_any_text_is_read_or_refused(typed):
    for read in (read_rating, read_area, lambda text: read_count(text, 0, 99)):
        try:
            read(typed)
        except InputError as refused:
            assert str(refused.message)


@pytest.mark.parametrize(("low", "high", "typed"), [(2, 50, "1"), (2, 50, "2.5"), (2, 50, "51"), (1, 5, True)])
def test_counts_out_of_range(low, high, typed):
    with pytest.raises(InputError):
        read_count(typed, low, high)


READS = {
    "A": read_amps,
    "V": read_volts,
    "Ω": read_ohms,
    "VA": lambda text: read_rating(text).value,
    "kVA": lambda text: read_rating(text).value / 1000,
    "kW": lambda text: read_rating(text).value / 1000,
    "hp": lambda text: read_rating(text).value,
    "ft": lambda text: read_length(text, "m")[1] / 0.3048,
    "m": lambda text: read_length(text, "ft")[1],
    "ft²": lambda text: read_area(text)[1],
    "°C": read_temperature,
    "W": read_watts,
    "%": lambda text: read_share(text) * 100,
}


@pytest.mark.parametrize("unit", READS)
@given(st.floats(0.001, 99.9) | st.integers(1, 9_999).map(float), st.integers(0, 3))
def test_what_is_printed_reads_back_the_same(unit, value, decimals):
    if unit in ("%", "°C"):
        value = min(value, 60)
    printed = write_figure(Figure(value, unit, decimals))
    shown = float(f"{value:.{decimals_shown(value, decimals)}f}")
    if shown:
        assert READS[unit](printed) == pytest.approx(shown, rel=1e-9)


@pytest.mark.parametrize("amps", [0.25, 1.6, 2.5, 6.25])
def test_a_small_fuse_is_never_told_as_another(amps):
    assert write_figure(Figure(amps, "A")) == f"{amps:g} A"


# Plates: a number written one of many ways, a unit written one of many ways, and what they mean by construction
NUMBERS = st.one_of(
    st.integers(1, 99_999).map(lambda n: (str(n), n)),
    st.integers(1_000, 999_999).map(lambda n: (f"{n:,}", n)),
    st.tuples(st.integers(0, 999), st.integers(1, 9)).map(lambda n: (f"{n[0]}.{n[1]}", n[0] + n[1] / 10)),
    st.tuples(st.integers(1, 999), st.integers(1, 9)).map(lambda n: (f"{n[0]},{n[1]}", n[0] + n[1] / 10)),
    st.integers(1, 99).map(lambda n: (f"{n}½", n + 0.5)),
    st.tuples(st.integers(1, 99), st.sampled_from(["-", " "])).map(lambda n: (f"{n[0]}{n[1]}1/2", n[0] + 0.5)),
    st.sampled_from([("1/2", 0.5), ("3/4", 0.75), ("¼", 0.25), ("1/3", 1 / 3)]),
)
UNITS = {
    "VA": ("VA", 1),
    "va": ("VA", 1),
    "kVA": ("VA", 1000),
    "KVA": ("VA", 1000),
    "W": ("VA", 1),
    "kW": ("VA", 1000),
    "KW": ("VA", 1000),
    "A": ("A", 1),
    "amps": ("A", 1),
    "hp": ("hp", 1),
    "HP": ("hp", 1),
}


@settings(max_examples=5_000, deadline=None)
@given(NUMBERS, st.sampled_from(list(UNITS)), st.sampled_from(["", " ", "  "]))
def test_a_plate_means_what_it_says(number, unit, between):
    typed, value = number
    kind, times = UNITS[unit]
    try:
        found = read_nameplate(f"{typed}{between}{unit}")
    except InputError as error:
        assert str(error)
        return
    assert (found.value, found.unit) == (pytest.approx(value * times), kind)


@given(NUMBERS)
def test_a_plate_without_its_unit_is_refused_with_what_it_may_be(number):
    with pytest.raises(InputError):
        read_nameplate(number[0])
