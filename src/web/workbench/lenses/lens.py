"""What a lens is: one way to look at a job in the middle of the workbench."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from voltaje.books.answers import Terms
from voltaje.books.registry import find_book
from web.jobs.document import Document
from web.jobs.worker.solving import Solved
from web.workbench.parts.pieces import Region


@dataclass(frozen=True)
class Looked:
    """What a lens looks at: the job, the chosen node, whether the person may edit, the columns they chose."""

    document: Document
    solved: Solved
    at: str
    editor: bool
    language: str
    columns: Sequence[str] = ()

    @property
    def terms(self) -> Terms:
        """The terms of the job's book."""
        return find_book(self.solved.solution.book).terms


@dataclass(frozen=True)
class Lens:
    """A lens: its name in addresses, the digit that opens it, its words by family, its template, what draws it.

    stands: it shows the same whichever node is chosen; of: kinds of nodes that it is for alone, none: for all
    """

    name: str
    key: str
    words: Callable[[str], str]
    template: str
    region: Callable[[Looked], Region]
    stands: bool = False
    of: tuple[str, ...] = ()
