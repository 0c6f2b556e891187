"""A job on paper: the drawing on as many sheets as it needs, and every schedule."""

from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils.translation import gettext as _
from django.views.decorators.http import require_http_methods

from voltaje.books.registry import find_book
from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.accounts.guests import is_guest
from web.drawing.oneline.draw import single_line
from web.drawing.shapes import Drawing
from web.jobs.changes.saying import said_of_error
from web.jobs.files.openfile import in_order, ordered
from web.jobs.models import Job
from web.jobs.rows import document_of
from web.jobs.worker.solving import solve_job
from web.jobs.worker.working import answers, known
from web.words.request import Request
from web.words.trade import supply_words, trade
from web.workbench.parts.schedule import schedule_view
from web.workbench.views import opened
from web.workbench.waiting import from_worker

PAPERS = {"letter": "Letter", "tabloid": "Tabloid", "a4": "A4", "a3": "A3"}
_SHEETS_MM = {"letter": (216, 279), "tabloid": (279, 432), "a4": (210, 297), "a3": (297, 420)}
_MARGINS_MM, _HEAD_MM, _CAPTION_MM = 24, 48, 10
# What a unit of the drawing is on paper, at most; a drawing that would be under the least on one sheet has several.
_UNIT_MM, _LEAST_UNIT_MM = 0.36, 0.14
_AT_ONCE = 1_000  # nodes; the paper of more takes over a second to draw, and is left to the worker


def footer(book: str) -> list[str]:
    """Return what must stand wherever figures leave the screen."""
    return [
        book,
        _("Table values not checked against the printed code"),
        _("Isolate, prove dead, wear PPE, check the short-circuit ratings"),
        _("The local code and the licensed person decide"),
    ]


@signed_in
@require_http_methods(["GET", "POST"])
def paper(request: Request, job_id: UUID) -> HttpResponse:
    """The drawing and every schedule, for paper; of a large job once the worker has drawn them: a page waits for it.

    By POST the worker is asked; nothing else is changed.
    """
    job, document = opened(request, job_id)
    size = request.GET.get("paper", "")
    about = {"paper": size if size in PAPERS else find_book(job.book).terms.paper}
    if len(document["nodes"]) <= _AT_ONCE:
        try:
            return HttpResponse(_drawn(job, about, request.user))
        except Refused as error:
            raise Http404 from error
    waits = from_worker(request, job, "paper", about) if request.method == "POST" else None
    drawn = known(job, request.user, "paper", about)
    if waits is not None:
        return HttpResponse(headers={"HX-Refresh": "true"}) if drawn else waits
    return HttpResponse(drawn) if drawn else render(request, "workbench/paper_waits.html", {"job": job})


@answers("paper")
def _paper(job: Job, about: dict[str, Any], user: User) -> str:
    try:
        return _drawn(job, about, user)
    except Refused as error:
        return said_of_error(error, document_of(job))


def _drawn(job: Job, about: dict[str, Any], user: User) -> str:
    document, size, terms = document_of(job), about["paper"], find_book(job.book).terms
    solved = solve_job(document)
    nodes = document["nodes"]
    boards = [key for key in ordered(document) if nodes[key]["kind"] == "board"]
    drawing = single_line(in_order(document), solved.solution, terms, _aspect(size))
    context = {
        "job": job,
        **_on_sheets(drawing, size),
        "schedules": [schedule_view(document, solved.solution, key, terms) for key in boards],
        "footer": footer(solved.solution.book),
        "supply": ", ".join(supply_words(node["system"])[0] for node in nodes.values() if node["kind"] == "source"),
        "by": "" if is_guest(user) else user.get_username(),
        "papers": PAPERS,
        "paper": size,
        "w": trade(terms.family),
    }
    return render_to_string("workbench/paper.html", context)


def _aspect(size: str) -> float:
    """Return width over height of the room on the first sheet of a size."""
    wide, tall = (side - _MARGINS_MM for side in _SHEETS_MM[size])
    return wide / (tall - _HEAD_MM - _CAPTION_MM)


def _on_sheets(drawing: Drawing, size: str) -> dict[str, Any]:
    """Return the drawing in bands for sheets of that size, and how many millimetres one of its units is."""
    wide, tall = (side - _MARGINS_MM for side in _SHEETS_MM[size])
    whole = min(wide / drawing.width, (tall - _HEAD_MM - _CAPTION_MM) / drawing.height)
    unit = min(_UNIT_MM, whole if whole >= _LEAST_UNIT_MM else min(wide / drawing.width, 1.5 * _LEAST_UNIT_MM))
    first, others = (tall - _HEAD_MM - _CAPTION_MM) / unit, (tall - _CAPTION_MM) / unit
    return {"drawing": drawing, "bands": drawing.bands(first, others), "unit": unit}
