"""Pages of jobs and accounts are kept by no cache: a browser that others use shows them to nobody once it is left."""

from collections.abc import Callable

from django.http import HttpResponse

from web.words.request import Request

_PRIVATE = ("/jobs/", "/account/")


def never_stored(get_response: Callable[[Request], HttpResponse]) -> Callable[[Request], HttpResponse]:
    """Say so on each answer."""

    def middleware(request: Request) -> HttpResponse:
        response = get_response(request)
        if request.path_info.startswith(_PRIVATE):
            response["Cache-Control"] = "no-store"
        return response

    return middleware
