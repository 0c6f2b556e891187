"""A plate typed as it is printed, on the line and into one field of a sheet: it means what it says, or is refused."""

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.books.registry import find_book
from voltaje.books.tables import load_table, text
from voltaje.errors import InputError
from voltaje.speech.read import read_line
from voltaje.speech.said import Where
from voltaje.speech.words import words_of
from voltaje.systems import SYSTEMS
from voltaje.tools.opening import openings
from voltaje.tools.registry import tools

# What a transformer's plate may print of its secondary, with the system and the connection behind a delta.
SECONDARIES = {
    "208Y/120": ("208Y/120", "Dyn"),
    "480Y/277": ("480Y/277", "Dyn"),
    "120/240": ("120/240 1ph 3w", "3-wire"),
    "240D": ("240 3ph", "Dd"),
    "120": ("120 1ph", "2-wire"),
}
SUPPLY = {"480": "480Y/277", "600": "600Y/347", "240": "240 3ph"}


@st.composite
def transformers(draw):
    """A transformer and one of the ways in which its plate may be printed."""
    kva = draw(st.sampled_from(["1", "1.5", "15", "37.5", "45", "112.5", "500"]))
    primary, secondary = draw(st.sampled_from(sorted(SUPPLY))), draw(st.sampled_from(sorted(SECONDARIES)))
    impedance = draw(st.sampled_from(["", "4.5", "2"]))
    delta = draw(st.sampled_from(["", "D", " V", "V"])) if secondary != "240D" else "D"
    sides = f"{primary}{delta}{draw(st.sampled_from(['-', ' - ', ' to ', ':']))}{secondary}"
    parts = [
        f"{kva} kVA",
        sides,
        *([draw(st.sampled_from([f"{impedance} %Z", f"Z {impedance}%"]))] if impedance else []),
    ]
    return (kva, primary, secondary, impedance), " ".join(draw(st.permutations(parts)))


@settings(deadline=None)
@given(transformers())
def test_a_transformer_is_read_off_its_plate_on_the_line_and_on_its_sheet(plate):
    (kva, primary, secondary, impedance), typed = plate
    system, connection = SECONDARIES[secondary]
    if SYSTEMS[system].line_to_line_v == float(primary):
        return  # 240-240D and the like: one winding's volts
    found = read_line(typed, Where("nec", SYSTEMS[SUPPLY[primary]]))
    assert not found.problems, (typed, found.problems)
    made = found.items[0].more["transformer"]
    wanted = {"kva": kva, "secondary": system, **({"impedance_percent": impedance} if impedance else {})}
    assert made == wanted, typed
    assert not found.unused, typed
    laid = tools()["transformer"].asks.laid_out({"kva": typed}).raw
    assert (float(laid["kva"].split()[0]), laid["primary_v"], laid["connection"]) == (float(kva), primary, connection)
    assert float(laid["secondary_v"]) == SYSTEMS[system].line_to_line_v
    assert laid.get("impedance_percent", "") == impedance


@st.composite
def motors(draw):
    """A dual motor's plate: its volts and amperes in pairs, as printed, and which of them the supply has."""
    hp, pairs = draw(
        st.sampled_from(
            [
                ("7.5", [(208, 24.2), (230, 22), (460, 11)]),
                ("10", [(230, 28), (460, 14)]),
                ("1-1/2", [(230, 6), (460, 3)]),
            ]
        )
    )
    shown = draw(st.permutations(pairs)) if len(pairs) == 2 else pairs
    joint = "-" if len(pairs) > 2 else "/"
    volts = joint.join(f"{volts}" for volts, _amps in shown)
    amps = joint.join(f"{amps:g}" for _volts, amps in shown)
    parts = [f"{hp} hp", f"{volts} V", f"{amps} A", *draw(st.sampled_from([[], ["3ph"], ["SF 1.15"]]))]
    return hp, dict(pairs), " ".join(draw(st.permutations(parts)))


