"""Ways to begin a job: from nothing, from a sample, from an open job file."""

from typing import Any

from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.errors import InputError, Refused
from voltaje.message import Message
from voltaje.path.intake import read_json
from voltaje.path.kinds import Kind
from voltaje.samples import NAMES, sample
from voltaje.tools.solve import read_document, unknown_choices
from web.jobs.document import Document
from web.jobs.files.openfile import from_open
from web.jobs.limits import MOST_BYTES, MOST_NODES, MOST_VALUES
from web.words.figures import say
from web.words.trade import trade


def new_supply(name: str, book: str, system: str) -> Document:
    """Return the document of a job with a source and a board."""
    main = trade(find_book(book).terms.family)["main_board"]
    source = {"kind": Kind.SOURCE, "parent": "", "position": 0.0, "name": _("Supply"), "system": system}
    board = {"kind": Kind.BOARD, "parent": "src", "position": 1.0, "name": main}
    return {"job": {"name": name, "book": book}, "nodes": {"src": source, "main": board}}


def sample_names() -> list[tuple[str, str]]:
    """Return the samples, each with the name of its job."""
    return [(name, sample(name)["name"]) for name in NAMES]


def text_of(upload: Any) -> tuple[str, str]:
    """Return the text of an uploaded file, or what is wrong with it."""
    if upload.size > MOST_BYTES:
        return "", _("That file is too large for a job: at most %(most)s MB.") % {"most": MOST_BYTES // 1_000_000}
    try:
        return upload.read().decode("utf-8"), ""
    except UnicodeDecodeError:
        return "", _("That is not a text in UTF-8.")


def document_in(text: str) -> Document:
    """Return the document of a job file's text, read but not solved. Raises InputError with the place."""
    raw = read_json(text, MOST_VALUES)
    listed = raw.get("nodes") if isinstance(raw, dict) else None
    if isinstance(listed, list) and len(listed) > MOST_NODES:
        message = Message(
            "{n} of them: a job holds at most {most} nodes here; split the file by board into several jobs",
            n=len(listed),
            most=MOST_NODES,
        )
        raise InputError("nodes", message)
    unknown = unknown_choices(read_document(raw))
    if unknown:
        raise unknown[0]
    return from_open(raw)


def said(error: Refused) -> str:
    """Return an error of a file with its place."""
    if error.field == "file":
        return _("That file %(what)s") % {"what": say(error.message)}
    return f"{error.field}: {say(error.message)}"
