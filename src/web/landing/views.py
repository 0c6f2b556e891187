"""The first page: what this is, one circuit worked live, and a way in without an account."""

from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from voltaje.errors import Refused
from voltaje.limits import MOST_LINE
from voltaje.samples import NAMES
from web.accounts import guests
from web.jobs import keeping
from web.jobs.beginning import sample_names
from web.jobs.sample import sample_document
from web.landing.worked import BOOKS, EXAMPLES, SUPPLIES, NotSaid, begun, work
from web.words.figures import say
from web.words.forms import CleanedForm
from web.words.request import Request, part_of

_TOO_MANY = 429


class LineForm(CleanedForm):
    """A line typed on the first page, and the book it is worked by."""

    line = forms.CharField(max_length=MOST_LINE, required=False)
    book = forms.ChoiceField(choices=[(name, name) for name in BOOKS], required=False)
    system = forms.CharField(max_length=40, required=False)


def _asked(data: Any) -> Any:
    form = LineForm(data)
    cleaned = form.cleaned_data if form.is_valid() else {}
    book = cleaned.get("book") or BOOKS[0]
    system = cleaned.get("system") or ""
    return cleaned.get("line") or "", book, system if system in SUPPLIES[book] else ""


@require_GET
def landing(request: Request) -> HttpResponse:
    """The page; who has jobs goes to them."""
    if guests.come_back(request) and not guests.is_guest(request.user):
        return redirect("jobs")
    line, book, system = _asked(request.GET)
    return _page(request, line, book, system)


def _page(request: Request, line: Any, book: str, system: str, problem: str = "") -> HttpResponse:
    context = {"worked": work(line or EXAMPLES[0], book, system), "problem": problem, "system": system}
    shown = {"examples": EXAMPLES, "books": BOOKS, "samples": sample_names(), "systems": SUPPLIES[book]}
    return render(request, "landing/landing.html", {**context, **shown})


@part_of("home")
@require_GET
def worked(request: Request) -> HttpResponse:
    """The circuit of what is typed."""
    line, book, system = _asked(request.GET)
    context = {"worked": work(line, book, system), "system": system, "systems": SUPPLIES[book]}
    return render(request, "landing/_changed.html", context)


@require_POST
def begin(request: Request) -> HttpResponse:
    """Begin a scratch job, of a sample or empty, with a guest's account where there is no other."""
    sample = request.POST.get("sample", "")
    line, book, system = _asked(request.POST)
    try:
        document = sample_document(sample) if sample in NAMES else begun(line, book, system)
        if not guests.come_back(request):
            guests.begin(request)
        job = keeping.create(request.user, document)
    except guests.TooMany:
        return render(request, "accounts/throttled.html", status=_TOO_MANY)
    except NotSaid as error:
        return _page(request, line, book, system, str(error))
    except Refused as error:
        return _page(request, line, book, system, say(error.message))
    response = redirect("workbench", job_id=job.pk)
    return guests.remember(response, request.user) if guests.is_guest(request.user) else response
