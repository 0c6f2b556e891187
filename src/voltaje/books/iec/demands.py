"""How loads count in the IEC family: as they stand, with the designer's own diversity."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.answers import BoardDemand, BoardFacts, Connected, LoadRules, NeutralLoad
from voltaje.books.iec.boards import board_demand
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
        return board_demand(loads, board, self.profile, sheet)

    def load_rules(self, kind: str, entered: float | None) -> LoadRules:
        """Return what was entered: no kind is continuous by rule here, nor is continuous load taken at more."""
        return LoadRules(entered or 0.0, entered or 0.0)

    def branch_va(self, kind: str, va: float, sheet: Sheet) -> float:
        """Return the load as it is: this family has no rule of its own for a kind [VA]."""
        return va

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
