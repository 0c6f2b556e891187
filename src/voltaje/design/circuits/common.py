"""What the circuits of several kinds have in common: links of demand, current, device, conductor, drop and earth."""

from __future__ import annotations

from voltaje.books.answers import sets_of
from voltaje.books.questions import Book
from voltaje.design.chain import RunDesign
from voltaje.design.circuits.link import Link
from voltaje.design.solution import NodeSolution
from voltaje.message import Figure, Message
from voltaje.path.kinds import LoadKind
from voltaje.sheet import Citation, Step

_VA_IN_KVA = 1000  # and amperes in a kA
_SAME_VA = 1.0
_LINE_TOPICS = ("ampacity", "terminals")


def connected(solved: NodeSolution, why: list[Message], note: Message | None = None) -> Link:
    """Return the link of what is connected."""
    link = Link("load", Message("Load"), Figure(solved.connected_va / _VA_IN_KVA, "kVA", 2), "kVA", why, note=note)
    link.steps = [step for step in solved.sheet.of("demand") if "Connected load" in step.label.template]
    return link


def demand(solved: NodeSolution) -> Link:
    """Return the link of what counts of it."""
    same = abs(solved.demand_va - solved.connected_va) < _SAME_VA
    of_connected = Message("of {load} connected", load=Figure(solved.connected_va / _VA_IN_KVA, "kVA", 2))
    why = Message("no demand factor") if same else of_connected
    link = Link("demand", Message("Demand"), Figure(solved.demand_va / _VA_IN_KVA, "kVA", 2), "kVA", [why])
    link.pins = ("run.pins.demand_va",)
    return _with_steps(link, solved)


def current(solved: NodeSolution) -> Link:
    """Return the link of the amperes: the most of any leg, and each of them."""
    link = _with_steps(Link("current", Message("Current")), solved)
    if not solved.amps:
        return link
    link.value, link.unit = Figure(max(solved.amps.values()), "A", 1), "A"
    if len(link.steps) == 1:
        link.why = [Message("{formula}", formula=Worked(link.steps[0].formula))]
    else:
        link.why = [Message("{leg} {amps}", leg=leg, amps=Figure(amps, "", 1)) for leg, amps in solved.amps.items()]
    if solved.system.line_to_neutral_v and len(solved.legs) > 1:
        link.why.append(Message("neutral {amps}", amps=Figure(solved.neutral_a, "A", 1)))
    elif solved.node.load and solved.node.load.neutral_group:
        link.why.append(Message("shared neutral {amps}", amps=Figure(solved.neutral_a, "A", 1)))
    return link


class Worked(str):
    """A formula with its numbers, which is written by hand where it is shown."""

    __slots__ = ()


def run(solved: NodeSolution, book: Book, unsized: Message) -> list[Link]:
    """Return the links of a run: device, conductor, drop, earth; what is not sized says `unsized`."""
    design = solved.design
    if design is None:
        titles = (
            ("device", Message("Device")),
            ("conductor", Message("Conductor")),
            ("drop", Message("Drop")),
            ("earth", Message("Earth")),
        )
        links = [_with_steps(Link(key, title, why=[unsized], state="none"), solved) for key, title in titles]
        return _by_hand(links, solved, book)
    return [
        _device(solved, design, book),
        _conductor(solved, design, book),
        _drop(solved, design),
        _earth(solved, design, book),
    ]


def _by_hand(links: list[Link], solved: NodeSolution, book: Book) -> list[Link]:
    """Show what a person fixed on a run that the engine does not size: it stands, and is not checked."""
    pins, spec = solved.node.run.pins, solved.node.run
    unchecked = Message("by hand, not checked")
    if pins.device_a:
        links[0].value, links[0].unit, links[0].why = Figure(pins.device_a, "A"), "A", [unchecked]
    if pins.size:
        links[1].value, links[1].why = sets_of(pins.size, pins.sets or 1), [unchecked]
        links[1].unit = f"{book.terms.gauge(pins.size)} {spec.material}"
    links[0].pins, links[1].pins = ("run.pins.device_a",), ("run.pins.size", "run.pins.sets")
    return links


