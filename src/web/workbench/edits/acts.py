"""Acts on nodes, one or several: duplicate, copy, move, turn, delete, add, paste."""

from collections.abc import Callable
from typing import Any
from uuid import UUID

from django.http import Http404, HttpResponse
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy, ngettext
from django.views.decorators.http import require_GET

from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers.proposed import proposed
from voltaje.design.ways import Placed
from voltaje.path.kinds import Kind
from web.accounts.access import signed_in
from web.jobs.changes.editing import Plan
from web.jobs.changes.notes import Offer
from web.jobs.document import Change, Document
from web.jobs.files.openfile import board_of, ordered
from web.jobs.files.pasting import NotPasted, pasted
from web.jobs.order import branch, children
from web.jobs.worker.solving import solve_job
from web.words.request import Request
from web.workbench.edits import changes, several
from web.workbench.edits.applying import GONE, Said, apply, changing
from web.workbench.files.csvlist import as_table
from web.workbench.forms import ActForm, PasteForm
from web.workbench.parts import ways
from web.workbench.views import opened

CANNOT = gettext_lazy("That cannot be done here.")


@changing(ActForm, CANNOT)
def act(request: Request, job_id: UUID, form: Any) -> HttpResponse:
    """Do something to a node, or to several: duplicate, copy, move, turn, delete; or add one."""
    seen = form.cleaned_data
    key = seen["key"] or seen["at"]
    shown = {"focus": f"open-{key}"}

    def planner(document: Document) -> Plan:
        keys = several.tops(document, seen["keys"] or [key])
        if not keys and (seen["keys"] or key or seen["act"] != "add"):
            raise Said(GONE)
        try:
            wanted, at = _wanted(document, keys, key, seen)
        except changes.CannotMove:
            raise Said(_("It cannot hang there.")) from None
        shown["focus"] = f"f-nodes-{at}-name" if seen["act"] == "add" else f"open-{at}"
        name = several.names_of(document, keys) if keys else seen["kind"]
        done = _told(document, keys, name, seen["act"])
        return Plan(wanted, _titles()[seen["act"]] % {"name": name}, at, done=done)

    return apply(request, job_id, seen, planner, more=shown)


def _told(document: Document, keys: list[str], name: str, act: str) -> str:
    """Return what went with a deletion, in words; "" of other acts."""
    if act == "rehang":
        return _("%(name)s deleted; what it fed is kept.") % {"name": name}
    if act != "remove":
        return ""
    more = sum(len(branch(document, key)) - 1 for key in keys)
    if not more:
        return _("%(name)s deleted.") % {"name": name}
    words = ngettext(
        "%(name)s and what it fed deleted: %(n)s circuit.", "%(name)s and what it fed deleted: %(n)s.", more
    )
    return words % {"name": name, "n": more}


def _titles() -> dict[str, str]:
    return {
        "duplicate": _("duplicated %(name)s"),
        "copy": _("copied %(name)s"),
        "remove": _("deleted %(name)s"),
        "move": _("moved %(name)s"),
        "up": _("moved %(name)s"),
        "down": _("moved %(name)s"),
        "renumber": _("numbered %(name)s anew"),
        "right": _("assumptions about %(name)s are right"),
        "stand": _("poles of %(name)s"),
        "rehang": _("deleted %(name)s"),
        "boost": _("boost before %(name)s"),
        "even-out": _("evened out %(name)s"),
        "leg-to": _("leg of %(name)s"),
        "add": _("added to %(name)s"),
        "leg-before": _("leg of %(name)s"),
        "leg-after": _("leg of %(name)s"),
    }


def _wanted(document: Document, keys: list[str], key: str, seen: dict[str, Any]) -> Any:
    """Return the changes of an act to several branches, and the node to show after it."""
    match seen["act"]:
        case "add":
            wanted = changes.new_node(document, board_of(document, key), seen["kind"] or "load")
            return wanted, wanted[0].path[1]
        case "remove":
            _require_sure(document, keys, seen)
            return several.in_turn(document, keys, changes.remove), document["nodes"][keys[0]].get("parent") or ""
        case "rehang" if len(keys) != 1 or seen["to"] not in document["nodes"] or seen["to"] == keys[0]:
            raise Said(CANNOT)
        case "rehang":
            wanted = several.in_turn(document, children(document, keys[0]), _moves(seen["to"]))
            return [*wanted, Change(("nodes", keys[0]), None, None)], seen["to"]
        case "boost":
            return _boosted(document, keys, key), key
        case "leg-to" | "even-out":
            return ways.all_onto_legs(document, _moves_to(document, keys, seen)), key
        case "duplicate" if len(keys) == 1:
            wanted = several.copies(document, keys[0], seen["times"] or 1)
            return wanted, wanted[0].path[1]
    wanted = several.in_turn(document, keys, _one(document, seen))
    copied = seen["act"] in ("duplicate", "copy") and wanted
    return wanted, wanted[0].path[1] if copied else keys[0]


def _moves(to: str, before: str = "") -> Callable[[Document, str], list[Change]]:
    return lambda document, key: changes.move(document, key, to, before)


def _one(base: Document, seen: dict[str, Any]) -> Callable[[Document, str], list[Change]]:
    """Return what an act makes of one branch, of a document in which those before it are done."""
    match seen["act"]:
        case "duplicate":
            return changes.duplicate
        case "copy":
            return lambda document, key: changes.duplicate(document, key, seen["to"])
        case "move":
            return _moves(seen["to"], seen["before"])
        case "renumber":
            return ways.renumbered
        case "right":
            return lambda _document, key: [Change(("nodes", key, "assumed"), None, None)]
        case "stand":
            return lambda document, key: _stood(document, key, seen["poles"])
        case "up" | "down":
            return lambda document, key: changes.step(document, key, seen["act"] == "up")
        case _:
            return _turner(base, -1 if seen["act"] == "leg-before" else 1)


