"""The workbench as a person works it."""

import json
import re

from django.urls import reverse
from playwright.sync_api import expect

from tests.browser.parts import open_link, row, value
from voltaje.samples import sample
from voltaje.tools.solve import solve_document
from web.jobs.models import Event, Job, Membership, Role

WORKSHOP = [
    "kiln 11.5 kW 208 V 3ph 60 ft",
    "sockets x6 180 VA 120 V 40 ft",
    "bench lights 900 VA 120 V 55 ft",
    "water heater 4.5 kW 208 V 2-pole 20 ft",
    "glaze mill 1,500 VA 120 V 25 ft",
]


def test_a_small_workshop_from_nothing_by_the_walk_through_line_alone(signed_in, ann):
    page = signed_in()
    page.get_by_role("link", name="New job").click()
    page.get_by_label("Name").fill("Wheel Street workshop")
    page.get_by_label("Code (edition)").select_option("NEC 2023")
    page.get_by_label("208Y/120 V, three-phase, 4-wire").check()
    page.get_by_role("button", name="Create").click()
    line = page.get_by_label("Add a load")
    for words in WORKSHOP:
        line.fill(words)
        expect(page.locator("#walk-said")).to_contain_text(words.rsplit(" ", 2)[1])
        line.press("Enter")
        expect(line).to_have_value("")
        expect(line).to_be_focused()
    expect(page.locator("#rows .branch")).to_have_count(2 + len(WORKSHOP))
    row(page, "Kiln").get_by_role("link").click()
    expect(value(page, "current")).to_contain_text("31.9 A")  # 11 500 / (√3 × 208)
    expect(value(page, "device")).to_contain_text("40 A")
    line.fill("blower 3 kW frobnicate 20 ft on no such board")
    expect(page.locator("#walk-said")).to_contain_text("no panel or board, or more than one")
    expect(page.locator("#walk-said")).to_contain_text("frobnicate")


def test_what_is_typed_before_the_page_is_ready_is_understood_too(bench):
    page = bench()
    held = []

    def hold(route):
        held.append(route)

    page.route("**/htmx.min*.js", hold)
    with page.expect_request("**/htmx.min*.js"):
        page.evaluate("location.reload()")
    line = page.get_by_label("Add a load")
    line.fill(WORKSHOP[0])
    expect(page.locator("#walk-said")).to_be_empty()
    held[0].continue_()
    expect(page.locator("#walk-said")).to_contain_text("11.5 kW")


def test_a_length_changes_drop_and_conductor_and_a_pin_holds_and_goes(bench):
    page = bench()
    expect(value(page, "conductor")).to_contain_text("3 AWG Cu")
    open_link(page, "load")
    before = value(page, "drop").inner_text()
    page.get_by_label("One-way length").fill("300")
    page.keyboard.press("Enter")
    expect(value(page, "drop")).not_to_have_text(before)
    expect(page.get_by_label("One-way length")).to_have_value("300 ft")
    open_link(page, "conductor")
    page.get_by_label("Set wire size by hand").fill("8")
    page.keyboard.press("Tab")
    expect(value(page, "conductor")).to_contain_text("8 AWG")
    expect(page.locator("#link-conductor .link-finding.stop").first).to_be_visible()
    page.get_by_label("Set wire size by hand").fill("")
    page.keyboard.press("Tab")
    expect(value(page, "conductor")).to_contain_text("3 AWG")
    page.locator("#link-conductor").get_by_role("button", name="Take 90 A 1 AWG Cu").click()
    expect(value(page, "conductor")).to_contain_text("1 AWG Cu")


def test_undo_survives_a_reload(bench):
    page = bench()
    open_link(page, "load")
    page.get_by_label("Rating each").fill("30 kW")
    page.keyboard.press("Enter")
    expect(value(page, "load")).to_contain_text("30 kVA")
    expect(page.locator(".link", has=page.locator("#link-device"))).to_have_class("link changed")
    page.reload()
    page.locator("#undo").click()
    expect(value(page, "load")).to_contain_text("24 kVA")
    page.locator("body").press("U")
    expect(value(page, "load")).to_contain_text("30 kVA")


