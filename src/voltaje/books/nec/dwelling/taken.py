"""A house as it is entered, taken by an edition and a supply: loads in volt-amperes, circuits at their least."""

from __future__ import annotations

from voltaje.books.nec.dwelling.house import Appliance, Cooking, Heating, House, Load
from voltaje.books.nec.dwelling.ratings import load_from, on_neutral
from voltaje.books.nec.edition import Edition
from voltaje.errors import InputError
from voltaje.inputs.read import Kept
from voltaje.message import Message
from voltaje.path.house import ApplianceSpec, HouseSpec, Occupancy
from voltaje.quantity import Rating, require_between
from voltaje.systems import System

_MOST_AREA_FT2 = 1_000_000
_MOST_LOAD_VA = 1_000_000
_ONE_VA = 1.0  # goes on in the place of a load that could not be taken


def house_of(spec: HouseSpec, edition: Edition, system: System) -> House:
    """Return a house for one edition and supply.

    Source: NEC 210.11(C)(1) and (2), 210.52(F) (least circuits), 220.5(C) (area).
    Raises: InputError with field, message and rule; others on `also`.
    """
    taker = _Taker(edition, system)
    house = taker.house(spec)
    taker.kept.finish()
    return house


class _Taker:
    """Takes the parts of a house; what is wrong is kept, each at its field."""

    def __init__(self, edition: Edition, system: System) -> None:
        self.edition, self.system, self.kept = edition, system, Kept()

    def house(self, spec: HouseSpec) -> House:
        typed, area_ft2 = spec.floor_area
        with self.kept.guard("floor_area"):
            require_between(area_ft2, 0, _MOST_AREA_FT2, "ft²", str(self.edition.cite("floor_area")), above=True)
        unit = spec.occupancy is Occupancy.UNIT
        return House(
            system=self.system,
            occupancy=spec.occupancy,
            floor_area_ft2=area_ft2,
            floor_area_typed=typed,
            small_appliance_circuits=self._circuits(
                spec.small_appliance_circuits, "small_appliance_circuits", "small_appliance_least"
            ),
            # A unit of a building whose laundry is elsewhere needs no circuit of its own.
            laundry_circuits=self._circuits(
                spec.laundry_circuits, "laundry_circuits", "laundry_least", "common_laundry" if unit else ""
            ),
            appliances=tuple(self._appliance(at, each) for at, each in enumerate(spec.appliances or ())),
            dryers=self._loads("dryers", spec.dryers, Message("Dryer")),
            cooking=tuple(
                Cooking(each.kind, self._load(f"cooking[{at}].load", each.load, Message("Cooking")), each.count)
                for at, each in enumerate(spec.cooking or ())
            ),
            heating=tuple(
                Heating(
                    each.kind,
                    self._load(f"heating[{at}].load", each.load, Message("Heating")),
                    each.units,
                    each.locked_out,
                )
                for at, each in enumerate(spec.heating or ())
            ),
            cooling=self._load("cooling", spec.cooling, Message("Cooling"))
            if spec.cooling and spec.cooling.value
            else None,
            chargers=self._loads("vehicle_chargers", spec.vehicle_chargers, Message("Vehicle charger")),
            material=spec.conductor_material,
            terminals=spec.terminals,
            half=spec.exact_half_kw,
        )

    def _circuits(self, given: int | None, field: str, topic: str, none_by: str = "") -> int:
        """Return how many circuits count: as given, and not under the edition's least.

        none_by: topic of the clause that lets there be none, "" where none does
        """
        least = int(self.edition.figure(topic))
        if given is None:
            return least
        low = 0 if none_by else least
        if given < low:
            message = Message("must be a whole number from {low} on", low=low)
            self.kept.errors.append(InputError(field, message, str(self.edition.cite(none_by or topic))))
        return given

    def _loads(self, field: str, ratings: list[Rating] | None, name: Message) -> tuple[Load, ...]:
        return tuple(self._load(f"{field}[{at}]", each, name) for at, each in enumerate(ratings or ()))

    def _load(self, field: str, rating: Rating, name: Message, volts: float | None = None) -> Load:
        with self.kept.guard(field):
            load = load_from(rating, field, name, self.edition, self.system, volts)
            if load.va > _MOST_LOAD_VA:
                raise InputError(field, Message("is more than a dwelling's load can be"))
            return load
        return Load(field, rating.typed, _ONE_VA)

    def _appliance(self, at: int, spec: ApplianceSpec) -> Appliance:
        volts = spec.volts
        if volts is not None:
            try:
                on_neutral(volts, self.system)  # refuses what the supply does not have
            except InputError as error:
                self.kept.errors.append(error.at(f"appliances[{at}].volts"))
                volts = None
        load = self._load(f"appliances[{at}].load", spec.load, Message("{name}", name=spec.name), volts)
        return Appliance(
            name=spec.name,
            load=load,
            motor=load.hp is not None if spec.motor is None else spec.motor,
            fastened=spec.fastened,
            on_neutral=volts is None or on_neutral(volts, self.system),
            volts_known=volts is not None,
        )
