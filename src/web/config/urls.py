"""Addresses."""

from django.http import HttpResponse
from django.urls import include, path
from django.views.generic import RedirectView

from web.workbench.files import schema

urlpatterns = [
    path("", RedirectView.as_view(pattern_name="jobs"), name="home"),
    path("health/", lambda request: HttpResponse("ok", content_type="text/plain"), name="health"),
    path("account/", include("web.accounts.urls")),
    path("jobs/", include("web.jobs.urls")),
    path("jobs/", include("web.workbench.urls")),
    path("format/schema.json", schema, name="schema"),
    path("tables/", include("web.tables.urls")),
    path("look/", include("web.words.urls")),
]
handler404 = "web.jobs.sheet_views.missing"
