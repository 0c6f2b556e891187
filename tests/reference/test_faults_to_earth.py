"""Disconnection, conductors in a fault, a household's demand at 230 V, each reckoned here from its clause.

Tables 41.3 (BS 7671) and 8.1, B5.2 (AS/NZS 3000) as recalled; k by the physics of IEC 60949; diversity by hand.
"""

import cmath
import itertools
import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.spice import Netlist
from voltaje.books.iec.profile import PACKAGE
from voltaje.books.tables import load_table
from voltaje.errors import Refused
from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document

R20 = {"1": 18.1, "1.5": 12.1, "2.5": 7.41, "4": 4.61, "6": 3.08, "10": 1.83, "16": 1.15, "25": 0.727}  # IEC 60228
TABLE_41_3 = {
    "B": {6: 7.28, 10: 4.37, 16: 2.73, 20: 2.19, 25: 1.75, 32: 1.37, 40: 1.09, 50: 0.87, 63: 0.69, 80: 0.55, 100: 0.44},
    "C": {6: 3.64, 10: 2.19, 16: 1.37, 20: 1.09, 25: 0.87, 32: 0.68, 40: 0.55, 50: 0.44, 63: 0.35, 80: 0.27, 100: 0.22},
    "D": {6: 1.82, 10: 1.09, 16: 0.68, 20: 0.55, 25: 0.44, 32: 0.34, 40: 0.27, 50: 0.22, 63: 0.17},
}
LENGTHS = [
    *(("B", 6, "1", "1", 170), ("B", 16, "2.5", "2.5", 160), ("B", 32, "4", "2.5", 98), ("C", 20, "2.5", "2.5", 68)),
    *(("C", 32, "4", "2.5", 52), ("C", 63, "16", "6", 76), ("D", 20, "2.5", "2.5", 41), ("D", 50, "10", "4", 37)),
]
AS_ZS = [("B", 6, 9.58), ("B", 32, 1.80), ("C", 20, 1.53), ("C", 63, 0.49), ("D", 16, 1.15), ("D", 100, 0.18)]


def result(tool, **asked):
    return tools()[tool].run(asked)["result"]


def loop(**asked):
    return result("fault-loop", **{"book": "BS 7671", "ze_ohm": 0.35, "line_mm2": "2.5", "length": "20 m", **asked})


@pytest.mark.parametrize(("kind", "amps"), [(kind, amps) for kind, row in TABLE_41_3.items() for amps in row])
def test_table_41_3_reads_back(kind, amps):
    assert loop(device_kind=kind, device_a=amps)["max_zs_ohm"] == pytest.approx(TABLE_41_3[kind][amps], abs=0.0051)


@pytest.mark.parametrize(("kind", "amps", "most"), AS_ZS)
def test_table_8_1_reads_back(kind, amps, most):
    found = loop(book="AS/NZS 3000", device_kind=kind, device_a=amps)
    assert found["max_zs_ohm"] == pytest.approx(most, abs=0.0051)


@pytest.mark.parametrize(("kind", "amps", "line", "earth", "metres"), LENGTHS)
def test_lengths_of_as_nzs_3000_read_back(kind, amps, line, earth, metres):
    asked = {"device_kind": kind, "device_a": amps, "line_mm2": line, "protective_mm2": earth, "ze_ohm": None}
    found = loop(book="AS/NZS 3000", **asked)
    assert found["longest_m"] == pytest.approx(metres, abs=1)
    # At just that length the loop is the greatest there may be.
    edge = loop(book="AS/NZS 3000", **asked, **{"length": f"{found['longest_m']:.6f} m"})
    assert edge["zs_ohm"] == pytest.approx(edge["max_zs_ohm"])


