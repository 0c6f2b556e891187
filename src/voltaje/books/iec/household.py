"""How the circuits of a household at 230 V count together: diversity of the profile's own practice."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.answers import Household
from voltaje.books.households import HouseCircuit, HouseDemand, UsualCircuit
from voltaje.books.iec.profile import PACKAGE, Profile
from voltaje.books.tables import Row, load_table, number, text
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.kinds import traits_of
from voltaje.sheet import Sheet

OF_AMPS = Formula("amps * volts")
PART = Formula("whole + share * (connected - whole)")
WITH_SOCKET = Formula("counted + socket")
STEPS = Formula("first + more * ceil((points - first_points) / each_points)")


@dataclass(frozen=True)
class IecHouseholds:
    """A profile's answers about the demand of a household."""

    profile: Profile

    def _rows(self) -> list[Row]:
        rows = load_table(PACKAGE, "household").rows
        return [row for row in rows if row["practice"] in (self.profile.household, "any")]

    def main_fuses(self) -> tuple[float, ...]:
        """Return the usual fuses of a dwelling's supply [A]: common practice."""
        return tuple(number(row, "amps") for row in load_table(PACKAGE, "house_fuses").rows)

    def demand(self, circuits: Sequence[HouseCircuit], sheet: Sheet) -> tuple[HouseDemand, ...]:
        """Return what each of the circuits counts, in their order.

        Of kinds whose largest count whole the largest of all circuits of that rule do, wherever they were listed.
        Source: IET on-site practice of BS 7671 311.1 (common practice), AS/NZS 3000 Table C1; entered values win.
        A kind without a rule counts whole. Raises: InputError for one whose points are not given.
        """
        rules = {text(row, "kind"): row for row in self._rows()}
        found: dict[int, HouseDemand] = {}
        groups: dict[str, list[int]] = {}
        for at, each in enumerate(circuits):
            row = rules.get(each.kind)
            if row is None or each.diversity is not None:
                found[at] = _plain(each)
            else:
                groups.setdefault(text(row, "group"), []).append(at)
        for places in groups.values():
            mine, row = [circuits[at] for at in places], rules[circuits[places[0]].kind]
            work = self._by_points if row["first_points"] else self._largest if row["largest"] else self._part
            found.update(zip(places, work(mine, row, sheet), strict=True))
        return tuple(found[at] for at in range(len(circuits)))

    def usual(self, circuit: str, device_a: float) -> UsualCircuit | None:
        """Return what practice has of a circuit of sockets with a device; None where it has nothing.

        Source: common practice, as on-site guidance to BS 7671 has it.
        """
        rows = load_table(PACKAGE, "usual_circuits").rows
        mine = (row for row in rows if row["practice"] in (self.profile.household, "any"))
        found = next((row for row in mine if row["circuit"] == circuit and row["device_a"] == device_a), None)
        return None if found is None else UsualCircuit(text(found, "size"), number(found, "floor_m2"))

    def own_circuit_va(self, unit: Household, sheet: Sheet) -> float:
        """Return what a cooker counts on its own circuit [VA], other units as they are.

        Source: IET on-site practice of BS 7671 311.1 (common practice): 10 A, 30 % of the rest, 5 A for a socket.
        """
        kind = traits_of(unit.kind).at_home
        row = next((row for row in self._rows() if row["kind"] == kind and row["first"] and row["socket"]), None)
        if row is None or row["first_points"]:
            return unit.va
        amps = unit.va / unit.volts
        circuit = HouseCircuit(kind, amps, 1, 1, unit.with_socket, 1, None, "")
        (counted,) = self._part([circuit], row, sheet)
        values = {"amps": counted.total_a, "volts": unit.volts}
        return sheet.apply(OF_AMPS, Message("On its own circuit"), "VA", counted.rule, None, **values)

    def _by_points(self, mine: Sequence[HouseCircuit], row: Row, sheet: Sheet) -> list[HouseDemand]:
        """Return a group that counts by its points, all of them together, each circuit with its part."""
        for each in mine:
            if not each.points:
                raise InputError(f"{each.field}.points", Message("give how many points it has"))
        steps = {key: number(row, key) for key in ("first", "more", "first_points", "each_points")}
        points = sum(each.points for each in mine)
        steps["points"] = max(float(points), steps["first_points"])
        rule = self.profile.cite_table("household")
        together = sheet.apply(STEPS, _name(row), "A", rule, Message("all points together"), **steps)
        why = Message("by {n} points in all", n=points)
        return [HouseDemand(each.amps * each.count, (together * each.points / points,), why, rule) for each in mine]

    def _largest(self, mine: Sequence[HouseCircuit], row: Row, sheet: Sheet) -> list[HouseDemand]:
        """Return a group of which the largest count whole, the others a share."""
        most, share, rule = int(number(row, "largest")), number(row, "share"), self.profile.cite_table("household")
        left, whole = most, [0] * len(mine)
        for at in sorted(range(len(mine)), key=lambda at: -mine[at].amps):
            whole[at] = min(left, mine[at].count)
            left -= whole[at]
        why = Message("the largest whole, others {share}", share=Figure(share * 100, "%"))
        if most > 1:
            why = Message("the {n} largest whole, others {share}", n=most, share=Figure(share * 100, "%"))
        found = []
        for at, each in enumerate(mine):
            amps = (each.amps,) * whole[at] + (each.amps * share,) * (each.count - whole[at])
            sheet.read(sum(amps), Message("{kind}", kind=each.kind), "A", rule, why)
            found.append(HouseDemand(each.amps * each.count, amps, why, rule))
        return found

    def _part(self, mine: Sequence[HouseCircuit], row: Row, sheet: Sheet) -> list[HouseDemand]:
        """Return a group whose first amperes count whole, the rest a share, all of it together."""
        share, socket, rule = number(row, "share"), number(row, "socket"), self.profile.cite_table("household")
        connected = sum(each.amps * each.count for each in mine)
        first = min(number(row, "first"), connected)
        counted = sheet.apply(PART, _name(row), "A", rule, None, whole=first, share=share, connected=connected)
        why = Message("{share}", share=Figure(share * 100, "%"))
        if first:
            why = Message("{first} and {share} of the rest", first=Figure(first, "A"), share=Figure(share * 100, "%"))
        found = []
        for each in mine:
            amps = counted * each.amps / connected
            if each.with_socket and socket:
                label = Message("with its socket")
                amps = sheet.apply(WITH_SOCKET, label, "A", rule, None, counted=amps, socket=socket)
            found.append(HouseDemand(each.amps * each.count, (amps,) * each.count, why, rule))
        return found


def _name(row: Row) -> Message:
    return Message("{kind}", kind=text(row, "kind"))


def _plain(asked: HouseCircuit) -> HouseDemand:
    """Return what counts whole, or as a person entered it."""
    connected = asked.amps * asked.count
    if asked.diversity is None:
        return HouseDemand(connected, (asked.amps,) * asked.count, Message("whole: no diversity here"), None)
    why = Message("entered: {share}", share=Figure(asked.diversity * 100, "%"))
    return HouseDemand(connected, (asked.amps * asked.diversity,) * asked.count, why, None)
