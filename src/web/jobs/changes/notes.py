"""Notes at the fields: what was kept, what is wrong, what another page did meanwhile."""

from dataclasses import dataclass
from typing import Any, Self

from django.utils.formats import time_format
from django.utils.timezone import localtime
from django.utils.translation import gettext as _
from django.utils.translation import ngettext

from voltaje.errors import Refused
from web.jobs.changes import editing
from web.jobs.document import Document, Path
from web.jobs.fields import other_unit
from web.jobs.files.house import path_of
from web.jobs.limits import MOST_EVENTS
from web.words.figures import say

GENERAL, ADD = "note-general", "note-add"


@dataclass(frozen=True)
class Offer:
    """What can be done about it: an act on a node, in words; to where; sure: though it was warned of."""

    words: str
    act: str
    key: str
    to: str = ""
    sure: bool = False


@dataclass(frozen=True)
class Note:
    """What stands at a field: an error, a hint, the text as it was kept, or a conflict to settle."""

    id: str
    error: str = ""
    hint: str = ""
    tidied: str = ""
    conflict: str = ""
    place: str = ""
    version: int = 0
    offers: tuple[Offer, ...] = ()
    again: str = ""  # a line that is taken as it stands when it is sent again

    @property
    def field_id(self) -> str:
        """The page's name of the input that the note is about."""
        return "f-" + self.place.replace("/", "-")

    @classmethod
    def general(cls, error: str) -> Self:
        """A note at the top of the sheet."""
        return cls(GENERAL, error)

    @classmethod
    def no_longer_fits(cls, held: Any) -> Self:
        """A note that a change cannot be taken back as things are now, and what can be done."""
        if held.hung:
            names = ", ".join(held.hung)
            words = ngettext(
                "%(names)s was hung on %(name)s since: remove both, or keep.",
                "%(names)s were hung on %(name)s since: remove all of it, or keep.",
                len(held.hung),
            )
            both = Offer(_("remove both"), "remove", held.key, sure=True)
            return cls(GENERAL, words % {"names": names, "name": held.name}, offers=(both,))
        if held.gone:
            words = _("It hung on %(gone)s, which %(who)s has taken away since: it cannot go back there.")
            return cls(GENERAL, words % {"gone": held.gone, "who": held.who})
        words = _("Taken back, it would not fit: %(name)s: %(why)s.")
        return cls(GENERAL, words % {"name": held.name, "why": say(held.said)})

    @classmethod
    def add(cls, error: str) -> Self:
        """A note at the line that adds a row."""
        return cls(ADD, error)


def _id(path: Path) -> str:
    return "n-" + "-".join(path)


def note_kept(path: Path, value: Any) -> Note:
    """The field is kept; an area is told in its other unit."""
    hint = other_unit(value) if path[-1] == "floor_area" else ""
    return Note(_id(path), hint=hint, tidied=value if isinstance(value, str) else "")


def note_error(path: Path, error: Refused, document: Document) -> Note:
    """What is wrong, said at the field that was changed, the rule with it."""
    words = say(error.message)
    if error.rule:
        words = f"{words} ({error.rule})"
    own = not document or error.field in ("", "name") or path_of_or_none(error.field, document) in (path, None)
    return Note(_id(path), error=words if own else f"{error.field}: {words}")


def path_of_or_none(field: str, document: Document) -> Path | None:
    """The place of a field, None for one that is not in the document yet."""
    try:
        return path_of(field, document)
    except (IndexError, KeyError):
        return None


def note_conflict(path: Path, conflict: editing.Conflict) -> Note:
    """Another page set the same field: both values, and the choice."""
    at = time_format(localtime(conflict.event.at))
    words = _("%(who)s set this to “%(theirs)s” at %(at)s") % {
        "who": conflict.event.who,
        "theirs": "–" if conflict.theirs is None else conflict.theirs,
        "at": at,
    }
    return Note(_id(path), conflict=words, place="/".join(path), version=conflict.version)


def refusal(refused: Any) -> str:
    """Why a change cannot be taken back."""
    if refused.event is None:
        words = _("There is nothing of yours to take back: undo reaches over a job's last %(n)s changes.")
        return words % {"n": MOST_EVENTS}
    who = refused.event.who
    return _("%(who)s has since changed the same thing, so yours cannot be taken back.") % {"who": who}
