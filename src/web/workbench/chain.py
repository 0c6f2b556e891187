"""The chain of the chosen node: seven links, each with its value, why, its rule and its state."""

from dataclasses import dataclass, field

from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.design.chain import RunDesign
from voltaje.design.ladder import Option
from voltaje.design.solution import NodeSolution, Solution
from voltaje.findings import Finding
from voltaje.message import Figure, Message
from voltaje.path.kinds import said_of
from voltaje.sheet import Step
from web.words.figures import say, write, write_formula

LINKS = ("load", "demand", "current", "device", "conductor", "drop", "earth")
_OF_FIELD = {
    "device_a": "device", "size": "conductor", "sets": "conductor", "length": "drop", "amps": "device",
    "method": "conductor", "insulation": "conductor", "ambient_c": "conductor", "bundled": "conductor",
    "material": "conductor", "cable": "conductor", "arrangement": "conductor", "raceway": "conductor",
    "terminal_c": "conductor", "soil_kmw": "conductor",
}  # fmt: skip
_BAR_W = 62.0


@dataclass(frozen=True)
class OptionRow:
    """A lawful answer as the ladder shows it: metal and drop as bars."""

    option: Option
    device: str
    conductor: str
    chosen: bool
    metal: str
    metal_w: float
    drop: str
    drop_w: float
    over: bool


@dataclass
class Link:
    """One of the seven joints."""

    key: str
    title: str
    value: str = "–"
    unit: str = ""
    why: str = ""
    chip: str = ""
    chip_title: str = ""
    state: str = "holds"
    steps: list[Step] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    options: list[OptionRow] = field(default_factory=list)


@dataclass(frozen=True)
class ChainView:
    """The chain, what it is of, and what the options' bars are drawn to."""

    key: str
    title: str
    subtitle: str
    links: list[Link]


def chain_view(solution: Solution, key: str, parent_name: str) -> ChainView:
    """Return the chain of a node that was solved with its steps."""
    solved = solution.nodes[key]
    links = {each: Link(each, _title(each)) for each in LINKS}
    for each in LINKS:
        links[each].steps = solved.sheet.of(each)
    _load(links["load"], solved)
    _demand(links, solved)
    _sized(links, solved, solution.book)
    for found in solved.findings:
        link = links[_link_of(found)]
        link.findings.append(found)
        if found.severity in ("stop", "warn") and link.state != "stop":
            link.state = str(found.severity)
    for link in links.values():
        _chip(link)
    return ChainView(key, solved.node.name or key, _subtitle(solved, parent_name), [links[each] for each in LINKS])


def _title(key: str) -> str:
    return {
        "load": _("Load"), "demand": _("Demand"), "current": _("Current"), "device": _("Device"),
        "conductor": _("Conductor"), "drop": _("Drop"), "earth": _("Earth"),
    }[key]  # fmt: skip


def _link_of(found: Finding) -> str:
    key = found.field.rpartition(".")[2]
    if key in _OF_FIELD:
        return _OF_FIELD[key]
    if found.rule and found.rule.topic.startswith("drop"):
        return "drop"
    if found.rule is None and found.severity == "stop":
        return "device"
    return "load"


def _subtitle(solved: NodeSolution, parent_name: str) -> str:
    phases = _("3-phase") if len(solved.legs) > 2 else _("1-phase")  # noqa: PLR2004
    kind = solved.node.load.kind.value if solved.node.load else solved.node.kind.value
    legs = "-".join(solved.legs)
    words = f"{kind_words(kind)} · {phases} {write(solved.nominal_v)} V · {legs}"
    return f"{words} · {_('on')} {parent_name}" if parent_name else words


def kind_words(kind: str) -> str:
    """Return a kind of node or load in words."""
    return _(said_of(kind).words)


def _load(link: Link, solved: NodeSolution) -> None:
    load = solved.node.load
    link.value, link.unit = write(solved.connected_va / 1000, 2), "kVA"
    if load is None:
        link.why = _("connected below it")
        return
    words = [load.rating.typed if load.count == 1 else f"{load.count} × {load.rating.typed}"]
    if load.continuous:
        share = "" if load.continuous == 1 else f" {write(load.continuous * 100)} %"
        words.append(_("continuous") + share)
    if load.counts_as is not load.kind:
        words.append(_("counts as a motor"))
    if load.power_factor != 1:
        words.append(f"cos φ {write(load.power_factor, 2)}")
    link.why, link.chip = " · ".join(words), _("nameplate")
    link.steps = [step for step in solved.sheet.of("demand") if "Connected load" in step.label.template]


