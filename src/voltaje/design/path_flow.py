"""A solved job as a four-wire network: what really flows in every conductor while all circuits run at their demand.

Each run with its table's resistance and reactance, its neutral with its own; transformers with their impedance between;
loads as on paper. Beside the chain, which counts on no leg being helped by another, it tells which legs sag and rise.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from voltaje.books.answers import Run
from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution, Solution
from voltaje.design.transformers.inside import tapped
from voltaje.path.kinds import EMPTY, Kind
from voltaje.path.model import Job
from voltaje.physics.draws import NoSolution
from voltaje.physics.flow import Flow, Load, Ohms, Span, alike, flow
from voltaje.physics.reflection import Connection, connection
from voltaje.physics.unit import Maps, Pair, Unit, single_phase, three_phase
from voltaje.systems import THREE_PHASE, System

_THOUSAND, _ALIKE = 1000.0, 1e-6


class PathFlow(NamedTuple):
    """What flows in a source's part of a job: the flow, and each node's place in it."""

    flow: Flow
    places: dict[str, int]

    def volts(self, key: str, legs: tuple[str, ...]) -> float:
        """Return what stands at a node between two legs, or from one to its neutral [V]."""
        return abs(self.flow.across(self.places[key], legs))

    def neutral_a(self, key: str) -> float:
        """Return what the neutral of a node's run carries [A]."""
        return abs(self.flow.neutral(self.places[key]))


def path_flow(source: str, job: Job, solution: Solution) -> PathFlow | None:
    """Return what flows behind a source; None where no voltages hold, or nothing decides them."""
    book = find_book(solution.book)
    spans: list[Span] = []
    places: dict[str, int] = {}
    loads: list[Load] = []
    for solved in _from_source(source, job, solution):
        node = solved.node
        places[node.id] = len(spans)
        after = places.get(node.parent or "")
        unit, made = _unit(solved)
        spans.append(Span(after, _ohms(solved, book), unit, made))
        loads.extend(_loads(solved, places[node.id]))
    try:
        return PathFlow(flow(solution.nodes[source].system, spans, loads), places)
    except NoSolution:
        return None


def _from_source(source: str, job: Job, solution: Solution) -> Iterator[NodeSolution]:
    """Yield a source and what hangs on it, each after what feeds it."""
    children: dict[str, list[str]] = {}
    for node in job.nodes:
        if node.parent and node.kind not in EMPTY:
            children.setdefault(node.parent, []).append(node.id)
    waiting = [source]
    for key in waiting:  # grows as it goes
        yield solution.nodes[key]
        waiting.extend(children.get(key, ()))


def _ohms(solved: NodeSolution, book: Book) -> Ohms:
    if solved.node.parent is None:
        return alike(solved.met.line if solved.met and not solved.met.infinite else 0j, 0j)
    design = solved.design
    if design is None or not design.run.length_m:
        return alike(0j)
    each = []
    for size in (design.choice.size, design.neutral or design.choice.size):
        table = book.impedance(design.run, size, unity=_in_step(design.run))
        share = design.run.length_m / table.unit_m / _THOUSAND / design.choice.sets
        each.append(complex(table.resistance, table.reactance) * share)
    return alike(each[0], each[1])


def _in_step(run: Run) -> bool:
    """Return whether a run's currents go along their volts, as the chain tells it."""
    if not run.falls:
        return run.power_factor == 1
    currents = [amps for fall in run.falls for amps in (fall.line, fall.neutral)]
    return all(abs(amps.imag) <= _ALIKE * abs(amps) for amps in currents)


def _unit(solved: NodeSolution) -> tuple[Unit | Maps | None, System | None]:
    """Return a transformer as coils, or what they make, with the system it makes; none of what is no transformer."""
    spec = solved.node.transformer
    if spec is None or solved.unit is None:
        return None, None
    if solved.unit.made:
        return solved.unit.made.maps, spec.secondary
    plate, made = solved.unit.plate, spec.secondary
    own = plate.impedance * plate.secondary_v**2 / (plate.kva * _THOUSAND)
    if len(solved.legs) < THREE_PHASE:
        unit = single_phase(solved.legs, solved.nominal_v, made, own)
    else:
        joined = connection(spec.connection, made) or connection("", made) or Connection("D", "Y", 1)
        unit = three_phase(joined, solved.system, made, own)
    factor = tapped(spec)
    return tuple(Pair(each.primary, each.secondary, each.ratio / factor, each.ohms) for each in unit), made


def _loads(solved: NodeSolution, at: int) -> Iterator[Load]:
    node = solved.node
    if node.kind is Kind.INVERTER or not solved.demand_va:
        return
    if node.load is not None:
        yield Load(at, solved.demand_va, node.load.power_factor, solved.legs)
    elif node.kind is Kind.DWELLING:
        yield Load(at, solved.demand_va, 1.0, solved.legs)
