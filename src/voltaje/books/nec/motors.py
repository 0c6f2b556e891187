"""Motors by the NEC: full-load current by horsepower."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.nec.edition import Edition
from voltaje.books.tables import number
from voltaje.errors import InputError
from voltaje.message import Message

_THREE_PHASE = 3
# Nominal system volts and the motor tables' column for them.
_MOTOR_COLUMN = {120: "v115", 208: "v208", 240: "v230", 480: "v460", 600: "v575"}


@dataclass(frozen=True)
class NecMotors:
    """An edition's answers about motors."""

    edition: Edition

    def amps(self, hp: float, phases: int, volts: float, field: str) -> float:
        """Return the motor tables' current [A]. Source: Tables 430.248, 430.250."""
        table = self.edition.table("motor_3ph" if phases == _THREE_PHASE else "motor_1ph")
        row = table.row(field, self.edition.name, hp=round(hp, 6))
        column = _MOTOR_COLUMN.get(round(volts), "")
        if row.get(column) is None:
            message = Message(
                "{table} has no {hp} hp at {volts} V",
                table=table.numbered(self.edition.name),
                hp=f"{hp:g}",
                volts=f"{volts:g}",
            )
            raise InputError(field, message, str(table.cite(self.edition.name)))
        return number(row, column)
