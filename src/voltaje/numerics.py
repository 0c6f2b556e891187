"""What is asked of scipy, loaded when it is first needed: it takes longer to load than most questions to answer."""

from __future__ import annotations

from importlib import import_module
from typing import Any


def optimize() -> Any:
    """Return scipy's optimisation: HiGHS for integer programmes."""
    return import_module("scipy.optimize")


def sparse() -> Any:
    """Return scipy's sparse matrices."""
    return import_module("scipy.sparse")


def sparse_solvers() -> Any:
    """Return scipy's solvers of sparse systems: SuperLU."""
    return import_module("scipy.sparse.linalg")


def graphs() -> Any:
    """Return scipy's algorithms on graphs."""
    return import_module("scipy.sparse.csgraph")
