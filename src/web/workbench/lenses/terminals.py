"""The terminals of the chosen transformer, and every lawful device before it."""

from typing import Any

from django.utils.translation import gettext as _

from voltaje.books.answers import Terms
from voltaje.books.questions import Transformers
from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution
from web.drawing.shapes import Drawing
from web.drawing.terminals import terminals
from web.drawing.windings import windings_drawing
from web.drawing.wired import wired_on_path
from web.workbench.lenses.lens import Lens, Looked
from web.workbench.parts.pieces import Piece, Region, digest

_NAME = "terminals"


def _region(looked: Looked) -> Region:
    solved = looked.solved.solution.nodes.get(looked.at)
    if solved is None or solved.unit is None or solved.node.transformer is None:
        return Region("lens", "no transformer", [])
    nodes, unit, spec = looked.document["nodes"], solved.unit, solved.node.transformer
    behind = unit.behind[0].key if unit.behind else ""
    lengths = (_length(nodes.get(looked.at, {})), _length(nodes.get(behind, {})))
    drawing = _joined(solved) if unit.made else _wired(solved, lengths, looked.terms)
    inrush = spec.inrush_multiple
    if inrush is None and unit.primary:
        inrush = find_book(looked.solved.solution.book).asked(Transformers).usual_inrush(spec.build)
    context = {
        "drawing": drawing,
        "label": _("The terminals: what is wired, what the maker joined, what is bonded"),
        "stacked": unit.stacked,
        "title": solved.node.name or looked.at,
        "choices": unit.choices,
        "chosen": solved.design.choice.device_a if solved.design else None,
        "rules": unit.behind[0].rules if unit.behind else (),
        "inrush": inrush,
        "rated": unit.primary.amps if unit.primary else None,
        "pins": f"nodes/{looked.at}/run/pins/device_a",
        "may_edit": looked.editor,
    }
    piece = Piece.of("terminals", "_terminals_piece", context)
    return Region("lens", _NAME + digest(f"{looked.at} {looked.language}"), [piece], {"piece": piece})


def _wired(solved: NodeSolution, lengths: tuple[str, str], terms: Terms) -> Drawing | None:
    unit_wired = wired_on_path(solved, lengths, terms)
    return terminals(unit_wired) if unit_wired else None


def _joined(solved: NodeSolution) -> Drawing | None:
    """Draw units as their coils are joined, with the volts that stand on the nominal supply."""
    made = solved.unit.made if solved.unit else None
    if made is None:
        return None
    found = made.at_work(solved.system, solved.legs, {})
    wires: dict[str, list[str]] = {}
    for ends, words in ((made.through.inputs, _("{line} in")), (made.through.outputs, _("{line} out"))):
        for line, terminal in ends:
            wires.setdefault(terminal, []).append(words.format(line=line))
    said = {terminal: " · ".join(words) for terminal, words in wires.items()}
    return windings_drawing(made.through.windings, found, *made.lines, said)


def _length(node: dict[str, Any]) -> str:
    return str(node.get("run", {}).get("length") or "")


LENS = Lens(_NAME, "", lambda _family: _("Terminals"), "workbench/_terminals.html", _region, of=("transformer",))
