"""A whole job solved, as plain JSON."""

from __future__ import annotations

from collections.abc import Collection

from voltaje.books.answers import Run, require_choices
from voltaje.books.machines import Earthing, MotorCircuit
from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.design.circuits import links_of
from voltaje.design.equipment.cooking import TapRun
from voltaje.design.loops import LoopHere
from voltaje.design.record import record
from voltaje.design.residuals import ResidualHere
from voltaje.design.solution import NodeSolution, Solution
from voltaje.design.solve import solve
from voltaje.design.transformers.faults import short_circuit_behind
from voltaje.design.transformers.unit import Behind, Unit
from voltaje.errors import Refused, UnknownName
from voltaje.inputs.shapes import Json
from voltaje.message import Message
from voltaje.path.document import read_job
from voltaje.path.model import Job
from voltaje.path.run import RunSpec
from voltaje.tools.answer import finding_json, link_json, option_json, step_json


def solve_document(raw: object, steps_for: str | None = None) -> Json:
    """Return the solution of a job file's document. Raises InputError with the place of what is wrong."""
    job = read_document(raw)
    if steps_for is not None and all(node.id != steps_for for node in job.nodes):
        raise UnknownName("--steps", Message("there is no node {id}", id=steps_for))
    return solution_json(solve(job, steps_for), steps_for)


def recorded(raw: object) -> Json:
    """Return a job file's document with the figures of its solution kept in it. Raises InputError."""
    job = read_document(raw)
    return {**job.raw, "solved": record(solve(job))}


def read_document(raw: object) -> Job:
    """Return a job read in the units of its own book. Raises InputError with the place of what is wrong."""
    named = raw.get("book") if isinstance(raw, dict) else None
    return read_job(raw, find_book(named).terms.length_unit)


def unknown_choices(job: Job, of: Collection[str] | None = None) -> list[UnknownName]:
    """Return an error for every run that says something its book does not know, whatever hangs on it.

    of: the nodes to look at, all where not given

    For what comes in anew. A job that is kept may hold what another book knew: there it is a finding at its node.
    """
    book = find_book(job.book)
    found = []
    for at, node in enumerate(job.nodes):
        if of is not None and node.id not in of:
            continue
        try:
            require_choices(book.choices, {key: getattr(node.run, key) for key in book.choices})
        except UnknownName as error:
            found.append(UnknownName(f"nodes[{at}].run.{error.field}", error.message, error.rule))
            continue
        if node.run.pins.size and node.run.pins.size not in (known := _sizes(book, node.run)):
            message = Message("there is no size {size}: {known}", size=node.run.pins.size, known=list(known))
            found.append(UnknownName(f"nodes[{at}].run.pins.size", message))
    return found


def _sizes(book: Book, spec: RunSpec) -> tuple[str, ...]:
    """Return the sizes that a run may be pinned to, as its table has them; 1 mm² too, which is for lighting."""
    terms = book.terms
    run = Run(
        0.0,
        1.0,
        1,
        material=spec.material,
        insulation=spec.insulation or terms.insulation,
        method=spec.method or terms.method,
        cable=spec.cable or terms.cable,
        raceway=spec.raceway,
        use="lighting",
    )
    try:
        return book.sizes(run)
    except Refused:
        return (spec.pins.size or "",)  # no table for such a run: it is a finding at its node


def solution_json(solution: Solution, steps_for: str | None = None) -> Json:
    """Return a solution; the steps of one node with it, if asked for."""
    answer: Json = {
        "book": solution.book,
        "engine": solution.engine,
        "tables": solution.tables,
        "nodes": {node_id: _node(solved) for node_id, solved in solution.nodes.items()},
        "findings": [finding_json(finding) for finding in solution.findings],
    }
    if steps_for is not None:
        opened = solution.nodes[steps_for]
        answer["nodes"][steps_for]["steps"] = [step_json(step) for step in opened.sheet.steps]
        answer["nodes"][steps_for]["options"] = [option_json(option) for option in opened.options]
        links = links_of(opened, find_book(solution.book))
        answer["nodes"][steps_for]["links"] = [link_json(link) for link in links]
    return answer


