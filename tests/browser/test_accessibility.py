"""Nothing serious for people who hear the page, or cannot tell its colours apart: axe on every view, in every theme."""

import json
from pathlib import Path
from urllib.parse import urlencode

import pytest
from django.urls import reverse

from tests.conftest import PASSWORD
from voltaje.tools.registry import tools
from web.jobs import keeping
from web.jobs.sample import sample_document
from web.quick.inputs import as_address

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text("utf-8")


# In every theme; the other sheets are made of the same parts and are looked at in one.
OF_EACH_KIND = ("run", "motor-branch", "transformer", "edison", "neutral-current", "bank")


def views(job, house, theme):
    """Every view, by name."""
    bench = f"{reverse('workbench', args=[job.pk])}?at=k2"
    return {
        **{name: reverse(name) for name in ("jobs", "new-job", "tables")},
        **{name: reverse(name, args=[job.pk]) for name in ("settings", "paper")},
        "path": bench,
        "schedule": f"{bench}&lens=schedule",
        "earth": f"{bench}&lens=earth",
        "legs": f"{bench}&lens=legs",
        "volts": f"{bench}&lens=volts",
        "terminals": f"{reverse('workbench', args=[job.pk])}?at=t1&lens=terminals",
        "house": reverse("house", args=[house.pk, "house"]),
        "quick": reverse("quick"),
        **{name: example(name) for name in tools() if theme == "paper" or name in OF_EACH_KIND},
    }


def example(name):
    """A quick sheet with its worked example, and a wrong field beside it for one of them."""
    wrong = {"ambient_c": "hot"} if name == "run" else {}
    family, inputs = next(iter(tools()[name].example.items()))
    book = {} if family == "nec" else {"book": tools()[name].asks.usual_book()}
    return f"{reverse('quick-sheet', args=[name])}?{urlencode({**book, **as_address(inputs), **wrong})}"


@pytest.mark.parametrize("theme", ["paper", "dark", "sun"])
def test_nothing_serious(open_page, live_server, job, ann, theme):
    pottery = keeping.create(ann, sample_document("cinder-lane"))
    page = open_page()
    page.goto(reverse("sign-in"))
    page.get_by_label("Username").fill("ann")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.context.add_cookies([{"name": "theme", "value": theme, "url": live_server.url}])
    found = {}
    for name, address in views(pottery, job, theme).items():
        page.goto(address)
        for fold in ("#link-device > summary", "#link-load > summary", ".strip-counts"):
            if page.locator(fold).count() and name in ("path", "schedule"):
                page.locator(fold).click()
        assert page.locator("html").get_attribute("data-theme") in (theme, None)  # paper has none
        found[name] = what_is_serious(page, theme)
    page.goto(f"{reverse('workbench', args=[pottery.pk])}?at=k2")
    for name, dialog in opened_dialogs(page):
        found[name] = what_is_serious(page, theme, dialog)
    assert not any(found.values()), json.dumps(found, indent=1)


def opened_dialogs(page):
    """Open each dialog of the workbench in turn."""
    page.get_by_text("Export & more", exact=True).click()
    page.get_by_role("button", name="Paste a list of loads").click()
    page.get_by_label("The list", exact=True).fill("name,rating\nKiln 2,20 kW\nOven,lots")
    page.get_by_role("button", name="Check").click()
    page.locator(".list-lines .bad").wait_for()
    yield "list", "#list-dialog"
    page.locator("#list-dialog [data-bs-dismiss]").click()
    page.get_by_text("Compare", exact=True).click()
    page.get_by_role("button", name="NEC 2017").click()
    page.locator("#compare table").wait_for()
    yield "compare", "#compare-dialog"
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    yield "keys", "#keys-dialog"


# Themes differ in their colours alone: all else is looked at in one of them.
OF_COLOUR = ["color-contrast", "link-in-text-block"]


def what_is_serious(page, theme, part="html"):
    """Return what axe finds serious in a part of the page: the rule, and where."""
    page.evaluate(AXE)
    asked = {"resultTypes": ["violations"]} | ({} if theme == "paper" else {"runOnly": OF_COLOUR})
    result = page.evaluate("([part, asked]) => axe.run(part, asked)", [part, asked])
    serious = [each for each in result["violations"] if each["impact"] in ("serious", "critical")]
    return [(each["id"], [node["html"][:160] for node in each["nodes"]]) for each in serious]


@pytest.mark.parametrize("theme", ["paper", "dark", "sun"])
def test_the_first_page_has_nothing_serious(open_page, live_server, db, theme):
    page = open_page()
    page.context.add_cookies([{"name": "theme", "value": theme, "url": live_server.url}])
    page.goto("/?line=EV+48A+60+ft+frob")
    page.locator(".joint").first.wait_for()
    assert page.locator("html").get_attribute("data-theme") == theme
    assert what_is_serious(page, theme) == []
