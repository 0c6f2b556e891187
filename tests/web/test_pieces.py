"""What an edit sends: put in place on a page, it leaves the page as if it had been drawn anew."""

import re

import pytest
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from tests.web.bench import HTMX, post
from web.jobs.models import Job
from web.workbench.parts.pieces import Piece, Region, Shown

EDITS = [
    {"path": "nodes/k2/run/length", "value": "300 ft"},
    {"path": "nodes/k2/load/rating", "value": "60 kW"},
    {"path": "nodes/k2/name", "value": "Kiln 2 & more"},
    {"path": "nodes/mdp/name", "value": "Main board"},
    {"path": "nodes/shed/run/length", "value": "20 ft"},
]


class Shows:
    """A page by what it shows: the frame of each region, and the digest of each piece."""

    def __init__(self, html):
        self.frames, self.pieces = {}, {}
        self.take(html)

    def take(self, html):
        """Put in place what came."""
        whole, _, news = html.partition("<template data-pieces>")
        for name in ("tree", "lens", "chain"):
            match = re.search(rf'id="{name}"[^>]* data-frame="([^"]+)"', whole)
            if match:
                self.frames[name] = match[1]
        self.pieces |= dict(re.findall(r'id="([^"]+)"\s+data-is="(\w+)"', whole + news))
        return news.count("data-is=")

    def __str__(self):
        frames = [f"{name}@{frame}" for name, frame in self.frames.items()]
        return " ".join([*frames, *(f"{key}:{made}" for key, made in self.pieces.items())])


def fresh(page, job, at, lens):
    return Shows(page.get(reverse("workbench", args=[job.pk]), {"at": at, "lens": lens}).content.decode())


@pytest.mark.parametrize("lens", ["path", "schedule"])
@pytest.mark.parametrize("edit", EDITS, ids=lambda edit: edit["path"])
def test_the_pieces_of_an_edit_make_the_page_what_it_would_be_drawn_anew(page, pottery, lens, edit):
    shows = fresh(page, pottery, "k2", lens)
    before = dict(shows.pieces)
    job = Job.objects.get(pk=pottery.pk)
    sent = shows.take(post(page, "edit", job, **edit, at="k2", lens=lens, shown=str(shows)))
    again = fresh(page, pottery, "k2", lens)
    assert shows.frames == again.frames
    assert shows.pieces == again.pieces
    assert sent == sum(1 for key, made in again.pieces.items() if before[key] != made)
    assert sent > 0
    if edit["path"] == "nodes/k2/run/length":
        assert sent < 8


def test_a_page_that_shows_another_node_lens_or_tree_is_given_the_region_whole(page, pottery):
    shows = fresh(page, pottery, "k2", "path")
    region = reverse("region", args=[pottery.pk])
    seen = {"version": Job.objects.get(pk=pottery.pk).version, "lens": "path", "shown": str(shows)}
    other_node = page.get(region, {**seen, "at": "k1"}, headers=HTMX).content.decode()
    assert 'id="chain"' in other_node
    assert 'id="tree"' not in other_node
    assert "data-is" not in other_node.partition("<template data-pieces>")[2]
    other_lens = page.get(region, {**seen, "at": "k2", "lens": "schedule"}, headers=HTMX).content.decode()
    assert 'id="lens"' in other_lens
    assert 'id="chain"' not in other_lens
    moved = post(
        page, "act", Job.objects.get(pk=pottery.pk), act="move", key="k1", to="shed", at="k2", shown=str(shows)
    )
    assert all(f'id="{name}"' in moved for name in ("tree", "lens"))
    assert 'id="row-k1"' in moved
    nothing = page.get(region, {**seen, "at": "k2", "shown": ""}, headers=HTMX).content.decode()
    assert all(f'id="{name}"' in nothing for name in ("tree", "lens", "chain"))


WORDS = st.text(st.characters(codec="ascii", exclude_categories=["Zs", "Cc"], exclude_characters=":@"), min_size=1)


@given(st.dictionaries(WORDS, WORDS), st.dictionaries(WORDS, WORDS, max_size=8), st.data())
def test_exactly_the_pieces_that_differ_are_sent(shown, now, data):
    frame = data.draw(st.sampled_from(["f1", "f2"]))
    said = " ".join(["tree@f1", *(f"{key}:{made}" for key, made in shown.items())])
    region = Region("tree", frame, [Piece(key, made, str) for key, made in now.items()])
    settled = Shown.read(said).settle(region)
    assert settled.whole == (frame != "f1")
    wanted = [] if settled.whole else [key for key, made in now.items() if shown.get(key) != made]
    assert [piece.id for piece in settled.news] == wanted
