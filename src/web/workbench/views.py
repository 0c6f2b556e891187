"""The workbench page, its regions, and each change to the path."""

from dataclasses import replace

from django.shortcuts import get_object_or_404, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_GET, require_POST

from voltaje.books.registry import find_book
from voltaje.errors import InputError
from web.jobs import editing
from web.jobs.access import signed_in
from web.jobs.document import Change, NoSuchPlace
from web.jobs.listing import may_edit
from web.jobs.models import Job
from web.jobs.notes import GENERAL, Note, refusal
from web.jobs.solving import Judge, path_of, solve_job
from web.words.figures import say
from web.workbench import changes
from web.workbench.chain import chain_view
from web.workbench.forms import ActForm, LineForm, NodeEditForm, NotedForm, PinForm, SeenForm, tidied
from web.workbench.other_book import under_book
from web.workbench.pieces import Shown
from web.workbench.regions import bench, chosen, remarks
from web.workbench.walk import circuits_of, understood

_NOTHING_SEEN = {"version": -1, "at": "", "lens": "path", "shown": Shown()}


def opened(request, job_id):
    """Return a job that the person may read, and its document."""
    job = get_object_or_404(Job.objects.visible_to(request.user), pk=job_id)
    return job, editing.document_of(job)


@signed_in
@require_GET
def workbench(request, job_id):
    """The page."""
    job, document = opened(request, job_id)
    at = chosen(document, request.GET.get("at", ""))
    lens = "schedule" if request.GET.get("lens") == "schedule" else "path"
    try:
        solved = solve_job(document, at)
    except InputError as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})
    return render(request, "workbench/workbench.html", bench(request, job, document, solved, at, lens))


@signed_in
@require_GET
def region(request, job_id):
    """The regions as they stand: another node chosen, another lens, or another person's change taken."""
    job, document = opened(request, job_id)
    form = SeenForm(request.GET)
    seen = _NOTHING_SEEN | (form.cleaned_data if form.is_valid() else {"at": request.GET.get("at", "")[:40]})
    at = chosen(document, seen["at"])
    try:
        solved = solve_job(document, at)
    except InputError as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})
    # A page that asks for another node says its frames, not its pieces: they stand as long as nothing was changed.
    shown = replace(seen["shown"], at_rest=True) if seen["version"] == job.version else Shown()
    context = bench(request, job, document, solved, at, seen["lens"], shown)
    return render(request, "workbench/_changed.html", {**context, "notes": [Note.general("")]})


@signed_in
@require_GET
def findings(request, job_id):
    """Every finding of the job, for the list that opens from the strip."""
    job, document = opened(request, job_id)
    try:
        listed = remarks(document, solve_job(document))
    except InputError as error:
        return render(request, "jobs/unreadable.html", {"job": job, "error": error})
    context = {"job": job, "remarks": listed, "may_edit": may_edit(job, request.user)}
    return render(request, "workbench/_findings.html", context)


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
        return refused(request, job_id, [note(_("That has been taken away on another page."))])
    return _changed(request, edited, judge, seen, at, **more)


@signed_in
@require_POST
def edit(request, job_id):
    """Set one place of a node."""
    form = NodeEditForm(request.POST)
    job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
    if not form.is_valid():
        return refused(request, job_id, [Note.general(_("That cannot be set here."))])
    seen, path = form.cleaned_data, form.cleaned_data["path"]
    node = job.nodes.filter(key=path[1]).first()
    if node is None:
        return refused(request, job_id, [Note.general(_("That has been taken away on another page."))])
    value = tidied(path, seen["value"], job.book, job.entries.get("degrees", "C"))
    judge = Judge(seen["at"])
    name = node.data.get("name") or path[1]
    try:
        title = _("%(what)s of %(name)s") % {"what": path[-1], "name": name}
        edited = editing.edit(job.pk, request.user, [Change(path, None, value)], seen["version"], judge, title[:120])
    except InputError as error:
        return refused(request, job_id, [_note_of(error, path, editing.document_of(job), seen["at"])])
    except editing.Conflict as conflict:
        return refused(request, job_id, [_conflict(path, conflict, seen["at"])])
    except NoSuchPlace:
        return refused(request, job_id, [Note.general(_("That has been taken away on another page."))])
    kept = field_note(path, seen["at"], tidied=value if isinstance(value, str) else "")
    return _changed(request, edited, judge, seen, notes=[kept] if kept.id != GENERAL else [])


def _conflict(path, conflict, at):
    theirs = "–" if conflict.theirs is None else conflict.theirs
    words = _("%(who)s set this to “%(theirs)s” meanwhile; what you typed is still here.") % {
        "who": conflict.event.actor.get_username(),
        "theirs": theirs,
    }
    return field_note(path, at, conflict=words, place="/".join(path), version=conflict.version)


