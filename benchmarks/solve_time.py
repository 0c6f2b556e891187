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
    """Print the best of three solves for each size, the time per circuit, and how fast the machine is at all."""
    begun = time.perf_counter()
    for _ in range(1_000_000):
        pass
    print(f"a plain loop of a million turns: {(time.perf_counter() - begun) * 1000:.0f} ms")
    for circuits in SIZES:
        job = read_job(job_of(circuits), "ft")
        times = []
        for _ in range(3):
            begun = time.perf_counter()
            solve(job)
            times.append(time.perf_counter() - begun)
        best = min(times)
        print(f"{circuits:6} circuits: {best * 1000:8.1f} ms, {best / circuits * 1e6:6.1f} µs each")


if __name__ == "__main__":
    main()
