"""One circuit worked on the first page: a line, the panel it is fed from, and the chain that sizes it."""

from dataclasses import dataclass, field

from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.design.solution import NodeSolution
from voltaje.errors import Refused
from voltaje.findings import Severity
from voltaje.path.kinds import Kind
from voltaje.speech.read import read_line
from voltaje.speech.said import Where
from voltaje.systems import SYSTEMS
from web.drawing.shapes import Shape
from web.drawing.symbols import breaker, symbol
from web.jobs.beginning import new_supply
from web.jobs.document import Document, put
from web.jobs.worker.solving import solve_job
from web.words.figures import say, write
from web.words.trade import trade
from web.workbench.edits.walk import SaidItem, circuits_of, hung, understood
from web.workbench.parts.chain import LinkView, chain_view

EXAMPLES = ("kiln 24 kW 208 V 3ph 75 ft", "dryer 5.4 kW 240 V 30 ft", "EV charger 48 A 60 ft", "shower 9.5 kW 15 m")
# Books by the country of a visitor, each with the supplies that are tried in turn until one has what the line says.
AMERICAN = ("208Y/120", "120/240 1ph 3w", "480Y/277")
SUPPLIES = {
    "NEC 2023": AMERICAN,
    "NEC 2020": AMERICAN,
    "NEC 2017": AMERICAN,
    "BS 7671": ("230/400",),
    "SANS 10142-1": ("230/400",),
}
BOOKS = tuple(SUPPLIES)
_LOAD = "load"


@dataclass
class Worked:
    """What the page shows of a line: as understood, its links, and what is drawn on the conductor.

    labels: texts of the drawing by their place; stops: what is not allowed, or not sized
    """

    line: str
    book: str
    system: str
    w: dict[str, str] = field(default_factory=dict)
    item: SaidItem | None = None
    unused: list[tuple[str, str]] = field(default_factory=list)
    problems: list[str] = field(default_factory=list)
    stops: list[str] = field(default_factory=list)
    links: list[LinkView] = field(default_factory=list)
    labels: dict[str, str] = field(default_factory=dict)
    device_shapes: list[Shape] = field(default_factory=list)
    load_shapes: list[Shape] = field(default_factory=list)


def system_of(line: str, book: str, chosen: str = "") -> str:
    """Return the supply that a line is worked on: as chosen, else the first of the usual that has what it says."""
    if chosen in SUPPLIES[book]:
        return chosen
    terms = find_book(book).terms
    for system in SUPPLIES[book]:
        found = read_line(line, Where(terms.family, SYSTEMS[system], rings=terms.rings))
        made_for_it = not any(
            part.place == "load.volts" and part.assumed for item in found.items for part in item.parts
        )
        if found.complete and made_for_it:
            return system
    return SUPPLIES[book][0]


class NotSaid(Exception):
    """A line that a job cannot begin with; its words say why."""


def begun(line: str, book: str, chosen: str) -> Document:
    """Return a job that begins with what a line says, with its supply alone where nothing was typed. Raises NotSaid."""
    document = new_supply(_("Try-out"), book, system_of(line, book, chosen))
    if not line.strip():
        return document
    said = understood(document, line, "main")
    if said.problems:
        raise NotSaid(" ".join(said.problems))
    for change in hung(document, said):
        put(document, change)
    return document


def work(line: str, book: str, chosen: str = "") -> Worked:
    """Return a line worked; what stands in its way is said, and nothing is made up."""
    system = system_of(line, book, chosen)
    document = new_supply(line or _("Try-out"), book, system)
    said = understood(document, line, "main")
    worked = Worked(line, book, system, trade(find_book(book).terms.family), unused=said.unused)
    worked.problems = said.problems
    worked.item = said.items[0] if said.items else None
    if said.problems or worked.item is None:
        return worked
    if worked.item.item.kind is not Kind.LOAD:
        worked.problems = [_("That is no single circuit: it has its place in a job. Say a load here.")]
        return worked
    node = next(circuits_of(worked.item.item))
    document["nodes"][_LOAD] = {**node, "parent": "main", "position": 2.0}
    try:
        solution = solve_job(document, _LOAD).solution
    except Refused as error:
        worked.problems = [say(error.message)]
        return worked
    solved = solution.nodes[_LOAD]
    worked.links = chain_view(solution, _LOAD, "").links
    worked.stops = [say(each.message) for each in solved.findings if each.severity is Severity.STOP]
    iec = find_book(book).terms.symbols == "iec"
    worked.device_shapes = breaker(iec)
    worked.load_shapes = symbol(node["load"].get("kind", "general"), iec)
    worked.labels = _labels(solved, worked)
    return worked


def _labels(solved: NodeSolution, worked: Worked) -> dict[str, str]:
    """Return what stands on the drawing."""
    link = {each.key: each for each in worked.links}
    poles = len(solved.legs)
    labels = {
        "system": worked.system,
        "volts": f"{write(solved.nominal_v)} V",
        "amps": f"{write(max(solved.amps.values(), default=0.0), 1)} A",
        "name": worked.item.item.name if worked.item else "",
        "rating": str(worked.item.item.load.get("rating", "")) if worked.item else "",
        "poles": _("%(n)s-pole") % {"n": poles},
        "length": str(worked.item.item.run.get("length", "")) if worked.item else "",
    }
    design = solved.design
    if design:
        labels |= {
            "device": f"{link['device'].value} A",
            "conductor": f"{link['conductor'].value} {link['conductor'].unit}",
            "conduit": design.conduit,
            "earth": f"{link['earth'].value} {link['earth'].unit}",
        }
        if design.drop:
            labels["loses"] = _("loses %(volts)s V") % {"volts": write(design.drop.volts, 1)}
            labels["arrives"] = f"{write(solved.nominal_v - design.drop.volts, 1)} V"
    return labels
