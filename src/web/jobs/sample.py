"""The sample world: Marrow Creek house."""

from web.jobs.house import HOUSE, SOURCE

MARROW_CREEK = {
    "job": {"name": "Marrow Creek house", "book": "NEC 2023"},
    "nodes": {
        SOURCE: {"system": "120/240 1ph 3w"},
        HOUSE: {
            "floor_area": "2,340 ft²",
            "small_appliance_circuits": "2",
            "laundry_circuits": "1",
            "cooking": [
                {"id": "c1", "kind": "cooktop", "load": "8.2 kW", "count": "1"},
                {"id": "c2", "kind": "oven", "load": "4.1 kW", "count": "2"},
            ],
            "appliances": [
                {"id": "a1", "name": "Dishwasher", "load": "1.3 kW", "volts": "120", "place": "kitchen"},
                {"id": "a2", "name": "Disposer", "load": "½ hp", "volts": "120", "place": "kitchen"},
                {"id": "a3", "name": "Water heater", "load": "4.5 kW", "volts": "240", "place": "utility"},
                {"id": "a4", "name": "Well pump", "load": "1½ hp", "volts": "240", "place": "utility"},
            ],
            "dryers": [{"id": "d1", "load": "5.4 kW"}],
            "heating": [
                {"id": "h1", "kind": "heat_pump", "load": "16 A"},
                {"id": "h2", "kind": "heat_pump_supplement", "load": "9.6 kW"},
            ],
            "vehicle_chargers": [{"id": "v1", "load": "48 A"}],
        },
    },
}
