"""Each change to a job from the workbench: asked, judged, kept, and answered with what it changed on the page."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any
from uuid import UUID

from django.http import HttpResponse
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy, ngettext
from django.views.decorators.http import require_POST

from voltaje.errors import Refused
from web.accounts.access import signed_in
from web.jobs.access import job_to_edit
from web.jobs.changes import editing, turning
from web.jobs.changes.editing import ARROW, Plan
from web.jobs.changes.notes import GENERAL, Note, Offer, refusal
from web.jobs.changes.queueing import turn_at
from web.jobs.changes.saying import label_of
from web.jobs.document import Change, Document, NoSuchPlace, Path
from web.jobs.limits import MOST_NOTED
from web.jobs.rows import document_of
from web.jobs.worker.solving import Judge
from web.words.request import Request
from web.workbench.edits import changes, several
from web.workbench.edits.applying import GONE, Said, about, apply, changed, changing, field_note, note_of, refused
from web.workbench.edits.walk import hung, understood
from web.workbench.forms import NOTHING_SEEN, CellsForm, LineForm, NodeEditForm, NotedForm, PinForm, SeenForm
from web.workbench.parts import ways
from web.workbench.settings.effects import effects_of

_SAY_WHAT = gettext_lazy("Say what it is, and its rating.")
_AT_LINE = "walk-note"


class NotUsed(Exception):
    """Words of a line that nothing was made of: it is taken when it is sent again."""

    def __init__(self, words: str, line: Any) -> None:
        super().__init__(words)
        self.words, self.line = words, line


@changing(NodeEditForm, gettext_lazy("That cannot be set here."))
def edit(request: Request, job_id: UUID, form: Any) -> HttpResponse:
    """Set one place of a node."""
    seen, path = form.cleaned_data, form.cleaned_data["path"]
    judge, kept_as = Judge(seen["at"]), {}

    def planner(document: Document) -> Plan:
        if path[1] not in document["nodes"]:
            raise NoSuchPlace("/".join(path))
        value = changes.entered(document, path, seen["value"])
        kept_as["value"] = value
        if path[2:] == _SUPPLY and not seen["sure"]:
            _require_shown(document, Change(path, None, value))
        title = changes.said_of_edit(document, path, value)
        return ways.kept(document, Plan([Change(path, None, value), *changes.with_it(document, path, value)], title))

    try:
        edited = editing.edit(job_id, request.user, planner, seen["seen"], judge)
    except Said as reason:
        return refused(request, job_id, [replace(Note.general(str(reason)), offers=reason.offers)])
    except Refused as error:
        return refused(
            request, job_id, [note_of(error, path, document_of(job_to_edit(job_id, request.user)), seen["at"])]
        )
    except editing.Conflict as conflict:
        return refused(request, job_id, [_conflict(path, conflict, seen["at"])])
    except NoSuchPlace:
        return refused(request, job_id, [Note.general(str(GONE))])
    value = kept_as.get("value")  # nothing where the act was received before
    kept = field_note(path, seen["at"], tidied=value if isinstance(value, str) else "")
    return changed(request, edited, judge, seen, notes=[kept] if kept.id != GENERAL else [])


_SUPPLY = ("system",)
_MOST_TOLD = 5


def _require_shown(document: Document, change: Change) -> None:
    """Raise with what another supply would do to the job, unless it does nothing or cannot be."""
    effects = effects_of(document, [change])
    if effects.stands_in_the_way or not effects:
        return  # what stands in the way is said where the change is refused
    told = [
        f"{each.name} {each.words or f'{each.before} {ARROW} {each.after}'}"
        for each in (*effects.found, *effects.sized)
    ]
    words = ngettext("That would change %(n)s thing: %(what)s", "That would change %(n)s things: %(what)s", len(told))
    more = " …" if len(told) > _MOST_TOLD else ""
    offer = Offer(_("change it so"), "edit", "/".join(change.path), str(change.after), sure=True)
    raise Said(words % {"n": len(told), "what": "; ".join(told[:_MOST_TOLD]) + more}, [offer])


@changing(CellsForm, gettext_lazy("That cannot be set here."))
def cells(request: Request, job_id: UUID, form: Any) -> HttpResponse:
    """Set many places at once."""
    seen = form.cleaned_data

    def planner(document: Document) -> Plan:
        wanted = several.cells(document, seen["cells"])
        if not wanted:
            raise Said(_("None of them has that field."))
        keys = list(dict.fromkeys(change.path[1] for change in wanted))
        fields = {label_of(path[2:]) for path, _value in seen["cells"]}
        values = {value for _path, value in seen["cells"]}
        what = (
            f"{fields.pop()} {ARROW} {values.pop() or '–'}" if len(fields) == len(values) == 1 else _("several fields")
        )
        return Plan(wanted, f"{several.names_of(document, keys)}: {what}")

    return apply(request, job_id, seen, planner)


def _conflict(path: Path, conflict: editing.Conflict, at: str) -> Note:
    theirs = "–" if conflict.theirs is None else conflict.theirs
    words = _("%(who)s set this to “%(theirs)s” meanwhile; what you typed is still here.") % {
        "who": conflict.event.who,
        "theirs": theirs,
    }
    return field_note(path, at, conflict=words, place="/".join(path), version=conflict.version)


@changing(LineForm, _SAY_WHAT, _AT_LINE)
def walk(request: Request, job_id: UUID, form: Any) -> HttpResponse:
    """Add what a walk-through line says."""
    seen = form.cleaned_data

    def planner(document: Document) -> Plan:
        if not seen["line"]:
            raise Said(_SAY_WHAT)
        said = understood(document, seen["line"], seen["at"])
        if said.problems:
            raise Said(" ".join(said.problems))
        if said.unused and seen["again"] != seen["line"]:
            raise NotUsed(said.unused_words, seen["line"])
        wanted = hung(document, said)
        names = ", ".join(each.item.name for each in said.items)
        return Plan(wanted, _("added %(name)s") % {"name": names}, wanted[-1].path[1])

    more = {"notes": [Note(_AT_LINE)], "focus": "walk-line"}
    try:
        return apply(request, job_id, seen, planner, _at_line, more)
    except NotUsed as left:
        words = _("Not used: %(words)s. Press Enter again to add it without.") % {"words": left.words}
        return refused(request, job_id, [Note(_AT_LINE, error=words, again=left.line)])


def _at_line(words: str) -> Note:
    return Note(_AT_LINE, error=words)


@changing(PinForm, gettext_lazy("That cannot be done here."))
def pin(request: Request, job_id: UUID, form: Any) -> HttpResponse:
    """Pin one of the options: device, size, sets and material in one change."""
    seen = form.cleaned_data

    def planner(document: Document) -> Plan:
        node = document["nodes"].get(seen["key"])
        if node is None:
            raise Said(GONE)
        title = _("pinned the run to %(name)s") % {"name": node.get("name") or seen["key"]}
        return Plan([Change(("nodes", seen["key"], "run"), None, form.run(node.get("run", {})))], title)

    return apply(request, job_id, seen, planner)


@signed_in
@require_POST
def undo(request: Request, job_id: UUID) -> HttpResponse:
    """Take back one's own last change."""
    return _turn(request, job_id, turning.undo)


