"""The quantities of a line: each found by its unit or by the words around it, and taken out of what is left."""

from __future__ import annotations

import re

from voltaje.digits import is_whole
from voltaje.errors import InputError
from voltaje.limits import MOST_CIRCUITS_OF_A_LINE
from voltaje.message import Message
from voltaje.quantity import read_area, read_rating
from voltaje.speech.patterns import patterns
from voltaje.speech.plates import SeveralAmps, holds_as_many, sides_of
from voltaje.speech.runs_taken import TakesRuns, assume_cable, said_in
from voltaje.speech.said import Unused
from voltaje.speech.taken import Amps, Power, Taken
from voltaje.speech.typed import Typed
from voltaje.speech.words import words_of
from voltaje.systems import SYSTEMS

_POLES = {"1": 1, "single": 1, "one": 1, "2": 2, "double": 2, "two": 2, "3": 3, "three": 3, "triple": 3, "tri": 3}


_LEFT_OVER = {
    "starting": Message("starting currents are not reckoned"),
    "hertz": Message("the frequency is not used"),
    "inches": Message("the size of the raceway is not chosen"),
    "curve": Message("trip curves and kinds of residual current device are not reckoned"),
    "cores": Message("the cores follow from the phases"),
    "code": Message("starting currents are not reckoned"),
    "speed": Message("not needed for its circuit"),
    "other": Message("not needed for its circuit"),
}
# What only a motor's plate has beside its kW and its amperes.
_OF_A_MOTOR = ("speed", "starting", "code")


def take_all(typed: Typed, family: str, decimal: str, rings: bool = False) -> Taken:
    """Take everything with a unit out of a line; rings: whether the book has them, and flat twin cable."""
    taking = _Taking(typed, words_of(family), decimal, rings)
    for pattern, name in patterns(family):
        typed.take(pattern, taking.guarded(getattr(taking, name)))
    assume_cable(taking.found, taking.words)
    return taking.found


