"""The workbench as it is read: the page, its regions, findings, a line as understood, another book."""

from dataclasses import replace
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.books.registry import find_book
from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.jobs.changes.notes import Note
from web.jobs.changes.saying import said_of_error
from web.jobs.document import Document
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.news import told_since
from web.jobs.rows import document_of
from web.jobs.worker.solving import solve_job
from web.words.figures import say
from web.words.request import Request, part_of
from web.workbench.edits.walk import understood
from web.workbench.edits.weighing import readings
from web.workbench.forms import NOTHING_SEEN, FindForm, LineForm, SeenForm
from web.workbench.other_book import under_book
from web.workbench.parts.chain import alike, chain_view
from web.workbench.parts.finding import MOST_FOUND
from web.workbench.parts.finding import find as search
from web.workbench.parts.pieces import Shown
from web.workbench.regions import bench, chosen, remarks

_MOST_LISTED = 300  # findings, the worst of them: nobody reads more, and thousands take seconds to draw


def opened(request: Request, job_id: UUID) -> tuple[Job, Document]:
    """Return a job that the person may read, and its document."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    return job, document_of(job)


@signed_in
@require_GET
def workbench(request: Request, job_id: UUID) -> HttpResponse:
    """The page."""
    job, document = opened(request, job_id)
    at = chosen(document, request.GET.get("at", ""))
    lens = request.GET.get("lens", "")
    try:
        solved = solve_job(document, at)
    except Refused as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})
    return render(request, "workbench/workbench.html", bench(request, job, document, solved, at, lens))


@signed_in
@part_of("workbench")
@require_http_methods(["GET", "POST"])
def region(request: Request, job_id: UUID) -> HttpResponse:
    """The regions as they stand: another node chosen, another lens, or another person's change taken.

    Nothing is changed; by POST a page says every piece that it shows, and gets those that differ.
    """
    job, document = opened(request, job_id)
    asked = request.POST if request.method == "POST" else request.GET
    form = SeenForm(asked)
    seen = NOTHING_SEEN | (form.cleaned_data if form.is_valid() else {"at": asked.get("at", "")[:40]})
    at = chosen(document, seen["at"])
    try:
        solved = solve_job(document, at)
    except Refused as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})
    # A page that asks for another node says its frames, not its pieces: they stand as long as nothing was changed.
    if seen["version"] == job.version:
        shown = replace(seen["shown"], at_rest=True)
    else:
        shown = (
            seen["shown"] if request.method == "POST" else Shown(unfolded=seen["shown"].unfolded, off=seen["shown"].off)
        )
    context = bench(request, job, document, solved, at, seen["lens"], shown)
    told = told_since(job, request.user, seen["version"]) if asked.get("news") and seen["version"] >= 0 else []
    return render(request, "workbench/_changed.html", {**context, "notes": [Note.general("")], "told": told})


@signed_in
@require_GET
def findings(request: Request, job_id: UUID) -> HttpResponse:
    """Every finding of the job, for the list that opens from the strip."""
    job, document = opened(request, job_id)
    try:
        listed = remarks(document, solve_job(document))
    except Refused as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})
    context = {
        "job": job,
        "remarks": listed[:_MOST_LISTED],
        "more": max(len(listed) - _MOST_LISTED, 0),
        "assumed": [each.key for each in listed if each.finding.code == "load.assumed"][:_MOST_LISTED],
        "may_edit": bool(request.htmx) and may_edit(job, request.user),  # a page by itself is for reading
    }
    return render(request, "workbench/_findings.html" if request.htmx else "workbench/findings.html", context)


@signed_in
@part_of("workbench")
@require_GET
def find(request: Request, job_id: UUID) -> HttpResponse:
    """What goes by some words."""
    job, document = opened(request, job_id)
    form = FindForm(request.GET)
    words = form.cleaned_data["words"] if form.is_valid() else ""
    try:
        found = search(document, solve_job(document), words) if words else []
    except Refused as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})
    context = {"found": found, "words": words, "most": MOST_FOUND, "may_edit": may_edit(job, request.user)}
    return render(request, "workbench/_found.html", context)


@signed_in
@part_of("workbench")
@require_GET
def understand(request: Request, job_id: UUID) -> HttpResponse:
    """What a walk-through line says, shown before it is added."""
    _job, document = opened(request, job_id)
    form = LineForm({"version": 0, "line": request.GET.get("line", "")})
    line = form.cleaned_data["line"] if form.is_valid() else ""
    context = {"said": understood(document, line, request.GET.get("at", ""))} if line else {}
    return render(request, "workbench/_understood.html", {**context, "costs_at": reverse("costs", args=[job_id])})


@signed_in
@part_of("workbench")
@require_GET
def costs(request: Request, job_id: UUID) -> HttpResponse:
    """What each reading of an assumed line costs."""
    _job, document = opened(request, job_id)
    form = LineForm({"version": 0, "line": request.GET.get("line", "")})
    line = form.cleaned_data["line"] if form.is_valid() else ""
    try:
        weighed = readings(document, line, request.GET.get("at", "")) if line else []
    except Refused as error:
        return render(request, "workbench/_costs.html", {"error": say(error.message)})
    return render(request, "workbench/_costs.html", {"readings": weighed})


@signed_in
@part_of("workbench")
@require_GET
def compare(request: Request, job_id: UUID) -> HttpResponse:
    """The chosen node under another book, side by side."""
    _job, document = opened(request, job_id)
    at = chosen(document, request.GET.get("at", ""))
    other = request.GET.get("book", "")
    try:
        book = find_book(other).name
        mine = solve_job(document, at)
        theirs = under_book(document, other, mine)
        here = chain_view(mine.solution, at, "")
        there = chain_view(solve_job(theirs, at).solution, at, "")
    except Refused as error:
        return render(request, "workbench/_compare.html", {"error": said_of_error(error, document)})
    # A book may have links that another lacks: a motor's overload, what a service earths.
    others = {link.key: link for link in there.links}
    pairs = [(link, others.get(link.key), not alike(link, others.get(link.key))) for link in here.links]
    differing = sum(differs for _here, _there, differs in pairs)
    context = {
        "pairs": pairs,
        "name": here.title,
        "differing": differing,
        "book": document["job"]["book"],
        "other": book,
    }
    return render(request, "workbench/_compare.html", context)
