"""Motor circuits against Informative Annex D, the tables read back, hand-worked cases, and a circuit simulator."""

import cmath
import math
from itertools import pairwise

import pytest

from tests.reference.spice import Netlist
from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.edition import find_edition
from voltaje.errors import Refused
from voltaje.physics.starting import starting
from voltaje.tools.registry import tools

EDITIONS = ("NEC 2017", "NEC 2020", "NEC 2023")


def branch(**asked):
    return tools()["motor-branch"].run(asked)["result"]


def feeder(**asked):
    return tools()["motor-feeder"].run(asked)["result"]


def sized(result, *kinds):
    return {kind: (result["devices"][kind]["device_a"], result["devices"][kind]["device_max_a"]) for kind in kinds}


@pytest.mark.parametrize("book", EDITIONS)
def test_example_d8(book):
    """Informative Annex D, example D8: a 25 hp squirrel-cage motor and two wound-rotor motors of 30 hp at 460 V."""
    cage = branch(book=book, hp=25, volts=460, nameplate_a=32, service_factor=1.15)
    assert (cage["flc_a"], cage["conductor_min_a"]) == (34, 42.5)
    assert (cage["overload_a"], cage["overload_max_a"]) == (40.0, pytest.approx(44.8))
    assert sized(cage, "nontime_delay_fuse", "dual_element_fuse") == {
        "nontime_delay_fuse": (110, 125),
        "dual_element_fuse": (60, 70),
    }
    wound = branch(book=book, hp=30, volts=460, nameplate_a=38, temp_rise_c=40, motor_type="wound_rotor")
    assert (wound["flc_a"], wound["conductor_min_a"]) == (40, 50)
    assert (wound["overload_a"], wound["overload_max_a"]) == (47.5, pytest.approx(53.2))
    for kind, most in (("nontime_delay_fuse", 175), ("dual_element_fuse", 125)):
        motors = [
            {"hp": 25, "device_kind": kind},
            {"hp": 30, "count": 2, "motor_type": "wound_rotor", "device_kind": kind},
        ]
        together = feeder(book=book, volts=460, motors=motors)
        assert together["conductor_min_a"] == 40 * 1.25 + 40 + 34
        assert together["device_max_a"] == most  # 110 + 40 + 40 = 190; 60 + 40 + 40 = 140; rounded down


# Worked by hand: full-load current from the table, 125 %, per cents of Table 430.52, rounded up; ceilings rounded down.
HAND = [
    (
        {"hp": 40, "volts": 460, "nameplate_a": 48, "service_factor": 1.15, "design": "B energy-efficient"},
        {"flc_a": 52, "conductor_min_a": 65.0, "overload_a": 60.0, "overload_max_a": 67.2, "device_a": 150},
        "6",
        {
            "nontime_delay_fuse": (175, 200),
            "dual_element_fuse": (100, 110),
            "inverse_time_breaker": (150, 200),
            "instantaneous": (572, 884),
        },
    ),
    (
        {"hp": 150, "volts": 460, "nameplate_a": 172, "service_factor": 1.0},
        {"flc_a": 180, "conductor_min_a": 225.0, "overload_a": 197.8, "overload_max_a": 223.6, "device_max_a": 500},
        "4/0",
        {"nontime_delay_fuse": (600, 600), "dual_element_fuse": (350, 400), "inverse_time_breaker": (450, 500)},
    ),
    (
        {"hp": 5, "volts": 230, "phases": 1, "nameplate_a": 26, "service_factor": 1.0, "terminal_c": 75},
        {"flc_a": 28, "conductor_min_a": 35.0, "overload_a": 29.9, "overload_max_a": 33.8, "device_a": 70},
        "10",
        {"nontime_delay_fuse": (90, 110), "dual_element_fuse": (50, 60), "inverse_time_breaker": (70, 110)},
    ),
    (  # 7½ hp at 208 V: 24.2; 30.25 does not fit 30 A at 60 °C, 10 AWG carries 35 A at 75 °C; 60.5 → 70; 96.8 → 90
        {"hp": "7½ hp", "volts": 208, "nameplate_a": "23 A", "service_factor": 1.15, "design": "B energy-efficient"},
        {
            "flc_a": 24.2,
            "conductor_min_a": 30.25,
            "overload_a": 28.75,
            "overload_max_a": 32.2,
            "device_a": 70,
            "device_max_a": 90,
            "disconnect_min_a": 27.83,
        },
        "10",
        {"dual_element_fuse": (45, 50), "nontime_delay_fuse": (80, 90), "instantaneous": (266.2, 411.4)},
    ),
]


@pytest.mark.parametrize(("asked", "figures", "size", "devices"), HAND)
def test_worked_by_hand(asked, figures, size, devices):
    result = branch(**asked)
    assert {key: result[key] for key in figures} == pytest.approx(figures)
    assert result["conductor"]["size"] == size
    for kind, (first, most) in devices.items():
        assert sized(result, kind)[kind] == pytest.approx((first, most))


