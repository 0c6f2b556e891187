"""What a process makes once and then has at hand, made before anybody waits for it: tables, formulas, templates."""

import gc
import logging
import time
from collections.abc import Iterable
from datetime import timedelta

from django.db import connection
from django.template.loader import get_template
from django.utils import timezone
from django.utils.translation import override

from voltaje.numerics import optimize
from voltaje.samples import NAMES
from web.jobs.document import Document
from web.jobs.models import Job
from web.jobs.rows import document_of
from web.jobs.sample import sample_document
from web.jobs.worker.solving import solve_job
from web.workbench.lenses import LENSES
from web.workbench.lenses.lens import Looked
from web.workbench.parts.chain import chain_view
from web.workbench.parts.fields import many_fields, node_fields

_PARTS = ("workbench", "_changed", "_strip", "_notes", "_tree", "_chain", "_chain_head", "_link", "_row", "_waits")
_LATELY, _MOST_JOBS = timedelta(minutes=15), 4
_log = logging.getLogger("voltaje.warming")


def warm() -> None:
    """Work each sample, and the jobs that were worked on last, out as a page would ask for it, and show it to nobody.

    Nothing is kept that an answer could hang on: whatever fails here fails again, and is told, where it is asked for.
    """
    begun = time.monotonic()
    try:
        optimize()
        with override("en"):
            for part in _PARTS:
                get_template(f"workbench/{part}.html")
            for job in _at_work():
                _worked(document_of(job))
            for name in NAMES:
                _worked(sample_document(name))
    except Exception:
        _log.exception("not everything could be made beforehand")
    # What was made so far stays as long as the process: it is not gone through again for what can be freed.
    gc.collect()
    gc.freeze()
    connection.close()
    _log.info("warm after %.1f s", time.monotonic() - begun)


def _at_work() -> Iterable[Job]:
    """Return the jobs that were worked on last: after a restart their next edit finds them worked out."""
    lately = timezone.now() - _LATELY
    return Job.objects.filter(deleted_at=None, changed_at__gt=lately).order_by("-changed_at")[:_MOST_JOBS]


def _worked(document: Document) -> None:
    at = next((key for key, node in document["nodes"].items() if node["kind"] == "load"), next(iter(document["nodes"])))
    solved = solve_job(document, at)
    looked = Looked(document, solved, at, True, "en", [])
    chain_view(solved.solution, at, "")
    node_fields(document, at)
    many_fields(solved.solution.book)
    for lens in LENSES.values():
        if not lens.of:
            get_template(lens.template).render({"lens_region": lens.region(looked)})
