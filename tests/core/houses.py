"""Houses for property tests: raw input of the dwelling tool, within what it accepts."""

from hypothesis import strategies as st

EDITIONS = ["NEC 2017", "NEC 2020", "NEC 2023"]

va = st.integers(100, 20_000)
kw = st.integers(10, 270).map(lambda tenths: f"{tenths / 10} kW")
hp = st.sampled_from(["1/6 hp", "¼ hp", "½ hp", "1½ hp", "5 hp"])
appliances = st.lists(
    st.fixed_dictionaries(
        {"load": st.one_of(va, hp), "volts": st.sampled_from([120, 240])},
        optional={"motor": st.booleans(), "fastened": st.booleans(), "name": st.just("Thing")},
    ),
    max_size=7,
)
cooking = st.lists(
    st.fixed_dictionaries(
        {"kind": st.sampled_from(["range", "cooktop", "oven"]), "load": kw, "count": st.integers(1, 4)}
    ),
    max_size=3,
)
heating = st.lists(
    st.fixed_dictionaries(
        {
            "kind": st.sampled_from(["resistance", "heat_pump", "heat_pump_supplement", "thermal_storage"]),
            "load": va,
            "units": st.integers(1, 6),
            "locked_out": st.booleans(),
        }
    ),
    max_size=3,
)
houses = st.fixed_dictionaries(
    {
        "book": st.sampled_from(EDITIONS),
        "method": st.sampled_from(["standard", "optional"]),
        "system": st.sampled_from(["120/240 1ph 3w", "208Y/120 2 legs"]),
        "occupancy": st.sampled_from(["one-family", "unit"]),
        "floor_area": st.integers(200, 60_000),
        "small_appliance_circuits": st.integers(2, 6),
        "laundry_circuits": st.integers(1, 3),
        "appliances": appliances,
        "dryers": st.lists(va, max_size=6),
        "cooking": cooking,
        "heating": heating,
        "vehicle_chargers": st.lists(st.sampled_from(["16 A", "48 A", 9600]), max_size=2),
        "conductor_material": st.sampled_from(["Cu", "Al"]),
        "terminals": st.sampled_from(["75", "60", "unmarked"]),
    },
    optional={"cooling": va},
)