def test_terminals_at_60_degrees_ask_for_the_next_size():
    """30.25 A is over the 30 A of 10 AWG at 60 °C."""
    assert branch(hp=7.5, volts=208, terminal_c=60)["conductor"]["size"] == "8"


def test_the_equipment_conductor_goes_by_the_device_and_is_no_larger_than_the_lines():
    """A 70 A device asks for 8 AWG beside lines of 10; an instantaneous trip counts as its dual-element fuse."""
    assert branch(hp=7.5, volts=208)["equipment_ground"]["size"] == "10"
    trip = branch(hp=40, volts=460, device_kind="instantaneous")
    assert trip["equipment_ground"]["size"] == "6"  # fuse of 225 % of 52 = 117, 110 A: Table 250.122, 200 A row


# Figures read back from Table 430.250, 430.248, 430.247: `hp,column,amps`.
READ_BACK = """3ph 0.5 115 4.4 · 3ph 3 208 10.6 · 3ph 10 230 28 · 3ph 50 575 52 · 3ph 200 460 240 · 3ph 500 575 472 ·
1ph 0.5 115 9.8 · 1ph 1.5 208 11 · 1ph 10 230 50 · dc 5 240 20 · dc 0.25 90 4 · dc 200 550 294"""


@pytest.mark.parametrize("cell", [each.split() for each in READ_BACK.split("·")])
def test_currents_of_the_tables(cell):
    which, hp, volts, amps = cell
    more = {"phases": 1} if which == "1ph" else {"motor_type": "dc"} if which == "dc" else {}
    assert branch(hp=hp, volts=volts, **more)["flc_a"] == float(amps)


EVERY = {
    "motor_3ph": {},
    "motor_1ph": {"phases": 1},
    "motor_2ph": {"phases": 2},
    "motor_dc": {"motor_type": "dc"},
    "motor_synchronous": {"motor_type": "synchronous"},
}


@pytest.mark.parametrize("key", EVERY)
def test_every_cell_of_every_table_of_currents_is_reached(key):
    for row in find_edition("NEC 2023").table(key).rows:
        for column, amps in row.items():
            volts = column.removeprefix("v")
            if column != "hp" and amps is not None and volts != "2300":
                assert branch(hp=row["hp"], volts=volts, **EVERY[key])["flc_a"] == amps


def test_every_row_of_duties_devices_and_letters_is_reached():
    nec = find_edition("NEC 2023")
    for row in nec.table("motor_duty").rows:
        result = branch(hp=10, volts=230, duty=row["duty"], nameplate_a=20)
        assert result["conductor_min_a"] == pytest.approx(20 * row["percent"] / 100)
    kinds = {
        "single_phase": {"phases": 1},
        "squirrel_cage": {},
        "design_b": {"design": "B energy-efficient"},
        "synchronous": {"motor_type": "synchronous", "hp": 25},
        "wound_rotor": {"motor_type": "wound_rotor"},
        "dc": {"motor_type": "dc", "volts": 240},
    }
    for row in nec.table("motor_device").rows:
        result = branch(**{"hp": 10, "volts": 230, **kinds[row["motor"]]})
        assert result["devices"]["instantaneous"]["device_a"] == pytest.approx(
            result["flc_a"] * row["instantaneous"] / 100
        )
    for row in nec.table("motor_code").rows:
        if row["high"] is not None:
            locked = branch(hp=10, volts=460, code_letter=row["letter"])["locked_rotor_a"]
            assert locked == pytest.approx(row["high"] * 10_000 / (math.sqrt(3) * 460))
    for row in nec.table("motor_locked_3ph").rows:
        assert branch(hp=row["hp"], volts=460)["locked_rotor_a"] == row["v460"]


@pytest.mark.parametrize("key", ["motor_1ph", "motor_3ph"])
def test_208_volt_columns_are_the_230_volt_ones_raised_by_a_tenth(key):
    """The tables' note: 115 and 110 per cent of the 230 V current at 200 and 208 V, to the printed figure."""
    for row in find_edition("NEC 2023").table(key).rows:
        if row["v208"] and row["v230"]:
            assert row["v208"] == pytest.approx(1.10 * row["v230"], rel=0.025)
            assert row["v200"] == pytest.approx(1.15 * row["v230"], rel=0.025)


def test_nominal_volts_are_understood_as_the_motors_own():
    for rated, nominal in ((115, 120), (230, 240), (460, 480), (575, 600)):
        assert branch(hp=1, volts=nominal)["flc_a"] == branch(hp=1, volts=rated)["flc_a"]


