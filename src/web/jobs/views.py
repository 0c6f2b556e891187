"""Pages of jobs: the list, a new one, put away and brought back."""

from typing import Any
from uuid import UUID

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.translation import gettext as _
from django.views.decorators.http import require_GET, require_POST
from django_htmx.http import HttpResponseClientRedirect

from voltaje.errors import Refused
from voltaje.samples import NAMES
from web.accounts.access import signed_in
from web.jobs import keeping
from web.jobs.beginning import document_in, new_supply, said, text_of
from web.jobs.document import Document
from web.jobs.files import reading
from web.jobs.files.house import HOUSE, new_document, tidied
from web.jobs.forms import FileForm, NewHouseForm, NewJobForm
from web.jobs.limits import AT_ONCE_NODES
from web.jobs.listing import SHOWN, SORTS, job_rows, picked, put_away, samples_drawn
from web.jobs.models import Job
from web.jobs.sample import sample_document
from web.jobs.worker.solving import solve_job
from web.words.figures import say
from web.words.request import Request


@signed_in
def jobs(request: Request) -> HttpResponse:
    """The person's jobs, those they look for in the order they want; and those put away."""
    every = job_rows(request.user)
    words, shown, sort = (request.GET.get(name, "")[:_MOST_WORDS] for name in ("words", "show", "sort"))
    context = {
        "rows": picked(every, words, shown, sort),
        "put_away": put_away(request.user),
        "all": len(every),
        "shows": [(key, said, len(list(filter(stands, every)))) for key, (said, stands) in SHOWN.items()],
        "sorts": [(key, said) for key, (said, _order) in SORTS.items()],
        "words": words,
        "show": shown if shown in SHOWN else "",
        "sort": sort,
    }
    return render(request, "jobs/jobs.html", context)


_MOST_WORDS = 100


@signed_in
def new_job(request: Request) -> HttpResponse:
    """Choose how to begin: from nothing, a house, a sample, a file."""
    form = NewJobForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        job = _created(request, new_supply(**form.cleaned_data), form)
        if job:
            return redirect("workbench", job_id=job.pk)
    return render(request, "jobs/new_job.html", {"form": form, "samples": samples_drawn()})


@signed_in
def new_house(request: Request) -> HttpResponse:
    """Make a house."""
    form = NewHouseForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        document = new_document(**form.cleaned_data)
        area = ("nodes", HOUSE, "floor_area")
        document["nodes"][HOUSE]["floor_area"] = tidied(area, form.cleaned_data["floor_area"], document)
        try:
            solve_job(document)
        except Refused as error:
            field = error.field.rpartition(".")[2]
            form.add_error(field if field in form.fields else None, say(error.message))
        else:
            job = _created(request, document, form)
            if job:
                return redirect("house", job_id=job.pk, key=HOUSE)
    return render(request, "jobs/new.html", {"form": form})


@signed_in
@require_POST
def from_sample(request: Request) -> HttpResponse:
    """Begin with a sample job."""
    name = request.POST.get("sample", "")
    if name not in NAMES:
        raise Http404
    job = _created(request, sample_document(name))
    return redirect("workbench", job_id=job.pk) if job else redirect("new-job")


@signed_in
@require_POST
def from_file(request: Request) -> HttpResponse:
    """Begin with an open job file; what is wrong with it is said with its place. A large one is left to the worker."""
    form = FileForm(request.POST, request.FILES)
    if form.is_valid():
        upload = form.cleaned_data["file"]
        text, problem = text_of(upload)
        try:
            document = document_in(text) if not problem else None
            if document and len(document["nodes"]) > AT_ONCE_NODES:
                return redirect("reading", reading_id=reading.begin(request.user, upload.name, text).pk)
            if document:
                solve_job(document)
                return redirect("workbench", job_id=keeping.create(request.user, document).pk)
        except Refused as error:
            problem = said(error)
        except reading.TooMany:
            problem = _("Other files of yours are still being read: wait for them.")
        form.add_error("file", problem)
    context = {"form": NewJobForm(), "file_form": form, "samples": samples_drawn()}
    return render(request, "jobs/new_job.html", context)


def _created(request: Request, document: Document, form: Any = None) -> Job | None:
    """Return the job made of a document; None where the account holds too much, said at the form or above the page."""
    try:
        return keeping.create(request.user, document)
    except Refused as error:
        if form:
            form.add_error(None, say(error.message))
        else:
            messages.error(request, say(error.message))
        return None


@signed_in
@require_GET
def reading_page(request: Request, reading_id: UUID) -> HttpResponse:
    """How far the reading of a file is; once it is done, its job."""
    found = get_object_or_404(request.user.readings, pk=reading_id)
    if found.job and not found.job.deleted_at:
        return to_page(request, "workbench", found.job.pk)
    template = "jobs/_reading.html" if request.htmx else "jobs/reading.html"
    return render(request, template, {"reading": found})


def to_page(request: Request, name: str, *args: Any) -> HttpResponse:
    """Go to a page, from a page or from a part of one."""
    return HttpResponseClientRedirect(reverse(name, args=args)) if request.htmx else redirect(name, *args)


@signed_in
@require_POST
def delete_job(request: Request, job_id: UUID) -> HttpResponse:
    """Put a job away; the list offers to bring it back."""
    job = keeping.delete(job_id, request.user)
    messages.info(request, _("%(name)s is deleted; it can be restored below.") % {"name": job.name})
    return redirect("jobs")


@signed_in
@require_POST
def restore_job(request: Request, job_id: UUID) -> HttpResponse:
    """Bring a job back."""
    keeping.restore(job_id, request.user)
    return redirect("jobs")
