"""Transformers on a path: their size against the load behind them, the run before them, what stands behind."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from voltaje.books.answers import Choice, NeutralLoad, Run
from voltaje.books.machines import SecondaryAsked, SecondaryRule, Side
from voltaje.books.questions import Book, Transformers
from voltaje.design.drop import Fallen
from voltaje.design.leaves import Flow
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers import checks, show_made, worked
from voltaje.design.transformers.inside import falls_inside, falls_made
from voltaje.design.transformers.made import Made, made_of
from voltaje.design.transformers.secondary import Judge, by_primary, held, too_long
from voltaje.design.transformers.unit import Behind, Unit
from voltaje.errors import NotCovered, Refused
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind
from voltaje.path.model import Node
from voltaje.path.transformer import TransformerSpec
from voltaje.physics.reflection import connection
from voltaje.physics.transformer import USUAL_X_OVER_R, Plate, rated_amps, regulation_percent
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE

BY_LEG_3, BY_LEG = Formula("sqrt(3) * volts * amps / 1000"), Formula("volts * amps / 1000")
GROWN = Formula("load * (1 + growth)")
LOADING = Formula("load / kva * 100")

_FT_M, _VA_IN_KVA = 0.3048, 1000.0
_FULL_LOAD_POWER_FACTOR = 0.9
_NEAR = 0.9  # of its rating: what is nearer to it is said


def plate_of(spec: TransformerSpec, primary_v: float, primary_legs: int) -> Plate:
    """Return a transformer's plate as it stands on a supply."""
    three = len(spec.secondary.legs) == THREE_PHASE and primary_legs == THREE_PHASE
    return Plate(
        spec.kva,
        THREE_PHASE if three else 1,
        primary_v,
        spec.secondary.line_to_line_v,
        spec.impedance_percent or 0.0,
        spec.x_over_r or USUAL_X_OVER_R,
    )


def measured(solved: NodeSolution, spec: TransformerSpec, flows: Sequence[Flow], book: Book) -> None:
    """Hold a transformer's size against its load: demand and the most loaded leg, with growth; and what it loses."""
    secondary, made = spec.secondary, _made(solved, spec)
    plate = made.plate if made else plate_of(spec, solved.nominal_v, len(solved.legs))
    level = {
        leg: max(max(abs(f.level.get(leg, 0j)), abs(f.lagging.get(leg, 0j))) for f in flows)
        for leg, _angle in secondary.legs
    }
    leg = max(level, key=lambda each: level[each])
    load_kva = solved.demand_va / _VA_IN_KVA
    sheet = solved.sheet
    with sheet.section("kva"):
        label = Message("Its most loaded leg, {leg}", leg=leg)
        formula = BY_LEG_3 if plate.phases == THREE_PHASE else BY_LEG
        by_leg = sheet.apply(formula, label, "kVA", book.load_rule, None, volts=plate.secondary_v, amps=level[leg])
        worst = max(load_kva, by_leg)
        if made:
            show_made.steps(made, spec, sheet)
            hardest = max(made.loaded(flow.lagging) for flow in flows) * plate.kva
            worst = max(worst, sheet.read(hardest, Message("By its hardest coil"), "kVA", None, show_made.AS_WHOLE))
        needed = sheet.apply(GROWN, Message("With growth"), "kVA", None, None, load=worst, growth=spec.growth)
        trade = None if made or not needed else _trade_size(needed, plate.phases, book)
        if trade:
            sheet.read(trade, Message("Next trade size"), "kVA", None)
        sheet.apply(LOADING, Message("Loading"), "%", None, None, load=worst, kva=plate.kva)
    unit = Unit(plate, worst, needed, trade, (leg, level[leg]), made=made)
    if spec.impedance_percent:
        unit.falls = falls_made(made, flows, secondary) if made else falls_inside(plate, flows, secondary)
        unit.regulation_percent = regulation_percent(plate, _FULL_LOAD_POWER_FACTOR)
        _tell_inside(unit, unit.falls, sheet)
    solved.unit = unit
    if plate.kva * _NEAR < worst <= plate.kva * (1 + 1e-9):
        message = Message(
            "{percent} of its rating by its load: nothing is left to grow.",
            percent=Figure(worst / plate.kva * 100, "%"),
        )
        where = f"{solved.node.id}.transformer.kva"
        mend = Message("The next trade size, where load will come.")
        solved.findings.append(Finding(Severity.WARN, "transformer.near_full", message, None, where, mend))
    if trade and needed > plate.kva * (1 + 1e-9) and worst <= plate.kva:
        message = Message(
            "With its growth it asks for {needed}: {trade} is the next trade size.",
            needed=Figure(needed, "kVA", 1),
            trade=Figure(trade, "kVA", 1),
        )
        where = f"{solved.node.id}.transformer.growth"
        solved.findings.append(Finding(Severity.WARN, "transformer.growth", message, None, where))


