"""Addresses of accounts."""

from django.urls import path

from web.accounts import views

urlpatterns = [
    path("sign-up/", views.SignUp.as_view(), name="sign-up"),
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("sign-out/", views.SignOut.as_view(), name="sign-out"),
    path("again/", views.again, name="sign-in-again"),
    path("password/", views.Password.as_view(), name="password"),
    path("sessions/", views.sessions, name="sessions"),
]
