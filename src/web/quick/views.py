"""Quick sheets: the page of tools, a sheet live as one types, on paper, as text and as JSON."""

from typing import Any
from urllib.parse import urlencode

from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET
from django_htmx.http import replace_url, reswap

from voltaje.books.registry import books, short_name
from voltaje.errors import Refused
from voltaje.tools.registry import tools
from voltaje.tools.tool import Tool
from web.jobs.models import Job
from web.quick.answering import SheetView, as_json, as_text, sheet_of, tabs_of
from web.quick.finding import find, last_used, opened, used
from web.quick.inputs import as_address
from web.quick.models import Kept
from web.words.figures import say
from web.words.request import Request

COOKIE = "quick"
_A_YEAR = 365 * 24 * 3600
_MOST_WORDS, _MOST_JOBS = 60, 20
_WRONG = 422


def find_tool(name: str) -> Tool[Any]:
    """Return a tool by its name. Raises Http404."""
    tool = tools().get(name)
    if tool is None:
        raise Http404
    return tool


@require_GET
def windings(_request: Request) -> HttpResponse:
    """The studio of coils: its first question, with its worked example."""
    first = next(tool for tool in tools().values() if tool.studio)
    return redirect(f"{reverse('quick-sheet', args=[first.name])}?{urlencode(as_address(first.example['nec']))}")


@require_GET
def tools_page(request: Request) -> HttpResponse:
    """The tools, by the question that a person has, or by words."""
    words = request.GET.get("words", "")[:_MOST_WORDS]
    context = {
        "words": words,
        "shelves": find(words),
        "opened": opened(words),
        "last": last_used(request.COOKIES.get(COOKIE, "")),
        "kept": Kept.objects.of(request.user) if request.user.is_authenticated else [],
    }
    return render(request, "quick/quick.html", context)


@require_GET
def sheet(request: Request, name: str) -> HttpResponse:
    """A sheet; while one types only its answer, or what is wrong at which field."""
    tool = find_tool(name)
    view = sheet_of(tool, _asked(tool, request), request.GET.get("_add", ""))
    context = {"sheet": view, "books": _books(tool), "tabs": tabs_of(view)}
    address = f"{reverse('quick-sheet', args=[name])}?{view.address}"
    if request.htmx:
        whole = "_add" in request.GET or request.htmx.target == "quick"
        template = "quick/_whole.html" if whole else "quick/_changed.html"
        response = render(request, template, context)
        if view.wrong and not whole:
            return reswap(response, "none")  # the last good answer stays
        return replace_url(response, address) if not view.wrong else response
    context |= _around(request) | {"no_load": view.answered is not None and not view.answered.nodes}
    response = render(request, "quick/sheet.html", context)
    note = used(request.COOKIES.get(COOKIE, ""), name)
    response.set_cookie(COOKIE, note, _A_YEAR, samesite="Lax", httponly=True)
    return response


def _asked(tool: Tool[Any], request: Request) -> dict[str, str]:
    """Return what is asked; an item of a list that is to go is left out."""
    data = {key: request.GET.get(key, "") for key in request.GET}
    gone = data.get("_drop", "")
    return {key: value for key, value in data.items() if not gone or not key.startswith(f"{gone}.")}


def _books(tool: Tool[Any]) -> list[tuple[str, str]]:
    return [(name, short_name(name)) for name, book in books().items() if book.terms.family in tool.families]


def _around(request: Request) -> dict[str, Any]:
    """Return what a signed-in person can do with a sheet: the jobs that it can go into."""
    if not request.user.is_authenticated:
        return {"jobs": []}
    return {"jobs": Job.objects.editable_by(request.user).order_by("-changed_at")[:_MOST_JOBS]}


def _answered(request: Request, name: str) -> SheetView:
    tool = find_tool(name)
    return sheet_of(tool, _asked(tool, request))


@require_GET
def paper(request: Request, name: str) -> HttpResponse:
    """A sheet on one page of paper."""
    view = _answered(request, name)
    return render(request, "quick/print.html", {"sheet": view}, status=_WRONG if view.wrong else 200)


@require_GET
def text(request: Request, name: str) -> HttpResponse:
    """A sheet as plain text."""
    view = _answered(request, name)
    words = as_text(view) if view.answered else f"{view.first_wrong}\n"
    return HttpResponse(words, "text/plain; charset=utf-8", status=_WRONG if view.wrong else 200)


@require_GET
def plain_json(request: Request, name: str) -> HttpResponse:
    """A sheet's answer as the command line gives it."""
    view = _answered(request, name)
    try:
        return JsonResponse(as_json(view), json_dumps_params={"ensure_ascii": False, "indent": 2})
    except Refused as error:
        return JsonResponse({"field": error.field, "message": say(error.message), "rule": error.rule}, status=_WRONG)
