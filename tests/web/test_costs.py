"""What anybody may send costs a web process no more than seconds and some memory; what takes long is the worker's."""

import pytest
from benchmarks.solve_time import job_of
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.test import Client
from django.urls import reverse

from tests.core.test_costs import MOST_S, Cost
from tests.web.addresses import field_names, named_addresses, parts_for
from tests.web.bench import HTMX, document, post
from voltaje.digits import MOST_DIGITS
from voltaje.inputs.declare import fields_of
from voltaje.limits import MOST_LINE
from voltaje.path.load import LoadSpec
from web.jobs import keeping
from web.jobs.files.openfile import from_open
from web.jobs.models import Job, Membership, Role, Work
from web.jobs.worker import working
from web.words.met import Met

# The largest of what a person may type anywhere, and the first that is too large.
EDGES = {
    "count": "9" * MOST_DIGITS,
    "nines": "9" * 5_000,
    "none": "²",
    "longest": "x" * MOST_LINE,
    "line": "999999999 loads 1 kW",
    "circuits": "9" * 150 + " circuits of 10 sockets 180 VA",
    "over-power": "100000000 kW",
}
ADDRESSES = [each for each in named_addresses() if each[0] != "sign-out"]


@pytest.mark.parametrize("edge", EDGES)
def test_no_address_costs_more_than_seconds(page, pottery, edge):
    fields = dict.fromkeys(field_names(), EDGES[edge])
    more = {
        "at": "mdp",
        "lens": "legs",
        "version": "0",
        "path": "nodes/k2/load/rating",
        "most": EDGES[edge],
        "kept": EDGES[edge],
        "form": "load",
        "act": "duplicate",
        "key": "k2",
        "book": "NEC 2023",
    }
    page.raise_request_exception = False
    for name, parts in ADDRESSES:
        address = reverse(name, args=list(parts_for(parts, pottery, "k2").values()))
        for method in ("get", "post"):
            with Cost() as cost:
                answer = getattr(page, method)(address, {**fields, **more}, headers={"HX-Request": "true"})
            assert answer.status_code < 500, (name, method)
            cost.held((name, method))
        Job.objects.filter(pk=pottery.pk).update(deleted_at=None)


@pytest.mark.parametrize("line", [EDGES["line"], EDGES["circuits"], "9999999 loads 1 kW", "3 phase ² pump"])
def test_a_stranger_s_line_on_the_first_page_costs_nothing(client, db, line):
    with Cost() as cost:
        answer = client.get(reverse("worked"), {"line": line}, headers=HTMX)
    assert answer.status_code == 200
    assert cost.seconds < 0.5
    assert cost.mib < 30


def test_a_load_is_duplicated_whatever_digits_its_name_ends_in(page, pottery):
    for name in ("Kiln ²", "Kiln ①", "Kiln 9"):
        post(page, "edit", pottery, path="nodes/k2/name", value=name)
        post(page, "act", pottery, act="duplicate", key="k2")
    names = {node["name"] for node in document(pottery)["nodes"].values()}
    assert {"Kiln ² 2", "Kiln ① 2", "Kiln 10"} <= names


@pytest.mark.parametrize("value", ["11001 kVA", "6301 A", "15001 hp"])
def test_more_than_any_supply_has_is_told_at_its_field(page, pottery, value):
    (rating,) = [each for each in fields_of(LoadSpec) if each.key == "rating"]
    said = post(page, "edit", pottery, path=f"nodes/k2/load/{rating.key}", value=value)
    assert "the most that a supply of 1,000\xa0V can have" in said
    said = post(page, "edit", pottery, path="nodes/k2/load/count", value="9000")
    assert "the most that a supply" in said


def test_a_kept_job_with_more_than_any_supply_has_still_opens(page, pottery):
    pottery.nodes.filter(key="k2").update(data={"load": {"kind": "heating", "rating": "100000 kW"}, "name": "Kiln"})
    answer = page.get(reverse("workbench", args=[pottery.pk]))
    assert answer.status_code == 200
    assert "the most that a supply" in answer.content.decode()


