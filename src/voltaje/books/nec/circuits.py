"""What a kind of load asks of its own circuit, and what an inspector would say of one."""

from __future__ import annotations

from functools import cache

from voltaje.books.answers import Choice, LoadRules, Run
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.run_tables import receptacle_ratings
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import traits_of

_HOTTEST = 90


@cache
def load_rules(kind: str, entered: float | None, edition: Edition) -> LoadRules:
    """Return how a kind of load counts on its own circuit and in what feeds it [shares of it].

    entered: its continuous share as a person gave it
    Source: NEC 625.41 (chargers), 424.4(B) (fixed space heating; 2017: 424.3(B)), 422.13 (storage water heaters to
    120 gal), 600.5(B) (signs), 440.32 (cooling), 430.24 (motors: not continuous besides their 25 %), 220.51 (heating in
    feeders).
    """
    share, traits = entered or 0.0, traits_of(kind)
    if traits.continuous:
        return LoadRules(1.0, 1.0 if traits.feeds_so else share, rule=edition.cite(traits.continuous))
    if kind == "cooling":
        # 125 % of its current in its conductors as installed; in a feeder it counts among the motors.
        return LoadRules(1.0, 0.0, edition.figure("continuous_factor"))
    if kind == "motor":
        return LoadRules(share, 0.0)
    return LoadRules(share, share)


def remarks(run: Run, choice: Choice, edition: Edition) -> list[Finding]:
    """Return what is worth a look in a run that complies.

    Source: NEC 110.14(C)(2) (90 °C), 210.21(B)(3) (receptacles).
    """
    found = []
    if run.terminal_c == _HOTTEST:
        message = Message("Terminals at 90 °C: only separately installed connectors have them, not breakers or lugs.")
        mend = Message("Take what the equipment itself is marked for, 60 or 75 °C.")
        found.append(Finding(Severity.WARN, "terminals.at_90", message, edition.cite("terminals"), "terminal_c", mend))
    if run.use == "sockets" and choice.device_a not in receptacle_ratings(edition.name):
        known = list(receptacle_ratings(edition.name))
        message = Message(
            "A receptacle circuit of {device}: circuits with several receptacles are rated {known} A.",
            device=Figure(choice.device_a, "A"),
            known=[f"{rating:g}" for rating in known],
        )
        mend = Message(
            "Take one of those, spread the receptacles over more circuits, or list the one it feeds by its own."
        )
        found.append(
            Finding(Severity.WARN, "receptacles.rating", message, edition.cite("receptacle_circuits"), "device_a", mend)
        )
    return found
