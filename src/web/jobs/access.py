"""Who is asking: a page sends to the sign-in, a region of a page asks the browser to go there."""

from functools import wraps

from django.contrib.auth.views import redirect_to_login
from django.http import HttpResponse
from django.urls import reverse


def signed_in(view):
    """Let only signed-in people through."""

    @wraps(view)
    def inner(request, *args, **kwargs):
        if request.user.is_authenticated:
            return view(request, *args, **kwargs)
        if request.htmx:
            return HttpResponse(headers={"HX-Redirect": reverse("sign-in")})
        return redirect_to_login(request.get_full_path())

    return inner
