"""What goes in and out as files: lists of loads, schedules, the drawing, the open job file, paper."""

import copy
from typing import Any
from uuid import UUID

from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import render
from django.utils.text import slugify
from django.utils.translation import gettext as _
from django.views.decorators.http import require_GET

from voltaje.books.answers import Terms
from voltaje.books.registry import find_book
from voltaje.errors import Refused
from voltaje.path.schema import job_schema
from voltaje.speech.said import Where
from web.accounts.access import signed_in
from web.drawing.oneline.draw import single_line
from web.jobs.access import job_to_edit
from web.jobs.changes.editing import Plan
from web.jobs.changes.notes import Note
from web.jobs.document import Document, put
from web.jobs.files.openfile import board_of, in_order, to_open
from web.jobs.models import Job
from web.jobs.rows import document_of
from web.jobs.worker.solving import Solved, solve_job
from web.words.request import Request, part_of
from web.workbench.edits import changes
from web.workbench.edits.applying import Said, apply
from web.workbench.edits.walk import where_of
from web.workbench.files.csvlist import COLUMNS, Boards, read_list, write_schedule
from web.workbench.files.paper import footer
from web.workbench.forms import ListForm
from web.workbench.parts.schedule import schedule_view
from web.workbench.views import opened


def _solved(request: Request, job_id: UUID) -> tuple[Job, Document, Solved]:
    """Return a job that the person may read, solved; 404 where it cannot be."""
    job, document = opened(request, job_id)
    try:
        return job, document, solve_job(document)
    except Refused as error:
        raise Http404 from error


def _terms(job: Job) -> Terms:
    return find_book(job.book).terms


def _file(text: str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(text, content_type=f"{kind}; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@signed_in
@require_GET
def job_json(request: Request, job_id: UUID) -> HttpResponse:
    """The open job file."""
    job, document = opened(request, job_id)
    response = JsonResponse(to_open(document), json_dumps_params={"ensure_ascii": False, "indent": 1})
    response["Content-Disposition"] = f'attachment; filename="{slugify(job.name) or "job"}.json"'
    return response


def schema(request: Request) -> HttpResponse:
    """The JSON Schema of the open job file."""
    return JsonResponse(job_schema(), json_dumps_params={"ensure_ascii": False, "indent": 2})


@signed_in
@require_GET
def schedule_csv(request: Request, job_id: UUID) -> HttpResponse:
    """The schedule of a board."""
    job, document, solved = _solved(request, job_id)
    board = board_of(document, request.GET.get("at", ""))
    if not board:
        raise Http404
    view = schedule_view(document, solved.solution, board, _terms(job))
    text = write_schedule(view, document["nodes"], footer(solved.solution.book))
    return _file(text, "text/csv", f"{slugify(view.name) or 'schedule'}.csv")


@signed_in
@require_GET
def path_svg(request: Request, job_id: UUID) -> HttpResponse:
    """The single-line drawing, standing alone."""
    job, document, solved = _solved(request, job_id)
    drawing = single_line(in_order(document), solved.solution, _terms(job))
    lines = footer(solved.solution.book)
    context = {"drawing": drawing, "job": job, "footer": lines, "total_height": drawing.height + 30 + 18 * len(lines)}
    text = render(request, "workbench/path.svg", context).content.decode()
    return _file(text, "image/svg+xml", f"{slugify(job.name) or 'path'}.svg")


@signed_in
@part_of("workbench")
def load_list(request: Request, job_id: UUID) -> HttpResponse:
    """Read a pasted list of loads: a preview with an error for each wrong line; the good ones are taken if asked."""
    job = job_to_edit(job_id, request.user)
    context = {"job": job, "columns": ", ".join(COLUMNS)}
    if request.method != "POST":
        return render(request, "workbench/_list.html", context)
    form = ListForm(request.POST)
    if not form.is_valid():
        context["error"] = _("That list is too long to read at once.")
        return render(request, "workbench/_list.html", context)
    seen, terms = form.cleaned_data, _terms(job)
    document = document_of(job)
    found = read_list(seen["text"], terms, _boards(document, seen["at"]))
    placed = _places(document, found.good, seen["at"])
    known = {line.number for line, _board, known in placed if known}
    context |= {"found": found, "text": seen["text"], "known": known}
    if not seen["take"] or not found.good:
        return render(request, "workbench/_list.html", context)
    missing = _missing(placed)
    if missing:
        return render(request, "workbench/_list.html", {**context, "error": missing})
    return _taken(request, job, seen, found)


def _boards(document: Document, at: str) -> Boards:
    """Return what tells of a board that a row names what it has."""

    def where(named: str) -> Where:
        board = changes.find_board(document, named) if named else board_of(document, at)
        return where_of(document, board or "")

    return where


def _missing(placed: Any) -> str:
    """Return what is to be said of lines without a board, "" where each has one."""
    names = {line.board for line, board, _known in placed if not board}
    if not names:
        return ""
    if names == {""}:
        return _("What was chosen here was deleted by someone else: choose what feeds them.")
    return _("No board, or more than one, goes by: %(names)s") % {"names": ", ".join(sorted(filter(None, names)))}


def _places(document: Document, lines: Any, at: str) -> Any:
    """Return each line with its board, and the load there that it changes: one that already goes by its name.

    A load is changed by one line at most; a second of that name is a load of its own.
    """
    placed, changed = [], set()
    for line in lines:
        board = changes.find_board(document, line.board) if line.board else board_of(document, at)
        known = changes.load_named(document, board, line.node["name"])
        known = known if known not in changed else None
        changed.add(known)
        placed.append((line, board, known))
    return placed


def _wanted(document: Document, placed: Any, anew: bool) -> Any:
    """Return the changes that take lines in their places; `anew` adds them all, whatever goes by their names."""
    wanted = []
    for line, board, known in placed:
        altered = known and not anew
        for change in (
            changes.alter(document, known, line.node) if altered else changes.add(document, board, [line.node])
        ):
            put(document, change)
            wanted.append(change)
    return wanted


def _taken(request: Request, job: Job, seen: dict[str, Any], found: Any) -> HttpResponse:
    """Take the good lines; the bad ones stay in the form, to be mended."""
    title = _("took a list of %(n)s") % {"n": len(found.good)}

    def planner(document: Document) -> Plan:
        placed = _places(document, found.good, seen["at"])
        missing = _missing(placed)
        if missing:
            raise Said(missing)
        return Plan(_wanted(copy.deepcopy(document), placed, seen["anew"]), title)

    response = apply(request, job.pk, seen, planner, _at_list, {"notes": [Note("list-note", hint=title)]})
    if not response.kept:
        return response
    head = seen["text"].strip().partition("\n")[0].strip()
    left = "\n".join([head, *(line.text for line in found.bad)]) if found.bad else ""
    context = {"job": job, "columns": ", ".join(COLUMNS), "text": left, "oob": True}
    if left:
        context["found"] = read_list(left, _terms(job), _boards(document_of(job), seen["at"]))
    response.content += render(request, "workbench/_list.html", context).content
    return response


def _at_list(words: str) -> Note:
    return Note("list-note", error=words)