def _device(solved: NodeSolution, design: RunDesign, book: Book) -> Link:
    need = Figure(design.need_a, "A", 1)
    why = Message("next standard rating over {need}", need=need)
    if design.run.guard:
        most = Figure(design.run.guard.most_a, "A")
        why = Message("guards against short circuit; to {most} if it will not start", most=most)
        if solved.node.load and solved.node.load.kind is LoadKind.WELDER:
            why = Message("guards against short circuit; to {most} where it trips without need", most=most)
    elif book.terms.continuous_factor == 1:
        why = Message("design current {need}", need=need)
    elif design.need_a > design.run.amps:
        why = Message("{need} with what is continuous at 125 %", need=need)
    link = Link("device", Message("Device"), Figure(design.choice.device_a, "A"), "A", [why], options=solved.options)
    if solved.motors_most_a and solved.motors_most_a > design.choice.device_a:
        most = Figure(solved.motors_most_a, "A")
        link.why.append(Message("to {most} if its motors will not start", most=most))
    if solved.rcd:
        rated = Figure(solved.rcd.rated_ma, "mA")
        said = Message("RCD {ma} type {type}", ma=rated, type=solved.rcd.type)
        link.why.append(said if solved.rcd.here else Message("RCD {ma} ahead of it", ma=rated))
    link.pins = ("run.pins.device_a",)
    return _with_steps(link, solved)


def overload(solved: NodeSolution) -> list[Link]:
    """Return the link of a motor's overload device and its disconnect, none of what is no such motor."""
    motor = solved.motor
    if motor is None or not motor.short_circuit_only:
        return []
    most, disconnect = Figure(motor.overload_max_a, "A", 1), Figure(motor.disconnect_min_a, "A", 1)
    why = [Message("never over {most}", most=most), Message("disconnect {amps} or more", amps=disconnect)]
    return [_with_steps(Link("overload", Message("Overload"), Figure(motor.overload_a, "A", 1), "A", why), solved)]


