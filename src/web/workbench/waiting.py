"""What a page shows while the worker answers: words that ask again by themselves until the answer is there."""

import json
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from web.jobs.models import Job
from web.jobs.worker.working import Waits, asked
from web.words.request import Request


def from_worker(request: Request, job: Job, what: str, about: dict[str, Any]) -> HttpResponse:
    """Answer from the worker, or with the words that wait for it and ask again."""
    found = asked(job, request.user, what, about)
    if isinstance(found, Waits):
        again = {name: value for name, value in request.POST.items() if name != "csrfmiddlewaretoken"}
        return render(
            request,
            "workbench/_waits.html",
            {"waits": found, "address": request.get_full_path(), "values": json.dumps(again)},
        )
    return HttpResponse(found)
