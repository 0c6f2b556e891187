"""The transformer tool: its size, its devices, the conductors of both sides, taps, short circuit, what bonds it."""

from __future__ import annotations

import math

from voltaje.books.answers import sets_of
from voltaje.books.questions import Transformers
from voltaje.design.neutrals import taken_as_line
from voltaje.design.transformers.worked import CONTROL, FEEDER_TAP, TransformerPlan, TransformerRun, transformer_run
from voltaje.errors import InputError, OutsideTable
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.shapes import Json
from voltaje.message import Figure, Message
from voltaje.physics.transformer import Plate, rated_amps, regulation_percent, secondary_share, short_circuit_a
from voltaje.sheet import Sheet
from voltaje.systems import SYSTEMS, THREE_PHASE, System
from voltaje.tools.asked.transformer import TransformerAsked
from voltaje.tools.conductors import conductor_of, earth_of, neutral_of, run_node, said_length
from voltaje.tools.tool import PUT, Answered, Group, Head, Tool

GROWN = Formula("load * (1 + growth)")
LOADING = Formula("load / kva * 100")
BY_LEG_3, BY_LEG = Formula("sqrt(3) * volts * amps / 1000"), Formula("volts * amps / 1000")
BY_TAPPED = Formula("3 * (single * 2 / 3 + three / 3)")
HIGH_LEG = "high-leg"
OPEN_V = Formula("secondary * source / primary / (1 + tap / 100)")
OPEN_BEHIND = Formula("secondary * source / primary * (1 + tap / 100)")

_BONDED = ("Dyn", "Yyn", "high-leg", "3-wire")  # secondaries with a neutral, which is bonded


def solve(asked: TransformerAsked) -> Answered:
    """Return a transformer worked. Raises InputError at its field."""
    book, sheet = asked.book, Sheet()
    kva = _kva(asked, sheet)
    plate = Plate(kva, asked.phases, asked.primary_v, asked.secondary_v, asked.impedance_percent or 0.0, asked.x_over_r)
    inrush = asked.inrush_multiple or book.asked(Transformers).usual_inrush(asked.build)
    method = CONTROL if asked.motor_control == "yes" else asked.protection
    plan = TransformerPlan(
        plate,
        asked.joined(),
        method,
        asked.primary_device_a,
        asked.secondary_device_a,
        inrush,
        asked.curve,
        asked.secondary_place,
        asked.feeder_device_a,
        _load_a(asked),
        asked.sets,
        asked.joined() in _BONDED,
        asked.neutral_a,
    )
    before = asked.run(1.0, asked.primary_v, asked.phases)
    length = asked.secondary_length[1] if asked.secondary_length else None
    behind = asked.run(1.0, asked.secondary_v, asked.phases)._replace(length_m=length)
    found = transformer_run(plan, before, behind, book, sheet)
    tap, load_v = _tap(asked, plate, sheet)
    fault = _fault(asked, plate, sheet)
    regulation = None
    if asked.impedance_percent:
        regulation = sheet.read(
            regulation_percent(plate, asked.power_factor),
            Message("Regulation at full load"),
            "%",
            None,
            Message("open volts over those at its rated current"),
        )
    bonds = found.bonds
    result = {
        "kva": kva,
        "primary_a": found.primary.amps,
        "secondary_a": found.secondary_a,
        "primary_device_a": found.chosen.device_a,
        "primary_device_max_a": found.primary.most_a,
        "secondary_device_a": found.secondary_device_a,
        "secondary_device_max_a": found.secondary.most_a if found.secondary else None,
        "primary_conductor": conductor_of(found.chosen.design),
        "secondary_conductor": conductor_of(found.behind),
        "neutral": neutral_of(found.behind),
        "secondary_rule": str(found.rule.rule.clause) if found.rule else None,
        "equipment_ground": earth_of(found.chosen.design.earth),
        "bonding_jumper": bonds.jumper,
        "supply_side_bonding_jumper": bonds.supply_side,
        "electrode_conductors": dict(bonds.electrodes),
        "regulation_percent": regulation,
        "short_circuit_a": fault,
        "tap": tap,
        "load_v": load_v,
        "choices": [
            {
                "primary_device_a": each.device_a,
                "percent": each.percent,
                "conductor": conductor_of(each.design),
                "conduit": each.design.conduit,
                "copper_ratio": each.copper_ratio,
                "holds_inrush": each.holds_inrush,
                "rule": str(found.primary.rule or ""),
            }
            for each in found.choices
        ],
    }
    drawn = {
        "asked": asked,
        "found": found,
        "inrush": inrush,
        "wye": asked.joined() in _BONDED,
        "before": said_length(asked.length),
        "behind": said_length(asked.secondary_length),
    }
    return Answered(
        book,
        result,
        sheet.steps,
        [*found.findings, *_said(asked, found)],
        _heads(asked, found),
        drawn.copy,
        _nodes(asked, kva, found),
    )


