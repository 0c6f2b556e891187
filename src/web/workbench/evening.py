"""What evening out and least metal propose, with their proofs, before anything is made."""

from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from voltaje.books.registry import find_book
from voltaje.design.balancing import Balanced
from voltaje.design.least_metal import REASON, least_metal
from voltaje.design.legs import BoardLegs, legs_of
from voltaje.digits import whole
from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.drawing.legs import colour
from web.jobs.listing import may_edit
from web.jobs.saying import said_of_error
from web.jobs.solving import solve_job
from web.words.request import Request
from web.workbench.changes import board_of
from web.workbench.forms import LeastForm
from web.workbench.views import opened

_MOST = 200


@signed_in
@require_GET
def even(request: Request, job_id: UUID) -> HttpResponse:
    """The best moves on the chosen board, so many of them at most as are asked for."""
    job, document = opened(request, job_id)
    most = whole(request.GET.get("most", ""))
    cap = None if most is None else min(most, _MOST)
    board = board_of(document, request.GET.get("at", ""))
    try:
        solved = solve_job(document)
        with_below = request.GET.get("whole") == "1"
        legs = legs_of(board, solved.job, solved.solution, with_below) if board in solved.solution.nodes else None
    except Refused as error:
        return render(request, "workbench/_evened.html", {"error": said_of_error(error, document)})
    if legs is None:
        return render(request, "workbench/_evened.html", {})
    found = legs.evened(cap)
    context = {
        "found": found,
        "rows": _rows(legs, found, find_book(solved.solution.book).terms.family),
        "moves": _moves(legs, found),
        "may_edit": may_edit(job, request.user),
        "cap": cap,
        "spread": (_spread(found.amps_before), _spread(found.amps)),
        "gap": found.largest_a - found.bound_a,
    }
    return render(request, "workbench/_evened.html", context)


def _spread(amps: dict[str, float]) -> float:
    return max(amps.values()) - min(amps.values())


def _rows(legs: BoardLegs, found: Balanced, family: str) -> list[dict[str, object]]:
    """Return each leg as it is and as it comes, with the ends of the bars [per cent of the greater]."""
    most = max(*found.amps.values(), *found.amps_before.values(), 1e-9)
    before, after = found.amps_before, found.amps
    return [
        {
            "leg": leg,
            "hue": colour(leg, family, legs.system.line_to_line_v),
            "before": before[leg],
            "after": after[leg],
            "wide_before": before[leg] / most * 100,
            "wide_after": after[leg] / most * 100,
        }
        for leg in legs.order
    ]


def _moves(legs: BoardLegs, found: Balanced) -> list[dict[str, object]]:
    blocks = {block.key: block for block in legs.blocks}
    return [
        {
            "key": str(move.key), "name": blocks[str(move.key)].name, "before": "-".join(move.before),
            "after": "-".join(move.after), "each_a": max(blocks[str(move.key)].each_a.values()),
            "neutral": bool(blocks[str(move.key)].neutral_a),
        }
        for move in found.moves
    ]  # fmt: skip


@signed_in
@require_GET
def least(request: Request, job_id: UUID) -> HttpResponse:
    """The sizes of least metal over the whole job, or of least money where prices are given."""
    job, document = opened(request, job_id)
    form = LeastForm(request.GET)
    if not form.is_valid():
        words = [str(message) for messages in form.errors.values() for message in messages]
        return render(request, "workbench/_least.html", {"error": " ".join(words)})
    asked = form.cleaned_data
    prices = {metal: asked[key] for metal, key in (("Cu", "cu"), ("Al", "al")) if asked[key]}
    try:
        solved = solve_job(document)
        found = least_metal(solved.job, solved.solution, asked["margin"] or 0.0, prices)
    except Refused as error:
        return render(request, "workbench/_least.html", {"error": said_of_error(error, document)})
    nodes = document["nodes"]
    context = {
        "found": found,
        "unit": "" if prices else "kg",
        "reason": REASON,
        "may_edit": may_edit(job, request.user),
        "unmet": [nodes[key].get("name") or key for key in found.unmet],
    }
    return render(request, "workbench/_least.html", context)
