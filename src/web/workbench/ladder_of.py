"""A board of a job opened as a three-wire ladder: the runs that bring it what it takes, with what hangs between."""

from urllib.parse import urlencode

from django.urls import reverse

from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution
from voltaje.path.kinds import FEEDING
from web.quick.inputs import as_address
from web.workbench.lenses.lens import Looked

_TWO, _MOST = 2, 12
_OHM_DIGITS = 5


def ladder_link(board: str, looked: Looked) -> str:
    """Return the address of the ladder sheet with a board's own figures: its first two legs."""
    nodes = looked.solved.solution.nodes
    line = [nodes[board]]
    while line[0].node.parent and not line[0].node.transformer:
        line.insert(0, nodes[line[0].node.parent])
    if line[0].node.transformer or line[0].node.parent is None:
        line = line[1:]
    runs = [solved for solved in line if solved.design and solved.node.kind in FEEDING][:_MOST]
    system = nodes[board].system
    legs = [leg for leg, _angle in system.legs if leg != system.high_leg][:_TWO]
    volts = system.line_to_neutral_v
    if not runs or not volts or len(legs) < _TWO:
        return reverse("quick-sheet", args=["edison"])
    angles = dict(system.legs)
    sections = [_section(solved, looked, legs) for solved in runs]
    inputs = {
        "book": looked.solved.solution.book,
        "volts": [volts, volts],
        "angle_deg": abs(angles[legs[0]] - angles[legs[1]]),
        "sections": sections,
    }
    return reverse("quick-sheet", args=["edison"]) + "?" + urlencode(as_address(inputs))


def _section(solved: NodeSolution, looked: Looked, legs: list[str]) -> dict[str, object]:
    """Return a run as a section: its ohms, and what hangs on its board itself."""
    nodes = looked.solved.solution.nodes
    own = [each for each in nodes.values() if each.node.parent == solved.node.id and each.node.kind not in FEEDING]
    amps = [sum(each.amps.get(leg, 0.0) for each in own if each.legs == (leg,)) for leg in legs]
    between = sum(max(each.amps.values(), default=0.0) for each in own if set(each.legs) == set(legs))
    line, neutral = _ohms(solved, looked)
    found: dict[str, object] = {"line1_ohm": line, "neutral_ohm": neutral, "line2_ohm": line}
    name = solved.node.name or solved.node.id
    found |= {f"load{at}_a": round(each, 2) for at, each in enumerate(amps, 1) if each}
    found |= {f"name{at}": f"{name} {leg}" for at, leg in enumerate(legs, 1)}
    return found | ({"line_load_a": round(between, 2)} if between else {})


def _ohms(solved: NodeSolution, looked: Looked) -> tuple[float, float]:
    """Return the resistance of a run's line and of its neutral [Ω]."""
    design = solved.design
    if design is None or not design.run.length_m:
        return 0.0, 0.0
    book = find_book(looked.solved.solution.book)
    each = []
    for size in (design.choice.size, design.neutral or design.choice.size):
        table = book.impedance(design.run, size, unity=True)
        ohms = table.resistance * design.run.length_m / table.unit_m / 1000 / design.choice.sets
        each.append(round(ohms, _OHM_DIGITS))
    return each[0], each[1]
