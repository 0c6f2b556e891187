"""The jobs page: each job with its supply, size, worst finding and a small picture of its path.

What a row shows is kept with the job for the version it was worked out for; a page works out what is missing for
some seconds at most, and leaves the rest to the next.
"""

import time
from collections.abc import Iterable
from dataclasses import asdict, dataclass
from typing import Any

from django.utils.translation import get_language

from voltaje import __version__
from voltaje.books.registry import tables_digest
from voltaje.errors import Refused
from voltaje.findings import Severity
from voltaje.path.kinds import Kind
from web.drawing.thumbnail import MOST_BRANCHES, Thumbnail, Twig, thumbnail
from web.jobs.document import Document
from web.jobs.keeping import KEPT_AWAY
from web.jobs.models import Job, Role
from web.jobs.openfile import ordered
from web.jobs.rows import documents_of
from web.jobs.saying import said_of_error
from web.jobs.solving import Solved, solve_job
from web.jobs.sound import broken_places
from web.words.figures import say, write

_SECONDS_A_PAGE = 3.0
_READ_AT_ONCE = 20


@dataclass(frozen=True)
class JobRow:
    """A job as the list shows it. `known`: whether it is worked out; `problem`: why it cannot be."""

    job: Job
    role: str
    system: str = ""
    circuits: int = 0
    house_key: str = ""
    twigs: tuple[tuple[float, ...], ...] = ()
    known: bool = False
    problem: str = ""
    stops: int = 0
    warnings: int = 0
    worst: str = "none"
    first: str = ""
    amps: float = 0.0
    kva: str = ""

    @property
    def picture(self) -> Thumbnail:
        """The small picture of its path."""
        return Thumbnail(tuple(Twig(*twig) for twig in self.twigs))


def job_rows(user) -> list[JobRow]:
    """Return the user's jobs, the one changed last first."""
    jobs = list(Job.objects.visible_to(user))
    roles = dict(user.memberships.values_list("job_id", "role"))
    stale = [job for job in jobs if (job.summary or {}).get("of") != _key(job)]
    _work_out(stale)
    return [JobRow(job, roles[job.pk], **_shown(job)) for job in jobs]


def _key(job: Job) -> str:
    """Return what a summary hangs on: the job's version, the engine, its tables, the language of its words."""
    return f"{job.version} {__version__} {tables_digest()} {get_language()}"


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
    drawn = [(key, nodes[key].get("parent") or "") for key in keys[:MOST_BRANCHES]]
    row = {
        "system": ", ".join(str(node.get("system")) for node in nodes.values() if node["kind"] == Kind.SOURCE),
        "circuits": sum(1 for node in nodes.values() if node["kind"] in (Kind.LOAD, Kind.DWELLING)),
        "house_key": keys[1] if alone else "",
        "twigs": [list(asdict(twig).values()) for twig in thumbnail(drawn).twigs],
        "known": False,
        "worst": str(Severity.STOP),
    }
    broken = broken_places(document)
    if broken:
        return {**row, "problem": say(broken[0].message)}
    try:
        return row | {"known": True} | _figures(solve_job(document))
    except Refused as error:
        return {**row, "problem": said_of_error(error, document)}


def _figures(solved: Solved) -> dict[str, Any]:
    solution = solved.solution
    found = [each for node in solution.nodes.values() for each in node.findings] + list(solution.findings)
    found.sort(key=lambda each: list(Severity).index(each.severity))
    sources = [node for node in solution.nodes.values() if node.node.parent is None]
    first = found[0].severity if found else Severity.NOTE
    return {
        "stops": sum(each.severity is Severity.STOP for each in found),
        "warnings": sum(each.severity is Severity.WARN for each in found),
        "worst": "holds" if first is Severity.NOTE else str(first),
        "first": say(found[0].message) if found else "",
        "amps": max((max(node.amps.values(), default=0.0) for node in sources), default=0.0),
        "kva": write(sum(node.demand_va for node in sources) / 1000, 1),
    }


def put_away(user):
    """Return the jobs that the user put away, each with the time until which it can be brought back."""
    jobs = Job.objects.owned_by(user).exclude(deleted_at=None)
    return [(job, job.deleted_at + KEPT_AWAY) for job in jobs]


def may_edit(job: Job, user) -> bool:
    """Return whether the user may change the job."""
    return job.memberships.filter(user=user).exclude(role=Role.VIEWER).exists()
