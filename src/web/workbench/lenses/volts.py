"""Volts over the whole job: a staircase from the source to each load, loads by drop, what another tap gives."""

from functools import lru_cache

from voltaje.books.answers import Run
from voltaje.books.registry import find_book
from voltaje.path.kinds import Kind
from voltaje.path.transformer import MadeAs
from web.drawing.volts import Fall, volts_drawing
from web.words.trade import trade
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.parts.pieces import Piece, Region, digest

_NAME = "volts"
_RANKED = 24


def _region(looked: Looked) -> Region:
    solution, job = looked.solved.solution, looked.solved.job
    book, terms = find_book(solution.book), looked.terms
    plain = Run(0.0, 1.0, 1)
    limits = (book.drop_limit(plain, False).percent, book.drop_limit(plain, True).percent)
    drawing = volts_drawing(job, solution, limits, terms.length_unit, terms.family)
    loads = (
        sorted((each for each in drawing.falls if not each.board), key=lambda each: -each.percent) if drawing else []
    )
    if drawing is None:
        return Region("lens", _NAME + digest(f"nothing {looked.language}"), [], {"falls": []})
    shown = {
        "drawing": drawing,
        "ranked": loads[:_RANKED],
        "more": max(len(loads) - _RANKED, 0) + drawing.left_out,
        "widest": max([limits[-1] * _ROOM, *(each.percent for each in loads)]),
        "sources": _sources(looked),
        "taps": _taps(looked),
        "may_edit": looked.editor,
    }
    parts = {name: Piece.of(f"volts-{named}", f"_volts_{name}", shown) for name, named in _PARTS.items()}
    falls = [_fall(each) for each in drawing.falls]
    frame = digest(f"{looked.language} {looked.editor} {[piece.id for piece in falls]}")
    return Region("lens", _NAME + frame, [*parts.values(), *falls], {**parts, "falls": falls})


# What stands beside the runs, each part with its place in the page.
_PARTS = {"legs": "of-legs", "axes": "axes", "tries": "tries", "ranked": "ranked"}


@lru_cache(maxsize=6_000)
def _fall(fall: Fall) -> Piece:
    return Piece.showing(f"fall-{fall.key}", fall, "_fall", {"f": fall})


_ROOM = 1.1


def _sources(looked: Looked) -> list[dict[str, object]]:
    """Return the supplies with their volts, as entered and nominal."""
    found = []
    for node in looked.solved.job.nodes:
        if node.kind is Kind.SOURCE:
            nominal = looked.solved.solution.nodes[node.id].system.line_to_line_v
            now = (node.supply.measured_v if node.supply else None) or nominal
            found.append(
                {
                    "key": node.id,
                    "name": node.name or node.id,
                    "nominal": nominal,
                    "now": now,
                    "low": round(nominal * 0.9),
                    "high": round(nominal * 1.1),
                }
            )
    return found


def _taps(looked: Looked) -> list[dict[str, object]]:
    """Return the transformers that have taps, each tap with what it makes of the volts behind it."""
    found = []
    for node in looked.solved.job.nodes:
        spec = node.transformer
        if spec is None or spec.made_as in (MadeAs.AUTO, MadeAs.BOOST):
            continue
        turns = [(tap, 1 + tap / 100) for tap in sorted({*_USUAL_TAPS, spec.tap}, reverse=True)]
        taps = [(tap, each if spec.taps_on == "secondary" else 1 / each, tap == spec.tap) for tap, each in turns]
        now = next((factor for _tap, factor, chosen in taps if chosen), 1.0)
        found.append({"key": node.id, "name": node.name or node.id, "taps": taps, "now": now})
    return found


_USUAL_TAPS = (5.0, 2.5, 0.0, -2.5, -5.0)  # per cent of the winding (common practice)

LENS = Lens(_NAME, "3", lambda family: trade(family)["volts_lens"], "workbench/_volts.html", _region, stands=True)
