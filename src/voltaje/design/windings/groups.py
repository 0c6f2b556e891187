"""Vector groups: coils joined as a name says, and the name that joined coils show; the clock is computed.

High-voltage terminals are A B C, low-voltage ones a b c; the hour is where a stands when A points to twelve.
"""

from __future__ import annotations

import cmath
import itertools
import math
import re
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.physics.windings import Coil, Wound, three_phase, wound

Joint = tuple[str, str]
Lines = tuple[str, str, str]

HIGH: Lines = ("A", "B", "C")
LOW: Lines = ("a", "b", "c")
_NAMED = re.compile(r"([YDZ])N?([YDZ])N?(\d{1,2})", re.IGNORECASE)
_HOUR_DEG, _HOURS, _THREE, _SIX = 30.0, 12, 3, 6
_NEAR_DEG = 0.5
_SMALL = 1e-9


class Windings(NamedTuple):
    """Coils with their joints."""

    coils: tuple[Coil, ...]
    joints: tuple[Joint, ...]


class Group(NamedTuple):
    """What joined coils show under a symmetrical supply: letters of both sides, the hour, the ratio of line volts.

    hour: None where it is no hour of a clock (with a reason); reverse: whether the low side turns the other way
    """

    letters: str
    hour: int | None
    degrees: float
    ratio: float
    reverse: bool
    reason: Message | None = None

    @property
    def name(self) -> str:
        """Its name, such as Dy11; letters alone where there is no hour."""
        return f"{self.letters}{self.hour}" if self.hour is not None else self.letters


def named(text: str, high_v: float, low_v: float) -> Windings:
    """Return the coils and joints of a group by its name; volts: rated, line to line. Raises InputError."""
    match = _NAMED.fullmatch(re.sub(r"[\s-]", "", text))
    if match is None or int(match[3]) >= _HOURS:
        raise InputError("", Message("must be a vector group such as Dyn11, Yy0, Yz11"))
    high, low, hour = match[1].upper(), match[2].upper(), int(match[3])
    for made in _ways(high, low, high_v, low_v):
        if group_of(made).hour == hour:
            return made
    raise InputError(
        "", Message("no way of joining gives {group}: unlike sides have odd hours, like ones even", group=text)
    )


def _ways(high: str, low: str, high_v: float, low_v: float) -> Iterator[Windings]:
    """Yield the ways of joining: low coils turned round, placed on other cores, a delta run the other way."""
    for turned, rotated, other in itertools.product((False, True), range(_THREE), (False, True)):
        above = _side(high, HIGH, high_v, (0, 1, 2), False, False, "h")
        cores = tuple((at + rotated) % _THREE for at in range(_THREE))
        below = _side(low, LOW, low_v, (cores[0], cores[1], cores[2]), turned, other, "l")
        yield Windings((*above.coils, *below.coils), (*above.joints, *below.joints))


def _side(
    letter: str, lines: Lines, volts: float, cores: tuple[int, int, int], turned: bool, other: bool, mark: str
) -> Windings:
    """Return one side; turned: marked ends away from the lines; other: a delta run backward."""
    if letter == "Z":
        return _zigzag(lines, volts, cores, turned, other, mark)
    turns = volts if letter == "D" else volts / math.sqrt(_THREE)
    coils, joints = [], []
    for at, (line, core) in enumerate(zip(lines, cores, strict=True)):
        inner = f"{line}2"
        ends = (inner, line) if turned else (line, inner)
        coils.append(Coil(f"{mark}{at + 1}", f"core {core + 1}", turns, *ends))
        following = lines[(at + (-1 if other else 1)) % _THREE]
        joints.append((inner, following if letter == "D" else ("N" if mark == "h" else "n")))
    return Windings(tuple(coils), tuple(joints))


def _zigzag(lines: Lines, volts: float, cores: tuple[int, int, int], turned: bool, other: bool, mark: str) -> Windings:
    """Return a zigzag: each arm two halves on two cores against each other, 15.5 % more turns than a star."""
    turns = volts / _THREE
    coils, joints = [], []
    for at, (line, core) in enumerate(zip(lines, cores, strict=True)):
        beside = cores[(at + (-1 if other else 1)) % _THREE]
        near = (f"{line}2", line) if turned else (line, f"{line}2")
        far = (f"{line}3", f"{line}4") if turned else (f"{line}4", f"{line}3")
        coils.append(Coil(f"{mark}{at + 1}", f"core {core + 1}", turns, *near))
        coils.append(Coil(f"{mark}{at + 4}", f"core {beside + 1}", turns, *far))
        joints += [(f"{line}2", f"{line}3"), (f"{line}4", "N" if mark == "h" else "n")]
    return Windings(tuple(coils), tuple(joints))