@pytest.mark.parametrize(
    ("duty", "percent"),
    [("short-time 5 min", 110), ("intermittent 15 min", 85), ("Periodic 30–60 min", 95), ("varying continuous", 200)],
)
def test_duties_go_by_the_nameplate(duty, percent):
    assert branch(hp=10, volts=230, duty=duty, nameplate_a=26)["conductor_min_a"] == pytest.approx(26 * percent / 100)


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"hp": 13.7, "volts": 230}, "hp"),
        ({"hp": 5, "volts": "90 kV"}, "volts"),
        ({"hp": -5, "volts": 230}, "hp"),
        ({"hp": 5, "volts": 277}, "volts"),
        ({"hp": 5}, "volts"),
        ({"volts": 230}, "hp"),
        ({"hp": 5, "kw": 4, "volts": 230}, "kw"),
        ({"hp": 10, "volts": 230, "duty": "lazy"}, "duty"),
        ({"hp": 10, "volts": 230, "duty": "varying continuous"}, "nameplate_a"),
        ({"hp": 10, "volts": 230, "code_letter": "I"}, "code_letter"),
        ({"hp": 10, "volts": 230, "material": "Ag"}, "material"),
        ({"hp": 10, "volts": 230, "phases": 4}, "phases"),
        ({"book": "BS 7671", "kw": -21, "volts": 400}, "kw"),
    ],
)
def test_wrong_input_is_refused_at_its_field(asked, field):
    with pytest.raises(Refused) as refused:
        branch(**asked)
    assert refused.value.field == field


def area(result):
    return area_cmil(result["conductor"]["size"], find_edition("NEC 2023"))


@pytest.mark.parametrize("volts", [200, 208, 230, 460, 575])
def test_a_larger_motor_never_has_a_smaller_conductor_device_or_ground(volts):
    sizes = [row["size"] for row in find_edition("NEC 2023").table("ampacity").rows]
    found = [branch(hp=hp, volts=volts) for hp in (0.5, 1, 2, 5, 7.5, 10, 15, 25, 40, 60, 75, 100, 125, 150, 200)]
    for small, large in pairwise(found):
        assert large["device_a"] >= small["device_a"]
        if large["conductor"]["sets"] == small["conductor"]["sets"]:
            assert area(large) >= area(small)
        assert sizes.index(large["equipment_ground"]["size"]) >= sizes.index(small["equipment_ground"]["size"])
        assert large["device_max_a"] >= large["device_a"]
        assert large["overload_max_a"] > large["overload_a"]


def test_the_rows_beside_a_horsepower_are_named():
    with pytest.raises(Refused, match="10 hp, 15 hp"):
        branch(hp=13.7, volts=230)


def test_another_voltage():
    """230 V on 208 V: current 1/V, heating 1/V², torque V²."""
    result = branch(hp=5, volts=230, supply_v=208)
    assert result["current_percent"] == pytest.approx(110.58, abs=0.01)
    assert result["heating_percent"] == pytest.approx(122.27, abs=0.01)
    assert result["torque_percent"] == pytest.approx(81.78, abs=0.01)


def test_a_metric_motor():
    """22 kW at 400 V: usual current 41 A; In 50 of type D, for 7 × 41 = 287 A is over 5 × 50; 10 mm² carries 57."""
    result = branch(book="BS 7671", kw=22, volts=400, length="45 m")
    assert (result["flc_a"], result["device_a"], result["breaker_type"]) == (41, 45, "D")  # 45 A is sold in Britain
    assert result["conductor"]["size"] == "10"
    assert result["drop_v"] == pytest.approx(3.8 * 41 * 45 / 1000)


@pytest.mark.parametrize(("letter", "amps"), [("G", 6.29), ("B", 3.54)])
def test_code_letters(letter, amps):
    """Upper end of the letter [kVA/hp] by horsepower, over √3 × V."""
    result = branch(hp=10, volts=460, code_letter=letter)
    assert result["locked_rotor_a"] == pytest.approx(amps * 10 * 1000 / (math.sqrt(3) * 460))


@pytest.mark.parametrize(("phases", "tap"), [(3, 1.0), (3, 1 / math.sqrt(3)), (3, 0.65), (1, 1.0)])
def test_starting_against_ngspice(phases, tap):
    """A standing motor behind its lines, through an ideal autotransformer where it has one; one phase of it."""
    locked, volts, line, cosine = 140.0, 208.0, complex(0.12, 0.05), 0.35
    found = starting(locked, volts, phases, line, cosine, tap)
    driven, both = (volts / math.sqrt(3), 1) if phases == 3 else (volts, 2)
    net = Netlist()
    net.source("s", "panel", driven)
    net.impedance("line", "panel", "starter", line * both)
    net.winding("auto", ("starter", "0"), ("motor", "0"), tap)
    net.impedance("motor", "motor", "0", cmath.rect(driven / locked, math.acos(cosine)))
    net.voltage("starter")
    net.voltage("motor")
    theirs = net.solve()
    assert found.amps == pytest.approx(abs(theirs["vs#branch"]), rel=1e-3)
    assert found.percent == pytest.approx(100 * abs(theirs["v(starter)"]) / driven, rel=1e-3)
    assert found.torque_percent == pytest.approx(100 * (abs(theirs["v(motor)"]) / driven) ** 2, rel=1e-3)
