"""What the workbench shows: its regions from one solution, and what of them is new to the page."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from django.utils.translation import get_language

from voltaje.books.answers import Terms
from voltaje.books.registry import books, find_book
from voltaje.findings import Finding, Severity
from voltaje.path.soundness import FEEDS
from web.jobs.changes.turning import Turns, turns
from web.jobs.document import Document
from web.jobs.files.openfile import board_of, ordered
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.news import told_to
from web.jobs.worker.solving import Solved
from web.words.request import Request
from web.words.trade import kind_words, trade
from web.workbench.lenses import find_lens, lenses_for
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.parts.assumptions import asked
from web.workbench.parts.chain import chain_view
from web.workbench.parts.fields import many_fields, node_fields
from web.workbench.parts.folding import FOLDS_FROM, folded_in
from web.workbench.parts.pieces import Piece, Region, Shown, digest, kept_piece, markup
from web.workbench.parts.tree import TreeRow, tree_rows

_ADDABLE = ("board", "transformer", "dwelling", "inverter", "spare", "space", "source")
_MOST_KEPT, _MOST_LINKS = 6_000, 2_000
_NOTHING = Shown()


@dataclass(frozen=True)
class Remark:
    """A finding with the node it is about, and the reason for which a person noted it."""

    id: str
    finding: Finding
    key: str
    name: str
    noted: str

    @property
    def may_be_noted(self) -> bool:
        """A stop can never be put aside."""
        return self.finding.severity is not Severity.STOP


def remarks(document: Document, solved: Solved) -> list[Remark]:
    """Return every finding of a job, the worst first, the noted ones last."""
    noted = document["job"].get("noted", {})
    nodes = document["nodes"]
    found = [(key, each) for key, node in solved.solution.nodes.items() for each in node.findings]
    found += [(each.field if each.field in nodes else "", each) for each in solved.solution.findings]
    listed = []
    for key, each in found:
        identity = f"{key}:{each.code}"
        reason = (noted.get(identity) or noted.get(_by_wording(key, each), "")) if noted else ""
        reason = reason if each.severity is not Severity.STOP else ""
        name = (nodes[key].get("name") or key) if key else ""
        listed.append(Remark(identity, each, key, name, reason))
    order = list(Severity)
    return sorted(listed, key=lambda remark: (bool(remark.noted), order.index(remark.finding.severity)))


def counts(document: Document, solved: Solved) -> dict[str, int]:
    """Return how many findings stand open, by severity."""
    if document["job"].get("noted"):
        found = [each.finding.severity for each in remarks(document, solved) if not each.noted]
    else:
        found = [each.severity for node in solved.solution.nodes.values() for each in node.findings]
        found += [each.severity for each in solved.solution.findings]
    return {str(each): found.count(each) for each in Severity}


def _by_wording(key: str, finding: Finding) -> str:
    """Return how findings were told apart before they had codes: what was noted then stays noted."""
    return hashlib.sha256(f"{key}|{finding.message.template}".encode()).hexdigest()[:16]


def chosen(document: Document, at: str) -> str:
    """Return the node to show: the one asked for, else the first board, else the first of all."""
    if at in document["nodes"]:
        return at
    return board_of(document, "") or next(iter(ordered(document)), "")


def bench(
    request: Request,
    job: Job,
    document: Document,
    solved: Solved,
    at: str,
    lens: str,
    shown: Shown = _NOTHING,
    *,
    editor: bool | None = None,
    turned: Turns | None = None,
) -> dict[str, Any]:
    """Return everything the page shows. `at` must have been opened when the job was solved.

    shown: what of it the page shows already; editor: whether the person may change the job, where that is known
    turned: what they may take back and do again, where that is known
    """
    nodes, language = document["nodes"], get_language() or ""
    editor = may_edit(job, request.user) if editor is None else editor
    undone = turned or turns(job, request.user)
    folded = folded_in(document, solved.order, at, shown.unfolded)
    # A choice may unfold what it lies in: then what stands in the page stands no more.
    stands = shown if not folded else Shown(off=shown.off)
    looked = Looked(document, solved, at, editor, language, request.COOKIES.get("columns", "").split("-"))
    kind = nodes[at]["kind"] if at else ""
    shown_lens = find_lens(lens, kind)
    drawn = {
        "tree": _standing("tree", stands) or _tree(document, solved, language, folded),
        "lens_region": _standing("lens", stands, shown_lens) or shown_lens.region(looked),
        "chain": _chain(job, document, solved, at, editor, language, shown),
    }
    return {
        "job": job,
        "w": trade(_terms(solved).family),
        "book": solved.solution.book,
        "at": at,
        "lens": shown_lens,
        "tabs": [(each, each.words(_terms(solved).family)) for each in lenses_for(kind)],
        "terms": _terms(solved),
        "counts": counts(document, solved),
        "systems": ", ".join(node["system"] for node in nodes.values() if node["kind"] == "source"),
        "may_edit": editor,
        "many_fields": many_fields(solved.solution.book) if editor else [],
        "folds": bool(folded) or len(nodes) > FOLDS_FROM,
        "unfolded": " ".join(shown.unfolded),
        "undoable": undone.undoable,
        "redoable": undone.redoable,
        "news_by": told_to(job, request.user),
        "node_kinds": [(kind, kind_words(kind, _terms(solved).family)) for kind in _ADDABLE],
        "regions": [shown.settle(region) for region in drawn.values()],
        **drawn,
    }


def _terms(solved: Solved) -> Terms:
    return find_book(solved.solution.book).terms


# Regions: what stays alike is their frame, the rest their pieces. The markup of a piece is kept by what it shows.


@lru_cache(maxsize=_MOST_KEPT)
def _row(row: TreeRow, language: str) -> Piece:
    return Piece.showing(f"row-{row.key}", (row, language), "_row", {"row": row})


_links: dict[str, Piece] = {}


def _fields_of(context: dict[str, Any], key: str) -> tuple[str, str]:
    """Return what the fields of a link show."""
    fields = context["fields"]
    besides = {"device": fields.reason, "load": fields.more}
    return repr(fields.of(key)), repr(besides.get(key, ""))


def _link(link: Any, context: dict[str, Any], mine: tuple[Any, ...], shown: Shown) -> Piece:
    """Return the piece of a link; one that shows the same as before is at hand.

    Of one that lies folded in the page only the line that is seen is drawn, and the rest when it is unfolded.
    """
    what = (mine, link, *_fields_of(context, link.key))
    piece = Piece.showing(f"joint-{link.key}", what, "_link", {**context, "link": link})
    if link.key in shown.folded:
        return replace(piece, make=lambda: markup("_link", {**context, "link": link, "later": True}))
    if len(_links) > _MOST_LINKS:
        _links.clear()  # another thread may do so at any time: what was made is held here
    return _links.setdefault(piece.digest, piece)


def _standing(name: str, shown: Shown, lens: Lens | None = None) -> Region | None:
    """Return a region that need not be drawn: off the screen, or as the page shows it whichever node is chosen."""
    frame = shown.frames.get(name, "")
    if name in shown.off:
        return Region(name, frame, [])
    stands = shown.at_rest and frame and (not lens or (lens.stands and frame.startswith(lens.name)))
    return Region(name, frame, []) if stands else None


def _tree(document: Document, solved: Solved, language: str, folded: Mapping[str, int]) -> Region:
    rows = tree_rows(document, solved, folded)
    frame = digest(repr([(row.key, row.parent) for row in rows]) + language)
    return Region("tree", frame, [kept_piece(row, language, _row) for row in rows])


def _chain(job: Job, document: Document, solved: Solved, at: str, editor: bool, language: str, shown: Shown) -> Region:
    if not at:
        return Region("chain", "no node", [])
    nodes = document["nodes"]
    node, book = nodes[at], solved.solution.book
    parent = node.get("parent")
    view = chain_view(solved.solution, at, nodes[parent].get("name") or parent if parent else "")
    feeders = [(key, nodes[key].get("name") or key) for key in solved.order if nodes[key]["kind"] in FEEDS]
    others = [name for name in books() if name != book]
    context = {"job": job, "at": at, "node": node, "may_edit": editor, "fields": node_fields(document, at)}
    asks = asked(solved.solution.nodes[at])
    head = {**context, "chain": view, "feeders": feeders, "compare_with": others, "asks": asks}
    frame = digest(f"{at} {node['kind']} {editor} {language} {book}")
    if shown.frames.get("chain") != frame:
        shown = _NOTHING  # it is drawn whole
    mine = (str(job.pk), at, editor, language)
    pieces = [Piece.of("chain-head", "_chain_head", head)]
    pieces += [_link(link, context, mine, shown) for link in view.links]
    return Region("chain", frame, pieces, {"view": view, "head": pieces[0], "links": pieces[1:]})