def _demand(links: dict[str, Link], solved: NodeSolution) -> None:
    demand, current = links["demand"], links["current"]
    demand.value, demand.unit = write(solved.demand_va / 1000, 2), "kVA"
    same = abs(solved.demand_va - solved.connected_va) < 1
    connected = Message("of {load} connected", load=Figure(solved.connected_va / 1000, "kVA", 2))
    demand.why = _("nothing reduced or added") if same else say(connected)
    if solved.amps:
        most = max(solved.amps.values())
        current.value, current.unit = write(most, 1), "A"
        step = current.steps[0] if current.steps else None
        if len(current.steps) == 1 and step:
            current.why = write_formula(step.formula)
        else:
            current.why = " · ".join(f"{leg} {write(amps, 1)}" for leg, amps in solved.amps.items())
        if solved.system.line_to_neutral_v and len(solved.legs) > 1:
            current.why += " · N " + write(solved.neutral_a, 1)


def _sized(links: dict[str, Link], solved: NodeSolution, book: str) -> None:
    design = solved.design
    for key in ("device", "conductor", "drop", "earth"):
        if design is None:
            links[key].why = _("not sized") if solved.node.parent else _("the supply's own")
            links[key].state = "none"
    if design is None:
        return
    terms = find_book(book).terms
    metric = terms.length_unit == "m"
    choice, run = design.choice, design.run
    device, conductor, drop, earth = (links[key] for key in ("device", "conductor", "drop", "earth"))
    device.value, device.unit = write(choice.device_a), "A"
    need = Figure(design.need_a, "A", 1)
    device.why = say(Message("design current {need}", need=need) if metric else _device_why(design, need))
    conductor.value = named(choice.size, choice.sets)
    conductor.unit = f"{gauge(choice.size, metric)} {run.material}"
    conductor.why = _conductor_why(solved, metric)
    rows = option_rows(solved, metric)
    device.options = conductor.options = rows
    earth.value, earth.unit = design.earth.size, f"{gauge(design.earth.size, metric)} {design.earth.material}"
    earth.why = say(design.earth.remark) or say(Message("by a {device} device", device=Figure(choice.device_a, "A")))
    earth.state = "none" if design.earth.remark else "holds"
    if design.drop is None:
        drop.why, drop.state = _("no length given"), "none"
        return
    drop.value, drop.unit = write(design.drop.percent, 2), "%"
    volts = Figure(design.drop.volts, "V", 1)
    drop.why = say(
        Message("{volts} here; {percent} from the source", volts=volts, percent=Figure(solved.drop_percent, "%", 2))
    )
    drop.chip = say(Message("of {limit}", limit=Figure(design.drop.limit.percent, "%", 1)))
    drop.chip_title = str(design.drop.limit.rule)


def _device_why(design: RunDesign, need: Figure) -> Message:
    if design.need_a > design.run.amps:
        return Message("{need} with what is continuous at 125 %", need=need)
    return Message("next standard rating over {need}", need=need)


def _conductor_why(solved: NodeSolution, metric: bool) -> str:
    design = solved.design
    if design is None:
        return ""
    words = [say(Message("carries {amps}", amps=Figure(design.capacity.ampacity_a, "A", 1)))]
    if design.neutral and design.neutral != design.choice.size:
        words.append(f"N {design.neutral} {gauge(design.neutral, metric)}")
    if design.conduit:
        words.append(design.conduit)
    return " · ".join(words)


def gauge(size: str, metric: bool) -> str:
    """Return the unit that a size is read with."""
    if metric:
        return "mm²"
    return "kcmil" if size.isdigit() and int(size) >= _LEAST_KCMIL else "AWG"


_LEAST_KCMIL = 250


def named(size: str, sets: int) -> str:
    """Return a size with its parallel sets."""
    return size if sets == 1 else f"{sets} × {size}"


def option_rows(solved: NodeSolution, metric: bool) -> list[OptionRow]:
    """Return the ladder with bars for metal and drop."""
    design = solved.design
    if design is None:
        return []
    heaviest = max((option.metal_kg or 0.0 for option in solved.options), default=0.0) or 1.0
    furthest = max((option.drop_percent or 0.0 for option in solved.options), default=0.0) or 1.0
    rows = []
    for option in solved.options:
        mine = option.choice == design.choice and option.material == design.run.material
        size = f"{named(option.choice.size, option.choice.sets)} {gauge(option.choice.size, metric)}"
        rows.append(
            OptionRow(
                option=option,
                device=f"{write(option.choice.device_a)} A",
                conductor=f"{size} {option.material}",
                chosen=mine,
                metal="" if option.metal_kg is None else f"{write(option.metal_kg, 1)} kg",
                metal_w=round(_BAR_W * (option.metal_kg or 0.0) / heaviest, 1),
                drop="" if option.drop_percent is None else f"{write(option.drop_percent, 1)} %",
                drop_w=round(_BAR_W * (option.drop_percent or 0.0) / furthest, 1),
                over=bool(option.drop and option.drop.percent > option.drop.room_percent),
            )
        )
    return rows


def _chip(link: Link) -> None:
    if link.chip:
        return
    rules = [step.rule for step in link.steps if step.rule]
    if link.key == "conductor":
        rules = [rule for rule in rules if rule.topic in ("ampacity", "terminals")] or rules
    if rules and link.value != "–":
        link.chip, link.chip_title = rules[-1].short, str(rules[-1])
