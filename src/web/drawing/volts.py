"""Volts over the whole job: length from the source against per cent lost, boards as landings, the limits as lines."""

import math
from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from voltaje.design.solution import NodeSolution, Solution
from voltaje.path.kinds import EMPTY, FEEDING, Kind
from voltaje.path.model import Job
from voltaje.quantity import length_in
from web.drawing.legs import MARKS, colour
from web.drawing.shapes import Shape
from web.words.figures import write

WIDTH, HEIGHT = 640.0, 380.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 44.0, 584.0, 30.0, 340.0
_LENGTH_STEPS = (5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)
_MOST_TICKS = 7
_NAMED = 3  # so many of the worst loads have their names
_PERCENT_STEPS = (0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0)


class Fall(NamedTuple):
    """A node's run in the drawing: from where to where, what hangs there, on which legs, what it loses."""

    key: str
    name: str
    d: str
    x: float
    y: float
    width: float
    legs: str
    mark: str
    hue: str
    board: bool
    over: bool
    worst: bool
    label: str
    title: str
    percent: float
    before: float
    volts: float
    nominal: float


class Volts(NamedTuple):
    """The drawing: runs, ticks along both axes, limits, transformers as risers, the worst of each leg."""

    falls: tuple[Fall, ...]
    x_ticks: tuple[tuple[float, str], ...]
    y_ticks: tuple[tuple[float, str, str], ...]
    limits: tuple[tuple[float, str], ...]
    risers: tuple[Shape, ...]
    worst: tuple[tuple[str, float, str, str], ...]
    left_out: int


def volts_drawing(job: Job, solution: Solution, limits: Sequence[float], unit: str, family: str) -> Volts | None:
    """Return the drawing, None where no run has a length; limits: of one run and of all from the source [%].

    Of many loads those that lose the most are drawn, and the one that loses least.
    """
    nodes = [solution.nodes[node.id] for node in job.nodes if node.parent and node.kind not in EMPTY]
    drawn = [solved for solved in nodes if solved.design and solved.fallen]
    longest = max((solved.from_source_m for solved in drawn), default=0.0)
    if not longest:
        return None
    lost = max(max(solved.fallen.values()) for solved in drawn)
    scale = _scale(longest, max(lost, max(limits) if lost > max(limits) * _NEAR else lost) * 1.12 or 1.0, unit)
    loads = [solved for solved in drawn if solved.node.kind not in FEEDING]
    ranked = sorted(loads, key=lambda solved: -max(solved.fallen.values()))
    shown = {solved.node.id for solved in (*ranked[:_MOST_DRAWN], *ranked[-1:])}
    drawn = [solved for solved in drawn if solved.node.kind in FEEDING or solved.node.id in shown]
    on_path = _above(ranked[0], solution) if ranked else set()
    named = {solved.node.id for solved in ranked[:_NAMED]}
    limit = max(limits)
    falls = tuple(
        _fall(solved, solution, scale, limit, (solved.node.id in on_path, solved.node.id in named), family)
        for solved in drawn
    )
    return Volts(
        falls,
        _along(scale, unit),
        _down(scale, drawn[0].supply_share),
        _limits(limits, scale),
        tuple(_risers(solution, job, scale)),
        _worst_by_leg(loads, family),
        len(loads) - len(shown),
    )


_NEAR = 0.5
_MOST_DRAWN = 90


class _Scale(NamedTuple):
    """How far the drawing reaches: length [m] and per cent; of each what lies between two ticks."""

    metres: float
    percent: float
    length_step: float
    percent_step: float

    def x(self, metres: float) -> float:
        """Return where a length stands."""
        return _LEFT + (_RIGHT - _LEFT) * metres / self.metres

    def y(self, percent: float) -> float:
        """Return where a loss stands."""
        return _TOP + (_BOTTOM - _TOP) * percent / self.percent


def _scale(longest: float, percent: float, unit: str) -> _Scale:
    """Return the scale that ends at whole ticks: it stands still while lengths are typed."""
    metre = longest / length_in(longest, unit)
    along, down = _step(longest / metre, _LENGTH_STEPS) * metre, _step(percent, _PERCENT_STEPS)
    return _Scale(math.ceil(longest / along) * along, math.ceil(percent / down) * down, along, down)


def _step(whole: float, steps: Sequence[float]) -> float:
    return next((each for each in steps if whole / each <= _MOST_TICKS), steps[-1])


