"""Every cell of the tables is held: by a second copy, by its neighbours, by physics.

`cells.json` holds values as they were recalled a second time, apart from the product's own files; no print was at hand.
What has no copy must lie smoothly among its neighbours, in the order that its physics asks; and `cells_kept.json` keeps
it as it stands, so that a cell is changed on purpose or not at all: in both places, with its reason in the history.
"""

import itertools
import json
import math
import tomllib
from pathlib import Path

import pytest

import voltaje

TABLES = Path(voltaje.__file__).parent / "books"
COPIES = json.loads((Path(__file__).parent / "cells.json").read_text("utf-8"))
KEPT = json.loads((Path(__file__).parent / "cells_kept.json").read_text("utf-8"))
AMPACITIES = (
    "iec/iec_singles_pvc70",
    "iec/iec_singles_xlpe90",
    "iec/iec_multicore_pvc70",
    "iec/iec_multicore_xlpe90",
    "iec/singles_pvc70",
    "iec/singles_xlpe90",
    "iec/multicore_pvc70",
    "iec/armoured_pvc70",
    "iec/armoured_xlpe90",
)
DROPS = (
    "iec/drop_singles_pvc70",
    "iec/drop_singles_xlpe90",
    "iec/drop_multicore_pvc70",
    "iec/drop_armoured_pvc70",
    "iec/drop_armoured_xlpe90",
    "iec/sans_drop_pvc70",
    "iec/sans_drop_armoured_pvc70",
)
MOTORS = ("nec/motor_1ph", "nec/motor_2ph", "nec/motor_3ph", "nec/motor_synchronous", "nec/motor_locked_3ph")
R20 = 18.1  # Ω/km of 1 mm² of copper, IEC 60228; larger sizes by their area, which the standard's table keeps to 8 %


def table(key):
    family, name = key.split("/")
    read = tomllib.loads((TABLES / family / "tables" / f"{name}.toml").read_text("utf-8"))
    columns = list(read["columns"])
    return columns, [dict(zip(columns, row, strict=True)) for row in read["data"]["rows"]]


def column(rows, name, by):
    """The filled cells of a column, each with what it is by."""
    return [(float(row[by]), float(row[name])) for row in rows if row[name] not in ("", None)]


def bends(points):
    """How far each middle point of three lies off the line through its neighbours, on logarithmic scales."""
    logs = [(math.log(x), math.log(y)) for x, y in points]
    for (x0, y0), (x1, y1), (x2, y2) in zip(logs, logs[1:], logs[2:], strict=False):
        yield y1 - (y0 + (y2 - y0) * (x1 - x0) / (x2 - x0))


@pytest.mark.parametrize("key", COPIES)
def test_each_cell_is_that_of_its_second_copy(key):
    columns, rows = table(key)
    mine = [[row[name] for name in columns] for row in rows]
    for copy in COPIES[key]:
        same = [row for row in mine if all(a in ("", b) or b == "" for a, b in zip(row, copy, strict=False))]
        assert same, copy


@pytest.mark.parametrize("key", KEPT)
def test_a_cell_without_a_copy_is_changed_on_purpose_or_not_at_all(key):
    columns, rows = table(key)
    assert [[row[name] for name in columns] for row in rows] == KEPT[key]


def test_no_table_is_left_out():
    all_tables = {f"{path.parts[-3]}/{path.stem}" for path in TABLES.glob("*/tables/*.toml")}
    assert all_tables == {*COPIES, *KEPT}


def area_mm2(size):
    areas = {row["size"]: float(row["cmil"]) for row in table("nec/conductor_areas")[1]}
    return areas[size] * 5.067e-4


@pytest.mark.parametrize("name", ["cu60", "cu75", "cu90", "al60", "al75", "al90"])
@pytest.mark.parametrize("key", ["nec/ampacity", "nec/ampacity_free_air"])
def test_ampacities_by_awg_rise_smoothly_with_area(key, name):
    """Rounded to 5 A, a step may bend by a twentieth; small sizes by more, they are held by their copy."""
    points = [(area_mm2(row["size"]), float(row[name])) for row in table(key)[1] if row[name] != ""]
    assert all(one < other for (_x, one), (_y, other) in itertools.pairwise(points))
    assert max(abs(bend) for (area, _amps), bend in zip(points[1:], bends(points), strict=False) if area > 20) < 0.052


@pytest.mark.parametrize("key", AMPACITIES)
def test_ampacities_by_area_rise_smoothly_and_three_carry_less_than_two(key):
    columns, rows = table(key)
    for name in columns[1:]:
        points = column(rows, name, "size")
        assert all(one < other for (_x, one), (_y, other) in itertools.pairwise(points)), name
        assert max(map(abs, bends(points))) < 0.05, name
    for two in (each for each in columns if each.endswith("_2")):
        three = two.replace("_2", "_3")
        if three in columns:
            ratios = [row[three] / row[two] for row in rows if row[two] and row[three]]
            assert all(0.78 <= each <= 0.98 for each in ratios), (two, ratios)


