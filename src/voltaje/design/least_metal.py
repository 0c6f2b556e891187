"""The sizes of a whole job that keep every limit of voltage drop with the least metal, proven.

Each run takes one of the sizes that are lawful there; what it loses with each is what its chain says. A run's own limit
strikes sizes out; what is lost from the source is a sum along the path, so that the choice is an integer programme
(scipy's HiGHS): a long feeder may give up less than all the short branches behind it would have to.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from itertools import islice
from typing import Any, NamedTuple

import numpy as np

from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.design.chain import Pins, RunDesign, sized
from voltaje.design.ladder import kg_per_m
from voltaje.design.solution import NodeSolution, Solution
from voltaje.errors import Refused
from voltaje.findings import Severity
from voltaje.message import Figure, Message
from voltaje.numerics import optimize, sparse
from voltaje.path.kinds import Kind
from voltaje.path.model import Job

REASON = "least metal"  # of a pin that was set so; it is found anew the next time
_MOST_SIZES = 9
_NODES, _GUARD_S = 500, 30.0  # of the search's tree; the guard stands far behind them, so that no clock decides
_DUST = 1e-9
_LOW_SHARE = 0.2  # a size whose drop is under this part of its limit need not be made larger

Legs = tuple[str, ...]
Term = tuple[str, Legs]  # a run, and the voltage of it that counts
WORST: Legs = ("worst",)  # whichever voltage loses the most


class Candidate(NamedTuple):
    """A size that a run may have: its metal [kg], what each voltage loses [%]."""

    size: str
    kg: float
    design: RunDesign
    falls: Mapping[Legs, float]

    def lost(self, voltage: Legs) -> float:
        """Return what a voltage loses in it [%]."""
        if voltage == WORST:
            return max(self.falls.values(), default=0.0)
        return self.falls.get(voltage, self.falls.get((), 0.0))


class Swap(NamedTuple):
    """A run that gets another size: its node, both sizes, metal before and after [kg], and why."""

    key: str
    name: str
    before: str
    after: str
    kg_before: float
    kg_after: float
    why: Message

    @property
    def change(self) -> float:
        """Metal more, or less [kg]."""
        return self.kg_after - self.kg_before


@dataclass(frozen=True)
class LeastMetal:
    """The choice of least metal.

    kg_before, kg_after: of every run with a length, in money where prices were given; bound_kg: under which no choice
        comes; proven: whether it is met
    over_before: runs that broke a limit before; worst_percent: the most that is lost from the source after
    unmet: runs whose limits no size keeps
    cut: whether the far guard of time ended the search before its count of nodes did
    """

    swaps: tuple[Swap, ...]
    kg_before: float
    kg_after: float
    bound_kg: float
    proven: bool
    over_before: int
    worst_percent: float
    unmet: tuple[str, ...]
    cut: bool = False


def least_metal(
    job: Job, solution: Solution, margin_percent: float = 0.0, prices: Mapping[str, float] | None = None
) -> LeastMetal:
    """Return the sizes of least metal, or of least money where prices are given [a kg, by metal].

    margin_percent: kept in hand of every limit [%]
    """
    return _Programme(job, solution, margin_percent, prices or {}).solved()


class _Programme:
    """A column for each size that a run may have; one of them is taken, and limits are rows over the path."""

    def __init__(self, job: Job, solution: Solution, margin_percent: float, prices: Mapping[str, float]) -> None:
        self.prices = prices
        self.job, self.nodes, self.margin = job, solution.nodes, margin_percent
        self.book: Book = find_book(solution.book)
        self.may: dict[str, list[Candidate]] = {}
        self.now: dict[str, Candidate] = {}
        for node in job.nodes:
            solved = self.nodes[node.id]
            if solved.design and solved.design.run.length_m and solved.design.drop:
                self.now[node.id] = _built(solved.design, self.book)
                self.may[node.id] = self._candidates(solved, self.now[node.id])
        self.columns: dict[str, list[int]] = {}
        count = 0
        for key, each in self.may.items():
            self.columns[key] = list(range(count, count + len(each)))
            count += len(each)
        self.count = count
        self.run_of = [key for key, columns in self.columns.items() for _ in columns]

    def _candidates(self, solved: NodeSolution, now: Candidate) -> list[Candidate]:
        """Return the lawful sizes of a run whose own drop keeps its limit, smallest first; its own where none does."""
        node, design = solved.node, solved.design
        pins = node.run.pins
        if design is None or (pins.size and pins.reason != REASON) or node.kind is Kind.TRANSFORMER:
            return [now]
        run, choice = design.run, design.choice
        serves = self.book.complying(run, choice.device_a, choice.sets)
        found = []
        for size in islice(filter(serves, self.book.sizes_by_choice(run)), _MOST_SIZES):
            try:
                other = sized(run, Pins(pins.device_a, size, choice.sets), self.book)
            except Refused:
                continue
            if other.drop is None or any(
                each.severity is Severity.STOP and each.code != "drop.over_limit" for each in other.findings
            ):
                continue
            if other.drop.percent > other.drop.limit.percent - self.margin + _DUST:
                continue
            found.append(_built(other, self.book))
            if other.drop.percent < _LOW_SHARE * other.drop.limit.percent and len(found) > 1:
                break
        return found or [now]

    # Limits

    def _chains(self, key: str, voltage: Legs, passed: bool = False) -> Iterable[tuple[Term, ...]]:
        """Return each way that a voltage comes from the source: the runs on it, with the voltage of each.

        passed: whether a transformer lies between
        """
        solved = self.nodes[key]
        own: tuple[Term, ...] = ((key, voltage),) if key in self.may else ()
        parent = solved.node.parent
        if parent is None:
            return [own]
        above = self.nodes[parent]
        if above.node.parent is None:
            return [own]
        if voltage == WORST or (voltage in above.fallen and not above.node.transformer):
            known = [voltage]
        elif passed:  # each transformer would multiply the ways: beyond the first the worst voltage stands for all
            known = [WORST]
        else:
            known = list(above.fallen)
        passed = passed or above.node.transformer is not None
        return [(*before, *own) for each in known or [()] for before in self._chains(parent, each, passed)]

    def _rows(self) -> tuple[list[dict[int, float]], list[float], list[str]]:
        """Return the limits from the source: a row of what each column loses, the limit, whose it is."""
        rows, limits, keys = [], [], []
        seen: set[tuple[tuple[Term, ...], float]] = set()
        ends = {node.parent for node in self.job.nodes}
        for node in self.job.nodes:
            solved = self.nodes[node.id]
            if node.id in ends and node.kind is not Kind.LOAD:
                continue  # what hangs on it says more
            if solved.design is None or not solved.fallen:
                continue
            limit = self.book.drop_limit(solved.design.run, True).percent - self.margin
            for voltage in solved.fallen:
                for chain in self._chains(node.id, voltage):
                    if chain and (chain, limit) not in seen:
                        seen.add((chain, limit))
                        rows.append(self._row(chain))
                        limits.append(limit)
                        keys.append(node.id)
        return rows, limits, keys

    def _row(self, chain: tuple[Term, ...]) -> dict[int, float]:
        row: dict[int, float] = {}
        for key, voltage in chain:
            for column, candidate in zip(self.columns[key], self.may[key], strict=True):
                row[column] = row.get(column, 0.0) + candidate.lost(voltage)
        return row

    # The answer

    def _cost(self, candidate: Candidate) -> float:
        return candidate.kg * self.prices.get(candidate.design.run.material, 1.0)

    def solved(self) -> LeastMetal:
        """Return the choice of least metal; limits that no size keeps are left out, and named."""
        rows, limits, keys = self._rows()
        unmet = set()
        for at, row in enumerate(rows):
            # Of each run on the way, the least that one of its sizes loses; the others lose nothing here.
            on_it = {self.run_of[column] for column in row}
            least = sum(min(row.get(column, 0.0) for column in self.columns[key]) for key in on_it)
            if least > limits[at] + _DUST:
                unmet.add(keys[at])
                limits[at] = np.inf
        cost = np.array([self._cost(each) for may in self.may.values() for each in may])
        if not self.count:
            return LeastMetal((), 0.0, 0.0, 0.0, True, 0, 0.0, ())
        begun = time.monotonic()
        found = optimize().milp(
            cost,
            integrality=np.ones(self.count),
            bounds=optimize().Bounds(0, 1),
            constraints=self._constraints(rows, limits),
            options={"node_limit": _NODES, "time_limit": _GUARD_S, "mip_rel_gap": 1e-9},
        )
        cut = time.monotonic() - begun >= _GUARD_S
        if found.x is None:
            chosen = {key: may[-1] for key, may in self.may.items()}
            return self._answer(chosen, 0.0, unmet, rows, cut)
        chosen = {key: may[int(np.argmax(found.x[self.columns[key]]))] for key, may in self.may.items()}
        return self._answer(chosen, float(found.mip_dual_bound), unmet, rows, cut)

    def _constraints(self, rows: list[dict[int, float]], limits: list[float]) -> list[Any]:
        at = [(row, column) for row, key in enumerate(self.columns) for column in self.columns[key]]
        ones = sparse().csr_matrix(
            (np.ones(len(at)), tuple(zip(*at, strict=True))), shape=(len(self.columns), self.count)
        )
        made = [optimize().LinearConstraint(ones, 1, 1)]
        placed = [(row, column, value) for row, each in enumerate(rows) for column, value in each.items()]
        if placed:
            where, columns, values = zip(*placed, strict=True)
            losses = sparse().csr_matrix((values, (where, columns)), shape=(len(rows), self.count))
            made.append(optimize().LinearConstraint(losses, -np.inf, np.array(limits) + _DUST))
        return made

    def _answer(
        self, chosen: Mapping[str, Candidate], bound: float, unmet: set[str], rows: list[dict[int, float]], cut: bool
    ) -> LeastMetal:
        before = sum(self._cost(each) for each in self.now.values())
        after = sum(self._cost(each) for each in chosen.values())
        swaps = tuple(
            Swap(
                key,
                self.nodes[key].node.name or key,
                self.now[key].size,
                each.size,
                self._cost(self.now[key]),
                self._cost(each),
                self._why(self.now[key], each),
            )
            for key, each in chosen.items()
            if each.size != self.now[key].size
        )
        taken = {self.columns[key][self.may[key].index(each)] for key, each in chosen.items()}
        worst = max((sum(value for column, value in row.items() if column in taken) for row in rows), default=0.0)
        over = sum(self._is_over(solved) for solved in self.nodes.values())
        return LeastMetal(
            swaps,
            before,
            after,
            bound,
            after <= bound + max(_DUST, 1e-6 * after),
            over,
            worst,
            tuple(sorted(unmet)),
            cut,
        )

    def _is_over(self, solved: NodeSolution) -> bool:
        return any(each.code.startswith("drop.over_limit") for each in solved.findings)

    def _why(self, now: Candidate, then: Candidate) -> Message:
        drop = now.design.drop
        if then.kg < now.kg:
            return Message("smaller still keeps every limit")
        if drop and drop.percent > drop.limit.percent - self.margin:
            return Message(
                "it loses {percent} of its own {limit}",
                percent=Figure(drop.percent, "%", 1),
                limit=Figure(drop.limit.percent, "%", 1),
            )
        return Message("so that what hangs behind it keeps its limit from the source")


def _built(design: RunDesign, book: Book) -> Candidate:
    length = design.run.length_m or 0.0
    kg = length * kg_per_m(design.run, design.choice, design.neutral, design.earth, book)
    return Candidate(design.choice.size, kg, design, dict(design.drop.falls) if design.drop else {})
