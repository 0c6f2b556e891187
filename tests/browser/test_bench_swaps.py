"""What an edit swaps on the page, and what it must leave alone: focus, folds, half-typed words, other people's work."""

import itertools
import re

from django.urls import reverse
from playwright.sync_api import expect

from tests.browser.parts import open_link, row, value
from web.jobs import rows
from web.jobs.models import Event, Job, Membership, Role


def at_lens(page, pottery, lens, at="mdp"):
    """Open the workbench at a node and a lens."""
    page.goto(f"{reverse('workbench', args=[pottery.pk])}?at={at}&lens={lens}")
    page.locator(f"#tab-{lens}[aria-selected=true]").wait_for()


def cell(page, name, what="Length"):
    return page.get_by_label(f"{what} of {name}", exact=True)


def shown(page):
    """Every word and figure of the three columns, and how the drawing stands."""
    words = page.evaluate(
        """() => ["tree", "lens", "chain"].map((id) => [...document.querySelectorAll(`#${id} *`)]
          .filter((each) => each.childElementCount === 0)
          .map((each) => [each.tagName, each.value ?? each.textContent, each.getAttribute("d"), each.getAttribute("y2")]
            .join("|").replace("●", "")))"""
    )
    places = page.evaluate(
        """() => [...document.querySelectorAll("#drawing .g")].map((each) => each.getAttribute("transform"))"""
    )
    return [*itertools.chain(*words), *places]


def kept(pottery, *path):
    document = rows.document_of(Job.objects.get(pk=pottery.pk))["nodes"]
    for key in path:
        document = document[key]
    return document


def test_a_late_answer_takes_no_keys_away(bench):
    page, held = bench(), []

    def hold(route):
        held.append(route)

    page.route(re.compile("/region/"), hold, times=1)
    with page.expect_request(re.compile("/region/")):
        page.locator("#tab-schedule").click()
    line = page.locator("#walk-line")
    line.fill("kettle 2 kW 120 V 15 ft")
    held[0].continue_()
    expect(page.locator("#tab-schedule")).to_have_attribute("aria-selected", "true")
    expect(line).to_be_focused()
    page.keyboard.press("Enter")
    expect(row(page, "Kettle")).to_be_visible()


def test_a_page_after_many_edits_is_the_page_drawn_anew(bench, pottery):
    page = bench()
    open_link(page, "load")
    page.get_by_label("Rating each").fill("31 kW")
    page.keyboard.press("Enter")
    expect(value(page, "load")).to_contain_text("31 kVA")
    page.locator("#tab-schedule").click()
    cell(page, "Yard lighting").fill("20 ft")
    page.keyboard.press("Tab")
    expect(page.locator("#way-l6 .sign.holds")).to_be_visible()
    page.locator("#tab-path").click()
    page.locator("#walk-line").fill("kettle 2 kW 120 V 15 ft")
    page.keyboard.press("Enter")
    expect(row(page, "Kettle")).to_be_visible()
    row(page, "Kiln 1").get_by_role("link").click()
    expect(page.locator("#chain")).to_have_attribute("data-key", "k1")
    page.locator("body").press("J")
    expect(page.locator("#rows .branch").nth(3)).to_contain_text("Kiln 2")
    for lens in ("path", "schedule"):
        page.locator(f"#tab-{lens}").click()
        expect(page.locator(f"#tab-{lens}")).to_have_attribute("aria-selected", "true")
        before = shown(page)
        page.reload()
        page.locator("#link-earth").wait_for(state="attached")
        assert shown(page) == before


def test_edits_faster_than_their_answers_are_all_kept_in_their_order(bench, pottery):
    page = bench()
    at_lens(page, pottery, "schedule")
    page.evaluate(
        """() => {
          for (const [key, feet] of [["k1", 61], ["k2", 62], ["k3", 63], ["l1", 64], ["k1", 65], ["k1", 66]]) {
            const input = document.getElementById(`c-nodes-${key}-run-length`);
            input.value = `${feet} ft`;
            input.dispatchEvent(new Event("change", { bubbles: true }));
          }
        }"""
    )
    expect(cell(page, "Kiln 1, front loader")).to_have_value("66 ft")
    expect(page.locator("#way-k1")).to_have_attribute("data-is", re.compile("."))
    expect(page.locator("#seen-version")).to_have_value("6")
    lengths = [kept(pottery, key, "run", "length") for key in ("k1", "k2", "k3", "l1")]
    assert lengths == ["66 ft", "62 ft", "63 ft", "64 ft"]
    before = shown(page)
    page.reload()
    page.locator("#way-k1").wait_for()
    assert shown(page) == before


