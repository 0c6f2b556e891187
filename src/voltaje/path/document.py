"""Reading and writing the open job file; `docs/format.md` describes it.

Reading checks everything and says where: unknown keys, dangling parents, loops, impossible values.
The document itself is kept, so that writing what was read changes nothing.
"""

from __future__ import annotations

import json
import re
from functools import lru_cache
from typing import Any

from voltaje.errors import InputError, UnknownName
from voltaje.inputs.declare import keys_of
from voltaje.inputs.read import Reader, read_values
from voltaje.inputs.shapes import LEG_NAMES, TEXT, one_of
from voltaje.limits import MOST_AMENDMENTS, MOST_ASSUMED, MOST_NODES, MOST_REASON
from voltaje.message import Message
from voltaje.path.board import AreaSpec, BoardSpec, WaySpec
from voltaje.path.kinds import HOUSEHOLD, Kind
from voltaje.path.load import LoadSpec
from voltaje.path.model import Amendment, Job, Node, SupplySpec
from voltaje.path.results import TestResults
from voltaje.path.run import PathPins, RunSpec
from voltaje.path.soundness import Fault, Standing, faults
from voltaje.path.surroundings import Surroundings, read_surroundings
from voltaje.path.transformer import TransformerSpec
from voltaje.quantity import Rating, read_in, read_rating, require_between, require_carried
from voltaje.systems import THREE_PHASE, System, find_system

FORMAT, VERSION = "voltaje-job", 1

JOB_KEYS = ("format", "version", *keys_of(Job), "amendments", "solved", "nodes")
NODE_KEYS = (
    *("id", "kind", "parent", "name", "system", "legs", "run", "load", "supply", "transformer", "dwelling"),
    *(*keys_of(BoardSpec), "area", *keys_of(WaySpec), "assumed", "note", "tests"),
)
RUN_KEYS = (*keys_of(RunSpec), *keys_of(Surroundings), "pins")
# What a walk-through line may fill without being told, and leaves to be looked at.
ASSUMABLE = ("load.poles", "load.rating", "load.count", "run.pins.device_a")
AMENDMENT_KEYS = ("limit", "value", "reason")
AMENDABLE = ("drop_percent", "drop_total_percent", "least_size_cu", "least_size_al")
_ID = re.compile(r"[A-Za-z0-9_-]{1,40}")


def read_job(raw: object, length_unit: str) -> Job:
    """Return a job from its document.

    length_unit: of a length without one, `ft` or `m`, as the job's book has it
    Raises: InputError with the place (`nodes[2].run.length`); further ones on `also`.
    """
    reader = Reader(raw, JOB_KEYS)
    if reader.raw.get("format") != FORMAT or reader.raw.get("version") != VERSION:
        message = Message("must be {format}, version {version}", format=FORMAT, version=VERSION)
        reader.errors.append(InputError("format", message))
    listed = reader.raw.get("nodes")
    if not isinstance(listed, list) or not listed or len(listed) > MOST_NODES:
        reader.errors.append(InputError("nodes", Message("must be a list of 1 to {most} nodes", most=MOST_NODES)))
        listed = []
    nodes = [_read_node(reader, at, each, length_unit) for at, each in enumerate(listed)]
    _check_tree(nodes, reader)
    job = Job(
        **read_values(Job, reader, length_unit),
        amendments=tuple(_amendments(reader)),
        solved=reader.value("solved", _solved, None),
        nodes=tuple(nodes),
        raw=reader.raw,
    )
    reader.finish()
    return job


def write_job(job: Job) -> dict[str, Any]:
    """Return a job's document as it was read."""
    return job.raw


def _check_tree(nodes: list[Node], reader: Reader) -> None:
    """Keep an error for whatever keeps the nodes from being a tree that hangs on sources."""
    found = _faults_of(tuple((node.id, node.kind.value, node.parent or "") for node in nodes))
    places = {node.id: at for at, node in enumerate(nodes)} if found else {}
    for fault in found:
        kind = UnknownName if fault.code == "hangs_nowhere" else InputError
        reader.errors.append(kind(f"nodes[{places[fault.id]}].{fault.key}", fault.message))


@lru_cache(maxsize=64)
def _faults_of(stands: tuple[tuple[str, str, str], ...]) -> list[Fault]:
    """Return what is wrong with a tree; of the same one, as after an edit of a length, it is known."""
    return faults([Standing(*each) for each in stands])


