"""The legs of the chosen board: circuits as blocks in a lane for each leg, what the neutral sees beneath."""

from functools import lru_cache

from django.utils.safestring import SafeString, mark_safe
from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.design.legs import BoardLegs, legs_of
from voltaje.design.path_flow import path_flow
from web.drawing.lanes import Placed, lanes
from web.drawing.phasors import phasor_drawing
from web.jobs.files.openfile import board_of
from web.words.figures import write
from web.words.trade import trade
from web.workbench.ladder_of import ladder_link
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.parts.pieces import Piece, Region, digest, markup

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
    states = {each.key: looked.solved.solution.nodes[each.key].worst for each in board.blocks}
    drawn = lanes(board, family, words, states)
    context = {
        "board": board,
        "lanes": drawn,
        "blocks": [_block(each, each.key == looked.at, looked.editor, looked.language) for each in drawn.blocks],
        "phasors": phasor_drawing(board.to_neutral, family, board.system.line_to_line_v, neutral),
        "label": _("The currents as phasors, from one point and end to end"),
        "off": sum(board.to_neutral.values(), 0j),
        "left_out": board.left_out,
        "volts": _volts(board, looked),
        "band": find_book(looked.solved.solution.book).supply_band,
        "demand": _demand(board, solved.amps) if solved.node.kind == "board" else "",
        "may_edit": looked.editor,
        "at": looked.at,
        "caps": _CAPS,
        "over": [leg for leg, amps in board.totals.items() if board.device_a and amps > board.device_a],
        "has_neutral": bool(board.system.line_to_neutral_v),
    }
    piece = Piece.of("legs", "_legs_piece", context)
    frame = digest(f"{board.key} {looked.language} {looked.editor}")
    shown = {"piece": piece, "caps": _CAPS, "may": looked.editor, "ladder": ladder_link(board.key, looked)}
    return Region("lens", _NAME + frame, [piece], shown)


@lru_cache(maxsize=4_000)
def _block(placed: Placed, chosen: bool, may_edit: bool, _language: str) -> SafeString:
    shown = {"b": placed, "chosen": chosen, "may_edit": may_edit}
    return mark_safe(markup("_block", shown))  # noqa: S308  (a template's)


def _volts(board: BoardLegs, looked: Looked) -> list[tuple[str, float, float, bool]]:
    """Return what really stands on each leg at the board while all runs [V]: how far off the three's mean, and whether
    that is out of the supply's band.
    """
    solution, system = looked.solved.solution, board.system
    key = board.key
    while solution.nodes[key].node.parent:
        key = solution.nodes[key].node.parent or ""
    found = path_flow(key, looked.solved.job, solution) if system.line_to_neutral_v else None
    if found is None or not system.line_to_neutral_v:
        return []
    low, high = find_book(solution.book).supply_band
    share = solution.nodes[key].supply_share
    legs = [leg for leg in board.order if leg != system.high_leg]
    volts = {leg: found.volts(board.key, (leg,)) * share for leg in legs}
    mean = sum(volts.values()) / len(volts)
    nominal = system.line_to_neutral_v
    return [
        (leg, each, each - mean, not 1 - low / 100 <= each / nominal <= 1 + high / 100) for leg, each in volts.items()
    ]


def _demand(board: BoardLegs, amps: dict[str, float]) -> str:
    """Return what the board's demand is by leg, where the demand rules make it another than its blocks."""
    totals = board.totals
    if all(abs(amps.get(leg, 0.0) - each) < _SHOWN_A for leg, each in totals.items()):
        return ""
    return " · ".join(f"{leg} {write(amps.get(leg, 0.0), 0)}" for leg in board.order)


_SHOWN_A = 0.5

LENS = Lens(_NAME, "2", lambda family: trade(family)["legs_lens"], "workbench/_legs.html", _region)
