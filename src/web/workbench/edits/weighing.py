"""What each reading of an assumed line costs: its device, conductor and metal, before one is taken."""

from dataclasses import dataclass

from voltaje.books.registry import find_book
from voltaje.errors import Refused
from voltaje.findings import Severity
from web.jobs.document import Document
from web.jobs.worker.solving import solve_job
from web.words.figures import say, write
from web.workbench.edits import changes
from web.workbench.edits.walk import Said, circuits_of, understood
from web.workbench.parts.chain import option_rows, said_mass

_BAR_W = 70.0
_MOST = 4  # readings that are weighed


@dataclass(frozen=True)
class Reading:
    """One way to read what was typed. line: what says it so, "" for the one that holds now."""

    words: str
    line: str
    amps: str = ""
    device: str = ""
    conductor: str = ""
    metal: str = ""
    metal_w: float = 0.0
    stops: str = ""


def readings(document: Document, line: str, at: str) -> list[Reading]:
    """Return the readings of a line's first assumption that changes the circuit, the present one first."""
    said = understood(document, line, at)
    if said.problems or not said.items:
        return []
    chip = next((chip for chip in said.items[0].chips if chip.choices), None)
    if chip is None:
        return []
    found = [(chip.words, "", said)]
    found += [(words, other, understood(document, other, at)) for words, other in chip.choices[: _MOST - 1]]
    weighed = [(words, other, *_weigh(document, each)) for words, other, each in found if not each.problems]
    heaviest = max((metal for *_others, metal in weighed), default=0.0) or 1.0
    terms = find_book(document["job"]["book"]).terms
    return [
        Reading(
            words, other, **shown, metal=said_mass(metal, terms) if metal else "", metal_w=_BAR_W * metal / heaviest
        )
        for words, other, shown, metal in weighed
    ]


def _weigh(document: Document, said: Said) -> tuple[dict[str, str], float]:
    """Return what the circuit of a reading would be, and its metal [kg]."""
    first = said.items[0]
    (made,) = changes.add(document, first.board, [next(circuits_of(first.item))])
    key = made.path[1]
    with_it = {**document, "nodes": {**document["nodes"], key: made.after}}
    try:
        solution = solve_job(with_it, key).solution
    except Refused as error:
        return {"stops": say(error.message)}, 0.0
    solved = solution.nodes[key]
    stops = " ".join(say(each.message) for each in solved.findings if each.severity is Severity.STOP)
    row = next((row for row in option_rows(solved, find_book(solution.book).terms) if row.chosen), None)
    amps = f"{write(max(solved.amps.values(), default=0.0), 1)} A"
    if row is None:
        return {"amps": amps, "stops": stops}, 0.0
    shown = {"amps": amps, "device": row.device, "conductor": row.conductor, "stops": stops}
    return shown, row.option.metal_kg or 0.0
