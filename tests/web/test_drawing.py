"""The one-line drawing: from 3 to 150 nodes nothing lies on anything else, and wires do not cross."""

import itertools
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.books.registry import find_book
from voltaje.systems import SYSTEMS
from web.drawing.oneline.draw import SCREEN, single_line
from web.drawing.supply import supply_picture
from web.drawing.symbols import SYMBOLS, symbol
from web.jobs.files.openfile import from_open, in_order
from web.jobs.sample import sample_document
from web.jobs.worker.solving import solve_job
from web.words.trade import supply_words


def drawn(document, iec=False, aspect=SCREEN):
    book = "BS 7671" if iec else "NEC 2023"
    return single_line(in_order(document), solve_job(document).solution, find_book(book).terms, aspect)


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
            said = draw(
                st.sampled_from([{}, {"name": "Hall 1, panel A, by the north door", "run": {"length": "160 ft"}}])
            )
            nodes.append({"id": f"n{at}", "kind": "board", "parent": parent, **said})
        else:
            kind = draw(st.sampled_from(["lighting", "sockets", "motor", "heating"]))
            nodes.append({"id": f"n{at}", "kind": "load", "parent": parent, "load": {"kind": kind, "rating": "500 VA"}})
    return from_open({"format": "voltaje-job", "version": 1, "name": "Tree", "book": "NEC 2023", "nodes": nodes})


def lines(drawing):
    """Every wire and bar as (x1, y1, x2, y2, look)."""
    for group in drawing.groups:
        for shape in group.shapes:
            match = re.fullmatch(r"M(\S+) (\S+)([HV])(\S+)", shape.d) if shape.look in ("wire", "bus") else None
            if match:
                x, y = group.x + shape.x + float(match[1]), group.y + shape.y + float(match[2])
                end = float(match[4])
                here = (group.x + shape.x + end, y) if match[3] == "H" else (x, group.y + shape.y + end)
                yield x, y, *here, group.id


def texts(drawing):
    """Every text as its box (x1, y1, x2, y2): of small letters, 0.4 of their height wide."""
    sizes = {"name": 13.5, "value": 12.5, "label": 12.5}
    for group in drawing.groups:
        for shape in group.shapes:
            if shape.text and shape.look in sizes:
                size = sizes[shape.look]
                x, y = group.x + shape.x, group.y + shape.y
                yield x, y - size * 0.7, x + len(shape.text) * size * 0.4, y + 1, shape.text


def overlap(one, other):
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


def told_of(document, drawing):
    """The nodes with shapes of their own, and how many more are told in blocks."""
    own = {group.key for group in drawing.groups if not group.part}
    blocks = [group for group in drawing.groups if group.part == "-small"]
    return own, sum(
        int(shape.text.split()[0]) for group in blocks for shape in group.shapes if " small circuit" in shape.text
    )


@settings(max_examples=25, deadline=None)
@given(trees(), st.sampled_from([SCREEN, 0.7, 1.4]))
def test_all_is_drawn_or_told_and_nothing_lies_on_anything_else(document, aspect):
    drawing = drawn(document, aspect=aspect)
    own, together = told_of(document, drawing)
    assert len(own) + together == len(document["nodes"])
    for one, other in itertools.combinations(texts(drawing), 2):
        assert not overlap(one, other), (one, other)
    across = [line for line in lines(drawing) if line[1] == line[3]]
    down = [line for line in lines(drawing) if line[0] == line[2]]
    for (left, y, right, _, one), (x, top, _, bottom, other) in itertools.product(across, down):
        crosses = left + 1 < x < right - 1 and top + 1 < y < bottom - 1
        assert not crosses or one == other, (one, other)  # a spine and its own bars
    for x1, y1, x2, y2, *_ in [*lines(drawing), *texts(drawing)]:
        assert min(x1, y1) >= 0
        assert x2 <= drawing.width
        assert y2 <= drawing.height


@settings(max_examples=20, deadline=None)
@given(trees())
def test_a_hundred_and_fifty_nodes_stand_in_one_view(document):
    """In the room of a lens at 1280 × 800 letters are half as tall as they are drawn or more, on A3 two millimetres."""
    drawing = drawn(document)
    assert min(600 / drawing.width, 690 / drawing.height) >= 0.4
    paper = drawn(document, aspect=396 / 250)
    assert min(396 / paper.width, 250 / paper.height) * 12.5 >= 2


@settings(max_examples=20, deadline=None)
@given(trees(), st.floats(400, 900), st.floats(400, 900))
def test_on_sheets_of_paper_nothing_but_conductors_is_cut(document, first, others):
    drawing = drawn(document)
    bands = drawing.bands(first, others)
    assert sum(band.height for band in bands) == pytest.approx(drawing.height)
    assert all(above.top + above.height == below.top for above, below in itertools.pairwise(bands))
    for band in bands[1:]:
        for _x1, top, _x2, bottom, text in texts(drawing):
            assert not top + 1 < band.top < bottom - 1, text
    for band in bands:
        here = {group.id for group in band.groups}
        assert {g.id for g in drawing.groups if band.top <= g.y < band.top + band.height} <= here


@pytest.mark.parametrize("name", ["cinder-lane", "slipway"])
def test_names_are_whole(name):
    document = sample_document(name)
    drawing = drawn(document, iec=name == "slipway")
    for group in drawing.groups:
        if not group.part:
            lines_of = [shape.text for shape in group.shapes if shape.look == "name"]
            assert group.title.replace(" ", "") in "".join(lines_of).replace(" ", "")


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