def earthing(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the link of what a service connects to earth, none of what is no service."""
    if solved.earthing is None:
        return []
    parts = solved.earthing.parts
    first = next((part for part in parts if part.key == "jumper"), parts[0])
    why = [Message("{name} {size}", name=part.name, size=part.size) for part in parts if part is not first]
    link = Link(
        "service", Message("Service earth"), first.size, f"{book.terms.gauge(first.size)} {first.material}", why
    )
    link.steps = [step for section in _EARTH_SECTIONS for step in solved.sheet.of(section)]
    link.rule = first.rule
    return [link]


_EARTH_SECTIONS = ("grounded", "jumper", "electrodes", "bonds")


def fault(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the link of the bolted short circuit at a board, none where it is not known."""
    if solved.fault_a is None or solved.met is None:
        return []
    rating = solved.node.board.fault_ka
    why = [
        Message("bolted; devices interrupt {rating}", rating=Figure(rating, "kA", 1))
        if rating
        else Message("bolted; no interrupting rating entered")
    ]
    if solved.met.infinite:
        why.append(Message("source taken as infinite"))
    link = Link("fault", Message("Short circuit"), Figure(solved.fault_a / _VA_IN_KVA, "kA", 1), "kA", why)
    link = _with_steps(link, solved)
    link.rule = book.rule("interrupting")
    return [link]


def taps(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the link of a kitchen's taps, none of what has none."""
    if not solved.taps:
        return []
    sizes = " · ".join(tap.size for tap in solved.taps)
    why = [Message("{name} {amps}", name=tap.unit.name, amps=Figure(tap.amps, "A", 1)) for tap in solved.taps]
    link = _with_steps(Link("taps", Message("Taps"), sizes, why=why), solved)
    link.unit = book.terms.gauge(solved.taps[0].size)
    return [link]


def _conductor(solved: NodeSolution, design: RunDesign, book: Book) -> Link:
    choice, terms = design.choice, book.terms
    link = Link("conductor", Message("Conductor"), sets_of(choice.size, choice.sets), options=solved.options)
    link.unit = f"{terms.gauge(choice.size)} {design.run.material}"
    link.why = [Message("carries {amps}", amps=Figure(design.capacity.ampacity_a, "A", 1))]
    if design.neutral and design.neutral != choice.size:
        link.why.append(Message("N {size}", size=f"{design.neutral} {terms.gauge(design.neutral)}"))
    if design.conduit:
        link.why.append(Message("{conduit}", conduit=design.conduit))
    if solved.tried:
        held = next((each for each in solved.tried if each.holds), solved.tried[-1])
        link.tried, link.rule = list(solved.tried), held.rule
        link.why.append(held.why)
    link.pins = ("run.pins.size", "run.pins.sets")
    return _with_steps(link, solved)


def _drop(solved: NodeSolution, design: RunDesign) -> Link:
    link = _with_steps(Link("drop", Message("Drop"), pins=("run.pins.length",)), solved)
    drop = design.drop
    if drop is None:
        link.why, link.state = [Message("no length given")], "none"
        return link
    link.value, link.unit = Figure(drop.percent, "%", 2), "%"
    volts, whole = Figure(drop.volts, "V", 1), Figure(solved.drop_percent, "%", 2)
    link.why = [Message("{volts} here; {percent} from the source", volts=volts, percent=whole)]
    if solved.inside or solved.supply_share != 1:
        link.why.append(
            Message(
                "{left} at it, {all} lost with transformers",
                left=Figure(solved.volts, "V", 1),
                all=Figure(solved.lost_percent, "%", 2),
            )
        )
    link.note, link.rule = Message("of {limit}", limit=Figure(drop.limit.percent, "%", 1)), drop.limit.rule
    return link


def _earth(solved: NodeSolution, design: RunDesign, book: Book) -> Link:
    earth, terms = design.earth, book.terms
    link = _with_steps(Link("earth", Message("Earth"), earth.size), solved)
    link.unit = f"{terms.gauge(earth.size)} {earth.material}"
    by_device = Message("by a {device} device", device=Figure(design.choice.device_a, "A"))
    if design.run.tapped_from_a:
        by_device = Message("by the {device} device before the tap", device=Figure(design.run.tapped_from_a, "A"))
    link.why, link.state = [earth.remark or by_device], "none" if earth.remark else "holds"
    if solved.loop:
        loop = solved.loop.loop
        most = loop.most_rcd_ohm if loop.by == "RCD" else loop.most_ohm
        zs = Figure(loop.zs_ohm, "Ω", 2)
        link.why = [Message("Zs {zs}, and no figure for its time", zs=zs)]
        if most is not None:
            link.why = [Message("Zs {zs} of {most} at most", zs=zs, most=Figure(most, "Ω", 2))]
            if loop.by == "RCD":
                link.why.append(Message("opened by the RCD"))
        # Of an assumed supply nothing is shown to hold.
        link.state = "holds" if loop.by and not solved.loop.assumed else "none"
        link.rule = loop.rule
        if solved.loop.usual and loop.by == "device":
            link.why.append(Message("as type {kind}: not said", kind=solved.loop.kind))
        if solved.loop.assumed:
            link.why.append(Message("the supply's loop assumed"))
    return link


def _with_steps(link: Link, solved: NodeSolution) -> Link:
    link.steps = solved.sheet.of(link.key)
    link.rule = link.rule or _rule_of(link.steps, link.key)
    return link


def _rule_of(steps: list[Step], key: str) -> Citation | None:
    rules = [step.rule for step in steps if step.rule]
    if key == "conductor":
        rules = [rule for rule in rules if rule.topic in _LINE_TOPICS] or rules
    return rules[-1] if rules else None
