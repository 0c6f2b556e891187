"""Which circuits want a residual current device, and of which type."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

from voltaje.books.faults import Residual, ResidualAsked, ResidualType
from voltaje.books.iec.profile import PACKAGE, Profile
from voltaje.books.tables import load_table, text
from voltaje.message import Message


@dataclass(frozen=True)
class IecResiduals:
    """A profile's answers about residual current devices."""

    profile: Profile

    def needed(self, asked: ResidualAsked) -> Residual | None:
        """Return the RCD of 30 mA that a circuit wants, by the first rule that does; None where none does.

        Source: IEC 60364-4-41 411.3.3 (sockets to 32 A), 411.3.4 (lighting of homes), 411.5 (TT), 60364-7-701 (bath and
        shower rooms), 60364-7-722 (chargers); BS 7671 522.6.202 (hidden cables); AS/NZS 3000 2.6.3 (final circuits to
        32 A).
        """
        figure, clauses = self.profile.figure, self.profile.clauses
        for topic, wants, why in _WANTS:
            if topic in clauses and wants(asked, figure):
                return Residual(figure("rcd_ma"), why, self.profile.cite(topic))
        return None

    def type_for(self, feeds: str) -> ResidualType:
        """Return the type that suits a kind of load; A where nothing else is known of it.

        Source: BS 7671 531.3.3, 722.531.3; IEC 60364-7-712 (inverters); common practice.
        """
        return _type_for(self.profile, feeds)


@cache
def _type_for(profile: Profile, feeds: str) -> ResidualType:
    row = next(row for row in load_table(PACKAGE, "rcd_types").rows if row["feeds"] in (feeds, "any"))
    rule = profile.cite_table("rcd_types")
    return ResidualType(text(row, "type"), tuple(text(row, "lawful").split()), _WHY[text(row, "why")], rule)


Figures = Callable[[str], float]
# By which topic a circuit wants one, whether it does, and why: the first that holds counts.
_WANTS: tuple[tuple[str, Callable[[ResidualAsked, Figures], bool], Message], ...] = (
    ("rcd_charger", lambda asked, _figure: asked.feeds == "charger", Message("a vehicle charger")),
    ("rcd_bath", lambda asked, _figure: asked.feeds == "shower", Message("a bath or shower room")),
    (
        "rcd_sockets",
        lambda asked, figure: asked.feeds == "sockets" and asked.device_a <= figure("rcd_sockets_to_a"),
        Message("sockets to 32 A"),
    ),
    ("rcd_final", lambda asked, figure: asked.device_a <= figure("rcd_final_to_a"), Message("final circuits to 32 A")),
    ("rcd_lighting", lambda asked, _figure: asked.feeds == "lighting" and asked.home, Message("lighting of a home")),
    ("rcd_hidden", lambda asked, _figure: asked.hidden, Message("a cable hidden in a wall or a ceiling")),
    ("loop_tt", lambda asked, _figure: asked.own_electrode, Message("the installation has its own electrode")),
)
_WHY = {
    "charger": Message("with detection of 6 mA d.c. in the charger, else type B"),
    "inverter": Message("B, or A where its maker says that none but a.c. and pulses flow back"),
    "drive": Message("F or B where the maker says so"),
    "plain": Message("AC serves what has no electronics"),
    "electronics": Message("electronics leave pulses"),
}
