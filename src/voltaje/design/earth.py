"""Everything of a job that is connected to earth: each service, each derived system, each building fed from another.

Read off a solution; nothing is sized here but the electrode of a building that a feeder reaches.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from voltaje.books.answers import Terms
from voltaje.books.machines import EarthingAsked, EarthPart
from voltaje.books.questions import Book, Earthings
from voltaje.design.solution import NodeSolution, Solution
from voltaje.errors import Refused
from voltaje.message import Message
from voltaje.path.electrodes import USUAL
from voltaje.path.kinds import FEEDING, Kind
from voltaje.path.model import Job, Node
from voltaje.path.run import Role
from voltaje.sheet import Citation, off

SERVICE, DERIVED, BUILDING = "service", "derived", "building"
_ELECTRODE_KEYS = {"water pipe": "water_pipe", "concrete-encased": "concrete_encased"}
_BURIED = ("buried", "D")
_FAULT_LOOP = {SERVICE: ("grounded", "jumper"), DERIVED: ("jumper", "supply_side"), BUILDING: ()}


class Part(NamedTuple):
    """A conductor that earths or bonds: its key, name, size with sets, unit with metal, clause, and why so much.

    node, link: whose chain tells how it was found, and which link of that
    """

    key: str
    name: Message
    size: str
    unit: str
    rule: Citation | None
    node: str
    link: str
    why: Message | None = None


class Place(NamedTuple):
    """Where something is earthed: a service, a derived system, or a building of its own.

    lines: of each leg, in words; parts by their keys; electrodes: those that are there, by their keys
    feeds: the board that stands behind a transformer, "" for none; under: of a service that a transformer takes, its
        name; bond_here: of a derived system, whether the one
        bond is made at the transformer; system: how an IEC supply is earthed
    """

    kind: str
    key: str
    name: str
    lines: str
    parts: dict[str, Part]
    electrodes: tuple[str, ...]
    feeds: str = ""
    bond_here: bool = True
    system: str = ""
    three: bool = True
    under: str = ""

    @property
    def bond_at(self) -> str:
        """Where the one bond of a derived system is made: at its transformer, or at the board behind it."""
        return "transformer" if self.bond_here else "board"

    @property
    def fault_loop(self) -> tuple[str, ...]:
        """Parts that a fault to metal takes back to its source, by key; the earth itself is none. NEC 250.4(A)(5)."""
        return tuple(key for key in self.parts if key in _FAULT_LOOP[self.kind])


class EarthPlan(NamedTuple):
    """The places of a job, and the protective conductor of every run."""

    places: tuple[Place, ...]
    runs: tuple[Part, ...]


def earth_plan(job: Job, solution: Solution, book: Book) -> EarthPlan:
    """Return everything of a job that is connected to earth."""
    places = [place for node in job.nodes for place in _places(node, solution, book)]
    order = (SERVICE, DERIVED, BUILDING)
    places.sort(key=lambda place: order.index(place.kind))
    runs = [_run(solution.nodes[node.id], book.terms) for node in job.nodes if solution.nodes[node.id].design]
    return EarthPlan(tuple(places), tuple(run for run in runs if run))


def service_alone(parts: Iterable[EarthPart], name: str, lines: str, system: str, terms: Terms) -> Place:
    """Return a service that stands in no job, by its parts; system: how an IEC supply is earthed, "" for others."""
    found = {part.key: _part(part, "", "", terms) for part in parts}
    return Place(SERVICE, "", name, lines, found, tuple(found), system=system)


def _places(node: Node, solution: Solution, book: Book) -> Iterator[Place]:
    solved = solution.nodes[node.id]
    if solved.design is None or node.parent is None:
        return
    above = solution.nodes[node.parent]
    if solved.earthing is not None:
        yield _service(solved, above, book.terms)
    if solved.unit is not None and solved.unit.behind and not solved.unit.stacked:
        yield _derived(solved, book.terms)
    far = node.run.method in _BURIED and node.kind in FEEDING and solved.design.run.role == Role.FEEDER
    if far and book.terms.family == "nec":
        building = _building(solved, book)
        if building:
            yield building


def _lines(solved: NodeSolution, terms: Terms) -> str:
    design = solved.design
    if design is None:
        return ""
    choice = design.choice
    sets = f"{choice.sets} × " if choice.sets > 1 else ""
    return f"{sets}{choice.size} {terms.gauge(choice.size)} {design.run.material}"


def _service(solved: NodeSolution, above: NodeSolution, terms: Terms) -> Place:
    supply, key = above.node.supply, solved.node.id
    parts = solved.earthing.parts if solved.earthing else ()
    there = tuple(_ELECTRODE_KEYS.get(name, name) for name in supply.electrodes or USUAL)
    absent = {"water_pipe", "steel", "concrete_encased", "rod", "ring"} - set(there)
    found = {part.key: _part(part, key, "service", terms) for part in parts if part.key not in absent}
    if solved.design and solved.design.neutral and "grounded" in found:
        # By its load it may be larger than the table asks.
        sets, size = solved.design.choice.sets, solved.design.neutral
        unit = f"{terms.gauge(size)} {solved.design.run.material}"
        found["grounded"] = found["grounded"]._replace(size=f"{sets} × {size}" if sets > 1 else size, unit=unit)
    three = len(solved.legs) > len(("L1", "L2"))
    system = supply.earthing if terms.family == "iec" else ""
    name, under = solved.node.name or key, ""
    if solved.node.kind is Kind.TRANSFORMER:
        name, under = above.node.name or above.node.id, name
    return Place(SERVICE, key, name, _lines(solved, terms), found, there, system=system, three=three, under=under)


def _part(part: EarthPart, node: str, link: str, terms: Terms) -> Part:
    sets = f"{part.sets} × " if part.sets > 1 else ""
    unit = f"{terms.gauge(part.size)} {part.material}"
    return Part(part.key, part.name, f"{sets}{part.size}", unit, part.rule, node, link, part.why)


def _derived(solved: NodeSolution, terms: Terms) -> Place:
    unit, spec, key = solved.unit, solved.node.transformer, solved.node.id
    first = unit.behind[0] if unit else None
    found: dict[str, Part] = {}
    earth = solved.design.earth if solved.design else None
    if earth:
        found["ground"] = Part(
            "ground",
            Message("ground to the transformer"),
            earth.size,
            f"{terms.gauge(earth.size)} {earth.material}",
            earth.rule,
            key,
            "conductor",
        )
    if first and first.bonds:
        bonds, sets = first.bonds, first.design.choice.sets
        copper = f"{terms.gauge(bonds.jumper)} Cu"
        each = f"{sets} × {bonds.supply_side}" if sets > 1 else bonds.supply_side
        name = Message("system bonding jumper")
        found["jumper"] = Part("jumper", name, bonds.jumper, copper, bonds.rule, key, "bond")
        found["supply_side"] = Part(
            "supply_side",
            Message("bonding jumper of each raceway"),
            each,
            f"{terms.gauge(bonds.supply_side)} Cu",
            bonds.rule,
            key,
            "bond",
        )
        size = next(iter(bonds.electrodes.values()))
        found["electrode"] = Part(
            "electrode", _ELECTRODE_OF_DERIVED, size, f"{terms.gauge(size)} Cu", bonds.rule, key, "bond"
        )
    lines = ""
    if first:
        choice = first.design.choice
        sets_of = f"{choice.sets} × " if choice.sets > 1 else ""
        lines = f"{sets_of}{choice.size} {terms.gauge(choice.size)} {first.design.run.material}"
    here = spec.bond_at != "board" if spec else True
    three = bool(unit and unit.plate.phases > len(("H1", "H2")))
    feeds = first.name if first else ""
    return Place(DERIVED, key, solved.node.name or key, lines, found, (), feeds, here, three=three)


_ELECTRODE_OF_DERIVED = Message("electrode conductor of the transformer")


def _building(solved: NodeSolution, book: Book) -> Place | None:
    """Return what a building that a feeder reaches has of its own: its rod, by the feeder's lines. NEC 250.32."""
    design, key = solved.design, solved.node.id
    if design is None:
        return None
    choice = design.choice
    try:
        earthing = book.asked(Earthings).earthing(
            EarthingAsked(choice.size, design.run.material, choice.sets, choice.sets), off()
        )
    except Refused:
        return None
    rod = next(part for part in earthing.parts if part.key == "rod")
    own = _part(rod, key, "earth", book.terms)
    name, rule = Message("to the building's own rod"), book.rule("building_electrode") or rod.rule
    found = {"rod": own._replace(name=name, rule=rule)}
    run = _run(solved, book.terms)
    if run:
        found["ground"] = run._replace(key="ground")
    return Place(BUILDING, key, solved.node.name or key, _lines(solved, book.terms), found, ("rod",))


def _run(solved: NodeSolution, terms: Terms) -> Part | None:
    design, node = solved.design, solved.node
    if design is None:
        return None
    earth, sets = design.earth, design.choice.sets
    size = f"{sets} × {earth.size}" if sets > 1 else earth.size
    name = Message("{name}", name=node.name or node.id)
    link = "conductor" if node.kind is Kind.TRANSFORMER else "earth"
    return Part(f"run-{node.id}", name, size, f"{terms.gauge(earth.size)} {earth.material}", earth.rule, node.id, link)