def test_a_wrong_value_is_said_at_its_field_and_stays_there(bench):
    page = bench()
    open_link(page, "load")
    page.get_by_label("Rating each").fill("24 kWh")
    page.keyboard.press("Enter")
    expect(page.locator("#n-nodes-k2-load-rating")).to_contain_text("no unit that a load can have")
    expect(page.get_by_label("Rating each")).to_have_value("24 kWh")
    expect(value(page, "load")).to_contain_text("24 kVA")


def test_moving_by_drag_and_by_keys(bench):
    page = bench(height=1600)  # so that what is carried and where it goes are both in sight
    row(page, "Kiln 2").drag_to(row(page, "Glaze shed"))
    expect(row(page, "Kiln 2")).to_have_attribute("data-parent", "shed")
    page.locator("#undo").click()
    expect(row(page, "Kiln 2")).to_have_attribute("data-parent", "mdp")
    page.locator("body").press("K")
    expect(page.locator("#rows .branch").nth(3)).to_contain_text("Kiln 2")
    page.get_by_text("Actions", exact=True).click()
    page.get_by_label("Feed from").select_option("shed")
    page.get_by_role("button", name="Move", exact=True).click()
    expect(row(page, "Kiln 2")).to_have_attribute("data-parent", "shed")


def test_two_browsers_edit_one_job(bench, ben, pottery):
    Membership.objects.create(job=pottery, user=ben, role=Role.EDITOR)
    mine, theirs = bench(), bench("ben")
    theirs.route(
        re.compile(r"/news/\?"), lambda route: route.fulfill(status=204)
    )  # it hears of nothing before it has typed
    for page, kilowatts in ((mine, "28 kW"), (theirs, "26 kW")):
        open_link(page, "load")
        page.get_by_label("Rating each").fill(kilowatts)
    theirs.keyboard.press("Enter")
    expect(value(theirs, "load")).to_contain_text("26 kVA")
    mine.evaluate("document.dispatchEvent(new Event('visibilitychange'))")
    expect(mine.locator("#news")).to_contain_text("ben")  # theirs appears while mine is half typed
    mine.keyboard.press("Enter")
    expect(mine.locator("#n-nodes-k2-load-rating")).to_contain_text("ben set this to “26 kW”")
    expect(mine.get_by_label("Rating each")).to_have_value("28 kW")
    mine.get_by_role("button", name="keep mine").click()
    expect(value(mine, "load")).to_contain_text("28 kVA")
    theirs.get_by_label("Rating each").fill("25 kW")
    theirs.keyboard.press("Enter")
    theirs.get_by_role("button", name="take theirs").click()
    expect(value(theirs, "load")).to_contain_text("28 kVA")


def test_a_list_with_two_bad_lines(bench):
    page = bench(at="mdp")
    count = page.locator("#rows .branch").count()
    page.get_by_text("Export & more", exact=True).click()
    page.get_by_role("button", name="Paste a list of loads").click()
    page.get_by_label("The list", exact=True).fill(
        "name;rating;phases;length\nKiln 4;11.5 kW;3;60 ft\nKiln 5;lots;3;60 ft\n"
        "Oven;4 kW;1;far\nSink heater;1.5 kW;1;20 ft"
    )
    page.get_by_role("button", name="Check").click()
    expect(page.locator(".list-lines .bad")).to_have_count(2)
    page.get_by_role("button", name="Add 2 loads").click()
    expect(page.locator("#rows .branch")).to_have_count(count + 2)
    left = page.get_by_label("The list", exact=True)
    expect(left).to_have_value("name;rating;phases;length\nKiln 5;lots;3;60 ft\nOven;4 kW;1;far")


