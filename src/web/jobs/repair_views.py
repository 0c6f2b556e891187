"""A job that hangs together no more: what hangs nowhere is listed, to be put somewhere or removed."""

from typing import Any
from uuid import UUID

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.translation import gettext as _

from voltaje.errors import Refused
from voltaje.path.soundness import FEEDS
from voltaje.systems import SYSTEMS
from web.accounts.access import signed_in
from web.jobs.access import job_to_edit
from web.jobs.changes import editing
from web.jobs.changes.editing import Plan
from web.jobs.changes.sound import broken_places, name_of, said_of
from web.jobs.document import Change, Document
from web.jobs.files.openfile import ordered
from web.jobs.forms import SeenForm
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.order import branch, fed_by, last_position
from web.jobs.rows import read_rows
from web.jobs.worker.solving import solve_job
from web.words.figures import say
from web.words.request import Request

_MOST_TOLD = 30  # at a time; what is left is told once these are mended


class RepairForm(SeenForm):
    """What is to become of a branch: `to` another node, or removed."""

    key = forms.CharField(max_length=40)
    to = forms.CharField(max_length=40, required=False)
    system = forms.ChoiceField(choices=[(name, name) for name in SYSTEMS], required=False)
    remove = forms.BooleanField(required=False)


@signed_in
def repair(request: Request, job_id: UUID) -> HttpResponse:
    """List what does not hang together, and mend one thing at a time."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    if request.method == "POST":
        _mend(request, job_id)
        job.refresh_from_db()
    document = read_rows(job)[0]
    lost = _lost(document)
    if not lost:
        return redirect("workbench", job_id=job_id)
    nodes = document["nodes"]
    context = {
        "job": job,
        "lost": lost,
        "feeders": [(key, name_of(document, key)) for key in ordered(document) if nodes[key]["kind"] in FEEDS],
        "systems": list(SYSTEMS),
        "may_edit": may_edit(job, request.user),
    }
    return render(request, "jobs/repair.html", context)


def _lost(document: Document) -> Any:
    """Return what is to be mended: its key, name, kind, what is wrong, and how much hangs on it."""
    found: dict[str, Any] = {}
    below = fed_by(document)
    told = set()  # of a circle one node is told, with all that hangs on it
    for fault in broken_places(document):
        if len(found) >= _MOST_TOLD or fault.id in found or (fault.code == "circle" and fault.id in told):
            continue
        lost = branch(document, fault.id, below)
        told.update(lost)
        found[fault.id] = {
            "key": fault.id,
            "name": name_of(document, fault.id),
            "kind": document["nodes"][fault.id]["kind"],
            "why": said_of(fault, document),
            "code": fault.code,
            "below": len(lost) - 1,
        }
    return list(found.values())


def _mend(request: Request, job_id: UUID) -> None:
    form = RepairForm(request.POST)
    job_to_edit(job_id, request.user)
    if not form.is_valid():
        messages.error(request, _("That cannot be done here."))
        return
    wanted = form.cleaned_data
    try:
        editing.edit(job_id, request.user, lambda document: _plan(document, wanted), wanted["seen"], _whole_again)
    except Refused as error:
        messages.error(request, f"{error.field}: {say(error.message)}")
    except editing.Conflict:
        messages.error(request, _("Another page has changed that meanwhile."))


def _plan(document: Document, wanted: Any) -> Plan:
    key = wanted["key"]
    if key not in document["nodes"]:
        return Plan([])
    name = name_of(document, key)
    if wanted["remove"]:
        gone = [Change(("nodes", each), None, None) for each in reversed(branch(document, key))]
        return Plan(gone, _("deleted %(name)s") % {"name": name})
    if wanted["system"]:
        place = ("system",) if document["nodes"][key]["kind"] == "source" else ("transformer", "secondary")
        return Plan([Change(("nodes", key, *place), None, wanted["system"])], _("system of %(name)s") % {"name": name})
    source = document["nodes"][key]["kind"] == "source"
    to = "" if source else wanted["to"]
    position = last_position(document, to)
    changes = [Change(("nodes", key, "position"), None, position), Change(("nodes", key, "parent"), None, to)]
    return Plan(changes, _("moved %(name)s") % {"name": name})


def _whole_again(document: Document, _changes: Any) -> None:
    """Once everything hangs together, it must be solvable as any job."""
    if not broken_places(document):
        solve_job(document)
