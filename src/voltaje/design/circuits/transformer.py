"""A transformer: its load, its size, the device and the conductors of each side, what it loses inside, its bonds."""

from __future__ import annotations

from voltaje.books.answers import sets_of
from voltaje.books.machines import Bonds, Side
from voltaje.books.questions import Book
from voltaje.design.circuits import common
from voltaje.design.circuits.link import Link
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers.faults import short_circuit_behind
from voltaje.design.transformers.made import figure_of
from voltaje.design.transformers.unit import Behind, Unit
from voltaje.message import Figure, Message

_SHOWN = 3  # runs of a secondary that are named


def links(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the links of a transformer."""
    unit = solved.unit
    first = common.connected(solved, [Message("connected behind it")])
    if unit is None:
        return [first, common.demand(solved), common.current(solved), *common.run(solved, book, Message("not sized"))]
    first.value = Figure(unit.load_kva, "kVA", 1)
    leg, amps = unit.worst_leg
    first.why = [
        Message("demand {demand}", demand=Figure(solved.demand_va / 1000, "kVA", 1)),
        Message("worst leg {leg} {amps}", leg=leg, amps=Figure(amps, "A")),
    ]
    device, conductor, drop, _earth = common.run(solved, book, Message("not sized"))
    device.title, conductor.title = Message("Primary device"), Message("Primary conductor")
    if unit.primary and solved.design:
        device.why = [
            Message(
                "{percent} of {amps}",
                percent=_of(solved.design.choice.device_a, unit.primary),
                amps=Figure(unit.primary.amps, "A", 1),
            ),
            _ceiling(unit.primary),
        ]
        device.rule = unit.primary.rule or device.rule
    if solved.design:
        earth = solved.design.earth
        conductor.why.append(Message("ground {size}", size=earth.size))
    drop.title = Message("Drop before it")
    for link in (device, conductor, drop):
        link.own_title = True
    return [
        first,
        _size(unit, solved),
        device,
        conductor,
        drop,
        _inside(unit, solved),
        *_secondary(unit, book),
        *_bond(unit, solved, book),
        *common.earthing(solved, book),
    ]


def _of(device_a: float, side: Side) -> Figure:
    return Figure(device_a / side.amps * 100, "%")


def _ceiling(side: Side) -> Message:
    most = Figure(side.most_a, "A")
    return Message("ceiling {most}", most=most) if side.rule else Message("no rule sets a ceiling here", most=most)


def _size(unit: Unit, solved: NodeSolution) -> Link:
    link = Link("kva", Message("kVA"), Figure(unit.plate.kva, "kVA", 1), "kVA")
    link.steps = solved.sheet.of("kva")
    link.why = [Message("{percent} loaded", percent=Figure(unit.loading_percent, "%"))]
    if unit.made:
        link.why.insert(0, figure_of(unit.made))
        link.note = Message("goes through it") if unit.stacked else Message("bank")
        if unit.stacked:
            link.why.append(Message("only what it adds or takes is transformed"))
        return link
    if unit.trade_kva and unit.trade_kva != unit.plate.kva:
        trade, needed = Figure(unit.trade_kva, "kVA", 1), Figure(unit.needed_kva, "kVA", 1)
        link.why.append(Message("{trade} is the next trade size over {needed}", trade=trade, needed=needed))
    link.note = Message("trade size")
    return link


def _inside(unit: Unit, solved: NodeSolution) -> Link:
    link = Link("inside", Message("Inside"))
    link.steps = solved.sheet.of("inside")
    fault = short_circuit_behind(solved)
    if fault is None:
        link.state, link.why = "none", [Message("no impedance entered: its drop and the short circuit are not known")]
        return link
    lowest = max(unit.falls.values(), default=0.0)
    link.value, link.unit = Figure(lowest, "%", 2), "%"
    behind = Message("{fault} bolted at its terminals", fault=Figure(fault / 1000, "kA", 1))
    link.why = [Message("lost at its load, apart from the conductors"), behind]
    if solved.met is None or solved.met.infinite:
        link.why.append(Message("source taken as infinite"))
    return link


def _secondary(unit: Unit, book: Book) -> list[Link]:
    device = Link("secondary_device", Message("Secondary device"))
    conductor = Link("secondary_conductor", Message("Secondary conductor"))
    if not unit.behind:
        for link in (device, conductor):
            link.state, link.why = "none", [Message("nothing is fed by it yet")]
        return [device, conductor]
    first = unit.behind[0]
    choice = first.design.choice
    device.value, device.unit = Figure(choice.device_a, "A"), "A"
    device.why = [Message("main of {name}", name=first.name)]
    if unit.secondary:
        device.why.append(_ceiling(unit.secondary))
        device.rule = unit.secondary.rule
    terms = book.terms
    conductor.value = sets_of(choice.size, choice.sets)
    conductor.unit = f"{terms.gauge(choice.size)} {first.design.run.material}"
    conductor.why = [Message("carries {amps}", amps=Figure(first.design.capacity.ampacity_a, "A"))]
    _by_rule(first, conductor)
    for other in unit.behind[1:_SHOWN]:
        size = sets_of(other.design.choice.size, other.design.choice.sets)
        device.why.append(Message("{name} {amps}", name=other.name, amps=Figure(other.design.choice.device_a, "A")))
        conductor.why.append(Message("{name} {size}", name=other.name, size=size))
    if any(each.rules and each.rule is None for each in unit.behind):
        conductor.state = "stop" if first.design.run.length_m is not None else "none"
    return [device, conductor]


def _by_rule(behind: Behind, link: Link) -> None:
    """Write by which rule the secondary's conductors may be as they are; where none is known to hold, why not."""
    held = behind.rule
    if held is not None:
        link.rule = held.rule
        link.why.append(held.why)
    elif behind.rules:
        link.why.append(behind.rules[-1].why)
    link.why.append(Message("no next rating up here"))
    link.tried = list(behind.rules)


def _bond(unit: Unit, solved: NodeSolution, book: Book) -> list[Link]:
    bonds = next((each.bonds for each in unit.behind if each.bonds), None)
    if bonds is None:
        return []
    spec = solved.node.transformer
    at = Message("bonded once, at the transformer")
    if spec and spec.bond_at == "board":
        at = Message("bonded once, at the first disconnect")
    link = Link("bond", Message("Earth"), bonds.jumper, f"{book.terms.gauge(bonds.jumper)} Cu", [at, *said_of(bonds)])
    link.steps = solved.sheet.of("bond")
    link.rule = bonds.rule
    return [link]


def said_of(bonds: Bonds) -> list[Message]:
    """Return the conductors of a derived system in words: of each raceway, to each electrode."""
    found = [Message("each raceway {size}", size=bonds.supply_side)]
    return found + [
        Message("{electrode} {size}", electrode=_ELECTRODES[name], size=size) for name, size in bonds.electrodes.items()
    ]


_ELECTRODES = {
    "water_pipe": Message("pipe or steel"),
    "rod": Message("rod"),
    "concrete_encased": Message("footing"),
    "ring": Message("ring"),
}
