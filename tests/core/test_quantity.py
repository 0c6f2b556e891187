"""Reading what people type."""

import doctest

import pytest
from hypothesis import given
from hypothesis import strategies as st

import voltaje.formula
import voltaje.message
import voltaje.rounding
from voltaje import quantity
from voltaje.errors import InputError
from voltaje.quantity import read_area, read_count, read_number, read_rating, with_point, with_unit


@pytest.mark.parametrize("module", [quantity, voltaje.formula, voltaje.message, voltaje.rounding])
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
        "13,9 kW",
        "1,23",
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
