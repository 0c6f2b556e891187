"""What is wrong with a job, in words of its own: loads by their names, fields as the screen calls them, never an id."""

from django.utils.translation import gettext as _

from voltaje.errors import Refused
from voltaje.inputs.declare import fields_of
from voltaje.path.schema import places
from web.jobs.document import Document, Path
from web.jobs.worker.solving import path_of
from web.words.figures import say

_LABELS = {
    f"{place}.{each.key}".strip("."): each.label
    for place, models in places().items()
    for model in models
    for each in fields_of(model)
}
_MOST = 4  # errors that are told one by one


def label_of(place: Path) -> str:
    """Return what the screen calls a field of a node, or of the job, by its place there."""
    label = _LABELS.get(".".join(place))
    return _(label).lower() if label else place[-1].replace("_", " ") if place else ""


def said_of_error(error: Refused, document: Document) -> str:
    """Return an error, and those that were found with it, each with what it is about."""
    errors = [error, *getattr(error, "also", ())]
    told = [_one(each, document) for each in errors[:_MOST]]
    if len(errors) > _MOST:
        told.append(_("and %(n)s more") % {"n": len(errors) - _MOST})
    return "; ".join(told)


def named_errors(error: Refused, document: Document) -> list[tuple[str, str, str]]:
    """Return an error, and those found with it: of each the node it is about, its name, what is wrong there."""
    told = []
    for each in (error, *getattr(error, "also", ())):
        key, name, field = _about(each, document)
        told.append((key, name, f"{field}: {say(each.message)}" if field else say(each.message)))
    return told


def _one(error: Refused, document: Document) -> str:
    _key, name, field = _about(error, document)
    where = " · ".join(part for part in (name, field) if part)
    words = say(error.message)
    return f"{where}: {words}" if where else words


def _about(error: Refused, document: Document) -> tuple[str, str, str]:
    """Return the node that an error is about, its name, and the field there as the screen calls it."""
    about = path_of(error.field, document) if error.field else ()
    key = about[1] if about[:1] == ("nodes",) and len(about) > 1 else ""
    place = about[2:] if about[:1] == ("nodes",) else about[1:]
    return key, str(document["nodes"].get(key, {}).get("name") or ""), label_of(place)
