"""A job's document solved by the library, and its errors brought back to the places they are about."""

import re
from dataclasses import dataclass

from voltaje.design.solution import Solution
from voltaje.design.solve import solve
from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.path.model import Job
from voltaje.tools.solve import read_document
from web.jobs.document import Document, Path
from web.jobs.openfile import ordered, to_open

MOST_NAME = 80


@dataclass(frozen=True)
class Solved:
    """A job as the library read it, and its solution."""

    job: Job
    solution: Solution


def solve_job(document: Document, opened: str | None = None) -> Solved:
    """Return a job solved, the steps of one node with it if asked for. Raises InputError."""
    name = document["job"]["name"]
    if not isinstance(name, str) or not name.strip() or len(name) > MOST_NAME or not name.isprintable():
        raise InputError("name", Message("must be a text of 1 to {most} characters", most=MOST_NAME))
    job = read_document(to_open(document))
    known = opened if opened in document["nodes"] else None
    return Solved(job, solve(job, known))


class Judge:
    """The check of a change: the changed job must be readable and solvable. Keeps what was solved last."""

    def __init__(self, opened: str | None = None):
        self.opened = opened
        self.solved: Solved | None = None

    def __call__(self, document: Document) -> None:
        self.solved = solve_job(document, self.opened)


_INDEXED = re.compile(r"nodes\[(?P<at>\d+)\]\.?(?P<rest>.*)")


def path_of(field: str, document: Document) -> Path:
    """Return the place in the document that a field of the library is about: of the job, or of a node."""
    match = _INDEXED.fullmatch(field)
    if match:
        order = ordered(document)
        key = order[int(match["at"])] if int(match["at"]) < len(order) else ""
        return ("nodes", key, *_parts(match["rest"]))
    head, _dot, rest = field.partition(".")
    if head in document["nodes"]:
        return ("nodes", head, *_parts(rest))
    return ("job", *_parts(re.sub(r"\[\d+\]", "", field)))


def _parts(field: str) -> tuple[str, ...]:
    return tuple(part for part in field.split(".") if part)
