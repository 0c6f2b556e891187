"""What the sheet shows of a solved house: cards, worksheet lines with bars, the chain, findings."""

from dataclasses import dataclass
from typing import Any

from django.utils.translation import gettext as _

from voltaje.books.dwellings import Conductor, Demand, DemandLine, HouseSolution, Service, named
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.house import Method
from voltaje.sheet import Citation, Step
from web.drawing.bars import Bar, scaled
from web.jobs.files.house import path_of
from web.words.figures import write

POOLED = ("lighting", "appliances", "dryers", "cooking", "chargers", "heating")


@dataclass(frozen=True)
class Card:
    """One of the methods, to choose from."""

    method: str
    title: str
    demand_va: float
    amps: float
    device_a: float
    chosen: bool
    compared: Message | None


@dataclass(frozen=True)
class Line:
    """A line of the worksheet with its bar and its steps; `pooled` ones count through the pool below them."""

    key: str
    line: DemandLine
    bar: Bar
    steps: list[Step]
    reduced: bool
    pooled: bool


@dataclass(frozen=True)
class Link:
    """A joint of the chain: its value large, a line of why, a rule, a state."""

    key: str
    title: str
    value: str
    unit: str
    why: Message
    rule: Citation | None
    steps: list[Step]
    look: bool = False


@dataclass(frozen=True)
class Remark:
    """A finding, and the page's name of the field it is about."""

    finding: Finding
    field_id: str


@dataclass(frozen=True)
class SheetView:
    """Everything the sheet's outcome shows."""

    cards: list[Card]
    lines: list[Line]
    total: list[Step]
    chain: list[Link]
    remarks: list[Remark]
    conductors: list[tuple[str, Conductor]]
    counts: dict[str, int]
    ways: tuple[Any, ...]
    solution: HouseSolution


def sheet_view(solution: HouseSolution, document: dict[str, Any]) -> SheetView:
    """Return what the sheet shows."""
    counts = {str(severity): 0 for severity in Severity}
    for finding in solution.findings:
        counts[finding.severity] += 1
    return SheetView(
        cards=[_card(solution, method) for method in Method],
        lines=_lines(solution.demand),
        total=solution.demand.sheet.of("total"),
        chain=_chain(solution),
        remarks=[Remark(finding, _field_id(finding, document)) for finding in solution.findings],
        conductors=_conductors(solution.service),
        counts=counts,
        ways=solution.demand.cooking_ways,
        solution=solution,
    )


def _field_id(finding: Finding, document: dict[str, Any]) -> str:
    return "f-" + "-".join(path_of(finding.field, document)) if finding.field else ""


def _card(solution: HouseSolution, method: Method) -> Card:
    titles = {
        Method.STANDARD: _("Standard method"),
        Method.OPTIONAL: _("Optional method"),
        Method.EXISTING: _("Existing house"),
    }
    service = solution.services[method]
    compared = _compared(service.amps - solution.service.amps) if method is solution.other else None
    if method is Method.EXISTING:
        compared = Message("with what is added")
    return Card(
        method.value,
        titles[method],
        solution.demands[method].demand_va,
        service.amps,
        service.device_a,
        method is solution.method,
        compared,
    )


def _compared(more_a: float) -> Message:
    amps = Figure(abs(more_a), "A")
    if more_a > 0:
        return Message("lawful here, {amps} more", amps=amps)
    return Message("lawful here, {amps} less", amps=amps)


def _lines(demand: Demand) -> list[Line]:
    optional = demand.method is not Method.STANDARD
    lines = []
    bars = scaled([(line.connected_va, line.demand_va) for line in demand.lines])
    for line, bar in zip(demand.lines, bars, strict=True):
        reduced = line.demand_va < line.connected_va
        pooled = optional and line.key in POOLED
        lines.append(Line(line.key, line, bar, demand.sheet.of(line.key), reduced, pooled))
    return lines