def _made(solved: NodeSolution, spec: TransformerSpec) -> Made | None:
    """Return what a transformer is made of; where that cannot stand so it is taken as one in a tank, aloud."""
    try:
        return made_of(spec, solved.system, solved.legs)
    except Refused as error:
        message = Message("It cannot be made so: {why}. Its figures are those of an isolating one.", why=error.message)
        where = f"{solved.node.id}.transformer.{error.field or 'made_as'}"
        solved.findings.append(Finding(Severity.STOP, "transformer.made", message, None, where))
        return None


def _trade_size(needed: float, phases: int, book: Book) -> float | None:
    try:
        sizes = book.asked(Transformers).sizes(phases)
    except NotCovered:
        return None
    return next((size for size in sizes if size >= needed - 1e-9), None)


def _tell_inside(unit: Unit, falls: Fallen, sheet: Sheet) -> None:
    with sheet.section("inside"):
        if unit.regulation_percent is not None:
            because = Message(
                "open volts over those at its rated current, cos φ {cosine}",
                cosine=Figure(_FULL_LOAD_POWER_FACTOR, "", 2),
            )
            sheet.read(unit.regulation_percent, Message("Regulation at full load"), "%", None, because)
        lowest = max(falls, key=lambda each: falls[each])
        label = Message("Lost inside at its load, {legs}", legs="–".join(lowest))
        sheet.read(falls[lowest], label, "%", None, Message("each winding by its own current"))


def primary_run(run: Run, spec: TransformerSpec, solved: NodeSolution, book: Book) -> Run:
    """Return the primary's run: it carries the rated current, behind the smallest device that holds switching on."""
    rules, unit = book.asked(Transformers), solved.unit
    plate = unit.plate if unit else plate_of(spec, run.volts, run.phases)
    told = Sheet() if solved.sheet.on else off()
    rated = rated_amps(plate.kva, plate.primary_v, plate.phases)
    stacked = unit is not None and unit.stacked
    if unit and unit.made and stacked:
        rated = unit.made.input_a  # by turns, not by the nominal volts of both sides
    side = rules.side(rated, "primary", worked.STACKED if stacked else spec.protection, told)
    solved.sheet.take(told.steps, "device")
    inrush = spec.inrush_multiple or rules.usual_inrush(spec.build)
    device = worked.usual_device(rules, side, inrush, spec.curve)
    pinned = solved.node.run.pins.device_a
    if unit:
        unit.primary, unit.secondary = side, _guard_behind(unit, spec, rules)
        if solved.sheet.on:
            unit.choices = _choices(spec, plate, run, side, inrush, pinned or device, book)
    if pinned and pinned > side.most_a:
        message = Message(
            "{device} is over {most}, the most that the primary may have",
            device=Figure(pinned, "A"),
            most=Figure(side.most_a, "A"),
        )
        where = f"{solved.node.id}.run.pins.device_a"
        severity = Severity.STOP if side.rule else Severity.WARN
        solved.findings.append(Finding(severity, "transformer.device", message, side.rule, where))
    if not rules.holds(pinned or device, inrush * rated, spec.curve):
        message = Message(
            "{device} may trip at switching on: {inrush} for an instant.",
            device=Figure(pinned or device, "A"),
            inrush=Figure(inrush * rated, "A"),
        )
        where = f"{solved.node.id}.run.pins.device_a"
        solved.findings.append(Finding(Severity.WARN, "transformer.inrush", message, None, where))
    alone = spec.protection == worked.PRIMARY_ONLY and not stacked
    if alone and spec.secondary.line_to_neutral_v and len(spec.secondary.legs) > 1:
        message = Message(
            "Its secondary has a neutral: the primary device alone does not protect it. Its conductors "
            "need a device where they end, and a panel one on its supply side."
        )
        rule = book.rule("secondary_by_primary")
        solved.findings.append(
            Finding(
                Severity.STOP, "transformer.secondary_alone", message, rule, f"{solved.node.id}.transformer.protection"
            )
        )
    # A device that a person has fixed is held against its ceiling, its load and switching on, as any other choice is.
    taken = pinned or device
    need = max(book.device_need(run, off()), min(rated, taken))
    run = run._replace(
        needed_a=need,
        installed_a=max(run.installed_a, min(rated, taken)),
        least_device_a=taken,
        neutral=run.neutral or _neutral(spec, solved),
    )
    return worked.as_fuse(run, taken, book)


