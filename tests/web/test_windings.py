"""The studio of coils: four questions over one drawing, and the boost that a finding proposes."""

import re
from urllib.parse import unquote_plus

import pytest
from django.urls import reverse

from tests.web.bench import document
from voltaje.findings import Severity
from voltaje.tools.registry import tools
from web.jobs.worker.solving import solve_job

STUDIO = [tool for tool in tools().values() if tool.studio]


def test_a_bank_found_is_looked_at_as_a_vector_group(client):
    page = client.get(reverse("windings"), follow=True).content.decode()
    assert "Dy11" in page
    row = re.search(r'<nav class="studio".*?</nav>', page, re.DOTALL)[0]
    tabs = re.findall(r'href="([^"]+)">([^<]+)', row)
    assert [title.strip() for _address, title in tabs] == [
        str(tool.title) for tool in sorted(STUDIO, key=lambda t: t.place)
    ]
    onward = next(address for address, title in tabs if title.startswith("Vector")).replace("&amp;", "&")
    assert "group=Dy11&high_v=498.0&low_v=210.4" in unquote_plus(onward)
    assert "Dy11" in client.get(onward).content.decode()


def test_a_buck_boost_unit_is_looked_at_as_an_autotransformer(client):
    asked = {"line_v": "208", "load_v": "240", "load": "8.6 kVA"}
    page = client.get(reverse("quick-sheet", args=["buck-boost"]), asked).content.decode()
    onward = re.search(r'href="(/quick/autotransformer/\?[^"]+)"', page)[1].replace("&amp;", "&")
    assert "235.7" in client.get(onward).content.decode()


@pytest.mark.parametrize("tool", STUDIO, ids=lambda tool: tool.name)
@pytest.mark.parametrize("wrong", [{"_x": "1"}, {"kind": "x"}, {"group": "<b>"}, {"line_v": "-1"}, {"taps": "a;b"}])
def test_wrong_input_never_breaks_a_sheet(client, tool, wrong):
    answer = client.get(reverse("quick-sheet", args=[tool.name]), wrong)
    assert answer.status_code == 200
    assert "<b>" not in re.sub(r"<b>[^<]*</b>", "", answer.content.decode())


def test_a_kiln_that_runs_cold_gets_its_boost_proposed(page, pottery):
    shown = page.get(reverse("workbench", args=[pottery.pk]), {"at": "k3"}).content.decode()
    link = re.search(r'href="(/quick/buck-boost/\?[^"]+)"', shown)[1].replace("&amp;", "&")
    sheet = page.get(link).content.decode()
    assert "1.5" in sheet
    assert "235.7" in sheet
    assert "/quick/buck-boost/" not in page.get(reverse("workbench", args=[pottery.pk]), {"at": "k2"}).content.decode()


@pytest.mark.parametrize(
    ("tool", "asked", "made"),
    [
        (
            "bank",
            {"units": 3, "kva_each": 5, "primary_v": 208, "secondary_v": 277, "supply_v": 208, "wanted_v": 480},
            {"made_as": "bank", "secondary": "480Y/277", "connection": "Dy"},
        ),
        (
            "buck-boost",
            {"line_v": 208, "load_v": 240, "load": "8.6 kVA", "phases": 3},
            {"made_as": "buck-boost", "secondary": "240 3ph", "units": "2"},
        ),
        (
            "autotransformer",
            {"kind": "wye", "from_v": 208, "to_v": 480, "load_va": 30000},
            {"made_as": "autotransformer", "secondary": "480Y/277"},
        ),
    ],
)
def test_what_the_studio_finds_is_put_into_a_job_as_its_transformer(page, pottery, tool, asked, made):
    page.post(reverse("quick-put", args=[tool]), {**asked, "_job": pottery.pk})
    nodes = document(pottery)["nodes"]
    found = [node for node in nodes.values() if made.items() <= node.get("transformer", {}).items()]
    assert len(found) == 1
    solution = solve_job(document(pottery)).solution
    key = next(key for key, node in nodes.items() if node == found[0])
    assert not [each for each in solution.nodes[key].findings if each.severity == Severity.STOP]
