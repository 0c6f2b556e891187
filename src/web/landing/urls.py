"""Addresses of the first page."""

from django.urls import path

from web.landing import views

urlpatterns = [
    path("", views.landing, name="home"),
    path("worked/", views.worked, name="worked"),
    path("try/", views.begin, name="try"),
]
