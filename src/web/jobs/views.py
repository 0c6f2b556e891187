"""Pages of jobs: the list, a new one, put away and brought back."""

from django.contrib import messages
from django.http import Http404
from django.shortcuts import redirect, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_POST

from voltaje.errors import InputError
from voltaje.samples import NAMES
from web.jobs import editing
from web.jobs.access import signed_in
from web.jobs.beginning import new_supply, read_file, sample_names
from web.jobs.forms import FileForm, NewHouseForm, NewJobForm
from web.jobs.house import HOUSE, new_document, tidied
from web.jobs.listing import job_rows, put_away
from web.jobs.sample import sample_document
from web.jobs.solving import solve_job
from web.words.figures import say


@signed_in
def jobs(request):
    """The person's jobs, and those put away."""
    return render(request, "jobs/jobs.html", {"rows": job_rows(request.user), "put_away": put_away(request.user)})


@signed_in
def new_job(request):
    """Choose how to begin: from nothing, a house, a sample, a file."""
    form = NewJobForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        job = editing.create(request.user, new_supply(**form.cleaned_data))
        return redirect("workbench", job_id=job.pk)
    return render(request, "jobs/new_job.html", {"form": form, "samples": sample_names()})


@signed_in
def new_house(request):
    """Make a house."""
    form = NewHouseForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        document = new_document(**form.cleaned_data)
        area = ("nodes", HOUSE, "floor_area")
        document["nodes"][HOUSE]["floor_area"] = tidied(area, form.cleaned_data["floor_area"], document)
        try:
            solve_job(document)
        except InputError as error:
            field = error.field.rpartition(".")[2]
            form.add_error(field if field in form.fields else None, say(error.message))
        else:
            return redirect("house", job_id=editing.create(request.user, document).pk, key=HOUSE)
    return render(request, "jobs/new.html", {"form": form})


@signed_in
@require_POST
def from_sample(request):
    """Begin with a sample job."""
    name = request.POST.get("sample", "")
    if name not in NAMES:
        raise Http404
    return redirect("workbench", job_id=editing.create(request.user, sample_document(name)).pk)


@signed_in
@require_POST
def from_file(request):
    """Begin with an open job file; what is wrong with it is said with its place."""
    form = FileForm(request.POST, request.FILES)
    if form.is_valid():
        document, problem = read_file(form.cleaned_data["file"])
        if document:
            return redirect("workbench", job_id=editing.create(request.user, document).pk)
        form.add_error("file", problem)
    context = {"form": NewJobForm(), "file_form": form, "samples": sample_names()}
    return render(request, "jobs/new_job.html", context)


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
