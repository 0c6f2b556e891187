"""Household cooking appliances: demand by the ranges table, its columns and its notes."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.nec.dwelling.house import Cooking, DemandLine
from voltaje.books.nec.edition import Edition
from voltaje.books.tables import cell_formula, number
from voltaje.errors import OutsideTable
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import CookingKind
from voltaje.rounding import HalfReading, major_fractions
from voltaje.sheet import Sheet

SUM = Formula("sum(parts)")
SHARE = Formula("sum(parts) * percent / 100")
AVERAGE = Formula("sum(ratings) / n")
INCREASED = Formula("column_c * (1 + n * percent / 100)")
LEAST = Formula("min(ways)")
TO_VA = Formula("kw * 1000")
BETWEEN_TWO_LEGS = Formula("2 * ceil(n / 3)")
THREE_PHASE = Formula("kw / 2 * 3")

_MOST_OVENS_AS_ONE = 2


@dataclass(frozen=True)
class CookingWay:
    """One way to reckon the cooking demand; `lawful` where it may stand in a feeder or service load."""

    name: Message
    demand_va: float
    lawful: bool


@dataclass(frozen=True)
class CookingDemand:
    """The line of the worksheet, and every way it was reckoned, least first."""

    line: DemandLine
    ways: tuple[CookingWay, ...]


def cooking_demand(
    units: tuple[Cooking, ...], edition: Edition, half: HalfReading, sheet: Sheet, three_phase: bool = False
) -> CookingDemand:
    """Return the least lawful feeder demand of household cooking appliances [VA], the others beside it.

    On a three-phase four-wire supply twice the most units between any two legs count, and half of that
    for each phase. Column C serves all; note 3 allows columns A and B for ratings over 1¾ up to 8¾ kW, the rest
    staying in column C. Units of 1¾ kW and less are outside the table and count at nameplate.
    Source: NEC 220.55, Table 220.55 and its notes.
    Valid:  ratings up to 27 kW.
    Raises: OutsideTable at the unit's field for a larger one.
    """
    ratings = _ratings(units, edition)
    from_kw = edition.figure("cooking_table_from_kw")
    small, in_table = [kw for kw in ratings if kw <= from_kw], [kw for kw in ratings if kw > from_kw]
    rule = edition.cite_table("ranges")
    small_kw = 0.0
    if small:
        small_kw = sheet.apply(
            SUM,
            Message("Small cooking units, 1¾ kW and less"),
            "kW",
            rule,
            Message("outside the table: at nameplate"),
            parts=small,
        )
    if three_phase:
        ways = _three_phase_ways(units, in_table, edition, half, sheet)
    else:
        ways = _ways(units, in_table, edition, half, sheet)
    lawful = sorted((way for way in ways if way.lawful), key=lambda way: way.demand_va)
    least_kw = min((way.demand_va for way in lawful), default=0.0) / 1000
    if len(lawful) > 1:
        sheet.apply(
            LEAST,
            Message("Least lawful demand"),
            "kW",
            rule,
            Message("column C, or columns A and B by note 3: the lower may be used"),
            ways=[way.demand_va / 1000 for way in lawful],
        )
    total_kw = least_kw + small_kw
    demand_va = sheet.apply(TO_VA, Message("Cooking demand"), "VA", rule, None, kw=total_kw)
    chosen = lawful[0].name if lawful else Message("at nameplate")
    line = DemandLine("cooking", Message("Cooking"), chosen, sum(ratings) * 1000, demand_va, rule)
    rest = sorted((way for way in ways if way not in lawful[:1]), key=lambda way: way.demand_va)
    return CookingDemand(line, (*lawful[:1], *rest))


def _ratings(units: tuple[Cooking, ...], edition: Edition) -> list[float]:
    most = edition.figure("cooking_most_kw")
    for unit in units:
        if unit.load.va > most * 1000:
            message = Message(
                "{rating} is outside {table}, which goes up to {most}",
                rating=Figure(unit.load.va / 1000, "kW", 2),
                table=edition.table("ranges").number[edition.name],
                most=Figure(most, "kW", 2),
            )
            raise OutsideTable(unit.load.field, message, str(edition.cite_table("ranges", " notes 1 and 2")))
    return [unit.load.va / 1000 for unit in units for _ in range(unit.count)]


def _ways(
    units: tuple[Cooking, ...], ratings: list[float], edition: Edition, half: HalfReading, sheet: Sheet
) -> list[CookingWay]:
    if not ratings:
        return []
    over = edition.figure("cooking_column_c_over_kw")
    ways = [CookingWay(Message("column C"), column_c(ratings, edition, half, sheet) * 1000, lawful=True)]
    low, high = [kw for kw in ratings if kw <= over], [kw for kw in ratings if kw > over]
    if low:
        by_note_3 = columns_a_and_b(low, edition, sheet)
        name = _columns_name(low, edition)
        if high:
            with_c = column_c(high, edition, half, sheet)
            by_note_3 = sheet.apply(
                SUM,
                Message("Columns A and B, with column C for the larger"),
                "kW",
                edition.cite_table("ranges", " note 3"),
                parts=[by_note_3, with_c],
            )
            name = Message("note 3 and column C")
        ways.append(CookingWay(name, by_note_3 * 1000, lawful=True))
    as_one = _as_one_range(units, ratings, edition, half)
    return [*ways, as_one] if as_one else ways


def between_two_legs(count: int, edition: Edition, topic: str, sheet: Sheet) -> int:
    """Return how many of single-phase units on a three-phase four-wire supply its demand is reckoned by [count].

    Twice the most that are connected between any two legs, spread evenly.
    Source: NEC 220.55 (cooking), 220.54 (dryers).
    """
    label = Message("Units reckoned by, of {n}", n=count)
    because = Message("twice the most between any two legs")
    return round(sheet.apply(BETWEEN_TWO_LEGS, label, "", edition.cite(topic), because, n=count))


def _three_phase_ways(
    units: tuple[Cooking, ...], ratings: list[float], edition: Edition, half: HalfReading, sheet: Sheet
) -> list[CookingWay]:
    if len(ratings) <= 1:
        return _ways(units, ratings, edition, half, sheet)
    topic = "three_phase_ranges"
    counted = sorted(ratings, reverse=True)[: between_two_legs(len(ratings), edition, topic, sheet)]
    ways = []
    for way in _ways((), counted, edition, half, sheet):
        label, because = Message("{way}, three phase", way=way.name), Message("half of it on each phase")
        rule = edition.cite(topic)
        kw = sheet.apply(THREE_PHASE, label, "kW", rule, because, kw=way.demand_va / 1000)
        ways.append(CookingWay(way.name, kw * 1000, way.lawful))
    return ways


def _columns_name(ratings: list[float], edition: Edition) -> Message:
    b_from = edition.figure("cooking_column_b_from_kw")
    if all(kw >= b_from for kw in ratings):
        return Message("column B, note 3")
    if all(kw < b_from for kw in ratings):
        return Message("column A, note 3")
    return Message("columns A and B, note 3")


def column_c(ratings: list[float], edition: Edition, half: HalfReading, sheet: Sheet) -> float:
    """Return the column C demand [kW] of appliances of these ratings [kW], with notes 1 and 2.

    Note 1 is note 2 where all ratings are equal: the average, every rating under 12 kW taken as
    12 kW, raises column C by 5 % for each kW above 12, a major fraction counting as one.
    Source: Table 220.55 column C, notes 1 and 2.
    """
    table, n = edition.table("ranges"), len(ratings)
    row = table.band("cooking", edition.name, n)
    cell = cell_formula(row, "col_c_kw")
    values = {"n": float(n)} if cell.names else {}
    base = sheet.apply(
        cell,
        Message("Column C for {n}", n=n),
        "kW",
        table.cite(edition.name, " column C", row["from"], "col_c_kw"),
        Message("for all household cooking units, as far as note 3 does not allow less"),
        **values,
    )
    over = edition.figure("cooking_increase_over_kw")
    if max(ratings) <= over:
        return base
    rule = edition.cite_table("ranges", " note 1" if len(set(ratings)) == 1 else " note 2")
    average = sheet.apply(
        AVERAGE,
        Message("Average rating"),
        "kW",
        rule,
        Message("each under {over} counts as {over}", over=Figure(over, "kW")),
        ratings=[max(kw, over) for kw in ratings],
        n=n,
    )
    count = major_fractions(average - over, half)
    sheet.read(count, Message("Whole kW over {over}", over=Figure(over)), "", rule, _fraction_reading(half))
    percent = edition.figure("cooking_increase_percent")
    because = Message("{percent} more for each", percent=Figure(percent, "%"))
    return sheet.apply(
        INCREASED, Message("Column C, increased"), "kW", rule, because, column_c=base, n=count, percent=percent
    )


def _fraction_reading(half: HalfReading) -> Message:
    if half is HalfReading.COUNTS:
        return Message("a major fraction counts as one; exactly 0.5 counts (usual reading)")
    return Message("a major fraction counts as one; exactly 0.5 does not count (strict reading)")


def columns_a_and_b(ratings: list[float], edition: Edition, sheet: Sheet) -> float:
    """Return the demand [kW] by columns A and B of appliances over 1¾ up to 8¾ kW.

    Each column's factor is that of the number of appliances in the column; the results are added.
    Source: Table 220.55 note 3.
    """
    b_from = edition.figure("cooking_column_b_from_kw")
    table = edition.table("ranges")
    rule = edition.cite_table("ranges", " note 3")
    parts = []
    for column, group in (("A", [kw for kw in ratings if kw < b_from]), ("B", [kw for kw in ratings if kw >= b_from])):
        if group:
            row, named = table.band("cooking", edition.name, len(group)), f"col_{column.lower()}_percent"
            percent = number(row, named)
            label = Message("Column {column} for {n}", column=column, n=len(group))
            because = Message("{percent} of the nameplates", percent=Figure(percent, "%"))
            cited = table.cite(edition.name, " note 3", row["from"], named)
            parts.append(sheet.apply(SHARE, label, "kW", cited, because, parts=group, percent=percent))
    if len(parts) == 1:
        return parts[0]
    return sheet.apply(SUM, Message("Columns A and B"), "kW", rule, Message("the results are added"), parts=parts)


def _as_one_range(
    units: tuple[Cooking, ...], ratings: list[float], edition: Edition, half: HalfReading
) -> CookingWay | None:
    """Return a cooktop with one or two ovens taken as one range: a branch-circuit load, shown beside."""
    counts = {kind: sum(unit.count for unit in units if unit.kind is kind) for kind in CookingKind}
    fits = counts[CookingKind.COOKTOP] == 1 and 1 <= counts[CookingKind.OVEN] <= _MOST_OVENS_AS_ONE
    together = sum(ratings)
    if not fits or counts[CookingKind.RANGE] or together > edition.figure("cooking_most_kw"):
        return None
    demand_va = column_c([together], edition, half, Sheet(on=False)) * 1000
    return CookingWay(Message("as one range, for a branch circuit they share"), demand_va, lawful=False)