def _unit(unit: Unit, solved: NodeSolution) -> Json:
    return {
        "load_kva": unit.load_kva,
        "needed_kva": unit.needed_kva,
        "trade_kva": unit.trade_kva,
        "loading_percent": unit.loading_percent,
        "primary_device_max_a": unit.primary.most_a if unit.primary else None,
        "secondary_device_max_a": unit.secondary.most_a if unit.secondary else None,
        "regulation_percent": unit.regulation_percent,
        "short_circuit_a": short_circuit_behind(solved),
        "secondary": [_behind(each) for each in unit.behind],
    }


def _behind(behind: Behind) -> Json:
    bonds, rule = behind.bonds, behind.rule
    return {
        "node": behind.key,
        "secondary_rule": rule.rule.clause if rule else None,
        "bonding_jumper": bonds.jumper if bonds else None,
        "supply_side_bonding_jumper": bonds.supply_side if bonds else None,
        "electrode_conductors": dict(bonds.electrodes) if bonds else {},
    }


def _earthing(earthing: Earthing) -> Json:
    return {part.key: {"size": part.size, "material": part.material, "sets": part.sets} for part in earthing.parts}


def _tap(tap: TapRun, solved: NodeSolution) -> Json:
    conductor = {"size": tap.size, "material": solved.node.run.material, "sets": 1}
    return {"name": tap.unit.name, "amps": tap.amps, "conductor": conductor}


def _motor(motor: MotorCircuit) -> Json:
    return {
        "flc_a": motor.flc_a,
        "conductor_min_a": motor.conductor_min_a,
        "device_max_a": motor.device.most_a,
        "overload_a": motor.overload_a,
        "overload_max_a": motor.overload_max_a,
        "disconnect_min_a": motor.disconnect_min_a,
    }


def _loop(here: LoopHere) -> Json:
    loop = here.loop
    return {
        "zs_ohm": loop.zs_ohm,
        "max_zs_ohm": loop.most_ohm,
        "fault_a": loop.fault_a,
        "required_s": loop.required_s,
        "time_s": loop.time_s,
        "by": loop.by or None,
        "holds": bool(loop.by),
        "device_kind": here.kind,
        "device_kind_usual": here.usual,
        "ze_assumed": here.assumed,
        "longest_m": here.longest_m,
    }


def _rcd(rcd: ResidualHere) -> Json:
    return {
        "rated_ma": rcd.rated_ma,
        "type": rcd.type,
        "here": rcd.here,
        "entered": rcd.entered,
        "rule": str(rcd.rule) if rcd.rule else None,
    }


def _node(solved: NodeSolution) -> Json:
    design, volts = solved.design, solved.nominal_v
    sized = {
        "device_a": design.choice.device_a if design else None,
        "conductor": {"size": design.choice.size, "material": design.run.material, "sets": design.choice.sets}
        if design
        else None,
        "neutral": {"size": design.neutral, "material": design.run.material} if design and design.neutral else None,
        "ampacity_a": design.capacity.ampacity_a if design else None,
        "equipment_ground": {"size": design.earth.size, "material": design.earth.material} if design else None,
    }
    return {
        "connected_va": solved.connected_va,
        "demand_va": solved.demand_va,
        "amps": solved.amps,
        "neutral_a": solved.neutral_a,
        **sized,
        **({"motor": _motor(solved.motor)} if solved.motor else {}),
        **({"transformer": _unit(solved.unit, solved)} if solved.unit else {}),
        **({"earthing": _earthing(solved.earthing)} if solved.earthing else {}),
        **({"short_circuit_a": solved.fault_a} if solved.fault_a is not None else {}),
        **({"loop": _loop(solved.loop)} if solved.loop else {}),
        **({"rcd": _rcd(solved.rcd)} if solved.rcd else {}),
        **({"taps": [_tap(tap, solved) for tap in solved.taps]} if solved.taps else {}),
        "drop_v": solved.drop_percent / 100 * volts,
        "drop_percent": solved.drop_percent,
        "lost_percent": solved.lost_percent,
        "volts_at_node": solved.volts,
        "findings": [finding_json(finding) for finding in solved.findings],
    }
