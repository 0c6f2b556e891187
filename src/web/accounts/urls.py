"""Addresses of accounts."""

from django.contrib.auth import views as auth
from django.urls import path, reverse_lazy

from web.accounts.views import SignUp

urlpatterns = [
    path("sign-up/", SignUp.as_view(), name="sign-up"),
    path(
        "sign-in/",
        auth.LoginView.as_view(template_name="accounts/sign_in.html", redirect_authenticated_user=True),
        name="sign-in",
    ),
    path("sign-out/", auth.LogoutView.as_view(), name="sign-out"),
    path(
        "password/",
        auth.PasswordChangeView.as_view(template_name="accounts/password.html", success_url=reverse_lazy("jobs")),
        name="password",
    ),
]
