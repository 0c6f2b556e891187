"""Every tool by name: whatever module of `tools.quick` declares one is found."""

from __future__ import annotations

import importlib
import pkgutil
from functools import cache
from typing import Any

from voltaje.tools import quick
from voltaje.tools.tool import Group, Tool


@cache
def tools() -> dict[str, Tool[Any]]:
    """Return every tool by its name, in the order of the work."""
    modules = (
        importlib.import_module(f"{quick.__name__}.{each.name}") for each in pkgutil.iter_modules(quick.__path__)
    )
    found = [tool for module in modules if isinstance(tool := getattr(module, "TOOL", None), Tool)]
    order = list(Group)
    found.sort(key=lambda tool: (order.index(tool.group), tool.place))
    return {tool.name: tool for tool in found}
