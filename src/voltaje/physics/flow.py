"""Four-wire flow in a radial path: constant currents, an impedance on every conductor, the neutral's own part.

No rules in here. What a conductor loses is its impedance times its current, as phasors; the neutral carries back what
the legs do not cancel, and what it loses every load to neutral loses too.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from voltaje.physics.currents import Currents


class Span(NamedTuple):
    """The conductors between a node and what feeds it.

    line, neutral: impedance of each line and of the neutral [Ω]
    drawn: what is drawn at the node itself, by leg [A]; after: the place of what feeds it, None at the source
    """

    after: int | None
    line: complex
    neutral: complex
    drawn: Currents


def around(currents: Currents, voltage: tuple[str, ...]) -> tuple[complex, complex]:
    """Return the currents that bring a voltage down [A, as phasors]: of its line or lines, and of the neutral.

    voltage: the two legs that it stands between, or the one that stands to neutral
    """
    here = currents.get(voltage[0], 0j)
    if len(voltage) > 1:
        return here - currents.get(voltage[1], 0j), 0j
    return here, sum(currents.values(), 0j)


def voltages(source: Mapping[str, complex], spans: Sequence[Span]) -> list[Currents]:
    """Return each node's voltage of each leg to its neutral [V, as phasors].

    source: the voltages that it begins with; spans: each after the one that feeds it
    """
    carried = [dict(span.drawn) for span in spans]
    for at in range(len(spans) - 1, -1, -1):
        above = spans[at].after
        if above is not None:
            for leg, amps in carried[at].items():
                carried[above][leg] = carried[above].get(leg, 0j) + amps
    found: list[Currents] = []
    for span, currents in zip(spans, carried, strict=True):
        begins = source if span.after is None else found[span.after]
        loops = {leg: around(currents, (leg,)) for leg in begins}
        found.append({leg: begins[leg] - line * span.line - back * span.neutral for leg, (line, back) in loops.items()})
    return found
