"""Legs by hand and by keys, evened out; the neutral of a ladder opened; least metal made; all of it undone."""

import re

from playwright.sync_api import expect

from web.jobs.models import Node


def lens(bench, name, at="mdp", **size):
    page = bench(at=at, **size)
    page.locator(f"#tab-{name}").click()
    expect(page.locator(f"#tab-{name}")).to_have_attribute("aria-selected", "true")
    return page


def total(page, leg):
    return page.locator(f'#lanes .lane[data-leg="{leg}"] .lane-total')


def test_a_block_is_dragged_to_another_lane_and_the_legs_follow(bench):
    page = lens(bench, "legs")
    before = total(page, "L3").text_content()
    neutral = page.locator("#legs .s-neutral-word").text_content()
    block = page.locator('.block[data-block="l5"] rect')
    target = page.locator('.lane[data-leg="L3"] .lane-bed')
    start, end = block.bounding_box(), target.bounding_box()
    page.mouse.move(start["x"] + 20, start["y"] + 4)
    page.mouse.down()
    page.mouse.move(end["x"] + 40, end["y"] + 80, steps=6)
    expect(total(page, "L3")).not_to_have_text(before)  # said on the way, with the neutral
    expect(page.locator("#legs .s-neutral-word")).not_to_have_text(neutral)
    expect(page.locator(".lane-target")).to_have_attribute("data-leg", "L3")
    page.mouse.up()
    expect(page.locator('.block[data-block="l5"]')).to_have_attribute("data-leg", "L3")
    page.locator("#undo").click()
    expect(page.locator('.block[data-block="l5"]')).to_have_attribute("data-leg", "L1")
    expect(total(page, "L3")).to_have_text(before)


def test_keys_turn_the_chosen_circuit_to_the_next_leg(bench):
    page = lens(bench, "legs", at="l5")
    page.locator("#tab-legs").focus()
    page.keyboard.press("]")
    expect(page.locator('.block[data-block="l5"]')).to_have_attribute("data-leg", "L2")
    page.keyboard.press("[")
    expect(page.locator('.block[data-block="l5"]')).to_have_attribute("data-leg", "L1")


def test_even_out_is_proposed_taken_in_part_and_undone(bench, pottery):
    page = lens(bench, "legs")
    page.get_by_role("button", name="Even out").click()
    evened = page.locator(".evened")
    expect(evened).to_contain_text("Proven")
    expect(evened.locator("[data-move]")).to_have_count(2)
    after = evened.locator("td[data-after] b").first.inner_text()
    evened.locator("[data-move]").first.uncheck()
    expect(evened.locator("td[data-after] b").first).not_to_have_text(after)
    evened.locator("[data-move]").first.check()
    expect(evened.locator("td[data-after] b").first).to_have_text(after)
    page.get_by_role("button", name=re.compile("^Make 2")).click()
    expect(total(page, "L2")).to_have_text("368 A")
    expect(page.locator(".evened")).to_have_count(0)
    page.locator("#undo").click()
    expect(total(page, "L2")).to_have_text("389 A")


def test_least_metal_is_found_made_and_undone(bench, pottery):
    page = lens(bench, "volts")
    page.get_by_role("button", name="Find", exact=True).click()
    found = page.locator("#least-found")
    expect(found).to_contain_text("No standard sizes use less: proven.")
    found.locator("label", has_text="Yard lighting").wait_for()
    page.get_by_role("button", name=re.compile("^Make 2")).click()
    expect(page.locator("#undo")).to_be_enabled()
    assert Node.objects.get(job=pottery, key="l6").data["run"]["pins"]["size"] == "12"
    page.locator("#undo").click()
    expect(page.locator("#undo")).to_be_disabled()
    assert "size" not in Node.objects.get(job=pottery, key="l6").data["run"].get("pins", {})


def test_other_volts_are_tried_and_then_used(bench, pottery):
    page = lens(bench, "volts")
    expect(page.locator("#volts .tried").first).to_be_hidden()
    page.locator("#v-src").fill("470")
    expect(page.locator("[data-worst-then]")).to_contain_text("91.9 %")
    page.get_by_role("button", name="-2.5 %").click()
    page.get_by_role("button", name="use").click()
    expect(page.locator("#undo")).to_be_enabled()
    job = {node.key: node.data for node in Node.objects.filter(job=pottery)}
    assert (job["src"]["supply"]["measured_v"], job["t1"]["transformer"]["tap"]) == ("470", "-2.5")
    page.get_by_role("button", name="L2 4.4 %").click()
    expect(page.locator('.fall[data-node="l5"]')).to_have_class(re.compile("fall-away"))


def test_a_neutral_is_opened_on_the_ladder_and_a_figure_pressed(open_page):
    page = open_page()
    page.goto("/quick/edison/")
    page.get_by_role("link", name="worked example").click()
    expect(page.locator(".heads")).to_contain_text("191.8")
    page.locator('[data-field="sections[1].load1_a"]').first.click()
    field = page.locator('[name="sections[1].load1_a"]')
    expect(field).to_be_focused()
    field.fill("13")
    expect(page.locator(".heads")).not_to_contain_text("191.8")
    page.locator('[name="opened_section"]').fill("")
    expect(page.locator(".middle")).not_to_contain_text("Neutral opened")


def test_a_turn_is_walked_through_by_the_slider(open_page):
    page = open_page()
    page.goto("/quick/neutral-current/?system=208Y/120&legs=10;10;10")
    page.locator("#turn").fill("90")
    expect(page.locator("#turn-said")).to_have_text("90° · N 0 A")
    expect(page.locator(".middle")).to_contain_text("It carries nothing")
