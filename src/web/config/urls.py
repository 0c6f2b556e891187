"""Addresses."""

from django.urls import include, path

from web.config import health
from web.quick.views import windings
from web.workbench.files.views import schema

urlpatterns = [
    path("", include("web.landing.urls")),
    path("health/", health.ready, name="health"),
    path("health/live/", health.live, name="health-live"),
    path("account/", include("web.accounts.urls")),
    path("jobs/", include("web.jobs.urls")),
    path("jobs/", include("web.workbench.urls")),
    path("jobs/", include("web.sheets.urls")),
    path("format/schema.json", schema, name="schema"),
    path("quick/", include("web.quick.urls")),
    path("windings/", windings, name="windings"),
    path("tables/", include("web.tables.urls")),
    path("look/", include("web.words.urls")),
]
handler400 = "web.config.trouble.wrong"
handler403 = "web.config.trouble.forbidden"
handler404 = "web.config.trouble.missing"
handler500 = "web.config.trouble.failed"
