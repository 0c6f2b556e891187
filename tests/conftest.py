"""Shared by the tests of web and browser."""

import copy
import os

import pytest
from hypothesis import settings

from web.jobs import keeping
from web.jobs.sample import MARROW_CREEK

# The same examples each time, so that a change is judged by what it changes; HYPOTHESIS_PROFILE=default searches anew.
settings.register_profile("steady", derandomize=True)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))

PASSWORD = "copper-and-verdigris"
# What takes minutes begins first, so that two processes end together.
_LONGEST = ("test_editors.py", "test_kills.py", "test_kept.py")


def pytest_collection_modifyitems(items):
    items.sort(key=lambda item: item.path.name not in _LONGEST)


@pytest.fixture
def ann(django_user_model, db):
    return django_user_model.objects.create_user("ann", password=PASSWORD)


@pytest.fixture
def ben(django_user_model, db):
    return django_user_model.objects.create_user("ben", password=PASSWORD)


@pytest.fixture
def job(ann):
    return keeping.create(ann, copy.deepcopy(MARROW_CREEK))