def test_focus_goes_on_to_the_next_field_and_what_is_typed_there_stays(bench):
    page = bench()
    open_link(page, "drop")
    open_link(page, "load")
    page.get_by_label("Rating each").fill("26")
    page.keyboard.press("Tab")
    page.keyboard.type("2")  # before the answer has come
    expect(value(page, "load")).to_contain_text("26 kVA")
    expect(page.get_by_label("Quantity")).to_be_focused()
    expect(page.get_by_label("Quantity")).to_have_value("2")
    for link in ("drop", "load"):
        assert page.locator(f"#link-{link}").get_attribute("open") is not None
    page.keyboard.press("Enter")
    expect(value(page, "load")).to_contain_text("52 kVA")


def test_what_is_folded_comes_when_it_is_unfolded(bench):
    page = bench()
    open_link(page, "load")
    page.get_by_label("Rating each").fill("26")
    page.keyboard.press("Enter")
    expect(value(page, "load")).to_contain_text("26 kVA")
    folded = page.locator("#link-current")
    expect(folded).to_have_attribute("data-later", re.compile("as it was"))
    assert "26,000" not in folded.locator(".steps").text_content()
    open_link(page, "current")
    expect(folded).not_to_have_attribute("data-later", re.compile("."))
    expect(folded.locator(".steps")).to_contain_text("26,000")
    expect(folded.locator("summary")).to_be_focused()


def test_what_a_cell_cannot_take_stays_in_it_and_is_said_with_its_place(bench, pottery):
    page = bench()
    at_lens(page, pottery, "schedule")
    cell(page, "Kiln 1, front loader").fill("far")
    page.keyboard.press("Enter")
    expect(page.locator("#note-general")).to_contain_text(
        "Kiln 1, front loader · one-way length: far does not begin with a number"
    )
    expect(cell(page, "Kiln 1, front loader")).to_have_value("far")
    cell(page, "Kiln 2, car kiln").fill("80 ft")
    page.keyboard.press("Enter")
    expect(page.locator("#way-k2")).to_contain_text("90 A")
    expect(page.locator("#note-general")).to_be_empty()
    expect(cell(page, "Kiln 1, front loader")).to_have_value("far")
    cell(page, "Kiln 1, front loader").fill("90 ft")
    page.keyboard.press("Enter")
    expect(page.locator("#seen-version")).to_have_value("2")
    assert kept(pottery, "k1", "run", "length") == "90 ft"


def test_two_people_in_one_cell_of_the_schedule(bench, ben, pottery):
    Membership.objects.create(job=pottery, user=ben, role=Role.EDITOR)
    mine, theirs = bench(), bench("ben")
    for page in (mine, theirs):
        at_lens(page, pottery, "schedule")
    cell(theirs, "Kiln 1, front loader").fill("70 ft")
    theirs.keyboard.press("Enter")
    expect(theirs.locator("#seen-version")).to_have_value("1")
    cell(mine, "Kiln 1, front loader").fill("75 ft")
    mine.keyboard.press("Enter")
    expect(mine.locator("#note-general")).to_contain_text("ben set this to “70 ft” meanwhile")
    expect(cell(mine, "Kiln 1, front loader")).to_have_value("75 ft")
    mine.get_by_role("button", name="keep mine").click()
    expect(mine.locator("#seen-version")).to_have_value("2")
    assert kept(pottery, "k1", "run", "length") == "75 ft"
    # What the other person changed elsewhere has come along with one's own edit.
    cell(theirs, "Water heater").fill("44 ft")
    theirs.keyboard.press("Enter")
    expect(cell(theirs, "Kiln 1, front loader")).to_have_value("75 ft")


