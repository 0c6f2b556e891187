"""What comes in: caps that name themselves, files cleaned, what must hold of every path."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.jobs import job_with
from voltaje.design.solve import solve
from voltaje.errors import InputError
from voltaje.limits import MOST_CIRCUITS_OF_A_LINE, MOST_COUNT, MOST_DEPTH, MOST_LINE, MOST_NESTED
from voltaje.path.intake import clean_text, read_json
from voltaje.path.soundness import Standing, clashes, faults
from voltaje.speech.read import read_line
from voltaje.speech.said import Where
from voltaje.systems import SYSTEMS
from voltaje.tools.solve import read_document, solve_document, unknown_choices

AMERICAN, METRIC = Where("nec", SYSTEMS["208Y/120"]), Where("iec", SYSTEMS["230/400"])


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("999999 loads 1 kW", f"at most {MOST_CIRCUITS_OF_A_LINE} circuits"),
        ("0 pedestals 32 A 22/7 ft", "nothing to add"),
        (f"receptacles x{MOST_COUNT + 1} 180 VA", "must be from 1 to 10,000"),
        ("pump " + "5 kW " * 60, f"at most {MOST_LINE} characters"),
    ],
)
def test_a_line_beyond_its_caps_is_refused_with_the_cap(line, says):
    assert says in " ".join(str(problem) for problem in read_line(line, AMERICAN).problems)


def test_a_line_at_its_caps_is_taken():
    assert read_line(f"{MOST_CIRCUITS_OF_A_LINE} pumps 1 kW 230 V", METRIC).complete
    assert read_line(f"receptacles x{MOST_COUNT} 180 VA", AMERICAN).complete


@pytest.mark.parametrize(
    ("text", "field"),
    [
        ('{"book": "NEC 2023", "ambient_c": NaN}', "ambient_c"),
        ('{"nodes": [{"id": "s"}, {"load": {"rating": 1e999}}]}', "nodes[1].load.rating"),
        ('{"solved": {"nodes": {"a": -Infinity}}}', "solved.nodes.a"),
        (f'{{"version": {"9" * 5_000}}}', "version"),
        ("[" * 100_000, "file"),
        ("[" * (MOST_NESTED + 2) + "]" * (MOST_NESTED + 2), "[0]" * (MOST_NESTED + 1)),
        ('{"name": "' + "a" * 5_000 + '"}', "name"),
        ("kilns", "file"),
    ],
)
def test_what_is_no_number_or_no_file_is_refused_with_its_place(text, field):
    with pytest.raises(InputError) as refused:
        read_json(text)
    assert refused.value.field == field


@given(st.text(st.characters(codec=None), max_size=30))
def test_cleaned_text_can_be_kept_and_is_cleaned_once(text):
    cleaned = clean_text(text)
    cleaned.encode("utf-8")  # no halves of characters
    assert "\x00" not in cleaned
    assert clean_text(cleaned) == cleaned
    assert read_json(json.dumps({text: [text]})) == {cleaned: [cleaned]}


def test_a_halved_character_in_the_book_is_said_of_the_book():
    raw = read_json('{"format": "voltaje-job", "version": 1, "book": "\\ud800", "nodes": []}')
    with pytest.raises(InputError, match="unknown book") as refused:
        read_document(raw)
    str(refused.value).encode("utf-8")


# ---- what must hold of every path; the oracle follows the sentence, node by node

NAMES = st.sampled_from("abcdef")
NODES = st.lists(
    st.builds(
        Standing,
        id=NAMES,
        kind=st.sampled_from(["source", "board", "board", "transformer", "load"]),
        parent=st.sampled_from(["", *"abcdefg"]),
        position=st.sampled_from([1.0, 2.0, 3.0]),
        way=st.sampled_from([0, 0, 1, 2]),
        system=st.just(""),
    ),
    max_size=6,
)


def hangs_on_a_source(nodes, node):
    """Whether one comes from a node to a source by going up, through what can feed."""
    known = {each.id: each for each in nodes}
    for _ in range(len(nodes) + 1):
        if node.kind == "source":
            return not node.parent
        node = known.get(node.parent)
        if node is None or node.kind == "load":
            return False
    return False


@given(NODES)
def test_a_path_is_sound_where_every_node_hangs_on_a_source(nodes):
    once = len({node.id for node in nodes}) == len(nodes)
    sound = once and all(hangs_on_a_source(nodes, node) for node in nodes)
    assert (not faults(nodes)) == sound


@given(NODES)
def test_nothing_stands_in_anothers_place(nodes):
    nodes = list({node.id: node for node in nodes}.values())
    places = [(node.parent, node.position) for node in nodes]
    ways = [(node.parent, node.way) for node in nodes if node.way]
    doubled = len(places) - len(set(places)) + len(ways) - len(set(ways))
    assert len(clashes(nodes)) == doubled


def test_a_branch_may_hang_so_deep_and_no_deeper():
    deep = [Standing(str(at), "board" if at else "source", str(at - 1) if at else "") for at in range(MOST_DEPTH + 3)]
    assert not faults(deep[: MOST_DEPTH + 1])
    assert [fault.code for fault in faults(deep)] == ["too_deep"]


def test_a_circle_of_thousands_is_found_at_once():
    ring = [Standing(str(at), "board", str((at + 1) % 20_000)) for at in range(20_000)]
    assert {fault.code for fault in faults(ring)} == {"circle"}


# ---- choices and budget


@pytest.mark.parametrize(
    ("book", "key", "value"),
    [
        ("NEC 2020", "material", "Fe"),
        ("NEC 2023", "insulation", "PVC 70"),
        ("NEC 2017", "raceway", "hose"),
        ("BS 7671", "material", "Al"),
        ("BS 7671", "cable", "rope"),
        ("SANS 10142-1", "arrangement", "heap"),
    ],
)
def test_what_a_book_does_not_know_is_refused_on_reading_and_a_finding_when_kept(book, key, value):
    system = "230/400" if "NEC" not in book else "208Y/120"
    raw = {
        **{"format": "voltaje-job", "version": 1, "book": book},
        "nodes": [
            {"id": "s", "kind": "source", "system": system},
            {"id": "b", "kind": "board", "parent": "s", "run": {key: value}},
            {"id": "n", "kind": "load", "parent": "b", "load": {"rating": "2 kW"}},
        ],
    }
    (error,) = unknown_choices(read_document(raw))
    assert error.field == f"nodes[1].run.{key}"
    (finding,) = [each for each in solve_document(raw)["nodes"]["b"]["findings"] if each["severity"] == "stop"]
    assert value in finding["message"]


def test_a_solve_tells_how_far_it_is_and_can_be_ended():
    whole, told = read_document(job_with(*({"rating": "2 kW"} for _ in range(12)))), []
    solve(whole, None, lambda done, of: told.append((done, of)))
    assert [done for done, _of in told] == list(range(0, told[0][1], 8))

    def enough(done, _of):
        if done >= 16:
            raise TimeoutError

    with pytest.raises(TimeoutError):
        solve(whole, None, enough)
