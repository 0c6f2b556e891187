"""A whole house: both methods, the service by the chosen one, and what there is to say about it."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.nec.dwelling.climate import heating_selections
from voltaje.books.nec.dwelling.demand import Demand
from voltaje.books.nec.dwelling.existing import existing_demand
from voltaje.books.nec.dwelling.house import House
from voltaje.books.nec.dwelling.optional import optional_demand
from voltaje.books.nec.dwelling.service import Service, size_service
from voltaje.books.nec.dwelling.standard import standard_demand
from voltaje.books.nec.edition import Edition
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.house import HeatingKind, Method


@dataclass(frozen=True)
class HouseSolution:
    """A house solved: the chosen method's demand and service, the other method's beside it."""

    house: House
    edition: Edition
    method: Method
    demands: dict[Method, Demand]
    services: dict[Method, Service]
    findings: tuple[Finding, ...]

    @property
    def demand(self) -> Demand:
        """The demand by the chosen method."""
        return self.demands[self.method]

    @property
    def service(self) -> Service:
        """The service by the chosen method."""
        return self.services[self.method]

    @property
    def other(self) -> Method:
        """The method that was not chosen."""
        return Method.OPTIONAL if self.method is Method.STANDARD else Method.STANDARD


def solve_house(house: House, method: Method, edition: Edition, record: bool = True) -> HouseSolution:
    """Return a house solved by every method. Raises OutsideTable where a table does not reach.

    Source: NEC Article 220 Parts III and IV.
    """
    standard = standard_demand(house, edition, record)
    demands = {
        Method.STANDARD: standard,
        Method.OPTIONAL: optional_demand(house, edition, record),
        Method.EXISTING: existing_demand(house, edition, record),
    }
    services = {each: size_service(demands[each], standard, house, edition, record) for each in Method}
    findings = tuple(_findings(house, method, services, edition))
    return HouseSolution(house, edition, method, demands, services, findings)


def _findings(house: House, method: Method, services: dict[Method, Service], edition: Edition) -> list[Finding]:
    service = services[method]
    found = [
        *_continuous(service, edition),
        *_two_legs(service, edition),
        *_heating(house, method, edition),
        *_conductor(service, edition),
        *_entries(house, edition),
        _other_method(method, services, edition),
    ]
    return sorted(found, key=lambda finding: list(Severity).index(finding.severity))


def _continuous(service: Service, edition: Edition) -> list[Finding]:
    if service.need_a <= service.amps:
        return []
    same = service.device_a == service.device_plain_a
    message = Message(
        "The charger is taken as continuous, at 125 %: {need} and a {device} device. "
        "Those who take the calculated load as it stands reach {amps} and {plain}.",
        need=Figure(service.need_a, "A", 1),
        device=Figure(service.device_a, "A"),
        amps=Figure(service.amps, "A", 1),
        plain=Figure(service.device_plain_a, "A"),
    )
    mend = Message("Ask the local authority which practice it follows.")
    severity = Severity.NOTE if same else Severity.WARN
    return [
        Finding(severity, "dwelling.charger_continuous", message, edition.cite("continuous"), "vehicle_chargers", mend)
    ]


def _two_legs(service: Service, edition: Edition) -> list[Finding]:
    if service.leg_amps is None:
        return []
    over = service.leg_amps > service.device_a
    message = Message(
        "By volt-amperes over twice 120 V each leg carries {amps}; with line-to-line loads at 208 V, {leg}.",
        amps=Figure(service.amps, "A", 1),
        leg=Figure(service.leg_amps, "A", 1),
    )
    mend = Message("The leg figure is above the device: consider the next rating.") if over else None
    severity = Severity.WARN if over else Severity.NOTE
    return [Finding(severity, "dwelling.leg_current", message, edition.cite("volts"), "system", mend)]


def _heating(house: House, method: Method, edition: Edition) -> list[Finding]:
    found = []
    if method is Method.OPTIONAL and heating_selections(house) > 1:
        message = Message(
            "The heating lies in more than one selection and only the largest is counted. "
            "If they run together, the real load is higher."
        )
        mend = Message("Where they can run together, compare with the standard method.")
        found.append(
            Finding(
                Severity.WARN, "dwelling.heating_selections", message, edition.cite("optional_heating"), "heating", mend
            )
        )
    kinds = {heating.kind for heating in house.heating}
    if HeatingKind.SUPPLEMENT in kinds and HeatingKind.HEAT_PUMP not in kinds:
        message = Message("There is a heat pump supplement but no heat pump.")
        mend = Message("Add the heat pump, or enter the heat as resistance.")
        found.append(
            Finding(Severity.WARN, "dwelling.supplement_alone", message, edition.cite("heating"), "heating", mend)
        )
    if HeatingKind.HEAT_PUMP in kinds and house.cooling is not None:
        message = Message("Cooling is compared with heating as a whole; the heat pump already counts as heating.")
        mend = Message("Let the cooling entry hold all that cools at one time, the heat pump too if it does.")
        found.append(
            Finding(Severity.NOTE, "dwelling.cooling_compared", message, edition.cite("noncoincident"), "cooling", mend)
        )
    return found


def _conductor(service: Service, edition: Edition) -> list[Finding]:
    found = []
    if service.conductor.ampacity_a < service.amps:
        message = Message(
            "The conductor's table ampacity, {ampacity}, is under the demand, {amps}: the 83 % rule allows it "
            "for a whole dwelling without adjustment for ambient or bundling.",
            ampacity=Figure(service.conductor.ampacity_a, "A"),
            amps=Figure(service.amps, "A"),
        )
        mend = Message("Use the ordinary table's size where the run is hot, bundled or long.")
        found.append(Finding(Severity.NOTE, "dwelling.conductor_by_83", message, service.conductor.rule, "", mend))
    if service.column_c > 60 and service.device_a <= edition.figure("terminals_60_to_a"):  # noqa: PLR2004
        message = Message("The 75 °C column serves only where lugs and breaker are marked 75 °C.")
        mend = Message("If the terminals are not marked, set them to unmarked.")
        found.append(
            Finding(Severity.NOTE, "dwelling.terminals", message, edition.cite("terminals"), "terminals", mend)
        )
    return found


def _entries(house: House, edition: Edition) -> list[Finding]:
    found = []
    for place, item in enumerate(house.appliances):
        if not item.volts_known:
            message = Message(
                "The voltage of {name} is not given: its load is kept on the neutral, the safe side.",
                name=item.name or Message("an appliance"),
            )
            mend = Message("Give 120 or 240 V.")
            field = f"appliances[{place}].volts"
            found.append(
                Finding(Severity.NOTE, "dwelling.voltage_not_given", message, edition.cite("neutral"), field, mend)
            )
    return found


def _other_method(method: Method, services: dict[Method, Service], edition: Edition) -> Finding:
    other = Method.OPTIONAL if method is Method.STANDARD else Method.STANDARD
    mine, theirs = services[method], services[other]
    less = mine.amps - theirs.amps
    values = {"amps": Figure(abs(less), "A"), "device": Figure(theirs.device_a, "A")}
    if method is Method.EXISTING:
        text = Message(
            "For a house that stands, what is added listed with what is there. The standard method would come to "
            "{other}, {device}.",
            other=Figure(theirs.amps, "A"),
            device=values["device"],
        )
        return Finding(Severity.NOTE, "dwelling.other_method", text, edition.cite("existing"), "method")
    if other is Method.OPTIONAL:
        less_text = Message(
            "The optional method is lawful here and comes {amps} lower, to a {device} device.", **values
        )
        more_text = Message("The optional method would come {amps} higher, to a {device} device.", **values)
        rule = edition.cite("optional")
    else:
        less_text = Message("The standard method would come {amps} lower, to a {device} device.", **values)
        more_text = Message("The standard method would come {amps} higher, to a {device} device.", **values)
        rule = edition.cite("total")
    return Finding(Severity.NOTE, "dwelling.other_method", less_text if less > 0 else more_text, rule, "method")
