"""Quick sheets in a real browser: found by the question, live as one types, linked, kept, put into a job, by phone."""

import re

import pytest
from django.urls import reverse
from playwright.sync_api import expect

from web.jobs import keeping
from web.jobs.sample import sample_document

SMALL = """[...document.querySelectorAll("#asks :is(input:not(.btn-check), select, button, a.btn, label.btn)")]
  .filter((each) => each.offsetParent && each.getBoundingClientRect().height < 43.5).map((each) => each.outerHTML)"""
MOTOR = "?hp=7.5&volts=208&length=60"


def value_of(page, label):
    return page.locator(".head", has_text=label).locator(".head-value")


def test_a_stranger_finds_a_sheet_by_the_question_and_is_answered_while_typing(open_page):
    page = open_page()
    page.goto(reverse("quick"))
    page.get_by_label("What is the question?").type("stove")
    expect(page.locator(".tool")).to_have_count(1)
    page.get_by_role("link", name="Cooking circuit").click()
    page.locator("[name='appliances[0].load']").fill("13.4 kW")
    expect(value_of(page, "Breaker")).to_have_text(re.compile(r"40\s+A"))
    expect(page).to_have_url(re.compile(r"appliances%5B0%5D\.load=13\.4"))
    page.locator("[name='appliances[0].load']").fill("40 kW")
    expect(page.locator("#e-q-appliances-0-load")).to_contain_text("goes up to 27 kW")
    # The last good answer stays, greyed and said to be so.
    expect(page.locator("#stale")).to_contain_text("the last good one")
    expect(value_of(page, "Breaker")).to_have_text(re.compile(r"40\s+A"))
    page.locator("[name='appliances[0].load']").fill("16 kW")
    expect(page.locator("#e-q-appliances-0-load")).to_have_text("")
    expect(value_of(page, "Demand")).to_have_text(re.compile(r"40\s+A"))
    expect(page.locator("#stale")).to_have_text("")


def test_a_kind_of_device_is_chosen_in_the_drawing_and_the_link_opens_the_very_sheet(open_page):
    page = open_page()
    page.goto(reverse("quick-sheet", args=["motor-branch"]) + MOTOR)
    page.locator("[data-set^=device_kind]", has_text="Dual-element fuse").click()
    expect(value_of(page, "Dual-element fuse")).to_have_text(re.compile(r"45\s+A"))
    expect(page.get_by_label("Device", exact=True)).to_have_value("dual_element_fuse")
    other = open_page()
    other.goto(page.url)
    expect(value_of(other, "Dual-element fuse")).to_have_text(re.compile(r"45\s+A"))
    page.locator("label.btn", has_text="75 °C").click()
    expect(page).to_have_url(re.compile("terminal_c=75"))
    # A clause of a table leads to it, the cell that was used lit.
    page.locator("a.chip", has_text="Table 430.250").first.click()
    expect(page.locator("tr.lit td.lit")).to_contain_text("24.2")


def test_another_book_and_another_kind_ask_other_things(open_page):
    page = open_page()
    page.goto(reverse("quick-sheet", args=["appliance-branch"]) + "?kind=charger&load=48+A")
    expect(page.get_by_label("MCA")).to_have_count(0)
    page.get_by_label("Kind").select_option("hermetic")
    page.get_by_label("Nameplate").fill("")
    page.get_by_label("MCA").fill("28.4")
    page.get_by_label("Max. breaker (MOP)").fill("45")
    expect(value_of(page, "Breaker")).to_have_text(re.compile(r"45\s+A"))
    page.goto(reverse("quick-sheet", args=["motor-branch"]) + "?hp=5&volts=230")
    page.get_by_label("Code (edition)").select_option(label="BS 7671")
    expect(page.get_by_label("Power in kW")).to_be_visible()


def test_items_come_and_go(open_page):
    page = open_page()
    page.goto(reverse("quick-sheet", args=["motor-feeder"]) + "?volts=460&motors[0].hp=40")
    page.get_by_role("button", name="+ motor").click()
    page.locator("[name='motors[1].hp']").fill("25")
    expect(page.locator(".sketch").get_by_text("25 hp")).to_be_visible()
    page.get_by_role("button", name="Delete motor 1").click()
    expect(page.locator("[name='motors[0].hp']")).to_have_value("25")
    expect(page.locator("[name='motors[1].hp']")).to_have_count(0)


