"""Addresses of jobs and of the dwelling sheet."""

from django.urls import path

from web.jobs import sheet_views, views

urlpatterns = [
    path("", views.jobs, name="jobs"),
    path("new/", views.new_job, name="new-job"),
    path("<uuid:job_id>/", sheet_views.house, name="house"),
    path("<uuid:job_id>/print/", sheet_views.house_print, name="house-print"),
    path("<uuid:job_id>/region/", sheet_views.region, name="house-region"),
    path("<uuid:job_id>/edit/", sheet_views.edit, name="edit"),
    path("<uuid:job_id>/add/", sheet_views.add, name="add"),
    path("<uuid:job_id>/remove/", sheet_views.remove, name="remove"),
    path("<uuid:job_id>/undo/", sheet_views.undo, name="undo"),
    path("<uuid:job_id>/redo/", sheet_views.redo, name="redo"),
    path("<uuid:job_id>/delete/", views.delete_job, name="delete-job"),
    path("<uuid:job_id>/restore/", views.restore_job, name="restore-job"),
]
