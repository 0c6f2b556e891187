"""Small jobs for tests: a source, a board, and what hangs on it."""

from voltaje.tools.solve import solve_document


def job_with(*loads, book="NEC 2020", system="208Y/120", length=50, board=None, **more):
    """A job of one board; each load may bring its own `run`."""
    nodes = [
        {"id": "src", "kind": "source", "name": "Utility", "system": system},
        {"id": "mdp", "kind": "board", "parent": "src", "name": "Board", "run": {"length": length}, **(board or {})},
    ]
    for at, load in enumerate(loads):
        kind = "dwelling" if "floor_area" in load else "load"
        run = load.get("run", {"length": length})
        node = {"id": f"n{at}", "kind": kind, "parent": "mdp", "name": f"Load {at}", "run": run}
        nodes.append({**node, kind: {key: value for key, value in load.items() if key != "run"}})
    return {"format": "voltaje-job", "version": 1, "name": "Test", "book": book, "nodes": nodes, **more}


def solved(*loads, **more):
    """The nodes of such a job, solved."""
    return solve_document(job_with(*loads, **more))["nodes"]
