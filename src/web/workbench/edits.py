"""Each change to a job from the workbench: asked, judged, kept, and answered with what it changed on the page.

What is to change is said as a planner: it is made of the job as it is when it is the person's turn, not as it was read.
"""

from functools import wraps

from django.shortcuts import render
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy, ngettext
from django.views.decorators.http import require_POST

from voltaje.errors import InputError, Refused
from web.accounts.access import signed_in
from web.jobs import editing, turning
from web.jobs.access import job_to_edit
from web.jobs.document import Change, NoSuchPlace, read
from web.jobs.editing import Plan
from web.jobs.limits import MOST_NOTED
from web.jobs.notes import GENERAL, Note, refusal
from web.jobs.order import branch
from web.jobs.queueing import turn_at
from web.jobs.rows import document_of
from web.jobs.saying import said_of_error
from web.jobs.solving import Judge, path_of, solve_job
from web.words.figures import say
from web.workbench import changes, ways
from web.workbench.forms import NOTHING_SEEN, ActForm, LineForm, NodeEditForm, NotedForm, PinForm, SeenForm, tidied
from web.workbench.regions import bench, chosen
from web.workbench.walk import circuits_of, understood

_GONE = gettext_lazy("This was deleted by someone else.")
_CANNOT = gettext_lazy("That cannot be done here.")
_SAY_WHAT = gettext_lazy("Say what it is, and its rating.")
_AT_LINE = "walk-note"


class Said(Exception):
    """A reason, in words, why a planned change is not made."""


class NotUsed(Exception):
    """Words of a line that nothing was made of: it is taken when it is sent again."""

    def __init__(self, words, line):
        super().__init__(words)
        self.words, self.line = words, line


def changing(form_class, words, at=GENERAL):
    """Let a view change a job: signed in, posted, an editor of it, asked for in a form; else `words` are said."""

    def decorate(view):
        @signed_in
        @require_POST
        @wraps(view)
        def inner(request, job_id):
            job = job_to_edit(job_id, request.user)
            form = form_class(request.POST)
            if not form.is_valid():
                return refused(request, job_id, [Note(at, error=_too_long(form) or words)])
            with turn_at(job_id):
                return view(request, job, form)

        return inner

    return decorate


def _too_long(form):
    """Return what a form says of texts that are over their length, "" where it is something else."""
    return " ".join(
        str(message)
        for errors in form.errors.as_data().values()
        for error in errors
        if error.code == "max_length"
        for message in error.messages
    )


def _changed(request, edited, judge, seen, notes=(), focus=""):
    document = edited.document
    at_now = chosen(document, edited.at or seen["at"])
    solved = judge.solved if judge.solved and judge.opened == at_now else solve_job(document, at_now)
    context = bench(request, edited.job, document, solved, at_now, seen["lens"], seen["shown"], editor=True)
    response = render(
        request,
        "workbench/_changed.html",
        {**context, "notes": [Note.general(""), *notes], "focus": focus, "done": edited.done},
    )
    response.kept = True
    return response


def refused(request, job_id, notes):
    """Nothing was kept: only the notes are swapped."""
    response = render(request, "workbench/_notes.html", {"notes": notes, "job": {"pk": job_id}})
    response.kept = False
    return response


def field_note(path, at, **words):
    """Return a note at a field of the chain, or above the page where the field is one of the schedule's."""
    return Note("n-" + "-".join(path) if path[1] == at else GENERAL, **words)


def _note_of(error, path, document, at):
    """Return the note for an error: at the field that was changed, naming another field where it is about one."""
    words = say(error.message) + (f" ({error.rule})" if error.rule else "")
    about = path_of(error.field, document)
    if error.field and (about != path or path[1] != at):
        words = said_of_error(error, document)
    return field_note(path, at, error=words)


