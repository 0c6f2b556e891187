"""How loads count in the IEC family: as they stand, with the designer's own diversity."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.answers import BoardDemand, BoardFacts, Connected, Household, LoadRules, NeutralLoad
from voltaje.books.iec.boards import board_demand, household_demand
from voltaje.books.iec.household import IecHouseholds
from voltaje.books.iec.profile import Profile
from voltaje.errors import NotCovered
from voltaje.message import Message
from voltaje.sheet import Citation, Sheet


@dataclass(frozen=True)
class IecDemands:
    """A profile's answers about demand."""

    profile: Profile

    def demand(self, loads: Sequence[Connected], board: BoardFacts, sheet: Sheet) -> BoardDemand:
        """Return the demand with the designer's own diversity."""
        if board.spec.area:
            raise NotCovered("area", Message("no rule in this book for lighting by area: list the circuits"))
        if board.spec.household and board.spec.diversity == 1:
            return household_demand(loads, self.households, self.profile, sheet)
        return board_demand(loads, board, self.profile, sheet)

    def load_rules(self, kind: str, entered: float | None) -> LoadRules:
        """Return what was entered: no kind is continuous by rule here, nor is continuous load taken at more."""
        return LoadRules(entered or 0.0, entered or 0.0)

    def branch_va(self, unit: Household, sheet: Sheet) -> float:
        """Return what a household unit counts on its own circuit [VA]: a cooker by its practice, others as they are."""
        return self.households.own_circuit_va(unit, sheet)

    @property
    def households(self) -> IecHouseholds:
        """The profile's practice of dwellings."""
        return IecHouseholds(self.profile)

    def branch_neutral(self, kind: str, amps: float, reducible: bool) -> NeutralLoad | None:
        """Return a neutral as its line where a household unit stands between lines."""
        return NeutralLoad(amps, reducible=False)

    def neutral_share(self, kind: str, household: bool, reducible: bool) -> tuple[float, float]:
        """Return nothing: the neutral is as large as the line here [share]."""
        return 0.0, 0.0

    def least_device_a(self, kind: str, va: float) -> float:
        """Return nothing: this family has no least rating for a kind [A]."""
        return 0.0

    def least_service_a(self, circuits: int) -> float:
        """Return nothing: this family has no least service [A]."""
        return 0.0

    def recorded(self) -> tuple[float, Citation | None]:
        """Return all of what was metered [%]: no rule adds to it here."""
        return 100.0, None

    def service_limits(self) -> None:
        """Return nothing: this family has no such rules."""
