"""A house that stands and gets more load, by 220.83 reckoned here."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document


def existing(**entries):
    asked = {"method": "existing", "floor_area": 1500, **entries}
    return tools()["dwelling"].run({"book": "NEC 2023", **asked})["result"]


def test_by_hand():
    """4500 + 4500 + 5000 + 12,000 + 4500 = 30,500: 8000 and 40 % of 22,500 are 17,000; cooling 5000 over 3000 heat."""
    found = existing(
        dryers=["5 kW"],
        cooking=[{"kind": "range", "load": "12 kW"}],
        appliances=[{"name": "Water heater", "load": "4.5 kW", "volts": 240}],
        cooling="5 kW",
        heating=[{"kind": "resistance", "load": "3 kW"}],
    )
    assert found["demand_va"] == pytest.approx(22_000)
    assert found["amps"] == pytest.approx(22_000 / 240)


@settings(max_examples=50, deadline=None)
@given(
    st.integers(600, 5000),
    st.lists(st.integers(500, 9000), max_size=4),
    st.integers(0, 8),
    st.integers(0, 12),
    st.integers(1, 6),
)
def test_the_pool_and_the_larger_of_heat_and_cooling(area, dryers, cooling, heat, units):
    heating = [{"kind": "resistance", "load": f"{heat} kW", "units": units}] if heat else []
    found = existing(
        floor_area=area,
        dryers=[f"{va} VA" for va in dryers],
        heating=heating,
        **({"cooling": f"{cooling} kW"} if cooling else {}),
    )
    # From four separately controlled units on heating is general load.
    pool = 3 * area + 4500 + sum(dryers) + (heat * 1000 if units >= 4 else 0)
    beside = max(cooling * 1000, heat * 1000 if units < 4 else 0)
    assert found["demand_va"] == pytest.approx(min(pool, 8000) + 0.4 * max(pool - 8000, 0) + beside)


def test_it_stands_on_a_path_as_on_its_sheet():
    house = {"floor_area": 1500, "method": "existing", "dryers": ["5 kW"]}
    nodes = [
        {"id": "src", "kind": "source", "system": "120/240 1ph 3w"},
        {"id": "h", "kind": "dwelling", "parent": "src", "dwelling": house},
    ]
    job = {"format": "voltaje-job", "version": 1, "name": "H", "book": "NEC 2023", "nodes": nodes}
    assert solve_document(job)["nodes"]["h"]["demand_va"] == pytest.approx(existing(**house)["demand_va"])
