"""What a hand reaches for: several at once, copy and paste, the schedule as a sheet, finding, the drawing, touch."""

from playwright.sync_api import expect

from tests.browser.parts import open_link, row, value
from tests.web.bench import document

PASTE = """([selector, text]) => {
    const data = new DataTransfer(); data.setData("text/plain", text);
    const to = selector ? document.querySelector(selector) : document.body;
    to.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));
}"""


TOO_SMALL = """() => [...document.querySelectorAll("button, a:not(.skip, .row-name), input, select")].filter((each) => {
    const box = each.getBoundingClientRect();
    const shown = box.width && box.right > 0 && box.bottom > 0 && box.top < innerHeight;
    return shown && !each.matches(".fold") && (box.height < 43.5 || box.width < 43.5);
}).map((each) => `${each.tagName} ${each.className} ${each.textContent.trim().slice(0, 20)}`)"""


def lengths(job, *keys):
    return [document(job)["nodes"][key].get("run", {}).get("length") for key in keys]


def test_several_are_taken_set_moved_and_deleted_together(bench, pottery):
    page = bench(at="k1")
    row(page, "Kiln 3").click(modifiers=["Control"])
    expect(page.locator("#many")).to_contain_text("2 taken together")
    page.get_by_label("What to set of all of them").select_option(label="One-way length")
    page.get_by_label("Value", exact=True).fill("88")
    page.keyboard.press("Enter")
    expect(page.locator("#seen-version")).to_have_value("1")
    assert lengths(pottery, "k1", "k2", "k3") == ["88 ft", "75 ft", "88 ft"]
    page.get_by_role("button", name="let go").click()
    expect(page.locator("#many")).to_be_hidden()
    row(page, "Kiln 1").get_by_role("link").click()
    row(page, "Kiln 1").get_by_role("link").focus()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    expect(page.locator("#many")).to_contain_text("3 taken together")
    page.get_by_label("Where to").select_option(label="Glaze shed")
    for taken in ("4 taken together", "3 taken together"):  # drawn anew: where to stays as it was chosen
        row(page, "Pug mill").click(modifiers=["Control"])
        expect(page.locator("#many")).to_contain_text(taken)
    expect(page.get_by_label("Where to")).to_have_value("shed")
    page.locator("#many").get_by_role("button", name="Move").click()
    expect(row(page, "Kiln 2")).to_have_attribute("data-parent", "shed")
    page.locator("body").press("u")
    expect(row(page, "Kiln 2")).to_have_attribute("data-parent", "mdp")
    row(page, "Kiln 1").get_by_role("link").click()
    row(page, "Kiln 2").click(modifiers=["Shift"])
    row(page, "Kiln 2").get_by_role("link").focus()
    page.keyboard.press("Delete")
    expect(page.locator("#done")).to_contain_text("2 circuits deleted")
    page.locator("#done").get_by_role("button", name="undo").click()
    expect(row(page, "Kiln 2")).to_be_visible()


def test_a_branch_is_copied_and_pasted_by_keys(bench):
    page = bench(at="shed")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    count = page.locator("#rows .branch").count()
    row(page, "Glaze shed").get_by_role("link").focus()
    page.keyboard.press("Control+c")
    expect(page.locator("#done")).to_contain_text("Copied")
    copied = page.evaluate("navigator.clipboard.readText()")
    below = copied.count('"id"')
    row(page, "Studio board MDP").get_by_role("link").click()
    expect(page.locator("#chain")).to_have_attribute("data-key", "mdp")
    page.keyboard.press("Control+v")
    expect(page.locator("#rows .branch")).to_have_count(count + below)
    page.evaluate(PASTE, ["", "name\tload\tlength\nSaw\t3 kW\t40 ft\nLathe\tlots\t20 ft"])
    expect(page.locator(".list-lines .good")).to_have_count(1)
    expect(page.locator(".list-lines .bad")).to_contain_text("Lathe")


