"""Conductors behind a transformer, held against 240.21(C) reckoned here from the clause and Table 310.16."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.reference.test_sums import board, job, load, said
from voltaje.tools.registry import tools
from voltaje.tools.solve import solve_document

# Copper at 75 °C, Table 310.16 [A].
AMPACITY = {
    "14": 20,
    "12": 25,
    "10": 35,
    "8": 50,
    "6": 65,
    "4": 85,
    "3": 100,
    "2": 115,
    "1": 130,
    "1/0": 150,
    "2/0": 175,
    "3/0": 200,
    "4/0": 230,
    "250": 255,
    "300": 285,
    "350": 310,
    "400": 335,
    "500": 380,
    "600": 420,
    "700": 460,
    "750": 475,
}
SMALL = {"14": 15, "12": 20, "10": 30}  # 240.4(D)
PRIMARY_V, SECONDARY_V = 480, 208


def serves(size, device, primary_device, feet):
    """Whether a size may lie so long behind a 480 to 208Y/120 V transformer, its end in one device."""
    ampacity = AMPACITY[size]
    if ampacity < device or device > SMALL.get(size, device):
        return False  # 240.21(C): the next rating up is not for them
    if feet <= 10 and ampacity >= primary_device * PRIMARY_V / SECONDARY_V / 10:
        return True  # (C)(2)
    return feet <= 25 and ampacity * SECONDARY_V / PRIMARY_V >= primary_device / 3  # (C)(6)


def transformer(kva, **more):
    spec = {"kva": kva, "secondary": "208Y/120", "connection": "Dyn"}
    return {"id": "t", "kind": "transformer", "parent": "src", "transformer": spec, "run": {"length": "20 ft"}, **more}


def solved(kva, feet, share):
    main = board("m", "t")
    main["run"]["length"] = f"{feet} ft"
    some = load("l", "m", rating=f"{kva * share} kVA", phases=3)
    return solve_document(job(transformer(kva), main, some, system="480Y/277"))["nodes"]


@settings(max_examples=80, deadline=None)
@given(st.sampled_from([15, 30, 45, 75, 112.5]), st.integers(1, 25), st.floats(0.05, 0.95))
def test_they_are_the_smallest_that_the_clause_lets_be(kva, feet, share):
    nodes = solved(kva, feet, share)
    main, primary = nodes["m"], nodes["t"]["device_a"]
    size, sizes = main["conductor"]["size"], list(AMPACITY)
    assert not said(main, "transformer.secondary_length")
    assert serves(size, main["device_a"], primary, feet)
    smaller = sizes[max(sizes.index(size) - 1, 0)]
    assert size == "14" or not serves(smaller, main["device_a"], primary, feet)
    alone = tools()["transformer"].run(
        {
            "kva": f"{kva} kVA",
            "primary_v": PRIMARY_V,
            "secondary_v": SECONDARY_V,
            "secondary_length": f"{feet} ft",
            "terminal_c": 75,
            "secondary_device_a": main["device_a"],
            "load_kva": f"{kva * share} kVA",
        }
    )["result"]
    assert (alone["primary_device_a"], alone["secondary_conductor"]["size"]) == (primary, size)


@pytest.mark.parametrize("feet", [26, 60])
def test_no_size_helps_what_no_rule_lets_be_so_long(feet):
    assert said(solved(45, feet, 0.3)["m"], "transformer.secondary_length")


def test_a_plate_is_enough_to_size_the_primary_by():
    """75 kVA at 480 V: 90.2 A, × 1.25 = 112.8: 125 A holds 12 times that, on 2 AWG: 240.4(B)."""
    nodes = solve_document(job(transformer(75), board("m", "t"), system="480Y/277"))["nodes"]
    assert (nodes["t"]["device_a"], nodes["t"]["conductor"]["size"]) == (125, "2")
    assert nodes["t"]["transformer"]["secondary_device_max_a"] == 300  # 208.2 A × 1.25 = 260, the next up
    assert nodes["t"]["transformer"]["trade_kva"] is None  # of no load there is no next trade size


def test_what_is_offered_in_its_place_is_held_by_the_clause_too():
    main = board("m", "t")
    main["run"]["length"] = "25 ft"
    nodes = [transformer(45), main, load("l", "m", rating="10 kVA", phases=3)]
    found = solve_document(job(*nodes, system="480Y/277"), "m")["nodes"]
    copper = [each for each in found["m"]["options"] if each["conductor"]["material"] == "Cu"]
    assert copper
    for each in copper:
        sets, size = each["conductor"]["sets"], each["conductor"]["size"]
        assert sets * AMPACITY[size] * SECONDARY_V / PRIMARY_V >= found["t"]["device_a"] / 3
