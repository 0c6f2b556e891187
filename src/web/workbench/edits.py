"""Each change to a job from the workbench: asked, judged, kept, and answered with what it changed on the page."""

from functools import wraps

from django.shortcuts import get_object_or_404, render
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy
from django.views.decorators.http import require_POST

from voltaje.errors import InputError
from web.jobs import editing
from web.jobs.access import signed_in
from web.jobs.document import Change, NoSuchPlace
from web.jobs.models import Job
from web.jobs.notes import GENERAL, Note, refusal
from web.jobs.solving import Judge, path_of, solve_job
from web.words.figures import say
from web.workbench import changes
from web.workbench.forms import NOTHING_SEEN, ActForm, LineForm, NodeEditForm, NotedForm, PinForm, SeenForm, tidied
from web.workbench.regions import bench, chosen
from web.workbench.walk import circuits_of, understood

_GONE = gettext_lazy("That has been taken away on another page.")
_CANNOT = gettext_lazy("That cannot be done here.")
_SAY_WHAT = gettext_lazy("Say what it is, and its rating.")
_AT_LINE = "walk-note"


def changing(form_class, words, at=GENERAL):
    """Let a view change a job: signed in, posted, an editor of it, asked for in a form; else `words` are said."""

    def decorate(view):
        @signed_in
        @require_POST
        @wraps(view)
        def inner(request, job_id):
            job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
            form = form_class(request.POST)
            if not form.is_valid():
                return refused(request, job_id, [Note(at, error=words)])
            return view(request, job, form)

        return inner

    return decorate


def _changed(request, edited, judge, seen, at="", notes=(), focus=""):
    document = edited.document
    at_now = chosen(document, at or seen["at"])
    solved = judge.solved if judge.solved and judge.opened == at_now else solve_job(document, at_now)
    context = bench(request, edited.job, document, solved, at_now, seen["lens"], seen["shown"])
    return render(request, "workbench/_changed.html", {**context, "notes": [Note.general(""), *notes], "focus": focus})


def refused(request, job_id, notes):
    """Nothing was kept: only the notes are swapped."""
    return render(request, "workbench/_notes.html", {"notes": notes, "job": {"pk": job_id}})


def field_note(path, at, **words):
    """Return a note at a field of the chain, or above the page where the field is one of the schedule's."""
    return Note("n-" + "-".join(path) if path[1] == at else GENERAL, **words)


def _note_of(error, path, document, at):
    """Return the note for an error: at the field that was changed, naming another field where it is about one."""
    words = say(error.message) + (f" ({error.rule})" if error.rule else "")
    about = path_of(error.field, document)
    if error.field and (about != path or path[1] != at):
        node = document["nodes"].get(about[1] if len(about) > 1 else "", {})
        where = " · ".join(part for part in (node.get("name"), about[-1]) if part)
        words = f"{where}: {words}"
    return field_note(path, at, error=words)


def apply(request, job_id, seen, wanted, title, at="", note=Note.general, **more):
    """Make changes and answer with the regions; what stands in the way is said by `note`."""
    judge = Judge(at or seen["at"])
    try:
        edited = editing.edit(job_id, request.user, wanted, seen["version"], judge, title)
    except InputError as error:
        return refused(request, job_id, [note(f"{error.field}: {say(error.message)}")])
    except editing.Conflict as conflict:
        who = conflict.event.actor.get_username()
        words = _("%(who)s has changed the same thing meanwhile: look at it again first.") % {"who": who}
        return refused(request, job_id, [note(words)])
    except NoSuchPlace:
        return refused(request, job_id, [note(_GONE)])
    return _changed(request, edited, judge, seen, at, **more)


@changing(NodeEditForm, gettext_lazy("That cannot be set here."))
def edit(request, job, form):
    """Set one place of a node."""
    seen, path = form.cleaned_data, form.cleaned_data["path"]
    node = job.nodes.filter(key=path[1]).first()
    if node is None:
        return refused(request, job.pk, [Note.general(_GONE)])
    value = tidied(path, seen["value"], job.book, job.entries.get("degrees", "C"))
    judge = Judge(seen["at"])
    name = node.data.get("name") or path[1]
    try:
        title = _("%(what)s of %(name)s") % {"what": path[-1], "name": name}
        edited = editing.edit(job.pk, request.user, [Change(path, None, value)], seen["version"], judge, title[:120])
    except InputError as error:
        return refused(request, job.pk, [_note_of(error, path, editing.document_of(job), seen["at"])])
    except editing.Conflict as conflict:
        return refused(request, job.pk, [_conflict(path, conflict, seen["at"])])
    except NoSuchPlace:
        return refused(request, job.pk, [Note.general(_GONE)])
    kept = field_note(path, seen["at"], tidied=value if isinstance(value, str) else "")
    return _changed(request, edited, judge, seen, notes=[kept] if kept.id != GENERAL else [])


def _conflict(path, conflict, at):
    theirs = "–" if conflict.theirs is None else conflict.theirs
    words = _("%(who)s set this to “%(theirs)s” meanwhile; what you typed is still here.") % {
        "who": conflict.event.actor.get_username(),
        "theirs": theirs,
    }
    return field_note(path, at, conflict=words, place="/".join(path), version=conflict.version)