def test_export_and_import_give_equal_figures(bench, ann):
    page = bench()
    page.get_by_text("Export & more", exact=True).click()
    with page.expect_download() as download:
        page.get_by_role("link", name="The open job file").click()
    path = download.value.path()
    figures = [value(page, link).inner_text() for link in ("demand", "current", "device", "conductor", "drop", "earth")]
    page.goto(reverse("new-job"))
    page.get_by_label("Open job file").set_input_files(
        files=[{"name": "job.json", "mimeType": "application/json", "buffer": path.read_bytes()}]
    )
    page.get_by_role("button", name="Import").click()
    page.locator("#link-earth").wait_for()
    row(page, "Kiln 2").get_by_role("link").click()
    expect(page.locator("#chain")).to_have_attribute("data-key", "k2")
    again = [value(page, link).inner_text() for link in ("demand", "current", "device", "conductor", "drop", "earth")]
    assert again == figures
    assert json.loads(path.read_text("utf-8"))["format"] == "voltaje-job"


def test_by_keyboard_alone(bench):
    page = bench()
    page.locator("body").press("j")
    expect(page.locator("#chain h2")).to_have_text("Kiln 3, test kiln")
    page.locator("body").press("]")
    expect(page.locator("#chain .chain-head")).to_contain_text("L2-L3")
    page.locator("body").press("[")
    expect(page.locator("#chain .chain-head")).to_contain_text("L1-L2")
    page.locator("body").press("r")
    page.keyboard.type("Kiln 3, boosted")
    page.keyboard.press("Enter")
    expect(page.locator("#chain h2")).to_have_text("Kiln 3, boosted")
    page.locator("body").press("u")
    expect(page.locator("#chain h2")).to_have_text("Kiln 3, test kiln")
    page.locator("body").press("4")
    expect(page.locator("#lens h2")).to_contain_text("Studio board MDP")
    page.locator("body").press("1")
    expect(page.locator("#drawing")).to_be_visible()
    page.locator("body").press("p")
    expect(page.get_by_label("Set breaker or fuse by hand")).to_be_focused()
    page.keyboard.type("70")
    page.keyboard.press("Enter")
    expect(value(page, "device")).to_contain_text("70 A")
    page.locator("#open-k3").focus()
    page.keyboard.press("d")
    expect(row(page, "Kiln 3, test kiln 2")).to_be_visible()
    page.keyboard.press("Delete")
    expect(row(page, "Kiln 3, test kiln 2")).to_have_count(0)
    page.keyboard.press("u")
    expect(row(page, "Kiln 3, test kiln 2")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.get_by_label("single-letter keys off").check()
    page.get_by_role("button", name="Close").click()
    page.locator("body").press("4")
    expect(page.locator("#drawing")).to_be_visible()


def test_arrows_walk_the_circuits_and_keys_undo_everything(bench, pottery):
    page = bench()
    row(page, "Kiln 1").get_by_role("link").focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("#chain h2")).to_have_text("Kiln 2, car kiln")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Delete")
    expect(page.locator("#done")).to_contain_text("Kiln 2, car kiln deleted.")
    page.keyboard.press("Control+z")
    expect(row(page, "Kiln 2")).to_have_count(1)
    page.keyboard.press("Control+y")
    expect(row(page, "Kiln 2")).to_have_count(0)
    page.locator("#undo").click()
    expect(row(page, "Kiln 2")).to_have_count(1)
    page.locator("#undo").focus()
    page.keyboard.type("d")  # a letter on a button does nothing
    page.keyboard.press("Control+p")
    expect(page.locator("header.title-block")).to_contain_text("Cinder Lane Pottery")


