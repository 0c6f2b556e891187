"""What a person does with a sheet beside reading it: keep it, compare it, put it into a job."""

import json
from typing import Any
from urllib.parse import urlencode

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import gettext as _
from django.views.decorators.http import require_GET, require_POST

from voltaje.digits import whole
from voltaje.errors import Refused
from voltaje.limits import MOST_NAME
from voltaje.tools.tool import PUT
from web.accounts.access import signed_in
from web.jobs.access import job_to_edit
from web.jobs.changes import editing
from web.jobs.changes.editing import Plan, Seen
from web.jobs.changes.queueing import turn_at
from web.jobs.document import Document
from web.jobs.files.pasting import NotPasted, pasted
from web.jobs.worker.solving import Judge
from web.quick.answering import SheetView, sheet_of
from web.quick.inputs import as_address
from web.quick.models import Kept
from web.quick.views import find_tool
from web.words.figures import say
from web.words.forms import CleanedForm
from web.words.request import Request

_MOST_KEPT = 200
_PAIR = 2


class KeepForm(CleanedForm):
    """A name to keep a sheet under, and the job it belongs to."""

    _name = forms.CharField(max_length=MOST_NAME)
    _job = forms.UUIDField(required=False)


class PutForm(CleanedForm):
    """The job that a sheet goes into."""

    _job = forms.UUIDField()


def _posted(request: Request, name: str) -> SheetView:
    data = {key: request.POST.get(key, "") for key in request.POST if key != "csrfmiddlewaretoken"}
    return sheet_of(find_tool(name), data)


def _back(view: SheetView) -> HttpResponse:
    return redirect(f"{reverse('quick-sheet', args=[view.tool.name])}?{view.address}")


@signed_in
@require_POST
@transaction.atomic
def keep(request: Request, name: str) -> HttpResponse:
    """Keep a sheet under a name, in a job or alone."""
    view, form = _posted(request, name), KeepForm(request.POST)
    if not form.is_valid() or not view.answered:
        messages.error(request, _("Give it a name of at most %(n)s letters.") % {"n": MOST_NAME})
        return _back(view)
    if Kept.objects.of(request.user).count() >= _MOST_KEPT:
        messages.error(request, _("%(n)s sheets are kept already: delete some first.") % {"n": _MOST_KEPT})
        return _back(view)
    job_id = form.cleaned_data["_job"]
    job = job_to_edit(job_id, request.user) if job_id else None
    named = form.cleaned_data["_name"]
    Kept.objects.create(owner=request.user, job=job, tool=name, name=named, inputs=as_address(view.raw))
    messages.success(request, _("“%(name)s” is kept.") % {"name": named})
    return _back(view)


def _mine(request: Request, kept_id: int, forgotten: bool = False) -> Kept:
    return get_object_or_404(Kept, owner=request.user, pk=kept_id, forgotten_at__isnull=not forgotten)


@signed_in
@require_GET
def opened(request: Request, kept_id: int) -> HttpResponse:
    """A kept sheet, where it stands."""
    kept = _mine(request, kept_id)
    return redirect(f"{reverse('quick-sheet', args=[kept.tool])}?{urlencode(kept.inputs)}")


@signed_in
@require_POST
@transaction.atomic
def forget(request: Request, kept_id: int) -> HttpResponse:
    """Delete a kept sheet; it can be brought back."""
    kept = _mine(request, kept_id)
    kept.forgotten_at = timezone.now()
    kept.save(update_fields=["forgotten_at"])
    messages.success(request, _("“%(name)s” is deleted.") % {"name": kept.name}, extra_tags=f"undo-{kept.pk}")
    return redirect("quick")


@signed_in
@require_POST
@transaction.atomic
def bring_back(request: Request, kept_id: int) -> HttpResponse:
    """Bring a deleted sheet back."""
    kept = _mine(request, kept_id, forgotten=True)
    kept.forgotten_at = None
    kept.save(update_fields=["forgotten_at"])
    return redirect("quick")


@signed_in
@require_GET
def compare(request: Request) -> HttpResponse:
    """Two kept sheets beside each other; what differs is marked."""
    wanted = [number for each in request.GET.getlist("kept") if (number := whole(each)) is not None][:_PAIR]
    pair = [_mine(request, each) for each in wanted]
    if len(pair) != _PAIR:
        messages.error(request, _("Choose two sheets to compare."))
        return redirect("quick")
    views = [sheet_of(find_tool(each.tool), each.inputs) for each in pair]
    rows = [(label, values, len(set(values)) > 1) for label, values in _beside(views)]
    return render(request, "quick/compare.html", {"pair": list(zip(pair, views, strict=True)), "rows": rows})


def _beside(views: list[SheetView]) -> list[tuple[str, list[str]]]:
    """Return what the two ask and answer, line by line."""
    found: dict[str, list[str]] = {}
    for at, view in enumerate(views):
        asked = [
            (each.label, f"{each.value or each.taken} {each.unit}")
            for each in view.form.all()
            if each.value or each.taken
        ]
        answered = [(head.label, f"{head.value} {head.unit}") for head in view.heads]
        for label, value in ((_("Book"), view.book.name), *asked, *answered):
            found.setdefault(label, ["–"] * len(views))[at] = value.strip()
    return list(found.items())


@signed_in
@require_POST
def put_into_job(request: Request, name: str) -> HttpResponse:
    """Put what a sheet is about into a job, as a load on its first board."""
    view, form = _posted(request, name), PutForm(request.POST)
    if not form.is_valid() or not view.answered or not view.answered.nodes:
        messages.error(request, _("Choose a job to put it into."))
        return _back(view)
    job = job_to_edit(form.cleaned_data["_job"], request.user)
    at: dict[str, str] = {}

    def planner(document: Document) -> Plan:
        made = pasted(document, json.dumps({"nodes": _nodes(view)}), "")
        at["key"] = made[0].path[1]
        return Plan(made, _("added from a quick sheet: %(title)s") % {"title": say(view.tool.title)}, at["key"])

    try:
        with turn_at(job.pk):
            editing.edit(job.pk, request.user, planner, Seen(job.version), Judge())
    except NotPasted as reason:
        return _not_put(request, view, str(reason))
    except Refused as error:
        return _not_put(request, view, say(error.message))
    except editing.Conflict:
        return _not_put(request, view, _("The job has just changed: try again."))
    return redirect(f"{reverse('workbench', args=[job.pk])}?at={at['key']}")


def _nodes(view: SheetView) -> list[dict[str, Any]]:
    return [{"id": PUT, **node} for node in view.answered.nodes] if view.answered else []


def _not_put(request: Request, view: SheetView, why: str) -> HttpResponse:
    messages.error(request, _("Not put into the job: %(why)s") % {"why": why})
    return _back(view)
