"""A transformer with its devices and its conductors on both sides: every lawful choice, the one taken, what follows."""

from __future__ import annotations

from dataclasses import dataclass, replace

from voltaje.books.answers import Choice, NeutralLoad, Run
from voltaje.books.machines import Bonds, SecondaryAsked, SecondaryRule, Side
from voltaje.books.questions import Book, Transformers
from voltaje.design.chain import DUST_A, Pins, RunDesign, size_run
from voltaje.design.ladder import kg_per_m
from voltaje.design.transformers.secondary import held, sized_by_rule, too_long
from voltaje.errors import InputError, Refused
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.physics.transformer import Plate
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE

AMPS_1, AMPS_3 = Formula("kva * 1000 / volts"), Formula("kva * 1000 / (sqrt(3) * volts)")

INDOORS, OUTDOORS, INDUSTRIAL, FEEDER_TAP = PLACES = ("indoors", "outdoors", "industrial", "feeder tap")
PRIMARY_ONLY, BOTH, CONTROL = "primary_only", "primary_and_secondary", "motor_control"
STACKED = "autotransformer"
_FT_M = 0.3048
_BY_PRIMARY = ("Dd", "2-wire")  # connections whose secondary the primary device may protect


@dataclass(frozen=True)
class TransformerPlan:
    """A transformer as it is to stand: its plate, how it is protected, what stands before and behind it.

    inrush: times the rated current, at switching on; curve: of the primary's breaker, where breakers have types
    place: where its secondary conductors are; feeder_device_a: of the feeder that it is tapped from [A]
    load_a: of each line behind it [A], None where that is not said; sets: parallel conductors, pinned
    to_neutral: whether its secondary has a neutral; neutral_a: what that carries, None where it is as a line [A]
    """

    plate: Plate
    connection: str
    method: str = BOTH
    primary_device_a: float | None = None
    secondary_device_a: float | None = None
    inrush: float = 0.0
    curve: str = ""
    place: str = INDOORS
    feeder_device_a: float | None = None
    load_a: float | None = None
    sets: int | None = None
    to_neutral: bool = False
    neutral_a: float | None = None


@dataclass(frozen=True)
class PrimaryChoice:
    """A lawful primary device: its run, its metal against the one taken, whether it holds the switching on."""

    device_a: float
    percent: float
    design: RunDesign
    copper_ratio: float
    holds_inrush: bool


@dataclass(frozen=True)
class TransformerRun:
    """A transformer worked: its sides, the choices from the ceiling down, the runs, the secondary's rule, the bonds."""

    plate: Plate
    primary: Side
    secondary: Side | None
    secondary_a: float
    choices: tuple[PrimaryChoice, ...]
    chosen: PrimaryChoice
    secondary_device_a: float
    behind: RunDesign
    rules: tuple[SecondaryRule, ...]
    bonds: Bonds
    findings: tuple[Finding, ...]

    @property
    def rule(self) -> SecondaryRule | None:
        """The rule of secondary conductors that holds, None where none does."""
        return next((each for each in self.rules if each.holds), None)


def transformer_run(plan: TransformerPlan, before: Run, behind: Run, book: Book, sheet: Sheet) -> TransformerRun:
    """Return a transformer worked. Raises InputError at the field that stands in the way.

    before, behind: what the conductors of each side lie in, at its volts
    """
    rules, plate = book.asked(Transformers), plan.plate
    formula = AMPS_3 if plate.phases == THREE_PHASE else AMPS_1
    with sheet.section("kva"):
        primary_a = sheet.apply(
            formula, Message("Rated current, primary"), "A", book.load_rule, None, kva=plate.kva, volts=plate.primary_v
        )
        secondary_a = sheet.apply(
            formula,
            Message("Rated current, secondary"),
            "A",
            book.load_rule,
            None,
            kva=plate.kva,
            volts=plate.secondary_v,
        )
    with sheet.section("primary_device"):
        primary = rules.side(primary_a, "primary", plan.method, sheet)
    secondary = None
    if plan.method == BOTH:
        with sheet.section("secondary_device"):
            secondary = rules.side(secondary_a, "secondary", plan.method, sheet)
    choices = choices_of(plan, primary, before, book)
    chosen = _taken(plan, choices, primary, rules)
    choices = against(chosen, choices, book)
    chosen = next(each for each in choices if each.device_a == chosen.device_a)
    with sheet.section("primary_conductor"):
        design = size_run(_primary(before, primary_a, chosen.device_a, book), Pins(sets=plan.sets), book, sheet)
    chosen = replace(chosen, design=design)
    device = plan.secondary_device_a or _secondary_device(secondary_a, rules)
    with sheet.section("secondary_conductor"):
        # A device that was chosen is held against the load behind it; where none is said, against what it makes.
        load_a = min(secondary_a, device) if plan.load_a is None else plan.load_a
        run = behind._replace(amps=load_a, least_device_a=device, round_up=False, role="derived", feeder=True)
        if plan.to_neutral:
            amps = load_a if plan.neutral_a is None else plan.neutral_a
            run = run._replace(neutral=NeutralLoad(amps, reducible=False))
        pins = Pins(device if load_a > device + DUST_A else None, sets=plan.sets)
        length_ft = None if behind.length_m is None else behind.length_m / _FT_M

        def judge(ampacity_a: float, choice: Choice) -> tuple[SecondaryRule, ...]:
            return rules.secondary(
                SecondaryAsked(
                    ampacity_a,
                    length_ft,
                    chosen.device_a,
                    plate.primary_v,
                    plate.secondary_v,
                    plan.connection in _BY_PRIMARY,
                    True,
                    plan.place,
                    plan.method == BOTH,
                    secondary_a,
                    design.capacity.ampacity_a,
                    choice.device_a,
                    plan.feeder_device_a,
                )
            )

        after = sized_by_rule(run, pins, judge, book, sheet)
    tried = judge(after.capacity.ampacity_a, after.choice._replace(device_a=device))
    with sheet.section("earth"):
        bonds = rules.bonds(after.choice.size, behind.material, after.choice.sets, sheet)
    found = _findings(plan, primary, secondary, device, chosen, tried, book)
    return TransformerRun(
        plate,
        primary,
        secondary,
        secondary_a,
        choices,
        chosen,
        device,
        after,
        tried,
        bonds,
        (*found, *design.findings, *after.findings),
    )


