"""What a line was understood to say: each thing it makes, part by part; what was assumed, what was left over."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, NamedTuple

from voltaje.message import Message
from voltaje.path.kinds import Kind
from voltaje.systems import System


@dataclass(frozen=True)
class Where:
    """Where a line is typed: the family of the job's book, the system and the legs of what it would hang on.

    rings: whether its book has ring final circuits, and flat twin cable
    """

    family: str
    system: System
    legs: tuple[str, ...] = ()
    decimal: str = "."
    rings: bool = False


class Choice(NamedTuple):
    """Another reading of what was assumed: in words, and the line that says it."""

    words: Message
    line: str


class Part(NamedTuple):
    """A part of what was understood.

    place: of the open file that it fills; assumed: it was not said; doubtful: a person should look at it
    """

    place: str
    words: Message
    assumed: bool = False
    doubtful: bool = False
    choices: tuple[Choice, ...] = ()


class Unused(NamedTuple):
    """Words of the line that nothing was made of, and why."""

    words: str
    why: Message | None = None


@dataclass
class Item:
    """One thing that a line says: a load, or another node, with how many circuits of it and on which board.

    load, run, more: parts of the open file (more: of a node that is no load, `transformer`, `way`, `legs`, …)
    """

    text: str
    kind: Kind = Kind.LOAD
    name: str = ""
    load: dict[str, Any] = field(default_factory=dict)
    run: dict[str, Any] = field(default_factory=dict)
    more: dict[str, Any] = field(default_factory=dict)
    circuits: int = 1
    board: str = ""
    parts: list[Part] = field(default_factory=list)
    problems: list[Message] = field(default_factory=list)
    unused: list[Unused] = field(default_factory=list)

    def assumed(self) -> list[str]:
        """Return the places that were filled without a word, where a person should look at them."""
        return [part.place for part in self.parts if part.doubtful]


@dataclass
class Understood:
    """A line as it was read: what it makes, in the order it was typed."""

    text: str
    items: list[Item] = field(default_factory=list)

    @property
    def problems(self) -> list[Message]:
        """What keeps the line from being taken."""
        return [problem for item in self.items for problem in item.problems]

    @property
    def unused(self) -> list[Unused]:
        """What was left over."""
        return [each for item in self.items for each in item.unused]

    @property
    def complete(self) -> bool:
        """Whether it can be taken as it stands."""
        return not self.problems