def _guard_behind(unit: Unit, spec: TransformerSpec, rules: Transformers) -> Side | None:
    """Return what a device on the secondary may be; None where the primary's device stands for it."""
    if spec.protection == worked.PRIMARY_ONLY or unit.stacked:
        return None
    plate = unit.plate
    return rules.side(rated_amps(plate.kva, plate.secondary_v, plate.phases), "secondary", worked.BOTH, off())


def _neutral(spec: TransformerSpec, solved: NodeSolution) -> NeutralLoad | None:
    """Return the neutral of a star primary whose secondary is a star too: without it the star point floats."""
    if len(solved.legs) != THREE_PHASE or not solved.system.line_to_neutral_v:
        return None
    made = solved.unit.made if solved.unit else None
    if made:
        brought = any(line == "N" for line, _terminal in made.through.inputs)
    else:
        joined = connection(spec.connection, spec.secondary)
        brought = joined is not None and joined.primary == joined.secondary == "Y"
    return NeutralLoad(solved.neutral_a, reducible=False) if brought else None


def _choices(
    spec: TransformerSpec, plate: Plate, run: Run, side: Side, inrush: float, taken: float, book: Book
) -> tuple[worked.PrimaryChoice, ...]:
    plan = worked.TransformerPlan(plate, spec.connection, spec.protection, inrush=inrush, curve=spec.curve)
    try:
        found = worked.choices_of(plan, side, run, book)
    except Refused:
        return ()
    base = next((each for each in found if each.device_a == taken), found[-1])
    return worked.against(base, found, book)


def secondaries(order: Sequence[Node], nodes: Mapping[str, NodeSolution], book: Book) -> None:
    """Judge what stands behind each transformer: its device, the length of its conductors; say what bonds it.

    Where the book has no rules of transformers nothing is judged here: the transformer itself says so.
    """
    for node in order:
        above = nodes[node.parent] if node.parent else None
        solved = nodes[node.id]
        if above and solved.unit and solved.unit.made:
            checks.made(solved, solved.unit.made, above.supply_share, book)
        if above is None or above.unit is None or above.design is None or solved.design is None:
            continue
        _secondary(above, solved, book)
    for node in order:
        _together(nodes[node.id], nodes)
        _switched_on(nodes[node.id], nodes, book)


def _switched_on(solved: NodeSolution, nodes: Mapping[str, NodeSolution], book: Book) -> None:
    """Hold a transformer's switching on against every device between it and the next transformer or the supply."""
    unit, spec = solved.unit, solved.node.transformer
    if unit is None or spec is None or unit.primary is None or unit.stacked:
        return  # of what goes through an autotransformer only its windings' part is drawn at switching on
    rules = book.asked(Transformers)
    inrush = (spec.inrush_multiple or rules.usual_inrush(spec.build)) * unit.primary.amps
    above = nodes.get(solved.node.parent or "")
    while above is not None and above.node.kind not in (Kind.SOURCE, Kind.TRANSFORMER):
        device = above.design.choice.device_a if above.design else None
        if device and not rules.holds(device, inrush, spec.curve):
            message = Message(
                "{device} at {name} may trip when it is switched on: {inrush} for an instant.",
                device=Figure(device, "A"),
                name=above.node.name or above.node.id,
                inrush=Figure(inrush, "A"),
            )
            mend = Message("A larger device there, or a unit of less inrush.")
            where = f"{solved.node.id}.transformer.inrush_multiple"
            solved.findings.append(Finding(Severity.WARN, "transformer.inrush", message, None, where, mend))
            return
        above = nodes.get(above.node.parent or "")


_MOST_DEVICES = 6  # that stand together for one (450.3(B) note 2)


