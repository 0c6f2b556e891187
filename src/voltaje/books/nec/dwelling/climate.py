"""Space heating and cooling of a dwelling, by the standard and by the optional method."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.nec.dwelling.house import DemandLine, Heating, House
from voltaje.books.nec.edition import Edition
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import HeatingKind
from voltaje.sheet import Citation, Sheet

SUM = Formula("sum(parts)")
LARGER = Formula("max(compressor, supplement) + rest")
WITH_MOTOR = Formula("load + motor * percent / 100")
LARGEST = Formula("max(choices)")
SHARE = Formula("load * percent / 100")
WITH_COMPRESSOR = Formula("compressor + supplement * percent / 100")


@dataclass(frozen=True)
class Motor:
    """A motor that counts toward the largest: its name, its load, whether it is on the neutral."""

    name: Message
    va: float
    on_neutral: bool = False


@dataclass(frozen=True)
class Climate:
    """Heating or cooling, whichever counts, and the motors that run with it."""

    line: DemandLine
    motors: tuple[Motor, ...]


@dataclass(frozen=True)
class Selection:
    """One of the selections of the optional method's heating and cooling clause."""

    number: int
    name: Message
    va: float


def _of(house: House, kind: HeatingKind) -> list[Heating]:
    return [heating for heating in house.heating if heating.kind is kind]


def _sum(heatings: list[Heating]) -> float:
    return sum(heating.load.va for heating in heatings)


def _locked(house: House) -> float:
    return _sum([heating for heating in _of(house, HeatingKind.SUPPLEMENT) if heating.locked_out])


def _connected(house: House) -> float:
    return _sum(list(house.heating)) + (house.cooling.va if house.cooling else 0.0)


def standard_climate(house: House, appliance_motors: list[Motor], edition: Edition, sheet: Sheet) -> Climate | None:
    """Return the larger of heating and cooling [VA], all that can run together on each side.

    A heat pump and its supplement count together unless locked out. From 2020 the two are compared
    with the largest motor of each counted at 125 %, so that a smaller cooling load may govern.
    Source: NEC 220.51, 220.60. None where the house has neither.
    """
    if not house.heating and house.cooling is None:
        return None
    heating_va = _heating_together(house, edition, sheet)
    heating = Climate(_heating_line(house, heating_va, edition), _heating_motors(house))
    if house.cooling is None:
        return heating
    cooling_va, rule = house.cooling.va, edition.cite("noncoincident")
    summary = Message("cooling, over heating") if house.heating else Message("at nameplate")
    line = DemandLine("climate", Message("Cooling"), summary, _connected(house), cooling_va, rule)
    cooling = Climate(line, (Motor(Message("cooling"), house.largest_cooling_va or cooling_va),))
    if not house.heating:
        return cooling
    chosen = _larger(heating, cooling, appliance_motors, edition, sheet)
    sheet.read(chosen.line.demand_va, chosen.line.label, "VA", rule, Message("the larger counts, at its own rating"))
    return chosen


def _larger(heating: Climate, cooling: Climate, others: list[Motor], edition: Edition, sheet: Sheet) -> Climate:
    """Return the side that leads to the larger total; where they tie, the motor's."""
    rule = edition.cite("noncoincident")
    weights = [side.line.demand_va for side in (heating, cooling)]
    because = Message("the two are unlikely to run together")
    if edition.noncoincident_motor_extra:
        because = Message("compared with the largest motor of each, which then counts at 125 %")
        weights = [
            sheet.apply(
                WITH_MOTOR,
                Message("{side}, to compare", side=side.line.label),
                "VA",
                rule,
                None,
                load=side.line.demand_va,
                motor=max((motor.va for motor in (*others, *side.motors)), default=0.0),
                percent=edition.figure("motor_extra_percent"),
            )
            for side in (heating, cooling)
        ]
    sheet.apply(LARGEST, Message("Larger of heating and cooling"), "VA", rule, because, choices=weights)
    return cooling if weights[1] >= weights[0] else heating


