"""The schedule of a board: its ways, circuit by circuit, and what each leg carries."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from django.utils.translation import gettext as _

from voltaje.books.answers import Terms, sets_of
from voltaje.books.registry import conductor_colours, find_book
from voltaje.design.solution import NodeSolution, Solution
from voltaje.design.ways import Placed, ways_of
from voltaje.path.board import BoardSpec
from voltaje.path.kinds import Kind
from web.jobs.document import Document
from web.jobs.fields import Field
from web.jobs.order import children
from web.words.figures import write
from web.workbench.parts.directory import Pair, directory
from web.workbench.parts.fields import Column, cells_of, columns
from web.workbench.parts.ways import place_of

_ALWAYS = 5  # columns before the legs
_WITH_WAYS = ("load", "spare", "space")  # kinds whose way is one of their fields


@dataclass(frozen=True)
class Circuit:
    """A line of the schedule."""

    key: str
    ways: str
    name: str
    kind: str
    legs: str
    rating: str
    count: str
    length: str
    device: str
    conductor: str
    load_va: str
    by_leg: tuple[str, ...]
    drop: str
    worst: str
    way_at: str = ""  # where its way is entered; "" where it has none
    more: tuple[Field | None, ...] = ()  # of the columns that a person chose, where it has such a field


@dataclass
class ScheduleView:
    """A board's schedule: its circuits and the totals; colours: of its legs, neutral and protective conductor."""

    key: str
    name: str
    system: str
    legs: tuple[str, ...]
    circuits: list[Circuit] = field(default_factory=list)
    totals: tuple[str, ...] = ()
    colours: tuple[tuple[str, str], ...] = ()
    neutral: str = ""
    demand: str = ""
    device: str = ""
    directory: list[Pair] = field(default_factory=list)  # of a board with ways at both sides of its bus
    more: tuple[Column, ...] = ()  # columns that a person chose
    made: str = ""  # the board as it is made: spaces, main, bus, interrupting rating

    @property
    def before_legs(self) -> int:
        """How many columns stand before those of the legs."""
        return _ALWAYS + len(self.more)


def schedule_view(
    document: Document, solution: Solution, board: str, terms: Terms, chosen: Sequence[str] = ()
) -> ScheduleView:
    """Return the schedule of a board; chosen: places of fields that it shows besides."""
    solved, nodes = solution.nodes[board], document["nodes"]
    system = solved.node.transformer.secondary if solved.node.transformer else solved.system
    legs = tuple(leg for leg, _angle in system.legs) if solved.node.transformer else solved.legs
    keys = children(document, board)
    placed = {key: Placed(solution.nodes[key].node.way, solution.nodes[key].legs) for key in keys}
    ways = ways_of(placed, legs, terms.way_columns)
    view = ScheduleView(board, nodes[board].get("name") or board, system.name, legs)
    view.more = tuple(each for each in columns(solution.book) if each.place in chosen)
    places = [each.place for each in view.more]
    has_ways = solved.node.kind is Kind.BOARD
    region = document["job"].get("region") or find_book(solution.book).terms.region
    view.colours = tuple(conductor_colours(region, system))
    for key in keys:
        circuit = _circuit(key, nodes[key], solution.nodes[key], ways[key], legs, terms)
        way_at = "/".join(place_of(document, key)) if has_ways and nodes[key]["kind"] in _WITH_WAYS else ""
        view.circuits.append(replace(circuit, way_at=way_at, more=cells_of(document, key, places)))
    view.circuits.sort(key=lambda circuit: _first(ways[circuit.key]))
    view.totals = tuple(f"{write(solved.amps.get(leg, 0.0), 1)}" for leg in legs)
    view.neutral, view.demand = write(solved.neutral_a, 1), write(solved.demand_va / 1000, 2)
    if terms.way_columns > 1 and solved.node.kind is Kind.BOARD:
        listed = [(ways[each.key], each.key, each.name, each.device) for each in view.circuits]
        view.directory = directory(listed, solved.node.board.ways)
    view.made = _made(solved.node.board)
    if solved.design:
        view.device = f"{write(solved.design.choice.device_a)} A"
    return view


def _made(board: BoardSpec) -> str:
    """Return a board as it is made, in words; "" where nothing was entered."""
    parts = [
        _("%(n)s spaces") % {"n": board.ways} if board.ways else "",
        _("main %(amps)s A") % {"amps": write(board.main_a)} if board.main_a else "",
        _("bus %(amps)s A") % {"amps": write(board.bus_a)} if board.bus_a else "",
        f"{write(board.fault_ka)} kA" if board.fault_ka else "",
    ]
    return " · ".join(part for part in parts if part)


def _by_hand(solved: NodeSolution) -> str:
    """Return the device that a person fixed where nothing was sized: of a spare, or of what has no rule."""
    pinned = solved.node.run.pins.device_a
    return f"{write(pinned)} A" if pinned else "–"


def _size_by_hand(solved: NodeSolution, terms: Terms) -> str:
    """Return the size that a person fixed where nothing was sized."""
    run = solved.node.run
    if not run.pins.size:
        return "–"
    return f"{sets_of(run.pins.size, run.pins.sets or 1)} {terms.gauge(run.pins.size)} {run.material}"


def _first(ways: tuple[int, ...]) -> int:
    return ways[0] if ways else 10_000


def _circuit(
    key: str, node: dict[str, Any], solved: NodeSolution, ways: tuple[int, ...], legs: tuple[str, ...], terms: Terms
) -> Circuit:
    design, load = solved.design, node.get("load", {})
    size = design and f"{sets_of(design.choice.size, design.choice.sets)} {terms.gauge(design.choice.size)}"
    return Circuit(
        key=key,
        ways="-".join(str(way) for way in ways),
        name=node.get("name") or key,
        kind=node["kind"],
        legs="-".join(solved.legs),
        rating=str(load.get("rating", "")),
        count="" if str(load.get("count", 1)) == "1" else str(load["count"]),
        length=str(node.get("run", {}).get("length", "")),
        device=f"{write(design.choice.device_a)} A" if design else _by_hand(solved),
        conductor=f"{size} {design.run.material}" if design else _size_by_hand(solved, terms),
        load_va=write(solved.demand_va),
        by_leg=tuple(write(solved.amps[leg], 1) if leg in solved.amps else "" for leg in legs),
        drop=f"{write(solved.drop_percent, 2)}" if design and design.drop else "–",
        worst=solved.worst,
    )