def test_what_was_assumed_is_said_otherwise_by_a_key_and_words_left_over_take_a_second_enter(bench):
    page = bench(at="mdp")
    line = page.get_by_label("Add a load")
    line.fill("EV 48A 60 ft gfci")
    expect(page.locator("#walk-said .assumed")).to_contain_text("208 V 2-pole")
    line.press("ArrowDown")
    expect(line).to_have_value("EV 48A 60 ft gfci 120 V 1-pole")
    line.fill("EV 48A 60 ft gfci")
    line.press("Enter")
    expect(page.locator("#walk-note")).to_contain_text("Not used: “gfci”")
    expect(line).to_have_value("EV 48A 60 ft gfci")
    line.press("Enter")
    expect(line).to_have_value("")
    expect(page.locator(".assumed-note")).to_contain_text("Assumed, not entered: 208 V on 2 legs")
    page.get_by_role("button", name="It is right").click()
    expect(page.locator(".assumed-note")).to_have_count(0)


def test_a_stranger_tries_it_without_an_account(open_page, live_server):
    page = open_page()
    page.goto("/")
    page.get_by_label("A load, as you would say it").fill("range 12 kW 40 ft")
    expect(page.locator("#worked")).to_contain_text("panel 208Y/120")
    page.get_by_role("button", name="an empty one").click()
    line = page.get_by_label("Add a load")
    for words in ("sub-panel Annex 60A 80 ft", "6 receptacles 20A on Annex", "spare 20A"):
        line.fill(words)
        expect(page.locator("#walk-said .said-item")).to_be_visible()
        line.press("Enter")
        expect(line).to_have_value("")
    expect(page.locator("#rows .branch")).to_have_count(5)
    expect(page.locator(".strip-chip.scratch")).to_be_visible()


def test_findings_lead_to_their_place_and_a_stop_cannot_be_noted(bench):
    page = bench()
    page.locator(".strip-counts").click()
    expect(page.locator("#findings .finding.stop .note-form")).to_have_count(0)
    yard = page.locator("#findings .finding", has_text="Yard lighting")
    yard.get_by_label("Reason for accepting").fill("lamps take it")
    yard.get_by_role("button", name="Accept").click()
    expect(page.locator(".strip-counts")).to_contain_text("2 warnings")
    assert Event.objects.last().title == "noted a finding"
    page.locator("#findings .finding", has_text="Kiln 3").get_by_role("link", name="Show").click()
    expect(page.locator("#chain h2")).to_have_text("Kiln 3, test kiln")


def test_compared_with_another_edition_and_family(bench):
    page = bench()
    for book, differs in (("NEC 2017", 0), ("IEC 60364 / BS 7671:2018+A2:2022", 1)):
        page.get_by_text("Compare", exact=True).click()
        page.get_by_role("button", name=book).click()
        expect(page.locator("#compare")).to_contain_text(book)
        assert (page.locator("#compare .differs").count() > 0) == bool(differs)
        page.get_by_role("dialog", name="Compare").get_by_role("button", name="close").click()


def test_nothing_scrolls_sideways_and_a_phone_has_three_sheets(bench):
    page = bench()
    assert page.evaluate("document.documentElement.scrollWidth") == 1280
    phone = bench(width=390, height=844)
    assert phone.evaluate("document.documentElement.scrollWidth") == 390
    row(phone, "Kiln 1").get_by_role("link").click()
    expect(phone.locator("#chain")).to_be_visible()
    expect(phone.locator("#tree")).to_be_hidden()
    phone.get_by_role("link", name="Circuits", exact=True).first.click()
    expect(phone.locator("#tree")).to_be_visible()
    phone.get_by_role("link", name="View", exact=True).click()
    phone.locator("#tab-schedule").click()
    expect(phone.locator(".schedule")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") == 390  # the table scrolls inside itself


def test_the_screen_and_the_command_line_give_the_same_figures(bench, pottery):
    node = solve_document(sample("cinder-lane"))["nodes"]["shed"]
    page = bench(at="shed")
    expect(value(page, "device")).to_contain_text(f"{node['device_a']:.0f} A")
    expect(value(page, "conductor")).to_contain_text(f"{node['conductor']['size']} AWG")
    expect(value(page, "current")).to_contain_text(f"{max(node['amps'].values()):.1f}")
    assert Job.objects.get(pk=pottery.pk).version == 0