def _load_a(asked: TransformerAsked) -> float | None:
    """Return what its load draws of each secondary line [A], None where no load is given."""
    found = [asked.leg_a] if asked.leg_a is not None else []
    if asked.load_kva is not None:
        found.append(rated_amps(asked.load_kva, asked.secondary_v, asked.phases))
    return max(found) if found else None


def _kva(asked: TransformerAsked, sheet: Sheet) -> float:
    """Return its rating, as entered or the next trade size over the load [kVA]."""
    if asked.kva is not None:
        if asked.load_kva is not None:
            sheet.apply(LOADING, Message("Loading"), "%", None, None, load=asked.load_kva, kva=asked.kva)
        return asked.kva
    load = _load(asked, sheet)
    grown = sheet.apply(GROWN, Message("Load, grown"), "kVA", None, None, load=load, growth=asked.growth)
    sizes = asked.book.asked(Transformers).sizes(asked.phases)
    kva = next((size for size in sizes if size >= grown - 1e-9), None)
    if kva is None:
        message = Message(
            "{load} is over {most}, the largest trade size here",
            load=Figure(grown, "kVA", 1),
            most=Figure(sizes[-1], "kVA"),
        )
        raise OutsideTable("load_kva", message)
    sheet.read(kva, Message("Next trade size"), "kVA", None)
    sheet.apply(LOADING, Message("Loading"), "%", None, None, load=load, kva=kva)
    return kva


def _load(asked: TransformerAsked, sheet: Sheet) -> float:
    """Return what its load asks of it [kVA]: in all, by the most loaded leg, or by the tapped winding's."""
    if asked.load_kva is None and asked.leg_a is None:
        raise InputError("kva", Message("give its rating, or the load behind it"))
    found = [asked.load_kva or 0.0]
    if asked.leg_a is not None:
        formula = BY_LEG_3 if asked.phases == THREE_PHASE else BY_LEG
        because = Message("every leg may have as much as the most loaded")
        found.append(
            sheet.apply(
                formula,
                Message("By its most loaded leg"),
                "kVA",
                None,
                because,
                volts=asked.secondary_v,
                amps=asked.leg_a,
            )
        )
    if asked.tapped_kva is not None:
        if asked.joined() != HIGH_LEG:
            raise InputError("tapped_kva", Message("is of a high-leg delta alone"))
        because = Message("its winding has two thirds of the single-phase load and one third of the rest; three alike")
        found.append(
            sheet.apply(
                BY_TAPPED,
                Message("By the tapped winding"),
                "kVA",
                None,
                because,
                single=asked.tapped_kva,
                three=asked.load_kva or 0.0,
            )
        )
    return max(found)