@signed_in
@require_POST
def redo(request: Request, job_id: UUID) -> HttpResponse:
    """Do it again."""
    return _turn(request, job_id, turning.redo)


def _turn(request: Request, job_id: UUID, turn: Callable[..., editing.Edited]) -> HttpResponse:
    form = SeenForm(request.POST)
    seen = form.cleaned_data if form.is_valid() else NOTHING_SEEN
    judge = Judge(seen["at"])
    try:
        with turn_at(job_id):
            edited = turn(job_id, request.user, judge, seen["seen"])
    except turning.Refused as held:
        return refused(request, job_id, [Note.general(refusal(held))])
    except turning.NoLongerFits as held:
        return refused(request, job_id, [Note.no_longer_fits(held)])
    except Refused as error:
        words = _("That would no longer be a supply that can be solved: %(why)s")
        return refused(request, job_id, [Note.general(words % {"why": about(error, job_id, request)})])
    return changed(request, edited, judge, seen)


@changing(NotedForm, gettext_lazy("Say in a few words why it may stand."))
def note(request: Request, job_id: UUID, form: Any) -> HttpResponse:
    """Note a finding with a reason; without one it is open again. A stop stays."""
    seen = form.cleaned_data

    def planner(document: Document) -> Plan:
        noted = {**document["job"].get("noted", {})}
        noted.pop(seen["finding"], None)
        if seen["reason"]:
            noted[seen["finding"]] = seen["reason"]
        if len(noted) > MOST_NOTED:
            raise Said(_("At most %(most)s findings of a job can be noted.") % {"most": MOST_NOTED})
        return Plan([Change(("job", "noted"), None, noted or None)], _("noted a finding"))

    return apply(request, job_id, seen, planner)
