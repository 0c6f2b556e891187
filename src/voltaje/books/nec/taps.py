"""Feeder taps by the NEC: conductors smaller than the device before them guards, their own device at their end."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.machines import SecondaryRule, TapAsked
from voltaje.books.nec.conductors import area_cmil
from voltaje.books.nec.edition import Edition
from voltaje.message import Figure, Message
from voltaje.rounding import DUST

_Tried = tuple[bool, Message]
_NOT_ONE = Message("it must end in one device that its conductors carry")


@dataclass(frozen=True)
class NecTaps:
    """An edition's answers about feeder taps."""

    edition: Edition

    def taps(self, asked: TapAsked) -> tuple[SecondaryRule, ...]:
        """Return each rule of feeder taps, tried: whether it holds, and why not.

        Source: 240.21(B)(1), (2), (4), (5). Of the rules that hold the first is the one that is used. Taps that feed
        a transformer, (3), stand with its secondary.
        """
        tried = (
            ("tap_10", *self._short(asked)),
            ("tap_25", *self._long(asked)),
            ("tap_high_bay", *self._high_bay(asked)),
            ("tap_outdoors", *_outdoors(asked)),
        )
        return tuple(SecondaryRule(self.edition.cite(topic), holds, why) for topic, holds, why in tried)

    def _short(self, asked: TapAsked) -> _Tried:
        most = self.edition.figure("tap_short_ft")
        need = asked.feeder_device_a / self.edition.figure("tap_10_share")
        if not _reaches(asked, most):
            return False, _too_long(asked.length_ft, most)
        if asked.ampacity_a < max(need, asked.device_a) - DUST:
            return False, Message(
                "under one tenth of the feeder's device, {need}, or under the device at its end",
                need=Figure(need, "A", 1),
            )
        return True, Message(
            "to 10 ft, in a raceway: as its load and its device ask; {need} at least, one tenth of the feeder's device",
            need=Figure(need, "A", 1),
        )

    def _long(self, asked: TapAsked) -> _Tried:
        most = self.edition.figure("tap_long_ft")
        need = asked.feeder_device_a / self.edition.figure("tap_25_share")
        if not _reaches(asked, most):
            return False, _too_long(asked.length_ft, most)
        if not _ends_in_one(asked):
            return False, _NOT_ONE
        if asked.ampacity_a < need - DUST:
            return False, Message("under one third of the feeder's device, {need}", need=Figure(need, "A", 1))
        return True, Message(
            "to 25 ft, guarded, one device at its end; {need} at least, one third of the feeder's device",
            need=Figure(need, "A", 1),
        )

    def _high_bay(self, asked: TapAsked) -> _Tried:
        most, level = self.edition.figure("tap_high_bay_ft"), self.edition.figure("tap_long_ft")
        need = asked.feeder_device_a / self.edition.figure("tap_25_share")
        least = self.edition.size_figure(f"tap_high_bay_{asked.material.lower()}")
        if asked.place != "high bay":
            return False, Message("in the high bay of a factory: not said")
        if not _reaches(asked, most):
            return False, _too_long(asked.length_ft, most)
        if not _ends_in_one(asked):
            return False, _NOT_ONE
        if asked.ampacity_a < need - DUST:
            return False, Message("under one third of the feeder's device, {need}", need=Figure(need, "A", 1))
        if area_cmil(asked.size, self.edition) < area_cmil(least, self.edition):
            return False, Message("{least} AWG at least", least=least)
        return True, Message(
            "to {most}, of it {level} level, in a factory of walls over 35 ft high under qualified care: guarded, not "
            "spliced, through no wall, floor or ceiling, begun 30 ft over the floor or higher; {least} AWG and {need} "
            "at least",
            most=Figure(most, "ft"),
            level=Figure(level, "ft"),
            least=least,
            need=Figure(need, "A", 1),
        )


def _outdoors(asked: TapAsked) -> _Tried:
    if asked.place != "outdoors":
        return False, Message("outdoors but at its ends: not said")
    if not _ends_in_one(asked):
        return False, _NOT_ONE
    return True, Message("outdoors but at its ends, guarded, one device where it enters: any length")


def _ends_in_one(asked: TapAsked) -> bool:
    return asked.single_device and asked.ampacity_a >= asked.device_a - DUST


def _reaches(asked: TapAsked, most: float) -> bool:
    return asked.length_ft is not None and asked.length_ft <= most + DUST


def _too_long(length_ft: float | None, most: float) -> Message:
    if length_ft is None:
        return Message("no length given")
    return Message("to {most}: it is {length}", most=Figure(most, "ft"), length=Figure(length_ft, "ft", 1))