@pytest.mark.parametrize("text", ["[" + "1," * 1_950_000 + "1]", '{"nodes": [' + "{}," * 900_000 + "{}]}"])
def test_a_file_of_too_many_values_is_refused_at_once(page, text):
    upload = SimpleUploadedFile("job.json", text.encode())
    page.get(reverse("new-job"))  # its samples are drawn once
    with Cost() as cost:
        answer = page.post(reverse("from-file"), {"file": upload})
    assert "holds more than" in answer.content.decode()
    assert cost.seconds < 0.5
    assert not Job.objects.exists()


# Long answers are the worker's


def large(user, name="Large", circuits=300):
    raw = job_of(circuits)
    nodes = [
        {**node, "name": node["id"], **({"parent": "b0"} if node["kind"] == "load" else {})} for node in raw["nodes"]
    ]
    return keeping.create(user, from_open({**raw, "nodes": nodes, "name": name}))


@pytest.fixture
def queued(settings):
    settings.TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}


def ask(page, job, name="even", **fields):
    return page.post(
        reverse(name, args=[job.pk]), {"at": "b0", **fields}, headers={"HX-Request": "true"}
    ).content.decode()


def work():
    call_command("work", "--batch", "--no-startup-delay", verbosity=0)


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize(("name", "says"), [("even", "Proven: no assignment"), ("least", "No standard sizes use less")])
def test_a_large_board_is_answered_by_the_worker_and_the_page_hears_of_it(page, ann, queued, name, says):
    job = large(ann)
    assert "being worked out" in ask(page, job, name)
    assert "being worked out" in ask(page, job, name)  # asked again it is the same work
    assert Work.objects.count() == 1
    work()
    assert says in ask(page, job, name)
    assert Work.objects.count() == 1


@pytest.mark.django_db(transaction=True)
def test_one_long_answer_a_person_at_a_time_the_others_wait_in_words(page, ann, ben, queued):
    first, second = large(ann, "First"), large(ann, "Second")
    ask(page, first)
    assert "yours about “First”" in ask(page, second)
    other = Client()
    other.force_login(ben)
    Membership.objects.create(job=second, user=ben, role=Role.EDITOR)
    assert "1 before it" in ask(other, second)
    assert Met.objects.get(name="long works of a person").number == 1
    work()
    assert "Proven" in ask(other, second)
    ask(page, second)
    work()
    assert "Proven" in ask(page, second)


@pytest.mark.django_db(transaction=True)
def test_an_answer_is_of_the_job_as_it_is(page, ann, queued):
    job = large(ann)
    ask(page, job)
    post(page, "walk", job, line="heater 3 kW 208 V", at="b0")
    work()  # answers of what the job is by now
    assert "Proven" in ask(page, job)
    post(page, "undo", job)
    assert "being worked out" in ask(page, job)


@pytest.mark.django_db(transaction=True)
def test_a_work_that_fails_says_so_and_holds_up_nobody(page, ann, queued, monkeypatch):
    def broken(*_):
        raise RuntimeError

    job = large(ann)
    monkeypatch.setitem(working.answerers, "even", broken)
    ask(page, job)
    work()
    assert "could not be worked out" in ask(page, job)


@pytest.mark.django_db(transaction=True)
def test_the_paper_of_a_large_job_is_drawn_by_the_worker_and_the_page_waits_for_it(page, ann, queued):
    job = keeping.create(ann, from_open({**job_of(1_500), "name": "Large"}))
    address = reverse("paper", args=[job.pk]) + "?paper=a3"
    assert "hx-post" in page.get(address).content.decode()
    assert not Work.objects.exists()  # reading asks nothing of the worker
    assert "being worked out" in page.post(address).content.decode()
    work()
    assert page.post(address)["HX-Refresh"] == "true"
    drawn = page.get(address).content.decode()
    assert 'class="paper-a3"' in drawn
    assert drawn.count("<h2>") > 20  # the drawing, and each board's schedule


def test_of_thousands_of_findings_the_worst_are_listed(page, ann):
    raw = job_of(1_500)
    for node in raw["nodes"]:
        if node["kind"] == "load":
            node.setdefault("run", {})["length"] = "900 ft"
    job = keeping.create(ann, from_open({**raw, "name": "Long runs"}))
    page.get(reverse("workbench", args=[job.pk]))
    with Cost() as cost:
        shown = page.get(reverse("findings", args=[job.pk])).content.decode()
    assert cost.seconds < MOST_S
    assert shown.count('class="finding stop') == shown.count('class="finding ') == 300
    assert "more, none of them worse" in shown