def _together(solved: NodeSolution, nodes: Mapping[str, NodeSolution]) -> None:
    """Hold the sum of several devices behind a transformer against what one may have. Source: 450.3(B) note 2."""
    unit = solved.unit
    side = unit.secondary if unit else None
    if unit is None or side is None or side.rule is None or len(unit.behind) == 1:
        return
    devices = [each.design.choice.device_a for each in unit.behind if nodes[each.key].node.kind is not Kind.TRANSFORMER]
    figures = {"n": len(devices), "sum": Figure(sum(devices), "A"), "most": Figure(side.most_a, "A")}
    where = f"{solved.node.id}.transformer.secondary_device"
    if sum(devices) > side.most_a * (1 + 1e-9):
        message = Message(
            "{n} devices on its secondary, {sum} in all, are over {most}, the most that one may have.", **figures
        )
        mend = Message("One main device ahead of them, smaller devices, or a larger transformer.")
        solved.findings.append(Finding(Severity.STOP, "transformer.device", message, side.rule, where, mend))
    elif len(devices) > _MOST_DEVICES:
        message = Message("{n} devices stand on its secondary: six at most stand together for one.", **figures)
        mend = Message("One main device ahead of them.")
        solved.findings.append(Finding(Severity.STOP, "transformer.device", message, side.rule, where, mend))


def judge_of(above: NodeSolution, node: Node, book: Book) -> Judge | None:
    """Return what judges a run that begins at a transformer's secondary; None where nothing is known to judge by."""
    unit, spec, before = above.unit, above.node.transformer, above.design
    if unit is None or spec is None or before is None:
        return None
    rules, plate, long_m = book.asked(Transformers), unit.plate, node.run.long_m
    rated = rated_amps(plate.kva, plate.secondary_v, plate.phases)
    # What stands on its supply is guarded by the device before it, through the ratio, as two wires would be.
    alone = unit.stacked or by_primary(spec.connection, spec.secondary)
    protected = spec.protection != worked.PRIMARY_ONLY and not unit.stacked
    # Behind one that stands on its supply it is a main of the board's own that ends its conductors.
    protected = protected or (unit.stacked and node.kind is Kind.BOARD and bool(node.board.main_a))

    def judge(ampacity_a: float, choice: Choice) -> tuple[SecondaryRule, ...]:
        return rules.secondary(
            SecondaryAsked(
                ampacity_a,
                None if long_m is None else long_m / _FT_M,
                before.choice.device_a,
                plate.primary_v,
                plate.secondary_v,
                alone,
                node.kind is Kind.BOARD,
                spec.secondary_place,
                protected,
                rated,
                before.run.amps,
                choice.device_a,
            )
        )

    return judge


def _secondary(above: NodeSolution, solved: NodeSolution, book: Book) -> None:
    unit, spec, design, before = above.unit, above.node.transformer, solved.design, above.design
    if unit is None or spec is None or design is None or before is None:
        return
    rules, side = book.asked(Transformers), unit.secondary
    if side and design.choice.device_a > side.most_a:
        message = Message(
            "{device} is over {most}, the most that the secondary may have",
            device=Figure(design.choice.device_a, "A"),
            most=Figure(side.most_a, "A"),
        )
        where = f"{solved.node.id}.run.pins.device_a"
        severity = Severity.STOP if side.rule else Severity.WARN
        solved.findings.append(Finding(severity, "transformer.device", message, side.rule, where))
        # It is mended at the board, but it is the transformer that stands without protection.
        name = solved.node.name or solved.node.id
        alone = Message(
            "Not protected on its secondary: {device} at {name} is over {most}.",
            name=name,
            device=Figure(design.choice.device_a, "A"),
            most=Figure(side.most_a, "A"),
        )
        where = f"{above.node.id}.transformer.secondary_device"
        above.findings.append(Finding(severity, "transformer.device", alone, side.rule, where))
    judge = judge_of(above, solved.node, book)
    tried = judge(design.capacity.ampacity_a, design.choice) if judge else ()
    here = Behind(solved.node.id, solved.node.name or solved.node.id, design, tried)
    unit.behind.append(here)
    if not held(tried) and solved.node.run.long_m is not None:
        solved.findings.append(too_long(tried, book, f"{solved.node.id}.run.length"))
    if spec.secondary.line_to_neutral_v and not unit.stacked:
        with above.sheet.section("bond"):
            here.bonds = rules.bonds(design.choice.size, design.run.material, design.choice.sets, above.sheet)
