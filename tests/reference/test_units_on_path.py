"""Banks, autotransformers and small units as nodes of a job, against ngspice and against the textbook's identities."""

import cmath
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.spice import Netlist
from voltaje.design.path_flow import path_flow
from voltaje.design.solve import solve
from voltaje.design.transformers.made import made_of
from voltaje.errors import Refused
from voltaje.physics.currents import Placed, leg_currents, total
from voltaje.physics.fault import behind
from voltaje.systems import SYSTEMS
from voltaje.tools.solve import read_document

few = settings(max_examples=8, deadline=None)
ROOT = math.sqrt(3)
LINES, PAIRS = ("L1", "L2", "L3"), (("L1", "L2"), ("L2", "L3"), ("L1", "L3"))

# Supply, what is entered, then how it is wound by hand: of each unit where its primary stands and its secondary, with
# terminals of the output as o1 o2 o3 n; a secondary that begins at a supply line stands on it.
BOOST = {"made_as": "buck-boost", "kva": "2", "impedance_percent": "4", "x_over_r": "2"}
BANK = {"made_as": "bank", "kva": "15", "impedance_percent": "3", "x_over_r": "1.5"}
CASES = {
    "one boost": (
        "208Y/120",
        BOOST | {"secondary": "240 1ph", "unit_primary_v": "240", "unit_secondary_v": "32"},
        (240, 32),
        [("L1", "L2", "o1", "L1")],
        {"o2": "L2"},
    ),
    "two in open delta": (
        "208Y/120",
        BOOST | {"secondary": "240 3ph", "units": "2", "unit_primary_v": "240", "unit_secondary_v": "24"},
        (240, 24),
        [("L1", "L2", "o1", "L1"), ("L3", "L2", "o3", "L3")],
        {"o2": "L2"},
    ),
    "three in star": (
        "208Y/120",
        BOOST | {"secondary": "208Y/120", "connection": "boost", "unit_primary_v": "120", "unit_secondary_v": "12"},
        (120, 12),
        [(line, "0", f"o{at}", line) for at, line in enumerate(LINES, 1)],
        {"n": "0"},
    ),
    "delta to star": (
        "480 3ph",
        BANK | {"secondary": "208Y/120", "connection": "Dyn", "unit_primary_v": "480", "unit_secondary_v": "120"},
        (480, 120),
        [("L1", "L2", "o1", "0"), ("L2", "L3", "o2", "0"), ("L3", "L1", "o3", "0")],
        {"n": "0"},
    ),
    "delta to delta": (
        "480 3ph",
        BANK | {"secondary": "240 3ph", "connection": "Dd", "unit_primary_v": "480", "unit_secondary_v": "240"},
        (480, 240),
        [("L1", "L2", "o1", "o2"), ("L2", "L3", "o2", "o3"), ("L3", "L1", "o3", "o1")],
        {},
    ),
    "open delta": (
        "480 3ph",
        BANK | {"secondary": "240 3ph", "units": "2", "unit_primary_v": "480", "unit_secondary_v": "240"},
        (480, 240),
        [("L1", "L2", "o1", "o2"), ("L2", "L3", "o2", "o3")],
        {},
    ),
    # One unit's middle is brought out: half a winding each side of it.
    "high leg": (
        "480 3ph",
        BANK | {"secondary": "240/120 high-leg", "unit_primary_v": "480", "unit_secondary_v": "240"},
        (480, 240),
        [
            ("L1", "L2", "o1", "o2"),
            ("L2", "L3", "o2", "o3"),
            ("L3", "L1", "o3", "0", 0.5),
            ("L3", "L1", "0", "o1", 0.5),
        ],
        {"n": "0"},
    ),
    "open high leg": (
        "480 3ph",
        BANK | {"secondary": "240/120 high-leg", "units": "2", "unit_primary_v": "480", "unit_secondary_v": "240"},
        (480, 240),
        [("L1", "L2", "o1", "o2"), ("L3", "L1", "o3", "0", 0.5), ("L3", "L1", "0", "o1", 0.5)],
        {"n": "0"},
    ),
}


