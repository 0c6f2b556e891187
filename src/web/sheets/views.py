"""The dwelling sheet: the page, and each change to it. A view reads a form, calls one service, renders."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any
from uuid import UUID

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_GET, require_POST
from django_htmx.http import reswap

from voltaje.digits import whole
from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.jobs.access import job_to_edit
from web.jobs.changes import editing, turning
from web.jobs.changes.editing import Check
from web.jobs.changes.notes import Note, note_conflict, note_error, note_kept, refusal
from web.jobs.document import Change, Document, NoSuchPlace
from web.jobs.files.house import SOURCE, Place, check, find_house, solve, tidied
from web.jobs.forms import AddForm, EditForm, RemoveForm, SeenForm
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.news import told_since, told_to
from web.jobs.rows import document_of
from web.jobs.worker.solving import solve_job
from web.sheets.inputs import groups
from web.sheets.presenting import sheet_view
from web.words.figures import say
from web.words.request import Request


@signed_in
@require_GET
def house(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """The sheet."""
    return _page(request, job_id, key, "sheets/house.html")


@signed_in
@require_GET
def house_print(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """The sheet on paper, every step open."""
    return _page(request, job_id, key, "sheets/print.html")


def _page(request: Request, job_id: UUID, key: str, template: str) -> HttpResponse:
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    document = document_of(job)
    place = _place(document, key)
    try:
        return render(request, template, _context(request, job, document, place))
    except Refused as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})


def _place(document: Document, key: str) -> Place:
    place = find_house(document, key)
    if place is None:
        raise Http404
    return place


def _context(request: Request, job: Job, document: Document, place: Place, **more: Any) -> dict[str, Any]:
    shown = place.shown(document)
    alone = len(document["nodes"]) == len(shown["nodes"])
    turns = turning.turns(job, request.user)
    return {
        "job": job,
        "house_key": place.key,
        "house_name": job.name if alone else document["nodes"][place.key].get("name", place.key),
        "sheet": sheet_view(solve(shown), shown),
        "groups": groups(shown, alone),
        "source": shown["nodes"][SOURCE],
        "add_form": AddForm(initial={"version": job.version}),
        "may_edit": may_edit(job, request.user),
        "undoable": turns.undoable,
        "redoable": turns.redoable,
        "news_by": told_to(job, request.user),
        **more,
    }


def _check(place: Place) -> Check:
    """Return the check of a change: still a house to keep, in a job that can still be solved."""

    def check_all(document: Document, _changes: Any = ()) -> None:
        if find_house(document, place.key) != place:
            raise NoSuchPlace(place.key)
        check(place.shown(document))
        solve_job(document)

    return check_all


def _changed(
    request: Request,
    edited: editing.Edited,
    place: Place,
    inputs: Any,
    notes: Sequence[Note] = (),
    focus: str = "",
    told: Any = (),
) -> HttpResponse:
    """The regions that a change touches: the outcome, the strip, notes, and the inputs where they moved."""
    show_inputs = inputs or bool(edited.by_others)
    context = _context(
        request, edited.job, edited.document, place, notes=notes, inputs=show_inputs, focus=focus, told=told
    )
    return render(request, "sheets/_changed.html", context)


def _refused(request: Request, job_id: UUID, key: str, notes: Sequence[Note]) -> HttpResponse:
    """Nothing was kept: only the note at the field is swapped."""
    response = render(request, "sheets/_notes.html", {"notes": notes, "job": {"pk": job_id}, "house_key": key})
    return reswap(response, "none")


def _opened(request: Request, job_id: UUID, key: str) -> tuple[Job, Document, Place]:
    """Return a job that the person may change, its document, and the place of its house."""
    job = job_to_edit(job_id, request.user)
    document = document_of(job)
    return job, document, _place(document, key)


@signed_in
@require_POST
def edit(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """Set one place."""
    job, document, place = _opened(request, job_id, key)
    form = EditForm(request.POST)
    if not form.is_valid():
        return _refused(request, job_id, key, [Note.general(_("That cannot be set here."))])
    path, typed = form.cleaned_data["path"], form.cleaned_data["value"]
    try:
        value = tidied(path, typed, place.shown(document)) if isinstance(typed, str) else typed
        change = Change(place.path(path), None, value)
        planner = editing.planned(change, title=_("%(what)s of the house") % {"what": path[-1].replace("_", " ")})
        edited = editing.edit(job.pk, request.user, planner, form.cleaned_data["seen"], _check(place))
    except Refused as error:
        return _refused(request, job_id, key, [note_error(path, error, place.shown(document))])
    except editing.Conflict as conflict:
        return _refused(request, job_id, key, [note_conflict(path, conflict)])
    except NoSuchPlace:
        return _refused(request, job_id, key, [Note.general(_("That row was deleted by someone else."))])
    inputs = "structure" in request.POST
    return _changed(request, edited, place, inputs, [] if inputs else [note_kept(path, value)])


@signed_in
@require_POST
def add(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """Add a row."""
    job, document, place = _opened(request, job_id, key)
    form = AddForm(request.POST)
    if not form.is_valid():
        return _refused(request, job_id, key, [Note.add(_("Choose what it is and give its rating."))])
    shown = place.shown(document)
    try:
        change = form.change(lambda path, typed: tidied(path, typed, shown))
    except Refused as error:
        return _refused(request, job_id, key, [Note.add(say(error.message))])
    real = replace(change, path=place.path(change.path))
    try:
        edited = editing.edit(
            job.pk,
            request.user,
            editing.planned(real, title=_("a new row of the house")),
            form.cleaned_data["seen"],
            _check(place),
        )
    except Refused as error:
        return _refused(request, job_id, key, [Note.add(note_error(change.path, error, shown).error)])
    except (editing.Conflict, NoSuchPlace):
        return _refused(request, job_id, key, [Note.add(_("This house was deleted by someone else."))])
    return _changed(request, edited, place, True, [Note.add("")], focus="add-name")


@signed_in
@require_POST
def remove(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """Take a row away."""
    job, _document, place = _opened(request, job_id, key)
    form = RemoveForm(request.POST)
    if not form.is_valid():
        return _refused(request, job_id, key, [Note.general(_("There is no such row."))])
    path = form.cleaned_data["path"]
    try:
        change = Change(place.path(path), None, None)
        planner = editing.planned(change, title=_("deleted a row of the house"))
        edited = editing.edit(job.pk, request.user, planner, form.cleaned_data["seen"], _check(place))
    except Refused as error:
        return _refused(request, job_id, key, [Note.general(note_error(path, error, {}).error)])
    except editing.Conflict:
        words = _("Another page has changed that row: look at it again first.")
        return _refused(request, job_id, key, [Note.general(words)])
    except NoSuchPlace:
        return _refused(request, job_id, key, [Note.general(_("That row was deleted by someone else."))])
    return _changed(request, edited, place, True, focus="add-name")


@signed_in
@require_POST
def undo(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """Take back one's own last change."""
    return _turn(request, job_id, key, turning.undo)


