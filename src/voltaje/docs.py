"""Writes the parts of the documentation that are made from the code: `./voltaje docs`.

The fields of the open file and its schema, the catalogue of findings, the picture of the rooms by their imports.
"""

from __future__ import annotations

import ast
import json
import os
from pathlib import Path

from voltaje.findings import as_markdown
from voltaje.path.schema import fields_as_markdown, job_schema

ROOMS_OF = ("voltaje", "web")
_BEGIN, _END = "<!-- made by ./voltaje docs -->", "<!-- end -->"
# Rooms that everything stands on, left out of the picture: their arrows would hide the others.
_GROUND = {"errors", "message", "sheet", "findings", "formula", "rounding", "quantity", "digits", "limits", "systems"}


def made(root: Path) -> dict[Path, str]:
    """Return every file with parts that are made, as it ought to be."""
    docs, source = root / "docs", root / "src"
    return {
        docs / "format.md": _with_table(docs / "format.md", fields_as_markdown()),
        docs / "voltaje-job.schema.json": json.dumps(job_schema(), indent=2, ensure_ascii=False) + "\n",
        docs / "findings.md": as_markdown(),
        docs / "architecture.md": _between(docs / "architecture.md", _picture(source)),
    }


def write(root: Path) -> list[str]:
    """Write what is not as it ought to be, and return its files."""
    changed = {path: text for path, text in made(root).items() if path.read_text("utf-8") != text}
    for path, text in changed.items():
        path.write_text(text, "utf-8")
    return [str(path.relative_to(root)) for path in changed]


def _with_table(path: Path, table: str) -> str:
    """Return a page with its table of fields made anew: from its head to the first line that is no row."""
    text = path.read_text("utf-8")
    start = text.index(table.splitlines()[0])
    rows = text[start:].split("\n")
    end = next(at for at, line in enumerate(rows) if not line.startswith("|"))
    return text[:start] + table + "\n".join(rows[end:])


def _between(path: Path, made: str) -> str:
    text = path.read_text("utf-8")
    head, rest = text.split(_BEGIN)
    return f"{head}{_BEGIN}\n{made}\n{_END}{rest.split(_END, 1)[1]}"


def _picture(source: Path) -> str:
    """Return the rooms with an arrow to each that one imports, as Mermaid draws it."""
    arrows = sorted({(one, other) for package in ROOMS_OF for one, other in _imports(source, package)})
    lines = [
        "```mermaid",
        "graph TD",
        *(f"  {one}[{one.replace('_', '.')}] --> {other}[{other.replace('_', '.')}]" for one, other in arrows),
        "```",
    ]
    return "\n".join(lines)


def _imports(source: Path, package: str) -> set[tuple[str, str]]:
    found = set()
    for path in (source / package).rglob("*.py"):
        parts = path.relative_to(source).with_suffix("").parts
        here = _room(parts)
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.ImportFrom) and node.module and node.module.split(".")[0] in ROOMS_OF:
                there = _room(tuple(node.module.split(".")))
                if here and there and here != there and (package == "voltaje" or there.startswith("web")):
                    found.add((here, there))
    return found


def _room(parts: tuple[str, ...]) -> str:
    """Return the room that a module lies in, "" for one that is not in the picture."""
    if len(parts) < len(("package", "room")) or parts[1] in {*_GROUND, "__init__", "management", "manage"}:
        return ""
    return f"{parts[0]}_{parts[1]}"


if __name__ == "__main__":
    for name in write(Path(os.environ["VOLTAJE_ROOT"])):
        print(f"written: {name}")
