"""The walk-through line: every line of the phrase book becomes what an electrician means by it, no more and no less."""

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.speech.read import nodes_of, read_line
from voltaje.speech.said import Where
from voltaje.systems import SYSTEMS

BOOKS = sorted((Path(__file__).parent / "phrases").glob("*.txt"))
FAMILY = {"NEC 2023": "nec", "BS 7671": "iec", "SANS 10142-1": "iec"}
PLAIN = {
    "length": "",
    "method": "method=",
    "raceway": "raceway=",
    "cable": "cable=",
    "arrangement": "arrangement=",
    "insulation": "insulation=",
    "material": "material=",
    "ambient_c": "ambient=",
    "device_kind": "type=",
    "rcd_ma": "rcd=",
    "ring": "ring=",
}


def phrases():
    """Yield each line of the phrase books with the supply it is typed on and what it must become."""
    for path in BOOKS:
        where = None
        for line in path.read_text("utf-8").splitlines():
            if line.startswith("# ") and "·" in line:
                book, system = (part.strip() for part in line.removeprefix("# ").split("·"))
                where = Where(FAMILY[book], SYSTEMS[system], rings=book == "BS 7671")
            elif "=>" in line:
                typed, becomes = (part.strip() for part in line.split("=>"))
                yield pytest.param(where, typed, becomes, id=f"{where.system.name}: {typed}")


OWN = {
    "power_factor": "pf",
    "duty_percent": "duty",
    "way": "way",
    "nameplate_a": "plate",
    "managed_a": "held",
    "neutral_group": "shared",
}


def facts(item, where):
    """What was made of one thing that a line says, in the words of the phrase book."""
    if item.problems:
        return {f"refused: {item.problems[0]}"}
    assumed = {part.place for part in item.parts if part.assumed}
    return {
        *_what(item, assumed),
        *_standing(item, where, assumed),
        *_run(item, assumed),
        *([f"*{item.circuits}"] if item.circuits > 1 else []),
        *([f"on={item.board}"] if item.board else []),
        *([f"unused={', '.join(each.words for each in item.unused)}"] if item.unused else []),
    }


def _what(item, assumed):
    if item.kind == "load":
        load = item.load
        yield f"{load['kind']} {load['rating']}{'~' * ('load.rating' in assumed)}"
        if "count" in load:
            yield f"x{load['count']}{'~' * ('load.count' in assumed)}"
        if "continuous" in load:
            share = load["continuous"]
            yield "continuous" + (f"={share}" if share != 1 else "") + "~" * ("load.continuous" in assumed)
        yield from (
            f"{word}={load[key] if isinstance(load[key], str) else format(load[key], 'g')}"
            for key, word in OWN.items()
            if key in load
        )
        return
    more = item.more
    if item.kind == "transformer":
        yield f"transformer {more['transformer']['kva']} kVA"
        made = more["transformer"]
        if made.get("made_as") == "bank":
            yield f"bank of {made['units']} {made['unit_primary_v']}/{made['unit_secondary_v']} V"
        elif "made_as" in made:
            yield made["made_as"]
        yield f"secondary={made['secondary']}"
        if "impedance_percent" in made:
            yield f"z={made['impedance_percent']}"
    else:
        own = {"inverter": item.load.get("rating", ""), "dwelling": more.get("dwelling", {}).get("floor_area", "")}
        yield f"{item.kind} {own.get(item.kind, more.get('system', ''))}".strip()
    if "way" in more:
        yield f"way={more['way']}"


def _standing(item, where, assumed):
    if item.load:
        poles, system = item.load["poles"], where.system
        nominal = system.line_to_neutral_v if poles == 1 else system.line_to_line_v
        yield f"{item.load.get('volts', nominal):g}V-{poles}p{'~' * ('load.poles' in assumed)}"
        if "legs" in item.load:
            yield f"legs={'-'.join(item.load['legs'])}"
    if "poles" in item.more:
        yield f"{item.more['poles']}p{'~' * ('poles' in assumed)}"
    if "legs" in item.more:
        yield f"legs={'-'.join(item.more['legs'])}{'~' * ('legs' in assumed)}"


def _run(item, assumed):
    pins = item.run.get("pins", {})
    if "device_a" in pins:
        yield f"{pins['device_a']:g}A-device{'~' * ('run.pins.device_a' in assumed)}"
    if "size" in pins:
        yield f"size={pins['size']}"
    if "protective" in pins:
        yield f"cpc={pins['protective']}"
    for key, before in PLAIN.items():
        if key in item.run:
            yield f"{before}{item.run[key]}"


@pytest.mark.parametrize(("where", "typed", "becomes"), list(phrases()))
def test_phrase(where, typed, becomes):
    found = read_line(typed, where)
    wanted = [{fact.strip() for fact in part.split(";")} for part in becomes.split("&&")]
    assert len(found.items) == len(wanted)
    for item, facts_wanted in zip(found.items, wanted, strict=True):
        is_so = facts(item, where)
        refused = next((fact for fact in facts_wanted if fact.startswith("refused: ")), "")
        if refused:
            assert refused.removeprefix("refused: ").lower() in next(iter(is_so)).lower()
            continue
        named = {fact for fact in facts_wanted if fact.startswith("name=")}
        assert is_so == facts_wanted - named
        assert not named or f"name={item.name}" in named


def test_the_phrase_books_hold_three_hundred_lines():
    assert len(list(phrases())) >= 300


SAID = (  # noqa: SIM905
    "20 A|48A|5 hp|3 kW|208 V|120/240|480Y/277|3ph|1ph|2P|40 ft|12 m|x6|(4)|qty 2|@|ea|MCA 20|MOCP 30|FLA 12|3 ton|"
    'L14-30|12/2 NM|#10|4/0|30/2|B16|20A breaker|circuit 7|way 3|L1-L2|pf 0.8|900 sf|on panel B|; |two|0|-5 ft|2½"|'
    "45 kVA|480-208Y/120|30% duty|1e9 kW|1/0 kW|0 V|kiln|receptacles|motor|panel|transformer|spare|space|heat pump|"
    "house|inverter|service|lights|range|EV|bomba|ring main|T&E|TP&N"
).split("|")


@given(
    st.lists(st.sampled_from(SAID), min_size=1, max_size=6),
    st.sampled_from(["nec", "iec"]),
    st.sampled_from(list(SYSTEMS.values())),
    st.sampled_from([(), ("L1",), ("L1", "L2")]),
)
def test_whatever_electricians_string_together_is_answered(said, family, system, legs):
    found = read_line(" ".join(said), Where(family, system, legs))
    for item in found.items:
        assert item.problems or nodes_of(item)


@settings(deadline=None)
@given(st.text(max_size=80), st.sampled_from([Where("nec", SYSTEMS["208Y/120"]), Where("iec", SYSTEMS["230/400"])]))
def test_no_line_ever_raises(text, where):
    found = read_line(text, where)
    assert found.complete == (not found.problems)