def test_kept_compared_and_put_into_a_job(signed_in, ann):
    keeping.create(ann, sample_document("cinder-lane"))
    page = signed_in("ann")
    for name, hp in (("small", 5), ("large", 10)):
        page.goto(reverse("quick-sheet", args=["motor-branch"]) + f"?hp={hp}&volts=208")
        page.get_by_role("button", name="keep").click()
        page.get_by_label("Name", exact=True).fill(name)
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text(f"“{name}” is kept.")).to_be_visible()
    page.get_by_role("button", name="put into a job").click()
    page.get_by_role("button", name="Put it there").click()
    expect(page).to_have_url(re.compile(r"/jobs/.*at="))
    expect(page.locator("#chain")).to_contain_text("Motor 10 hp")
    page.goto(reverse("quick"))
    for name in ("small", "large"):
        page.get_by_label(f"Compare {name}").check()
    page.get_by_role("button", name="Compare two").click()
    expect(page.locator("tr.differs").first).to_contain_text("≠")


@pytest.mark.parametrize("name", ["motor-branch", "cooking-branch", "run"])
def test_by_thumb(open_page, name):
    page = open_page(390, 844)
    page.goto(reverse("quick-sheet", args=[name]))
    page.get_by_role("link", name="worked example").click()
    expect(page.locator(".heads")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") == 390
    small = page.evaluate(SMALL)
    assert small == []


def on_screen(page, element):
    """Whether all of an element lies on the screen as it is scrolled."""
    box = element.bounding_box()
    return box is not None and box["y"] >= 0 and box["y"] + box["height"] <= page.viewport_size["height"]


def test_a_link_opened_on_a_phone_shows_the_answer_first_and_its_bar_while_one_types(open_page):
    page = open_page(390, 844)
    page.goto(reverse("quick-sheet", args=["motor-branch"]) + MOTOR)
    assert on_screen(page, value_of(page, "Inverse-time breaker"))
    expect(page.locator("#q-hp")).to_be_hidden()
    page.get_by_role("button", name="change").click()
    page.locator("#q-hp").fill("10")
    bar = page.locator(".answer-bar")
    expect(bar).to_contain_text(re.compile(r"80\s+A"))
    assert on_screen(page, bar)


def test_a_stop_stands_above_the_figures_and_on_the_phones_bar(open_page):
    """Two circuits of one leg on one neutral: it carries both, and no calm figure is headed by anything else."""
    on_one_leg = "&".join(f"circuits[{at}].amps=15&circuits[{at}].leg=L1" for at in (0, 1))
    asked = f"?system=120/240+1ph+3w&neutral_size=12&{on_one_leg}"
    page = open_page(1280, 800)
    page.goto(reverse("quick-sheet", args=["neutral-current"]) + asked)
    verdict = page.locator(".verdict.stop")
    expect(verdict).to_be_visible()
    assert verdict.bounding_box()["y"] < page.locator(".heads").bounding_box()["y"]
    expect(page.locator(".heads.stopped")).to_be_visible()


def test_before_anything_is_asked_all_of_it_can_be_said_in_one_line(open_page):
    page = open_page()
    page.goto(reverse("quick-sheet", args=["motor-branch"]))
    expect(page.locator(".faint svg").first).to_be_visible()
    page.get_by_label("All of it in one line").fill("7½ hp 208 V 3ph 60 ft")
    page.get_by_role("button", name="Work it").click()
    expect(value_of(page, "Inverse-time breaker")).to_have_text(re.compile(r"70\s+A"))
    expect(page.locator("#q-length")).to_have_value("60 ft")


def test_an_amount_in_the_search_opens_its_sheet_filled_in(open_page):
    page = open_page()
    page.goto(reverse("quick"))
    page.get_by_label("What is the question?").fill("45 kVA 480-208Y/120")
    page.get_by_role("link", name=re.compile("480 V · 208 V")).click()
    expect(value_of(page, "Secondary main")).to_have_text(re.compile(r"150\s+A"))


def test_enter_on_the_first_page_takes_the_line_along_into_a_job(open_page):
    page = open_page()
    page.goto("/")
    page.get_by_label("Supply").select_option("120/240 1ph 3w")
    page.get_by_label("A load, as you would say it").fill("EV charger 48 A 60 ft")
    expect(page.locator("#worked")).to_contain_text("120/240 1ph 3w")
    page.get_by_label("A load, as you would say it").press("Enter")
    expect(page.locator("#rows .branch", has_text="EV charger")).to_be_visible()
