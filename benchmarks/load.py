"""Many people on one job: `./voltaje bench` sets up and runs it.

Twenty people edit one job of 500 circuits against the server as it is deployed, each half a second after the answer to
their last edit; then fifty pages that are only open ask whether there is news. Beside them the memory of the processes.
"""

import http.client
import re
import statistics
import sys
import threading
import time
import urllib.parse
from pathlib import Path

sys.path[:0] = [str(Path(__file__).parent)]

from edit_time import peak_mib, served
from solve_time import job_of

import django

django.setup()

from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client
from django.urls import reverse

from web.jobs.keeping import create
from web.jobs.models import Job, Membership, Role
from web.jobs.news import told_to
from web.jobs.files.openfile import from_open

PEOPLE, CIRCUITS, SECONDS, THINKS = 20, 500, 40.0, 0.5
PAGES, ASK_EVERY = 50, 5.0


class Person:
    """One who types a length, waits for the numbers, thinks, and types another."""

    def __init__(self, host: str, job: Job, number: int):
        self.host, self.job, self.number = host, job, number
        user = get_user_model().objects.create_user(f"load{number}")
        Membership.objects.get_or_create(job=job, user=user, defaults={"role": Role.EDITOR})
        client = Client()
        client.force_login(user)
        self.cookie = "sessionid=" + client.cookies["sessionid"].value + "; csrftoken=" + "a" * 32
        self.connection = http.client.HTTPConnection(host, timeout=60)
        self.times, self.failed, self.version = [], 0, 0
        self.shown = ""

    def ask(self, method: str, path: str, fields: dict | None = None) -> str:
        """Return the answer's text; "" where it failed."""
        headers = {"Cookie": self.cookie, "HX-Request": "true", "X-CSRFToken": "a" * 32}
        headers["Content-Type"] = "application/x-www-form-urlencoded"
        body = urllib.parse.urlencode(fields or {})
        try:
            self.connection.request(method, path, body, headers)
            answer = self.connection.getresponse()
        except (BrokenPipeError, http.client.RemoteDisconnected):
            # The server does not keep an idle connection for long.
            self.connection.close()
            self.connection.request(method, path, body, headers)
            answer = self.connection.getresponse()
        text = answer.read().decode()
        self.failed += answer.status not in (http.client.OK, http.client.NO_CONTENT)
        return text

    def look(self) -> None:
        """Open the page, and remember what it shows."""
        text = self.ask("GET", f"{reverse('workbench', args=[self.job.pk])}?at=n{self.number}")
        frames = re.findall(r'id="(tree|lens|chain)"[^>]*data-frame="([^"]+)"', text)
        pieces = re.findall(r'id="([\w-]+)" data-is="(\w+)"', text)
        self.frames = " ".join(f"{name}@{frame}" for name, frame in frames)
        self.pieces = dict(pieces)
        self.version = int(re.search(r'name="version" value="(\d+)"', text)[1])

    def type(self, at: int) -> None:
        """Change a length."""
        shown = " ".join([self.frames, *(f"{key}:{digest}" for key, digest in self.pieces.items())])
        me = self.number
        fields = {"version": self.version, "at": f"n{me}", "lens": "path", "shown": shown, "page": f"p{me}"}
        fields |= {"path": f"nodes/n{me}/run/length", "value": f"{40 + at % 50} ft", "once": f"{me}-{at}"}
        begun = time.perf_counter()
        text = self.ask("POST", reverse("edit", args=[self.job.pk]), fields)
        self.times.append(time.perf_counter() - begun)
        self.pieces |= dict(re.findall(r'id="([\w-]+)" data-is="(\w+)"', text))
        found = re.search(r'name="version" value="(\d+)"', text)
        self.version = int(found[1]) if found else self.version

    def work(self, until: float) -> None:
        """Edit until the time is over."""
        at = 0
        while time.perf_counter() < until:
            self.type(at)
            at += 1
            time.sleep(THINKS)


def cpu_seconds(pids) -> float:
    """Return the processor time that processes have used [s]."""
    ticks = 0
    for pid in pids:
        parts = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        ticks += int(parts[11]) + int(parts[12])
    return ticks / 100


def main() -> None:
    """Print what 20 people wait, and what 50 open pages cost."""
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    owner = get_user_model().objects.create_user("owner")
    job = create(owner, from_open({**job_of(CIRCUITS), "name": "Load"}))
    with served() as (address, pids):
        host = address.removeprefix("http://")
        people = [Person(host, job, number) for number in range(1, PEOPLE + 1)]
        for person in people:
            person.look()
            person.type(0)
            person.times.clear()
        until = time.perf_counter() + SECONDS
        threads = [threading.Thread(target=person.work, args=(until,)) for person in people]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        times = sorted(each for person in people for each in person.times)
        p95 = statistics.quantiles(times, n=20)[-1]
        failed = sum(person.failed for person in people)
        print(
            f"{PEOPLE} people on {CIRCUITS} circuits: {len(times) / SECONDS:.1f} edits/s, "
            f"median {statistics.median(times):.2f} s, 95th percentile {p95:.2f} s, most {times[-1]:.2f} s, "
            f"failed {failed}; largest process {max(peak_mib(pid) for pid in pids()):.0f} MiB"
        )
        by = urllib.parse.quote(told_to(job, owner))
        path = reverse("news", args=[job.pk]) + f"?since={Job.objects.get().version}&by={by}"
        before, begun = cpu_seconds(pids()), time.perf_counter()
        rounds = 5
        for _ in range(rounds):
            for person in people[:1] * PAGES:
                person.ask("GET", path)
                time.sleep(ASK_EVERY / PAGES)
        share = (cpu_seconds(pids()) - before) / (time.perf_counter() - begun)
        print(f"{PAGES} open pages that ask every {ASK_EVERY:.0f} s: {share * 100:.1f} % of a core")


if __name__ == "__main__":
    main()
