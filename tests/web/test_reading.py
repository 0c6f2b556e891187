"""Files: read at once or by the worker, refused with their place; how much an account may keep; what the list shows."""

import json

import pytest
from benchmarks.solve_time import job_of
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.web.bench import HTMX
from voltaje.samples import sample
from web.jobs import keeping, limits, listing
from web.jobs.files import reading
from web.jobs.files.openfile import from_open
from web.jobs.models import Job, Membership, Reading, Role
from web.jobs.news import told_to
from web.jobs.worker.solving import Budget, TooMuch, solve_job


def upload(page, raw):
    text = raw if isinstance(raw, bytes) else json.dumps(raw).encode()
    return page.post(reverse("from-file"), {"file": SimpleUploadedFile("job.json", text)})


def altered(**places):
    raw = sample("cinder-lane")
    for place, value in places.items():
        if place in ("book", "solved", "amendments", "name"):
            raw[place] = value
        else:
            raw["nodes"][3]["run"] = {place: value}
    return raw


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (altered(material="Fe"), "nodes[3].run.material"),
        (altered(book="\ud800"), "unknown book"),
        (altered(solved={"book": "x", "engine": "y", "tables": "z", "nodes": {"a": float("nan")}}), "solved.nodes.a"),
        (json.dumps(sample("cinder-lane")).replace("480 3ph", "\x00").encode(), "not JSON"),
        (b"\xff\xfe", "UTF-8"),
        (b"[" * 100_000, "nested too deep"),
        ({**sample("cinder-lane"), "nodes": job_of(limits.MOST_NODES + 9)["nodes"]}, "split the file by board"),
    ],
)
def test_a_wrong_file_is_refused_with_its_place(page, raw, says):
    assert says in upload(page, raw).content.decode()
    assert not Job.objects.exists()


def test_control_characters_in_a_reason_are_cleaned(page):
    amendment = {"limit": "drop_percent", "value": 3, "reason": "county\u0000 rule\ud800 7"}
    assert upload(page, altered(amendments=[amendment], name="Kiln\u0007s e\u0301")).status_code == 302
    job = Job.objects.get()
    assert (job.name, job.entries["amendments"][0]["reason"]) == ("Kilns é", "county rule 7")


def test_a_large_file_is_read_by_the_worker_and_its_page_leads_to_the_job(page, django_capture_on_commit_callbacks):
    with django_capture_on_commit_callbacks(execute=True):
        answer = upload(page, {**job_of(limits.AT_ONCE_NODES + 50), "name": "Large"})
    found = Reading.objects.get()
    assert answer["Location"] == reverse("reading", args=[found.pk])
    assert (found.job.name, found.text, found.of > 0) == ("Large", "", True)
    assert page.get(answer["Location"])["Location"] == reverse("workbench", args=[found.job.pk])
    part = page.get(answer["Location"], headers={"HX-Request": "true"})
    assert part["HX-Redirect"] == reverse("workbench", args=[found.job.pk])


def test_while_it_is_read_the_page_says_how_far_it_is(page, ann):
    waits = Reading.objects.create(user=ann, name="job.json", text="{}")
    assert "waits for its turn" in page.get(reverse("reading", args=[waits.pk])).content.decode()
    Reading.objects.update(done=30, of=120)
    assert "25 % is worked out" in page.get(reverse("reading", args=[waits.pk])).content.decode()


def test_what_a_dead_worker_left_is_taken_up_again_and_wrong_files_say_why(page, ann):
    left = Reading.objects.create(user=ann, name="job.json", text=json.dumps(job_of(20)))
    wrong = Reading.objects.create(user=ann, name="wrong.json", text=json.dumps(altered(material="Fe")))
    reading.resume()
    left.refresh_from_db()
    wrong.refresh_from_db()
    assert left.job.nodes.count() == 22
    assert "nodes[3].run.material" in page.get(reverse("reading", args=[wrong.pk])).content.decode()
    reading.read_in_background.call(str(left.pk))  # a second worker that was late finds nothing to do
    assert Job.objects.count() == 1


