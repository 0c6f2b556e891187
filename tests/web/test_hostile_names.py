"""Names that would be markup: on every page, in every file, they are words."""

import html
import re
from html.parser import HTMLParser
from xml.etree import ElementTree

import pytest
from django.urls import reverse

from tests.web.bench import HTMX, document, post, set_to
from web.jobs import keeping
from web.jobs.files.openfile import from_open, to_open
from web.jobs.models import Membership, Role
from web.jobs.sample import sample_document

NAMES = [
    "<script>alert(1)</script>",
    '"><img src=x onerror=alert(1)>',
    "' onfocus='alert(1)",
    "{{ 7|add:7 }} {% load i18n %}",
    "</template><svg onload=alert(1)>",
    'data-is="" data-is="x"',
    "]]> &amp; &lt;b&gt;",
]
PAGES = ["workbench", "findings", "paper", "settings", "compare", "path-svg", "schedule-csv", "job-json"]


class Elements(HTMLParser):
    """Every element of a page with its attributes."""

    def __init__(self, text):
        super().__init__()
        self.found = []
        self.feed(text)

    def handle_starttag(self, tag, attributes):
        """Keep it."""
        self.found.append((tag, dict(attributes)))


def harmless(text):
    """No element or attribute that the product's own templates do not write."""
    for tag, attributes in Elements(text).found:
        assert tag != "img"
        assert not [name for name in attributes if name.startswith("on")], (tag, attributes)
        if tag == "script":
            assert attributes.get("src", "").startswith("/static/")
    return text


@pytest.fixture(params=NAMES)
def named(request, ann, ben):
    """A job whose every name is hostile."""
    made = sample_document("cinder-lane")
    made["job"]["name"] = request.param
    for key in ("mdp", "k2", "l6", "shed", "t1"):
        made["nodes"][key]["name"] = request.param
    made["nodes"]["l6"]["run"]["pins"] = {"size": "14", "reason": request.param}
    job = keeping.create(ann, made)
    Membership.objects.create(job=job, user=ben, role=Role.VIEWER)
    return job


def test_pages_and_files_hold_names_as_words(page, named, client, ben):
    name = named.name
    for address in PAGES:
        asked = {"at": "k2", "book": "NEC 2017", "lens": "schedule"}
        answer = page.get(reverse(address, args=[named.pk]), asked, headers=HTMX if address == "compare" else None)
        text = answer.content.decode()
        kind = answer["Content-Type"]
        if kind.startswith("text/html"):
            harmless(text)
            assert html.escape(name) in text or address == "findings"
        elif kind.startswith("image/svg"):
            root = ElementTree.fromstring(text)  # noqa: S314  (our own)
            assert name in [each.text for each in root.iter("{http://www.w3.org/2000/svg}title")]
        elif kind.startswith("application/json"):
            assert answer.json()["name"] == name
            assert to_open(from_open(answer.json())) == to_open(document(named))
    harmless(page.get(reverse("jobs")).content.decode())
    client.force_login(ben)
    harmless(client.get(reverse("workbench", args=[named.pk]), {"at": "k2"}).content.decode())


def test_what_an_edit_sends_holds_names_as_words_and_its_pieces_stay_apart(page, named):
    for at, lens in (("k2", "path"), ("mdp", "schedule")):
        first = page.get(reverse("workbench", args=[named.pk]), {"at": at, "lens": lens}).content.decode()
        frames = re.findall(r'id="(tree|lens|chain)"[^>]* data-frame="([^"]+)"', first)
        shown = " ".join(f"{name}@{frame}" for name, frame in frames)
        text = set_to(page, named, "k2/run/length", f"{90 + len(lens)} ft", at=at, lens=lens, shown=shown)
        harmless(text)
        before, _, news = text.partition("<template data-pieces>")
        pieces, _, after = news.partition("</template>")
        assert "</template>" not in after
        assert before.count('id="strip"') == 1
        sent = [attributes["id"] for _tag, attributes in Elements(pieces).found if attributes.get("data-is")]
        assert len(sent) == len(set(sent))
        assert {"row-k2", "chain-head"} <= set(sent)


@pytest.mark.parametrize("line", NAMES)
def test_a_walk_through_line_is_words(page, pottery, line):
    asked = {"line": f"heater 2 kW 208 V 30 ft {line}"[:200], "at": "mdp"}
    harmless(page.get(reverse("understand", args=[pottery.pk]), asked, headers=HTMX).content.decode())
    harmless(post(page, "walk", pottery, **asked))
    harmless(post(page, "load-list", pottery, text=f"name,rating\n{line},2 kW\n{line},lots"))
