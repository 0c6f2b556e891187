"""How loads count by the NEC: alone on their circuit, and together on a board."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.answers import BoardDemand, BoardFacts, Connected, Household, LoadRules, NeutralLoad, ServiceLimits
from voltaje.books.nec.boards import board_demand, branch_va
from voltaje.books.nec.circuits import load_rules
from voltaje.books.nec.edition import Edition
from voltaje.path.kinds import HOUSEHOLD
from voltaje.sheet import Citation, Sheet

_TWO = 2  # 2-wire branch circuits of a service of its own rating


@dataclass(frozen=True)
class NecDemands:
    """An edition's answers about demand."""

    edition: Edition

    def demand(self, loads: Sequence[Connected], board: BoardFacts, sheet: Sheet) -> BoardDemand:
        """Return the demand by Article 220; an entered diversity has no rule here."""
        return board_demand(loads, board, self.edition, sheet)

    def least_service_a(self, circuits: int) -> float:
        """Return 15 A for one circuit, 30 for two, 60 for more [A]. Source: 230.79(A), (B), (D); 230.42(B)."""
        if circuits <= 1:
            return self.edition.figure("service_one_circuit_a")
        return self.edition.figure("service_two_circuits_a" if circuits == _TWO else "service_others_a")

    def recorded(self) -> tuple[float, Citation | None]:
        """Return 125 % of what was metered [%]. Source: 220.87."""
        return self.edition.figure("existing_demand_percent"), self.edition.cite("existing_demand")

    def service_limits(self) -> ServiceLimits:
        """Return when a service has ground-fault protection, and how many disconnects. Source: 230.95, 230.71."""
        figure, cite = self.edition.figure, self.edition.cite
        return ServiceLimits(
            figure("ground_fault_from_a"),
            figure("ground_fault_over_v"),
            cite("service_ground_fault"),
            figure("most_disconnects"),
            cite("service_disconnects"),
        )

    def load_rules(self, kind: str, entered: float | None) -> LoadRules:
        """Return how a kind of load counts. Source: 422.13, 424.4(B), 430.24, 440.32, 625.41, 220.51."""
        return load_rules(kind, entered, self.edition)

    def branch_va(self, unit: Household, sheet: Sheet) -> float:
        """Return what one circuit counts of its load [VA]: a range by its table, a dryer at least 5000."""
        return branch_va(unit.kind, unit.va, self.edition, sheet)

    def branch_neutral(self, kind: str, amps: float, reducible: bool) -> NeutralLoad | None:
        """Return the neutral of a range's or dryer's circuit: a range's at 70 %. Source: 210.19(A)(3) Exception 2."""
        if kind != "range" or not reducible:
            return NeutralLoad(amps, reducible=False)
        share = self.edition.figure("neutral_percent") / 100
        return NeutralLoad(amps * share, reducible=False, least_size=self.edition.size_figure("range_neutral_least"))

    def neutral_share(self, kind: str, household: bool, reducible: bool) -> tuple[float, float]:
        """Return 70 % for ranges and dryers, all of them on two legs of a wye [share]. Source: 220.61(B)(1), (C)."""
        if not household or kind not in HOUSEHOLD:
            return 0.0, 0.0
        return self.edition.figure("neutral_percent") / 100 if reducible else 1.0, 1.0

    def least_device_a(self, kind: str, va: float) -> float:
        """Return 40 A for a range of 8¾ kW and over [A]. Source: 210.19(A)(3) (2023: 210.19(C))."""
        large = va >= self.edition.figure("cooking_column_c_over_kw") * 1000
        return self.edition.figure("range_circuit_least_a") if kind == "range" and large else 0.0
