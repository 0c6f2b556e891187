"""The walk-through line: `pump 5 hp 230 V 3ph 420 ft` read as a load and its run.

Every quantity is found by its unit, taken out, and read by the grammar of `quantity`; what is left
names the load. Nothing is guessed in silence: what was assumed is a note, what was not understood is
said, word by word. The words themselves are data, `vocabulary.toml`.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from typing import Any

from voltaje.errors import InputError
from voltaje.limits import MOST_CIRCUITS_OF_A_LINE, MOST_LINE
from voltaje.message import Figure, Message
from voltaje.path.document import FORMAT, VERSION, read_job
from voltaje.quantity import read_length, read_plain, read_rating, read_temperature

_GAP = " | "
_FRACTION = r"\d+[ -]+\d+/\d+|\d+/\d+|\d*[½⅓⅔¼¾⅕⅛⅜⅝⅞]"
_NUMBER = rf"(?:{_FRACTION}|\d{{1,3}}(?:[ \u2009\u202f]\d{{3}})+(?![\d/])(?:[.,]\d+)?|\d[\d.,]*\d|\d|\.\d+)"
_SMALL_VA = 250.0
_HIGH_V = (380.0, 600.0)  # a line to line voltage that is three-phase where nothing else is said
_POLES_OF = {"1": 1, "single": 1, "one": 1, "2": 2, "double": 2, "two": 2, "3": 3, "three": 3, "triple": 3}
_INSULATIONS = ("THHN", "THWN-2", "XHHW-2", "NM-B", "UF-B", "SE", "PVC 70", "XLPE 90")
_SOCKET = "180 VA"


@dataclass
class Understood:
    """A line as it was read: parts of the open file, how many circuits, on which board, what was not understood."""

    text: str
    name: str = ""
    load: dict[str, Any] = field(default_factory=dict)
    run: dict[str, Any] = field(default_factory=dict)
    circuits: int = 1
    board: str = ""
    notes: list[Message] = field(default_factory=list)
    problems: list[Message] = field(default_factory=list)
    not_understood: list[str] = field(default_factory=list)

    @property
    def complete(self) -> bool:
        """Whether it can become a load as it stands."""
        return not self.problems


def read_line(text: str, metric: bool, decimal: str = ".") -> Understood:
    """Return what a line says. It never raises: what stands in the way is among the problems.

    metric: whether the book's lengths are metres and its single-phase circuits are line to neutral
    """
    found = Understood(text)
    if len(text) > MOST_LINE:
        found.problems.append(Message("a line has at most {most} characters", most=MOST_LINE))
        return found
    plain = " ".join(text.replace("\u2019", "'").split())
    if not plain:
        found.problems.append(Message("say what it is and its rating, as in: kiln 11.5 kW 208 V 3ph 60 ft"))
        return found
    rest = f" {plain} "
    for pattern, take in _PATTERNS:
        rest = _taken(pattern, take, rest, found, decimal)
    kind = _kind(rest, plain)
    found.load = {"kind": kind, **found.load}
    _name(rest, found)
    _settle(found, metric)
    _check(found, metric)
    return found


Take = Callable[[re.Match[str], Understood, str], bool]


def _taken(pattern: re.Pattern[str], take: Take, rest: str, found: Understood, decimal: str) -> str:
    def replace(match: re.Match[str]) -> str:
        try:
            taken = take(match, found, decimal)
        except InputError as error:
            found.problems.append(error.message)
            return _GAP
        return _GAP if taken else match.group()

    return pattern.sub(replace, rest)


# What each pattern takes


def _once(part: dict[str, Any], key: str, value: Any) -> bool:
    if key in part:
        return False
    part[key] = value
    return True


def _device(match: re.Match[str], found: Understood, decimal: str) -> bool:
    pins = found.run.setdefault("pins", {"reason": "said in the walk-through"})
    return _once(pins, "device_a", read_plain(match["device"] or match["after"] or match["curve"], decimal))


def _power_factor(match: re.Match[str], found: Understood, decimal: str) -> bool:
    return _once(found.load, "power_factor", read_plain(match["before"] or match["after"], decimal))


def _continuous(match: re.Match[str], found: Understood, decimal: str) -> bool:
    if match["non"]:
        return _once(found.load, "continuous", 0)
    share = read_plain(match["share"], decimal) / 100 if match["share"] else 1
    return _once(found.load, "continuous", share)


def _ambient(match: re.Match[str], found: Understood, decimal: str) -> bool:
    typed = f"{match['one'] or match['two'] or match['three']} °{(match['u1'] or match['u2'] or match['u3']).upper()}"
    read_temperature(typed, decimal)
    return _once(found.run, "ambient_c", typed)


def _phases(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    three = match["n"].lower() in ("3", "three")
    return _once(found.load, "phases", 3 if three else 1)


def _poles(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    return _once(found.load, "poles", _POLES_OF[match["n"].lower()])


def _size(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    pins = found.run.setdefault("pins", {"reason": "said in the walk-through"})
    return _once(pins, "size", match["hash"] or match["awg"] or match["kcmil"] or match["mm"])


def _material(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    return _once(found.run, "material", "Cu" if match.group().strip().lower().startswith("c") else "Al")


def _insulation(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    word = match["word"].upper().replace(" ", "")
    full = next(each for each in _INSULATIONS if each.replace(" ", "").startswith(word))
    return _once(found.run, "insulation", full)


def _method(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    if match["letter"]:
        return _once(found.run, "method", match["letter"].upper())
    word = match["word"].lower()
    if word in ("emt", "rmc", "pvc conduit"):
        found.run["raceway"] = {"emt": "EMT", "rmc": "RMC", "pvc conduit": "PVC 40"}[word]
        return _once(found.run, "method", "raceway")
    if word in ("armoured", "armored", "swa"):
        return _once(found.run, "cable", "armoured")
    if word == "tray":
        return _once(found.run, "arrangement", "tray")
    buried = word in ("buried", "underground")
    return _once(found.run, "method", "buried" if buried else "raceway")


def _way(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    return _once(found.load, "way", int(match["way"]))


def _legs(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    if match["letter"]:
        return _once(found.load, "legs", [f"L{'ABC'.index(match['letter'].upper()) + 1}"])
    return _once(found.load, "legs", [f"L{digit}" for digit in re.findall(r"[123]", match["legs"])])


def _rating(match: re.Match[str], found: Understood, decimal: str) -> bool:
    if "rating" in found.load:
        return False
    unit = {"horsepower": "hp", "watt": "W", "watts": "W", "amp": "A", "amps": "A"}.get(match["unit"].lower(), "")
    typed = f"{match['number'].strip()} {unit or match['unit']}"
    spaced = re.fullmatch(r"\d{1,2} \d{3}", match["number"].strip())
    if spaced and unit != "hp":
        first, second = match["number"].split()
        message = Message(
            "{typed} reads two ways: write {together} {unit}, or {first} × {second} {unit}",
            typed=typed, together=first + second, first=first, second=second, unit=match["unit"],
        )  # fmt: skip
        raise InputError("", message)
    read_rating(typed, decimal)
    found.load["rating"] = typed
    return True


def _volts(match: re.Match[str], found: Understood, decimal: str) -> bool:
    values = [read_plain(each, decimal) for each in re.split(r"[/Yy]+", match["volts"]) if each]
    return _once(found.load, "volts", max(values))


def _length(match: re.Match[str], found: Understood, decimal: str) -> bool:
    unit = match["unit"].lower()
    short = {"'": "ft", "foot": "ft", "feet": "ft", "yards": "yd", "yard": "yd"}.get(unit, unit)
    short = "m" if short.startswith("met") else short
    typed = f"{match['number'].strip()} {short}"
    read_length(typed, short, decimal)
    return _once(found.run, "length", typed)


def _count(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    return _once(found.load, "count", int(match["x"] or match["times"] or match["off"] or match["qty"]))


def _leading(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    word = match["n"].lower()
    number = int(word) if word.isdigit() else _vocabulary()["numbers"].index(word) + 1
    if not number:
        raise InputError("", Message("{n} of them: there is nothing to add", n=number))
    found.circuits = number
    return True


def _board(match: re.Match[str], found: Understood, _decimal: str) -> bool:
    found.board = match["board"].strip()
    return bool(found.board)


_UNITS = r"kva|va|kw|watts?|w|amps?|a|horsepower|hp"
_BREAKERS = r"(?:breaker|fuse|mcb|rcbo|mccb|cb|ocpd)s?"
_PATTERNS: tuple[tuple[re.Pattern[str], Take], ...] = tuple(
    (re.compile(pattern, re.IGNORECASE), take)
    for pattern, take in (
        (
            rf"(?:\bon )?(?:\ban? )?(?:\b(?P<device>\d+) ?a(?:mps?)? {_BREAKERS}\b"
            rf"|\b{_BREAKERS} (?P<after>\d+) ?a(?:mps?)?\b|\b[bcd](?P<curve>\d{{1,3}})\b(?: {_BREAKERS})?)",
            _device,
        ),
        (
            r"\b(?:pf|p\.f\.|power factor|cos ?(?:φ|phi)?) ?[=:]? ?(?P<before>[01]?[.,]\d+|1)\b"
            r"|(?<=\s)(?P<after>[01]?[.,]\d+) ?(?:pf|power factor)\b",
            _power_factor,
        ),
        (r"\b(?P<non>non[- ]?continuous)\b|(?:(?P<share>\d+) ?% ?)?\bcont(?:inuous)?\b\.?", _continuous),
        (
            r"\bambient(?: of)? (?P<one>-?\d+) ?°? ?(?P<u1>[cf])\b|(?P<two>-?\d+) ?° ?(?P<u2>[cf])\b(?: ambient)?"
            r"|\b(?P<three>\d+) ?(?P<u3>[cf]) ambient\b",
            _ambient,
        ),
        (r"(?:\b(?P<n>3|1|three|single|one)[ -]?(?:phase|ph|φ|∅|~)(?![a-z]))", _phases),
        (r"\b(?P<n>[123]|single|double|triple|two|three|one)[ -]?(?:poles?|p)\b", _poles),
        (
            r"#(?P<hash>\d+(?:/0)?)\b|\b(?P<awg>\d+(?:/0)?) ?awg\b|\b(?P<kcmil>\d+) ?(?:kcmil|mcm)\b"
            r"|\b(?P<mm>\d+(?:\.\d+)?) ?(?:mm2|mm²|sq ?mm)(?!\w)",
            _size,
        ),
        (r"\b(?:copper|cu|aluminium|aluminum|alu|al)\b", _material),
        (r"\b(?P<word>thhn|thwn-2|xhhw-2|nm-b|uf-b|xlpe 90|xlpe|pvc 70)\b", _insulation),
        (
            r"\bmethod (?P<letter>[a-f])\b"
            r"|\b(?:in |on )?(?:an? )?(?P<word>conduit|raceway|emt|rmc|pvc conduit|buried|underground|tray"
            r"|armoured|armored|swa)\b",
            _method,
        ),
        # A number with a unit behind it is a rating or a length, not a way: "cooker circuit 32 A".
        (
            r"\b(?:on )?(?:way|ckt|cct|circuit) ?#?(?P<way>\d+)\b(?![.,/]\d)"
            r"(?! ?(?:k?va?|k?w|watts?|a|amps?|hp|m|met(?:re|er)s?|ft|feet|foot|mm2?|sq|awg|kcmil|poles?|p|ph|phase)\b)"
            r"(?! ?(?:mm²|'|%|°))",
            _way,
        ),
        (
            r"\b(?:on )?(?:legs? |phases? )?(?P<legs>L[123](?:[-/, ]{0,2}L[123]){0,2})\b"
            r"|\b(?:on )?(?:leg|phase) (?P<letter>[abc])\b",
            _legs,
        ),
        (
            r"(?<![\w.,/])(?P<times>\d+) ?[x×](?![a-z])|(?<!\w)[x×] ?(?P<x>\d+)\b|\b(?P<off>\d+) (?:off|no|nos|pcs)\b"
            r"|\bqty ?(?P<qty>\d+)\b",
            _count,
        ),
        (rf"(?<![\w.,/])(?P<number>{_NUMBER}) ?(?P<unit>{_UNITS})(?![\w/])", _rating),
        (r"(?<![\w.])(?P<volts>\d+(?:[.,]\d+)?(?:[/Yy]+\d+)?) ?(?:volts?|v)(?![\w])", _volts),
        (
            rf"(?<![\w.,/])(?P<number>{_NUMBER}) ?(?P<unit>ft|feet|foot|yards?|yd|met(?:re|er)s?|m)(?!\w)"
            rf"|(?<![\w.,/])(?P<feet>{_NUMBER})(?P<tick>')",
            lambda match, found, decimal: _length(_feet(match), found, decimal),
        ),
        (
            r"^ (?P<n>\d+|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve)(?= [a-z])",
            _leading,
        ),
        (r"\b(?:on|from|off) (?:the )?(?P<board>[^|]+?)(?= \||\s*$)", _board),
    )
)


def _feet(match: re.Match[str]) -> re.Match[str]:
    """Return a match of `60'` as one of `60 ft`."""
    if match["number"]:
        return match
    again = re.match(rf"(?P<number>{_NUMBER}) (?P<unit>ft)", f"{match['feet']} ft")
    return again or match


# What is left


@cache
def _vocabulary() -> dict[str, list[str]]:
    raw = tomllib.loads((files("voltaje.path") / "vocabulary.toml").read_text("utf-8"))
    return {**raw["words"], **{f"kind {kind}": words for kind, words in raw["kinds"].items()}}


@cache
def _kind_words() -> list[tuple[str, str]]:
    found = [
        (word, key.removeprefix("kind "))
        for key, words in _vocabulary().items()
        if key.startswith("kind ")
        for word in words
    ]
    return sorted(found, key=lambda pair: -len(pair[0]))


def _kind(rest: str, plain: str) -> str:
    for text in (rest, plain):
        lowered = f" {text.lower()} "
        for word, kind in _kind_words():
            if re.search(rf"(?<![\w/]){re.escape(word)}(?!\w)", lowered):
                return kind
    return "general"


def _name(rest: str, found: Understood) -> None:
    """Name the load by its words; of those after the first quantity only the known ones."""
    words = _vocabulary()
    known = {*words["places"], *(part for word, _kind in _kind_words() for part in word.split())}
    segments = [segment.split() for segment in rest.split("|")]
    first = next((at for at, segment in enumerate(segments) if segment), len(segments))
    name = [word for word in (segments[first] if first < len(segments) else []) if word.lower() not in ("a", "an")]
    for segment in segments[first + 1 :]:
        for word in segment:
            bare = word.strip(",.;:()").lower()
            if bare in known:
                name.append(word.strip(",.;:()"))
            elif bare and bare not in words["fillers"]:
                found.not_understood.append(word)
    text = " ".join(name).strip(" ,.;:")
    found.name = text[:1].upper() + text[1:]


def _settle(found: Understood, metric: bool) -> None:
    """Fill in what goes without saying, each with a note."""
    load, kind = found.load, found.load["kind"]
    if metric and found.run.get("method") in _METRIC_METHODS:
        found.run["method"] = _METRIC_METHODS[found.run["method"]]
    if "rating" not in load:
        if kind == "sockets" and not metric:
            load["rating"] = _SOCKET
            found.notes.append(Message("{each} for each receptacle", each=_SOCKET))
        else:
            found.problems.append(Message("no rating was understood: give kW, kVA, W, VA, A or hp"))
            return
    rating = read_rating(load["rating"])
    small = rating.unit == "VA" and rating.value <= _SMALL_VA
    if found.circuits > 1 and kind in ("sockets", "lighting") and small and "count" not in load:
        load["count"], found.circuits = found.circuits, 1
    if found.circuits > MOST_CIRCUITS_OF_A_LINE:
        found.problems.append(Message("a line makes at most {most} circuits", most=MOST_CIRCUITS_OF_A_LINE))
    if rating.unit == "hp" and kind == "general":
        load["kind"] = "motor"
    volts = load.get("volts", 0.0)
    if "phases" not in load:
        high = _HIGH_V[0] <= volts <= _HIGH_V[1]
        on_three = 3 in (load.get("poles"), len(load.get("legs", ())))  # noqa: PLR2004
        load["phases"] = 3 if on_three or (high and "poles" not in load) else 1
        if high and "poles" not in load:
            found.notes.append(Message("{volts} is taken as three-phase", volts=Figure(volts, "V")))
    if load["phases"] == 1 and volts and "poles" not in load and "legs" not in load:
        load["poles"] = _single_phase_poles(volts, metric)
    if load["kind"] in ("lighting", "charger") and not metric and "continuous" not in load:
        load["continuous"] = 1
        found.notes.append(Message("taken as continuous"))


_METRIC_METHODS = {"buried": "D", "raceway": "B"}
_TO_NEUTRAL = ((100.0, 130.0), (265.0, 290.0), (335.0, 360.0))
_METRIC_TO_NEUTRAL_V = 260.0


def _single_phase_poles(volts: float, metric: bool) -> int:
    if metric:
        return 1 if volts <= _METRIC_TO_NEUTRAL_V else 2
    return 1 if any(low <= volts <= high for low, high in _TO_NEUTRAL) else 2


def _check(found: Understood, metric: bool) -> None:
    """Let the open file's own reader judge what was made of the line."""
    if found.problems:
        return
    node = {"id": "n", "kind": "load", "parent": "s", "load": found.load, "run": found.run}
    source = {"id": "s", "kind": "source", "system": "230/400"}
    try:
        read_job({"format": FORMAT, "version": VERSION, "nodes": [source, node]}, "m" if metric else "ft")
    except InputError as error:
        found.problems.append(Message("{field}: {why}", field=error.field.removeprefix("nodes[1]."), why=error.message))
