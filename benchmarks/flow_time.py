"""Four-wire flow of 1,000 nodes, beside a circuit simulator and a compiled power-flow library: `./voltaje bench`."""

import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.reference.networks import built_in_dss, simulated, solved_by_dss
from tests.reference.test_flow import LINEAR, large
from voltaje.physics.draws import Draws
from voltaje.physics.flow import flow
from voltaje.systems import SYSTEMS

NODES, TURNS = 1000, 5


def best_of(job) -> float:
    """Return the shortest of some turns [ms]."""
    times = []
    for _ in range(TURNS):
        begun = time.perf_counter()
        job()
        times.append(time.perf_counter() - begun)
    return min(times) * 1000


def main() -> None:
    """Print the three beside each other, on the same network."""
    system = SYSTEMS["208Y/120"]
    spans, loads = large(NODES, LINEAR)
    mine = best_of(lambda: flow(system, spans, loads))
    theirs = best_of(lambda: simulated(system, spans, loads, every=NODES))
    print(f"{NODES} four-wire nodes: {mine:.1f} ms; ngspice {theirs:.0f} ms, {theirs / mine:.0f} times as long")
    spans, loads = large(NODES, (Draws.CURRENT, Draws.IMPEDANCE, Draws.POWER))
    mine = best_of(lambda: flow(system, spans, loads))

    def library() -> None:
        built_in_dss(system, spans, loads)
        solved_by_dss(1)

    theirs = best_of(library)
    print(f"the same with loads of every kind: {mine:.1f} ms; dss-python, built and solved, {theirs:.0f} ms")


if __name__ == "__main__":
    main()