def job_of(case, loads=()):
    supply, entered = CASES[case][:2]
    three = SYSTEMS[entered["secondary"]].phases == 3
    nodes = [
        {"id": "src", "kind": "source", "system": supply},
        {"id": "t", "kind": "transformer", "parent": "src", "transformer": entered}
        | ({} if three else {"legs": ["L1", "L2"]}),
        {"id": "b", "kind": "board", "parent": "t"},
    ]
    for at, (kva, legs) in enumerate(loads):
        load = {"rating": f"{kva} kVA", "legs": list(legs)}
        nodes.append({"id": f"n{at}", "kind": "load", "parent": "b", "load": load})
    return read_document({"format": "voltaje-job", "version": 1, "name": "U", "book": "NEC 2023", "nodes": nodes})


def simulated(case, draws, entries=None, bolted=False):
    """Volts of the outputs and the supply's line currents, by ngspice: each unit two windings with its impedance.

    Besides, the current of each secondary, and where the lines are bolted together that of each line.
    """
    supply, entered, (high, low), units, same = CASES[case]
    entered = entered | (entries or {})
    net = Netlist()
    for line, volts in SYSTEMS[supply].phasors().items():
        net.source(f"s{line}", line, volts)
    size = float(entered["impedance_percent"]) / 100 * low**2 / (float(entered["kva"]) * 1000)
    ohms = size * cmath.exp(1j * math.atan(float(entered["x_over_r"])))
    for at, (start, end, hot, cold, *part) in enumerate(units):
        of_it = part[0] if part else 1
        net.winding(f"w{at}", (start, end), (f"x{at}", cold), low / high * of_it)
        net.impedance(f"z{at}", f"x{at}", hot, ohms * of_it - 1e-4)  # so much a winding of the netlist has
    if not same:  # an output on its own hangs in the air: held by next to nothing
        net.impedance("earth", "o3", "0", 1e6 + 0j)
    for at, (one, other, amps) in enumerate(draws):
        net.draw(f"d{at}", same.get(one, one), same.get(other, other), amps)
    outputs = sorted({end for unit in units for end in unit[2:4] if end.startswith("o")})
    for each in outputs if bolted else ():
        net.probe(f"bolt{each}", each, "fault")
    for each in outputs:
        net.voltage(each)
    found = net.solve()
    volts = {each: found[f"v({each})"] for each in outputs} | {"n": 0j}
    volts |= {one: SYSTEMS[supply].phasors()[other] for one, other in same.items() if other in LINES}
    amps = {line: -found[f"vs{line}#branch".lower()] for line in SYSTEMS[supply].phasors()}
    coils = [found[f"vw{at}#branch"] for at in range(len(units))]
    return volts, amps, coils, [found[f"vbolt{each}#branch"] for each in outputs if bolted]


def ends(legs):
    return tuple(f"o{leg[1]}" for leg in legs) if len(legs) > 1 else (f"o{legs[0][1]}", "n")


def some_loads(case):
    entered = CASES[case][1]
    system = SYSTEMS[entered["secondary"]]
    if system.phases == 1:
        legs = st.just(("L1", "L2"))
    else:
        legs = st.sampled_from(
            [*PAIRS, *((line,) for line in LINES if system.line_to_neutral_v and line != system.high_leg)]
        )
    return st.lists(st.tuples(st.integers(1, 4), legs), min_size=1, max_size=5)