@signed_in
@require_GET
def understand(request, job_id):
    """What a walk-through line says, shown before it is added."""
    _job, document = opened(request, job_id)
    form = LineForm({"version": 0, "line": request.GET.get("line", "")})
    line = form.cleaned_data["line"] if form.is_valid() else ""
    context = {"said": understood(document, line, request.GET.get("at", ""))} if line else {}
    return render(request, "workbench/_understood.html", context)


@signed_in
@require_POST
def walk(request, job_id):
    """Add what a walk-through line says."""
    form = LineForm(request.POST)
    job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
    if not form.is_valid() or not form.cleaned_data["line"]:
        return refused(request, job_id, [Note("walk-note", error=_("Say what it is, and its rating."))])
    seen = form.cleaned_data
    document = editing.document_of(job)
    said = understood(document, seen["line"], seen["at"])
    if said.problems:
        return refused(request, job_id, [Note("walk-note", error=" ".join(said.problems))])
    wanted = changes.add(document, said.board, circuits_of(said.found))
    title = _("added %(name)s") % {"name": said.found.name or _("a load")}
    at = wanted[-1].path[1]
    more = {"notes": [Note("walk-note")], "focus": "walk-line"}
    return apply(request, job.pk, seen, wanted, title[:120], at, _at_line, **more)


def _at_line(words):
    return Note("walk-note", error=words)


@signed_in
@require_POST
def act(request, job_id):
    """Duplicate, copy, move, take away, add a node."""
    form = ActForm(request.POST)
    job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
    if not form.is_valid():
        return refused(request, job_id, [Note.general(_("That cannot be done here."))])
    seen, document = form.cleaned_data, editing.document_of(job)
    key = seen["key"] or seen["at"]
    if seen["act"] != "add" and key not in document["nodes"]:
        return refused(request, job_id, [Note.general(_("That has been taken away on another page."))])
    try:
        wanted, at = _wanted(document, key, seen)
    except changes.CannotMove:
        return refused(request, job_id, [Note.general(_("It cannot hang there."))])
    if not wanted:
        return refused(request, job_id, [Note.general("")])
    name = document["nodes"].get(key, {}).get("name") or key or seen["kind"]
    titles = {
        "duplicate": _("duplicated %(name)s"), "copy": _("copied %(name)s"), "remove": _("took away %(name)s"),
        "move": _("moved %(name)s"), "up": _("moved %(name)s"), "down": _("moved %(name)s"),
        "add": _("added to %(name)s"),
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
        case _:
            wanted = changes.new_node(document, changes.board_of(document, key), seen["kind"] or "load")
    return wanted, wanted[0].path[1] if wanted else key


@signed_in
@require_POST
def pin(request, job_id):
    """Pin one of the options: device, size, sets and material in one change."""
    form = PinForm(request.POST)
    job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
    document = editing.document_of(job)
    if not form.is_valid() or form.cleaned_data["key"] not in document["nodes"]:
        return refused(request, job_id, [Note.general(_("That cannot be done here."))])
    seen = form.cleaned_data
    node = document["nodes"][seen["key"]]
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
    seen = form.cleaned_data if form.is_valid() else _NOTHING_SEEN
    judge = Judge(seen["at"])
    try:
        edited = turn(job_id, request.user, judge)
    except editing.Refused as held:
        return refused(request, job_id, [Note.general(refusal(held))])
    except InputError:
        return refused(request, job_id, [Note.general(_("That would no longer be a supply that can be solved."))])
    return _changed(request, edited, judge, seen)


@signed_in
@require_POST
def note(request, job_id):
    """Note a finding with a reason; without one it is open again. A stop stays."""
    form = NotedForm(request.POST)
    job = get_object_or_404(Job.objects.editable_by(request.user), pk=job_id)
    if not form.is_valid():
        return refused(request, job_id, [Note.general(_("Say in a few words why it may stand."))])
    seen = form.cleaned_data
    noted = {**editing.document_of(job)["job"].get("noted", {})}
    noted.pop(seen["finding"], None)
    if seen["reason"]:
        noted[seen["finding"]] = seen["reason"]
    change = Change(("job", "noted"), None, noted or None)
    return apply(request, job.pk, seen, [change], _("noted a finding"))


@signed_in
@require_GET
def compare(request, job_id):
    """The chosen node under another book, side by side."""
    _job, document = opened(request, job_id)
    at = chosen(document, request.GET.get("at", ""))
    other = request.GET.get("book", "")
    try:
        book = find_book(other).name
        mine = solve_job(document, at)
        theirs = under_book(document, other, mine)
        here = chain_view(mine.solution, at, "")
        there = chain_view(solve_job(theirs, at).solution, at, "")
    except InputError as error:
        return render(request, "workbench/_compare.html", {"error": f"{error.field}: {say(error.message)}"})
    pairs = [(a, b, (a.value, a.unit) != (b.value, b.unit)) for a, b in zip(here.links, there.links, strict=True)]
    differing = sum(differs for _here, _there, differs in pairs)
    context = {
        "pairs": pairs,
        "name": here.title,
        "differing": differing,
        "book": document["job"]["book"],
        "other": book,
    }
    return render(request, "workbench/_compare.html", context)
