"""The schedule of the chosen board."""

from functools import lru_cache

from web.jobs.files.openfile import board_of
from web.words.trade import trade
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.parts.fields import columns
from web.workbench.parts.pieces import Piece, Region, digest
from web.workbench.parts.schedule import Circuit, schedule_view

_MOST_KEPT = 6_000
_NAME = "schedule"


@lru_cache(maxsize=_MOST_KEPT)
def _way(circuit: Circuit, editor: bool, language: str) -> Piece:
    shown = {"c": circuit, "may_edit": editor}
    return Piece.showing(f"way-{circuit.key}", (circuit, editor, language), "_way", shown)


def _region(looked: Looked) -> Region:
    document, solution, language = looked.document, looked.solved.solution, looked.language
    board = board_of(document, looked.at) if looked.at else ""
    if not board:
        return Region("lens", "no board", [])
    view = schedule_view(document, solution, board, looked.terms, looked.columns)
    ends = [Piece.of(f"schedule-{each}", f"_schedule_{each}", {"schedule": view}) for each in ("head", "foot")]
    if view.directory:
        ends.append(Piece.of("schedule-directory", "_directory", {"schedule": view, "in_page": True}))
    pieces = [*(_way(circuit, looked.editor, language) for circuit in view.circuits), *ends]
    alike = f"{board} {looked.editor} {language} {view.legs} {view.more}"
    frame = _NAME + digest(alike + " ".join(piece.id for piece in pieces))
    shown = {
        "schedule": view,
        "head": ends[0],
        "foot": ends[1],
        "ways": pieces[: -len(ends)],
        "directory": ends[-1],
        "columns": columns(solution.book),
        "chosen": {each.place for each in view.more},
    }
    return Region("lens", frame, pieces, shown)


LENS = Lens(_NAME, "4", lambda family: trade(family)["schedule"], "workbench/_schedule.html", _region)
