"""Templates are read by people too."""

import re
from pathlib import Path

from django.template.loader import get_template

import web

STATIC = Path(web.__file__).parent / "static"
FOLDER = Path(web.__file__).parent / "templates"
TEMPLATES = sorted(FOLDER.rglob("*.html"))
LONGEST = 140
# A sentence that is translated is one piece, however long; so is a tag with all that it is given.
WHOLE = re.compile(r"\{% blocktranslate.*?endblocktranslate %\}|\{%.*?%\}|\{\{.*?\}\}")


def test_every_template_can_be_read_and_has_short_lines():
    assert TEMPLATES
    for path in TEMPLATES:
        get_template(str(path.relative_to(FOLDER)))
        for number, line in enumerate(path.read_text("utf-8").splitlines(), 1):
            sentences = sum(len(each) - 2 for each in WHOLE.findall(line) if len(each) > LONGEST // 3)
            assert len(line) - sentences <= LONGEST, f"{path.name}:{number}"


def test_nothing_in_a_template_needs_what_the_pages_policy_forbids():
    for path in TEMPLATES:
        text = path.read_text("utf-8")
        assert not re.search(r"\son\w+=|\sstyle=|<style|javascript:", text), path.name
        for script in re.findall(r"<script[^>]*>", text):
            assert "src=" in script, path.name


def test_no_style_is_for_whatever_stands_after_an_element():
    """For such a rule the browser styles the whole page anew whenever anything is put in or taken out."""
    sheets = [*(STATIC / "css").glob("*.css"), *(STATIC / "vendor/bootstrap").glob("*.css")]
    assert len(sheets) > 5
    for sheet in sheets:
        assert not re.findall(r"[{},\s]([a-z0-9]+\s*[+~]\s*\*)", sheet.read_text()), sheet.name
