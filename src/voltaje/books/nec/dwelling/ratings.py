"""From a nameplate rating to volt-amperes."""

from __future__ import annotations

from voltaje.books.nec.dwelling.house import Load
from voltaje.books.nec.edition import Edition
from voltaje.books.tables import number
from voltaje.errors import InputError, OutsideTable
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.quantity import Rating
from voltaje.sheet import Citation, Sheet
from voltaje.systems import System

VOLTS_TIMES_AMPERES = Formula("volts * amperes")

# Nominal system volts and the motor table's column for them (Table 430.248, rated motor voltages).
_MOTOR_COLUMN = {120: "v115", 208: "v208", 240: "v230"}
# Equipment ratings that are wired line to neutral and line to line on 120 V systems (common practice).
_TO_NEUTRAL_V = (100, 130)
_TO_LINE_V = (190, 260)


def on_neutral(volts: float, system: System) -> bool:
    """Return whether equipment of that voltage is wired line to neutral. Raises InputError (field "")."""
    if system.line_to_neutral_v and _TO_NEUTRAL_V[0] <= volts <= _TO_NEUTRAL_V[1]:
        return True
    if _TO_LINE_V[0] <= volts <= _TO_LINE_V[1]:
        return False
    raise InputError(
        "", Message("{volts} V is not a voltage this supply has: {system}", volts=f"{volts:g}", system=system.name)
    )


def load_from(
    rating: Rating, field: str, name: Message, edition: Edition, system: System, volts: float | None = None
) -> Load:
    """Return a load in volt-amperes.

    volts: rated voltage [V]; None means the system's line-to-line volts
    Amperes count at the stated volts. Horsepower counts at the motor table's amperes times the
    system's volts (115 V column × 120), whatever the nameplate's watts.
    Source: NEC 430.6(A), Table 430.248; volts: 220.5(A).
    Raises: OutsideTable for a horsepower that the table does not print.
    """
    if rating.unit == "VA":
        return Load(field, rating.typed, rating.value)
    sheet = Sheet()
    system_v = system.line_to_line_v
    if volts is not None and on_neutral(volts, system) and system.line_to_neutral_v:
        system_v = system.line_to_neutral_v
    if rating.unit == "A":
        va = _multiply(sheet, name, volts or system_v, rating.value, edition.cite("volts"), None)
        return Load(field, rating.typed, va, None, sheet.steps[0])
    column = _MOTOR_COLUMN[round(system_v)]
    amperes = _motor_amperes(rating, field, column, edition)
    because = Message("{hp} by the motor table, {column} V column, not 746 W", hp=rating.typed, column=column[1:])
    va = _multiply(sheet, name, system_v, amperes, edition.cite_table("motor_1ph"), because)
    return Load(field, rating.typed, va, rating.value, sheet.steps[0])


def _motor_amperes(rating: Rating, field: str, column: str, edition: Edition) -> float:
    table = edition.table("motor_1ph")
    try:
        return number(table.row(field, edition.name, hp=round(rating.value, 6)), column)
    except OutsideTable as error:
        printed = Message(
            "{hp} hp is not a rating of {table}: give one that is, or the nameplate's amperes",
            hp=f"{rating.value:g}",
            table=table.number[edition.name],
        )
        raise OutsideTable(field, printed, error.rule) from error


def _multiply(
    sheet: Sheet, name: Message, volts: float, amperes: float, rule: Citation, because: Message | None
) -> float:
    return sheet.apply(VOLTS_TIMES_AMPERES, name, "VA", rule, because, volts=volts, amperes=amperes)
