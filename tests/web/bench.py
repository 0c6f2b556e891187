"""The workbench as its page asks it, for tests."""

from django.urls import reverse

from web.jobs import rows
from web.jobs.models import Job

HTMX = {"HX-Request": "true"}  # a part of a page is asked for by the page alone


def document(job):
    return rows.document_of(Job.objects.get(pk=job.pk))


def post(page, name, job, /, **fields):
    seen = {"version": Job.objects.get(pk=job.pk).version, "at": "mdp", "lens": "path"}
    answer = page.post(reverse(name, args=[job.pk]), seen | fields, headers=HTMX)
    assert answer.status_code == 200
    return answer.content.decode()


def set_to(page, job, place, value, **more):
    return post(page, "edit", job, path=f"nodes/{place}", value=value, **more)
