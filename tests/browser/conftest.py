"""A real browser against the live application."""

import os
import shutil

import pytest
from django.db import connection
from django.urls import reverse
from playwright.sync_api import expect, sync_playwright

from tests.conftest import PASSWORD
from web.jobs import keeping
from web.jobs.sample import sample_document

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"  # the browser's driver runs an event loop beside the ORM
expect.set_options(timeout=20_000)  # a slow machine is no fault
FLAGS = [
    *("--no-sandbox", "--disable-gpu", "--disable-background-networking"),
    *("--disable-component-update", "--disable-sync", "--no-first-run"),
]


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as driver:
        chromium = driver.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
        yield chromium
        chromium.close()


@pytest.fixture
def open_page(browser, live_server, transactional_db):
    """Open a page in a context of its own; what the console complains of fails the test."""
    contexts, complaints = [], []

    def opened(width=1280, height=800):
        context = browser.new_context(viewport={"width": width, "height": height}, base_url=live_server.url)
        context.set_default_timeout(10_000)
        page = context.new_page()
        page.on("console", lambda said: complaints.append(said.text) if said.type in ("error", "warning") else None)
        page.on("pageerror", lambda error: complaints.append(str(error)))
        contexts.append(context)
        return page

    opened.complaints = complaints
    yield opened
    for context in contexts:
        context.close()
    _let_the_server_finish()
    assert complaints == []


def _let_the_server_finish():
    """Wait for what a closed page had asked for last: the tables are emptied next."""
    others = "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()"
    with connection.cursor() as cursor:
        for _ in range(200):
            cursor.execute(f"{others} AND state <> 'idle'")
            if cursor.fetchone() == (0,):
                return
            cursor.execute("SELECT pg_sleep(0.05)")


@pytest.fixture
def sheet(open_page, job):
    """Sign in as ann and open her house's sheet."""

    def opened(width=1280, height=800):
        page = open_page(width, height)
        page.goto(reverse("sign-in"))
        page.get_by_label("Username").fill("ann")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("link", name="Marrow Creek house").click()
        page.locator("#outcome").wait_for()
        return page

    return opened


@pytest.fixture
def signed_in(open_page):
    def opened(name="ann", **size):
        page = open_page(**size)
        page.goto(reverse("sign-in"))
        page.get_by_label("Username").fill(name)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="Jobs").wait_for()
        return page

    return opened


@pytest.fixture
def pottery(ann):
    return keeping.create(ann, sample_document("cinder-lane"))


@pytest.fixture
def bench(signed_in, pottery):
    """Sign in and open the pottery's workbench."""

    def opened(name="ann", at="k2", **size):
        page = signed_in(name, **size)
        page.goto(f"{reverse('workbench', args=[pottery.pk])}?at={at}")
        page.locator("#link-load").wait_for(state="attached")
        return page

    return opened