def test_a_person_waits_for_so_many_files_at_most(page, ann):
    for at in range(limits.MOST_READINGS):
        Reading.objects.create(user=ann, name=f"{at}.json", text="{}")
    assert "wait for them" in upload(page, {**job_of(limits.AT_ONCE_NODES + 50), "name": "X"}).content.decode()


def test_a_solve_has_a_budget(pottery):
    with pytest.raises(TooMuch, match="split it"):
        solve_job(from_open(sample("cinder-lane")), budget=Budget(seconds=-1))


def test_an_account_keeps_so_many_jobs(page, ann, monkeypatch):
    monkeypatch.setattr(keeping, "MOST_JOBS", 2)
    for _ in range(2):
        assert page.post(reverse("from-sample"), {"sample": "slipway"}).status_code == 302
    page.post(reverse("from-sample"), {"sample": "slipway"})
    assert "at most 2 jobs" in page.get(reverse("jobs")).content.decode()
    form = {"name": "X", "book": "NEC 2023", "system": "208Y/120"}
    assert "at most 2 jobs" in page.post(reverse("new-job"), form).content.decode()
    job = Job.objects.first()
    assert page.post(reverse("duplicate-job", args=[job.pk]))["Location"] == reverse("settings", args=[job.pk])
    keeping.delete(job.pk, ann)
    assert Job.objects.count() == 2


def test_all_jobs_of_an_account_hold_so_much(ann, monkeypatch):
    monkeypatch.setattr(keeping, "MOST_NODES_OF_ALL", 40)
    keeping.create(ann, from_open(sample("cinder-lane")))
    with pytest.raises(limits.OverCap, match="all jobs of an account"):
        keeping.create(ann, from_open(sample("slipway")))


def test_the_list_is_worked_out_once_for_each_version(page, pottery, monkeypatch):
    first = page.get(reverse("jobs")).content.decode()
    monkeypatch.setattr(listing, "solve_job", lambda _document: 1 / 0)
    assert page.get(reverse("jobs")).content.decode().count("kVA") == first.count("kVA") > 0
    Job.objects.update(version=7)
    monkeypatch.setattr(listing, "_SECONDS_A_PAGE", -1)
    assert "not worked out yet" in page.get(reverse("jobs")).content.decode()


def test_news_are_for_those_who_may_read_the_job(client, pottery, ann, ben):
    def asked(by, since):
        return client.get(reverse("news", args=[pottery.pk]), {"by": by, "since": since})

    assert asked(told_to(pottery, ann), "0").status_code == 204
    assert asked(told_to(pottery, ann), "5").content == b"0"
    assert asked(told_to(pottery, ben), "0").status_code == 404
    membership = Membership.objects.create(job=pottery, user=ben, role=Role.VIEWER)
    assert asked(told_to(pottery, ben), "0").status_code == 204
    membership.delete()
    assert asked(told_to(pottery, ben), "0").status_code == 404
    assert asked(told_to(pottery, ann)[:-1], "0").status_code == 403
    other = keeping.create(ann, from_open(sample("slipway")))
    assert asked(told_to(other, ann), "0").status_code == 403


def test_of_a_large_job_what_is_folded_is_not_sent(page, ann):
    job = keeping.create(ann, from_open({**job_of(900), "name": "Large"}))
    whole = page.get(reverse("workbench", args=[job.pk]), {"at": "n3"}).content.decode()
    assert whole.count('class="branch"') < 90
    assert 'id="row-n3"' in whole
    assert 'id="row-n500"' not in whole
    asked = {"version": job.version, "at": "n3", "lens": "path", "unfolded": "b11"}
    assert 'id="row-n500"' in page.get(reverse("region", args=[job.pk]), asked, headers=HTMX).content.decode()
    assert (
        'id="row-n600"'
        in page.get(reverse("region", args=[job.pk]), {**asked, "at": "n600"}, headers=HTMX).content.decode()
    )