def _heating_motors(house: House) -> tuple[Motor, ...]:
    """Return the compressors that run when the heating counts: none where a locked-out supplement is larger."""
    pumps = _of(house, HeatingKind.HEAT_PUMP)
    if _sum(pumps) < _locked(house):
        return ()
    return tuple(Motor(Message("heat pump"), pump.load.va) for pump in pumps)


def _heating_line(house: House, heating_va: float, edition: Edition) -> DemandLine:
    rule = edition.cite("noncoincident" if house.cooling else "heating")
    return DemandLine("climate", _heating_name(house), _heating_summary(house), _connected(house), heating_va, rule)


def _heating_together(house: House, edition: Edition, sheet: Sheet) -> float:
    if not house.heating:
        return 0.0
    rule = edition.cite("heating")
    compressor, locked = _sum(_of(house, HeatingKind.HEAT_PUMP)), _locked(house)
    if locked and compressor:
        rest = _sum(list(house.heating)) - compressor - locked
        because = Message("the supplement is locked out while the compressor runs: the larger counts")
        return sheet.apply(
            LARGER,
            Message("Heating that can run together"),
            "VA",
            edition.cite("noncoincident"),
            because,
            compressor=compressor,
            supplement=locked,
            rest=rest,
        )
    together = len(house.heating) > 1
    because = Message("all of it can run together") if together else Message("at 100 %")
    parts = [heating.load.va for heating in house.heating]
    return sheet.apply(SUM, Message("Heating"), "VA", rule, because, parts=parts)


def _heating_name(house: House) -> Message:
    if _of(house, HeatingKind.HEAT_PUMP):
        if _of(house, HeatingKind.SUPPLEMENT):
            return Message("Heat pump and strip heat")
        return Message("Heat pump")
    return Message("Heating")


def _heating_summary(house: House) -> Message:
    if _of(house, HeatingKind.HEAT_PUMP) and _of(house, HeatingKind.SUPPLEMENT):
        return Message("never together; the larger") if _locked(house) else Message("both may run")
    return Message("heating, over cooling") if house.cooling else Message("at 100 %")


def optional_climate(house: House, edition: Edition, sheet: Sheet) -> Climate | None:
    """Return the largest of the optional method's heating and cooling selections [VA].

    Source: NEC 220.82(C)(1) to (6). None where the house has neither.
    """
    choices = _selections(house, edition, sheet)
    if not choices:
        return None
    largest = max(choices, key=lambda choice: choice.va)
    rule = edition.cite("optional_heating", f"({largest.number})")
    if len(choices) > 1:
        because = Message("only the largest selection is added: {name}", name=largest.name)
        values = [choice.va for choice in choices]
        sheet.apply(LARGEST, Message("Largest selection"), "VA", rule, because, choices=values)
    line = DemandLine("climate", Message("Heating or cooling"), largest.name, _connected(house), largest.va, rule)
    return Climate(line, ())


def many_units(house: House, edition: Edition) -> list[Heating]:
    """Return resistance heating of four or more separately controlled units, none of fewer. Source: NEC 220.83(B)."""
    heaters = _of(house, HeatingKind.RESISTANCE)
    return heaters if sum(each.units for each in heaters) >= edition.figure("optional_many_units") else []


def existing_climate(house: House, edition: Edition, sheet: Sheet) -> Climate | None:
    """Return the larger of an existing house's cooling and its heating, in full [VA]; None where it has neither.

    Source: NEC 220.83(B).
    """
    rule, many = edition.cite("existing_climate"), many_units(house, edition)
    pumps = [pump.load.va for pump in _of(house, HeatingKind.HEAT_PUMP)]
    cooled = [house.cooling.va] if house.cooling else pumps
    heated = [each.load.va for each in house.heating if each not in many]
    if not cooled and not heated:
        return None
    choices = []
    for name, parts in ((Message("cooling at 100 %"), cooled), (Message("heating at 100 %"), heated)):
        if parts:
            choices.append((sheet.apply(SUM, name, "VA", rule, None, parts=parts), name))
    va, name = max(choices, key=lambda choice: choice[0])
    if len(choices) > 1:
        because = Message("only the larger of the two is added: {name}", name=name)
        sheet.apply(LARGEST, Message("Larger of the two"), "VA", rule, because, choices=[each for each, _n in choices])
    line = DemandLine("climate", Message("Heating or cooling"), name, _connected(house), va, rule)
    return Climate(line, ())


