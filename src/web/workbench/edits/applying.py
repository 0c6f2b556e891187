"""How a change that a page asks for is planned, judged, kept and answered: with what it changed, or why not.

What is to change is said as a planner: it is made of the job as it is when it is the person's turn, not as it was read.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from functools import wraps
from typing import Any, Self
from uuid import UUID

from django.http import HttpResponse
from django.template.loader import render_to_string
from django.utils.functional import Promise
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy
from django.views.decorators.http import require_POST

from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.jobs.access import job_to_edit
from web.jobs.changes import editing
from web.jobs.changes.editing import Plan, Planner
from web.jobs.changes.notes import GENERAL, Note, Offer
from web.jobs.changes.queueing import turn_at
from web.jobs.changes.saying import said_of_error
from web.jobs.changes.turning import Turns
from web.jobs.document import Document, NoSuchPlace, Path
from web.jobs.rows import document_of
from web.jobs.worker.solving import Judge, path_of, solve_job
from web.words.figures import say
from web.words.request import Request
from web.workbench.parts import ways
from web.workbench.regions import bench, chosen

GONE = gettext_lazy("This was deleted by someone else.")


class Answer(HttpResponse):
    """An answer to a change: whether the change was kept."""

    kept = False

    @classmethod
    def of(cls, request: Request, template: str, context: dict[str, Any], kept: bool) -> Self:
        """Return the answer that a template draws."""
        answer = cls(render_to_string(template, context, request))
        answer.kept = kept
        return answer


Words = str | Promise  # said in the person's language, when they are said


class Said(Exception):
    """A reason, in words, why a planned change is not made; with what can be done instead."""

    def __init__(self, words: Words, offers: Iterable[Offer] = ()) -> None:
        super().__init__(words)
        self.offers = tuple(offers)


def changing(form_class: type[Any], words: Words, at: str = GENERAL) -> Callable[..., Any]:
    """Let a view change a job: signed in, posted, asked for in a form; else `words` are said.

    That the person may change it is asked where it is locked for that, once; a wrong form is told to nobody else.
    """

    def decorate(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
        @signed_in
        @require_POST
        @wraps(view)
        def inner(request: Request, job_id: UUID) -> HttpResponse:
            form = form_class(request.POST)
            if not form.is_valid():
                job_to_edit(job_id, request.user)
                return refused(request, job_id, [Note(at, error=_too_long(form) or str(words))])
            with turn_at(job_id):
                return view(request, job_id, form)

        return inner

    return decorate


def _too_long(form: Any) -> str:
    """Return what a form says of texts that are over their length, "" where it is something else."""
    return " ".join(
        str(message)
        for errors in form.errors.as_data().values()
        for error in errors
        if error.code == "max_length"
        for message in error.messages
    )


def changed(
    request: Request,
    edited: editing.Edited,
    judge: Judge,
    seen: dict[str, Any],
    notes: Sequence[Note] = (),
    focus: str = "",
) -> Answer:
    """Answer with the regions as they are after a change."""
    document = edited.document
    at_now = chosen(document, edited.at or seen["at"])
    solved = judge.solved if judge.solved and judge.opened == at_now else solve_job(document, at_now)
    turned = Turns(edited.event, None) if edited.event else None
    context = bench(
        request, edited.job, document, solved, at_now, seen["lens"], seen["shown"], editor=True, turned=turned
    )
    told = {"notes": [Note.general(""), *notes], "focus": focus, "done": edited.done}
    return Answer.of(request, "workbench/_changed.html", {**context, **told}, kept=True)


def refused(request: Request, job_id: UUID, notes: Sequence[Note]) -> Answer:
    """Nothing was kept: only the notes are swapped."""
    return Answer.of(request, "workbench/_notes.html", {"notes": notes, "job": {"pk": job_id}}, kept=False)


def field_note(path: Path, at: str, **words: Any) -> Note:
    """Return a note at a field of the chain, or above the page where the field is one of the schedule's."""
    return Note("n-" + "-".join(path) if path[1] == at else GENERAL, **words)


def note_of(error: Refused, path: Path, document: Document, at: str) -> Note:
    """Return the note for an error: at the field that was changed, naming another field where it is about one."""
    words = say(error.message) + (f" ({error.rule})" if error.rule else "")
    about = path_of(error.field, document)
    if error.field and (about != path or path[1] != at):
        words = said_of_error(error, document)
    return field_note(path, at, error=words)


def apply(
    request: Request,
    job_id: UUID,
    seen: dict[str, Any],
    planner: Planner,
    note: Callable[[str], Note] = Note.general,
    more: dict[str, Any] | None = None,
) -> Answer:
    """Make the planned changes and answer with the regions; what stands in the way is said by `note`.

    more: what else the answer shows, notes and focus; the planner may still add to it
    """
    judge = Judge(seen["at"])

    def planner_of_what_is_shown(document: Document) -> Plan:
        plan = ways.kept(document, planner(document))
        judge.opened = plan.at or judge.opened
        return plan

    try:
        edited = editing.edit(job_id, request.user, planner_of_what_is_shown, seen["seen"], judge)
    except Said as reason:
        return refused(request, job_id, [replace(note(str(reason)), offers=reason.offers)])
    except Refused as error:
        return refused(request, job_id, [note(about(error, job_id, request))])
    except editing.Conflict as conflict:
        who = conflict.event.who
        words = _("%(who)s has changed the same thing meanwhile: look at it again first.") % {"who": who}
        return refused(request, job_id, [note(words)])
    except NoSuchPlace:
        return refused(request, job_id, [note(str(GONE))])
    return changed(request, edited, judge, seen, **(more or {}))


def about(error: Refused, job_id: UUID, request: Request) -> str:
    """Return an error with the name of the node it is about."""
    return said_of_error(error, document_of(job_to_edit(job_id, request.user)))