def test_a_name_is_changed_where_it_stands_or_left(bench, pottery):
    page = bench()
    row(page, "Kiln 1").dblclick()
    page.locator("input.rename").fill("Gas kiln")
    page.keyboard.press("Escape")
    expect(row(page, "Kiln 1, front loader")).to_be_visible()
    row(page, "Kiln 1").dblclick()
    page.locator("input.rename").fill("Kiln 1 <b>&amp; shelf</b>")
    page.keyboard.press("Enter")
    expect(row(page, "Kiln 1 <b>&amp; shelf</b>")).to_be_visible()
    expect(page.locator("#drawing .g[data-node=k1]")).to_contain_text("<b>&amp;")
    assert Event.objects.get().title.startswith("Kiln 1, front loader: name Kiln 1, front loader →")


def test_folds_of_the_path_outlast_edits_and_reloads(bench):
    page = bench(at="sl1")
    page.locator("#row-shed .fold").click()
    expect(row(page, "Booth lighting")).to_be_hidden()
    open_link(page, "load")
    page.get_by_label("One-way length").fill("41 ft")
    page.keyboard.press("Enter")
    expect(page.get_by_label("One-way length")).to_have_value("41 ft")
    expect(row(page, "Booth lighting")).to_be_hidden()
    page.reload()
    expect(row(page, "Booth lighting")).to_be_hidden()
    page.locator("#row-shed .fold").click()
    expect(row(page, "Booth lighting")).to_be_visible()


def test_the_drawing_is_made_larger_smaller_fitted_and_keeps_its_size_over_an_edit(bench):
    page = bench()

    def width():
        return int(page.locator("#drawing").get_attribute("width"))

    fitted = width()
    page.get_by_label("Larger").click()
    larger = width()
    assert larger > fitted * 1.2
    open_link(page, "load")
    page.get_by_label("Rating each").fill("25 kW")
    page.keyboard.press("Enter")
    expect(value(page, "load")).to_contain_text("25 kVA")
    assert width() == larger
    page.get_by_label("Smaller").click()
    page.get_by_label("Smaller").click()
    assert width() < fitted
    page.get_by_role("button", name="fit").click()
    assert width() == fitted


def test_a_schedule_goes_out_and_comes_back(bench, pottery):
    page = bench(at="shed")
    page.get_by_text("Export & more", exact=True).click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Schedule of this board as CSV").click()
    text = download.value.path().read_text("utf-8")
    page.get_by_text("Export & more", exact=True).click()
    page.get_by_role("button", name="Paste a list of loads").click()
    longer = text.replace("Booth lighting,lighting,600 VA", "Booth lighting,lighting,700 VA")
    assert longer != text
    page.get_by_label("The list", exact=True).fill(longer)
    page.get_by_role("button", name="Check").click()
    expect(page.locator(".list-lines .good")).to_have_count(7)
    expect(page.locator(".list-lines .good").first).to_contain_text("will update the existing load")
    page.get_by_role("button", name="Add 7 loads").click()
    expect(page.locator("#seen-version")).to_have_value("1")
    assert kept(pottery, "sl2", "load", "rating") == "700 VA"
    assert len(kept(pottery)) == 37


def test_settings_change_what_every_link_cites(bench, pottery, ben):
    page = bench()
    page.get_by_role("link", name="NEC 2020").click()
    page.get_by_label("Code (edition)").select_option("NEC 2023")
    page.get_by_label("Terminals").select_option("75")
    page.get_by_label("Temperatures in").select_option("F")
    page.get_by_label("Default ambient").fill("104")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator(".effects")).to_contain_text("this would change")  # shown before it is kept
    expect(page.locator(".effects")).to_contain_text("Kiln 2")
    page.get_by_role("button", name="Save it so").click()
    expect(page.get_by_label("Default ambient")).to_have_value("104 °F")
    page.locator("#amendment-limit").select_option("least_size_cu")
    page.locator("#amendment-value").fill("2")
    page.locator("#amendment-reason").fill("county rule 7")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("county rule 7")).to_be_visible()
    page.get_by_label("Username").fill("ben")
    page.get_by_role("button", name="Share").click()
    expect(page.get_by_text("ben Viewer")).to_be_visible()
    page.get_by_role("link", name="Cinder Lane Pottery").click()
    row(page, "Kiln 2").get_by_role("link").click()
    expect(value(page, "conductor")).to_contain_text("2 AWG Cu")
    open_link(page, "conductor")
    expect(page.locator("#link-conductor .steps")).to_contain_text("110.14(C)")
    expect(page.locator("#chain .caution")).to_contain_text("NEC 2023")