def _moves_to(document: Document, keys: list[str], seen: dict[str, Any]) -> list[tuple[str, tuple[str, ...]]]:
    """Return which circuits go to which legs, as they were asked for: such as stand on some of their board's legs."""
    asked = seen["moves"] if seen["act"] == "even-out" else [(key, tuple(seen["to"].split("-"))) for key in keys]
    solved = solve_job(document).solution.nodes
    nodes = document["nodes"]
    for key, legs in asked:
        if key not in nodes:
            raise Said(GONE)
        parent = nodes[key].get("parent")
        own = among(solved[parent]) if parent else ()
        if not set(legs) <= set(own) or len(set(legs)) != len(legs) or len(legs) != len(solved[key].legs):
            raise Said(CANNOT)
    if not asked:
        raise Said(_("Nothing was chosen to move."))
    return asked


def _boosted(document: Document, keys: list[str], key: str) -> list[Change]:
    """Return the changes that put before a load the small transformer that brings the volts it is made for."""
    solution = solve_job(document).solution
    unit = proposed(solution.nodes[key], find_book(solution.book)) if keys == [key] else None
    if unit is None:
        raise Said(_("No small transformer brings it the volts that it is made for."))
    name = document["nodes"][key].get("name") or key
    return changes.boosted(document, key, unit, _("Boost of %(name)s") % {"name": name})


def among(above: NodeSolution) -> tuple[str, ...]:
    """Return the legs that a node gives to what it feeds."""
    if above.node.transformer:
        return tuple(leg for leg, _angle in above.node.transformer.secondary.legs)
    return above.legs


def _stood(document: Document, key: str, poles: int | None) -> list[Change]:
    if not (poles and document["nodes"][key].get("load")):
        raise Said(CANNOT)
    return changes.stand(document, key, poles)


def _require_sure(document: Document, keys: list[str], seen: dict[str, Any]) -> None:
    """Raise where a deletion needs a word first: of the last supply, and of a supply that feeds something."""
    nodes = document["nodes"]
    if sum(len(branch(document, key)) for key in keys) == len(nodes):
        raise Said(_("A job needs its supply: change its system in its own fields, or delete the job."))
    supplies = [key for key in keys if nodes[key]["kind"] == Kind.SOURCE and children(document, key)]
    if not supplies or seen["sure"]:
        return
    fed = branch(document, supplies[0])[1:]
    names = ", ".join(str(nodes[key].get("name") or key) for key in fed[:_MOST_NAMED])
    more = _(" and %(n)s more") % {"n": len(fed) - _MOST_NAMED} if len(fed) > _MOST_NAMED else ""
    words = _("%(name)s feeds %(names)s%(more)s: they go with it.") % {
        "name": nodes[supplies[0]].get("name") or supplies[0],
        "names": names,
        "more": more,
    }
    offers = [Offer(_("delete them all"), "remove", supplies[0], sure=True)]
    for other in ordered(document):
        if nodes[other]["kind"] == Kind.SOURCE and other not in supplies and len(offers) < _MOST_OFFERS:
            name = nodes[other].get("name") or other
            offers.append(Offer(_("feed them from %(name)s") % {"name": name}, "rehang", supplies[0], other))
    raise Said(words, offers)


_MOST_NAMED, _MOST_OFFERS = 6, 4


def _turner(base: Document, by: Any) -> Callable[[Document, str], list[Change]]:
    """Return what puts a load on a neighbouring leg of its board."""
    known: dict[str, tuple[dict[str, Placed], tuple[str, ...]]] = {}

    def turned(document: Document, key: str) -> list[Change]:
        parent = document["nodes"][key].get("parent")
        if not parent:
            return []
        if parent not in known:
            known[parent] = ways.circuits(base, parent)
        circuits, own = known[parent]
        legs = changes.turned_legs(document, key, circuits[key].legs, own, by) if key in circuits else []
        return ways.onto_legs(document, key, legs) if legs else []

    return turned


@changing(PasteForm, gettext_lazy("That is too long to be pasted at once."))
def paste(request: Request, job_id: UUID, form: Any) -> HttpResponse:
    """Hang a part of a job, as text, on the chosen board."""
    seen = form.cleaned_data

    def planner(document: Document) -> Plan:
        try:
            wanted = pasted(document, seen["text"], seen["at"])
        except NotPasted as reason:
            raise Said(str(reason)) from reason
        tops = [change for change in wanted if change.after["parent"] not in {each.path[1] for each in wanted}]
        name = str(tops[0].after.get("name") or "") if len(tops) == 1 else several.counted(len(wanted))
        return Plan(wanted, _("pasted %(name)s") % {"name": name}, wanted[0].path[1])

    return apply(request, job_id, seen, planner)


@signed_in
@require_GET
def copied(request: Request, job_id: UUID) -> HttpResponse:
    """Branches of the job as text: of the open file, or as a table for a spreadsheet."""
    _job, document = opened(request, job_id)
    keys = several.tops(document, request.GET.get("keys", "").split())
    if not keys:
        raise Http404
    text = as_table(document, keys) if request.GET.get("as") == "table" else several.as_text(document, keys)
    return HttpResponse(text, content_type="text/plain; charset=utf-8")
