"""The dwelling sheet: the page, and each change to it. A view reads a form, calls one service, renders."""

from django.shortcuts import get_object_or_404, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_GET, require_POST

from voltaje.errors import InputError
from web.jobs import editing
from web.jobs.access import signed_in
from web.jobs.document import Change, NoSuchPlace
from web.jobs.fields import groups
from web.jobs.forms import AddForm, EditForm, RemoveForm
from web.jobs.house import check, solve, tidied
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.notes import Note, note_conflict, note_error, note_kept, refusal
from web.jobs.presenting import sheet_view


@signed_in
@require_GET
def house(request, job_id):
    """The sheet."""
    return _page(request, job_id, "jobs/house.html")


@signed_in
@require_GET
def house_print(request, job_id):
    """The sheet on paper, every step open."""
    return _page(request, job_id, "jobs/print.html")


def _page(request, job_id, template):
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    document = editing.document_of(job)
    try:
        return render(request, template, _context(request, job, document))
    except InputError as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})


def _context(request, job, document, **more):
    return {
        "job": job,
        "sheet": sheet_view(solve(document), document),
        "groups": groups(document),
        "source": document["nodes"]["src"],
        "add_form": AddForm(initial={"version": job.version}),
        "may_edit": may_edit(job, request.user),
        "undoable": editing.undoable(job, request.user),
        "redoable": editing.redoable(job, request.user),
        **more,
    }


def _changed(request, edited, inputs, notes=(), focus=""):
    """The regions that a change touches: the outcome, the strip, notes, and the inputs where they moved."""
    show_inputs = inputs or bool(edited.by_others)
    context = _context(request, edited.job, edited.document, notes=notes, inputs=show_inputs, focus=focus)
    return render(request, "jobs/_changed.html", context)


def _refused(request, job_id, notes):
    """Nothing was kept: only the note at the field is swapped."""
    response = render(request, "jobs/_notes.html", {"notes": notes, "job": {"pk": job_id}})
    response["HX-Reswap"] = "none"
    return response


@signed_in
@require_POST
def edit(request, job_id):
    """Set one place."""
    form = EditForm(request.POST)
    if not form.is_valid():
        return _refused(request, job_id, [Note.general(_("That cannot be set here."))])
    path, typed = form.cleaned_data["path"], form.cleaned_data["value"]
    job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
    value = tidied(path, typed, editing.document_of(job)) if isinstance(typed, str) else typed
    try:
        change = Change(path, None, value)
        edited = editing.edit(job.pk, request.user, [change], form.cleaned_data["version"], check)
    except InputError as error:
        return _refused(request, job_id, [note_error(path, error, editing.document_of(job))])
    except editing.Conflict as conflict:
        return _refused(request, job_id, [note_conflict(path, conflict)])
    except NoSuchPlace:
        return _refused(request, job_id, [Note.general(_("That row has been taken away on another page."))])
    inputs = "structure" in request.POST
    return _changed(request, edited, inputs, [] if inputs else [note_kept(path, value)])


@signed_in
@require_POST
def add(request, job_id):
    """Add a row."""
    form = AddForm(request.POST)
    if not form.is_valid():
        return _refused(request, job_id, [Note.add(_("Choose what it is and give its rating."))])
    job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
    document = editing.document_of(job)
    change = form.change(lambda path, typed: tidied(path, typed, document))
    try:
        edited = editing.edit(job.pk, request.user, [change], form.cleaned_data["version"], check)
    except InputError as error:
        return _refused(request, job_id, [Note.add(note_error(change.path, error, document).error)])
    return _changed(request, edited, True, [Note.add("")], focus="add-name")


@signed_in
@require_POST
def remove(request, job_id):
    """Take a row away."""
    form = RemoveForm(request.POST)
    if not form.is_valid():
        return _refused(request, job_id, [Note.general(_("There is no such row."))])
    path = form.cleaned_data["path"]
    try:
        edited = editing.edit(job_id, request.user, [Change(path, None, None)], form.cleaned_data["version"], check)
    except InputError as error:
        return _refused(request, job_id, [Note.general(note_error(path, error, {}).error)])
    except editing.Conflict:
        return _refused(
            request, job_id, [Note.general(_("Another page has changed that row: look at it again first."))]
        )
    return _changed(request, edited, True, focus="add-name")


@signed_in
@require_POST
def undo(request, job_id):
    """Take back one's own last change."""
    return _turn(request, job_id, editing.undo)


@signed_in
@require_POST
def redo(request, job_id):
    """Do it again."""
    return _turn(request, job_id, editing.redo)


def _turn(request, job_id, turn):
    try:
        edited = turn(job_id, request.user, check)
    except editing.Refused as refused:
        return _refused(request, job_id, [Note.general(refusal(refused))])
    except InputError:
        return _refused(request, job_id, [Note.general(_("That would no longer be a house that can be reckoned."))])
    return _changed(request, edited, True, [Note.general("")])


@signed_in
@require_GET
def region(request, job_id):
    """Every region as it now stands, for a page that takes another's change."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    return _changed(request, editing.Edited(job, editing.document_of(job)), True)


def missing(request, exception=None):
    """A page that is not there, or not for this person."""
    return render(request, "missing.html", status=404)
