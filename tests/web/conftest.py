"""Shared by the tests of the web: a person at their pages, and the pottery."""

import pytest

from web.jobs import keeping
from web.jobs.sample import sample_document


@pytest.fixture
def page(client, ann):
    client.force_login(ann)
    return client


@pytest.fixture
def pottery(ann):
    return keeping.create(ann, sample_document("cinder-lane"))