@pytest.mark.parametrize("case", CASES)
@few
@given(st.data())
def test_volts_behind_and_currents_before_are_the_simulator_s(case, data):
    loads = data.draw(some_loads(case))
    job = job_of(case, loads)
    solution, system = solve(job), SYSTEMS[CASES[case][1]["secondary"]]
    idle = simulated(case, [])[0]
    draws = []
    for kva, legs in loads:
        one, other = ends(legs)
        across = idle[one] - idle[other]
        nominal = system.line_to_line_v if len(legs) > 1 else system.line_to_neutral_v
        draws.append((one, other, kva * 1000 / nominal * across / abs(across)))
    volts, amps, *_rest = simulated(case, draws)
    flow = path_flow("src", job, solution)
    for legs in {legs for _kva, legs in loads}:
        one, other = ends(legs)
        assert flow.volts("b", legs) == pytest.approx(abs(volts[one] - volts[other]), rel=1e-4)
    for line, found in solution.nodes["t"].amps.items():
        assert found == pytest.approx(abs(amps[line]), rel=1e-4, abs=1e-3)


@pytest.mark.parametrize("case", CASES)
def test_loss_inside_is_the_simulator_s_along_each_voltage(case):
    """A balanced load: each voltage falls by what its coils lose of it; at unity power factor along it."""
    system = SYSTEMS[CASES[case][1]["secondary"]]
    every = (("L1", "L2"),) if system.phases == 1 else PAIRS
    solved = solve(job_of(case, [(3, legs) for legs in every])).nodes["t"]
    idle = simulated(case, [])[0]
    draws = []
    for legs in every:
        across = idle[ends(legs)[0]] - idle[ends(legs)[1]]
        draws.append((*ends(legs), 3000 / system.line_to_line_v * across / abs(across)))
    volts = simulated(case, draws)[0]
    for legs in every:
        before = idle[ends(legs)[0]] - idle[ends(legs)[1]]
        lost = ((before - (volts[ends(legs)[0]] - volts[ends(legs)[1]])) / (before / abs(before))).real
        # What a voltage rises by another's current is not counted on.
        assert solved.unit.falls[legs] == pytest.approx(max(lost, 0) / system.line_to_line_v * 100, rel=1e-3, abs=1e-4)


# The coils of each bank in the order of its windings above.
COILS = {
    "delta to star": ("l1", "l2", "l3"),
    "delta to delta": ("l1", "l2", "l3"),
    "open delta": ("l1", "l2"),
    "high leg": ("l1", "l2", "l3c", "l3a"),
    "open high leg": ("l2", "l1c", "l1a"),
}


@pytest.mark.parametrize("case", COILS)
@settings(max_examples=40, deadline=None)
@given(st.data(), st.sampled_from([5, 10, 25, 50, 167]), st.floats(1.5, 6), st.floats(0.5, 6))
def test_every_coil_s_current_and_the_bolted_fault_of_random_banks(case, data, kva, z_percent, ratio):
    entries = {"kva": str(kva), "impedance_percent": f"{z_percent:.4f}", "x_over_r": f"{ratio:.4f}"}
    supply, entered = CASES[case][:2]
    system = SYSTEMS[entered["secondary"]]
    read = read_document(
        {
            "format": "voltaje-job",
            "version": 1,
            "name": "B",
            "book": "NEC 2023",
            "nodes": [
                {"id": "src", "kind": "source", "system": supply},
                {"id": "t", "kind": "transformer", "parent": "src", "transformer": entered | entries},
            ],
        }
    )
    made = made_of(read.nodes[1].transformer, SYSTEMS[supply], LINES)
    loads = data.draw(some_loads(case))
    drawn = total([leg_currents(Placed(kva * 1000, 1.0, legs), system) for kva, legs in loads], system)
    work = made.at_work(SYSTEMS[supply], LINES, drawn)
    idle, draws = simulated(case, [], entries)[0], []
    for load_kva, legs in loads:
        one, other = ends(legs)
        across = idle[one] - idle[other]
        nominal = system.line_to_line_v if len(legs) > 1 else system.line_to_neutral_v
        draws.append((one, other, load_kva * 1000 / nominal * across / abs(across)))
    coils = simulated(case, draws, entries)[2]
    for name, amps in zip(COILS[case], coils, strict=True):
        assert abs(work.amps[name]) == pytest.approx(abs(amps), rel=1e-3, abs=0.05)
    hardest = max(abs(amps) for amps in simulated(case, [], entries, bolted=True)[3])
    plate = made.plate
    assert plate.kva * 1000 / (ROOT * plate.secondary_v) / (made.fault_percent / 100) == pytest.approx(
        hardest, rel=0.01
    )


