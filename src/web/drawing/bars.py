"""Bars of the worksheet: a solid bar of demand over a hatched bar of what is connected."""

from dataclasses import dataclass

WIDTH = 206.0
_LEAST_SHOWN = 2.0


@dataclass(frozen=True)
class Bar:
    """Widths in the bar's own units, out of WIDTH."""

    connected: float
    demand: float


def scaled(pairs: list[tuple[float, float]]) -> list[Bar]:
    """Return a bar for each pair of connected and demand, all to one scale."""
    longest = max((max(pair) for pair in pairs), default=0.0)
    return [Bar(_width(connected, longest), _width(demand, longest)) for connected, demand in pairs]


def _width(value: float, longest: float) -> float:
    if value <= 0 or longest <= 0:
        return 0.0
    return round(max(WIDTH * value / longest, _LEAST_SHOWN), 1)
