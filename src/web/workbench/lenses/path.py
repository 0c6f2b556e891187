"""The one-line drawing."""

from functools import lru_cache

from django.utils.translation import gettext as _

from voltaje.path.soundness import FEEDS
from web.drawing.oneline.draw import READ_AT, single_line
from web.drawing.shapes import Group
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.parts.pieces import Piece, Region, digest, kept_piece

_MOST_KEPT = 6_000
_NAME = "path"  # its frames begin with it


@lru_cache(maxsize=_MOST_KEPT)
def _group(identity: str, group: Group) -> Piece:
    return Piece.showing(identity, group, "_group", {"id": identity, "group": group})


def _region(looked: Looked) -> Region:
    document, terms = looked.document, looked.terms
    nodes = {key: document["nodes"][key] for key in looked.solved.order}
    drawing = single_line(nodes, looked.solved.solution, terms, read_at=READ_AT)
    pieces = [kept_piece(group, "", lambda shown, _language: _group(shown.id, shown)) for group in drawing.groups]
    empty = all(node["kind"] in FEEDS for node in document["nodes"].values())
    frame = f"{drawing.width} {drawing.height} {looked.language} {terms.family} {empty}"
    alike = " ".join((frame, *(piece.id for piece in pieces)))
    return Region("lens", _NAME + digest(alike), pieces, {"drawing": drawing, "empty": empty})


LENS = Lens(_NAME, "1", lambda _family: _("One-line"), "workbench/_path.html", _region, stands=True)
