"""The walk-through line: what a line says becomes a load and its run; what it does not say is not guessed."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from voltaje.path.walk_through import read_line

# line, kind, rating, what else must stand in the load, what must stand in the run
IMPERIAL = [
    ("kiln 11.5 kW 208 V 3ph 60 ft", "heating", "11.5 kW", {"phases": 3, "volts": 208}, {"length": "60 ft"}),
    ("sockets x6 180 VA kitchen", "sockets", "180 VA", {"count": 6}, {}),
    ("pump 5 hp 230 V 3ph 420 ft", "motor", "5 hp", {"phases": 3, "volts": 230}, {"length": "420 ft"}),
    ("slab roller 2 hp 208 V 3ph 45 ft", "motor", "2 hp", {"phases": 3}, {"length": "45 ft"}),
    ("spray booth fan 1½ hp 208V three phase 60'", "motor", "1½ hp", {"phases": 3, "volts": 208}, {"length": "60 ft"}),
    ("clay mixer 1-1/2 hp 120 V 35 feet", "motor", "1-1/2 hp", {"poles": 1}, {"length": "35 ft"}),
    ("mixer 1 1/2 hp 240 V 35 foot", "motor", "1 1/2 hp", {"poles": 2}, {"length": "35 ft"}),
    ("air compressor 15 hp 208 V 3-phase, 50 ft in EMT", "motor", "15 hp", {"phases": 3}, {"raceway": "EMT"}),
    ("lighting 1,500 W 277 V 120 ft continuous", "lighting", "1,500 W", {"continuous": 1, "poles": 1}, {}),
    ("lights 900 VA 120 V noncontinuous", "lighting", "900 VA", {"continuous": 0}, {}),
    ("lights 900 VA 120 V 50% continuous", "lighting", "900 VA", {"continuous": 0.5}, {}),
    ("6 receptacles 40 ft", "sockets", "180 VA", {"count": 6}, {"length": "40 ft"}),
    ("ev charger 48 A 240 V 55 ft", "charger", "48 A", {"poles": 2, "continuous": 1}, {"length": "55 ft"}),
    ("charger 32 amps 208 V single phase", "charger", "32 A", {"phases": 1, "poles": 2}, {}),
    ("water heater 4.5 kW 240 V 2-pole 20 ft #10 cu", "heating", "4.5 kW", {"poles": 2}, {"material": "Cu"}),
    ("range 12 kW 240V 30 ft", "range", "12 kW", {"poles": 2}, {"length": "30 ft"}),
    ("dryer 5.4 kW 240 V 25 ft", "dryer", "5.4 kW", {"volts": 240}, {"length": "25 ft"}),
    ("heat pump 16 A 240 V 40 ft ambient 104 F", "cooling", "16 A", {}, {"ambient_c": "104 °F"}),
    ("chiller 20 kVA 480 V 3ph 110 °F", "cooling", "20 kVA", {"phases": 3}, {"ambient_c": "110 °F"}),
    ("welder 50 A 240 V pf 0.7 75 ft", "general", "50 A", {"power_factor": 0.7}, {"length": "75 ft"}),
    ("welder 50 A 240 V 0.7 pf", "general", "50 A", {"power_factor": 0.7}, {}),
    ("floodlights 4 x 150 W 120 V 200 ft buried", "lighting", "150 W", {"count": 4}, {"method": "buried"}),
    ("4x150 W lamps 120 V", "lighting", "150 W", {"count": 4}, {}),
    ("sign 1200 VA 120 V", "lighting", "1200 VA", {"continuous": 1}, {}),
    ("test kiln 41 A 240 V single phase 40 ft", "heating", "41 A", {"phases": 1, "poles": 2}, {}),
    ("heater 10 kW 480 V 100 ft", "heating", "10 kW", {"phases": 3}, {}),
    ("freezer 1/2 hp 115 V 20 ft way 12", "cooling", "1/2 hp", {"way": 12}, {}),
    ("freezer ½ hp 115 V circuit 7", "cooling", "½ hp", {"way": 7}, {}),
    ("pump 3 hp 230 V 150 yd L1-L2", "motor", "3 hp", {"legs": ["L1", "L2"]}, {"length": "150 yd"}),
    ("lamp 100 W 120 V on leg B", "lighting", "100 W", {"legs": ["L2"]}, {}),
    ("heater 5 kW 240 V 3 awg aluminum", "heating", "5 kW", {}, {"material": "Al"}),
    ("kiln 30 kW 3ph 75 ft THHN", "heating", "30 kW", {"phases": 3}, {"insulation": "THHN"}),
    ("kiln 30 kW 3 phase 75 ft XHHW-2 in conduit", "heating", "30 kW", {}, {"method": "raceway"}),
    ("kiln 24 kW at 208 volts, three-phase, 75 feet away", "heating", "24 kW", {"phases": 3}, {"length": "75 ft"}),
    ("fryer 9 kW 208 V 3ph", "kitchen", "9 kW", {"phases": 3}, {}),
    ("griddle 12 kVA 480 V", "kitchen", "12 kVA", {"phases": 3}, {}),
    ("14,200 VA kiln 240 V", "heating", "14,200 VA", {"volts": 240}, {}),
    ("saw 7.5 horsepower 240 V", "motor", "7.5 hp", {"volts": 240}, {}),
    ("outlets qty 8 180 VA", "sockets", "180 VA", {"count": 8}, {}),
    ("A/C 3 hp 208 V 3ph 30 ft", "cooling", "3 hp", {"phases": 3}, {}),
    ("panel heater 120/208 V 2 kW", "heating", "2 kW", {"volts": 208}, {}),
]
METRIC = [
    ("4 pedestals 32 A 90 m", "sockets", "32 A", {}, {"length": "90 m"}),
    ("hoist 11 kW 400 V 3ph pf 0.85 60 m armoured", "motor", "11 kW", {"power_factor": 0.85}, {"cable": "armoured"}),
    ("pressure washer 5.5 kW 400 V 50 m", "motor", "5.5 kW", {"phases": 3}, {"length": "50 m"}),
    ("sockets 20 A 230 V 18 m", "sockets", "20 A", {"poles": 1}, {"length": "18 m"}),
    ("immersion 3 kW 230 V 25 m 2.5 mm2", "heating", "3 kW", {"poles": 1}, {"length": "25 m"}),
    ("immersion 3 kW 230 V 25 metres 2.5mm²", "heating", "3 kW", {"poles": 1}, {"length": "25 m"}),
    ("shower 9.5 kW 15 m", "heating", "9.5 kW", {}, {"length": "15 m"}),
    ("lighting 900 W 16 m cos 0.95", "lighting", "900 W", {"power_factor": 0.95}, {}),
    ("lighting 900 W 16 m cosφ 0.95", "lighting", "900 W", {"power_factor": 0.95}, {}),
    ("welding outlet 32 A 3ph 28 m method E on tray", "sockets", "32 A", {"phases": 3}, {"method": "E"}),
    ("cooker 7.2 kW 12 m", "range", "7.2 kW", {}, {}),
    ("compressor 7,500 W 400 V 3~ 30 m", "motor", "7,500 W", {"phases": 3}, {}),
    ("geyser 4 kW 230V 1ph 12m", "heating", "4 kW", {"poles": 1}, {"length": "12 m"}),
    ("conveyor 2.2 kW 3-pole 40 m", "motor", "2.2 kW", {"phases": 3}, {}),
    ("ev 7.4 kW 230 V 22 m", "charger", "7.4 kW", {"poles": 1}, {"length": "22 m"}),
    ("led 45 W x 12 20 m", "lighting", "45 W", {"count": 12}, {"length": "20 m"}),
    ("12 no lamps 45 W", "lighting", "45 W", {"count": 12}, {}),
    ("lift 11 kW 400 V 35 m XLPE", "motor", "11 kW", {}, {"insulation": "XLPE 90"}),
    ("pump 4 kW 400 V 3 phase 120 m underground", "motor", "4 kW", {}, {"method": "D"}),
    ("heater 2 kW 230 V 35 °C", "heating", "2 kW", {}, {"ambient_c": "35 °C"}),
    ("oven 3 kW 230 V 40 C ambient", "heating", "3 kW", {}, {"ambient_c": "40 °C"}),
]  # fmt: skip


@pytest.mark.parametrize(
    ("line", "kind", "rating", "load", "run", "metric"),
    [(*row, False) for row in IMPERIAL] + [(*row, True) for row in METRIC],
    ids=[row[0] for row in (*IMPERIAL, *METRIC)],
)
def test_phrasings(line, kind, rating, load, run, metric):
    found = read_line(line, metric)
    assert found.problems == []
    assert (found.load["kind"], found.load["rating"]) == (kind, rating)
    assert found.load.items() >= load.items()
    assert found.run.items() >= run.items()
    assert found.not_understood == []


def test_there_are_at_least_sixty_phrasings():
    assert len(IMPERIAL) + len(METRIC) >= 60


@pytest.mark.parametrize(
    ("line", "circuits", "board", "name"),
    [
        ("4 pedestals 32 A 90 m", 4, "", "Pedestals"),
        ("two water heaters 3 kW 230 V 20 m", 2, "", "Water heaters"),
        ("pump 5 hp 230 V 3ph 420 ft on shed board", 1, "shed board", "Pump"),
        ("6 receptacles 40 ft on gallery panel", 1, "gallery panel", "Receptacles"),
        ("Glaze mill 1,500 VA from the MDP", 1, "MDP", "Glaze mill"),
    ],
)
def test_how_many_circuits_where_and_what_name(line, circuits, board, name):
    found = read_line(line, metric=False)
    assert (found.circuits, found.board, found.name) == (circuits, board, name)


@pytest.mark.parametrize(
    ("line", "pins"),
    [
        ("dryer 5.4 kW 240 V on a 30 A breaker", {"device_a": 30}),
        ("shower 9.5 kW C50 mcb", {"device_a": 50}),
        ("water heater 4.5 kW #10", {"size": "10"}),
        ("kiln 24 kW 3ph 2 AWG", {"size": "2"}),
        ("kiln 60 kW 3ph 4/0 awg", {"size": "4/0"}),
        ("kiln 80 kW 3ph 350 kcmil", {"size": "350"}),
    ],
)
def test_what_is_said_of_device_and_size_is_pinned(line, pins):
    found = read_line(line, metric=False)
    assert found.run["pins"].items() >= pins.items()
    assert found.problems == []


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("", "say what it is"),
        ("kiln 60 ft", "no rating"),
        ("lights 14 200 VA 277 V", "reads two ways"),
        ("heater 2,2 kW", "more than one way"),
        ("kiln 0 kW", "more than zero"),
    ],
)
def test_what_stands_in_the_way_is_said(line, said):
    assert any(said in str(problem) for problem in read_line(line, metric=False).problems)


def test_words_that_mean_nothing_are_given_back():
    assert read_line("kiln 20 A frobnicate 30 ft quickly", metric=False).not_understood == ["frobnicate", "quickly"]


@given(st.text(max_size=80), st.booleans())
def test_no_line_ever_raises(text, metric):
    found = read_line(text, metric)
    assert found.complete == (not found.problems)