def _tap(asked: TransformerAsked, plate: Plate, sheet: Sheet) -> tuple[float | None, float | None]:
    """Return the tap that brings the wanted volts best [%], and the volts at the load with it [V]."""
    if asked.source_v is None and not asked.taps:
        return None, None
    source, wanted = asked.source_v or asked.primary_v, asked.wanted_v or asked.secondary_v
    on_primary = asked.taps_on == "primary"
    load = asked.load_kva or plate.kva

    def volts(tap: float) -> float:
        share = source / asked.primary_v
        share = share / (1 + tap / 100) if on_primary else share * (1 + tap / 100)
        kept = secondary_share(plate, load, asked.power_factor, share) if asked.impedance_percent else share
        return asked.secondary_v * kept

    best = min(asked.taps or (0.0,), key=lambda tap: (abs(volts(tap) - wanted), abs(tap)))
    because = (
        Message("more turns on the primary, less on the secondary")
        if on_primary
        else Message("more turns on the secondary, more on the secondary")
    )
    label = Message("Open volts at the tap of {tap} %", tap=f"{best:g}")
    sheet.apply(
        OPEN_V if on_primary else OPEN_BEHIND,
        label,
        "V",
        None,
        because,
        secondary=asked.secondary_v,
        source=source,
        primary=asked.primary_v,
        tap=best,
    )
    at_load = volts(best)
    if asked.impedance_percent:
        sheet.read(at_load, Message("Volts under the load"), "V", None, Message("less what it loses inside"))
    return (best if asked.taps else None), at_load


def _fault(asked: TransformerAsked, plate: Plate, sheet: Sheet) -> float | None:
    if not asked.impedance_percent:
        return None
    source_kva = None
    if asked.source_ka is not None:
        root = math.sqrt(3) if asked.phases == THREE_PHASE else 1.0
        source_kva = asked.source_ka * root * asked.primary_v
    because = (
        Message("the source taken as infinite: the most it can be")
        if source_kva is None
        else Message("the source's own short circuit before it")
    )
    fault = short_circuit_a(plate, source_kva)
    return sheet.read(fault, Message("Bolted short circuit at its secondary"), "A", None, because)


def _said(asked: TransformerAsked, found: TransformerRun) -> list[Finding]:
    said = []
    neutral = found.behind.run.neutral
    if neutral and asked.neutral_a is None:
        said.append(taken_as_line(neutral.amps, asked.book, "neutral_a"))
    dearer = [
        each
        for each in found.choices
        if each.device_a < found.chosen.device_a and each.holds_inrush and each.copper_ratio < found.chosen.copper_ratio
    ]
    if dearer:
        less = dearer[0]
        message = Message(
            "{device} instead of {chosen} lets {size} serve.",
            device=Figure(less.device_a, "A"),
            chosen=Figure(found.chosen.device_a, "A"),
            size=less.design.choice.size,
        )
        said.append(Finding(Severity.NOTE, "transformer.cheaper", message, found.primary.rule, "primary_device_a"))
    if asked.impedance_percent is None:
        message = Message("No impedance entered: short circuit and regulation are not reckoned.")
        said.append(Finding(Severity.NOTE, "transformer.no_impedance", message, None, "impedance_percent"))
    message = Message("One bond only: the neutral meets the steel here or at the first disconnect, never at both.")
    if asked.joined() in _BONDED:
        said.append(Finding(Severity.NOTE, "transformer.one_bond", message, found.bonds.rule))
    return said


def _heads(asked: TransformerAsked, found: TransformerRun) -> tuple[Head, ...]:
    terms = asked.book.terms
    before, behind = found.chosen.design.choice, found.behind.choice
    ceiling = Message(
        "{percent} of {amps}; ceiling {most}",
        percent=Figure(found.chosen.percent, "%"),
        amps=Figure(found.primary.amps, "A", 1),
        most=Figure(found.primary.most_a, "A"),
    )
    behind_most = found.secondary.most_a if found.secondary else None
    main = Message("{amps} rated", amps=Figure(found.secondary_a, "A", 1))
    if behind_most:
        main = Message(
            "{amps} rated; ceiling {most}", amps=Figure(found.secondary_a, "A", 1), most=Figure(behind_most, "A")
        )
    rule = Message("{clause}: no round-up", clause=found.rule.rule.clause) if found.rule else Message("no rule holds")
    return (
        Head(Message("Primary device"), Figure(found.chosen.device_a, "A"), "", ceiling),
        Head(
            Message("Primary lines"), sets_of(before.size, before.sets), f"{terms.gauge(before.size)} {asked.material}"
        ),
        Head(Message("Secondary main"), Figure(found.secondary_device_a, "A"), "", main),
        Head(
            Message("Secondary lines"),
            sets_of(behind.size, behind.sets),
            f"{terms.gauge(behind.size)} {asked.material}",
            rule,
        ),
    )


