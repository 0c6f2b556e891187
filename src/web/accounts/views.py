"""Signing up."""

from django.contrib.auth import login
from django.contrib.auth.forms import UserCreationForm
from django.urls import reverse_lazy
from django.views.generic import FormView


class SignUp(FormView):
    """Make an account and sign in with it."""

    form_class = UserCreationForm
    template_name = "accounts/sign_up.html"
    success_url = reverse_lazy("jobs")

    def form_valid(self, form):
        """Keep the account and sign in."""
        user = form.save()
        login(self.request, user, backend="django.contrib.auth.backends.ModelBackend")
        return super().form_valid(form)