def _above(solved: NodeSolution, solution: Solution) -> set[str]:
    found = {solved.node.id}
    while solved.node.parent:
        solved = solution.nodes[solved.node.parent]
        found.add(solved.node.id)
    return found


def _fall(
    solved: NodeSolution, solution: Solution, scale: _Scale, limit: float, shown: tuple[bool, bool], family: str
) -> Fall:
    node, above = solved.node, solution.nodes[solved.node.parent or ""]
    lowest = max(solved.fallen, key=lambda legs: solved.fallen[legs])
    percent = solved.fallen[lowest]
    before = above.fallen.get(lowest, above.drop_percent)
    x0, y0, x1, y1 = scale.x(above.from_source_m), scale.y(before), scale.x(solved.from_source_m), scale.y(percent)
    leg = lowest[0] if len(solved.legs) == 1 else ""
    on_path, named = shown
    board = node.kind in FEEDING
    name = node.name or node.id
    label = f"{name} {write(percent, 1)} %" if named or (board and node.kind is not Kind.TRANSFORMER) else ""
    landing = scale.y(above.drop_percent)  # of a board's worst leg: another of its legs begins above it
    title = f"{name}: {write(percent, 2)} % · {write(solved.volts, 1)} V"
    amps = max(solved.amps.values(), default=0.0)
    d, width = f"M{x0:.1f} {landing:.1f}V{y0:.1f}L{x1:.1f} {y1:.1f}", _THICK if on_path else 1.0 + min(amps / 60, 1.6)
    hue = colour(leg, family, solved.system.line_to_line_v) if leg else ""
    over = percent > limit or any(each.code.startswith("drop.over_limit") for each in solved.findings)
    return Fall(
        node.id,
        name,
        d,
        x1,
        y1,
        width,
        "-".join(solved.legs),
        MARKS.get(leg, ""),
        hue,
        board,
        over,
        on_path,
        label,
        title,
        percent,
        before,
        solved.volts,
        solved.nominal_v,
    )


_THICK = 3.4


def _along(scale: _Scale, unit: str) -> tuple[tuple[float, str], ...]:
    ticks = [at * scale.length_step for at in range(round(scale.metres / scale.length_step) + 1)]
    return tuple((scale.x(metres), f"{write(length_in(metres, unit), 0)} {unit}") for metres in ticks)


def _down(scale: _Scale, share: float) -> tuple[tuple[float, str, str], ...]:
    ticks = [at * scale.percent_step for at in range(round(scale.percent / scale.percent_step) + 1)]
    return tuple((scale.y(lost), f"{write(lost, 1)} %", f"{write(share * (100 - lost), 1)}") for lost in ticks)


def _limits(limits: Sequence[float], scale: _Scale) -> tuple[tuple[float, str], ...]:
    words = (_("%(percent)s %%: one run alone"), _("%(percent)s %%: all the way from the source"))
    return tuple(
        (scale.y(limit), said % {"percent": write(limit, 1)})
        for limit, said in zip(limits, words, strict=False)
        if limit <= scale.percent
    )


def _risers(solution: Solution, job: Job, scale: _Scale) -> list[Shape]:
    """Return the transformers: what each loses inside is told, apart from the conductors' limits."""
    found, said = [], _("%(name)s: %(percent)s %% inside, apart")
    for node in job.nodes:
        solved = solution.nodes[node.id]
        if node.kind is not Kind.TRANSFORMER or solved.unit is None:
            continue
        x, y = scale.x(solved.from_source_m), scale.y(solved.drop_percent)
        inside = max(solved.unit.falls.values(), default=0.0)
        words = said % {"name": node.name or node.id, "percent": write(inside, 1)}
        found += [Shape("open", x - 5, y - 11, r=7), Shape("open", x + 5, y - 11, r=7)]
        found.append(Shape("label", x + 16, y - 12, text=words))
    return found


def _worst_by_leg(loads: Sequence[NodeSolution], family: str) -> tuple[tuple[str, float, str, str], ...]:
    """Return for each leg what its lowest load has lost [%], with the leg's mark and colour."""
    worst: dict[str, float] = {}
    hues = {}
    for solved in loads:
        for legs, percent in solved.fallen.items():
            for leg in legs:
                worst[leg] = max(worst.get(leg, 0.0), percent)
                hues[leg] = colour(leg, family, solved.system.line_to_line_v)
    return tuple((leg, worst[leg], MARKS.get(leg, ""), hues[leg]) for leg in sorted(worst))