@settings(max_examples=80, deadline=None)
@given(
    st.sampled_from(["2.5", "4", "6", "10", "16"]),
    st.integers(0, 3),
    st.sampled_from([6, 10, 16, 20, 32, 40, 63]),
    st.sampled_from(["B", "C", "D"]),
    st.floats(1, 120),
    st.tuples(st.sampled_from(["PVC 70", "XLPE 90"]), st.sampled_from(["core", "separate"]), st.booleans()),
)
def test_a_loop_by_hand(line, smaller, amps, kind, metres, laid):
    """R at 20 °C × 1.20 or 1.28, 1.04 where it lies apart; a ring by a quarter; Cmin 0.95."""
    insulation, lies, ring = laid
    sizes = list(R20)
    earth = sizes[max(sizes.index(line) - smaller, 0)]
    ring = ring and amps == 32
    found = loop(
        device_kind=kind,
        device_a=amps,
        line_mm2=line,
        protective_mm2=earth,
        length=f"{metres} m",
        insulation=insulation,
        protective=lies,
        ring=ring,
    )
    warm = 1.28 if insulation == "XLPE 90" else 1.20
    share = 4 if ring else 1
    out = R20[line] * warm * metres / 1000 / share
    back = R20[earth] * (warm if lies == "core" else 1.04) * metres / 1000 / share
    most = 0.95 * 230 / ({"B": 5, "C": 10, "D": 20}[kind] * amps)
    assert found["zs_ohm"] == pytest.approx(0.35 + out + back)
    assert found["r1_r2_ohm"] == pytest.approx((R20[line] + R20[earth]) * metres / 1000 / share)
    assert found["fault_a"] == pytest.approx(0.95 * 230 / (0.35 + out + back))
    assert found["holds"] == (0.35 + out + back <= most + 1e-9)
    if most > 0.35:
        assert found["longest_m"] == pytest.approx((most - 0.35) / ((out + back) / metres))


def test_longer_or_thinner_is_never_a_smaller_loop_and_a_larger_device_never_a_greater_one():
    for size, earth in itertools.product(("4", "6", "10"), ("1.5", "2.5", "4")):
        runs = [loop(device_a=20, line_mm2=size, protective_mm2=earth, length=f"{m} m")["zs_ohm"] for m in (5, 20, 60)]
        assert runs == sorted(runs)
        thinner = loop(device_a=20, line_mm2="4", protective_mm2=earth)["zs_ohm"]
        assert loop(device_a=20, line_mm2=size, protective_mm2=earth)["zs_ohm"] <= thinner
    for kind in ("gG", "BS 88-3", "BS 3036"):
        rows = [row for row in load_table(PACKAGE, "fuse_loops").rows if row["kind"] == kind]
        for column in ("zs_0_4", "zs_5"):
            figures = [row[column] for row in rows if row[column] is not None]
            assert figures == sorted(figures, reverse=True)
        assert all(row["zs_0_4"] is None or row["zs_0_4"] < row["zs_5"] for row in rows)


def test_every_kind_of_the_practice_is_one_that_the_sheet_takes():
    for row in load_table(PACKAGE, "household").rows:
        assert demand([{"kind": row["kind"], "load": "10 A", "points": 5}])["connected_a"] == 10


def test_an_electrode_needs_an_rcd_and_says_which_opens():
    """411.5.3: 100 Ω and the way to it × 30 mA is 3 V; 2,000 Ω would be 60 V. Times: 0.2 s for a final circuit."""
    asked = {"earthing": "TT", "ze_ohm": None, "electrode_ohm": 100, "device_a": 32}
    assert loop(**asked)["by"] is None
    with_rcd = loop(**asked, rcd_ma=30)
    assert (with_rcd["by"], with_rcd["time_s"], with_rcd["required_s"]) == ("RCD", 0.04, 0.2)
    assert with_rcd["max_loop_rcd_ohm"] == pytest.approx(50 / 0.03)
    assert loop(**{**asked, "electrode_ohm": 2000}, rcd_ma=30)["by"] is None
    assert loop(**asked, rcd_ma=300)["by"] == "RCD"
    assert loop(**{**asked, "electrode_ohm": 167}, rcd_ma=300)["by"] is None


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"device_kind": "gG", "device_a": 30}, "device_a"),
        ({"device_a": 45, "book": "IEC 60364"}, "device_a"),
        ({"device_a": 20, "protective_mm2": "4"}, "protective_mm2"),
        ({"device_a": 20, "ring": True}, "ring"),
        ({"device_a": 20, "line_mm2": "3"}, "line_mm2"),
        ({"device_a": 20, "material": "Al"}, "line_mm2"),
        ({"device_a": 20, "earthing": "TT", "ze_ohm": None}, "electrode_ohm"),
        ({"book": "AS/NZS 3000", "device_kind": "BS 3036", "device_a": 20}, "device_kind"),
        ({"book": "NEC 2023", "device_a": 20}, ""),
    ],
)
def test_what_no_table_has_is_refused_at_its_field(asked, field):
    with pytest.raises(Refused) as refused:
        loop(**asked)
    assert getattr(refused.value, "field", "") == field


