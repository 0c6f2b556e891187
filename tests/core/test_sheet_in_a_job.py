"""Every sheet that goes into a job gives the same figures and the same warnings there: a tool is held by being one.

Inputs are the worked example and chance variations of it: amounts scaled, whatever may be chosen chosen, by every book.
"""

import random
import re

import pytest

from voltaje.books.registry import find_book
from voltaje.errors import Refused
from voltaje.systems import SYSTEMS
from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document
from voltaje.tools.tool import PUT

TIMES = 300
BOOKS = {"nec": ("NEC 2017", "NEC 2020", "NEC 2023"), "iec": ("BS 7671", "SANS 10142-1")}
SUPPLIES = {"nec": ((120, 1), (208, 1), (240, 1), (208, 3), (240, 3), (480, 3)), "iec": ((230, 1), (400, 3))}
OUTPUTS = {"hp": (0.5, 1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50), "kw": (0.37, 1.5, 2.2, 4, 7.5, 11, 15, 22)}
FIGURES = ("device_a", "conductor", "neutral", "equipment_ground", "ampacity_a", "drop_v", "drop_percent")
FACTORS = ("breaker_ambient", "breaker_neighbours", "grouping_factor", "enclosure_factor", "ambient_factor")
# Typed amounts that an example does not have, each now and then.
SOMETIMES = {
    "ambient_c": (10, 25, 35, 40, 45),
    "bundled": range(1, 13),
    "sets": (1, 2, 3),
    "managed_limit_a": ("16 A",),
    "nameplate_a": ("20 A",),
    "continuous_share": (0, "50 %", 1),
    "device_a": (50, 100, 200),
    "neutral_a": (0, "30 A", "150 A"),
    "primary_device_a": (50, 70, 100, 200, 250),
    "secondary_device_a": (100, 200, 400),
    "load_kva": ("40 kVA",),
    "load_a": ("90 A",),
    **dict.fromkeys(FACTORS, (0.9,)),
}
PLATE = {"mca": "18 A", "mop": "30 A", "rated_load_a": "14 A"}
# What a sheet judges of its surroundings that a job has elsewhere, or not at all.
# A cooker by household practice stands under what the rules give where its board is no household's.
OF_ITS_PLACE = {"demand.pinned_low", "service.over_transformer", "run.fed_back", "receptacles.rating"}
EXAMPLES = [(name, family) for name, tool in tools().items() for family in tool.example]


def scaled(value, chance):
    """An amount with its unit, some times as large."""
    found = re.fullmatch(r"([\d.]+) (\D+)", str(value))
    return f"{float(found[1]) * chance.choice([0.3, 0.5, 0.8, 1, 1.3, 2, 3]):.5g} {found[2]}" if found else value


def an_output(unit, chance):
    return f"{chance.choice(OUTPUTS[unit])} {'kW' if unit == 'kw' else unit}"


def renewed(item, at, chance):
    """An item of a list under a name of its own, a motor of another output."""
    named = {"name": f"U{at}"} if "name" in item else {}
    return named | {unit: an_output(unit, chance) for unit in OUTPUTS if unit in item}


def varied(tool, family, chance):
    book = find_book(chance.choice(BOOKS[family]))
    raw = {"book": book.name}
    for key, value in tool.example[family].items():
        if key in OUTPUTS:
            raw[key] = an_output(key, chance)
        elif isinstance(value, list) and isinstance(value[0], dict):
            items = [dict(chance.choice(value)) for _ in range(chance.randint(1, 3))]
            raw[key] = [{**item, **renewed(item, at, chance)} for at, item in enumerate(items)]
        else:
            raw[key] = value if key.endswith("_v") or key == "volts" else scaled(value, chance)
    if "volts" in raw:
        raw["volts"], raw["phases"] = chance.choice(SUPPLIES[family])
    for key, ask in tool.asks.asks().items():
        if key in ("book", "phases", "system", "connection") or (ask.family and ask.family != family):
            continue
        options = [each for each in ask.options(book) if each]
        if options and chance.random() < 0.25:
            raw[key] = chance.choice(options)
        elif key in SOMETIMES and chance.random() < 0.2:
            raw[key] = chance.choice(SOMETIMES[key])
        elif key in PLATE and raw.get("kind") == "hermetic":
            raw[key] = PLATE[key]
    return raw


