"""The small units that a load at the wrong volts would have before it, as entries of a transformer on its path."""

from __future__ import annotations

import math

from voltaje.books.questions import Book
from voltaje.design.solution import NodeSolution
from voltaje.design.windings.bank import MOST_PERCENT
from voltaje.design.windings.boost import OPEN_DELTA, SINGLE, Offer, chosen, offers
from voltaje.path.transformer import MadeAs
from voltaje.systems import System, system_of

_THREE, _ALIKE = 3, 0.005
_TOLERANCE = 2.5  # per cent: as the quick sheet takes them
_HERTZ = {"iec": 50.0, "nec": 60.0}


def proposed(solved: NodeSolution, book: Book) -> dict[str, str] | None:
    """Return a transformer's entries that bring a load the volts it is made for; None where no unit does.

    The nearest lawful wiring of trade units, as the buck-boost sheet finds it; a single phase one unit, three two.
    """
    load = solved.node.load
    legs = len(solved.legs)
    if load is None or not load.volts or legs == 1 or abs(load.volts / solved.nominal_v - 1) <= _ALIKE:
        return None
    made = system_of(load.volts, legs, neutral=False, within=_ALIKE)
    if made is None:
        return None
    root = math.sqrt(_THREE) if legs == _THREE else 1.0
    amps = solved.connected_va / (load.volts * root)
    arrangement = OPEN_DELTA if legs == _THREE else SINGLE
    hertz = _HERTZ[book.terms.family]
    best = chosen(offers(solved.nominal_v, load.volts, amps, (arrangement,), hertz, MOST_PERCENT), _TOLERANCE)
    if best is None or best.size is None or abs(best.error_percent) > _NEARER * abs(solved.nominal_v / load.volts - 1):
        return None
    return entries_of(best, made)


def entries_of(offer: Offer, secondary: System) -> dict[str, str]:
    """Return small units as the entries of a transformer on a path."""
    wiring = offer.wiring
    entries = {
        "made_as": MadeAs.BOOST.value,
        "connection": wiring.way,
        "kva": f"{offer.size or 0:g}",
        "secondary": secondary.name,
        "unit_primary_v": f"{wiring.primary_v:g}",
        "unit_secondary_v": f"{wiring.secondary_v:g}",
    }
    return {**entries, "units": str(offer.units)} if len(secondary.legs) == _THREE else entries


_NEARER = 50.0  # per cent of how far off the volts are now: it must at least halve that
