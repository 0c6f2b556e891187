"""The jobs page: each job with its supply, size, worst finding and a small picture of its path."""

from dataclasses import dataclass

from voltaje.errors import InputError
from voltaje.sheet import Finding, Severity
from web.drawing.thumbnail import Thumbnail, thumbnail
from web.jobs.document import Document
from web.jobs.editing import KEPT_AWAY, documents_of
from web.jobs.models import Job, Node, Role
from web.jobs.openfile import ordered
from web.jobs.solving import Solved, solve_job
from web.words.figures import write


@dataclass(frozen=True)
class JobRow:
    """A job as the list shows it; `solved` is None where the stored job can no longer be read."""

    job: Job
    system: str
    circuits: int
    role: str
    house_key: str
    picture: Thumbnail
    solved: Solved | None
    problem: InputError | None

    @property
    def findings(self) -> list[Finding]:
        """Every finding of the job, the worst first."""
        if self.solved is None:
            return []
        found = [each for node in self.solved.solution.nodes.values() for each in node.findings]
        found += self.solved.solution.findings
        return sorted(found, key=lambda each: list(Severity).index(each.severity))

    @property
    def counts(self) -> dict[str, int]:
        """How many findings of each severity."""
        return {str(each): sum(1 for found in self.findings if found.severity is each) for each in Severity}

    @property
    def worst(self) -> str:
        """The state to show: stop, warn, or holds where there are but notes."""
        if self.solved is None:
            return str(Severity.STOP)
        first = self.findings[0].severity if self.findings else Severity.NOTE
        return "holds" if first is Severity.NOTE else str(first)

    @property
    def amps(self) -> float:
        """The greatest current of the job's sources [A]."""
        if self.solved is None:
            return 0.0
        nodes = self.solved.solution.nodes.values()
        return max((max(n.amps.values(), default=0.0) for n in nodes if n.node.parent is None), default=0.0)

    @property
    def kva(self) -> str:
        """The demand of the job's sources [kVA], as written."""
        if self.solved is None:
            return ""
        nodes = self.solved.solution.nodes.values()
        return write(sum(node.demand_va for node in nodes if node.node.parent is None) / 1000, 1)


def job_rows(user) -> list[JobRow]:
    """Return the user's jobs, the one changed last first."""
    jobs = list(Job.objects.visible_to(user))
    roles = dict(user.memberships.values_list("job_id", "role"))
    return [_row(job, document, roles[job.pk]) for job, document in zip(jobs, documents_of(jobs), strict=True)]


def _row(job: Job, document: Document, role: str) -> JobRow:
    nodes = document["nodes"]
    sources = [node["system"] for node in nodes.values() if node["kind"] == Node.Kind.SOURCE]
    circuits = sum(1 for node in nodes.values() if node["kind"] in (Node.Kind.LOAD, Node.Kind.DWELLING))
    keys = ordered(document)
    house = keys[1] if len(keys) == len(("source", "house")) and nodes[keys[1]]["kind"] == Node.Kind.DWELLING else ""
    picture = thumbnail([(key, nodes[key].get("parent") or "") for key in keys])
    common = {"job": job, "system": ", ".join(sources), "circuits": circuits, "role": role, "house_key": house}
    try:
        return JobRow(**common, picture=picture, solved=solve_job(document), problem=None)
    except InputError as error:
        return JobRow(**common, picture=picture, solved=None, problem=error)


def put_away(user):
    """Return the jobs that the user put away, each with the time until which it can be brought back."""
    jobs = Job.objects.owned_by(user).exclude(deleted_at=None)
    return [(job, job.deleted_at + KEPT_AWAY) for job in jobs]


def may_edit(job: Job, user) -> bool:
    """Return whether the user may change the job."""
    return job.memberships.filter(user=user).exclude(role=Role.VIEWER).exists()