@signed_in
@require_POST
def redo(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """Do it again."""
    return _turn(request, job_id, key, turning.redo)


def _turn(request: Request, job_id: UUID, key: str, turn: Callable[..., editing.Edited]) -> HttpResponse:
    _job, _document, place = _opened(request, job_id, key)
    form = SeenForm(request.POST)
    seen = form.cleaned_data["seen"] if form.is_valid() else editing.Seen(-1)
    try:
        edited = turn(job_id, request.user, _check(place), seen)
    except turning.Refused as refused:
        return _refused(request, job_id, key, [Note.general(refusal(refused))])
    except turning.NoLongerFits as held:
        return _refused(request, job_id, key, [Note.no_longer_fits(held)])
    except NoSuchPlace:
        words = _("That would take this house itself away: do it on the path.")
        return _refused(request, job_id, key, [Note.general(words)])
    except Refused as error:
        words = _("That would no longer be a house that can be reckoned: %(why)s")
        return _refused(request, job_id, key, [Note.general(words % {"why": say(error.message)})])
    return _changed(request, edited, place, True, [Note.general("")])


@signed_in
@require_GET
def region(request: Request, job_id: UUID, key: str) -> HttpResponse:
    """Every region as it now stands, for a page that takes another's change."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    document = document_of(job)
    since = whole(request.GET.get("since", ""))
    told = told_since(job, request.user, since) if since is not None else []
    return _changed(request, editing.Edited(job, document), _place(document, key), True, told=told)
