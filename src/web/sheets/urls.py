"""Addresses of the dwelling sheet."""

from django.urls import path

from web.sheets import views

urlpatterns = [
    path("<uuid:job_id>/house/<slug:key>/", views.house, name="house"),
    path("<uuid:job_id>/house/<slug:key>/print/", views.house_print, name="house-print"),
    path("<uuid:job_id>/house/<slug:key>/region/", views.region, name="house-region"),
    path("<uuid:job_id>/house/<slug:key>/edit/", views.edit, name="house-edit"),
    path("<uuid:job_id>/house/<slug:key>/add/", views.add, name="house-add"),
    path("<uuid:job_id>/house/<slug:key>/remove/", views.remove, name="house-remove"),
    path("<uuid:job_id>/house/<slug:key>/undo/", views.undo, name="house-undo"),
    path("<uuid:job_id>/house/<slug:key>/redo/", views.redo, name="house-redo"),
]
