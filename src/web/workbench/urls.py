"""Addresses of the workbench."""

from django.urls import path

from web.workbench import evening, views
from web.workbench.edits import acts
from web.workbench.edits import asked as edits
from web.workbench.files import paper
from web.workbench.files import views as files
from web.workbench.settings import views as settings_views

urlpatterns = [
    path("<uuid:job_id>/", views.workbench, name="workbench"),
    path("<uuid:job_id>/region/", views.region, name="region"),
    path("<uuid:job_id>/findings/", views.findings, name="findings"),
    path("<uuid:job_id>/edit/", edits.edit, name="edit"),
    path("<uuid:job_id>/understand/", views.understand, name="understand"),
    path("<uuid:job_id>/understand/costs/", views.costs, name="costs"),
    path("<uuid:job_id>/walk/", edits.walk, name="walk"),
    path("<uuid:job_id>/cells/", edits.cells, name="cells"),
    path("<uuid:job_id>/even/", evening.even, name="even"),
    path("<uuid:job_id>/least/", evening.least, name="least"),
    path("<uuid:job_id>/act/", acts.act, name="act"),
    path("<uuid:job_id>/paste/", acts.paste, name="paste"),
    path("<uuid:job_id>/nodes/", acts.copied, name="nodes"),
    path("<uuid:job_id>/find/", views.find, name="find"),
    path("<uuid:job_id>/pin/", edits.pin, name="pin"),
    path("<uuid:job_id>/undo/", edits.undo, name="undo"),
    path("<uuid:job_id>/redo/", edits.redo, name="redo"),
    path("<uuid:job_id>/note/", edits.note, name="note"),
    path("<uuid:job_id>/compare/", views.compare, name="compare"),
    path("<uuid:job_id>/list/", files.load_list, name="load-list"),
    path("<uuid:job_id>/schedule.csv", files.schedule_csv, name="schedule-csv"),
    path("<uuid:job_id>/path.svg", files.path_svg, name="path-svg"),
    path("<uuid:job_id>/job.json", files.job_json, name="job-json"),
    path("<uuid:job_id>/print/", paper.paper, name="paper"),
    path("<uuid:job_id>/settings/", settings_views.settings, name="settings"),
    path("<uuid:job_id>/people/", settings_views.people, name="people"),
    path("<uuid:job_id>/duplicate/", settings_views.duplicate, name="duplicate-job"),
]