class _Taking(TakesRuns):
    """Takes one pattern after the other."""

    # Names and what cannot be used

    def called(self, match: re.Match[str]) -> bool:
        self.found.called = self.typed.text[match.start("name") : match.end("name")].strip()
        return True

    def negative(self, match: re.Match[str]) -> bool:
        return self.problem(Message("{typed} is negative: write it without the sign", typed=self.as_typed(match)))

    def output(self, match: re.Match[str]) -> bool:
        self.found.output = self.as_typed(match)
        return True

    def left_over(self, match: re.Match[str]) -> bool:
        why = _LEFT_OVER[str(match.lastgroup)]
        if match.lastgroup == "code":
            self.found.code = match.group()[-1].upper()
        self.found.of_a_motor = self.found.of_a_motor or match.lastgroup in _OF_A_MOTOR
        self.found.unused.append(Unused(self.as_typed(match).strip(" ,"), why))
        return True

    # What the breaker or fuse is

    def shape(self, match: re.Match[str]) -> bool:
        if match["shape"] not in self.words.shapes:
            return False
        amps, poles = self.words.shapes[match["shape"]]
        self.found.shape = match["shape"].upper()
        self.found.poles = poles
        self.found.amps.append(Amps(amps, "device", *match.span()))
        return True

    def device(self, match: re.Match[str]) -> bool:
        self.found.amps.append(Amps(self.number(said_in(match, "d")), "device", *match.span()))
        return True

    def device_by_poles(self, match: re.Match[str]) -> bool:
        value = self.number(said_in(match, "d"))
        if value not in self.words.ratings:
            return False
        self.found.poles = _POLES[said_in(match, "n")]
        self.found.amps.append(Amps(value, "device", *match.span()))
        return True

    def device_by_curve(self, match: re.Match[str]) -> bool:
        ok = self.words.curves and self.number(match["d"]) in self.words.ratings and self.device(match)
        if ok and self.words.metric:
            self.found.run["device_kind"] = match["curve"].upper()
        return ok

    def load_amps(self, match: re.Match[str]) -> bool:
        value = self.number(said_in(match, "d"))
        self.found.amps.append(Amps(value, "load", *match.span()))
        return True

    def mca(self, match: re.Match[str]) -> bool:
        self.found.mca = self.number((match["a"] or match["b"]).rstrip(" a"))
        return True

    def duty(self, match: re.Match[str]) -> bool:
        self.found.duty = self.number(match["a"] or match["b"])
        self.found.duty_typed = self.as_typed(match).strip(" ,")
        return True

    def mop(self, match: re.Match[str]) -> bool:
        self.found.mop = self.number((match["a"] or match["b"]).rstrip(" a"))
        self.found.mop_typed = self.as_typed(match).strip(" ,")
        return True

    def service_factor(self, match: re.Match[str]) -> bool:
        self.found.service_factor = self.number(match["a"])
        self.found.of_a_motor = True
        return True

    def held_to(self, match: re.Match[str]) -> bool:
        self.found.held_to = self.number(match["d"])
        return True

    def shared(self, _match: re.Match[str]) -> bool:
        self.found.shared = True
        return True

    def several_amps(self, match: re.Match[str]) -> bool:
        amps = tuple(self.number(each) for each in re.split(r"[-/]", match["amps"]))
        if not holds_as_many(self.typed.left, len(amps)):
            return False
        self.found.several = SeveralAmps(self.as_typed(match).strip(" ,"), amps)
        return True

    def sides(self, match: re.Match[str]) -> bool:
        """Take both sides of a transformer; two volts of anything else are one plate's for two supplies."""
        if self.words.load.search(self.typed.left):
            return False
        high = self.number(match["kv"]) * 1000 if match["kv"] else float(match["p"].replace(",", ""))
        primary = (float(match["p2"]), high) if match["p2"] else (high,)
        sides = sides_of(primary, float(match["s"]), float(match["n"] or 0), match["delta"] is not None)
        self.found.sides = self.found.sides or sides
        return sides is not None

    def kilovolts(self, match: re.Match[str]) -> bool:
        self.found.volts.append((self.number(match["kv"]) * 1000,))
        return True

    def impedance(self, match: re.Match[str]) -> bool:
        self.found.impedance = self.number(match["z"] or match["z2"])
        return True

    # How it runs

    def cookers(self, match: re.Match[str]) -> bool:
        """Take the appliances of one kitchen circuit, each with its plate in kW; together they are its rating."""
        said = re.findall(r"(oven|cooktop|range) ?(?:of )?(\d+(?:[.,]\d+)?)", match.group())
        if "kw" not in match.group():
            return False
        kw = [self.number(each) for _kind, each in said]
        self.found.cookers = [
            {"kind": kind, "load": f"{each:g} kW"} for (kind, _said), each in zip(said, kw, strict=True)
        ]
        typed = f"{sum(kw):g} kW"
        self.found.powers.append(Power(typed, read_rating(typed), *match.span()))
        return True

    def spaces(self, match: re.Match[str]) -> bool:
        """Take how many devices a board has room for: 42 spaces, 12-way."""
        if not self.words.board.search(self.typed.left):
            return False
        self.found.spaces = int(match["n"])
        return True

    # Volts, phases, poles, legs

    def system(self, match: re.Match[str]) -> bool:
        named = _system_of(match["a"], match["y"] or "", match["b"])
        if not named:
            return False
        self.found.systems.append(named)
        self.found.pairs.append((float(match["a"]), float(match["b"])))
        return True

    def volts_and_phase(self, match: re.Match[str]) -> bool:
        self.found.volts.append((self.number(match["volts"]),))
        self.found.phases = int(match["n"])
        if match["hertz"]:
            self.found.unused.append(Unused(match["hertz"].strip("/-"), _LEFT_OVER["hertz"]))
        return True

    def volts(self, match: re.Match[str]) -> bool:
        self.found.volts.append(tuple(self.number(each) for each in re.split(r"[-/Yy]+", match["volts"]) if each))
        return True

    def phases(self, match: re.Match[str]) -> bool:
        self.found.phases = 3 if match["three"] else 1
        self.found.poles = 2 if match["two"] else self.found.poles
        return True

    def poles(self, match: re.Match[str]) -> bool:
        self.found.poles = _POLES[match["n"]]
        return True

    def legs(self, match: re.Match[str]) -> bool:
        letter = match["letter"]
        legs = (
            [f"L{'abc'.index(letter) + 1}"] if letter else [f"L{each}" for each in re.findall("[123]", match["legs"])]
        )
        self.found.legs = self.found.legs or legs
        return True

    # The load

    def power(self, match: re.Match[str]) -> bool:
        unit = "hp" if match["hp"] else {"watt": "W", "watts": "W"}.get(match["unit"], "")
        number = match["number"].strip()
        typed_unit = self.typed.text[match.start("unit") : match.end("unit")] if match["unit"] else ""
        if match["hp"]:
            typed_unit = self.typed.text[match.start("hp") : match.end("hp")]
            unit = typed_unit if typed_unit.lower() == "hp" else "hp"
        typed = f"{number} {unit or typed_unit}"
        if self._reads_two_ways(number) and not match["hp"]:
            return self._two_ways(match, number, typed_unit)
        rating = read_rating(typed, self.decimal)
        if not rating.value > 0:
            return self.problem(Message("{typed}: must be more than zero", typed=typed))
        self.found.powers.append(Power(typed, rating, *match.span()))
        return True

    def amps(self, match: re.Match[str]) -> bool:
        number = match["number"].strip()
        if self._reads_two_ways(number):
            return self._two_ways(match, number, "A")
        self.found.amps.append(Amps(self.number(number), "", *match.span()))
        return True

    def _reads_two_ways(self, number: str) -> bool:
        """Return whether 14 200 may be 14 and 200."""
        return re.fullmatch(r"\d{1,2} \d{3}", number) is not None

    def _two_ways(self, match: re.Match[str], number: str, unit: str) -> bool:
        first, second = number.split()
        message = Message(
            "{typed} reads two ways: write {together} {unit}, or {first} × {second} {unit}",
            typed=self.as_typed(match),
            together=first + second,
            first=first,
            second=second,
            unit=unit,
        )
        return self.problem(message)

    def area(self, match: re.Match[str]) -> bool:
        typed = f"{match['number'].strip()} {'m²' if match['metric'] else 'ft²'}"
        read_area(typed, self.decimal)
        self.found.areas.append(typed)
        return True

    def power_factor(self, match: re.Match[str]) -> bool:
        return self.once(self.found.load, "power_factor", self.number(match["before"] or match["after"]))

    def continuous(self, match: re.Match[str]) -> bool:
        if match["non"]:
            return self.once(self.found.load, "continuous", 0)
        share = self.number(match["share"]) / 100 if match["share"] else 1
        return self.once(self.found.load, "continuous", share)

    def way(self, match: re.Match[str]) -> bool:
        return self.once(self.found.load, "way", int(match["way"]))

    # How many, and where

    def count(self, match: re.Match[str]) -> bool:
        if self.found.count or self._is_fixture_size(match.start()):
            return False
        self.found.count = self._counted(said_in(match, "c"))
        self.found.each = self.found.each or match["c5"] is not None or match["c7"] is not None
        return True

    def _is_fixture_size(self, start: int) -> bool:
        """Return whether `2x4` is the size of a luminaire and no count."""
        token = re.match(r"\d+x\d+\b", self.typed.left[start:])
        if not token or token.group() not in self.words.lists["fixture_sizes"]:
            return False
        behind = self.typed.left[start + token.end() :].split()
        return bool(behind) and behind[0][:1].isalpha() and behind[0] not in ("w", "kw", "va")

    def circuits(self, match: re.Match[str]) -> bool:
        self.found.circuits = self._counted(match["n"])
        return True

    def _counted(self, said: str) -> int:
        if said[0].isdigit() and not is_whole(said):
            raise InputError("", Message("a line makes at most {most} circuits", most=MOST_CIRCUITS_OF_A_LINE))
        number = int(said) if is_whole(said) else self.words.numbers[said]
        if not number:
            raise InputError("", Message("{n} of them: there is nothing to add", n=number))
        return number

    def together(self, _match: re.Match[str]) -> bool:
        self.found.together = True
        return True

    def said_each(self, _match: re.Match[str]) -> bool:
        self.found.each = True
        return True

    def board(self, match: re.Match[str]) -> bool:
        self.found.board = self.typed.text[match.start("board") : match.end("board")].strip(" ,.")
        return bool(self.found.board)


def _system_of(one: str, wye: str, two: str) -> str:
    """Return the system that two volts name, "" where they name none."""
    high, low = max(int(one), int(two)), min(int(one), int(two))
    if not wye and (high, low) == (240, 120):
        return "120/240 1ph 3w"
    for name, system in SYSTEMS.items():
        if (
            system.phases > 1
            and (system.line_to_line_v, system.line_to_neutral_v) == (high, low)
            and not system.high_leg
        ):
            return name
    return ""
