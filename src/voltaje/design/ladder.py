"""The ladder of options: other lawful answers for a run, with what each costs and what speaks for it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import islice

from voltaje.books.answers import Choice, EarthConductor, Run
from voltaje.books.questions import Book
from voltaje.design.amended import unamended
from voltaje.design.chain import DUST_A, Pins, least_choice, neutral_of, plain_need
from voltaje.design.drop import Drop, drop_of
from voltaje.errors import NoLawfulAnswer
from voltaje.message import Figure, Message
from voltaje.sheet import off
from voltaje.systems import THREE_PHASE

# Mass of metal [kg/m for each mm²]: densities of the metals, 8.96 and 2.70 kg/dm³.
METAL_KG_PER_M_MM2 = {"Cu": 0.00896, "Al": 0.00270}
_DEVICES_SHOWN = 2
_MOST_SERVED = 2  # of one set: the least, and the next larger
# Two sets are offered beside a single conductor from this area of metal on, more from the second (common practice).
_PARALLEL_FROM_MM2, _MORE_SETS_FROM_MM2, _MOST_SETS = 50.0, 150.0, 6


@dataclass(frozen=True)
class Option:
    """A lawful answer: what it costs in metal, its drop, and the one thing that speaks for or against it."""

    choice: Choice
    material: str
    neutral: str
    earth: EarthConductor
    metal_kg: float | None
    conduit: str
    drop: Drop | None
    remark: Message

    @property
    def drop_percent(self) -> float | None:
        """Its drop [% of the nominal], None where the run has no length."""
        return self.drop.percent if self.drop else None


def options(run: Run, pins: Pins, book: Book, materials: tuple[str, ...]) -> list[Option]:
    """Return lawful answers: device × size × material × sets, least metal first.

    Each complies when it is fed back as pins with its material.
    """
    need = plain_need(run, book)
    devices = (
        [pins.device_a]
        if pins.device_a
        else [run.guard.device_a]
        if run.guard
        else [r for r in book.devices(run) if r >= need - DUST_A][:_DEVICES_SHOWN]
    )
    found = []
    for material in materials:
        other = run._replace(material=material)
        for device in devices:
            own = material == run.material and device == devices[0]
            built = [_option(other, choice, book) for choice in _lawful(other, device, book, own)]
            found += [option for option in built if option]
    found.sort(key=lambda option: (_metal_per_m(option, book, run), option.choice.device_a))
    ordinary = [_remarked(option, place, found, book, run) for place, option in enumerate(found)]
    also = [
        replace(option, remark=named)
        for choice, named in book.besides(run, devices[0])
        if all((option.choice, option.material) != (choice, run.material) for option in found)
        and (option := _option(run, choice, book))
    ]
    return [*also, *ordinary]


def _lawful(run: Run, device: float, book: Book, own: bool) -> list[Choice]:
    """Return the least conductor in one set, in two and of large ones in more, the next larger, and the one that meets
    the drop limit.

    own: whether the run itself is of this metal and device; then the engine's answer is among them, whatever its drop
    """
    least = least_choice(run, device, None, book) if own else None
    found = [least] if least else []
    for sets in range(1, _MOST_SETS + 1):
        if sets > 1 and found and max(book.area_mm2(choice.size) for choice in found) < _PARALLEL_FROM_MM2:
            break
        if sets > 2 and found and book.area_mm2(found[-1].size) < _MORE_SETS_FROM_MM2:  # noqa: PLR2004
            break  # what is this small already is not pulled in yet more sets
        served = [Choice(device, size, sets) for size in filter(book.complying(run, device, sets), book.sizes(run))]
        fitting = (choice for choice in served if _fits(run, choice, book))  # asked no further than is needed
        if book.drop_limit(run, False).mandatory:
            served = list(islice(fitting, _MOST_SERVED))
        elif sets == 1:
            served = [*served[:_MOST_SERVED], *islice(fitting, 1)]
        found += served if sets == 1 else served[:1]
    return list(dict.fromkeys(found))


def _built(run: Run, choice: Choice, book: Book) -> tuple[EarthConductor, str, Drop | None] | None:
    """Return the earth conductor, the neutral and the drop of a run that is built so; None where no neutral serves."""
    least = least_choice(run, choice.device_a, choice.sets, unamended(book)) or choice
    earth = book.earth(run, choice, least, off())
    try:
        neutral = neutral_of(run, choice, earth, book, off())
    except NoLawfulAnswer:
        return None
    return earth, neutral, drop_of(run, choice, neutral, book, off())


def _fits(run: Run, choice: Choice, book: Book) -> bool:
    """Return whether the drop keeps its limits after what lies before the run."""
    built = _built(run, choice, book)
    if built is None:
        return False
    drop = built[2]
    return drop is None or drop.longest_m is None or drop.longest_m >= (run.length_m or 0.0)


def _option(run: Run, choice: Choice, book: Book) -> Option | None:
    built = _built(run, choice, book)
    if built is None:
        return None
    earth, neutral, drop = built
    metal = None if run.length_m is None else run.length_m * kg_per_m(run, choice, neutral, earth, book)
    conduit = book.conduit(run, choice, earth, neutral)
    return Option(choice, run.material, neutral, earth, metal, conduit, drop, Message(""))


def kg_per_m(run: Run, choice: Choice, neutral: str, earth: EarthConductor, book: Book) -> float:
    """Return the metal of all sets [kg/m]: lines, neutral, protective conductor."""
    lines = run.phases if run.phases == THREE_PHASE else 2
    area = lines * book.area_mm2(choice.size) + book.area_mm2(earth.size)
    area += book.area_mm2(neutral) if neutral else 0.0
    return choice.sets * area * METAL_KG_PER_M_MM2[run.material]


def _metal_per_m(option: Option, book: Book, run: Run) -> float:
    mine = run._replace(material=option.material)
    return kg_per_m(mine, option.choice, option.neutral, option.earth, book)


def _remarked(option: Option, place: int, found: list[Option], book: Book, run: Run) -> Option:
    mine = run._replace(material=option.material)
    capacity = book.capacity(mine, option.choice, off())
    spare = (capacity.ampacity_a / run.amps - 1) * 100 if run.amps else 0.0
    smallest_device = min(other.choice.device_a for other in found)
    larger_device = option.choice.device_a > smallest_device
    drop, long_m = option.drop, run.length_m or 0.0
    if drop and drop.longest_m is not None and drop.longest_m < long_m:
        remark = Message("over the {limit} left for drop", limit=Figure(max(drop.room_percent, 0.0), "%", 1))
    elif saved := _device_saves(option, mine, book):
        remark = saved
    elif place == 0:
        remark = Message("smallest metal")
    elif option.choice.device_a > capacity.ampacity_a + DUST_A and not run.guard and not run.ring:
        remark = Message("round-up rule")
    elif larger_device:
        remark = Message("the next rating up")
    elif option.choice.sets > 1:
        remark = Message("two sets, easier to pull")
    else:
        remark = Message("leaves {spare} spare", spare=Figure(spare, "%"))
    return replace(option, remark=remark)


def _device_saves(option: Option, run: Run, book: Book) -> Message | None:
    """Return that a smaller device lets a smaller conductor serve than the next rating up would."""
    if run.guard:
        return None
    larger = [rating for rating in book.devices(run) if rating > option.choice.device_a]
    least = least_choice(run, option.choice.device_a, None, book)
    if least != option.choice or not larger:
        return None
    beside = least_choice(run, larger[0], None, book)
    if beside is None or (beside.size, beside.sets) == (least.size, least.sets):
        return None
    return Message(
        "{device} instead of {larger} lets {size} serve",
        device=Figure(option.choice.device_a, "A"),
        larger=Figure(larger[0], "A"),
        size=least.size,
    )
