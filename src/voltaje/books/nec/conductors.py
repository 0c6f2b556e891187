"""Conductors: sizes in order, ampacity by column, and the least size that serves."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

from voltaje.books.nec.edition import Edition
from voltaje.books.nec.overcurrent import may_protect
from voltaje.books.tables import number, text
from voltaje.errors import OutsideTable
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import Occupancy, Terminals
from voltaje.sheet import Citation, Sheet

LEAST_AMPACITY = Formula("rating * percent / 100")
NEXT = Formula("min(ampacities)")

_MOST_SETS = 12


@dataclass(frozen=True)
class Conductor:
    """A conductor per leg: size, material (Cu, Al), parallel sets, ampacity of all sets [A], the rule."""

    size: str
    material: str
    sets: int
    ampacity_a: float
    rule: Citation


@cache
def sizes(edition: Edition) -> tuple[str, ...]:
    """Return the sizes of the ampacity table, smallest first. Source: Table 310.16."""
    return tuple(text(row, "size") for row in edition.table("ampacity").rows)


def area_cmil(size: str, edition: Edition) -> float:
    """Return a conductor's area [cmil]. Source: NEC chapter 9, Table 8."""
    area = _areas(edition).get(size)
    if area is not None:
        return area
    known = list(sizes(edition))
    raise OutsideTable("size", Message("unknown size {size}; the table has: {known}", size=size, known=known))


@cache
def _areas(edition: Edition) -> dict[str, float]:
    return {text(row, "size"): number(row, "cmil") for row in edition.table("conductor_areas").rows}


def ampacity(size: str, material: str, column_c: int, edition: Edition) -> float | None:
    """Return the table ampacity [A] in a temperature column, None where the table prints none.

    Source: NEC Table 310.16 (2017: 310.15(B)(16)).
    """
    cell = edition.table("ampacity").row("size", edition.name, size=size)[f"{material.lower()}{column_c}"]
    return cell if isinstance(cell, float) else None


def terminal_column(device_a: float, terminals: Terminals, edition: Edition) -> int:
    """Return the ampacity column [°C] that the terminals allow: 60 °C at 100 A and less unless marked.

    Source: NEC 110.14(C)(1).
    """
    small = device_a <= edition.figure("terminals_60_to_a")
    return 60 if terminals is Terminals.MARKED_60 or (terminals is Terminals.UNMARKED and small) else 75


def least_conductor(
    serves: Callable[[float], bool], material: str, column_c: int, edition: Edition, rule: Citation
) -> tuple[Conductor, list[float]]:
    """Return the least conductor whose ampacity serves, and the ampacities from it on [A].

    One set as far as the table goes, then the fewest parallel sets of 1/0 and over.
    Source: NEC 310.10, Table 310.16.
    Raises: OutsideTable where even the most sets do not serve.
    """
    known = sizes(edition)
    parallel_from = known.index(edition.size_figure("parallel_from"))
    for sets in range(1, _MOST_SETS + 1):
        usable = known if sets == 1 else known[parallel_from:]
        table = [(size, ampacity(size, material, column_c, edition)) for size in usable]
        enough = [(size, amps * sets) for size, amps in table if amps is not None and serves(amps * sets)]
        if enough:
            size, amps = enough[0]
            return Conductor(size, material, sets, amps, rule), [amps for _, amps in enough]
    raise OutsideTable("demand", Message("no conductor of the ampacity table serves"), str(rule))


def parallel_conductor(serves: Callable[[float], bool], like: Conductor, column_c: int, edition: Edition) -> Conductor:
    """Return two sets that serve in place of one large conductor. Source: NEC 310.10."""
    known = sizes(edition)
    for size in known[known.index(edition.size_figure("parallel_from")) :]:
        amps = ampacity(size, like.material, column_c, edition)
        if amps is not None and serves(2 * amps):
            return Conductor(size, like.material, 2, 2 * amps, edition.cite("parallel"))
    raise OutsideTable("demand", Message("no pair of conductors serves"), str(like.rule))


def dwelling_service_conductor(
    device_a: float, occupancy: Occupancy, material: str, column_c: int, edition: Edition, sheet: Sheet
) -> Conductor | None:
    """Return the service or main feeder conductor at 83 % of the rating; None where the rule does not reach.

    Source: NEC 310.12 (2017: 310.15(B)(7)); ratings of 100 A to 400 A.
    """
    if not edition.figure("service_83_from_a") <= device_a <= edition.figure("service_83_to_a"):
        return None
    rule = edition.cite("service_83" if occupancy is Occupancy.ONE_FAMILY else "feeder_83")
    need = sheet.apply(
        LEAST_AMPACITY,
        Message("Least ampacity at 83 %"),
        "A",
        rule,
        Message("of the rating, for conductors that carry the whole load of a dwelling"),
        rating=device_a,
        percent=edition.figure("service_percent"),
    )
    chosen, from_it = least_conductor(lambda amps: amps >= need, material, column_c, edition, rule)
    _say(chosen, from_it, column_c, rule, sheet)
    return chosen


def ordinary_conductor(
    load_a: float, device_a: float, material: str, column_c: int, edition: Edition, sheet: Sheet
) -> Conductor:
    """Return the conductor of the ordinary table that carries the load and may have the device ahead of it.

    load_a: noncontinuous load and 125 % of the continuous
    Source: NEC 230.42(A), Table 310.16, 240.4(B) and (C).
    """
    rule = edition.cite_table("ampacity")
    chosen, from_it = least_conductor(
        lambda amps: _serves(amps, load_a, device_a, edition), material, column_c, edition, rule
    )
    _say(chosen, from_it, column_c, rule, sheet)
    return chosen


def _serves(amps: float, load_a: float, device_a: float, edition: Edition) -> bool:
    return amps >= load_a and may_protect(device_a, amps, edition)


def ordinary_pair(load_a: float, device_a: float, like: Conductor, column_c: int, edition: Edition) -> Conductor:
    """Return two sets in place of one large conductor of the ordinary table. Source: NEC 310.10, 240.4."""
    return parallel_conductor(lambda amps: _serves(amps, load_a, device_a, edition), like, column_c, edition)


def _say(chosen: Conductor, from_it: list[float], column_c: int, rule: Citation, sheet: Sheet) -> None:
    label = Message(
        "{size} {material}, {column}", size=named(chosen), material=chosen.material, column=Figure(column_c, "°C")
    )
    because = Message("the smallest that serves, of the {column} column", column=Figure(column_c, "°C"))
    sheet.apply(NEXT, label, "A", rule, because, ampacities=from_it[:3])


def named(conductor: Conductor) -> str:
    """Return the size as it is written beside other words: `4/0`, `2 × 250`."""
    return conductor.size if conductor.sets == 1 else f"{conductor.sets} × {conductor.size}"
