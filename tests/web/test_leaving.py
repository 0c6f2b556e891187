"""What leaves the screen: the drawing as a file of its own, the job on paper."""

import re
from xml.etree import ElementTree

import pytest
from django.urls import reverse

from tests.web.bench import document, set_to
from web.jobs import keeping
from web.jobs.sample import sample_document
from web.workbench.files.paper import PAPERS

SVG = "{http://www.w3.org/2000/svg}"
SAMPLES = ["cinder-lane", "slipway", "marrow-creek"]


@pytest.fixture(params=SAMPLES)
def job(request, ann):
    return keeping.create(ann, sample_document(request.param))


def test_the_drawing_stands_alone_and_names_everything_once(page, job):
    answer = page.get(reverse("path-svg", args=[job.pk]))
    root = ElementTree.fromstring(answer.content)  # noqa: S314  (our own)
    ids = [each.get("id") for each in root.iter() if each.get("id")]
    assert len(ids) == len(set(ids))
    names = [each.text for each in root.iter(f"{SVG}title")]
    for key, node in document(job)["nodes"].items():  # by itself, or in its board's block of small circuits
        assert f"g-{key}" in ids or f"g-{node['parent']}-small" in ids
        assert f"g-{key}" not in ids or (node.get("name") or key) in names
    _left, _top, width, height = map(float, root.get("viewBox").split())
    for group in root.iter(f"{SVG}g"):
        x, y = map(float, re.findall(r"-?[\d.]+", group.get("transform", "translate(0 0)")))
        for words in group.iter(f"{SVG}text"):
            assert 0 <= x + float(words.get("x")) <= width
            assert 0 <= y + float(words.get("y")) <= height
            assert words.get("fill") or group.get("fill")
    text = answer.content.decode()
    assert "class=" not in text  # no style sheet goes with it
    assert "href" not in text
    assert re.search(r'filename="[a-z0-9-]+\.svg"', answer["Content-Disposition"])


@pytest.mark.parametrize("paper", [*PAPERS, "", "quarto"])
def test_paper_holds_every_circuit_once_in_sheets_that_fit(page, job, paper):
    text = page.get(reverse("paper", args=[job.pk]), {"paper": paper}).content.decode()
    size = paper if paper in PAPERS else ("a4" if job.book.startswith("BS") else "letter")
    assert f'class="paper-{size}"' in text
    sheets = re.findall(r'<svg class="drawing"[^>]* width="([\d.]+)mm" height="([\d.]+)mm"', text)
    tall, wide = {"letter": (255, 192), "tabloid": (408, 255), "a4": (273, 186), "a3": (396, 273)}[size]
    assert all(float(width) <= wide + 0.1 and float(height) <= tall for width, height in sheets)
    assert ("Sheet 1 of" in text) == (len(sheets) > 1)
    tables = re.findall(r'<table class="ways">.*?</table>', text, re.DOTALL)
    nodes = document(job)["nodes"]
    boards = [key for key, node in nodes.items() if node["kind"] == "board"]
    assert len(tables) == len(boards)
    rows = sum(table.partition("<tbody>")[2].partition("</tbody>")[0].count("<tr>") for table in tables)
    assert rows == sum(node["parent"] in boards for node in nodes.values())
    assert text.index("licensed person") < text.index("<svg")


def test_the_drawing_follows_an_edit(page, pottery):
    before = page.get(reverse("path-svg", args=[pottery.pk])).content.decode()
    set_to(page, pottery, "k2/run/length", "175 ft", at="k2")
    after = page.get(reverse("path-svg", args=[pottery.pk])).content.decode()
    assert (">75 ft<" in before, ">175 ft<" in before) == (True, False)
    assert (">75 ft<" in after, ">175 ft<" in after) == (False, True)