def test_the_schedule_is_worked_like_a_sheet(bench, pottery):
    page = bench(at="mdp")
    page.locator("body").press("4")
    first = page.get_by_label("Length of Kiln 1, front loader")
    first.fill("61 ft")
    first.press("Enter")  # sent, and on to the one below
    expect(page.locator("#seen-version")).to_have_value("1")
    below = page.evaluate("document.activeElement.id")
    assert below != "c-nodes-k1-run-length"
    assert below.endswith("-run-length")
    page.keyboard.press("ArrowUp")
    expect(first).to_be_focused()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_label("Rating of Kiln 1, front loader")).to_be_focused()
    page.evaluate(PASTE, ["#c-nodes-k1-load-rating", "26 kW\t62 ft\n1.5 kVA\t63 ft\n"])
    expect(first).to_have_value("62 ft")
    expect(page.locator("#seen-version")).to_have_value("2")  # four cells, one change
    page.get_by_role("button", name="Description").click()
    names = page.locator(".schedule [data-path$='/name']").evaluate_all("all => all.map(each => each.value)")
    assert names == sorted(names, key=str.casefold)
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("checkbox", name="Material").check()
    metal = page.get_by_label("Material: Kiln 1, front loader")
    expect(metal).to_be_visible()
    expect(page.get_by_role("checkbox", name="Material")).to_be_focused()  # the menu stays open for the next
    page.keyboard.press("Escape")
    metal.select_option("Al")
    expect(page.locator("#way-k1")).to_contain_text("Al")
    assert document(pottery)["nodes"]["k1"]["run"]["material"] == "Al"


def test_found_by_words_and_gone_through_by_arrows(bench):
    page = bench(at="mdp")
    page.locator("body").press("/")
    page.keyboard.press("/")
    expect(page.get_by_role("searchbox", name="Find")).to_be_focused()
    page.keyboard.type("drop 210.19")
    expect(page.locator("#found")).to_contain_text("Yard lighting")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.locator("#chain h2")).to_have_text("Yard lighting")
    page.get_by_role("searchbox", name="Find").fill("kiln heating")
    page.get_by_role("button", name="Take them together").click()
    expect(page.locator("#many")).to_contain_text("3 taken together")


def test_arrows_walk_the_drawing_and_a_double_click_opens(bench):
    page = bench(at="t1")
    page.locator("#lens-body").focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("#chain h2")).to_have_text("Studio board MDP")
    page.keyboard.press("ArrowUp")
    expect(page.locator("#chain h2")).to_have_text("Transformer 150 kVA")
    page.locator('#drawing .g[data-node="shed"] .s-name').first.dblclick()
    expect(page.locator("#lens h2")).to_contain_text("Glaze shed")


def test_a_supply_goes_only_after_what_hangs_on_it_was_shown(bench):
    page = bench(at="src")
    page.get_by_role("button", name="service", exact=True).click()
    expect(page.locator("#rows .branch").last).to_contain_text("Service")
    row(page, "Utility 480 V").get_by_role("link").click()
    row(page, "Utility 480 V").get_by_role("link").focus()
    page.keyboard.press("Delete")
    expect(page.locator("#note-general")).to_contain_text("Utility 480 V feeds Transformer 150 kVA")
    page.get_by_role("button", name="keep").click()
    expect(row(page, "Utility 480 V")).to_be_visible()


