"""The command line: `voltaje calc` for scripts and for checking; JSON in, JSON out."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from voltaje.errors import InputError, Refused
from voltaje.message import Message
from voltaje.path.intake import read_json
from voltaje.path.schema import job_schema
from voltaje.rounding import plainly
from voltaje.tools.asking import put_at
from voltaje.tools.read import read_walk_through
from voltaje.tools.registry import tools
from voltaje.tools.schedule import as_csv, board_schedule
from voltaje.tools.solve import recorded, solve_document

BAD_INPUT = 2


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line and return its exit code: 0, or 2 for bad input, said in one line on stderr."""
    parser = argparse.ArgumentParser(prog="voltaje", description="Electrical supply design, every step shown.")
    commands = parser.add_subparsers(dest="command", required=True)
    calc = commands.add_parser("calc", help="one calculation: JSON in, JSON out")
    calc.add_argument("--list", action="store_true", help="list the tools")
    calc.add_argument("tool", nargs="?", help="the tool's name")
    calc.add_argument("--schema", action="store_true", help="print the JSON Schema of the tool's input")
    calc.add_argument("given", nargs="*", help="a JSON file, - for standard input, or inputs: hp=7.5 volts=208")
    whole = commands.add_parser("solve", help="a whole job: the open job file in, every node sized")
    whole.add_argument("file", nargs="?", help="a job file, or - for standard input")
    whole.add_argument("--schema", action="store_true", help="print the JSON Schema of the job file")
    whole.add_argument("--record", action="store_true", help="print the job file with its solution kept in it")
    whole.add_argument("--steps", metavar="NODE", help="with the steps of that node")
    of_board = commands.add_parser("schedule", help="a board at 230/400 V: its circuits, RCDs, loops and test results")
    of_board.add_argument("file", help="a job file, or - for standard input")
    of_board.add_argument("--board", required=True, help="the board's id")
    of_board.add_argument("--csv", action="store_true", help="as CSV, else as JSON")
    line = commands.add_parser("read", help="a walk-through line: the load and run as understood")
    line.add_argument("line", help="as in: pump 5 hp 230 V 3ph 420 ft")
    line.add_argument("--book", default="NEC 2023", help="the book whose units and customs hold")
    line.add_argument("--system", default="", help="what it hangs on, as in: 208Y/120; else the book's usual one")
    chosen = parser.parse_args(arguments)
    try:
        if chosen.command == "solve":
            _print(job_schema() if chosen.schema else _solve(chosen))
            return 0
        if chosen.command == "schedule":
            found = board_schedule(_read(chosen.file), chosen.board)
            sys.stdout.write(as_csv(found)) if chosen.csv else _print(found)
            return 0
        if chosen.command == "read":
            _print(read_walk_through(chosen.line, chosen.book, chosen.system))
            return 0
        return _calc(chosen)
    except Refused as error:
        print(" ".join(str(error).split()), file=sys.stderr)
        return BAD_INPUT
    except BrokenPipeError:  # whoever reads has enough: `| head`
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # nothing more is flushed into it
        return 0


def _solve(chosen: argparse.Namespace) -> Any:
    if chosen.file is None:
        raise InputError("file", Message("give a job file, or - for standard input"))
    document = _read(chosen.file)
    return recorded(document) if chosen.record else solve_document(document, chosen.steps)


def _calc(chosen: argparse.Namespace) -> int:
    if chosen.list:
        for each in tools().values():
            print(f"{each.name}\t{each.question}")
        return 0
    tool = tools().get(chosen.tool)
    if tool is None:
        raise InputError(
            "tool", Message("unknown tool {name}; known are: {known}", name=chosen.tool, known=list(tools()))
        )
    if chosen.schema:
        _print(tool.schema())
        return 0
    if not chosen.given:
        raise InputError("file", Message("give a JSON file, - for standard input, or inputs as key=value"))
    _print(tool.run(typed(chosen.given) if "=" in chosen.given[0] else _read(chosen.given[0])))
    return 0


def typed(given: Sequence[str]) -> dict[str, Any]:
    """Return inputs that were typed as `key=value`, of a list as `appliances[0].load=8 kW`."""
    found: dict[str, Any] = {}
    for each in given:
        place, _equals, value = each.partition("=")
        put_at(found, place.strip(), value)
    return found


def _read(name: str) -> Any:
    try:
        body = sys.stdin.read() if name == "-" else Path(name).read_text("utf-8")
        return read_json(body)
    except OSError as error:
        raise InputError("file", Message("{name}: {why}", name=name, why=error.strerror or "cannot be read")) from error
    except UnicodeDecodeError as error:
        raise InputError("file", Message("{name}: is not text in UTF-8", name=name)) from error


def _print(value: Any) -> None:
    print(json.dumps(_plain(value), ensure_ascii=False, indent=2, allow_nan=False))


def _plain(value: Any) -> Any:
    """Return an answer whose figures are without the dust of reckoning."""
    if isinstance(value, dict):
        return {key: _plain(each) for key, each in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(each) for each in value]
    return plainly(value) if isinstance(value, float) else value


if __name__ == "__main__":
    sys.exit(main())