def test_a_fuse_by_its_table_and_nothing_between():
    assert loop(device_kind="BS 88-3", device_a=63, feeds="distribution")["max_zs_ohm"] == 0.68
    assert loop(device_kind="BS 88-3", device_a=32)["max_zs_ohm"] == 0.91
    assert loop(device_kind="BS 88-3", device_a=32, disconnection_s=1)["max_zs_ohm"] == 0.91  # the safe side
    assert loop(device_kind="BS 88-3", device_a=32, disconnection_s=0.2)["max_zs_ohm"] is None


# Conductors in a fault: k and size


def test_k_by_physics():
    """k = a √ln(1 + (θf − θi) / (β + θi)), IEC 60364-5-54 Annex A: Cu 226, 234.5; Al 148, 228; steel 78, 202."""
    metals = {"Cu": (226, 234.5), "Al": (148, 228), "steel": (78, 202)}
    for row in load_table(PACKAGE, "k_values").rows:
        a, beta = metals[row["material"]]
        physics = a * math.sqrt(math.log(1 + (row["to_c"] - row["from_c"]) / (beta + row["from_c"])))
        assert row["k"] == pytest.approx(physics, rel=0.015)


@pytest.mark.parametrize(
    ("asked", "least", "take"),
    [
        ({"fault_a": 1600, "seconds": 0.4, "line_mm2": "16"}, 1600 * math.sqrt(0.4) / 115, "10"),
        ({"fault_a": 300, "seconds": 0.1, "line_mm2": "2.5"}, 300 * math.sqrt(0.1) / 115, "1"),
        ({"fault_a": 300, "seconds": 0.1, "protective": "separate"}, 300 * math.sqrt(0.1) / 143, "4"),
        (
            {"fault_a": 300, "seconds": 0.1, "protective": "separate", "guarded": True},
            300 * math.sqrt(0.1) / 143,
            "2.5",
        ),
        ({"fault_a": 4000, "seconds": 5, "line_mm2": "70"}, 4000 * math.sqrt(5) / 115, "35"),
        # Opened at once: what a class 3 breaker lets through to 3 kA, or I² in 0.1 s where that is less.
        ({"fault_a": 2500, "seconds": 0.01, "device_kind": "B", "device_a": 16}, math.sqrt(15000) / 115, "1.5"),
        ({"fault_a": 200, "seconds": 0.01, "device_kind": "B", "device_a": 16}, 200 * math.sqrt(0.1) / 115, "1"),
    ],
)
def test_the_adiabatic_equation_by_hand(asked, least, take):
    found = result("adiabatic", **asked)
    assert found["min_mm2"] == pytest.approx(least)
    assert found["take_mm2"] == take


def test_an_armour_that_is_too_thin_is_stopped():
    asked = {"seconds": 0.4, "protective": "armour", "insulation": "XLPE 90", "line_mm2": "10"}
    for amps, holds in ((2800, True), (2900, False)):  # 39 mm² × 46 ÷ √0.4 is 2,837 A
        found = tools()["adiabatic"].run({"fault_a": amps, **asked})
        assert found["result"]["holds"] is holds
        assert any(each["code"] == "protective.too_small" for each in found["findings"]) is not holds


# A household


HOUSE = [
    {"kind": "ring sockets", "device_a": 32, "count": 2},
    {"kind": "radial sockets", "device_a": 20},
    {"kind": "lighting", "load": "6 A", "count": 2},
    {"kind": "cooker", "load": "10.35 kW", "with_socket": True},
    {"kind": "shower", "load": "8.51 kW"},
    {"kind": "water heater", "load": "3 kW"},
]


def demand(circuits, **asked):
    return result("house-demand", **{"book": "BS 7671", "circuits": circuits, **asked})


def test_a_british_house_by_hand():
    sockets = 32 + 0.4 * (32 + 20)
    cooker = 10 + 0.3 * (45 - 10) + 5
    by_hand = sockets + 0.66 * 12 + cooker + 37 + 3000 / 230
    found = demand(HOUSE)
    assert found["demand_a"] == pytest.approx(by_hand)
    assert found["main_fuse_a"] is None
    assert demand([each for each in HOUSE if each["kind"] != "shower"])["main_fuse_a"] == 100


