"""Every address and every form of the application, found in itself: a new view is attacked without being listed."""

import importlib
import pkgutil
import uuid

from django import forms
from django.urls import URLPattern, get_resolver

import web


def _patterns(resolver, names=()):
    for each in resolver.url_patterns:
        if isinstance(each, URLPattern):
            yield each, {**dict(names), **each.pattern.converters}
        else:
            yield from _patterns(each, {**dict(names), **each.pattern.converters}.items())


def named_addresses():
    """Return the name of each address with the parts that it is made of."""
    return sorted((each.name, tuple(parts)) for each, parts in _patterns(get_resolver()) if each.name)


def parts_for(parts, job, key, reading=None):
    """Return the parts of an address for a job and a node."""
    known = {"job_id": job.pk, "key": key, "reading_id": reading or uuid.uuid4(), "name": "run", "kept_id": 1}
    return {part: known[part] for part in parts}


def field_names():
    """Return the names of all fields of all forms."""
    for found in pkgutil.walk_packages(web.__path__, "web."):
        if found.name.rpartition(".")[2] in ("forms", "settings_forms", "repair_views", "keeping"):
            importlib.import_module(found.name)
    waiting, names = [forms.BaseForm], set()
    while waiting:
        form = waiting.pop()
        waiting += form.__subclasses__()
        if form.__module__.startswith("web."):
            names |= set(getattr(form, "base_fields", {}))
    return sorted(names)
