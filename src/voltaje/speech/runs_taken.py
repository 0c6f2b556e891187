"""How a run is made, taken out of a line: its cable, its size, its length, where it lies."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.quantity import read_length, read_plain, read_temperature
from voltaje.speech.said import Unused
from voltaje.speech.taken import Taken
from voltaje.speech.typed import Typed
from voltaje.speech.words import Words

_GAUGES = ("18", "16", "14", "12", "10", "8", "6", "4", "3", "2", "1", "1/0", "2/0", "3/0", "4/0")
_LARGE = ("250", "300", "350", "400", "500", "600", "750")
_MM2 = ("1", "1.5", "2.5", "4", "6", "10", "16", "25", "35", "50", "70", "95", "120", "150", "185", "240", "300", "400")
_FLAT_TWIN, _MULTICORE = "flat twin", "multicore"
_EARTH = Message("it follows from its device")


class Taker:
    """What takes a line apart, match by match; each taker says whether it used the match."""

    def __init__(self, typed: Typed, words: Words, decimal: str, rings: bool):
        self.typed, self.words, self.decimal, self.rings = typed, words, decimal, rings
        self.found = Taken()

    def guarded(self, take: Callable[[re.Match[str]], bool]) -> Callable[[re.Match[str]], bool]:
        """Return a taker that keeps what its readers refuse, and what it used of the line."""

        def guarded(match: re.Match[str]) -> bool:
            try:
                taken = take(match)
                if taken:
                    self.found.typed.append((take.__name__, self.as_typed(match).strip(" ,")))
                return taken
            except InputError as error:
                self.found.problems.append(error.message)
                return True

        return guarded

    def number(self, text: str) -> float:
        """Return a number as typed [in the unit behind it]."""
        return float(read_plain(text, self.decimal))

    def as_typed(self, match: re.Match[str]) -> str:
        """Return what was matched, as it was typed."""
        return self.typed.text[match.start() : match.end()].strip()

    def problem(self, message: Message) -> bool:
        """Keep what stands in the way; the match is used."""
        self.found.problems.append(message)
        return True

    def once(self, part: dict[str, Any], key: str, value: Any) -> bool:
        """Set a key that is not set yet."""
        if key in part:
            return False
        part[key] = value
        return True


class TakesRuns(Taker):
    """Takes how a run is made."""

    def cable(self, match: re.Match[str]) -> bool:
        """Take a cable by gauge and wires: 12/2 NM."""
        gauge, kind = match["gauge"], match["kind"]
        if gauge not in _GAUGES:
            return False
        self.found.size = self.found.size or gauge
        self.found.run.update(self.words.cables.get(kind or "", {}))
        return True

    def bare_cable(self, match: re.Match[str]) -> bool:
        """Take a cable without its kind: 12-3, which the trade says of nonmetallic cable."""
        self.found.size = self.found.size or match["gauge"]
        self.found.bare_cable = True
        return True

    def call_out(self, match: re.Match[str]) -> bool:
        """Take wires as a drawing calls them out; how many there are follows from the phases, their ground too."""
        groups = match.groupdict()
        if match["size"] not in (*_GAUGES, *_LARGE):
            return False
        bare = not (groups.get("n") or groups.get("earth") or groups.get("ground")) and "#" in match.group()
        if bare:
            return False  # a #2 behind a noun may be its name: looked at with the sizes
        if groups.get("ground"):
            self.found.unused.append(Unused(self.as_typed(match).strip(" ,"), _EARTH))
            return True
        self.found.size = self.found.size or match["size"]
        self.found.feeder_cable = "n" not in groups
        if match["earth"]:
            self.found.unused.append(Unused(f"#{match['earth']} G", _EARTH))
        return True

    def flat_cable(self, match: re.Match[str]) -> bool:
        """Take a flat or armoured cable: 2.5/1.5 T&E, 10 mm SWA."""
        size = match["mm2"].replace(",", ".").removesuffix(".0")
        if size not in _MM2:
            return False
        self.found.size = self.found.size or size
        if match["cpc"] and self.rings:
            self.found.protective = match["cpc"].replace(",", ".")
        elif match["cpc"]:
            self.found.unused.append(Unused(f"/{match['cpc']}", _EARTH))
        return True

    def ways(self, match: re.Match[str]) -> bool:
        """Take what a run lies in, or is made of; flat twin is multicore where the book has no table of it."""
        for key, value in self.words.ways[match["word"]].items():
            self.found.run.setdefault(key, _MULTICORE if value == _FLAT_TWIN and not self.rings else value)
        return True

    def curve(self, match: re.Match[str]) -> bool:
        """Take the type of a breaker."""
        return self.once(self.found.run, "device_kind", match["curve"].upper())

    def residual(self, match: re.Match[str]) -> bool:
        """Take an RCD."""
        return self.once(self.found.run, "rcd_ma", f"{match['ma']} mA")

    def method(self, match: re.Match[str]) -> bool:
        """Take an installation method by its letter."""
        return self.once(self.found.run, "method", match["letter"].upper())

    def size(self, match: re.Match[str]) -> bool:
        """Take a size: #10, 4 AWG, 350 kcmil, 2.5 mm²."""
        known = {"hash": _GAUGES, "hash2": _GAUGES, "mm": _MM2}.get(str(match.lastgroup))
        said = said_in(match, "")
        if self.found.size or (known and said not in known):
            return False
        return self._of_this_country(match, said)

    def _of_this_country(self, match: re.Match[str], said: str) -> bool:
        """Take a size as this code has it; of the other kind it is refused: 4 mm² is no 4 AWG."""
        in_mm, metric = match.lastgroup in ("mm", "mm2"), self.words.metric
        if in_mm and not metric:
            near = self.words.metric_sizes.get(said.replace(",", ".").removesuffix(".0"))
            if near is None:
                return self.problem(Message("{size} mm² is no size here: sizes are AWG and kcmil", size=said))
            return self.problem(
                Message("{size} mm² is no size here: write {near}, which is not smaller", size=said, near=near)
            )
        if not in_mm and metric:
            typed = self.as_typed(match).strip(" ,")
            return self.problem(Message("{typed} is no size here: sizes are in mm²", typed=typed))
        self.found.size = said.replace(",", ".")
        return True

    def material(self, match: re.Match[str]) -> bool:
        """Take the metal."""
        return self.once(self.found.run, "material", "Cu" if match.group().strip().startswith("c") else "Al")

    def ambient(self, match: re.Match[str]) -> bool:
        """Take what the run is corrected for."""
        typed = (
            f"{match['one'] or match['two'] or match['three']} °{(match['u1'] or match['u2'] or match['u3']).upper()}"
        )
        read_temperature(typed, self.decimal)
        return self.once(self.found.run, "ambient_c", typed)

    def length(self, match: re.Match[str]) -> bool:
        """Take a length; before a luminaire it is the size of that."""
        behind = re.match(r"[ -]*([a-z]+)", self.typed.left[match.end() :])
        if behind and self.words.kinds.get(behind[1]) == "lighting":
            self.found.unused.append(Unused(self.as_typed(match), Message("taken as the size of the fixture")))
            return True
        unit = "m" if match["metres"] else "yd" if match["yards"] else "ft"
        typed = f"{match['number'].strip()} {unit}"
        read_length(typed, unit, self.decimal)
        self.found.lengths.append(typed)
        return True

    def feet_and_inches(self, match: re.Match[str]) -> bool:
        """Take a length in feet and inches."""
        typed = self.as_typed(match)
        read_length(typed, "ft", self.decimal)
        self.found.lengths.append(typed)
        return True


def assume_cable(found: Taken, words: Words) -> None:
    """Fill in what follows from how the trade names a cable, where the line says nothing of it.

    12-3 is nonmetallic cable unless it lies in something; 2-2-2-4, a feeder's, is of aluminum unless copper is said:
    of both readings the one that carries less.
    """
    implied: dict[str, str] = {}
    if found.bare_cable and not {"method", "insulation", "raceway"} & set(found.run):
        implied |= words.cables["nm"]
    if found.feeder_cable:
        implied |= {"material": "Al"}
    for key, value in implied.items():
        if key not in found.run:
            found.run[key] = value
            found.assumed_run.add(key)


def said_in(match: re.Match[str], first: str) -> str:
    """Return what the one group says, of those whose names begin so, that took part in the match."""
    return next(value for name, value in match.groupdict().items() if name.startswith(first) and value)
