"""What is typed is never lost: a network cut in mid-edit, an answer that never came, a sign-in that ended."""

import pytest
from django.urls import reverse
from playwright.sync_api import expect

from tests.browser.parts import open_link, row, value
from tests.conftest import PASSWORD
from web.accounts.models import Session
from web.jobs import rows
from web.jobs.changes import editing
from web.jobs.document import Change
from web.jobs.models import Event, Job, Membership, Role
from web.jobs.worker.solving import Judge

LENGTH = "#f-nodes-k2-run-length"


@pytest.fixture
def offline_is_no_fault(open_page):
    """The browser itself complains of requests that fail: here they are meant to."""
    yield
    meant = ("Failed to load resource", "htmx:", "Response Status Error")
    open_page.complaints[:] = [said for said in open_page.complaints if not said.startswith(meant)]


pytestmark = pytest.mark.usefixtures("offline_is_no_fault")


def node(job, key):
    return rows.document_of(Job.objects.get(pk=job.pk))["nodes"][key]


def type_length(page, typed):
    page.locator(LENGTH).fill(typed)
    page.locator(LENGTH).press("Enter")


def waits(page, words):
    expect(page.locator("#outbox .dropdown-toggle")).to_contain_text(words)


def saved(page):
    expect(page.locator("#outbox")).to_be_hidden()


def test_a_network_cut_in_mid_edit(bench, pottery):
    page = bench()
    open_link(page, "load")
    page.context.set_offline(True)
    type_length(page, "321 ft")
    waits(page, "not saved: 1 change waiting")
    page.locator("#walk-line").fill("bench grinder 1 hp 120 V 20 ft")
    page.locator("#walk-line").press("Enter")
    waits(page, "2 changes waiting")
    assert page.locator(LENGTH).input_value() == "321 ft"
    page.locator("#outbox .dropdown-toggle").click()
    expect(page.locator("#outbox-why")).to_contain_text("no network")
    expect(page.locator("#outbox-list")).to_contain_text("bench grinder")
    page.context.set_offline(False)
    saved(page)
    expect(row(page, "Bench grinder")).to_have_count(1)
    assert node(pottery, "k2")["run"]["length"] == "321 ft"
    assert Event.objects.count() == 2


def test_a_page_loaded_again_still_has_what_waits(bench, pottery):
    page = bench()
    open_link(page, "load")
    page.on("dialog", lambda dialog: dialog.accept())  # it warns before leaving
    page.route("**/edit/", lambda route: route.abort())
    type_length(page, "321 ft")
    waits(page, "1 change waiting")
    page.reload()
    open_link(page, "load")
    assert page.locator(LENGTH).input_value() == "321 ft"
    waits(page, "1 change waiting")
    page.unroute("**/edit/")
    page.locator("#outbox .dropdown-toggle").click()
    page.locator("#outbox-again").click()
    saved(page)
    expect(value(page, "drop")).not_to_have_text("")
    assert node(pottery, "k2")["run"]["length"] == "321 ft"


def test_an_answer_that_never_came_is_asked_for_again_and_counts_once(bench, pottery):
    page = bench()

    def swallow(route):
        route.fetch()
        route.abort()

    page.route("**/walk/", swallow, times=1)
    page.locator("#walk-line").fill("bench grinder 1 hp 120 V 20 ft")
    page.locator("#walk-line").press("Enter")
    expect(row(page, "Bench grinder")).to_have_count(1)
    saved(page)
    assert Event.objects.count() == 1


def test_signed_out_in_mid_edit(bench, pottery):
    page = bench()
    open_link(page, "load")
    Session.objects.all().delete()
    type_length(page, "321 ft")
    again = page.locator("#again-dialog")
    expect(again).to_be_visible()
    again.get_by_label("Password").fill("wrong")
    again.get_by_role("button", name="Sign in").click()
    expect(page.locator("#again-note")).to_contain_text("not the password")
    again.get_by_label("Password").fill(PASSWORD)
    again.get_by_role("button", name="Sign in").click()
    expect(again).to_be_hidden()
    saved(page)
    assert node(pottery, "k2")["run"]["length"] == "321 ft"
    type_length(page, "123 ft")  # the page goes on with the new sign-in
    expect(page.locator("#seen-version")).to_have_value("2")
    saved(page)


