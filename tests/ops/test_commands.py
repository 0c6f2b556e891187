"""The two commands' script: what it says, how it fails, and that it stays within what a plain shell has."""

import os
import re
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent.parent
SCRIPTS = [ROOT / "voltaje", *sorted((ROOT / "ops").glob("*.sh"))]


def voltaje(*arguments, **environment):
    """Run the script."""
    return subprocess.run(
        [ROOT / "voltaje", *arguments], capture_output=True, text=True, env={**os.environ, **environment}, check=False
    )


@pytest.mark.parametrize("script", SCRIPTS, ids=lambda script: script.name)
def test_every_script_parses(script):
    assert subprocess.run(["bash", "-n", script], capture_output=True, check=False).returncode == 0


def test_help_names_every_command_that_the_script_takes():
    said = voltaje("help")
    assert said.returncode == 0
    text = (ROOT / "voltaje").read_text("utf-8")
    taken = re.findall(r"^    ([a-z|]+)\)", text[text.rindex("case ") :], re.MULTILINE)
    commands = {each for group in taken for each in group.split("|")} - {"help"}
    assert {"start", "stop", "test", "calc", "solve", "read", "bench", "manage"} <= commands
    for command in commands:
        assert re.search(rf"\./voltaje {command}\b", said.stdout), command


def test_a_command_that_is_none_says_what_there_is_and_fails():
    said = voltaje("strat")
    assert said.returncode == 2
    assert "./voltaje start" in said.stderr
    assert said.stdout == ""


@pytest.mark.parametrize(
    ("arguments", "begins"),
    [
        (("solve", "nowhere.json"), "file: nowhere.json"),
        (("read", "kiln of light", "--book", "NEC 1999"), "--book"),
        (("calc", "nothing"), "tool"),
    ],
)
def test_the_library_answers_wrong_input_in_one_line_that_names_it(arguments, begins):
    said = voltaje(*arguments)
    assert said.returncode == 2
    assert said.stdout == ""
    (line,) = said.stderr.strip().splitlines()
    assert line.startswith(begins)


def test_the_continuous_integration_calls_the_same_command():
    assert 'voltaje" test' in (ROOT / ".ci" / "run").read_text("utf-8")


def test_nothing_shipped_asks_another_machine_for_anything():
    """At run time there is no network: pages, styles and scripts name no other host."""
    static = ROOT / "src" / "web"
    shipped = [*static.rglob("*.html"), *static.rglob("*.css"), *static.rglob("*.js"), *static.rglob("*.svg")]
    ours = [path for path in shipped if "vendor" not in path.parts]
    assert len(ours) > 40
    names = ("http://www.w3.org/",)  # of XML, not addresses
    for path in ours:
        for address in re.findall(r"(?:https?:)?//[a-z][\w.-]+\.[a-z]{2,}\S*", path.read_text("utf-8")):
            assert address.startswith(names), (path.name, address)
