"""What a process makes once and then has at hand, made before anybody waits for it: tables, formulas, templates."""

import gc
import logging
import time

from django.template.loader import get_template
from django.utils.translation import override

from voltaje.numerics import optimize
from voltaje.samples import NAMES
from web.jobs.sample import sample_document
from web.jobs.solving import solve_job
from web.workbench.chain import chain_view
from web.workbench.fields import many_fields, node_fields
from web.workbench.lenses import LENSES
from web.workbench.lenses.lens import Looked

_PARTS = ("workbench", "_changed", "_strip", "_notes", "_tree", "_chain", "_chain_head", "_link", "_row", "_waits")
_GARBAGE = (20_000, 20, 20)
_log = logging.getLogger("voltaje.warming")


def warm() -> None:
    """Work each sample out as its page would ask for it, and show it to nobody.

    Nothing is kept that an answer could hang on: whatever fails here fails again, and is told, where it is asked for.
    """
    begun = time.monotonic()
    try:
        optimize()
        with override("en"):
            for part in _PARTS:
                get_template(f"workbench/{part}.html")
            for name in NAMES:
                _worked(name)
    except Exception:
        _log.exception("not everything could be made beforehand")
    # What was made so far stays as long as the process: it is not gone through again for what can be freed, and what
    # an answer makes is gone through once it is worth it.
    gc.collect()
    gc.freeze()
    gc.set_threshold(*_GARBAGE)
    _log.info("warm after %.1f s", time.monotonic() - begun)


def _worked(name: str) -> None:
    document = sample_document(name)
    at = next((key for key, node in document["nodes"].items() if node["kind"] == "load"), next(iter(document["nodes"])))
    solved = solve_job(document, at)
    looked = Looked(document, solved, at, True, "en", [])
    chain_view(solved.solution, at, "")
    node_fields(document, at)
    many_fields(solved.solution.book)
    for lens in LENSES.values():
        if not lens.of:
            get_template(lens.template).render({"lens_region": lens.region(looked)})
