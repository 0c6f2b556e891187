"""Pages of jobs: the list, a new one, put away and brought back."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_POST

from voltaje.errors import InputError
from web.jobs import editing
from web.jobs.access import signed_in
from web.jobs.forms import NewHouseForm
from web.jobs.house import HOUSE, KINDS, check, new_document, tidied
from web.jobs.listing import job_rows, put_away
from web.words.figures import say


@signed_in
def jobs(request):
    """The person's jobs, and those put away."""
    return render(request, "jobs/jobs.html", {"rows": job_rows(request.user), "put_away": put_away(request.user)})


@signed_in
def new_job(request):
    """Make a house."""
    form = NewHouseForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        document = new_document(**form.cleaned_data)
        area = ("nodes", HOUSE, "floor_area")
        document["nodes"][HOUSE]["floor_area"] = tidied(area, form.cleaned_data["floor_area"], document)
        try:
            check(document)
        except InputError as error:
            form.add_error(error.field if error.field in form.fields else None, say(error.message))
        else:
            return redirect("house", job_id=editing.create(request.user, document, KINDS).pk)
    return render(request, "jobs/new.html", {"form": form})


@signed_in
@require_POST
def delete_job(request, job_id):
    """Put a job away; the list offers to bring it back."""
    job = editing.delete(job_id, request.user)
    messages.info(request, _("%(name)s is put away; it can be brought back below.") % {"name": job.name})
    return redirect("jobs")


@signed_in
@require_POST
def restore_job(request, job_id):
    """Bring a job back."""
    editing.restore(job_id, request.user)
    return redirect("jobs")
