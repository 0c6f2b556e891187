"""The single-line drawing: from 3 to 150 nodes nothing lies on anything else, and wires do not cross."""

import itertools
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.books.registry import find_book
from voltaje.systems import SYSTEMS
from web.drawing.supply import supply_picture
from web.drawing.symbols import SYMBOLS, symbol
from web.jobs.openfile import from_open
from web.jobs.sample import sample_document
from web.jobs.solving import solve_job
from web.words.trade import supply_words
from web.workbench.single_line import ROW, single_line


def drawn(document, iec=False):
    book = "BS 7671" if iec else "NEC 2023"
    return single_line(document, solve_job(document).solution, find_book(book).terms)


@st.composite
def trees(draw):
    """A job of boards and circuits of any shape."""
    count = draw(st.integers(3, 150))
    nodes = [{"id": "src", "kind": "source", "system": "208Y/120"}, {"id": "b0", "kind": "board", "parent": "src"}]
    boards = ["b0"]
    for at in range(count - 2):
        parent = boards[draw(st.integers(0, len(boards) - 1))]
        if draw(st.integers(0, 5)) == 0 and len(boards) < 6:
            boards.append(f"n{at}")
            nodes.append({"id": f"n{at}", "kind": "board", "parent": parent})
        else:
            kind = draw(st.sampled_from(["lighting", "sockets", "motor", "heating"]))
            nodes.append({"id": f"n{at}", "kind": "load", "parent": parent, "load": {"kind": kind, "rating": "500 VA"}})
    return from_open({"format": "voltaje-job", "version": 1, "name": "Tree", "book": "NEC 2023", "nodes": nodes})


def lines(drawing):
    """Every wire and bus bar as (x1, y1, x2, y2)."""
    for group in drawing.groups:
        for shape in group.shapes:
            match = re.fullmatch(r"M(\S+) (\S+)([HV])(\S+)", shape.d) if shape.look in ("wire", "bus") else None
            if match:
                x, y, end = group.x + float(match[1]), group.y + float(match[2]), float(match[4])
                yield (x, y, group.x + end, y) if match[3] == "H" else (x, y, x, group.y + end)


def heights(shape):
    """Top and bottom of a shape; of words those of their letters."""
    if not shape.d and not shape.r:
        return shape.y - 12, shape.y + 2
    if shape.r:
        return shape.y - shape.r, shape.y + shape.r
    ys = []
    for command, rest in re.findall(r"([MLHVC])([-\d. ]*)", shape.d):
        values = [float(each) for each in rest.split()]
        ys += {"V": values, "H": []}.get(command, values[1::2])
    return shape.y + min(ys), shape.y + max(ys)


@settings(max_examples=25, deadline=None)
@given(trees())
def test_circuits_have_rows_of_their_own_and_wires_do_not_cross(document):
    drawing = drawn(document)
    assert {group.key for group in drawing.groups} == set(document["nodes"])
    across = [line for line in lines(drawing) if line[1] == line[3]]
    down = [line for line in lines(drawing) if line[0] == line[2]]
    for one, other in itertools.combinations(across, 2):
        apart = abs(one[1] - other[1]) >= ROW / 2 or one[2] <= other[0] or other[2] <= one[0]
        assert apart
    for (left, y, right, _), (x, top, _, bottom) in itertools.product(across, down):
        assert not (left + 1 < x < right - 1 and top < y < bottom)
    assert all(value >= 0 for line in lines(drawing) for value in line)
    assert max(line[2] for line in across) < drawing.width
    assert max(line[3] for line in down) <= drawing.height


@settings(max_examples=20, deadline=None)
@given(trees(), st.floats(150, 900), st.floats(150, 900))
def test_on_sheets_of_paper_nothing_but_conductors_is_cut(document, first, others):
    drawing = drawn(document)
    bands = drawing.bands(first, others)
    assert sum(band.height for band in bands) == pytest.approx(drawing.height)
    assert all(above.top + above.height == below.top for above, below in itertools.pairwise(bands))
    assert all(band.height <= room + 0.01 for band, room in zip(bands, [first, *[others] * len(bands)], strict=False))
    for band in bands[1:]:
        for group in drawing.groups:
            for shape in group.shapes:
                if shape.look not in ("wire", "bus"):
                    top, bottom = heights(shape)
                    assert group.y + bottom <= band.top or group.y + top >= band.top
    for band in bands:
        here = {group.id for group in band.groups}
        assert {g.id for g in drawing.groups if band.top <= g.y < band.top + band.height} <= here


@pytest.mark.parametrize("name", ["cinder-lane", "slipway"])
def test_names_do_not_lie_on_names(name):
    groups = drawn(sample_document(name)).groups
    names = [(group.x + s.x, group.y + s.y) for group in groups for s in group.shapes if s.look == "name"]
    for one, other in itertools.combinations(names, 2):
        assert abs(one[1] - other[1]) >= ROW / 2 or abs(one[0] - other[0]) > 150


def test_both_sets_of_symbols_are_there_and_differ_where_the_standards_do():
    for kind in SYMBOLS:
        assert symbol(kind, True)
        assert symbol(kind, False)
    for kind in ("sockets", "heating"):
        assert symbol(kind, True) != symbol(kind, False)


def test_supplies_are_drawn_as_their_phasors():
    """L1 upward, L2 a third of a turn behind it (clockwise), the high leg longer than the others."""
    wye, high, pair = (supply_picture(SYSTEMS[name]) for name in ("208Y/120", "240/120 high-leg", "120/240 1ph 3w"))
    assert [end.y < 44 for end in wye.ends] == [True, False, False]
    assert wye.ends[1].x > 44 > wye.ends[2].x
    assert high.neutral and high.windings.endswith("Z")
    assert pair.volts == ("240 V", "120 V to N")


def test_every_supply_has_its_words():
    assert all(supply_words(name)[0] != name for name in SYSTEMS)
