"""The sheet: worked arithmetic as data, written by the rules as they compute.

The same sheet feeds the screen, the report and the command line: nobody re-types an explanation.
A sheet can be off; then rules compute by the same code and nothing is recorded.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import AbstractContextManager, contextmanager, nullcontext
from dataclasses import dataclass, field, replace

from voltaje.formula import Formula, Value, write_number
from voltaje.message import Message


@dataclass(frozen=True)
class Citation:
    """A clause of one edition of a book; of a table with the row and the column that were read, as they stand in it."""

    book: str
    clause: str
    topic: str = ""
    row: str = ""
    column: str = ""

    def __str__(self) -> str:
        return f"{self.book} {self.clause}".strip()

    @property
    def short(self) -> str:
        """The clause as a chip has room for it."""
        return self.clause.removeprefix("Table ")


@dataclass(frozen=True)
class Step:
    """One line of arithmetic: `formula` evaluates to `value`, `rule` says why it may be done.

    decides: whether the answer hangs on it: a smaller device or size would not do because of it
    """

    section: str
    label: Message
    formula: str
    value: float
    unit: str
    rule: Citation | None
    because: Message | None
    decides: bool = False


_NOWHERE = nullcontext()  # a sheet that is off has no sections to be in


@dataclass
class Sheet:
    """The steps of a result, in the order in which they were worked, by section."""

    on: bool = True
    steps: list[Step] = field(default_factory=list)
    current: str = ""

    def section(self, name: str) -> AbstractContextManager[object]:
        """Record what is worked inside under a section's name."""
        return self._in_section(name) if self.on else _NOWHERE

    @contextmanager
    def _in_section(self, name: str) -> Iterator[None]:
        before, self.current = self.current, name
        try:
            yield
        finally:
            self.current = before

    def apply(
        self,
        formula: Formula,
        label: Message,
        unit: str,
        rule: Citation | None,
        because: Message | None = None,
        /,
        **values: Value,
    ) -> float:
        """Compute a formula, record it, and return its value [the unit given]."""
        value = formula.value(**values)
        if self.on:
            self.steps.append(Step(self.current, label, formula.text(**values), value, unit, rule, because))
        return value

    def read(
        self, value: float, label: Message, unit: str, rule: Citation | None, because: Message | None = None
    ) -> float:
        """Record a figure that was read from a table or typed, not computed, and return it [the unit given]."""
        if self.on:
            self.steps.append(Step(self.current, label, write_number(value), value, unit, rule, because))
        return value

    def decides(self) -> None:
        """Mark the step that was written last as one that the answer hangs on."""
        if self.on and self.steps:
            self.steps[-1] = replace(self.steps[-1], decides=True)

    def of(self, section: str) -> list[Step]:
        """Return the steps of one section."""
        return [step for step in self.steps if step.section == section]

    def take(self, steps: Iterable[Step], section: str | None = None) -> None:
        """Take over the steps of another sheet, under a section's name if one is given."""
        if self.on:
            self.steps.extend(steps if section is None else (replace(step, section=section) for step in steps))


_OFF = Sheet(on=False)


def off() -> Sheet:
    """Return a sheet that records nothing."""
    return _OFF
