"""A long time under load: `./voltaje soak MINUTES` sets up and runs it.

Twenty people edit one job of 500 circuits, half a second apart, while fifty pages ask for news and a web process
is killed every five minutes. Told at the end: what people waited, what failed, memory at start and end, and whether
everything that was acknowledged is there.
"""

import http.client
import itertools
import os
import random
import signal
import statistics
import sys
import threading
import time
import urllib.parse
from contextlib import suppress
from pathlib import Path

sys.path[:0] = [str(Path(__file__).parent)]

from edit_time import served
from load import ASK_EVERY, CIRCUITS, PAGES, PEOPLE, THINKS, Person
from solve_time import job_of

import django

django.setup()

from django.contrib.auth import get_user_model
from django.db import connection
from django.urls import reverse

from web.jobs.keeping import create
from web.jobs.models import Job
from web.jobs.news import told_to
from web.jobs.files.openfile import from_open
from web.jobs.rows import document_of

KILL_EVERY = 300.0
_LOST = (ConnectionError, http.client.HTTPException, TimeoutError, OSError)


class Stayer(Person):
    """One who sends an edit again until it is answered, as a page does; remembers what was acknowledged last."""

    def __init__(self, host: str, job: Job, number: int):
        super().__init__(host, job, number)
        self.acknowledged, self.sent, self.again = "", "", 0

    def stay(self, until: float) -> None:
        """Edit until the time is over."""
        for at in itertools.count(1):
            if time.perf_counter() > until:
                return
            self.sent = f"{40 + at % 50} ft"
            while True:
                failed = self.failed
                with suppress(*_LOST):
                    self.type(at)
                    if self.failed == failed:
                        break
                self.again += 1
                self.connection.close()
                time.sleep(0.2)
            self.acknowledged = self.sent
            time.sleep(THINKS)


class Idler(threading.Thread):
    """Pages that are only open, and ask whether there is news."""

    def __init__(self, host: str, path: str, until: float):
        super().__init__(daemon=True)
        self.host, self.path, self.until, self.asked, self.refused = host, path, until, 0, 0

    def run(self) -> None:
        """Ask, in turn for each of the pages."""
        while time.perf_counter() < self.until:
            with suppress(*_LOST):
                asks = http.client.HTTPConnection(self.host, timeout=30)
                asks.request("GET", self.path)
                self.refused += asks.getresponse().status not in (http.client.OK, http.client.NO_CONTENT)
                self.asked += 1
                asks.close()
            time.sleep(ASK_EVERY / PAGES)


def resident_mib(pids) -> float:
    """Return what processes hold together [MiB]."""
    held = 0
    for pid in pids:
        with suppress(OSError):
            held += int(Path(f"/proc/{pid}/statm").read_text().split()[1])
    return held * os.sysconf("SC_PAGE_SIZE") / 2**20


def main() -> None:
    """Print how it went; end with an error where anything acknowledged is not there."""
    seconds = float(sys.argv[1]) * 60 if len(sys.argv) > 1 else 3_600.0
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    owner = get_user_model().objects.create_user("owner")
    job = create(owner, from_open({**job_of(CIRCUITS), "name": "Soak"}))
    with served() as (address, pids):
        host = address.removeprefix("http://")
        people = [Stayer(host, job, number) for number in range(1, PEOPLE + 1)]
        for person in people:
            person.look()
            person.type(0)
            person.times.clear()
        begun = time.perf_counter()
        until = begun + seconds
        by = urllib.parse.quote(told_to(job, owner))
        idler = Idler(host, reverse("news", args=[job.pk]) + f"?since=0&by={by}", until)
        threads = [idler, *(threading.Thread(target=person.stay, args=(until,)) for person in people)]
        for thread in threads:
            thread.start()
        time.sleep(min(30.0, seconds / 4))
        at_start, kills = resident_mib(pids()), 0
        every = min(KILL_EVERY, seconds / 3)
        while (left := until - time.perf_counter()) > every / 2:
            time.sleep(min(every, left))
            if time.perf_counter() < until - 1:
                os.kill(int(random.choice(pids())), signal.SIGKILL)  # noqa: S311
                kills += 1
        for thread in threads:
            thread.join()
        report(people, idler, seconds, kills, (at_start, resident_mib(pids())))
    lost = lost_of(people, Job.objects.get())
    print(f"acknowledged and not there: {len(lost)}{': ' + ', '.join(lost) if lost else ''}")
    sys.exit(bool(lost))


def report(people: list[Stayer], idler: Idler, seconds: float, kills: int, mib: tuple[float, float]) -> None:
    """Print what it was like."""
    times = sorted(each for person in people for each in person.times)
    p95 = statistics.quantiles(times, n=20)[-1]
    failed, again = sum(person.failed for person in people), sum(person.again for person in people)
    print(
        f"{seconds / 60:.0f} min, {PEOPLE} people on {CIRCUITS} circuits: {len(times)} edits, median "
        f"{statistics.median(times):.2f} s, 95th percentile {p95:.2f} s, most {times[-1]:.2f} s; {failed} failed, "
        f"{again} sent again over {kills} kills; {idler.asked} questions of {PAGES} idle pages, {idler.refused} refused; "  # noqa: E501
        f"memory of the web processes {mib[0]:.0f} MiB at the start, {mib[1]:.0f} at the end"
    )


def lost_of(people: list[Stayer], job: Job) -> list[str]:
    """Return what was acknowledged last and does not stand; what was sent after it may stand in its place."""
    nodes = document_of(job)["nodes"]
    return [
        f"n{person.number}: {person.acknowledged}, stands {nodes[f'n{person.number}']['run']['length']}"
        for person in people
        if nodes[f"n{person.number}"]["run"]["length"] not in (person.acknowledged, person.sent)
    ]


if __name__ == "__main__":
    main()
