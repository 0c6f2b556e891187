"""Settings of a job, and the people who share it."""

from typing import Any
from uuid import UUID

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_POST

from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.jobs import people as sharing
from web.jobs.access import job_to_edit
from web.jobs.changes import editing
from web.jobs.changes.editing import Plan, Planner
from web.jobs.changes.saying import said_of_error
from web.jobs.document import Change, Document
from web.jobs.keeping import create
from web.jobs.limits import MOST_EVENTS
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.rows import document_of
from web.jobs.worker.solving import Judge
from web.words.figures import say
from web.words.request import Request
from web.workbench.forms import SeenForm
from web.workbench.settings.effects import MOST_TOLD, Effects, effects_of
from web.workbench.settings.forms import AmendmentForm, ForgetForm, JobForm, PersonForm, amendment_key, limit_words


@signed_in
def settings(request: Request, job_id: UUID) -> HttpResponse:
    """Book, practices, drop limits, ambient, conductor colours, amendments."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    document = document_of(job)
    asked = request.POST.get("form")
    form = JobForm(request.POST if asked == "job" else None, document, auto_id="job-%s")
    amendment = AmendmentForm(request.POST if asked == "amendment" else None, auto_id="amendment-%s")
    problem, shown_first = "", Effects()
    if request.method == "POST":
        shown_first = _effects(request, document, form)
        problem = "" if shown_first else _keep(request, job, form, amendment)
        if not (problem or shown_first):
            messages.info(request, _("Saved."))
            return redirect("settings", job_id=job.pk)
    context = {
        "job": job,
        "form": form,
        "problem": problem,
        "effects": shown_first,
        "most_told": MOST_TOLD,
        "amendment": amendment,
        "amendments": [(limit_words(each), each) for each in document["job"].get("amendments", [])],
        "may_edit": may_edit(job, request.user),
        "people": job.memberships.select_related("user").order_by("pk"),
        "owns": Job.objects.owned_by(request.user).filter(pk=job.pk).exists(),
        "person": PersonForm(auto_id="person-%s"),
        "most_events": MOST_EVENTS,
        "events": job.events.select_related("actor").order_by("-touched")[:12],
    }
    return render(request, "workbench/settings.html", context)


def _effects(request: Request, document: Document, form: Any) -> Effects:
    """Return what settings would do to the job, where a person has not seen it yet; nothing where nothing would be."""
    if request.POST.get("sure") or not (form.is_bound and form.is_valid()):
        return Effects()
    return effects_of(document, form.changes())


def _keep(request: Request, job: Job, form: Any, amendment: Any) -> str:
    """Keep what one of the page's forms asks for. Returns what stands in the way, "" where it is kept."""
    job_to_edit(job.pk, request.user)
    seen, forget = SeenForm(request.POST), ForgetForm(request.POST)
    if form.is_bound and form.is_valid():
        planner = editing.planned(*form.changes(), title=_("settings"))
    elif amendment.is_bound and amendment.is_valid():
        planner = _with_amendment(amendment.kept())
    elif not (form.is_bound or amendment.is_bound) and forget.is_valid():
        planner = _without_amendment(forget.cleaned_data["forget"])
    else:
        return _("Nothing is kept yet: see below.")
    try:
        shown = seen.cleaned_data["seen"] if seen.is_valid() else editing.Seen(job.version)
        editing.edit(job.pk, request.user, planner, shown, Judge())
    except Refused as error:
        told = amendment if amendment.is_bound else form
        return _("Nothing is kept yet: see below.") if told.tells(error) else said_of_error(error, document_of(job))
    except editing.Conflict as conflict:
        who = conflict.event.who
        return _("%(who)s has changed the same thing meanwhile: look at it again first.") % {"who": who}
    return ""


def _amended(document: Document, amendments: list[dict[str, Any]]) -> Plan:
    return Plan([Change(("job", "amendments"), None, amendments or None)], _("local amendments"))


def _with_amendment(amendment: dict[str, Any]) -> Planner:
    return lambda document: _amended(document, [*document["job"].get("amendments", []), amendment])


def _without_amendment(gone: str) -> Planner:
    """Return the planner that takes away the amendment that was shown; where it is gone already, nothing changes."""

    def planner(document: Document) -> Plan:
        had = list(document["job"].get("amendments", []))
        return _amended(document, [each for each in had if amendment_key(each) != gone])

    return planner


@signed_in
@require_POST
def people(request: Request, job_id: UUID) -> HttpResponse:
    """Share a job, change what someone may do, or end it; the owner only."""
    get_object_or_404(Job.objects.owned_by(request.user), pk=job_id)
    form = PersonForm(request.POST)
    if not form.is_valid():
        messages.error(request, _("Give an account's name."))
        return redirect("settings", job_id=job_id)
    try:
        sharing.share(job_id, request.user, form.cleaned_data["username"], form.cleaned_data["role"])
    except sharing.NoSuchPerson:
        messages.error(request, _("There is no account of that name."))
    except sharing.LastOwner:
        messages.error(request, _("A job keeps its owner."))
    return redirect("settings", job_id=job_id)


@signed_in
@require_POST
def duplicate(request: Request, job_id: UUID) -> HttpResponse:
    """Copy a whole job; the copy is one's own."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    document = document_of(job)
    document["job"]["name"] = (_("%(name)s, copy") % {"name": job.name})[:80]
    try:
        made = create(request.user, document)
    except Refused as error:
        messages.error(request, say(error.message))
        return redirect("settings", job_id=job.pk)
    return redirect("workbench", job_id=made.pk)
