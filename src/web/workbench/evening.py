"""What evening out and least metal propose, with their proofs, before anything is made."""

from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.views.decorators.http import require_POST

from voltaje.books.registry import find_book
from voltaje.design.balancing import Balanced
from voltaje.design.least_metal import REASON, least_metal
from voltaje.design.legs import BoardLegs, legs_of
from voltaje.digits import whole
from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.drawing.legs import colour
from web.jobs.changes.saying import said_of_error
from web.jobs.document import Document
from web.jobs.files.openfile import board_of
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.rows import document_of
from web.jobs.worker.solving import solve_job
from web.jobs.worker.working import answers
from web.words.request import Request
from web.workbench.forms import LeastForm
from web.workbench.views import opened
from web.workbench.waiting import from_worker

_MOST = 200
# So many circuits are answered at once, well under a second; more are left to the worker.
_EVENED_AT_ONCE, _LEAST_AT_ONCE = 200, 250
_EVENED, _LEAST = "workbench/_evened.html", "workbench/_least.html"


@signed_in
@require_POST
def even(request: Request, job_id: UUID) -> HttpResponse:
    """The best moves on the chosen board, so many of them at most as are asked for."""
    job, document = opened(request, job_id)
    most = whole(request.POST.get("most", ""))
    about: dict[str, Any] = {
        "board": board_of(document, request.POST.get("at", "")),
        "most": None if most is None else min(most, _MOST),
        "with_below": request.POST.get("whole") == "1",
    }
    hung = document["nodes"].values() if about["with_below"] else _fed_by(document, about["board"])
    if len(hung) <= _EVENED_AT_ONCE:
        return HttpResponse(_even(job, about, request.user))
    return from_worker(request, job, "even", about)


def _fed_by(document: Document, board: str) -> list[dict[str, Any]]:
    return [node for node in document["nodes"].values() if node.get("parent") == board]


@answers("even")
def _even(job: Job, about: dict[str, Any], user: User) -> str:
    document, board = document_of(job), about["board"]
    try:
        solved = solve_job(document)
        known = board in solved.solution.nodes
        legs = legs_of(board, solved.job, solved.solution, about["with_below"]) if known else None
    except Refused as error:
        return render_to_string(_EVENED, {"error": said_of_error(error, document)})
    if legs is None:
        return render_to_string(_EVENED, {})
    found = legs.evened(about["most"])
    context = {
        "found": found,
        "rows": _rows(legs, found, find_book(solved.solution.book).terms.family),
        "moves": _moves(legs, found),
        "may_edit": may_edit(job, user),
        "cap": about["most"],
        "spread": (_spread(found.amps_before), _spread(found.amps)),
        "gap": found.largest_a - found.bound_a,
    }
    return render_to_string(_EVENED, context)


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
            "key": str(move.key),
            "name": blocks[str(move.key)].name,
            "before": "-".join(move.before),
            "after": "-".join(move.after),
            "each_a": max(blocks[str(move.key)].each_a.values()),
            "neutral": bool(blocks[str(move.key)].neutral_a),
        }
        for move in found.moves
    ]


@signed_in
@require_POST
def least(request: Request, job_id: UUID) -> HttpResponse:
    """The sizes of least metal over the whole job, or of least money where prices are given."""
    job, document = opened(request, job_id)
    form = LeastForm(request.POST)
    if not form.is_valid():
        words = [str(message) for messages in form.errors.values() for message in messages]
        return render(request, _LEAST, {"error": " ".join(words)})
    given = form.cleaned_data
    prices = {metal: given[key] for metal, key in (("Cu", "cu"), ("Al", "al")) if given[key]}
    about = {"margin": given["margin"] or 0.0, "prices": prices}
    if len(document["nodes"]) <= _LEAST_AT_ONCE:
        return HttpResponse(_least(job, about, request.user))
    return from_worker(request, job, "least", about)


@answers("least")
def _least(job: Job, about: dict[str, Any], user: User) -> str:
    document = document_of(job)
    try:
        solved = solve_job(document)
        found = least_metal(solved.job, solved.solution, about["margin"], about["prices"])
    except Refused as error:
        return render_to_string(_LEAST, {"error": said_of_error(error, document)})
    nodes = document["nodes"]
    context = {
        "found": found,
        "unit": "" if about["prices"] else "kg",
        "reason": REASON,
        "may_edit": may_edit(job, user),
        "unmet": [nodes[key].get("name") or key for key in found.unmet],
    }
    return render_to_string(_LEAST, context)
