"""A job's document solved by the library within a budget, and its errors brought back to the places they are about."""

import re
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from voltaje.design.solution import Solution
from voltaje.design.solve import solve
from voltaje.errors import InputError
from voltaje.limits import MOST_NAME
from voltaje.message import Message
from voltaje.path.model import Job
from voltaje.tools.solve import read_document, unknown_choices
from web.jobs.document import Change, Document, Path
from web.jobs.files.openfile import ordered, to_open
from web.jobs.limits import SOLVE_SECONDS, OverCap
from web.words.met import note


@dataclass(frozen=True)
class Solved:
    """A job as the library read it, and its solution.

    order: its nodes, parents first, siblings by their position: whoever shows it need not sort them again
    """

    job: Job
    solution: Solution
    order: list[str]


class TooMuch(OverCap):
    """A job that takes longer to work out than one solve may."""


class Budget:
    """A limit to the time of one solve, on one core [s]; `told` is told how far it is."""

    def __init__(self, seconds: float = SOLVE_SECONDS, told: Callable[[int, int], None] | None = None) -> None:
        self.seconds, self.told = seconds, told
        self.until = time.thread_time() + seconds

    def __call__(self, done: int, of: int) -> None:
        if time.thread_time() > self.until:
            message = Message(
                "it would take over {seconds} s to work this job out: split it into several",
                seconds=f"{self.seconds:g}",
            )
            note("seconds of a solve")
            raise TooMuch("nodes", message)
        if self.told:
            self.told(done, of)


def solve_job(document: Document, opened: str | None = None, budget: Budget | None = None) -> Solved:
    """Return a job solved, the steps of one node with it if asked for. Raises InputError, TooMuch over the budget."""
    name = document["job"]["name"]
    if not isinstance(name, str) or not name.strip() or len(name) > MOST_NAME or not name.isprintable():
        raise InputError("name", Message("must be a text of 1 to {most} characters", most=MOST_NAME))
    job = read_document(to_open(document))
    known = opened if opened in document["nodes"] else None
    return Solved(job, solve(job, known, budget or Budget()), [node.id for node in job.nodes])


class Judge:
    """The check of a change: the changed job must be readable and solvable, and what was chosen anew must be a choice.

    Keeps what was solved last.
    """

    def __init__(self, opened: str | None = None) -> None:
        self.opened = opened
        self.solved: Solved | None = None

    def __call__(self, document: Document, changes: Sequence[Change] = ()) -> None:
        solved = solve_job(document, self.opened)
        chosen = {change.path[1] for change in changes if _chooses(change)}
        wrong = unknown_choices(solved.job, chosen) if chosen else []
        for error in wrong:
            about = Change(path_of(error.field, document), None, None)
            if any(change.after is not None and about.overlaps(change) for change in changes):
                raise error
        self.solved = solved


def _chooses(change: Change) -> bool:
    """Return whether a change says what a run is made of, or brings in a node."""
    return change.path[0] == "nodes" and (len(change.path) == len(("nodes", "key")) or change.path[2] == "run")


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
