"""The Earth lens and the terminals of a transformer, touched and tapped."""

import re

from playwright.sync_api import expect

from tests.browser.parts import value
from web.jobs.models import Node


def test_a_part_that_is_touched_opens_its_rule_and_the_bond_is_moved_once(bench, pottery):
    page = bench(at="mdp")
    page.locator("#tab-path").focus()
    page.keyboard.press("5")
    expect(page.locator("#tab-earth")).to_have_attribute("aria-selected", "true")
    page.locator('g[data-part="derived-t1-jumper"]').click()
    expect(page.locator("#chain")).to_have_attribute("data-key", "t1")
    expect(page.locator("#link-bond")).to_have_attribute("open", "")
    expect(page.locator("#link-bond")).to_contain_text("250.102(C)(1)")
    expect(page.locator("tr.touched")).to_contain_text("system bonding jumper")
    # The loop that a fault takes is lit with it; the electrode is no part of that.
    expect(page.locator("tr.in-loop")).to_have_count(2)
    expect(page.locator('g[data-part="derived-t1-supply_side"]')).to_have_class(re.compile("in-loop"))
    expect(page.locator('g[data-part="derived-t1-electrode"]')).not_to_have_class(re.compile("in-loop"))
    # What a second bond does is shown and never saved.
    page.get_by_role("button", name="try a second bond").click()
    expect(page.locator(".second-said")).to_contain_text("Not allowed")
    expect(page.locator("g.second-bond")).to_be_visible()
    assert page.locator("#undo").is_disabled()
    page.get_by_role("button", name="first disconnect").click()
    expect(page.get_by_role("button", name="first disconnect")).to_have_attribute("aria-pressed", "true")
    assert Node.objects.get(job=pottery, key="t1").data["transformer"]["bond_at"] == "board"
    expect(value(page, "bond")).to_contain_text("1/0")
    page.locator("#undo").click()
    expect(page.locator(".bond-at [data-goes-to=transformer]")).to_have_attribute("aria-pressed", "true")


def test_a_device_is_chosen_among_the_lawful_ones_and_flows_down_the_chain(bench):
    page = bench(at="t1")
    expect(value(page, "device")).to_contain_text("250 A")
    page.get_by_role("button", name="terminals", exact=True).click()
    expect(page.locator("#terminals svg")).to_contain_text("X0")
    expect(page.locator("#terminals svg")).to_contain_text("jumper 1/0 Cu")
    page.get_by_role("row", name=re.compile("^350 A")).get_by_role("button", name="choose").click()
    expect(value(page, "device")).to_contain_text("350 A")
    expect(value(page, "conductor")).to_contain_text("350 kcmil Cu")
    expect(page.get_by_role("row", name=re.compile("^350 A"))).to_contain_text("chosen")
    page.locator("#undo").click()
    expect(value(page, "device")).to_contain_text("250 A")
    # Where no transformer is chosen, its terminals give way to the one-line drawing.
    page.locator("#open-mdp").click()
    expect(page.locator("#tab-path")).to_have_attribute("aria-selected", "true")


def test_the_story_of_the_transformer_from_its_load_to_its_earth(bench):
    page = bench(at="t1")
    titles = [each.strip() for each in page.locator("#chain .link-title").all_inner_texts()]
    assert titles == [
        "Load",
        "kVA",
        "Primary device",
        "Primary conductor",
        "Drop before it",
        "Inside",
        "Secondary device",
        "Secondary conductor",
        "Earth",
        "Service earth",
    ]
    expect(page.locator("#chain")).to_contain_text("9.3 kA bolted at its terminals")
    page.locator("#open-link-secondary_conductor").click()
    expect(page.locator("#link-secondary_conductor")).to_contain_text("240.21(C)(2)")
    expect(page.locator("#link-secondary_conductor")).to_contain_text("to 10 ft: it is 20 ft")
