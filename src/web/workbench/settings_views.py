"""Settings of a job, and the people who share it."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_POST

from voltaje.errors import InputError
from web.jobs import editing
from web.jobs import people as sharing
from web.jobs.access import signed_in
from web.jobs.document import Change
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.solving import Judge
from web.words.figures import say
from web.workbench.settings_forms import AmendmentForm, JobForm, PersonForm


@signed_in
def settings(request, job_id):
    """Book, practices, drop limits, ambient, conductor colours, amendments."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    document = editing.document_of(job)
    asked = request.POST.get("form")
    form = JobForm(request.POST if asked == "job" else None, document, auto_id="job-%s")
    amendment = AmendmentForm(request.POST if asked == "amendment" else None, auto_id="amendment-%s")
    if request.method == "POST":
        wanted = _wanted(request, document, form, amendment)
        if wanted and _kept(request, job, wanted, form if form.is_bound else amendment):
            return redirect("settings", job_id=job.pk)
    context = {
        "job": job,
        "form": form,
        "amendment": amendment,
        "amendments": list(enumerate(document["job"].get("amendments", []))),
        "may_edit": may_edit(job, request.user),
        "people": job.memberships.select_related("user").order_by("pk"),
        "owns": Job.objects.owned_by(request.user).filter(pk=job.pk).exists(),
        "person": PersonForm(auto_id="person-%s"),
        "events": job.events.select_related("actor").order_by("-touched")[:12],
    }
    return render(request, "workbench/settings.html", context)


def _wanted(request, document, form, amendment):
    """Return the changes that one of the page's forms asks for."""
    if form.is_bound and form.is_valid():
        return form.changes()
    had = list(document["job"].get("amendments", []))
    if amendment.is_bound and amendment.is_valid():
        return [Change(("job", "amendments"), None, [*had, amendment.kept()])]
    gone = request.POST.get("forget", "")
    if gone.isdigit() and int(gone) < len(had):
        del had[int(gone)]
        return [Change(("job", "amendments"), None, had or None)]
    return []


def _kept(request, job, wanted, form):
    """Keep the changes; what stands in the way is said at the form. Returns whether they are kept."""
    try:
        editing.edit(
            job.pk, request.user, wanted, int(request.POST.get("version") or job.version), Judge(), _("settings")
        )
    except InputError as error:
        form.add_error(None, f"{error.field}: {say(error.message)}")
        return False
    except editing.Conflict as conflict:
        who = conflict.event.actor.get_username()
        form.add_error(None, _("%(who)s has changed the same thing meanwhile: look at it again first.") % {"who": who})
        return False
    messages.info(request, _("Kept."))
    return True


@signed_in
@require_POST
def people(request, job_id):
    """Share a job, change what someone may do, or end it; the owner only."""
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
def duplicate(request, job_id):
    """Copy a whole job; the copy is one's own."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    document = editing.document_of(job)
    document["job"]["name"] = (_("%(name)s, copy") % {"name": job.name})[:80]
    made = editing.create(request.user, document)
    return redirect("workbench", job_id=made.pk)
