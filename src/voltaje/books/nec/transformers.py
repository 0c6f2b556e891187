"""Transformers by the NEC: devices on each side, the rules of secondary conductors, what bonds and earths them."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass

from voltaje.books.machines import Bonds, SecondaryAsked, SecondaryRule, Side
from voltaje.books.nec.conductors import Conductor, area_cmil
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.grounding import electrode_conductors, least_grounded
from voltaje.books.nec.run_tables import all_ratings, ratings, small_fuses
from voltaje.books.tables import named_by, number
from voltaje.errors import OutsideTable
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.rounding import DUST
from voltaje.sheet import Citation, Sheet, off

SHARE = Formula("amps * percent / 100")
BY_RATIO = Formula("device * primary_v / secondary_v / share")
SEEN = Formula("ampacity * secondary_v / primary_v")

_BY_CLAUSE = {"motor_control": "transformer_control", "autotransformer": "autotransformer"}
_COPPER = "Cu"
_Tried = tuple[bool, Message]


@dataclass(frozen=True)
class NecTransformers:
    """An edition's answers about transformers."""

    edition: Edition

    def sizes(self, phases: int) -> tuple[float, ...]:
        """Return the trade sizes [kVA]."""
        rows = self.edition.table("transformer_kva").rows
        return tuple(number(row, "kva") for row in rows if row["phases"] == phases)

    def side(self, amps: float, side: str, method: str, sheet: Sheet) -> Side:
        """Return the greatest device of a side. Source: Table 450.3(B), 430.72(C) for control transformers."""
        edition = self.edition
        table = edition.table("transformer_protection")
        mine = [row for row in table.rows if row["method"] == method and row["side"] == side]
        row = [each for each in mine if amps >= number(each, "from_a") - DUST][-1]
        percent, next_up = number(row, "percent"), bool(row["next_up"])
        cell = named_by(row["method"], row["side"], row["from_a"])
        rule = table.cite(edition.name, row=cell, column="percent")
        rule = edition.cite(_BY_CLAUSE[method]) if method in _BY_CLAUSE else rule
        limit = sheet.apply(SHARE, Message("Device, {side}", side=side), "A", rule, None, amps=amps, percent=percent)
        known = all_ratings(edition.name)
        place = bisect_right(known, limit + DUST)
        exact = place and abs(known[place - 1] - limit) < DUST
        if next_up and not exact and place < len(known):
            most = known[place]
            because = Message("the next higher standard rating may be taken at 125 %")
        elif place and known[place - 1] >= amps - DUST:
            most = known[place - 1]
            because = Message("not over it: no next rating up here")
        else:  # no standard rating carries its current and stays under the limit: a fuse between them does
            most = self._fuse(amps, limit, rule)
            because = Message(
                "a fuse between the standard ratings, as {clause} lets it be",
                clause=edition.cite("standard_ratings").short,
            )
        sheet.read(most, Message("At most"), "A", rule, because)
        return Side(amps, percent, most, rule)

    def _fuse(self, amps: float, limit: float, rule: Citation) -> float:
        """Return the greatest small fuse not over a limit [A]. Raises OutsideTable where none carries so much."""
        fitting = [each for each in small_fuses(self.edition.name) if amps - DUST <= each <= limit + DUST]
        if fitting:
            return fitting[-1]
        message = Message(
            "no fuse carries {amps} and is not over {limit}", amps=Figure(amps, "A", 2), limit=Figure(limit, "A", 2)
        )
        raise OutsideTable("kva", message, str(rule))

    def practical_a(self, amps: float, most_a: float) -> float:
        """Return the smallest standard rating of at least 125 %, not over what is lawful [A]. Common practice."""
        wanted = SHARE.value(amps=amps, percent=self.edition.figure("transformer_practical_percent"))
        known = self.ratings_to(most_a)
        return known[min(bisect_left(known, wanted - DUST), len(known) - 1)]

    def ratings_to(self, most_a: float) -> tuple[float, ...]:
        """Return the ratings up to one [A]: of breakers, and of fuses under the smallest breaker; where that one is
        itself between the standard ratings, those between too.
        """
        breakers, standard = ratings(self.edition.name), all_ratings(self.edition.name)
        small = tuple(each for each in standard if each < breakers[0])
        if most_a < breakers[0] and most_a not in small:
            small = small_fuses(self.edition.name)
        known = tuple(each for each in (*small, *breakers) if each <= most_a + DUST)
        return known or small[:1]

    def usual_inrush(self, build: str) -> float:
        """Return the usual switching-on current [factor of the rated one]. Common practice."""
        return self.edition.figure(f"transformer_inrush_{build}")

    def holds(self, device_a: float, inrush_a: float, curve: str) -> bool:  # noqa: ARG002  (asked of every book)
        """Return whether a breaker's magnetic release stays out [A]. Common practice: ten times its rating."""
        return inrush_a <= self.edition.figure("breaker_instant_times") * device_a + DUST

    def secondary(self, asked: SecondaryAsked) -> tuple[SecondaryRule, ...]:
        """Return each rule of secondary conductors, tried: whether it holds, and why not.

        Source: 240.21(C)(1) to (6). Of the rules that hold the first is the one that is used.
        """
        seen = SEEN.value(ampacity=asked.ampacity_a, secondary_v=asked.secondary_v, primary_v=asked.primary_v)
        tried = (
            ("secondary_by_primary", *self._by_primary(asked, seen)),
            ("secondary_10", *self._short(asked)),
            ("secondary_industrial", *self._industrial(asked)),
            ("secondary_outdoors", *self._outdoors(asked)),
            ("secondary_tap", *self._tap(asked)),
            ("secondary_25", *self._long(asked, seen)),
        )
        return tuple(SecondaryRule(self.edition.cite(topic), holds, why) for topic, holds, why in tried)

    def _by_primary(self, asked: SecondaryAsked, seen: float) -> _Tried:
        if not asked.by_primary:
            return False, Message("only single-phase two-wire, or a three-wire delta behind a delta")
        figures = {"seen": Figure(seen, "A", 1), "device": Figure(asked.primary_device_a, "A")}
        if seen < asked.primary_device_a - DUST:
            return False, Message("{seen} by the ratio is under the primary device, {device}", **figures)
        return True, Message("protected by the primary device, {device}: {seen} by the ratio", **figures)

    def _short(self, asked: SecondaryAsked) -> _Tried:
        most, share = self.edition.figure("secondary_short_ft"), self.edition.figure("secondary_10_share")
        need = BY_RATIO.value(
            device=asked.primary_device_a, primary_v=asked.primary_v, secondary_v=asked.secondary_v, share=share
        )
        if asked.length_ft is None or asked.length_ft > most + DUST:
            return False, _too_long(asked.length_ft, most)
        if not asked.protected:
            return False, Message("it must end in a device, or feed equipment that has one")
        if asked.ampacity_a < max(need, asked.device_a) - DUST:
            return False, Message("under one tenth of the primary device, {need}", need=Figure(need, "A", 1))
        return True, Message("to 10 ft: as its load and its device ask; {need} at least", need=Figure(need, "A", 1))

    def _industrial(self, asked: SecondaryAsked) -> _Tried:
        most = self.edition.figure("secondary_long_ft")
        if asked.place != "industrial":
            return False, Message("industrial, supervised: not said")
        if asked.length_ft is None or asked.length_ft > most + DUST:
            return False, _too_long(asked.length_ft, most)
        if asked.ampacity_a < max(asked.rated_a, asked.device_a) - DUST:
            return False, Message(
                "under the secondary's rated current, {rated}, or its devices together",
                rated=Figure(asked.rated_a, "A", 1),
            )
        return True, Message(
            "industrial, supervised: to 25 ft, devices grouped; {rated} at least", rated=Figure(asked.rated_a, "A", 1)
        )

    def _outdoors(self, asked: SecondaryAsked) -> _Tried:
        if asked.place != "outdoors":
            return False, Message("outdoors but at its ends: not said")
        if not asked.single_device or asked.ampacity_a < asked.device_a - DUST:
            return False, Message("it must end in one device that its conductors carry")
        return True, Message("outdoors but at its ends, guarded, one device where it enters: any length")

    def _tap(self, asked: SecondaryAsked) -> _Tried:
        edition = self.edition
        most, share = edition.figure("secondary_long_ft"), edition.figure("secondary_25_share")
        if asked.place != "feeder tap":
            return False, Message("from a feeder tap: not said")
        if asked.feeder_device_a is None:
            return False, Message("from a feeder tap: the feeder's device is not given")
        if asked.length_ft is None or asked.length_ft > most + DUST:
            return False, _too_long(asked.length_ft, most)
        need = asked.feeder_device_a / share
        seen = SEEN.value(ampacity=asked.ampacity_a, secondary_v=asked.secondary_v, primary_v=asked.primary_v)
        if min(seen, asked.primary_ampacity_a) < need - DUST or not asked.single_device:
            return False, Message(
                "primary {primary} and secondary {seen} by the ratio: not both one third of the "
                "feeder's device, {need}",
                primary=Figure(asked.primary_ampacity_a, "A", 1),
                seen=Figure(seen, "A", 1),
                need=Figure(need, "A", 1),
            )
        return True, Message(
            "from a feeder tap: 25 ft in all, primary and secondary; {need} at least of each", need=Figure(need, "A", 1)
        )

    def _long(self, asked: SecondaryAsked, seen: float) -> _Tried:
        most, share = self.edition.figure("secondary_long_ft"), self.edition.figure("secondary_25_share")
        need = asked.primary_device_a / share
        figures = {"seen": Figure(seen, "A", 1), "need": Figure(need, "A", 1)}
        if asked.length_ft is None or asked.length_ft > most + DUST:
            return False, _too_long(asked.length_ft, most)
        if not asked.single_device or not asked.protected:
            return False, Message("it must end in one device")
        if seen < need - DUST:
            return False, Message("{seen} by the ratio is under one third of the primary device, {need}", **figures)
        return True, Message("to 25 ft, one device at its end; {seen} by the ratio, {need} at least", **figures)

    def bonds(self, size: str, material: str, sets: int, sheet: Sheet) -> Bonds:
        """Return what bonds and earths a derived system by its conductors, all of it in copper.

        Source: 250.30(A), Table 250.102(C)(1) (all sets; each raceway by its own conductor), Table 250.66.
        """
        edition = self.edition
        whole = Conductor(size, material, sets, 0.0, edition.cite_table("ampacity"))
        jumper = least_grounded(whole, edition, sheet, _COPPER)
        each = least_grounded(Conductor(size, material, 1, 0.0, whole.rule), edition, off(), _COPPER)
        electrodes = {one.electrode: one.size for one in electrode_conductors(whole, edition, sheet)}
        grounded = least_grounded(Conductor(size, material, 1, 0.0, whole.rule), edition, off())
        least = edition.size_figure("parallel_from")
        if sets > 1 and area_cmil(grounded, edition) < area_cmil(least, edition):
            grounded = least
        return Bonds(jumper, each, electrodes, edition.cite("bonding_jumper"), grounded)


def _too_long(length_ft: float | None, most: float) -> Message:
    if length_ft is None:
        return Message("no length given")
    return Message("to {most}: it is {length}", most=Figure(most, "ft"), length=Figure(length_ft, "ft", 1))