@pytest.mark.parametrize("kind", ["iec_singles", "iec_multicore", "singles", "armoured"])
def test_what_may_be_hotter_carries_more(kind):
    (_c, cool), (_d, hot) = table(f"iec/{kind}_pvc70"), table(f"iec/{kind}_xlpe90")
    by_size = {row["size"]: row for row in cool}
    for row in hot:
        for name, amps in row.items():
            other = by_size.get(row["size"], {}).get(name)
            if name != "size" and amps and other:
                assert 1.10 <= amps / other <= 1.45, (kind, row["size"], name)


@pytest.mark.parametrize("key", DROPS)
def test_drops_of_small_conductors_are_twice_their_hot_resistance(key):
    """mV/A/m = 2 R20 × 1.20 (70 °C) or 1.28 (90 °C); √3 in place of 2 on three phases. From memory: IEC 60228."""
    columns, rows = table(key)
    heat = 1.28 if "90" in key else 1.20
    for row in rows:
        size = float(row["size"])
        for name in columns[1:]:
            if row[name] in ("", None):
                continue
            times = 2 if "single" in name else math.sqrt(3)
            if size <= 16:
                assert row[name] == pytest.approx(times * R20 / size * heat, rel=0.09), (key, size, name)
    for name in columns[1:]:
        points = column(rows, name, "size")
        assert all(one >= other for (_x, one), (_y, other) in itertools.pairwise(points)), (key, name)
        assert max(map(abs, bends(points)), default=0) < 0.12, (key, name)


@pytest.mark.parametrize("metal", ["cu", "al"])
def test_resistances_follow_the_area(metal):
    """Chapter 9, Table 8: ohms times area is one figure; Table 9 in a conduit lies over it."""
    key = {"cu": "cu_uncoated", "al": "al"}[metal]
    products = [float(row[key]) * float(row["cmil"]) for row in table("nec/conductor_areas")[1] if row[key] != ""]
    assert max(products) / min(products) < 1.06
    direct = {row["size"]: float(row[key]) for row in table("nec/conductor_areas")[1] if row[key] != ""}
    for row in table("nec/impedance")[1]:
        for name in (f"{metal}_pvc", f"{metal}_aluminum", f"{metal}_steel"):
            if row[name] != "":
                assert 0.94 < row[name] / direct[row["size"]] < 2.3, (row["size"], name)
        assert 1.15 < row["x_steel"] / row["x_pvc"] < 1.35


@pytest.mark.parametrize("key", MOTORS)
def test_motors_draw_as_their_output_over_volts(key):
    columns, rows = table(key)
    volts = [each for each in columns if each.startswith("v")]
    for row in rows:
        drawn = [(float(name[1:]), float(row[name])) for name in volts if row[name] != ""]
        for (one_v, one_a), (other_v, other_a) in itertools.pairwise(drawn):
            assert other_a * other_v / (one_a * one_v) == pytest.approx(1, abs=0.16), (row["hp"], one_v, other_v)
    for name in volts:
        points = column(rows, name, "hp")
        assert all(one < other for (_x, one), (_y, other) in itertools.pairwise(points)), name
        assert max(map(abs, bends(points)), default=0) < 0.14, name


@pytest.mark.parametrize(("key", "name"), [("nec/wire_areas", "area"), ("nec/conduit", "area")])
def test_areas_rise_within_their_kind(key, name):
    kinds = {}
    for row in table(key)[1]:
        kinds.setdefault(row["kind"], []).append(float(row[name]))
    for areas in kinds.values():
        assert areas == sorted(set(areas))
        steps = [math.log(other / one) for one, other in itertools.pairwise(areas)]
        assert max(steps) < 0.95


@pytest.mark.parametrize("key", ["nec/ambient", "iec/ambient_air", "iec/ambient_ground", "iec/bs_ambient_air"])
def test_factors_of_ambient_follow_the_square_root_of_the_heat_that_is_left(key):
    """√((θmax − θ) / (θmax − θ0)): base 30 °C in air, 20 °C in ground."""
    columns, rows = table(key)
    base = 20 if "ground" in key else 30
    for row in rows:
        for name in columns[1:]:
            if row[name] != "":
                most = float("".join(filter(str.isdigit, name)))
                left = max(most - float(row["ambient_c"]), 0) / (most - base)
                assert row[name] == pytest.approx(math.sqrt(left), abs=0.035), (key, row["ambient_c"], name)
