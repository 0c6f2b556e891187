"""The studio of coils in the browser: a phasor diagram laid coil by coil, a boost proposed where a kiln runs cold."""

from playwright.sync_api import expect

from tests.browser.parts import open_link, row, value


def test_a_phasor_diagram_is_laid_coil_by_coil(open_page):
    page = open_page()
    page.goto("/quick/vector-group/?group=Dyn11&high_v=480&low_v=208")
    parts = page.locator("#answer [data-part^=step-]")
    expect(parts).to_have_count(6)
    page.locator("#build").fill("0")
    expect(parts.locator("visible=true")).to_have_count(0)
    for _ in range(4):
        page.get_by_role("button", name="On").click()
    expect(parts.locator("visible=true")).to_have_count(4)
    expect(page.locator(".build-said")).to_contain_text("Coil l1 stands on core 1 with h1: parallel to it")
    page.get_by_role("button", name="Back").click()
    expect(page.locator(".build-said li:visible")).to_contain_text("Coil h3 on core 3")
    page.get_by_label("Group", exact=True).fill("Yz1")
    expect(page.locator(".heads")).to_contain_text("Yz1")
    expect(parts).to_have_count(9)


def test_a_cold_kiln_gets_its_boost_proposed(bench):
    page = bench(at="k3")
    open_link(page, "load")
    page.get_by_role("link", name="how it is found").click()
    expect(page.locator(".heads")).to_contain_text("235.7 V")
    page.get_by_role("link", name="Autotransformer of this").click()
    expect(page.locator(".heads")).to_contain_text("235.7 V")
    expect(page.get_by_role("link", name="Autotransformer")).to_have_attribute("aria-current", "page")


def test_a_boost_is_put_before_the_kiln_with_one_press_and_taken_back(bench):
    page = bench(at="k3")
    open_link(page, "load")
    page.get_by_role("button", name="Put a boost before it").click()
    expect(row(page, "Boost of Kiln 3")).to_have_count(1)
    expect(value(page, "current")).to_contain_text("35.8 A")  # 8 600 / 240
    expect(page.locator("#link-load")).to_contain_text("heats with 92 %")
    expect(page.locator("#link-load")).not_to_contain_text("208 V")
    row(page, "Boost of Kiln 3").get_by_role("link").click()
    expect(value(page, "device")).to_contain_text("70 A")
    page.get_by_role("button", name="terminals").click()
    expect(page.locator("#lens svg")).to_contain_text("L1 out")
    page.get_by_role("button", name="undo").click()
    expect(row(page, "Boost of Kiln 3")).to_have_count(0)


def terminal(page, name):
    return page.locator(f'g[data-do=terminal][data-name="{name}"]')


def test_terminals_are_joined_by_mouse_and_parted_by_keys(open_page):
    page = open_page()
    page.goto("/quick/vector-group/?group=Yy0&high_v=480&low_v=208&ask=a-b")
    joints, heads = page.get_by_label("Joints"), page.locator(".heads")
    for coil, group in (("l1", "symmetrical"), ("l2", "symmetrical"), ("l3", "Yy6")):
        page.locator(f"g[data-do=turnCoil][data-name={coil}]").click()
        expect(heads).to_contain_text(group)
    page.get_by_role("button", name="As it was").click()
    expect(heads).to_contain_text("Yy0")
    terminal(page, "a2").click()
    expect(terminal(page, "a2")).to_have_attribute("aria-pressed", "true")
    terminal(page, "b2").click()
    expect(joints).to_have_value("A2-N; B2-N; C2-N; a2-n; b2-n; c2-n; a2-b2")
    terminal(page, "a2").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".joining-said")).to_contain_text("a2 picked")
    page.keyboard.press("Escape")
    expect(page.locator(".joining-said")).not_to_contain_text("picked")
    for name in ("c2", "n"):
        terminal(page, name).focus()
        page.keyboard.press("Enter")
    expect(joints).to_have_value("A2-N; B2-N; C2-N; a2-n; b2-n; a2-b2")
    expect(heads).to_contain_text("nothing decides the volts of the low side")
    expect(terminal(page, "n")).to_be_focused()


def test_a_coil_turned_round_in_a_closed_delta_says_how_many_volts(open_page):
    page = open_page()
    page.goto("/quick/vector-group/?group=Dd0&high_v=480&low_v=240")
    page.locator("g[data-do=turnCoil][data-name=l2]").click()
    expect(page.locator("#asks")).to_contain_text("480 V stand between them")
    expect(page.locator(".heads")).to_contain_text("Dd0")  # the last good answer stays
    terminal(page, "a2").click()
    terminal(page, "b").click()
    expect(page.locator(".heads")).to_contain_text("not symmetrical")