@settings(deadline=None)
@given(motors(), st.sampled_from(["480Y/277", "208Y/120", "240 3ph"]))
def test_of_a_dual_motor_the_amperes_of_the_supplys_volts_are_taken(plate, system):
    hp, pairs, typed = plate
    nominal = {"480Y/277": 460, "208Y/120": 208, "240 3ph": 230}[system]
    found = read_line(typed, Where("nec", SYSTEMS[system]))
    if nominal not in pairs:
        assert found.problems, typed  # 230/460 V on 208 V: the plate says nothing of it
        return
    load = found.items[0].load
    assert (load["kind"], load["rating"], load["nameplate_a"]) == ("motor", f"{hp} hp", f"{pairs[nominal]:g} A"), typed
    laid = tools()["motor-branch"].asks.laid_out({"hp": typed, "volts": str(nominal)}).raw
    assert float(laid["nameplate_a"]) == pairs[nominal]


@pytest.mark.parametrize(
    ("tool", "raw", "field"),
    [
        ("transformer", {"kva": "45 kVA 480-208Y/120", "primary_v": "600"}, "kva"),
        ("transformer", {"kva": "75 kVA 480-240"}, "kva"),
        ("transformer", {"kva": "5 kVA 240x480-120/240"}, "kva"),
        ("motor-branch", {"hp": "10 hp 230/460 V 26/13 A"}, "hp"),
        ("appliance-branch", {"load": "4.5 kW 18 A"}, "load"),
        ("motor-branch", {"hp": "7.5 hp 230 V 1ph", "phases": 3}, "hp"),
        ("motor-branch", {"hp": "5 hp 10 hp 208 V"}, "hp"),
        ("motor-branch", {"hp": "10 hp 5 kW 208 V"}, "hp"),
        ("transformer", {"kva": "45 kVA 480-208Y/120", "connection": "Dd"}, "kva"),
        ("transformer", {"kva": "75 kVA 30 kVA 480-208Y/120"}, "kva"),
        ("run", {"amps": "20 A 30 A 240 V"}, "amps"),
        ("run", {"amps": "20 A 240 V 30 ft 40 ft"}, "amps"),
    ],
)
def test_what_a_plate_leaves_open_is_refused_at_the_field(tool, raw, field):
    with pytest.raises(InputError) as caught:
        tools()[tool].run({"book": "NEC 2023", **raw})
    assert caught.value.field == field


@pytest.mark.parametrize(
    ("tool", "key", "plate", "read", "left"),
    [
        ("transformer", "kva", "45 kVA 480-208Y/120 K-13 4.5 %Z", ("45 kVA", "480 V", "208 V", "Z 4.5 %"), "K-13"),
        ("transformer", "kva", "45 kVA 480-208Y/120 60 A breaker", ("45 kVA",), "60 A breaker"),
        ("motor-branch", "hp", "1/3 hp 115 V 1ph #10 code G", ("1/3 hp", "115 V", "1-phase", "code G"), "#10"),
        ("motor-branch", "hp", "10 hp 7.5 kW 208 V 3ph pf 0.85", ("10 hp", "208 V", "3-phase"), "pf 0.85"),
        (
            "run",
            "amps",
            "48 A 240 V #6 60 A breaker 60 ft EMT",
            ("48 A", "240 V", "size 6", "60 A breaker", "60 ft"),
            "",
        ),
        ("appliance-branch", "load", "water heater 4.5 kW 240 V 40 gal", ("4.5 kW", "240 V"), "40 gal"),
    ],
)
def test_what_was_read_off_a_plate_and_what_was_not_is_told(tool, key, plate, read, left):
    answer = tools()[tool].run({"book": "NEC 2023", key: plate})
    said = next(each["message"] for each in answer["findings"] if each["code"] == "plate.read")
    taken, _mark, unused = said.partition("not used:")
    assert all(part in taken for part in read), said
    assert left in unused, said
    assert bool(left) == bool(unused), said


