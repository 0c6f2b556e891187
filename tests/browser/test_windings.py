"""The studio of coils in the browser: a phasor diagram laid coil by coil, a boost proposed where a kiln runs cold."""

from playwright.sync_api import expect

from tests.browser.parts import open_link


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
    page.get_by_label("Group").fill("Yz1")
    expect(page.locator(".heads")).to_contain_text("Yz1")
    expect(parts).to_have_count(9)


def test_a_cold_kiln_gets_its_boost_proposed(bench):
    page = bench(at="k3")
    open_link(page, "load")
    page.get_by_role("link", name="propose a boost").click()
    expect(page.locator(".heads")).to_contain_text("235.7 V")
    page.get_by_role("link", name="Autotransformer of this").click()
    expect(page.locator(".heads")).to_contain_text("235.7 V")
    expect(page.get_by_role("link", name="Autotransformer")).to_have_attribute("aria-current", "page")