@changing(LineForm, _SAY_WHAT, _AT_LINE)
def walk(request, job, form):
    """Add what a walk-through line says."""
    seen = form.cleaned_data
    if not seen["line"]:
        return refused(request, job.pk, [_at_line(_SAY_WHAT)])
    document = editing.document_of(job)
    said = understood(document, seen["line"], seen["at"])
    if said.problems:
        return refused(request, job.pk, [_at_line(" ".join(said.problems))])
    wanted = changes.add(document, said.board, circuits_of(said.found))
    title = _("added %(name)s") % {"name": said.found.name or _("a load")}
    at = wanted[-1].path[1]
    more = {"notes": [Note(_AT_LINE)], "focus": "walk-line"}
    return apply(request, job.pk, seen, wanted, title[:120], at, _at_line, **more)


def _at_line(words):
    return Note(_AT_LINE, error=words)


@changing(ActForm, _CANNOT)
def act(request, job, form):
    """Duplicate, copy, move, turn, take away, add a node."""
    seen, document = form.cleaned_data, editing.document_of(job)
    key = seen["key"] or seen["at"]
    if seen["act"] != "add" and key not in document["nodes"]:
        return refused(request, job.pk, [Note.general(_GONE)])
    try:
        wanted, at = _wanted(document, key, seen)
    except InputError as error:
        return refused(request, job.pk, [Note.general(f"{error.field}: {say(error.message)}")])
    except changes.CannotMove:
        return refused(request, job.pk, [Note.general(_("It cannot hang there."))])
    if not wanted:
        return refused(request, job.pk, [Note.general("")])
    name = document["nodes"].get(key, {}).get("name") or key or seen["kind"]
    titles = {
        "duplicate": _("duplicated %(name)s"), "copy": _("copied %(name)s"), "remove": _("took away %(name)s"),
        "move": _("moved %(name)s"), "up": _("moved %(name)s"), "down": _("moved %(name)s"),
        "add": _("added to %(name)s"), "leg-before": _("leg of %(name)s"), "leg-after": _("leg of %(name)s"),
    }  # fmt: skip
    focus = {"add": f"f-nodes-{at}-name"}.get(seen["act"], f"open-{at}")
    return apply(request, job.pk, seen, wanted, (titles[seen["act"]] % {"name": name})[:120], at, focus=focus)


def _wanted(document, key, seen):
    """Return the changes of an act, and the node to show after it."""
    nodes = document["nodes"]
    match seen["act"]:
        case "duplicate":
            wanted = changes.duplicate(document, key)
        case "copy":
            wanted = changes.duplicate(document, key, seen["to"])
        case "remove":
            return changes.remove(document, key), nodes[key].get("parent") or ""
        case "move":
            return changes.move(document, key, seen["to"], seen["before"]), key
        case "up" | "down":
            return changes.step(document, key, seen["act"] == "up"), key
        case "leg-before" | "leg-after":
            return _turned(document, key, -1 if seen["act"] == "leg-before" else 1), key
        case _:
            wanted = changes.new_node(document, changes.board_of(document, key), seen["kind"] or "load")
    return wanted, wanted[0].path[1] if wanted else key


def _turned(document, key, by):
    """Return the change that puts a load on a neighbouring leg of its board."""
    solved = solve_job(document).solution.nodes
    parent = document["nodes"][key].get("parent")
    if not parent:
        return []
    above = solved[parent]
    among = above.legs
    if above.node.transformer:
        among = tuple(leg for leg, _angle in above.node.transformer.secondary.legs)
    return changes.turn_legs(document, key, solved[key].legs, among, by)


@changing(PinForm, _CANNOT)
def pin(request, job, form):
    """Pin one of the options: device, size, sets and material in one change."""
    seen = form.cleaned_data
    node = editing.document_of(job)["nodes"].get(seen["key"])
    if node is None:
        return refused(request, job.pk, [Note.general(_GONE)])
    title = _("pinned the run to %(name)s") % {"name": node.get("name") or seen["key"]}
    change = Change(("nodes", seen["key"], "run"), None, form.run(node.get("run", {})))
    return apply(request, job.pk, seen, [change], title[:120])


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
    form = SeenForm(request.POST)
    seen = form.cleaned_data if form.is_valid() else NOTHING_SEEN
    judge = Judge(seen["at"])
    try:
        edited = turn(job_id, request.user, judge)
    except editing.Refused as held:
        return refused(request, job_id, [Note.general(refusal(held))])
    except InputError:
        return refused(request, job_id, [Note.general(_("That would no longer be a supply that can be solved."))])
    return _changed(request, edited, judge, seen)


@changing(NotedForm, gettext_lazy("Say in a few words why it may stand."))
def note(request, job, form):
    """Note a finding with a reason; without one it is open again. A stop stays."""
    seen = form.cleaned_data
    noted = {**editing.document_of(job)["job"].get("noted", {})}
    noted.pop(seen["finding"], None)
    if seen["reason"]:
        noted[seen["finding"]] = seen["reason"]
    change = Change(("job", "noted"), None, noted or None)
    return apply(request, job.pk, seen, [change], _("noted a finding"))
