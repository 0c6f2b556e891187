"""Every tool by name."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from voltaje.tools import dwelling, dwelling_schema, run, run_schema
from voltaje.tools.answer import Json


@dataclass(frozen=True)
class Tool:
    """One calculation: its name, what it is for, its input's schema, and the call."""

    name: str
    purpose: str
    schema: Callable[[], Json]
    run: Callable[[object], Json]


TOOLS: dict[str, Tool] = {
    tool.name: tool
    for tool in (
        Tool(dwelling.NAME, "load of a dwelling and its service, NEC", dwelling_schema.schema, dwelling.run),
        Tool(run.NAME, "one run: device, conductor, equipment ground, drop, options", run_schema.schema, run.run),
    )
}