def test_a_node_is_carried_by_a_long_touch(bench):
    page = bench(at="mdp", height=1600)
    spots = [row(page, name).bounding_box() for name in ("Kiln 2", "Glaze shed")]
    x, y, to = spots[0]["x"] + 120, spots[0]["y"] + 12, spots[1]["y"] + 12
    page.evaluate(
        """async ([x, y, to]) => {
            const at = (y) => ({ clientX: x, clientY: y, pointerType: "touch", bubbles: true, button: 0 });
            document.elementFromPoint(x, y).dispatchEvent(new PointerEvent("pointerdown", at(y)));
            await new Promise((carried) => {
                const seen = new MutationObserver(() => document.querySelector(".branch.carried") && carried());
                seen.observe(document.getElementById("rows"), { subtree: true, attributes: true });
            });
            document.dispatchEvent(new PointerEvent("pointermove", at(to)));
            document.dispatchEvent(new PointerEvent("pointerup", at(to)));
        }""",
        [x, y, to],
    )
    expect(row(page, "Kiln 2")).to_have_attribute("data-parent", "shed")


def test_a_workshop_with_a_sub_board_is_entered_on_a_phone(open_page):
    page = open_page(390, 844)
    page.goto("/")
    page.get_by_role("button", name="an empty one").click()
    line = page.get_by_label("Add a load")
    lines = [
        "sub-panel Annex 60A 80 ft",
        "range 12 kW 40 ft on Annex",
        "6 receptacles 20A on Annex",
        "spare 20A",
        "air compressor 5 hp 230V 1ph 30 ft",
    ]
    for words in lines:
        line.fill(words)
        expect(page.locator("#walk-said .said-item")).to_be_visible()
        line.press("Enter")
        expect(line).to_have_value("")
    expect(page.locator("#rows .branch")).to_have_count(2 + len(lines))
    small = page.evaluate(TOO_SMALL)
    assert not small, small
    row(page, "Range").click()
    expect(page.locator("#chain h2")).to_have_text("Range")
    assert page.evaluate("document.documentElement.scrollWidth") == 390


def test_what_was_refused_stays_with_its_reason_and_is_not_left_unasked(bench):
    page = bench()
    open_link(page, "load")
    length = page.get_by_label("One-way length")
    length.fill("85 apples")
    length.press("Tab")
    expect(page.locator("#chain .field-note .wrong")).to_contain_text("not a length")
    open_link(page, "conductor")
    page.get_by_label("Set wire size by hand").fill("1")
    page.keyboard.press("Tab")
    expect(value(page, "conductor")).to_contain_text("1 AWG")
    expect(length).to_have_value("85 apples")
    expect(length).to_have_attribute("aria-invalid", "true")
    expect(page.locator("#chain .field-note .wrong")).to_contain_text("not a length")
    before = page.locator("#chain").get_attribute("data-key")
    page.once("dialog", lambda dialog: dialog.dismiss())
    row(page, "Yard lighting").get_by_role("link").click()
    expect(length).to_be_focused()
    assert page.locator("#chain").get_attribute("data-key") == before
    length.fill("85 ft")
    length.press("Tab")
    expect(length).not_to_have_attribute("aria-invalid", "true")
    expect(page.locator("#chain .field-note .wrong")).to_have_count(0)


def test_the_nearest_name_opens_by_enter_and_delete_takes_away_what_is_chosen(bench):
    page = bench()
    name = "Kiln 2, car kiln"
    page.keyboard.press("f")
    page.keyboard.type(name)
    page.keyboard.press("Enter")
    expect(page.locator("#chain-head")).to_contain_text(name)
    expect(page.locator("#found")).to_be_empty()
    key = page.locator("#chain").get_attribute("data-key")
    page.locator(f'#drawing .g[data-node="{key}"] .s-name').first.click()
    page.keyboard.press("Delete")
    expect(page.locator(f"#row-{key}")).to_have_count(0)


def test_what_was_assumed_of_several_is_right_at_one_press(bench):
    page = bench()
    line = page.get_by_label("Add a load")
    for words in ("heater 2 kW 20 ft", "blower 900 W 25 ft"):
        line.fill(words)
        line.press("Enter")
        expect(line).to_have_value("")
    page.locator(".strip-counts").click()
    page.get_by_role("button", name="What was assumed of 2 is right").click()
    expect(page.locator("#findings-list")).not_to_contain_text("Assumed")