def test_how_circuits_are_listed_changes_nothing():
    spread = [{**each, "count": 1} for each in HOUSE for _ in range(each.get("count", 1))]
    random.Random(3).shuffle(spread)  # noqa: S311
    assert demand(spread)["demand_a"] == pytest.approx(demand(HOUSE)["demand_a"])
    points = [{"kind": "lighting", "load": "4 A", "points": n} for n in (20, 15, 6)]
    whole = [{"kind": "lighting", "load": "12 A", "points": 41}]
    assert demand(points, book="AS/NZS 3000")["demand_a"] == demand(whole, book="AS/NZS 3000")["demand_a"] == 3 + 2 * 2


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.sampled_from(["lighting", "shower", "charger", "other"]), st.integers(1, 40)), min_size=1))
def test_the_fullest_phase_of_three_is_between_a_third_and_all(items):
    circuits = [{"kind": kind, "load": f"{amps} A"} for kind, amps in items]
    one, three = demand(circuits), demand(circuits, phases=3)
    assert sum(three["legs"].values()) >= one["demand_a"] - 1e-6  # a line leaves out what its own circuits let it
    assert one["demand_a"] / 3 - 1e-6 <= three["demand_a"] <= one["demand_a"] + 1e-6


def test_a_line_of_three_leaves_out_by_its_own_circuits():
    """45 A of cooking alone: 10 + 0.3 × 35; a ring alone whole; two rings on the third line: one whole, one 40 %."""
    circuits = [{"kind": "ring sockets", "device_a": 32, "count": 3}, {"kind": "cooker", "load": "45 A"}]
    legs = demand(circuits, phases=3)["legs"]
    assert sorted(legs.values()) == pytest.approx([20.5, 32, 32 + 0.4 * 32])
    whole = demand([{"kind": "heat pump", "load": "12 A", "phases": 3}, *circuits], phases=3)["legs"]
    assert {leg: whole[leg] - legs[leg] for leg in legs} == pytest.approx(dict.fromkeys(legs, 12))


def test_houses_of_a_street_by_what_each_draws_after_diversity():
    assert demand([], admd_kva=3, houses=20, phases=3)["demand_a"] == pytest.approx(3000 * 20 / 3 / 230)
    with pytest.raises(Refused):
        demand(HOUSE, admd_kva=3)


# Down a path: the same question as the sheet's


def a_path(levels, metres, supply, kind="sockets", **run):
    """Boards one below another, each 10 m of what its device asks for, and a circuit on the last."""
    nodes = [{"id": "src", "kind": "source", "system": "230 1ph", "supply": supply}]
    for at in range(levels):
        above = f"b{at - 1}" if at else "src"
        here = {"length": "10 m", "pins": {"device_a": 63, "size": "16"}}
        nodes.append({"id": f"b{at}", "kind": "board", "parent": above, "run": here})
    load = {"kind": kind, "rating": "3 kW"}
    there = {"length": f"{metres} m", "pins": {"device_a": 20, "size": "4"}, **run}
    nodes.append({"id": "x", "kind": "load", "parent": f"b{levels - 1}", "load": load, "run": there})
    job = {"format": "voltaje-job", "version": 1, "name": "loop", "book": "BS 7671", "nodes": nodes}
    return solve_document(job)["nodes"]


def codes(node):
    return {each["code"]: each["severity"] for each in node["findings"] if each["code"].startswith(("loop", "rcd"))}


@settings(max_examples=30, deadline=None)
@given(st.integers(1, 4), st.integers(2, 90), st.floats(0.05, 1))
def test_the_loop_of_a_path_is_the_sheet_s(levels, metres, ze):
    found = a_path(levels, metres, {"ze_ohm": ze})["x"]["loop"]
    before = ze + levels * (1.15 + 1.15) * 1.2 * 10 / 1000  # Table 54.7: 16 mm² beside 16 mm²
    asked = {"ze_ohm": before, "device_a": 20, "line_mm2": "4", "protective_mm2": "4", "length": f"{metres} m"}
    sheet = loop(**asked)
    said = tools()["fault-loop"].run({"book": "BS 7671", **asked})["findings"]
    there = codes(a_path(levels, metres, {"ze_ohm": ze})["x"])
    assert there == {each["code"]: each["severity"] for each in said}
    for key in ("zs_ohm", "max_zs_ohm", "fault_a", "by", "longest_m", "required_s"):
        assert found[key] == (pytest.approx(sheet[key]) if isinstance(sheet[key], float) else sheet[key])


