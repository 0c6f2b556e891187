"""Addresses of jobs."""

from django.urls import path

from web.jobs import news, repair_views, views

urlpatterns = [
    path("", views.jobs, name="jobs"),
    path("new/", views.new_job, name="new-job"),
    path("new/house/", views.new_house, name="new-house"),
    path("new/sample/", views.from_sample, name="from-sample"),
    path("new/file/", views.from_file, name="from-file"),
    path("reading/<uuid:reading_id>/", views.reading_page, name="reading"),
    path("<uuid:job_id>/news/", news.unanswered, name="news"),
    path("<uuid:job_id>/repair/", repair_views.repair, name="repair"),
    path("<uuid:job_id>/delete/", views.delete_job, name="delete-job"),
    path("<uuid:job_id>/restore/", views.restore_job, name="restore-job"),
]
