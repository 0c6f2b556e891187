"""Shared by the tests of web and browser."""

import copy

import pytest

from web.jobs import editing
from web.jobs.sample import MARROW_CREEK

PASSWORD = "copper-and-verdigris"


@pytest.fixture
def ann(django_user_model, db):
    return django_user_model.objects.create_user("ann", password=PASSWORD)


@pytest.fixture
def ben(django_user_model, db):
    return django_user_model.objects.create_user("ben", password=PASSWORD)


@pytest.fixture
def job(ann):
    return editing.create(ann, copy.deepcopy(MARROW_CREEK))
