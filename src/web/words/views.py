"""Choosing a theme."""

from django.http import HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from web.words.middleware import THEMES
from web.words.request import Request

_A_YEAR = 365 * 24 * 3600


@require_POST
def choose_theme(request: Request) -> HttpResponse:
    """Keep the theme in a cookie and go back to where the person was."""
    back = request.POST.get("next", "")
    if not url_has_allowed_host_and_scheme(back, {request.get_host()}, require_https=request.is_secure()):
        back = reverse("jobs")
    response = HttpResponseRedirect(back)
    theme = request.POST.get("theme")
    if theme in THEMES:
        response.set_cookie("theme", theme, max_age=_A_YEAR, samesite="Lax", secure=request.is_secure())
    return response
