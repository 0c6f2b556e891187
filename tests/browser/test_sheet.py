"""The dwelling sheet as a person works it."""

import re

from playwright.sync_api import expect

from web.jobs.models import Job


def total(page):
    return page.locator("#line-total .line-figures b")


def figure(page, method):
    return page.get_by_role("button", name=f"{method} method").locator(".method-figure")


def test_figures_follow_what_is_typed(sheet):
    page = sheet()
    expect(total(page)).to_have_text("53,354")
    page.get_by_label("Dryer", exact=True).fill("6.4 kW")
    expect(total(page)).to_have_text("54,354")
    expect(figure(page, "Optional")).to_contain_text("38,166")  # 37,766 + 40 % of 1,000
    expect(page.locator("#link-current .link-value")).to_contain_text("226")
    page.reload()
    expect(total(page)).to_have_text("54,354")
    expect(page.get_by_label("Dryer", exact=True)).to_have_value("6.4 kW")


def test_what_is_typed_before_the_page_is_ready_counts_too(sheet):
    page, held = sheet(), []
    page.route("**/htmx.min*.js", lambda route: held.append(route))  # noqa: PLW0108
    with page.expect_request("**/htmx.min*.js"):
        page.evaluate("location.reload()")
    page.get_by_label("Dryer", exact=True).fill("6.4 kW")
    expect(total(page)).to_have_text("53,354")
    held[0].continue_()
    expect(total(page)).to_have_text("54,354")


def test_a_wrong_value_is_said_at_its_field_and_stays_there(sheet):
    page = sheet()
    dryer = page.get_by_label("Dryer", exact=True)
    dryer.fill("6.4 kWh")
    expect(page.locator("#n-nodes-house-dryers-d1-load")).to_contain_text("no unit that a load can have")
    expect(dryer).to_have_value("6.4 kWh")
    expect(total(page)).to_have_text("53,354")
    dryer.fill("6.4")
    expect(page.locator("#n-nodes-house-dryers-d1-load .wrong")).to_have_count(0)
    page.keyboard.press("Tab")
    expect(dryer).to_have_value("6.4 kW")


def test_a_figure_opens_its_steps_and_stays_open(sheet):
    page = sheet()
    page.locator("#line-cooking > summary").click()
    expect(page.locator("#line-cooking")).to_contain_text("(8.2 + 4.1 + 4.1) × 55 %")
    expect(page.locator("#line-cooking")).to_contain_text("column C 14,000 VA")
    page.get_by_label("Cooktop", exact=True).fill("8 kW")
    expect(page.locator("#line-cooking")).to_contain_text("(8 + 4.1 + 4.1) × 55 %")
    page.locator("#link-conductor > summary").click()
    expect(page.locator("#link-conductor")).to_contain_text("300 Al")


def test_an_appliance_comes_and_goes_by_keyboard(sheet):
    page = sheet()
    page.locator("body").press("a")
    expect(page.get_by_label("What it is")).to_be_focused()
    page.keyboard.press("Tab")
    page.keyboard.type("Microwave")
    page.keyboard.press("Tab")
    page.keyboard.type("1.5 kW")
    page.keyboard.press("Enter")
    expect(page.locator("#line-appliances")).to_contain_text("8,157")  # 75 % of 9,376 + 1,500
    expect(page.locator("#add-name")).to_be_focused()
    page.get_by_label("Microwave", exact=True).press("Control+Delete")
    expect(page.locator("#line-appliances")).to_contain_text("7,032")
    expect(page.get_by_label("Microwave", exact=True)).to_have_count(0)


def test_undo_and_redo_survive_a_reload(sheet):
    page = sheet()
    page.get_by_role("button", name="Optional method").click()
    expect(page.locator("#line-general")).to_be_visible()
    page.reload()
    page.locator("body").press("u")
    expect(total(page)).to_have_text("53,354")
    expect(page.locator("#undo")).to_be_disabled()
    page.locator("body").press("U")
    expect(total(page)).to_have_text("37,766")


def test_switches_behind_the_fold(sheet):
    page = sheet()
    page.get_by_label("More of Heat-pump strip heat").click()
    page.get_by_role("button", name="locked out").click()
    expect(page.locator("#line-climate")).to_contain_text("never together; the larger")
    expect(page.locator("#line-climate .line-figures b")).to_have_text("9,600")
    page.locator("#f-job-book").select_option("NEC 2017")
    expect(page.locator("#line-lighting .chip")).to_have_text("220.42")


def test_two_pages_settle_the_same_field(sheet):
    mine, theirs = sheet(), sheet()
    for page in (mine, theirs):  # neither hears of the other before it has typed
        page.route(re.compile(r"/news/\?"), lambda route: route.fulfill(status=204))
    theirs.get_by_label("Dryer", exact=True).fill("7 kW")
    expect(total(theirs)).to_have_text("54,954")
    mine.get_by_label("Dryer", exact=True).fill("6 kW")
    note = mine.locator("#n-nodes-house-dryers-d1-load")
    expect(note).to_contain_text("set this to “7 kW”")
    expect(mine.get_by_label("Dryer", exact=True)).to_have_value("6 kW")
    note.get_by_role("button", name="keep mine").click()
    expect(total(mine)).to_have_text("53,954")
    theirs.get_by_label("Dryer", exact=True).fill("8 kW")
    theirs.get_by_role("button", name="take theirs").click()
    expect(theirs.get_by_label("Dryer", exact=True)).to_have_value("6 kW")
    expect(total(theirs)).to_have_text("53,954")


def test_a_finding_leads_to_its_field(sheet):
    page = sheet()
    page.get_by_label("More of Dishwasher").click()
    page.locator("#f-nodes-house-appliances-a1-volts").select_option("")
    page.locator(".finding", has_text="voltage of Dishwasher").get_by_text("Show").click()
    expect(page.locator("#f-nodes-house-appliances-a1-volts")).to_be_focused()


def test_every_finding_leads_somewhere(sheet):
    page = sheet()
    for link in page.locator("[data-jump]").all():
        link.click()
        expect(page.locator(link.get_attribute("href"))).to_be_focused()


def test_nothing_scrolls_sideways(sheet):
    for width, height in ((1280, 800), (390, 844)):
        page = sheet(width, height)
        assert page.evaluate("document.documentElement.scrollWidth") <= width


def test_the_print_view_holds_every_step_book_and_caution(sheet):
    page = sheet()
    page.get_by_role("link", name="print").click()
    expect(page.locator("body")).to_contain_text("NEC 2023")
    expect(page.locator("body")).to_contain_text("Table values not checked against the printed code")
    expect(page.locator("body")).to_contain_text("(53,354 + 11,520 × 25 %) ÷ 240")


def test_a_new_house_from_the_jobs_page(sheet):
    page = sheet()
    page.get_by_role("link", name="voltaje").click()
    page.get_by_role("link", name="New job").click()
    page.get_by_role("link", name="New house").click()
    page.get_by_label("Name").fill("Second house")
    page.get_by_label("Floor area").fill("1,500")
    page.get_by_role("button", name="Create").click()
    expect(total(page)).to_have_text("5,100")
    expect(page.locator("#link-device .link-value")).to_contain_text("100")
    assert Job.objects.count() == 2


def test_themes(sheet):
    page = sheet()
    for theme, words in (("dark", "dark"), ("sun", "outdoor"), ("paper", "light")):
        page.locator("header .menu > .btn").last.click()
        page.get_by_role("button", name=words).click()
        expect(page.locator("html")).to_have_attribute("data-theme", theme)
