"""The jobs page: each job with its supply, size, worst finding and a small picture of its path.

What a row shows is kept with the job for the version it was worked out for; a page works out what is missing for
some seconds at most, and leaves the rest to the next.
"""

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from datetime import datetime
from functools import cache
from typing import Any

from django.contrib.auth.models import User
from django.utils.functional import Promise
from django.utils.translation import get_language, gettext_lazy

from voltaje import __version__
from voltaje.books.registry import find_book, tables_digest
from voltaje.errors import Refused
from voltaje.findings import Severity
from voltaje.path.kinds import Kind
from voltaje.samples import NAMES
from web.drawing.oneline.draw import single_line
from web.drawing.thumbnail import Thumbnail, thumbnail
from web.jobs.changes.saying import said_of_error
from web.jobs.changes.sound import broken_places
from web.jobs.document import Document
from web.jobs.files.openfile import in_order, ordered
from web.jobs.keeping import KEPT_AWAY
from web.jobs.models import Job, Role
from web.jobs.rows import documents_of
from web.jobs.sample import sample_document
from web.jobs.worker.solving import Solved, solve_job
from web.words.figures import say, write

_SECONDS_A_PAGE = 3.0
_READ_AT_ONCE = 20
_ASPECT = 1.7  # of the small picture
_MOST_TOLD = 2
_SHAPE = 3  # of what is kept; one kept otherwise is worked out anew


@dataclass(frozen=True, eq=False)
class JobRow:
    """A job as the list shows it. `known`: whether it is worked out; `problem`: why it cannot be."""

    job: Job
    role: str
    system: str = ""
    circuits: int = 0
    house_key: str = ""
    drawn: list[Any] = field(default_factory=list[Any])  # its small picture, as it is kept
    known: bool = False
    problem: str = ""
    stops: int = 0
    warnings: int = 0
    worst: str = "none"
    found: tuple[str, ...] = ()  # the worst that was found, in words
    amps: float = 0.0
    kva: str = ""
    va: float = 0.0

    @property
    def picture(self) -> Thumbnail | None:
        """The small picture of its path, where it is worked out."""
        return Thumbnail.read(self.drawn) if self.drawn else None

    @property
    def needs_attention(self) -> bool:
        """Whether something of it is not allowed, or cannot be worked out."""
        return bool(self.stops or self.problem)


Words = str | Promise
SORTS: dict[str, tuple[Words, Callable[[JobRow], Any]]] = {
    "changed": (gettext_lazy("Changed last"), lambda row: -row.job.changed_at.timestamp()),
    "name": (gettext_lazy("Name"), lambda row: row.job.name.casefold()),
    "demand": (gettext_lazy("Demand"), lambda row: -row.va),
    "problems": (gettext_lazy("Problems"), lambda row: (-row.stops, -row.warnings)),
}
SHOWN: dict[str, tuple[Words, Callable[[JobRow], Any]]] = {
    "": (gettext_lazy("All"), lambda row: True),
    "attention": (gettext_lazy("Need attention"), lambda row: row.needs_attention),
    "warnings": (gettext_lazy("Warnings"), lambda row: row.warnings and not row.needs_attention),
    "right": (gettext_lazy("OK"), lambda row: row.known and not (row.warnings or row.needs_attention)),
}


def picked(rows: list[JobRow], words: str, shown: str, sort: str) -> list[JobRow]:
    """Return those of the jobs that go by some words and stand as asked, in the order asked for."""
    wanted = words.casefold().split()
    said = {row: f"{row.job.name} {row.job.book} {row.system}".casefold() for row in rows}
    rows = [row for row in rows if all(word in said[row] for word in wanted)]
    _words, stands = SHOWN.get(shown, SHOWN[""])
    _words, order = SORTS.get(sort, SORTS["changed"])
    return sorted(filter(stands, rows), key=order)


def job_rows(user: User) -> list[JobRow]:
    """Return the user's jobs, the one changed last first."""
    jobs = list(Job.objects.visible_to(user))
    roles = dict(user.memberships.values_list("job_id", "role"))
    stale = [job for job in jobs if (job.summary or {}).get("of") != _key(job)]
    _work_out(stale)
    return [JobRow(job, roles[job.pk], **_shown(job)) for job in jobs]


