"""What the pages print reads back the same, in every language that figures are written in."""

import pytest
from django.utils import translation
from hypothesis import given
from hypothesis import strategies as st

from voltaje.message import Figure, decimals_shown
from voltaje.quantity import read_amps, read_rating
from web.words.figures import write_figure

MARKS = {"en": ".", "es": ","}


@pytest.mark.parametrize("language", MARKS)
@given(st.floats(0.01, 9_999), st.integers(0, 2))
def test_a_figure_of_a_page_reads_back(language, value, decimals):
    printed = float(f"{value:.{decimals_shown(value, decimals)}f}")
    if not printed:
        return
    with translation.override(language):
        amps, kilowatts = (write_figure(Figure(value, unit, decimals)) for unit in ("A", "kW"))
    assert read_amps(amps, MARKS[language]) == pytest.approx(printed)
    assert read_rating(kilowatts, MARKS[language]).value == pytest.approx(printed * 1000)