def _primary(before: Run, amps: float, device_a: float, book: Book) -> Run:
    run = before._replace(amps=min(amps, device_a), least_device_a=device_a)
    return as_fuse(run, device_a, book)


def as_fuse(run: Run, device_a: float, book: Book) -> Run:
    """Return a run whose device is a fuse, where it is smaller than any breaker."""
    return run._replace(fuse_a=device_a) if device_a < book.devices(run)[0] - DUST_A else run


def _kg(choice: PrimaryChoice, book: Book) -> float:
    design = choice.design
    return kg_per_m(design.run, design.choice, "", design.earth, book)


def against(base: PrimaryChoice, choices: tuple[PrimaryChoice, ...], book: Book) -> tuple[PrimaryChoice, ...]:
    """Return choices with their metal over that of one of them [ratio]."""
    whole = _kg(base, book)
    return tuple(replace(each, copper_ratio=_kg(each, book) / whole) for each in choices)


def choices_of(plan: TransformerPlan, primary: Side, before: Run, book: Book) -> tuple[PrimaryChoice, ...]:
    """Return every lawful device, from the ceiling down to the one that carries the rated current."""
    found = []
    rules = book.asked(Transformers)
    for rating in reversed(rules.ratings_to(primary.most_a)):
        if rating < primary.amps - DUST_A:
            break
        try:
            design = size_run(_primary(before, primary.amps, rating, book), Pins(sets=plan.sets), book, off())
        except Refused:
            continue
        holds = rules.holds(rating, plan.inrush * primary.amps, plan.curve)
        found.append(PrimaryChoice(rating, rating / primary.amps * 100, design, 1.0, holds))
    if not found:
        raise InputError("kva", Message("no standard rating serves its primary"), str(primary.rule or ""))
    return tuple(found)


def _taken(
    plan: TransformerPlan, choices: tuple[PrimaryChoice, ...], primary: Side, rules: Transformers
) -> PrimaryChoice:
    """Return the entered device, else the smallest of at least 125 % that holds the switching on."""
    if plan.primary_device_a is not None:
        entered = next((each for each in choices if each.device_a == plan.primary_device_a), None)
        if entered is None:
            message = Message(
                "{device} is not among the lawful ones: {known} A",
                device=Figure(plan.primary_device_a, "A"),
                known=[f"{each.device_a:g}" for each in choices],
            )
            raise InputError("primary_device_a", message, str(primary.rule or ""))
        return entered
    usual = usual_device(rules, primary, plan.inrush, plan.curve)
    return next((each for each in reversed(choices) if each.device_a >= usual - DUST_A), choices[0])


def usual_device(rules: Transformers, primary: Side, inrush: float, curve: str) -> float:
    """Return the smallest rating of at least 125 % that holds the switching on, else the greatest lawful one [A]."""
    known = [
        each
        for each in rules.ratings_to(primary.most_a)
        if each >= rules.practical_a(primary.amps, primary.most_a) - DUST_A
    ]
    return next((each for each in known if rules.holds(each, inrush * primary.amps, curve)), known[-1])


def _secondary_device(amps: float, rules: Transformers) -> float:
    """Return the usual secondary device: the largest standard rating not over 125 % [A]. Common practice."""
    known = rules.ratings_to(amps * 1.25)
    return known[-1]


def _findings(
    plan: TransformerPlan,
    primary: Side,
    secondary: Side | None,
    device: float,
    chosen: PrimaryChoice,
    tried: tuple[SecondaryRule, ...],
    book: Book,
) -> list[Finding]:
    found = []
    if secondary is not None and device > secondary.most_a + DUST_A:
        message = Message(
            "{device} is over {most}, the most that the secondary may have",
            device=Figure(device, "A"),
            most=Figure(secondary.most_a, "A"),
        )
        severity = Severity.STOP if secondary.rule else Severity.WARN
        found.append(Finding(severity, "transformer.device", message, secondary.rule, "secondary_device_a"))
    if plan.method == PRIMARY_ONLY and plan.connection not in _BY_PRIMARY:
        message = Message(
            "The primary device alone does not protect this secondary: its conductors need a device "
            "where they end, and a panel one on its supply side."
        )
        rule = book.rule("secondary_by_primary")
        found.append(Finding(Severity.STOP, "transformer.secondary_alone", message, rule, "protection"))
    if not held(tried):
        found.append(too_long(tried, book, "secondary_length"))
    if not chosen.holds_inrush:
        message = Message(
            "{device} may trip at switching on: {inrush} for an instant.",
            device=Figure(chosen.device_a, "A"),
            inrush=Figure(plan.inrush * primary.amps, "A"),
        )
        found.append(Finding(Severity.WARN, "transformer.inrush", message, None, "primary_device_a"))
    return found