def test_what_goes_through_by_the_textbook():
    """Open delta: 57.7 % of three units, 86.6 % of its two; an autotransformer: its kVA by output over what it adds."""
    made = {case: solve(job_of(case, [(1, ("L1", "L2"))])).nodes["t"].unit.made for case in CASES}
    assert made["delta to delta"].plate.kva == pytest.approx(45)
    assert made["open delta"].plate.kva / 45 == pytest.approx(1 / ROOT)
    assert made["open delta"].plate.kva / 30 == pytest.approx(ROOT / 2)
    assert made["one boost"].plate.kva == pytest.approx(2 * 240 / 32)  # output nominal
    assert made["one boost"].share * 240 == pytest.approx(208 * 272 / 240)
    assert made["two in open delta"].plate.kva == pytest.approx(ROOT * 240 * 2000 / 24 / 1000)
    assert made["three in star"].plate.kva == pytest.approx(3 * 120 * 2000 / 12 / 1000, rel=1e-3)  # 208/√3


@given(
    st.sampled_from([("480 3ph", "240 3ph"), ("240 3ph", "480 3ph"), ("480Y/277", "208Y/120")]), st.integers(10, 200)
)
@few
def test_an_autotransformer_s_windings_carry_one_less_low_over_high(systems, kva):
    """Built volt-amperes over what goes through are 1 − low/high (textbook); its own impedance is as entered."""
    entered = {"made_as": "autotransformer", "kva": str(kva), "secondary": systems[1], "impedance_percent": 4}
    nodes = [
        {"id": "src", "kind": "source", "system": systems[0]},
        {"id": "t", "kind": "transformer", "parent": "src", "transformer": entered},
        {"id": "b", "kind": "board", "parent": "t"},
        {"id": "n", "kind": "load", "parent": "b", "load": {"rating": "5 kVA", "phases": 3}},
    ]
    made = (
        solve(read_document({"format": "voltaje-job", "version": 1, "name": "A", "book": "NEC 2023", "nodes": nodes}))
        .nodes["t"]
        .unit.made
    )
    low, high = sorted(SYSTEMS[each].line_to_line_v for each in systems)
    assert made.plate.kva == pytest.approx(kva, rel=1e-6)
    assert made.units * made.unit_kva / kva == pytest.approx(1 - low / high, rel=1e-6)
    assert made.plate.impedance_percent == pytest.approx(4, rel=1e-6)
    assert made.share == pytest.approx(1)


def test_a_fault_behind_it_is_by_its_own_small_impedance():
    """Bolted at its output, infinite supply: output volts over what its secondary alone has, 4 % of 32 V's base."""
    solved = solve(job_of("one boost", [(1, ("L1", "L2"))])).nodes["t"]
    ohms = 0.04 * 32**2 / 2000
    assert abs(behind(solved.unit.plate, None, 2, SYSTEMS["240 1ph"]).line) * 2 == pytest.approx(ohms)
    board = solve(job_of("one boost", [(1, ("L1", "L2"))])).nodes["b"]
    to_ground = abs(cmath.rect(120, 0) + (cmath.rect(120, 0) - cmath.rect(120, -2 * math.pi / 3)) * 32 / 240)
    assert board.fault_a == pytest.approx(max(240, to_ground) / ohms, rel=1e-6)


