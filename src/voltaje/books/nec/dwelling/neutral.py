"""The neutral's load: the most unbalanced load a feeder or service can have."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.nec.dwelling.demand import Demand, appliance_motors, counts_as_fastened, fastened_percent
from voltaje.books.nec.dwelling.house import House
from voltaje.books.nec.edition import Edition
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Sheet

SHARE = Formula("load * percent / 100")
SHARE_OF_SUM = Formula("sum(counted) * percent / 100")
SHARE_AND_REST = Formula("sum(counted) * percent / 100 + sum(rest)")
SUM = Formula("sum(parts)")
CURRENT = Formula("load / (2 * volts)")
FURTHER = Formula("over + (amps - over) * percent / 100 + nonlinear")


@dataclass(frozen=True)
class Neutral:
    """The neutral's load [VA] and current [A], the current after any further reduction over 200 A."""

    load_va: float
    amps: float


def dwelling_neutral(standard: Demand, house: House, edition: Edition, sheet: Sheet) -> Neutral:
    """Return the neutral load of a dwelling, always from the standard method's loads.

    Cooking and dryers count at 70 %, and what exceeds 200 A at 70 %; neither on two legs of a wye.
    Loads connected line to line carry nothing on it. The 75 % of four or more fastened appliances
    is kept (usual reading). Of motors, 25 % of the largest that is on the neutral.
    Source: NEC 220.61; 220.82(A) for the optional method.
    """
    reduced = not house.system.wye_legs
    parts = [sheet.read(standard.of("lighting"), Message("Lighting and circuits"), "VA", edition.cite("neutral"), None)]
    if any(item.on_neutral for item in house.appliances):
        parts.append(_appliances(house, edition, sheet))
    percent = edition.figure("neutral_percent") if reduced else 100.0
    rule = edition.cite("neutral_cooking" if reduced else "neutral_no_reduction")
    because = None if reduced else Message("two legs of a wye: no reduction, the neutral carries what a leg carries")
    for key, label in (("cooking", Message("Cooking")), ("dryers", Message("Dryer"))):
        if standard.of(key):
            parts.append(sheet.apply(SHARE, label, "VA", rule, because, load=standard.of(key), percent=percent))
    motors = [motor for motor in appliance_motors(house) if motor.on_neutral]
    if motors:
        largest = max(motors, key=lambda motor: motor.va)
        label = Message("Largest motor on the neutral: {name}", name=largest.name)
        extra = edition.figure("motor_extra_percent")
        parts.append(
            sheet.apply(SHARE, label, "VA", edition.cite("largest_motor"), None, load=largest.va, percent=extra)
        )
    load = sheet.apply(SUM, Message("Neutral load"), "VA", edition.cite("neutral"), None, parts=parts)
    volts = house.system.line_to_neutral_v or house.system.line_to_line_v
    amps = sheet.apply(CURRENT, Message("Neutral current"), "A", edition.cite("neutral"), None, load=load, volts=volts)
    return Neutral(load, further_reduced(amps, 0.0, reduced, edition, sheet))


def _appliances(house: House, edition: Edition, sheet: Sheet) -> float:
    on_neutral = [item for item in house.appliances if item.on_neutral]
    counted = [item.load.va for item in on_neutral if counts_as_fastened(item, edition)]
    rest = [item.load.va for item in on_neutral if not counts_as_fastened(item, edition)]
    percent = fastened_percent(house, edition)
    because = Message("line to neutral only, at the factor of the whole")
    label, rule = Message("Appliances on the neutral"), edition.cite("neutral")
    if not rest:
        return sheet.apply(SHARE_OF_SUM, label, "VA", rule, because, counted=counted, percent=percent)
    return sheet.apply(SHARE_AND_REST, label, "VA", rule, because, counted=counted, rest=rest, percent=percent)


def further_reduced(amps: float, nonlinear_a: float, allowed: bool, edition: Edition, sheet: Sheet) -> float:
    """Return the neutral current [A] with what exceeds 200 A at 70 %, the nonlinear part kept in full.

    amps: the linear part; nonlinear_a: the part that may not be reduced
    Source: NEC 220.61(B)(2), (C).
    """
    over = edition.figure("neutral_over_a")
    if not allowed or amps <= over:
        return amps + nonlinear_a
    percent = edition.figure("neutral_over_percent")
    return sheet.apply(
        FURTHER,
        Message("Neutral current, reduced"),
        "A",
        edition.cite("neutral_over"),
        Message("what exceeds {over} at {percent}", over=Figure(over, "A"), percent=Figure(percent, "%")),
        amps=amps,
        over=over,
        percent=percent,
        nonlinear=nonlinear_a,
    )
