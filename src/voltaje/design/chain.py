"""The chain of one run, written once over the questions of a book: device, conductor, drop, earth, options."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, replace

from voltaje.books.book import MOST_SETS, Book, Capacity, Choice, DropLimit, EarthConductor, Run
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Citation, Finding, Severity, Sheet, off

NEXT = Formula("min(ratings)")
PERCENT = Formula("drop / volts * 100")
LONGEST = Formula("length * limit / percent")

# Mass of metal [kg/m for each mm²]: densities of the metals, 8.96 and 2.70 kg/dm³.
METAL_KG_PER_M_MM2 = {"Cu": 0.00896, "Al": 0.00270}
_DEVICES_SHOWN = 2
# Two sets are offered beside a single conductor from this area of metal on (common practice).
_PARALLEL_FROM_MM2 = 50.0
_DUST_A = 1e-6


@dataclass(frozen=True)
class Pins:
    """What a person fixed by hand; None is left to the engine."""

    device_a: float | None = None
    size: str | None = None
    sets: int | None = None


@dataclass(frozen=True)
class Option:
    """Another lawful answer: what it costs in metal, its drop, and the one thing that speaks for or against it."""

    choice: Choice
    material: str
    earth: EarthConductor
    metal_kg: float | None
    conduit: str
    drop_v: float | None
    drop_percent: float | None
    remark: Message


@dataclass(frozen=True)
class RunDesign:
    """A run sized: the choice, what it carries, its drop and earth, and what is to be said of it."""

    run: Run
    choice: Choice
    need_a: float
    capacity: Capacity
    earth: EarthConductor
    drop_v: float | None
    drop_percent: float | None
    limit: DropLimit
    longest_m: float | None
    findings: tuple[Finding, ...]


def size_run(run: Run, pins: Pins, book: Book, sheet: Sheet) -> RunDesign:
    """Return a run sized by its book; pins are kept, and what they break is a finding.

    Raises: InputError at the key that stands in the way, where there is no lawful answer at all.
    """
    book.check(run)
    _check_pins(pins, run, book)
    with sheet.section("device"):
        need = book.device_need(run, sheet)
        device = pins.device_a or _next_device(need, book, sheet)
    with sheet.section("conductor"):
        choice = _choose(run, device, pins, book)
        capacity = book.capacity(run, choice, sheet)
    # A conductor that was chosen here complies; one that was pinned may not.
    objections = book.objections(run, choice) if pins.size else ()
    findings = [_stop(objection.message, objection.rule, objection.key) for objection in objections]
    with sheet.section("drop"):
        drop_v, percent, longest = _drop(run, choice, book, sheet)
    with sheet.section("earth"):
        least = choice if pins.size is None else _least(run, device, choice.sets, book) or choice
        earth = book.earth(run, choice, least, sheet)
    limit = book.drop_limit(run, False)
    if percent is not None and percent > limit.percent:
        findings.append(_over(percent, limit))
    return RunDesign(run, choice, need, capacity, earth, drop_v, percent, limit, longest, tuple(findings))


def _stop(message: Message, rule: Citation, field: str) -> Finding:
    return Finding(Severity.STOP, message, rule, field)


def _over(percent: float, limit: DropLimit) -> Finding:
    message = Message(
        "The drop is {percent}, over {limit}.", percent=Figure(percent, "%", 2), limit=Figure(limit.percent, "%", 2)
    )
    mend = Message("Take a larger size from the options, or shorten the run.")
    return Finding(Severity.STOP if limit.mandatory else Severity.WARN, message, limit.rule, "length", mend)


def _check_pins(pins: Pins, run: Run, book: Book) -> None:
    if pins.size is not None and pins.size not in book.sizes(run):
        message = Message("{size} is not in the table, which has: {known}", size=pins.size, known=list(book.sizes(run)))
        raise InputError("size", message)


def _next_device(need: float, book: Book, sheet: Sheet) -> float:
    ratings = book.devices()
    enough = ratings[bisect_left(ratings, need - _DUST_A) :]
    if not enough:
        most = Figure(ratings[-1], "A")
        raise InputError(
            "amps", Message("{need} is above the largest rating, {most}", need=Figure(need, "A"), most=most)
        )
    because = Message("the smallest standard rating not under {need}", need=Figure(need, "A", 1))
    return sheet.apply(NEXT, Message("Device"), "A", book.device_rule, because, ratings=enough[:3])


def _least(run: Run, device: float, sets: int | None, book: Book) -> Choice | None:
    """Return the smallest lawful conductor for a device, the fewest sets of sizes pulled by choice first."""
    for each in [sets] if sets else range(1, MOST_SETS + 1):
        for size in book.sizes(run):
            if not (sets or book.preferred(run, size, each)):
                break
            choice = Choice(device, size, each)
            if book.complies(run, choice):
                return choice
    return None


def _choose(run: Run, device: float, pins: Pins, book: Book) -> Choice:
    if pins.size is not None:
        return Choice(device, pins.size, pins.sets or 1)
    found = _least(run, device, pins.sets, book)
    if found is None:
        # What the largest conductor is still refused for tells which key stands in the way.
        last = book.objections(run, Choice(device, book.sizes(run)[-1], pins.sets or MOST_SETS))
        key = "sets" if pins.sets else "device_a" if pins.device_a else last[0].key
        raise InputError(key, last[0].message, str(last[0].rule))
    return found


def _drop(run: Run, choice: Choice, book: Book, sheet: Sheet) -> tuple[float | None, float | None, float | None]:
    if run.length_m is None:
        return None, None, None
    volts = book.drop_v(run, choice, sheet)
    limit = book.drop_limit(run, False)
    percent = sheet.apply(PERCENT, Message("Of the nominal"), "%", limit.rule, None, drop=volts, volts=run.volts)
    if percent <= 0:
        return volts, percent, None
    longest = sheet.apply(
        LONGEST,
        Message("Longest run of this size"),
        "m",
        limit.rule,
        Message("where the drop reaches {limit}", limit=Figure(limit.percent, "%", 2)),
        length=run.length_m,
        limit=limit.percent,
        percent=percent,
    )
    return volts, percent, longest


def options(run: Run, pins: Pins, book: Book, materials: tuple[str, ...]) -> list[Option]:
    """Return a ladder of lawful answers: device × size × material × sets, least metal first.

    Each complies when it is fed back as pins with its material.
    """
    need = book.device_need(run, off())
    devices = [pins.device_a] if pins.device_a else [r for r in book.devices() if r >= need - _DUST_A][:_DEVICES_SHOWN]
    found = []
    for material in materials:
        other = replace(run, material=material)
        for device in devices:
            found += [_option(other, choice, book) for choice in _lawful(other, device, book)]
    found.sort(key=lambda option: (_metal_per_m(option, book, run), option.choice.device_a))
    return [_remarked(option, place, found, book, run) for place, option in enumerate(found)]


def _lawful(run: Run, device: float, book: Book) -> Iterator[Choice]:
    """Yield the least conductor in one set and in two, the next larger, and the one that meets the drop limit."""
    seen: set[Choice] = set()
    for sets in (1, 2):
        if sets > 1 and seen and max(book.area_mm2(choice.size) for choice in seen) < _PARALLEL_FROM_MM2:
            return
        served = [c for size in book.sizes(run) if book.complies(run, c := Choice(device, size, sets))]
        wanted = served[:2] if sets == 1 else served[:1]
        if run.length_m is not None and sets == 1:
            limit = book.drop_limit(run, False).percent
            wanted += [c for c in served if book.drop_v(run, c, off()) / run.volts * 100 <= limit][:1]
        for choice in wanted:
            if choice not in seen:
                seen.add(choice)
                yield choice


def _option(run: Run, choice: Choice, book: Book) -> Option:
    least = _least(run, choice.device_a, choice.sets, book) or choice
    earth = book.earth(run, choice, least, off())
    drop = book.drop_v(run, choice, off()) if run.length_m is not None else None
    percent = None if drop is None else drop / run.volts * 100
    metal = None if run.length_m is None else run.length_m * _kg_per_m(run, choice, earth, book)
    conduit = book.conduit(run, choice, earth, False)
    return Option(choice, run.material, earth, metal, conduit, drop, percent, Message(""))


_THREE_PHASE = 3


def _kg_per_m(run: Run, choice: Choice, earth: EarthConductor, book: Book) -> float:
    lines = run.phases if run.phases == _THREE_PHASE else 2
    area = lines * book.area_mm2(choice.size) + book.area_mm2(earth.size)
    return choice.sets * area * METAL_KG_PER_M_MM2[run.material]


def _metal_per_m(option: Option, book: Book, run: Run) -> float:
    return _kg_per_m(replace(run, material=option.material), option.choice, option.earth, book)


def _remarked(option: Option, place: int, found: list[Option], book: Book, run: Run) -> Option:
    same_metal = [other for other in found if other.material == option.material]
    limit = book.drop_limit(run, False)
    capacity = book.capacity(replace(run, material=option.material), option.choice, off())
    spare = (capacity.ampacity_a / run.amps - 1) * 100 if run.amps else 0.0
    larger_device = option.choice.device_a > min(other.choice.device_a for other in found)
    if option.drop_percent is not None and option.drop_percent > limit.percent:
        remark = Message("over the {limit} limit of drop", limit=Figure(limit.percent, "%", 1))
    elif option is same_metal[0] and place == 0:
        remark = Message("smallest metal")
    elif option.choice.device_a > capacity.ampacity_a + _DUST_A:
        remark = Message("round-up rule")
    elif larger_device:
        remark = Message("the next rating up")
    elif option.choice.sets > 1:
        remark = Message("two sets, easier to pull")
    else:
        remark = Message("leaves {spare} spare", spare=Figure(spare, "%"))
    return replace(option, remark=remark)