@settings(max_examples=10, deadline=None)
@given(st.integers(1, 3), st.integers(5, 120), st.floats(0.05, 0.8))
def test_the_current_of_a_fault_is_the_simulator_s_on_a_four_wire_network(levels, metres, ze):
    """Three lines, a neutral and a protective conductor from board to board; L1 touches metal at the end (ngspice)."""
    net, volts = Netlist(), 0.95 * 230
    for leg, degrees in (("l1", 0), ("l2", -120), ("l3", 120)):
        net.source(leg, f"{leg}s", cmath.rect(volts, math.radians(degrees)))
    at = {"l1": "l1s", "l2": "l2s", "l3": "l3s", "pe": "0"}
    net.impedance("ze", "l1s", "l1o", complex(ze))
    at["l1"] = "l1o"
    ohms = [2 * 1.15 * 1.2 * 10 / 1000 / 2] * levels + [4.61 * 1.2 * metres / 1000]
    for board, each in enumerate(ohms):
        for wire, before in list(at.items()):
            net.impedance(f"{wire}{board}", before, f"{wire}b{board}", complex(each))
            at[wire] = f"{wire}b{board}"
    net.probe("fault", at["l1"], at["pe"])
    simulated = net.solve()
    found = a_path(levels, metres, {"ze_ohm": ze})["x"]["loop"]
    assert found["fault_a"] == pytest.approx(abs(simulated["vfault#branch"]), rel=1e-5)


def test_a_loop_that_is_too_great_stops_and_an_assumed_supply_warns():
    far = {"metres": 300, "levels": 1}
    assert codes(a_path(**far, supply={"ze_ohm": 0.3})["x"]) == {"loop.too_great": "stop"}
    assert codes(a_path(**far, supply={})["x"]) == {"loop.too_great": "warn"}
    assert codes(a_path(**far, supply={"ze_ohm": 0.3}, rcd_ma=30)["x"]) == {"loop.by_rcd": "note"}
    assert codes(a_path(1, 20, {"ze_ohm": 0.3}, device_kind="D")["x"]) == {"loop.too_great": "stop"}
    assert codes(a_path(1, 20, {"ze_ohm": 0.3})["x"]) == {}


def test_nothing_is_claimed_of_other_volts_nor_behind_a_transformer():
    for system in ("120 1ph", "208Y/120"):
        nodes = [
            {"id": "src", "kind": "source", "system": system, "supply": {"ze_ohm": 0.2}},
            {"id": "x", "kind": "load", "parent": "src", "load": {"rating": "1 kW"}, "run": {"length": "20 m"}},
        ]
        job = {"format": "voltaje-job", "version": 1, "name": "volts", "book": "BS 7671", "nodes": nodes}
        assert "loop" not in solve_document(job)["nodes"]["x"]
    unit = {"kva": 10, "secondary": "230 1ph"}
    nodes = [
        {"id": "src", "kind": "source", "system": "230/400", "supply": {"ze_ohm": 0.2}},
        {"id": "t", "kind": "transformer", "parent": "src", "transformer": unit, "run": {"length": "5 m"}},
        {"id": "x", "kind": "load", "parent": "t", "load": {"rating": "1 kW"}, "run": {"length": "20 m"}},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "unit", "book": "BS 7671", "nodes": nodes}
    assert "loop" not in solve_document(job)["nodes"]["x"]


def test_an_own_electrode_asks_for_an_rcd_once():
    found = a_path(2, 20, {"earthing": "TT", "electrode_ohm": 80})
    assert [codes(found[key]) for key in ("b0", "b1", "x")] == [{"rcd.needed": "warn"}, {}, {}]
    assert a_path(2, 20, {"earthing": "TT", "electrode_ohm": 80}, rcd_ma=30)["x"]["loop"]["by"] == "RCD"


def test_what_is_entered_of_the_supply_reaches_circuits_that_are_kept():
    """Circuits solved before are taken again only where the loop before them is the same."""
    seen = []
    for ze in (0.2, 0.5, 0.2):
        nodes = [
            {"id": "src", "kind": "source", "system": "230 1ph", "supply": {"ze_ohm": ze}},
            {"id": "b", "kind": "board", "parent": "src", "run": {"length": "5 m"}},
            *(
                {"id": f"x{at}", "kind": "load", "parent": "b", "load": {"rating": "1 kW"}, "run": {"length": "20 m"}}
                for at in range(8)
            ),
        ]
        job = {"format": "voltaje-job", "version": 1, "name": "kept", "book": "BS 7671", "nodes": nodes}
        seen.append(solve_document(job)["nodes"]["x3"]["loop"]["zs_ohm"])
    assert seen[1] - seen[0] == pytest.approx(0.3)
    assert seen[2] == seen[0]