def apply(request, job_id, seen, planner, note=Note.general, more=None):
    """Make the planned changes and answer with the regions; what stands in the way is said by `note`.

    more: what else the answer shows, notes and focus; the planner may still add to it
    """
    judge = Judge(seen["at"])

    def planner_of_what_is_shown(document):
        plan = ways.kept(document, planner(document))
        judge.opened = plan.at or judge.opened
        return plan

    try:
        edited = editing.edit(job_id, request.user, planner_of_what_is_shown, seen["seen"], judge)
    except Said as reason:
        return refused(request, job_id, [note(str(reason))])
    except Refused as error:
        return refused(request, job_id, [note(_about(error, job_id, request))])
    except editing.Conflict as conflict:
        who = conflict.event.actor.get_username()
        words = _("%(who)s has changed the same thing meanwhile: look at it again first.") % {"who": who}
        return refused(request, job_id, [note(words)])
    except NoSuchPlace:
        return refused(request, job_id, [note(_GONE)])
    return _changed(request, edited, judge, seen, **(more or {}))


def _about(error, job_id, request):
    """Return an error with the name of the node it is about."""
    return said_of_error(error, document_of(job_to_edit(job_id, request.user)))


@changing(NodeEditForm, gettext_lazy("That cannot be set here."))
def edit(request, job, form):
    """Set one place of a node."""
    seen, path = form.cleaned_data, form.cleaned_data["path"]
    judge, kept_as = Judge(seen["at"]), {}

    def planner(document):
        node = document["nodes"].get(path[1])
        if node is None:
            raise NoSuchPlace("/".join(path))
        try:
            value = tidied(path, seen["value"], read(document, path), document["job"])
        except InputError as error:
            raise error.at(".".join(path[1:])) from error
        kept_as["value"] = value
        title = changes.said_of_edit(document, path, value)
        return ways.kept(document, Plan([Change(path, None, value), *changes.with_it(document, path, value)], title))

    try:
        edited = editing.edit(job.pk, request.user, planner, seen["seen"], judge)
    except Refused as error:
        return refused(request, job.pk, [_note_of(error, path, document_of(job), seen["at"])])
    except editing.Conflict as conflict:
        return refused(request, job.pk, [_conflict(path, conflict, seen["at"])])
    except NoSuchPlace:
        return refused(request, job.pk, [Note.general(_GONE)])
    value = kept_as.get("value")  # nothing where the act was received before
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

    def planner(document):
        if not seen["line"]:
            raise Said(_SAY_WHAT)
        said = understood(document, seen["line"], seen["at"])
        if said.problems:
            raise Said(" ".join(said.problems))
        if said.unused and seen["again"] != seen["line"]:
            raise NotUsed(said.unused_words, seen["line"])
        wanted = []
        for each in said.items:
            wanted += changes.add(document, each.board, circuits_of(each.item), wanted)
        names = ", ".join(each.item.name for each in said.items)
        return Plan(wanted, _("added %(name)s") % {"name": names}, wanted[-1].path[1])

    more = {"notes": [Note(_AT_LINE)], "focus": "walk-line"}
    try:
        return apply(request, job.pk, seen, planner, _at_line, more)
    except NotUsed as left:
        words = _("Not used: %(words)s. Press Enter again to add it without.") % {"words": left.words}
        return refused(request, job.pk, [Note(_AT_LINE, error=words, again=left.line)])


def _at_line(words):
    return Note(_AT_LINE, error=words)


@changing(ActForm, _CANNOT)
def act(request, job, form):
    """Duplicate, copy, move, turn, take away, add a node."""
    seen = form.cleaned_data
    key = seen["key"] or seen["at"]
    shown = {"focus": f"open-{key}"}

    def planner(document):
        if key not in document["nodes"] and (key or seen["act"] != "add"):
            raise Said(_GONE)
        try:
            wanted, at = _wanted(document, key, seen)
        except changes.CannotMove:
            raise Said(_("It cannot hang there.")) from None
        shown["focus"] = f"f-nodes-{at}-name" if seen["act"] == "add" else f"open-{at}"
        name = document["nodes"].get(key, {}).get("name") or key or seen["kind"]
        done = _deleted(document, key, name) if seen["act"] == "remove" else ""
        return Plan(wanted, _titles()[seen["act"]] % {"name": name}, at, done=done)

    return apply(request, job.pk, seen, planner, more=shown)