def test_a_right_that_was_taken_away_is_said_and_holds_nothing_else_up(bench, pottery, ben):
    Membership.objects.create(job=pottery, user=ben, role=Role.EDITOR)
    page = bench("ben")
    open_link(page, "load")
    Membership.objects.filter(user=ben).update(role=Role.VIEWER)
    type_length(page, "321 ft")
    waits(page, "not saved")
    page.locator("#outbox .dropdown-toggle").click()
    expect(page.locator("#outbox-list")).to_contain_text("you may no longer change this job")
    assert page.locator(LENGTH).input_value() == "321 ft"
    page.locator("#outbox-list").get_by_role("button", name="drop it").click()
    saved(page)
    assert "run" not in node(pottery, "k2") or node(pottery, "k2")["run"].get("length") != "321 ft"


def test_a_server_in_trouble_is_asked_again(bench, pottery):
    page = bench()
    open_link(page, "load")
    page.route("**/edit/", lambda route: route.fulfill(status=503, headers={"X-Trouble": "full"}), times=1)
    type_length(page, "321 ft")
    saved(page)
    expect(page.locator("#undo")).to_be_enabled()
    assert node(pottery, "k2")["run"]["length"] == "321 ft"


def test_a_list_that_is_too_long_is_refused_in_the_page(bench):
    page = bench()
    posts = []
    page.on("request", lambda request: posts.append(request.url) if request.method == "POST" else None)
    page.get_by_text("Export & more", exact=True).click()
    page.get_by_role("button", name="Paste a list of loads").click()
    page.evaluate(
        """() => {
        const text = document.querySelector("#list-form textarea");
        text.value = "name,rating\\n".repeat(430_000);
        text.dispatchEvent(new Event("input", { bubbles: true }));
    }"""
    )
    expect(page.locator("#list-note")).to_contain_text("200000 characters at most")
    expect(page.locator("#list-form").get_by_role("button", name="Check")).to_be_disabled()
    assert posts == []


def test_anothers_change_appears_with_who_and_what(bench, pottery, ben):
    Membership.objects.create(job=pottery, user=ben, role=Role.EDITOR)
    page = bench()
    change = Change(("nodes", "k2", "name"), None, "Kiln of ben")
    editing.edit(pottery.pk, ben, editing.planned(change, title="renamed a kiln"), editing.Seen(0), Judge())
    page.evaluate("document.dispatchEvent(new Event('visibilitychange'))")  # the page asks when it is looked at
    expect(page.locator("#news")).to_contain_text("ben renamed a kiln")
    expect(row(page, "Kiln of ben")).to_have_count(1)


def test_on_the_sheet_another_is_shown_unless_one_is_typing(sheet, job, ben):
    Membership.objects.create(job=job, user=ben, role=Role.EDITOR)
    page = sheet()
    area = page.locator("#f-nodes-house-floor_area")
    area.fill("2,400 ft²")
    expect(page.locator("#undo")).to_be_enabled()
    version = Job.objects.get(pk=job.pk).version
    change = Change(("nodes", "house", "dryers", "d1", "load"), None, "6 kW")
    editing.edit(job.pk, ben, editing.planned(change), editing.Seen(version), Judge())
    page.evaluate("document.dispatchEvent(new Event('visibilitychange'))")
    expect(page.locator("#news-waits")).to_be_visible()
    page.locator("#news-show").click()
    expect(page.locator("#f-nodes-house-dryers-d1-load")).to_have_value("6 kW")
    assert reverse("house", args=[job.pk, "house"]) in page.url
