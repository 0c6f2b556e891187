"""The jobs page: each job with its supply, size and worst finding."""

from dataclasses import dataclass

from voltaje.design.house import HouseSolution
from voltaje.errors import InputError
from voltaje.sheet import Severity
from web.jobs.editing import document_of
from web.jobs.house import HOUSE, SOURCE, solve
from web.jobs.models import Job, Role


@dataclass(frozen=True)
class JobRow:
    """A job as the list shows it; `solution` is None where the stored house can no longer be read."""

    job: Job
    system: str
    floor_area: str
    role: str
    solution: HouseSolution | None
    problem: InputError | None

    @property
    def worst(self) -> str:
        """The state to show: stop, warn, or holds where there are but notes."""
        if self.solution is None:
            return str(Severity.STOP)
        worst = self.solution.findings[0].severity
        return "holds" if worst is Severity.NOTE else str(worst)


def job_rows(user) -> list[JobRow]:
    """Return the user's jobs, the one changed last first."""
    jobs = Job.objects.visible_to(user).prefetch_related("nodes")
    roles = dict(user.memberships.values_list("job_id", "role"))
    return [_row(job, roles[job.pk]) for job in jobs]


def _row(job: Job, role: str) -> JobRow:
    document = document_of(job)
    system, area = document["nodes"][SOURCE]["system"], document["nodes"][HOUSE]["floor_area"]
    try:
        return JobRow(job, system, area, role, solve(document, record=False), None)
    except InputError as error:
        return JobRow(job, system, area, role, None, error)


def put_away(user):
    """Return the jobs that the user put away."""
    return Job.objects.owned_by(user).exclude(deleted_at=None)


def may_edit(job: Job, user) -> bool:
    """Return whether the user may change the job."""
    return job.memberships.filter(user=user).exclude(role=Role.VIEWER).exists()