def group_of(windings: Windings, high: Lines = HIGH, low: Lines = LOW) -> Group:
    """Return the group that coils show when their high side is fed with a symmetrical supply, A B C in turn.

    Raises Contradiction where the joints cannot be.
    """
    volts = dict(zip(high, three_phase(math.sqrt(_THREE)), strict=True))
    found = wound(windings.coils, windings.joints, volts)
    letters = letter_of(windings, high).upper() + letter_of(windings, low)
    phases = _to_middle(found, low)
    if phases is None:
        return Group(
            letters, None, 0.0, 0.0, reverse=False, reason=Message("nothing decides the volts of the low side")
        )
    first, second, third = phases
    forward = first + second * cmath.rect(1, 2 * math.pi / 3) + third * cmath.rect(1, -2 * math.pi / 3)
    backward = first + second * cmath.rect(1, -2 * math.pi / 3) + third * cmath.rect(1, 2 * math.pi / 3)
    lag = -math.degrees(cmath.phase(first)) % 360 if abs(first) > _SMALL else 0.0
    ratio = abs(first)
    reverse = abs(backward) > abs(forward) * (1 + _SMALL)
    if min(abs(backward), abs(forward)) > _SMALL * _SIX * max(abs(backward), abs(forward)):
        return Group(letters, None, lag, ratio, reverse=reverse, reason=Message("the low side is not symmetrical"))
    if reverse:
        reason = Message("the low side turns the other way: two of its lines are exchanged")
        return Group(letters, None, lag, ratio, reverse=True, reason=reason)
    hour = round(lag / _HOUR_DEG) % _HOURS
    if abs((lag - hour * _HOUR_DEG + 180) % 360 - 180) > _NEAR_DEG:
        return Group(letters, None, lag, ratio, reverse=False, reason=Message("it stands between two hours"))
    return Group(letters, hour, lag, ratio, reverse=False)


def _to_middle(found: Wound, lines: Lines) -> tuple[complex, complex, complex] | None:
    """Return each line's volts to the middle of the three [V]; None where nothing decides them."""
    phases = []
    for line in lines:
        across = [found.between(line, each) for each in lines]
        if any(each is None for each in across):
            return None
        phases.append(sum((each for each in across if each is not None), 0j) / _THREE)
    return phases[0], phases[1], phases[2]


def letter_of(windings: Windings, lines: Lines) -> str:
    """Return y, d, z, or v of an open delta, by how coils stand between the lines of a side; ? for none of them."""
    node = nodes_of(windings)
    ends = {node.get(line) for line in lines}
    reached = reach(windings, lines)
    mine = [coil for coil in windings.coils if coil.start in reached]
    at_lines = [sum(node[end] in ends for end in (coil.start, coil.end)) for coil in mine]
    if len(mine) == _THREE and all(count == len(("start", "end")) for count in at_lines):
        return "d"
    if len(mine) == len(("unit", "unit")) and all(count == len(("start", "end")) for count in at_lines):
        return "v"
    if len(mine) == _THREE and all(count == 1 for count in at_lines):
        return "y"
    if len(mine) == _SIX and sorted(at_lines) == [0, 0, 0, 1, 1, 1]:
        return "z"
    return "?"


def reach(windings: Windings, lines: Iterable[str]) -> set[str]:
    """Return the terminals that conductors reach from lines: through coils and joints, not through cores."""
    found, grown = set(lines), True
    pairs = [(coil.start, coil.end) for coil in windings.coils] + list(windings.joints)
    while grown:
        more = {end for pair in pairs if set(pair) & found for end in pair} - found
        grown, found = bool(more), found | more
    return found


def nodes_of(windings: Windings) -> dict[str, str]:
    """Return for each terminal the one that stands for all that it is joined to."""
    names = dict.fromkeys(end for coil in windings.coils for end in (coil.start, coil.end))
    names |= dict.fromkeys(end for joint in windings.joints for end in joint)
    head = {name: name for name in names}

    def root(name: str) -> str:
        while head[name] != name:
            name = head[name]
        return name

    for one, other in windings.joints:
        head[root(other)] = root(one)
    return {name: root(name) for name in names}


def namings(windings: Windings, high: Lines, low: Sequence[str]) -> list[tuple[Lines, Group]]:
    """Return the group by each naming of the low side's lines that keeps their turn: hours four apart."""
    first, second, third = low
    each: tuple[Lines, ...] = ((first, second, third), (second, third, first), (third, first, second))
    return [(lines, group_of(windings, high, lines)) for lines in each]
