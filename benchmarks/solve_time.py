"""How long a job of random, distinct circuits takes to solve: `./voltaje bench`."""

import random
import time

from voltaje.design.solve import solve
from voltaje.path.document import read_job

SIZES = (100, 1_000, 5_000, 20_000)
WAYS = 42


def job_of(circuits: int, seed: int = 1) -> dict:
    """Return a job of boards of 42 ways, every circuit different."""
    chance = random.Random(seed)  # noqa: S311
    nodes = [{"id": "src", "kind": "source", "system": "208Y/120"}]
    for at in range(circuits):
        board = f"b{at // WAYS}"
        if at % WAYS == 0:
            length = chance.uniform(20, 200)
            nodes.append({"id": board, "kind": "board", "parent": "src", "run": {"length": length}})
        load = {
            "kind": chance.choice(["lighting", "sockets", "heating", "general"]),
            "rating": round(chance.uniform(200, 1800), 3),
            "continuous": round(chance.random(), 3),
        }
        nodes.append(
            {"id": f"n{at}", "kind": "load", "parent": board, "load": load, "run": {"length": chance.uniform(10, 150)}}
        )
    return {"format": "voltaje-job", "version": 1, "name": "benchmark", "book": "NEC 2023", "nodes": nodes}


def main() -> None:
    """Print for each size the best of three solves of jobs never seen, the time per circuit, and after one change."""
    begun = time.perf_counter()
    for _ in range(1_000_000):
        pass
    print(f"a plain loop of a million turns: {(time.perf_counter() - begun) * 1000:.0f} ms")
    for circuits in SIZES:
        times = []
        for seed in range(3):
            job = read_job(job_of(circuits, seed), "ft")
            begun = time.perf_counter()
            solve(job)
            times.append(time.perf_counter() - begun)
        raw = job_of(circuits, seed)
        raw["nodes"][2]["run"]["length"] += 1
        job = read_job(raw, "ft")
        begun = time.perf_counter()
        solve(job)
        again = time.perf_counter() - begun
        best = min(times)
        each = best / circuits * 1e6
        print(f"{circuits:6} circuits: {best * 1000:8.1f} ms, {each:6.1f} µs each; one changed: {again * 1000:8.1f} ms")


if __name__ == "__main__":
    main()
