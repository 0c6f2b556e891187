"""How long a quick sheet takes from a key to its new numbers, in a real browser. `./voltaje bench` runs it."""

import shutil
import statistics

from edit_time import served
from playwright.sync_api import sync_playwright

from tests.browser.conftest import FLAGS
from voltaje.tools.asking import places_of
from voltaje.tools.registry import tools

TYPED, WARM_UP = 40, 8
PLACES = {
    "motor-branch": ("nameplate_a", 20),
    "cooking-branch": ("appliances[0].load", 8),
    "run": ("amps", 40),
    "bank": ("supply_v", 480),
    "autotransformer": ("to_v", 230),
    "buck-boost": ("line_v", 206),
    "vector-group": ("high_v", 470),
}

# From the key to the frame in which the new numbers stand; the wait for a next key is part of it.
MEASURE = """async ([place, value]) => {
  const field = document.getElementById("asks").elements[place];
  const begun = performance.now();
  const shown = (resolve) => requestAnimationFrame(() => resolve(performance.now() - begun));
  const once = { once: true };
  const done = new Promise((resolve) => document.addEventListener("htmx:afterSettle", () => shown(resolve), once));
  field.value = value;
  field.dispatchEvent(new Event("input", { bubbles: true }));
  return done;
}"""


def main() -> None:
    """Print a line for each sheet."""
    with served() as (address, _pids), sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        for name, (place, first) in PLACES.items():
            page.goto(f"/quick/{name}/")
            page.get_by_role("link", name="worked example").click()
            page.locator(".heads").wait_for()
            unit = " kW" if name == "cooking-branch" else ""
            values = [f"{first + at * 0.1:.1f}{unit}" for at in range(TYPED + WARM_UP)]
            times = [page.evaluate(MEASURE, [place, value]) for value in values][WARM_UP:]
            p95 = statistics.quantiles(times, n=20)[-1]
            print(
                f"{name:15}: median {statistics.median(times):4.0f} ms, 95th percentile {p95:4.0f} ms "
                f"({len(places_of(tools()[name].example['nec']))} inputs)"
            )
        browser.close()


if __name__ == "__main__":
    main()
