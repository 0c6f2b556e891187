"""Who is asking: a page sends to the sign-in, a part of a page says that it is needed."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.contrib.auth.views import redirect_to_login
from django.http import HttpResponse

from web.words.request import Request

SIGNED_OUT = 401


def signed_in(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Let only signed-in people through."""

    @wraps(view)
    def inner(request: Request, *args: Any, **kwargs: Any) -> HttpResponse:
        if request.user.is_authenticated:
            return view(request, *args, **kwargs)
        if request.htmx:
            return HttpResponse(status=SIGNED_OUT)  # the page asks for the password over itself, and sends again
        return redirect_to_login(request.get_full_path())

    return inner
