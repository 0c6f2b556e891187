"""Ways to begin a job: from nothing, from a sample, from an open job file."""

import json

from django.utils.translation import gettext as _

from voltaje.errors import InputError
from voltaje.samples import NAMES, sample
from voltaje.tools.solve import solve_document
from web.jobs.document import Document
from web.jobs.models import Node
from web.jobs.openfile import from_open
from web.words.figures import say

_MOST_BYTES = 4_000_000


def new_supply(name: str, book: str, system: str) -> Document:
    """Return the document of a job with a source and a board."""
    source = {"kind": Node.Kind.SOURCE, "parent": "", "position": 0.0, "name": _("Supply"), "system": system}
    board = {"kind": Node.Kind.BOARD, "parent": "src", "position": 1.0, "name": _("Main board")}
    return {"job": {"name": name, "book": book}, "nodes": {"src": source, "main": board}}


def sample_names() -> list[tuple[str, str]]:
    """Return the samples, each with the name of its job."""
    return [(name, sample(name)["name"]) for name in NAMES]


def read_file(upload) -> tuple[Document | None, str]:
    """Return the document of an uploaded job file, or what is wrong with it, with its place."""
    if upload.size > _MOST_BYTES:
        return None, _("That file is too large for a job.")
    try:
        raw = json.loads(upload.read().decode("utf-8"))
        solve_document(raw)
        return from_open(raw), ""
    except InputError as error:
        return None, f"{error.field}: {say(error.message)}"
    except (ValueError, RecursionError) as error:
        return None, _("That is not a JSON file: %(why)s") % {"why": str(error)[:120]}
