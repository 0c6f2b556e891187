"""What a tool is: a question, what it asks, how it is answered; and the shape that every answer has."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from enum import Enum
from typing import Any, Generic

from voltaje.books.questions import Book
from voltaje.findings import Finding, Severity
from voltaje.inputs.shapes import Json
from voltaje.message import Figure, Message
from voltaje.sheet import Step
from voltaje.tools.answer import answer
from voltaje.tools.asking import A

PUT = "quick"  # the id of what a sheet puts into a job
WINDINGS = "windings"  # the studio of coils: its tools are tabs over one drawing


class Group(Enum):
    """The question that a tool belongs to, in the order of the work."""

    LOAD = Message("What does it draw?")
    CIRCUIT = Message("What does this circuit need?")
    SUPPLY = Message("What supplies it?")
    WHOLE = Message("What does the whole place need?")


@dataclass(frozen=True)
class Head:
    """A part of the answer as it stands large on a sheet: a figure or a size, its unit, a few words."""

    label: Message
    value: Figure | str
    unit: str = ""
    note: Message | None = None
    main: bool = True


@dataclass(frozen=True)
class Answered:
    """An answer: the result by its keys, the steps, the findings, what stands large, what is drawn, as a node of a job.

    facts: gives what the drawing is made of beside the result, worked out only where it is drawn
    nodes: as the open job file has them, none where it is no load; the first hangs where it is put, and what hangs on
        it names it by `PUT`
    onward: inputs of other tools of the same studio that look at this very answer, by their names
    """

    book: Book
    result: Json
    steps: Iterable[Step]
    findings: Iterable[Finding] = ()
    heads: tuple[Head, ...] = ()
    facts: Callable[[], Mapping[str, Any]] = dict
    nodes: tuple[Json, ...] = ()
    onward: Mapping[str, Json] = field(default_factory=dict)


@dataclass(frozen=True)
class Tool(Generic[A]):
    """One calculation.

    name: on the command line and in links; title: what it is called; question: that a person comes with
    words: by which it is found besides, synonyms and clauses; place: within its group
    example: inputs of a worked example, by family; caution: what can hurt someone here
    studio: a name that tools share which are tabs over one drawing, "" for none
    """

    name: str
    title: Message
    question: Message
    group: Group
    place: int
    words: tuple[str, ...]
    asks: type[A]
    solve: Callable[[A], Answered]
    example: Mapping[str, Json]
    caution: Message
    families: tuple[str, ...] = ("nec", "iec")
    studio: str = ""

    def answered(self, raw: object) -> Answered:
        """Return the answer to raw inputs. Raises InputError, the first with the others on it."""
        asked = self.asks.read(raw)
        found = self.solve(asked)
        if asked.plate_read is None:
            return found
        return replace(found, findings=[*found.findings, Finding(Severity.NOTE, "plate.read", asked.plate_read)])

    def run(self, raw: object) -> Json:
        """Return the answer as plain JSON. Raises as `answered` does."""
        found = self.answered(raw)
        return answer(self.name, found.book.name, found.result, found.steps, found.findings)

    def schema(self) -> Json:
        """Return the JSON Schema of the inputs."""
        return self.asks.schema_of(self.name, str(self.question))