def _conductors(service: Service) -> list[tuple[str, Conductor]]:
    shown = []
    for pick in service.picks.values():
        if pick.by_83:
            shown.append((_("83 % rule"), pick.by_83))
        shown.append((_("ordinary table"), pick.ordinary))
        if pick.ordinary_pair:
            shown.append((_("two in parallel"), pick.ordinary_pair))
    return shown


def _chain(solution: HouseSolution) -> list[Link]:
    demand, service, edition = solution.demand, solution.service, solution.edition
    steps, demand_step = service.sheet, demand.sheet.of("total")[0]
    conductor = service.conductor
    links = [
        Link(
            "demand",
            _("Demand"),
            write(demand.demand_va / 1000, 1),
            "kVA",
            Message("connected {load}", load=Figure(demand.connected_va / 1000, "kVA", 1)),
            demand_step.rule,
            [demand_step],
        ),
        Link(
            "current",
            _("Current"),
            write(service.amps),
            "A",
            _current_why(solution),
            steps.of("current")[0].rule,
            steps.of("current"),
        ),
        Link(
            "device",
            _("Breaker"),
            write(service.device_a),
            "A",
            _device_why(service),
            edition.cite("standard_ratings"),
            steps.of("device"),
            look=service.device_a != service.device_plain_a,
        ),
        Link(
            "conductor",
            _("Lines"),
            named(conductor),
            _wire_unit(conductor),
            _conductor_why(service),
            conductor.rule,
            [*steps.of("conductor"), *steps.of("ordinary")],
        ),
        Link(
            "neutral",
            _("Neutral"),
            named(service.neutral_conductor),
            _wire_unit(service.neutral_conductor),
            _neutral_why(solution),
            edition.cite("neutral"),
            steps.of("neutral"),
        ),
    ]
    if service.electrodes:
        links.append(_earth(service, steps.of("electrode")))
    return links


def _current_why(solution: HouseSolution) -> Message:
    demand = Figure(solution.demand.demand_va)
    if solution.service.leg_amps is not None:
        leg = Figure(solution.service.leg_amps, "A")
        return Message("{demand} ÷ (2 × 120); by legs {leg}", demand=demand, leg=leg)
    volts = Figure(solution.house.system.line_to_line_v)
    return Message("{demand} ÷ {volts}, single phase", demand=demand, volts=volts)


def _device_why(service: Service) -> Message:
    if service.need_a > service.amps:
        return Message("{need} with the charger at 125 %", need=Figure(service.need_a, "A"))
    if service.device_a > service.least_a:
        return Message("the next standard rating")
    return Message("{least} at least", least=Figure(service.least_a, "A"))


def _conductor_why(service: Service) -> Message:
    other = next(pick.chosen for material, pick in service.picks.items() if material != service.conductor.material)
    values = {
        "other": f"{named(other)} {_gauge(other.size)}",
        "material": other.material,
        "device": Figure(service.device_a, "A"),
    }
    pick = service.picks[service.conductor.material]
    if pick.by_83:
        return Message("or {other} {material}; 83 % of {device}", **values)
    return Message("or {other} {material}; the ordinary table", **values)


def _gauge(size: str) -> str:
    return "kcmil" if size.isdigit() and int(size) >= _LEAST_KCMIL else "AWG"


_LEAST_KCMIL = 250


def _wire_unit(conductor: Conductor) -> str:
    return f"{_gauge(conductor.size)} {conductor.material}"


def _neutral_why(solution: HouseSolution) -> Message:
    amps = Figure(solution.service.neutral.amps, "A")
    if solution.house.system.wye_legs:
        return Message("{amps}; no reduction on two legs of a wye", amps=amps)
    if solution.house.cooking or solution.house.dryers:
        return Message("{amps}; cooking and dryer at 70 %", amps=amps)
    return Message("{amps} at most", amps=amps)


def _earth(service: Service, steps: list[Step]) -> Link:
    water, rod = service.electrodes[0], service.electrodes[1]
    same = water.size == rod.size
    why = Message("to any electrode") if same else Message("to a water pipe; {rod} AWG to rods", rod=rod.size)
    return Link("earth", _("Ground"), water.size, "AWG Cu", why, water.rule, steps)