class Settled(dict[str, Any]):
    """A node of a file that will not be changed any more: it is read once, and then known by what it is."""

    def __init__(self, raw: dict[str, Any]) -> None:
        super().__init__(raw)
        self.read_as: dict[str, Node] = {}


def _read_node(reader: Reader, at: int, raw: object, length_unit: str) -> Node:
    """Return a node; one that was read before without error, text for text, is the same node again."""
    if isinstance(raw, Settled):
        known = raw.read_as.get(length_unit) or _node_of(json.dumps(raw, default=repr), length_unit)
        if known:
            raw.read_as[length_unit] = known
            return known
    known = _node_of(json.dumps(raw, default=repr), length_unit)
    return known or _node(reader.inside(f"nodes[{at}]", raw, NODE_KEYS), length_unit)


@lru_cache(maxsize=50_000)
def _node_of(text: str, length_unit: str) -> Node | None:
    reader = Reader(json.loads(text), NODE_KEYS)
    node = _node(reader, length_unit)
    return None if reader.errors else node


def _node(reader: Reader, length_unit: str) -> Node:
    kind = reader.value("kind", one_of(Kind).read_plain, Kind.LOAD)
    if not reader.has("kind"):
        reader.errors.append(InputError(reader.path("kind"), Message("must be given")))
    system = reader.value("system", _system, None) if kind is Kind.SOURCE else None
    if kind is Kind.SOURCE and not reader.has("system"):
        reader.errors.append(InputError(reader.path("system"), Message("must be given")))
    for needed, key in (
        (Kind.LOAD, "load"),
        (Kind.INVERTER, "load"),
        (Kind.TRANSFORMER, "transformer"),
        (Kind.DWELLING, "dwelling"),
    ):
        if kind is needed and not isinstance(reader.raw.get(key), dict):
            reader.errors.append(InputError(reader.path(key), Message("must be given")))
    has_load = kind in (Kind.LOAD, Kind.INVERTER)
    return Node(
        id=reader.required("id", _id, ""),
        kind=kind,
        name=reader.value("name", TEXT.read_plain, ""),
        parent=reader.value("parent", _id, None),
        system=system,
        run=_run(reader.inside(reader.path("run"), reader.raw.get("run", {}), RUN_KEYS), length_unit),
        load=_load(reader.inside(reader.path("load"), reader.raw.get("load", {}), keys_of(LoadSpec)))
        if has_load
        else None,
        supply=_supply(reader) if kind is Kind.SOURCE else SupplySpec(),
        transformer=_transformer(reader) if kind is Kind.TRANSFORMER else None,
        dwelling=reader.raw.get("dwelling") if kind is Kind.DWELLING else None,
        board=_board(reader),
        legs=reader.value("legs", lambda raw: LEG_NAMES.read(raw, ""), ()),
        place=WaySpec(**read_values(WaySpec, reader, "")),
        assumed=reader.value("assumed", _places, ()),
        note=reader.value("note", _note, ""),
        tests=_tests(reader) if reader.has("tests") else None,
    )


def _tests(reader: Reader) -> TestResults:
    inside = reader.inside(reader.path("tests"), reader.raw.get("tests"), keys_of(TestResults))
    return TestResults(**read_values(TestResults, inside, ""))


def _note(raw: Any) -> str:
    if not isinstance(raw, str) or len(raw) > MOST_REASON or not raw.isprintable():
        raise InputError("", Message("must be a text of at most {most} characters", most=MOST_REASON))
    return raw.strip()


def _places(raw: Any) -> tuple[str, ...]:
    if not isinstance(raw, list) or len(raw) > MOST_ASSUMED or not all(each in ASSUMABLE for each in raw):
        raise InputError("", Message("must be a list of: {known}", known=list(ASSUMABLE)))
    return tuple(raw)


def _board(reader: Reader) -> BoardSpec:
    inside = reader.inside(reader.path("area"), reader.raw.get("area", {}), keys_of(AreaSpec))
    values = read_values(AreaSpec, inside, "", {"floor_area_ft2": 0.0}) if reader.has("area") else {}
    area = AreaSpec(**values) if values.get("floor_area_ft2") else None
    return BoardSpec(**read_values(BoardSpec, reader, ""), area=area)


def _amendments(reader: Reader) -> list[Amendment]:
    found = []
    for at, raw in reader.items("amendments")[:MOST_AMENDMENTS]:
        inner = reader.inside(at, raw, AMENDMENT_KEYS)
        limit = inner.required("limit", lambda raw: _word(raw, AMENDABLE), AMENDABLE[0])
        nothing: str | float = ""
        value = inner.required("value", _percent if limit.endswith("percent") else _size, nothing)
        found.append(Amendment(limit, value, inner.required("reason", _reason, "")))
    return found