def _deleted(document, key, name):
    """Return what went with a deletion, in words."""
    more = len(branch(document, key)) - 1
    if not more:
        return _("%(name)s deleted.") % {"name": name}
    words = ngettext(
        "%(name)s and what it fed deleted: %(n)s circuit.", "%(name)s and what it fed deleted: %(n)s.", more
    )
    return words % {"name": name, "n": more}


def _titles():
    return {
        "duplicate": _("duplicated %(name)s"), "copy": _("copied %(name)s"), "remove": _("deleted %(name)s"),
        "move": _("moved %(name)s"), "up": _("moved %(name)s"), "down": _("moved %(name)s"),
        "renumber": _("numbered %(name)s anew"), "right": _("assumptions about %(name)s are right"),
        "stand": _("poles of %(name)s"),
        "add": _("added to %(name)s"), "leg-before": _("leg of %(name)s"), "leg-after": _("leg of %(name)s"),
    }  # fmt: skip


def _wanted(document, key, seen):
    """Return the changes of an act, and the node to show after it."""
    nodes = document["nodes"]
    match seen["act"]:
        case "duplicate":
            wanted = changes.duplicate(document, key)
        case "copy":
            wanted = changes.duplicate(document, key, seen["to"])
        case "remove":
            if len(branch(document, key)) == len(nodes):
                raise Said(_("A job needs its supply: change its system in its own fields, or delete the job."))
            return changes.remove(document, key), nodes[key].get("parent") or ""
        case "renumber":
            return ways.renumbered(document, key), key
        case "right":
            return [Change(("nodes", key, "assumed"), None, None)], key
        case "stand":
            if not (seen["poles"] and nodes[key].get("load")):
                raise Said(_CANNOT)
            return changes.stand(document, key, seen["poles"]), key
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
    turned = changes.turned_legs(document, key, solved[key].legs, among, by)
    return ways.onto_legs(document, key, turned) if turned else []


@changing(PinForm, _CANNOT)
def pin(request, job, form):
    """Pin one of the options: device, size, sets and material in one change."""
    seen = form.cleaned_data

    def planner(document):
        node = document["nodes"].get(seen["key"])
        if node is None:
            raise Said(_GONE)
        title = _("pinned the run to %(name)s") % {"name": node.get("name") or seen["key"]}
        return Plan([Change(("nodes", seen["key"], "run"), None, form.run(node.get("run", {})))], title)

    return apply(request, job.pk, seen, planner)


@signed_in
@require_POST
def undo(request, job_id):
    """Take back one's own last change."""
    return _turn(request, job_id, turning.undo)


@signed_in
@require_POST
def redo(request, job_id):
    """Do it again."""
    return _turn(request, job_id, turning.redo)


def _turn(request, job_id, turn):
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
        return refused(request, job_id, [Note.general(words % {"why": _about(error, job_id, request)})])
    return _changed(request, edited, judge, seen)


@changing(NotedForm, gettext_lazy("Say in a few words why it may stand."))
def note(request, job, form):
    """Note a finding with a reason; without one it is open again. A stop stays."""
    seen = form.cleaned_data

    def planner(document):
        noted = {**document["job"].get("noted", {})}
        noted.pop(seen["finding"], None)
        if seen["reason"]:
            noted[seen["finding"]] = seen["reason"]
        if len(noted) > MOST_NOTED:
            raise Said(_("At most %(most)s findings of a job can be noted.") % {"most": MOST_NOTED})
        return Plan([Change(("job", "noted"), None, noted or None)], _("noted a finding"))

    return apply(request, job.pk, seen, planner)