@settings(deadline=None)
@given(
    st.lists(
        st.sampled_from(
            ["27 A", "31A breaker", "SF 1.25", "#8", "19 ft", "240 V", "1ph", "pf 0.87", "38 °C", "MCA 33"]
        ),
        min_size=1,
        max_size=4,
        unique=True,
    )
)
def test_no_number_of_a_plate_vanishes_on_a_sheet(pieces):
    """Of a plate typed into a motor's rating every figure is told as read or as not used, or it is refused."""
    typed = " ".join(["7.5 hp", *pieces])
    try:
        answer = tools()["motor-branch"].run({"book": "NEC 2023", "volts": "230", "hp": typed})
    except InputError:
        return
    said = next(each["message"] for each in answer["findings"] if each["code"] == "plate.read")
    told = {float(number) for number in NUMBERS.findall(said)}
    assert {float(number) for number in NUMBERS.findall(typed)} <= told, (typed, said)


def test_a_metric_size_is_refused_with_the_first_that_is_not_smaller():
    """Held against the areas of chapter 9, Table 8, as the book has them."""
    book = find_book("NEC 2023")
    areas = sorted((book.area_mm2(text(row, "size")), text(row, "size")) for row in AREAS.rows)
    for metric, wanted in words_of("nec").metric_sizes.items():
        first = next(size for area, size in areas if area >= float(metric))
        assert wanted.split()[0] == first, (metric, wanted, first)


@pytest.mark.parametrize(
    ("typed", "tool", "inputs"),
    [
        ("7½ hp", "motor-branch", {"hp": "7½"}),
        ("13.4 kW range", "cooking-branch", {"appliances": [{"load": "13.4 kW"}]}),
        ("45 kVA", "transformer", {"kva": "45 kVA"}),
        ("EV 48 A", "appliance-branch", {"kind": "charger", "load": "48 A"}),
        ("20 A 240 V", "run", {"amps": "20", "volts": "240"}),
        ("MCA 28.4 MOCP 30", "appliance-branch", {"kind": "hermetic", "mca": "28.4 A", "mop": "30 A"}),
    ],
)
def test_an_amount_opens_the_sheet_that_answers_it(typed, tool, inputs):
    assert openings(typed, "nec")[0] == (tool, inputs)


@pytest.mark.parametrize("typed", ["fuse", "240.4(B)", "", "grounding electrode", "7½"])
def test_what_names_no_amount_opens_none(typed):
    assert not openings(typed, "nec")


AREAS = load_table("voltaje.books.nec", "conductor_areas")
NUMBERS = re.compile(r"\d[\d.]*\d|\d")
PIECES = (
    "45 kVA",
    "11 kW",
    "7.5 hp",
    "27 A",
    "480-208Y/120",
    "4.6 %Z",
    "SF 1.25",
    "19 ft",
    "MCA 33",
    "MOCP 55",
    "#10",
    "way 29",
    "57% duty",
    "held to 21 A",
    "208 V",
    "pf 0.87",
    "38 °C",
    "31A breaker",
    "600 VA",
    "14-3",
    "kiln",
    "panel",
    "motor",
    "spare",
    "EV",
    "inverter",
    "transformer",
    "welder",
    "AC",
)


@settings(deadline=None)
@given(st.lists(st.sampled_from(PIECES), min_size=1, max_size=5, unique=True))
def test_no_number_of_a_line_vanishes(pieces):
    """Whatever a line says in figures is part of what it makes, told as not used, or the reason why it is refused."""
    line = " ".join(pieces)
    found = read_line(line, Where("nec", SYSTEMS["208Y/120"]))
    if found.problems:
        return
    item = found.items[0]
    said = " ".join(
        [*(str(part.words) for part in item.parts), *(each.words for each in item.unused), item.name, item.board]
    )
    kept = {float(number) for number in NUMBERS.findall(said)}
    lost = {number for number in NUMBERS.findall(line) if float(number) not in kept}
    assert lost <= {"208", "120", "3"}, (line, said)  # the volts that the supply has, and the wires of a cable