def _key(job: Job) -> str:
    """Return what a summary hangs on: the job's version, the engine, its tables, the language of its words."""
    return f"{_SHAPE} {job.version} {__version__} {tables_digest()} {get_language()}"


def _shown(job: Job) -> dict[str, Any]:
    summary = job.summary or {}
    return dict(summary.get("row", {})) if summary.get("of") == _key(job) else {}


def _work_out(stale: list[Job]) -> None:
    until = time.thread_time() + _SECONDS_A_PAGE
    for job, document in _documents(stale):
        if time.thread_time() > until:
            return
        job.summary = {"of": _key(job), "row": _summary(document)}
        Job.objects.filter(pk=job.pk, version=job.version).update(summary=job.summary)


def _documents(jobs: list[Job]) -> Iterable[tuple[Job, Document]]:
    for at in range(0, len(jobs), _READ_AT_ONCE):
        some = jobs[at : at + _READ_AT_ONCE]
        yield from zip(some, documents_of(some), strict=True)


def _summary(document: Document) -> dict[str, Any]:
    nodes = document["nodes"]
    keys = ordered(document)
    alone = len(keys) == len(("source", "house")) and nodes[keys[1]]["kind"] == Kind.DWELLING
    row = {
        "system": ", ".join(str(node.get("system")) for node in nodes.values() if node["kind"] == Kind.SOURCE),
        "circuits": sum(1 for node in nodes.values() if node["kind"] in (Kind.LOAD, Kind.DWELLING)),
        "house_key": keys[1] if alone else "",
        "known": False,
        "worst": str(Severity.STOP),
    }
    broken = broken_places(document)
    if broken:
        return {**row, "problem": say(broken[0].message)}
    try:
        solved = solve_job(document)
        return row | {"known": True, "drawn": _drawn(document, solved)} | _figures(solved)
    except Refused as error:
        return {**row, "problem": said_of_error(error, document)}


def _drawn(document: Document, solved: Solved) -> list[Any]:
    terms = find_book(solved.solution.book).terms
    return list(thumbnail(single_line(in_order(document), solved.solution, terms, _ASPECT)))


def _figures(solved: Solved) -> dict[str, Any]:
    solution = solved.solution
    found = [each for node in solution.nodes.values() for each in node.findings] + list(solution.findings)
    found.sort(key=lambda each: list(Severity).index(each.severity))
    sources = [node for node in solution.nodes.values() if node.node.parent is None]
    told = [say(each.message) for each in found if each.severity is not Severity.NOTE]
    first = found[0].severity if found else Severity.NOTE
    return {
        "stops": sum(each.severity is Severity.STOP for each in found),
        "warnings": sum(each.severity is Severity.WARN for each in found),
        "worst": "holds" if first is Severity.NOTE else str(first),
        "found": list(dict.fromkeys(told))[:_MOST_TOLD],
        "amps": max((max(node.amps.values(), default=0.0) for node in sources), default=0.0),
        "va": sum(node.demand_va for node in sources),
        "kva": write(sum(node.demand_va for node in sources) / 1000, 1),
    }


@cache
def _sample_drawn(name: str, _language: str) -> tuple[str, Thumbnail]:
    document = sample_document(name)
    return document["job"]["name"], Thumbnail.read(_drawn(document, solve_job(document)))


def samples_drawn() -> list[tuple[str, str, Thumbnail]]:
    """Return the samples: of each its key, the name of its job, its small picture."""
    return [(name, *_sample_drawn(name, get_language() or "")) for name in NAMES]


def put_away(user: User) -> list[tuple[Job, datetime]]:
    """Return the jobs that the user put away, each with the time until which it can be brought back."""
    jobs = Job.objects.owned_by(user).exclude(deleted_at=None)
    return [(job, job.deleted_at + KEPT_AWAY) for job in jobs if job.deleted_at]


def may_edit(job: Job, user: User) -> bool:
    """Return whether the user may change the job."""
    return job.memberships.filter(user=user).exclude(role=Role.VIEWER).exists()
