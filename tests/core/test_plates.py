"""A plate typed as it is printed, on the line and into one field of a sheet: it means what it says, or is refused."""

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.errors import InputError
from voltaje.speech.read import read_line
from voltaje.speech.said import Where
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
    ],
)
def test_what_a_plate_leaves_open_is_refused_at_the_field(tool, raw, field):
    with pytest.raises(InputError) as caught:
        tools()[tool].run({"book": "NEC 2023", **raw})
    assert caught.value.field == field


def test_what_was_read_off_a_plate_and_what_was_not_is_told():
    answer = tools()["transformer"].run({"book": "NEC 2023", "kva": "45 kVA 480-208Y/120 K-13 4.5 %Z"})
    said = next(each["message"] for each in answer["findings"] if each["code"] == "plate.read")
    assert all(part in said for part in ("45 kVA", "480 V", "208 V", "Z 4.5 %", "K-13"))


@pytest.mark.parametrize(
    ("typed", "tool", "inputs"),
    [
        ("7½ hp", "motor-branch", {"hp": "7.5"}),
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
