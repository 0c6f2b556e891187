"""The Earth lens: every part that earths or bonds, drawn and listed; a part that is touched opens its rule."""

from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.design.earth import DERIVED, EarthPlan, earth_plan
from web.drawing.earth import earth_drawing
from web.words.trade import trade
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.parts.pieces import Piece, Region, digest

_NAME = "earth"


def _region(looked: Looked) -> Region:
    solution = looked.solved.solution
    plan = earth_plan(looked.solved.job, solution, find_book(solution.book))
    drawing = earth_drawing(plan) if plan.places else None
    context = {
        "drawing": drawing,
        "places": plan.places,
        "listed": [(place, part) for place in plan.places for part in place.parts.values()],
        "links": _links(plan),
        "loops": _loops(plan),
        "nodes": {f"{place.kind}-{place.key}": place.key for place in plan.places},
        "runs": plan.runs,
        "w": trade(looked.terms.family),
        "may_edit": looked.editor,
        "derived": [place for place in plan.places if place.kind == DERIVED and "jumper" in place.parts],
        "bond_places": [("transformer", _("transformer")), ("board", _("first disconnect"))],
    }
    piece = Piece.of("earth", "_earth_piece", context)
    frame = digest(f"{looked.language} {looked.editor} {looked.terms.family}")
    return Region("lens", _NAME + frame, [piece], {"piece": piece})


def _links(plan: EarthPlan) -> dict[str, str]:
    """Return which link of its node's chain tells how a part was found, by the part's group."""
    return {f"{place.kind}-{place.key}-{key}": part.link for place in plan.places for key, part in place.parts.items()}


def _loops(plan: EarthPlan) -> dict[str, str]:
    """Return the place whose fault loop a part belongs to, by the part's group; only parts that are in one."""
    named = [(f"{place.kind}-{place.key}", place) for place in plan.places]
    return {f"{name}-{key}": name for name, place in named for key in place.fault_loop}


LENS = Lens(_NAME, "5", lambda family: trade(family)["earth_lens"], "workbench/_earth.html", _region, stands=True)
