"""Processes of a running instance are ended without a word while people edit: what was acknowledged is there, once.

`./voltaje kills 200` does it so many times.
"""

import itertools
import json
import os
import sys
import threading

from tests.ops.instance import Editor, end_at_once

KILLS = int(os.environ.get("VOLTAJE_KILLS", "4"))
PEOPLE = 2


def one_worker(instance):
    _first, workers = instance.server()
    end_at_once(*workers[:1])


def the_server(instance):
    first, workers = instance.server()
    end_at_once(first, *workers)
    (instance.local / "web.pid").write_text(str(os.getpid()))  # the number it had may be another's by then


def one_connection(instance):
    _first, processes = instance.database()
    end_at_once(*processes[-1:])


def the_postmaster(instance):
    first, _processes = instance.database()
    end_at_once(first)


def the_database(instance):
    first, processes = instance.database()
    end_at_once(first, *processes)


def everything(instance):
    the_database(instance)
    the_server(instance)


class Adder(threading.Thread):
    """Adds loads of its own names to one job, each until it is acknowledged."""

    def __init__(self, instance, who, first):
        super().__init__(daemon=True)
        self.editor, self.who, self.first = Editor(instance), who, first
        self.job = self.editor.jobs[0]
        self.acknowledged, self.over, self.unanswered = [], threading.Event(), 0
        self.answered, self.last = threading.Semaphore(0), ""

    def run(self):
        """Say one load after the other; what was not answered is sent again, with the same token."""
        for at in itertools.count(self.first):
            name = f"{self.who}{at}"
            fields = {"version": 9_999_999, "line": f"{name} 10 W", "once": f"token-{name}", "page": self.who}
            while "strip" not in (answer := self.editor.post(f"{self.job}walk/", **fields)):
                self.last = answer[:300]
                self.unanswered += 1
                if self.over.wait(0.05):
                    return
            self.acknowledged.append(name)
            self.answered.release()
            if self.over.is_set():
                return


def answered(people, times, after):
    """Wait until each has been answered so often from now on."""
    for person in people:
        person.answered = threading.Semaphore(0)
    for person in people:
        for _ in range(times):
            assert person.answered.acquire(timeout=60), (after, person.who, person.last)


def test_nothing_acknowledged_is_lost_whatever_is_ended(instance, capsys):
    ways = [one_worker, the_server, one_connection, the_postmaster, the_database, everything]
    acknowledged = resent = 0
    for number, end in zip(range(KILLS), itertools.cycle(ways), strict=False):
        people = [Adder(instance, who, number * 1_000) for who in ("xa", "xb")[:PEOPLE]]
        for person in people:
            person.start()
        answered(people, 2, "at first")
        end(instance)
        instance.run("start")
        answered(people, 2, end.__name__)
        for person in people:
            person.over.set()
            person.join()
        editor = people[0].editor
        kept = [node.get("name") for node in json.loads(editor.get(f"{people[0].job}job.json"))["nodes"]]
        for person in people:
            for name in person.acknowledged:
                assert kept.count(name.capitalize()) == 1, (end.__name__, name)
        acknowledged += sum(len(person.acknowledged) for person in people)
        resent += sum(person.unanswered for person in people)
        for _ in range(len(kept)):  # taken back, so that the job stays as small as it was
            if "nothing of yours" in editor.post(f"{people[0].job}undo/", version=1):
                break
    with capsys.disabled():
        sys.stdout.write(f"\n{KILLS} kills: {acknowledged} changes acknowledged, none lost, none twice; ")
        sys.stdout.write(f"{resent} tries were not answered and sent again\n")


def test_the_server_finishes_what_is_in_flight_when_it_is_told_to_end(instance):
    editor = Editor(instance)
    job = editor.jobs[0]
    answers = []
    fields = {"version": 9_999_999, "line": "150 last 10 W", "once": "the last"}
    last = threading.Thread(target=lambda: answers.append(editor.post(f"{job}walk/", **fields)))
    last.start()
    instance.run("stop")
    last.join()
    instance.run("start")
    kept = [node.get("name") for node in json.loads(Editor(instance).get(f"{job}job.json"))["nodes"]]
    number = sum(str(name).startswith("Last ") for name in kept)
    assert number in (0, 150)  # all of it or nothing
    assert (number == 150) == ('id="strip"' in answers[0])
