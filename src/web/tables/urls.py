"""Addresses of the tables."""

from django.urls import path

from web.tables.views import table, tables

urlpatterns = [path("", tables, name="tables"), path("<slug:key>/", table, name="table")]
