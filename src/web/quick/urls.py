"""Addresses of quick sheets."""

from django.urls import path

from web.quick import keeping, views

urlpatterns = [
    path("", views.tools_page, name="quick"),
    path("compare/", keeping.compare, name="quick-compare"),
    path("kept/<int:kept_id>/", keeping.opened, name="quick-kept"),
    path("kept/<int:kept_id>/forget/", keeping.forget, name="quick-forget"),
    path("kept/<int:kept_id>/back/", keeping.bring_back, name="quick-back"),
    path("<slug:name>/", views.sheet, name="quick-sheet"),
    path("<slug:name>/print/", views.paper, name="quick-print"),
    path("<slug:name>/text/", views.text, name="quick-text"),
    path("<slug:name>/json/", views.plain_json, name="quick-json"),
    path("<slug:name>/keep/", keeping.keep, name="quick-keep"),
    path("<slug:name>/put/", keeping.put_into_job, name="quick-put"),
]
