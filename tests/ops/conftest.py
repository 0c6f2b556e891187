"""Shared by the tests of whole instances: one for the tests of a file, where they do not need one each."""

import pytest

from tests.ops.instance import Instance


@pytest.fixture(scope="module")
def instance():
    made = Instance()
    made.run("start")
    yield made
    made.end()