def _percent(raw: Any) -> float | str:
    value = read_in(raw, "%")
    require_between(value, 0, 100, "%", above=True)
    return value


def _size(raw: Any) -> float | str:
    if not isinstance(raw, str) or not raw.strip() or len(raw) > len("2000 kcmil"):
        raise InputError("", Message("must be a size, as a text without a unit"))
    return raw.strip()


def _reason(raw: Any) -> str:
    if not isinstance(raw, str) or not raw.strip() or len(raw) > MOST_REASON:
        raise InputError("", Message("must say why, in at most {most} characters", most=MOST_REASON))
    if not raw.isprintable():
        raise InputError("", Message("must be printable text"))
    return raw.strip()


def _solved(raw: Any) -> dict[str, Any] | None:
    if not isinstance(raw, dict) or not all(isinstance(raw.get(key), str) for key in ("book", "engine", "tables")):
        raise InputError("", Message("must hold book, engine, tables and nodes, as a solution was kept"))
    if not isinstance(raw.get("nodes"), dict):
        raise InputError("", Message("must hold book, engine, tables and nodes, as a solution was kept"))
    return raw


def _word(raw: Any, known: tuple[str, ...]) -> str:
    if raw not in known:
        raise UnknownName("", Message("must be one of: {known}", known=list(known)))
    return str(raw)


def _id(raw: Any) -> str:
    if not isinstance(raw, str) or not _ID.fullmatch(raw):
        raise InputError("", Message("must be 1 to 40 letters, digits, - or _"))
    return raw


def _system(raw: Any) -> System | None:
    return find_system(raw, "")


def _run(reader: Reader, unit: str) -> RunSpec:
    pins = reader.inside(reader.path("pins"), reader.raw.get("pins", {}), keys_of(PathPins))
    return RunSpec(
        **read_values(RunSpec, reader, unit),
        surroundings=read_surroundings(reader),
        pins=PathPins(**read_values(PathPins, pins, unit)),
    )


def _load(reader: Reader) -> LoadSpec:
    values = read_values(LoadSpec, reader, "", {"rating": _ONE})
    phases, poles = _phases_and_poles(reader, values)
    with reader.guard("count"):
        rating: Rating = values["rating"]
        require_carried(rating.value * values.get("count", 1), rating.unit)
    belong = {"phases": phases, "poles": poles, "household": _household(reader, values, phases)}
    return LoadSpec(**{**values, **belong})


_ONE = read_rating("1 VA")  # goes on in the place of a rating that is missing


def _phases_and_poles(reader: Reader, values: dict[str, Any]) -> tuple[int, int]:
    """Return both as they belong together: what stands on three poles is three-phase, and the other way.

    0 poles leaves them to the system.
    """
    phases = values.get("phases", 0)
    poles = values.get("poles", 0) or len(values.get("legs", ()))
    if phases == THREE_PHASE and 0 < poles < THREE_PHASE:
        at = "poles" if reader.has("poles") else "legs"
        message = Message("three-phase equipment stands on three poles, not {poles}", poles=poles)
        reader.errors.append(InputError(reader.path(at), message))
    if phases == 1 and poles == THREE_PHASE:
        message = Message("must be 3 for equipment on three poles")
        reader.errors.append(InputError(reader.path("phases"), message))
    if THREE_PHASE in (phases, poles):
        return THREE_PHASE, THREE_PHASE
    return 1, poles


def _household(reader: Reader, values: dict[str, Any], phases: int) -> bool:
    """Return what is entered; ranges and dryers on a single phase are household equipment where nothing is."""
    may_be = values.get("kind") in HOUSEHOLD
    household = bool(values.get("household", may_be and phases == 1))
    if household and phases == THREE_PHASE:
        message = Message("household equipment is never three-phase")
        reader.errors.append(InputError(reader.path("household"), message))
    return household and may_be


def _supply(reader: Reader) -> SupplySpec:
    inside = reader.inside(reader.path("supply"), reader.raw.get("supply", {}), keys_of(SupplySpec))
    return SupplySpec(**read_values(SupplySpec, inside, ""))


def _transformer(reader: Reader) -> TransformerSpec | None:
    inside = reader.inside(reader.path("transformer"), reader.raw.get("transformer", {}), keys_of(TransformerSpec))
    values = read_values(TransformerSpec, inside, "", {"kva": 1.0})
    return TransformerSpec(**values) if values.get("secondary") else None
