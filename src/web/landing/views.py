"""The first page: what this is, one circuit worked live, and a way in without an account."""

from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext as _
from django.views.decorators.http import require_GET, require_POST

from voltaje.errors import Refused
from voltaje.limits import MOST_LINE
from voltaje.samples import NAMES
from web.accounts import guests
from web.jobs import keeping
from web.jobs.beginning import new_supply, sample_names
from web.jobs.sample import sample_document
from web.landing.worked import BOOKS, EXAMPLES, system_of, work
from web.words.figures import say
from web.words.forms import CleanedForm
from web.words.request import Request

_TOO_MANY = 429


class LineForm(CleanedForm):
    """A line typed on the first page, and the book it is worked by."""

    line = forms.CharField(max_length=MOST_LINE, required=False)
    book = forms.ChoiceField(choices=[(name, name) for name in BOOKS], required=False)


def _asked(data: Any) -> Any:
    form = LineForm(data)
    cleaned = form.cleaned_data if form.is_valid() else {}
    return cleaned.get("line") or "", cleaned.get("book") or BOOKS[0]


@require_GET
def landing(request: Request) -> HttpResponse:
    """The page; who has jobs goes to them."""
    if guests.come_back(request) and not guests.is_guest(request.user):
        return redirect("jobs")
    line, book = _asked(request.GET)
    return _page(request, line, book)


def _page(request: Request, line: Any, book: str, problem: str = "") -> HttpResponse:
    context = {"worked": work(line or EXAMPLES[0], book), "problem": problem}
    shown = {"examples": EXAMPLES, "books": BOOKS, "samples": sample_names()}
    return render(request, "landing/landing.html", {**context, **shown})


@require_GET
def worked(request: Request) -> HttpResponse:
    """The circuit of what is typed."""
    line, book = _asked(request.GET)
    return render(request, "landing/_worked.html", {"worked": work(line, book)})


@require_POST
def begin(request: Request) -> HttpResponse:
    """Begin a scratch job, of a sample or empty, with a guest's account where there is no other."""
    sample = request.POST.get("sample", "")
    line, book = _asked(request.POST)
    document = sample_document(sample) if sample in NAMES else new_supply(_("Try-out"), book, system_of(line, book))
    try:
        if not guests.come_back(request):
            guests.begin(request)
        job = keeping.create(request.user, document)
    except guests.TooMany:
        return render(request, "accounts/throttled.html", status=_TOO_MANY)
    except Refused as error:
        return _page(request, line, book, say(error.message))
    response = redirect("workbench", job_id=job.pk)
    return guests.remember(response, request.user) if guests.is_guest(request.user) else response
