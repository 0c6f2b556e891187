"""Sketches of sheets: no word lies on another, on a conductor, or beyond the sheet, whatever was asked."""

import random
import re
from itertools import combinations
from pathlib import Path

import pytest
from django.template.loader import get_template
from django.utils import translation

from tests.core.test_sheet_in_a_job import BOOKS, placed, varied
from voltaje.errors import Refused
from voltaje.tools.registry import tools
from voltaje.tools.tool import PUT
from web.drawing.letters import Box, box_of
from web.drawing.oneline.draw import single_line
from web.drawing.sketch.pictures import PICTURES, conductor, rating
from web.drawing.wired import wired_on_path
from web.jobs.files.openfile import from_open, in_order
from web.jobs.worker.solving import solve_job
from web.quick.templatetags.flows import waves_of
from web.quick.templatetags.quick import wired_of
from web.words.trade import trade

TIMES = 25
CONDUCTORS = {"core", "core-thin", "busbar", "earth", "ink", "neutral", "limit", "wire"}
USES = re.compile(r'picture "([\w-]+)"')


def sketches_of(name):
    found = Path(get_template(f"quick/drawings/{name}.html").origin.name).read_text()
    return USES.findall(found)


def cases():
    return [(name, family) for name, tool in tools().items() for family in tool.example if sketches_of(name)]


def answers(name, family):
    """The worked example of a tool and chance variations of it."""
    tool, chance = tools()[name], random.Random(3)  # noqa: S311
    for time in range(TIMES):
        raw = varied(tool, family, chance) if time else {"book": BOOKS[family][-1], **tool.example[family]}
        try:
            yield raw, tool.answered(raw)
        except Refused:
            assert time, "the worked example is answered"


def facts_of(answered):
    facts = {
        "r": answered.result,
        "w": trade(answered.book.terms.family),
        "book": answered.book,
        "length": "",
        "volts": "",
        **answered.facts(),
    }
    if "phasors" in facts:
        facts["curves"] = waves_of(facts)
    return facts


def drawn(name, answered):
    facts = facts_of(answered)
    for sketch in sketches_of(name):
        if sketch in ("motor-devices", "motor-volts", "busbar", "loop-against") and not asked_for(sketch, facts):
            continue
        yield sketch, PICTURES[sketch](facts).drawing


def asked_for(sketch, facts):
    if sketch == "loop-against":
        return facts["loop"] is not None
    if sketch == "busbar":
        return facts["r"]["busbar_min_a"]
    return facts["other"] if sketch == "motor-volts" else facts["found"].circuit.short_circuit_only


def shapes_of(drawing):
    return [shape for group in drawing.groups for shape in group.shapes]


def boxes(drawing):
    return [
        (shape.text, box_of(shape.text, shape.look, shape.x, shape.y, shape.anchor))
        for shape in shapes_of(drawing)
        if shape.text
    ]


def segments(shape):
    """Level and upright parts of a path that is written in absolute places."""
    x = y = 0.0
    for letter, rest in re.findall(r"([MHVL])([-\d. ]+)", shape.d):
        at = [float(each) for each in re.findall(r"-?[\d.]+", rest)]
        to = (at[0], at[1]) if letter in "ML" else (at[0], y) if letter == "H" else (x, at[0])
        if letter in "HV":
            half = max(shape.width, 2) / 2
            wide, high = (0, half) if letter == "H" else (half, 0)
            yield Box(min(x, to[0]) - wide, min(y, to[1]) - high, max(x, to[0]) + wide, max(y, to[1]) + high)
        x, y = to


def on_one_another(drawing):
    words = boxes(drawing)
    for (one, box), (other, there) in combinations(words, 2):
        if box.meets(there):
            yield f"{one!r} on {other!r}"
    lines = [line for shape in shapes_of(drawing) if shape.look in CONDUCTORS and shape.d for line in segments(shape)]
    for text, box in words:
        inner = Box(box.left, box.top + 2, box.right, box.bottom - 2)  # a letter's own room, not the line's
        if any(inner.meets(line) for line in lines):
            yield f"{text!r} on a conductor"
        if box.left < 0 or box.top < 0 or box.right > drawing.width or box.bottom > drawing.height:
            yield f"{text!r} leaves the sheet"


@pytest.mark.parametrize("language", ["en", "es"])
@pytest.mark.parametrize(("name", "family"), cases())
def test_no_word_lies_on_anything(name, family, language):
    with translation.override(language):
        wrong = [
            (sketch, told, raw)
            for raw, answered in answers(name, family)
            for sketch, drawing in drawn(name, answered)
            for told in on_one_another(drawing)
        ]
    assert not wrong


def written(text):
    """A conductor as a one-line writes it: of copper the metal is not said."""
    return text.removesuffix(" Cu")


@pytest.mark.parametrize("family", BOOKS)
@pytest.mark.parametrize("name", ["run", "appliance-branch", "motor-branch", "cooking-branch", "inverter-breaker"])
def test_a_sheet_and_the_job_it_is_put_into_draw_the_same_device_and_conductor(name, family):
    compared = 0
    for raw, answered in answers(name, family) if family in tools()[name].example else ():
        result, terms = answered.result, answered.book.terms
        if not answered.nodes or not result["conductor"]:
            continue
        job, _nodes = placed(answered, raw)
        document = from_open(job)
        drawing = single_line(in_order(document), solve_job(document).solution, terms)
        words = " ".join(shape.text for shape in shapes_of(drawing))
        sheet = [shape.text for _name, each in drawn(name, answered) for shape in shapes_of(each)]
        device, size = rating(result["device_a"]), conductor(result["conductor"], terms)
        assert any(device in text for text in sheet), (device, sheet)
        assert any(size in text for text in sheet), (size, sheet)
        assert device in words
        assert written(size) in words, (size, words)
        compared += 1
    assert compared or family not in tools()[name].example


def test_a_transformers_terminals_are_wired_alike_on_its_sheet_and_in_a_job():
    compared = 0
    for raw, answered in answers("transformer", "nec"):
        if not answered.nodes:
            continue
        job, _nodes = placed(answered, raw)
        there = solve_job(from_open(job)).solution.nodes[PUT]
        mine, theirs = wired_of(facts_of(answered)), wired_on_path(there, ("", ""), answered.book.terms)
        for one, other in zip((mine.before, mine.behind), (theirs.before, theirs.behind), strict=True):
            assert one._replace(length="") == other._replace(length=""), raw
        assert (mine.jumper, mine.supply_side) == (theirs.jumper, theirs.supply_side), raw
        compared += 1
    assert compared


def test_every_sketch_is_shown_by_a_sheet():
    assert {sketch for name in tools() for sketch in sketches_of(name)} == set(PICTURES)
