"""How long an edit takes from the browser's request to its new numbers: `./voltaje bench` sets up and runs it.

For jobs of 50, 500 and 2,000 circuits: 95th percentile of edit to screen in a real browser against the server as it
is deployed, queries of one edit, memory of its largest process. Beside them a plain loop: how fast the machine is.
"""

import os
import re
import shutil
import signal
import socket
import statistics
import subprocess
import sys
import time
import urllib.error
import urllib.request
from contextlib import contextmanager, suppress
from pathlib import Path

ROOT = Path(__file__).parent.parent
sys.path[:0] = [str(ROOT), str(Path(__file__).parent)]
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings")
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

import django

django.setup()

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from playwright.sync_api import sync_playwright
from solve_time import job_of

from tests.browser.conftest import FLAGS
from web.jobs.keeping import create
from web.jobs.files.openfile import from_open

SIZES = (50, 500, 2_000)
EDITS, WARM_UP = 40, 8
PASSWORD = "copper-and-verdigris"  # noqa: S105

# From the moment the field is left to the frame in which the new numbers stand.
MEASURE = """async ([key, value]) => {
  const input = document.getElementById(`f-nodes-${key}-run-length`);
  const begun = performance.now();
  const shown = (resolve) => requestAnimationFrame(() => resolve(performance.now() - begun));
  const once = { once: true };
  const done = new Promise((resolve) => document.addEventListener("htmx:afterRequest", () => shown(resolve), once));
  input.value = value;
  input.dispatchEvent(new Event("change", { bubbles: true }));
  return done;
}"""


def main() -> None:
    """Print a line for each size."""
    begun = time.perf_counter()
    for _ in range(1_000_000):
        pass
    print(f"a plain loop of a million turns: {(time.perf_counter() - begun) * 1000:.0f} ms")
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    user = get_user_model().objects.create_user("bench", password=PASSWORD)
    with served() as (address, pids), sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        page.goto(reverse("sign-in"))
        page.get_by_label("Username").fill("bench")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        for circuits in SIZES:
            measure(page, user, circuits)
            most = max(peak_mib(pid) for pid in pids())
            print(f"{circuits:6} circuits: {most:.0f} MiB in the largest process so far")
        turn_legs(page, user)
        browser.close()  # the database of the tests stays; the next run of the tests takes its place


@contextmanager
def served():
    """Serve on the database of the tests as the product does; give the address, and what tells the processes."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        address = f"127.0.0.1:{free.getsockname()[1]}"
    name = settings.DATABASES["default"]["NAME"]
    url = re.sub(r"/[^/?]+(?=$|\?)", f"/{name}", os.environ["DATABASE_URL"])
    more = {"DATABASE_URL": url, "PYTHONPATH": str(ROOT / "src"), "MALLOC_ARENA_MAX": "2"}
    python = [sys.executable, "-m"]
    subprocess.run([*python, "web.manage", "collectstatic", "--noinput", "-v0"], env={**os.environ, **more}, check=True)  # noqa: S603
    configured = str(ROOT / "src/web/config/gunicorn.py")
    command = [*python, "gunicorn", "web.config.wsgi", "--config", configured, "--bind", address]
    server = subprocess.Popen(command, env={**os.environ, **more}, stderr=subprocess.DEVNULL)  # noqa: S603
    try:
        while True:
            with suppress(urllib.error.URLError, OSError):
                urllib.request.urlopen(f"http://{address}/health/", timeout=5)
                break
            time.sleep(0.1)
        children = Path(f"/proc/{server.pid}/task/{server.pid}/children")
        yield f"http://{address}", lambda: children.read_text().split()
    finally:
        server.send_signal(signal.SIGTERM)
        server.wait()


def peak_mib(pid: str) -> float:
    """Return the most memory that a process has held [MiB]."""
    status = Path(f"/proc/{pid}/status").read_text()
    return int(re.search(r"VmHWM:\s+(\d+)", status)[1]) / 1024


def measure(page, user, circuits: int) -> None:
    """Measure edits of one job."""
    raw = job_of(circuits)
    raw["nodes"][1:] = [{**node, "name": node["id"]} for node in raw["nodes"][1:]]
    job = create(user, from_open({**raw, "name": f"Benchmark {circuits}"}))
    for lens in ("schedule", "path", "legs", "volts"):
        page.goto(f"{reverse('workbench', args=[job.pk])}?at=n7&lens={lens}")
        page.locator("#link-drop > summary").click()
        times = [page.evaluate(MEASURE, ["n7", f"{40 + at} ft"]) for at in range(EDITS + WARM_UP)][WARM_UP:]
        p95 = statistics.quantiles(times, n=20)[-1]
        print(
            f"{circuits:6} circuits, {lens:8}: median {statistics.median(times):6.0f} ms, 95th percentile {p95:6.0f} ms"
        )
    client = Client(headers={"host": "localhost"})
    client.force_login(user)
    fields = {"path": "nodes/n7/run/length", "value": "99 ft", "version": 10_000, "at": "n7", "lens": "path"}
    with CaptureQueriesContext(connection) as queries:
        client.post(reverse("edit", args=[job.pk]), fields)
    print(f"{circuits:6} circuits: {len(queries)} queries an edit")


# A circuit sent to the next leg by its key, to the frame in which lanes, neutral and chain stand.
TURN = """async () => {
  const begun = performance.now();
  const shown = (resolve) => requestAnimationFrame(() => resolve(performance.now() - begun));
  const once = { once: true };
  const done = new Promise((resolve) => document.addEventListener("htmx:afterRequest", () => shown(resolve), once));
  document.getElementById("tab-legs").dispatchEvent(new KeyboardEvent("keydown", { key: "]", bubbles: true }));
  return done;
}"""
LEGS_OF = 84


def turn_legs(page, user) -> None:
    """Measure a circuit of a board of 84 ways going from leg to leg."""
    raw = job_of(LEGS_OF)
    raw["nodes"] = [
        {**node, "name": node["id"], **({"parent": "b0"} if node["kind"] == "load" else {})}
        for node in raw["nodes"]
        if node["id"] != "b1"
    ]
    job = create(user, from_open({**raw, "name": "Benchmark legs"}))
    page.goto(f"{reverse('workbench', args=[job.pk])}?at=n7&lens=legs")
    times = [page.evaluate(TURN) for _ in range(EDITS + WARM_UP)][WARM_UP:]
    p95 = statistics.quantiles(times, n=20)[-1]
    print(f"{LEGS_OF:6} ways, a leg turned: median {statistics.median(times):6.0f} ms, 95th percentile {p95:6.0f} ms")


if __name__ == "__main__":
    main()