@pytest.mark.parametrize(
    ("entered", "field"),
    [
        (BOOST | {"secondary": "240 1ph"}, "unit_primary_v"),
        (BOOST | {"secondary": "120/240 1ph 3w", "unit_primary_v": "240", "unit_secondary_v": "32"}, "secondary"),
        (BANK | {"secondary": "240 1ph", "unit_primary_v": "240", "unit_secondary_v": "32"}, "made_as"),
    ],
)
def test_units_that_cannot_stand_so_are_said_at_their_field(entered, field):
    nodes = [
        {"id": "src", "kind": "source", "system": "208Y/120"},
        {"id": "t", "kind": "transformer", "parent": "src", "legs": ["L1", "L2"], "transformer": entered},
    ]
    document = {"format": "voltaje-job", "version": 1, "name": "U", "book": "NEC 2023", "nodes": nodes}
    found = [each for each in solve(read_document(document)).nodes["t"].findings if each.code == "transformer.made"]
    assert [each.field for each in found] == [f"t.transformer.{field}"]


def test_a_tap_moves_the_volts_and_not_what_its_winding_bears():
    """Five per cent more turns on the primary: volts per turn, and the secondary's volts, are one over 1.05."""
    findings = {}
    for tap in ("0", "5", "-5"):
        entered = CASES["delta to star"][1] | {"tap": tap, "unit_primary_v": "457"}
        nodes = [
            {"id": "src", "kind": "source", "system": "480 3ph"},
            {"id": "t", "kind": "transformer", "parent": "src", "transformer": entered},
        ]
        document = {"format": "voltaje-job", "version": 1, "name": "U", "book": "NEC 2023", "nodes": nodes}
        solved = solve(read_document(document)).nodes["t"]
        made, part = solved.unit.made, 1 + float(tap) / 100
        assert made.winding_percent == pytest.approx(480 / 457 / part * 100)
        assert made.share == pytest.approx(480 / 457 / part * 120 * ROOT / 208)
        findings[tap] = {each.code for each in solved.findings}
    assert "transformer.over_volts" in findings["-5"] and "transformer.over_volts" not in findings["5"]


ENTERED = st.fixed_dictionaries(
    {
        "kva": st.sampled_from(["0.05", "1.5", "300"]),
        "secondary": st.sampled_from(list(SYSTEMS)),
        "made_as": st.sampled_from(["bank", "autotransformer", "buck-boost"]),
    },
    optional={
        "unit_primary_v": st.sampled_from(["120", "277", "480"]),
        "units": st.sampled_from(["2", "3"]),
        "unit_secondary_v": st.sampled_from(["12", "32", "240"]),
        "impedance_percent": st.just("4"),
        "connection": st.sampled_from(["Yy", "Yd", "buck", "junk"]),
        "tap": st.sampled_from(["5", "-5"]),
    },
)


@settings(max_examples=80, deadline=None)
@given(st.sampled_from(list(SYSTEMS)), ENTERED, st.sampled_from([[], ["L1"], ["L1", "L2"]]))
def test_whatever_units_are_entered_the_job_is_solved_or_refused_with_a_reason(supply, entered, legs):
    nodes = [
        {"id": "src", "kind": "source", "system": supply, "supply": {"fault_ka": 10}},
        {"id": "t", "kind": "transformer", "parent": "src", "transformer": entered, "run": {"length": 20}}
        | ({"legs": legs} if legs else {}),
        {"id": "b", "kind": "board", "parent": "t", "run": {"length": 5}},
        {"id": "n", "kind": "load", "parent": "b", "load": {"rating": "1 kVA"}},
    ]
    job = read_document({"format": "voltaje-job", "version": 1, "name": "U", "book": "NEC 2023", "nodes": nodes})
    try:
        solution = solve(job)
    except Refused as reason:
        assert reason.field
        return
    unit = solution.nodes["t"].unit
    codes = {each.code for each in solution.nodes["t"].findings}
    assert unit and (unit.made or "transformer.made" in codes)
    if unit.made and unit.made.stacked and "transformer.other_volts" not in codes:
        assert unit.made.units * unit.made.unit_kva <= unit.made.plate.kva * max(unit.made.share, 1) * 1.01
        assert solution.nodes["b"].fault_a is None or solution.nodes["b"].fault_a > 0
