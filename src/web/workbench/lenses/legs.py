"""The legs of the chosen board: circuits as blocks in a lane for each leg, what the neutral sees beneath."""

from django.template.loader import get_template
from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.design.legs import BoardLegs, legs_of
from voltaje.design.solution import NodeSolution
from web.drawing.lanes import lanes
from web.drawing.phasors import phasor_drawing
from web.words.figures import write
from web.words.trade import trade
from web.workbench.changes import board_of
from web.workbench.ladder_of import ladder_link
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.pieces import Piece, Region, digest

_NAME = "legs"
_CAPS = (1, 2, 3, 5, 10)


def board_legs(looked: Looked) -> BoardLegs | None:
    """Return the legs of the board that is chosen, or that feeds what is; None where there are not two."""
    board = board_of(looked.document, looked.at) if looked.at else ""
    if not board or board not in looked.solved.solution.nodes:
        return None
    return legs_of(board, looked.solved.job, looked.solved.solution)


def _region(looked: Looked) -> Region:
    board = board_legs(looked)
    if board is None or not board.blocks:
        return Region("lens", "no legs", [])
    family = looked.terms.family
    solved = looked.solved.solution.nodes[board.key]
    words = {
        "mean": _("%(off)s of mean"),
        "to main": _("%(left)s to main"),
        "over": _("%(left)s over main"),
        "folded": _("folded: %(n)s circuits, %(amps)s A alike on every leg"),
    }
    neutral = ""
    if solved.design and solved.design.neutral:
        neutral = _("on %(size)s") % {"size": solved.design.neutral}
    context = {
        "board": board,
        "lanes": lanes(board, family, words, {key: each.worst for key, each in looked.solved.solution.nodes.items()}),
        "phasors": phasor_drawing(board.to_neutral, family, board.system.line_to_line_v, neutral),
        "label": _("The currents as phasors, from one point and end to end"),
        "off": sum(board.to_neutral.values(), 0j),
        "left_out": board.left_out,
        "volts": _volts(board, solved, looked),
        "band": find_book(looked.solved.solution.book).supply_band,
        "demand": _demand(board, solved.amps) if solved.node.kind == "board" else "",
        "may_edit": looked.editor,
        "at": looked.at,
        "caps": _CAPS,
        "over": [leg for leg, amps in board.totals.items() if board.device_a and amps > board.device_a],
        "has_neutral": bool(board.system.line_to_neutral_v),
    }
    piece = Piece.of("legs", get_template("workbench/_legs_piece.html").render(context))
    frame = digest(f"{board.key} {looked.language} {looked.editor}")
    shown = {"piece": piece, "caps": _CAPS, "may": looked.editor, "ladder": ladder_link(board.key, looked)}
    return Region("lens", _NAME + frame, [piece], shown)


def _volts(board: BoardLegs, solved: NodeSolution, looked: Looked) -> list[tuple[str, float, bool]]:
    """Return what each leg has to neutral at the board [V], and whether that is out of the supply's band."""
    if not board.system.line_to_neutral_v or solved.node.transformer:
        return []
    low, high = find_book(looked.solved.solution.book).supply_band
    found = []
    for leg in board.order:
        lost = solved.fallen.get((leg,), 0.0) + solved.inside.get((leg,), 0.0)
        share = solved.supply_share * (1 - lost / 100)
        if leg != board.system.high_leg:
            out = not 1 - low / 100 <= share <= 1 + high / 100
            found.append((leg, board.system.line_to_neutral_v * share, out))
    return found


def _demand(board: BoardLegs, amps: dict[str, float]) -> str:
    """Return what the board's demand is by leg, where the demand rules make it another than its blocks."""
    totals = board.totals
    if all(abs(amps.get(leg, 0.0) - each) < _SHOWN_A for leg, each in totals.items()):
        return ""
    return " · ".join(f"{leg} {write(amps.get(leg, 0.0), 0)}" for leg in board.order)


_SHOWN_A = 0.5

LENS = Lens(_NAME, "2", lambda family: trade(family)["legs_lens"], "workbench/_legs.html", _region)
