"""Addresses of jobs and of the dwelling sheet."""

from django.urls import path

from web.jobs import news, repair_views, sheet_views, views

urlpatterns = [
    path("", views.jobs, name="jobs"),
    path("new/", views.new_job, name="new-job"),
    path("new/house/", views.new_house, name="new-house"),
    path("new/sample/", views.from_sample, name="from-sample"),
    path("new/file/", views.from_file, name="from-file"),
    path("reading/<uuid:reading_id>/", views.reading_page, name="reading"),
    path("<uuid:job_id>/news/", news.unanswered, name="news"),
    path("<uuid:job_id>/repair/", repair_views.repair, name="repair"),
    path("<uuid:job_id>/house/<slug:key>/", sheet_views.house, name="house"),
    path("<uuid:job_id>/house/<slug:key>/print/", sheet_views.house_print, name="house-print"),
    path("<uuid:job_id>/house/<slug:key>/region/", sheet_views.region, name="house-region"),
    path("<uuid:job_id>/house/<slug:key>/edit/", sheet_views.edit, name="house-edit"),
    path("<uuid:job_id>/house/<slug:key>/add/", sheet_views.add, name="house-add"),
    path("<uuid:job_id>/house/<slug:key>/remove/", sheet_views.remove, name="house-remove"),
    path("<uuid:job_id>/house/<slug:key>/undo/", sheet_views.undo, name="house-undo"),
    path("<uuid:job_id>/house/<slug:key>/redo/", sheet_views.redo, name="house-redo"),
    path("<uuid:job_id>/delete/", views.delete_job, name="delete-job"),
    path("<uuid:job_id>/restore/", views.restore_job, name="restore-job"),
]