def heating_selections(house: House) -> int:
    """Return in how many selections of 220.82(C) the house's heating lies: over one, only one counts [count]."""
    central = _of(house, HeatingKind.HEAT_PUMP) or _of(house, HeatingKind.SUPPLEMENT)
    kinds = [central, _of(house, HeatingKind.RESISTANCE), _of(house, HeatingKind.THERMAL_STORAGE)]
    return sum(1 for kind in kinds if kind)


def _selections(house: House, edition: Edition, sheet: Sheet) -> list[Selection]:
    pumps, supplements = _of(house, HeatingKind.HEAT_PUMP), _of(house, HeatingKind.SUPPLEMENT)
    stores, resistance = _of(house, HeatingKind.THERMAL_STORAGE), _of(house, HeatingKind.RESISTANCE)
    found = []

    def rule(number: int) -> Citation:
        return edition.cite("optional_heating", f"({number})")

    def add(number: int, name: Message, va: float) -> None:
        found.append(Selection(number, name, va))

    cooling = [house.cooling.va] if house.cooling else []
    cooled = cooling or [pump.load.va for pump in pumps if supplements]
    if cooled:
        name = Message("cooling at 100 %")
        because = None if cooling else Message("a heat pump also cools")
        add(1, name, sheet.apply(SUM, Message("Cooling"), "VA", rule(1), because, parts=cooled))
    if pumps and not supplements:
        parts = [pump.load.va for pump in pumps]
        name = Message("heat pump at 100 %")
        add(2, name, sheet.apply(SUM, Message("Heat pump without supplement"), "VA", rule(2), None, parts=parts))
    if supplements:
        add(3, Message("compressor, and 65 % of the supplement"), _with_supplement(house, edition, sheet, rule(3)))
    if resistance:
        number, va = _resistance(resistance, edition, sheet)
        few = number == _FEW_UNITS
        add(number, Message("fewer than four units, 65 %") if few else Message("four or more units, 40 %"), va)
    if stores:
        parts = [store.load.va for store in stores]
        name = Message("thermal storage at 100 %")
        add(6, name, sheet.apply(SUM, Message("Thermal storage"), "VA", rule(6), None, parts=parts))
    return found


_FEW_UNITS, _MANY_UNITS = 4, 5  # the selections' numbers in 220.82(C)


def _with_supplement(house: House, edition: Edition, sheet: Sheet, rule: Citation) -> float:
    supplements = _of(house, HeatingKind.SUPPLEMENT)
    locked = all(supplement.locked_out for supplement in supplements)
    because = Message("locked out: the compressor is not added") if locked else Message("both may run")
    return sheet.apply(
        WITH_COMPRESSOR,
        Message("Heat pump with supplement"),
        "VA",
        rule,
        because,
        compressor=0.0 if locked else _sum(_of(house, HeatingKind.HEAT_PUMP)),
        supplement=_sum(supplements),
        percent=edition.figure("optional_central_heat_percent"),
    )


def _resistance(heaters: list[Heating], edition: Edition, sheet: Sheet) -> tuple[int, float]:
    units = sum(heater.units for heater in heaters)
    least = edition.figure("optional_many_units")
    many = units >= least
    selection = _MANY_UNITS if many else _FEW_UNITS
    percent = edition.figure("optional_many_units_percent" if many else "optional_few_units_percent")
    because = Message(
        "{units} separately controlled units; from {least} units on the share falls", units=units, least=Figure(least)
    )
    va = sheet.apply(
        SHARE,
        Message("Space heating"),
        "VA",
        edition.cite("optional_heating", f"({selection})"),
        because,
        load=_sum(heaters),
        percent=percent,
    )
    return selection, va
