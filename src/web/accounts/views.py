"""Signing up and in, the password, and where one is signed in."""

from typing import Any

from django.contrib import messages
from django.contrib.auth import authenticate, get_user_model, login
from django.contrib.auth import views as auth
from django.contrib.auth.signals import user_login_failed
from django.db import IntegrityError
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.middleware.csrf import get_token
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse_lazy
from django.utils import timezone
from django.utils.translation import gettext as _
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST
from django.views.generic import FormView, View

from web.accounts import guests
from web.accounts.access import signed_in
from web.accounts.forms import AgainForm, SignUpForm
from web.accounts.throttle import SIGN_UPS, WRONG_OLD_PASSWORDS, WRONG_PASSWORDS, address_of, spent, tried
from web.words.request import Request

_BACKEND = "django.contrib.auth.backends.ModelBackend"
_TOO_MANY = 429


class _Throttled(View):
    """A form that takes so many tries of one address, or of one account."""

    limit = WRONG_PASSWORDS

    def who(self) -> str:
        """Return whose tries are counted."""
        return address_of(self.request)

    def post(self, request: HttpRequest, *args: str, **kwargs: Any) -> HttpResponse:
        """Take the form, unless all tries are spent."""
        if spent(self.limit, self.who()):
            return render(request, "accounts/throttled.html", status=_TOO_MANY)
        return super().post(request, *args, **kwargs)  # type: ignore[misc, no-any-return]  # of the form it is mixed into


class SignUp(_Throttled, FormView[Any]):
    """Make an account and sign in with it; a guest becomes it, with everything that was tried."""

    form_class = SignUpForm
    template_name = "accounts/sign_up.html"
    success_url = reverse_lazy("jobs")
    limit = SIGN_UPS

    def get_form_kwargs(self) -> dict[str, Any]:
        """Let a guest's own account be named: read anew, for a refused name must not stand on the page as who asks."""
        guest = guests.guest_of(self.request)
        mine = {"instance": get_user_model().objects.get(pk=guest.pk)} if guest else {}
        return {**super().get_form_kwargs(), **mine, "initial": {"username": ""}}

    def get_context_data(self, **more: Any) -> dict[str, Any]:
        """Say what is kept of a visitor's work."""
        guest = guests.guest_of(self.request)
        return super().get_context_data(visitor=guest, **more)

    def form_valid(self, form: Any) -> HttpResponse:
        """Keep the account and sign in."""
        tried(self.limit, self.who())
        try:
            user = form.save()
        except IntegrityError:  # two took the name at once
            form.add_error("username", form.instance.unique_error_message(type(form.instance), ["username"]))
            return self.form_invalid(form)
        login(self.request, user, backend=_BACKEND)
        self.request.session.set_expiry(None)
        return guests.forget(super().form_valid(form))


class SignIn(_Throttled, auth.LoginView):
    """Sign in."""

    template_name = "accounts/sign_in.html"

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        """Pass by whoever is signed in already; a guest may sign in as someone."""
        if request.user.is_authenticated and not guests.is_guest(request.user):
            return redirect(self.get_success_url())
        return super().dispatch(request, *args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        """Sign in, and take along what was tried as a guest."""
        guests.become(self.request, guests.guest_of(self.request), form.get_user())
        return guests.forget(redirect(self.get_success_url()))


class SignOut(auth.LogoutView):
    """Sign out, a visitor too: the browser comes back as nobody."""

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """End the session, and forget who came back by the cookie."""
        return guests.forget(super().post(request, *args, **kwargs))


class Password(_Throttled, auth.PasswordChangeView):
    """Change the password; guesses of the old one are counted by account."""

    template_name = "accounts/password.html"
    success_url = reverse_lazy("jobs")
    limit = WRONG_OLD_PASSWORDS

    def who(self) -> Any:
        """Return the account."""
        return str(self.request.user.pk)

    def form_invalid(self, form: Any) -> HttpResponse:
        """Count a wrong old password."""
        if "old_password" in form.errors:
            tried(self.limit, self.who())
        return super().form_invalid(form)


@receiver(user_login_failed)
def count_wrong_password(sender: Any, request: Request | None = None, **_more: Any) -> None:
    """Count a wrong password by its address, whichever account it was for."""
    if request is not None:
        tried(WRONG_PASSWORDS, address_of(request))


@never_cache
@require_POST
def again(request: Request) -> HttpResponse:
    """Sign in over a page that was left open; answers with the token that the page goes on with."""
    form = AgainForm(request.POST)
    if not form.is_valid():
        return JsonResponse({"problem": _("Give your password.")})
    if spent(WRONG_PASSWORDS, address_of(request)):
        return JsonResponse({"problem": _("Too many tries from here: wait a quarter of an hour.")})
    user = authenticate(request, **form.cleaned_data)
    if user is None:
        return JsonResponse({"problem": _("That is not the password of this account.")})
    guests.become(request, guests.guest_of(request), user)
    return guests.forget(JsonResponse({"token": get_token(request)}))


@signed_in
def sessions(request: Request) -> HttpResponse:
    """Where the account is signed in; each can be ended."""
    mine = request.user.sessions.filter(expire_date__gt=timezone.now()).order_by("-since")
    if request.method == "POST":
        gone = get_object_or_404(mine, pk=request.POST.get("key", "")[:40])
        if gone.pk != request.session.session_key:
            gone.delete()
            messages.info(request, _("That sign-in has ended."))
        return redirect("sessions")
    context = {"sessions": mine, "this": request.session.session_key}
    return render(request, "accounts/sessions.html", context)