def _nodes(asked: TransformerAsked, kva: float, found: TransformerRun) -> tuple[Json, ...]:
    """Return the transformer as a node of a job with the main behind it; nothing where a job has no such one."""
    secondary = _secondary_system(asked)
    if secondary is None or asked.motor_control == "yes" or asked.secondary_place == FEEDER_TAP:
        return ()
    spec: Json = {
        "kva": kva,
        "secondary": secondary.name,
        "x_over_r": asked.x_over_r,
        "build": asked.build,
        "protection": asked.protection,
        "curve": asked.curve,
        "secondary_place": asked.secondary_place,
        "impedance_percent": asked.impedance_percent,
        "inrush_multiple": asked.inrush_multiple,
    }
    if asked.phases == THREE_PHASE and asked.joined() != HIGH_LEG:
        spec["connection"] = asked.joined()
    unit = {
        "kind": "transformer",
        "name": f"Transformer {kva:g} kVA",
        "transformer": {key: value for key, value in spec.items() if value is not None},
        "run": run_node(asked, device_a=asked.primary_device_a),
    }
    load_va = None if asked.load_kva is None else asked.load_kva * 1000
    run = run_node(asked, device_a=found.secondary_device_a, demand_va=load_va, neutral_a=asked.neutral_a)
    run.pop("length", None)
    run |= {"length": said_length(asked.secondary_length)} if asked.secondary_length else {}
    return unit, {"id": f"{PUT}-main", "parent": PUT, "kind": "board", "name": "Main", "run": run}


def _secondary_system(asked: TransformerAsked) -> System | None:
    """Return the system that it makes, None where it is no nominal one."""
    joined, volts = asked.joined(), asked.secondary_v
    middle = joined in (HIGH_LEG, "3-wire") or joined.endswith("yn")
    legs = THREE_PHASE if asked.phases == THREE_PHASE else 2
    for system in SYSTEMS.values():
        wires = len(system.legs) == legs or (joined == "2-wire" and len(system.legs) == 1)
        same = abs(system.line_to_line_v - volts) < _NOMINAL_V and not system.wye_legs
        neutral = len(system.legs) == 1 or bool(system.line_to_neutral_v) == middle
        if wires and same and neutral and bool(system.high_leg) == (joined == HIGH_LEG):
            return system
    return None


_NOMINAL_V = 0.5


TOOL = Tool(
    name="transformer",
    title=Message("Transformer"),
    question=Message("What devices and wire on both sides of this transformer?"),
    group=Group.SUPPLY,
    place=1,
    words=(
        "kva",
        "step up",
        "step down",
        "primary",
        "secondary",
        "450.3",
        "240.21",
        "inrush",
        "impedance",
        "short circuit",
        "tap",
        "delta",
        "wye",
        "bonding jumper",
        "250.30",
    ),
    asks=TransformerAsked,
    solve=solve,
    example={
        "nec": {
            "kva": "150 kVA",
            "primary_v": "480 V",
            "secondary_v": "208 V",
            "phases": 3,
            "length": "85 ft",
            "secondary_length": "20 ft",
            "impedance_percent": "4.5",
            "terminal_c": 75,
        }
    },
    caution=Message("Both sides dead and proved: a transformer feeds back. Local code and the licensed person decide."),
)
