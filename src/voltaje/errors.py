"""What can go wrong: one tree of errors that keep their facts as fields; the page writes the sentence."""

from __future__ import annotations

from typing import Self

from voltaje.message import Message


class VoltajeError(Exception):
    """Any error this library raises on purpose."""


class FormulaError(VoltajeError):
    """A formula's text or its values are not what the formula engine allows: a defect of rule code."""


class TableError(VoltajeError):
    """A table file is malformed: a defect of the table."""


class Refused(VoltajeError, ValueError):
    """No answer, with its reason: what was asked cannot be used, is not covered, or has no lawful answer.

    field:   the input's name, as in the schema (`floor_area`, `cooking[0].load`)
    message: why, as a Message
    rule:    clause that sets the limit, or "" where it is no rule of a book
    also:    further ones found in the same reading
    """

    def __init__(self, field: str, message: Message, rule: str = "", also: tuple[Refused, ...] = ()) -> None:
        super().__init__(field, message)
        self.field = field
        self.message = message
        self.rule = rule
        self.also = also

    def __str__(self) -> str:
        where = f" ({self.rule})" if self.rule else ""
        return f"{self.field}: {self.message}{where}"

    def at(self, field: str) -> Self:
        """Return the same refusal, said of another field."""
        return type(self)(field, self.message, self.rule, self.also)


class InputError(Refused):
    """An input that cannot be used."""


class NotCovered(Refused):
    """A question that the book, or this version of it, has no rule for."""


class NoLawfulAnswer(Refused):
    """A question that was understood, and that nothing complies with."""


class OutsideTable(InputError):
    """An input beyond the range of a published table; look-ups never extrapolate."""


class UnknownName(InputError):
    """A book, system, kind or key that this version does not know."""