def placed(answered, raw):
    """A job that a sheet was put into, on a supply of its volts, and its nodes solved."""
    top = answered.nodes[0]
    on = "src" if raw.get("system") or top["kind"] in ("transformer", "dwelling") else "mdp"
    volts = next((raw[key] for key in ("primary_v", "line_v", "supply_v", "volts") if raw.get(key)), None)
    if volts is None and "load" in top:
        volts = top["load"]["volts"]
    volts = volts and float(str(volts).split()[0])
    board = {key: raw[given] for key, given in (("main_a", "main_a"), ("bus_a", "busbar_a")) if raw.get(given)}
    supply = {key: raw[key] for key in ("earthing", "ze_ohm") if raw.get(key)} if "circuit" in raw else {}
    if "circuit" in raw:  # its loop begins at its board
        board["run"] = {"length": "0.000000000001 m"}
    usual = ["120/240 1ph 3w"] if top["kind"] == "dwelling" else answered.book.terms.nominal
    for name in [raw["system"]] if raw.get("system") else usual:
        system = SYSTEMS[name]
        near = [
            abs(each / volts - 1) < 0.06 for each in (system.line_to_line_v, system.line_to_neutral_v or 1) if volts
        ]
        if (near and not any(near)) or ("load" not in top and raw.get("phases") == 3 and system.phases != 3):
            continue
        nodes = [
            {"id": "src", "kind": "source", "system": name, "supply": supply},
            {"id": "mdp", "kind": "board", "parent": "src", **board},
            *({"id": PUT, "parent": on, **node} for node in answered.nodes),
        ]
        job = {"format": "voltaje-job", "version": 1, "name": "put", "book": answered.book.name, "nodes": nodes}
        try:
            job |= {"supply": raw.get("supply", "public")}
            found = solve_document(job)["nodes"]
        except Refused:
            continue  # it cannot stand there: a load of three phases on a single one
        if raw.get("supply_v") or not {"load.other_voltage", "motor.off_volts"} & codes(found[PUT]["findings"]):
            return job, found
    raise AssertionError(f"it stands nowhere: {raw}")


def codes(findings):
    return {each["code"] for each in findings if each["severity"] != "note"}


def assert_alike(tool, answered, raw):
    nodes, result = placed(answered, raw)[1], answered.result
    put = [node for key, node in nodes.items() if key.startswith(PUT)]
    there = set().union(*(codes(node["findings"]) for node in put)) - OF_ITS_PLACE
    here = {each.code for each in answered.findings if each.severity.value != "note"} - OF_ITS_PLACE
    if "inverter.no_conductor" in here:  # the sheet names its breaker all the same
        assert "run.not_lawful" in there, raw
        return
    bus = codes(nodes["mdp"]["findings"]) & {"inverter.busbar"}
    # A job knows all devices of a board, and may find by their sum that its bus bears them: the NEC's other way.
    ignored = {"inverter.busbar"} if answered.book.terms.family == "nec" else set()
    assert here - ignored == (there | bus) - ignored, raw
    figures = dict(nodes[PUT])
    if tool.name == "transformer":
        main, unit = nodes[f"{PUT}-main"], nodes[PUT]["transformer"]
        figures |= {
            "primary_device_a": figures["device_a"],
            "primary_conductor": figures["conductor"],
            "primary_device_max_a": unit["primary_device_max_a"],
            "secondary_device_a": main["device_a"],
            "secondary_device_max_a": unit["secondary_device_max_a"],
            "secondary_conductor": main["conductor"],
            "neutral": main["neutral"],
            "secondary_rule": unit["secondary"][0]["secondary_rule"],
        }
    for key in result.keys() & figures.keys() if tool.name == "transformer" else set(FIGURES) & result.keys():
        mine, theirs = result[key], figures.get(key)
        if isinstance(mine, dict):
            mine = {name: mine[name] for name in mine.keys() & (theirs or mine).keys()}
            assert theirs and mine == {name: theirs[name] for name in mine}, (key, raw)
        elif isinstance(mine, float):
            assert theirs == pytest.approx(mine, rel=1e-9), (key, raw)
        elif key in figures and key != "transformer":
            assert theirs == mine, (key, raw)


@pytest.mark.parametrize(("name", "family"), EXAMPLES)
def test_a_sheet_put_into_a_job_gives_the_same_there(name, family):
    tool, chance = tools()[name], random.Random(7)  # noqa: S311
    put = 0
    for time in range(TIMES):
        raw = varied(tool, family, chance) if time else {"book": BOOKS[family][-1], **tool.example[family]}
        try:
            answered = tool.answered(raw)
        except Refused:
            assert time, "the worked example is answered"
            continue
        if not answered.nodes:
            if time:
                continue
            return  # a question that is no load
        assert_alike(tool, answered, raw)
        put += 1
    assert put > TIMES / 5


def test_a_motor_feeder_comes_with_its_motors():
    tool = tools()["motor-feeder"]
    answered = tool.answered(tool.example["nec"])
    nodes = placed(answered, tool.example["nec"])[1]
    motors = [node for key, node in nodes.items() if key.startswith(f"{PUT}-")]
    assert sorted(node["motor"]["flc_a"] for node in motors) == sorted(
        each["flc_a"] for each in answered.result["motors"]
    )
    assert nodes[PUT]["device_a"] == answered.result["device_max_a"]
