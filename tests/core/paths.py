"""Random jobs for properties: boards in boards, circuits of every kind that is sized, in both families."""

from hypothesis import strategies as st

KINDS = ["lighting", "sockets", "heating", "cooling", "general", "kitchen", "charger"]
SYSTEMS = {
    "NEC 2017": ["120/240 1ph 3w", "208Y/120", "480Y/277", "240/120 high-leg"],
    "NEC 2023": ["120/240 1ph 3w", "208Y/120", "480Y/277", "240/120 high-leg"],
    "BS 7671": ["230/400", "230 1ph"],
    "SANS 10142-1": ["230/400", "230 1ph"],
}


@st.composite
def loads(draw, phases):
    """A load, on as many phases as its supply may have."""
    load = {
        "kind": draw(st.sampled_from(KINDS)),
        "rating": f"{draw(st.integers(50, 9_000))} W",
        "power_factor": draw(st.sampled_from([1, 0.9])),
    }
    if draw(st.booleans()):
        load["continuous"] = draw(st.sampled_from([True, 0.5]))
    if phases == 3 and draw(st.integers(0, 3)) == 0:
        load["phases"] = 3
    return load


@st.composite
def jobs(draw, most=14, books=tuple(SYSTEMS)):
    """A job of up to three boards and so many circuits."""
    book = draw(st.sampled_from(books))
    system = draw(st.sampled_from(SYSTEMS[book]))
    phases = 3 if system in ("208Y/120", "480Y/277", "240/120 high-leg", "230/400") else 1
    nodes = [{"id": "src", "kind": "source", "system": system}]
    boards = []
    for at in range(draw(st.integers(1, 3))):
        parent = draw(st.sampled_from(boards)) if boards else "src"
        boards.append(f"b{at}")
        nodes.append({"id": f"b{at}", "kind": "board", "parent": parent, "run": {"length": draw(st.integers(1, 40))}})
    for at in range(draw(st.integers(1, most))):
        run = {"length": draw(st.integers(1, 60))}
        node = {"id": f"n{at}", "kind": "load", "parent": draw(st.sampled_from(boards)), "run": run}
        nodes.append({**node, "load": draw(loads(phases))})
    return {"format": "voltaje-job", "version": 1, "name": "Any", "book": book, "nodes": nodes}


def below(job, node):
    """The ids of everything that a node feeds, near and far."""
    found = {node}
    for each in job["nodes"]:  # parents stand before what they feed
        if each.get("parent") in found:
            found.add(each["id"])
    return found - {node}
