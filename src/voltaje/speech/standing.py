"""On how many poles a load stands and at what volts: as said, as its system leaves no choice, or as is usual."""

from __future__ import annotations

from typing import NamedTuple

from voltaje.message import Figure, Message
from voltaje.path.kinds import BOARD_WORDS
from voltaje.quantity import Rating
from voltaje.speech.heard import Heard
from voltaje.speech.said import Choice, Part, Where
from voltaje.speech.taken import Taken
from voltaje.speech.words import Words
from voltaje.systems import SYSTEMS, System

_TO_NEUTRAL_ALONE = (277.0, 347.0)  # no equipment for these is made for another supply
_FITS = (0.9, 1.16)  # of the nominal volts: 110 at 120, 240 at 208 V; beyond it is made for another supply
_THREE, _TWO = 3, 2
_HIGH_V = 380.0  # line to line; from here on what is not small is three-phase


class Stand(NamedTuple):
    """A way to be connected."""

    poles: int
    phases: int
    volts: float

    @property
    def words(self) -> Message:
        """Say it as a person would, and as the line understands it."""
        if self.phases == _THREE:
            return Message("{volts} 3-phase", volts=Figure(self.volts, "V"))
        return Message("{volts} {poles}-pole", volts=Figure(self.volts, "V"), poles=self.poles)


class Stood(NamedTuple):
    """How it stands, the nameplate volts where they were said, and the part that says so."""

    stand: Stand
    volts: float | None
    part: Part


def stands_of(system: System, legs: tuple[str, ...]) -> list[Stand]:
    """Return the ways to be connected that a system has."""
    found = []
    count = len(legs) or len(system.legs)
    if system.line_to_neutral_v:
        found.append(Stand(1, 1, system.line_to_neutral_v))
    if count >= _TWO:
        found.append(Stand(2, 1, system.line_to_line_v))
    if count == _THREE and system.phases == _THREE:
        found.append(Stand(3, 3, system.line_to_line_v))
    return found


def stand(heard: Heard, kind: str, rating: Rating) -> Stood | Message:
    """Return how a load stands, or why it cannot."""
    taken, where, words = heard.taken, heard.where, heard.words
    known = stands_of(where.system, where.legs)
    said = _said_volts(taken)
    volts = _volts(known, said)
    if len(volts) > 1 and len(taken.volts) + len(taken.systems) > 1:
        return Message("two voltages: {a} and {b}; write one", a=Figure(volts[0], "V"), b=Figure(volts[-1], "V"))
    if said and not volts:
        return _not_here(said[0], known, where)
    volt = max(volts) if volts else None
    fitting = [each for each in known if _agrees(each, taken, volt)]
    if not fitting:
        return _no_such(taken, where)
    usual = _usual(fitting, kind, rating, heard)
    if isinstance(usual, Message):
        return usual
    one_phase = kind in (*words.rules["single_phase"], *words.rules["outlets"])
    others = [each for each in fitting if each != usual and not (one_phase and each.phases == _THREE)]
    by_nature = kind in words.rules["single_phase"] and volt is not None and not words.metric
    sure = not others or by_nature or bool(taken.poles) or (taken.phases == _THREE) or bool(taken.legs)
    plain = kind in words.rules["outlets"] or (words.metric and usual.poles == 1)
    choices = tuple(Choice(each.words, f"{{line}} {each.words}") for each in others)
    part = Part("load.poles", usual.words, not sure, not sure and not plain, () if sure else choices)
    return Stood(usual, volt, part)


def not_here(taken: Taken, where: Where) -> Message | None:
    """Say that volts which were said of a board are none of its supply's; None where they are, or none were said."""
    known, said = stands_of(where.system, where.legs), _said_volts(taken)
    return _not_here(said[0], known, where) if said and not _volts(known, said) else None


def _said_volts(taken: Taken) -> list[float]:
    found = [each for group in taken.volts for each in group]
    for name in taken.systems:
        system = SYSTEMS[name]
        found += [volts for volts in (system.line_to_line_v, system.line_to_neutral_v) if volts]
    return found


def _volts(known: list[Stand], said: list[float]) -> list[float]:
    """Return the volts said that this supply has, of each of its own the nearest [V]."""
    low, high = _FITS
    found = set()
    for own in {each.volts for each in known}:
        near = [volt for volt in said if low <= volt / own <= high and (volt not in _TO_NEUTRAL_ALONE or volt == own)]
        if near:
            found.add(min(near, key=lambda volt: abs(volt / own - 1)))
    return sorted(found)


def _agrees(each: Stand, taken: Taken, volt: float | None) -> bool:
    low, high = _FITS
    poles = taken.poles or len(taken.legs)
    if poles and each.poles != poles:
        return False
    if taken.phases and each.phases != taken.phases and poles != _THREE:
        return False
    return volt is None or low <= volt / each.volts <= high


def _not_here(volts: float, known: list[Stand], where: Where) -> Message:
    has = sorted({each.volts for each in known})
    return Message(
        "{volts} is not on {system}, which has {known}; it takes a transformer, or another {board}",
        volts=Figure(volts, "V"),
        system=where.system.name,
        known=[f"{each:g} V" for each in has],
        board=BOARD_WORDS[where.family],
    )


def _no_such(taken: Taken, where: Where) -> Message:
    if _THREE in (taken.phases, taken.poles):
        return Message("{system} is single-phase: nothing three-phase is fed from it", system=where.system.name)
    return Message(
        "nothing on {poles} poles is fed from {system}",
        poles=taken.poles or len(taken.legs) or 1,
        system=where.system.name,
    )


# What is usual


def _usual(fitting: list[Stand], kind: str, rating: Rating, heard: Heard) -> Stand | Message:
    words = heard.words
    if kind in ("sockets", *words.rules["single_phase"]) and not words.metric:
        refused = _made_for_less(fitting, kind, heard.taken, words)
        if refused:
            return refused
    if len(fitting) == 1:
        return fitting[0]
    wanted = (_metric if words.metric else _american)(fitting, kind, rating, heard)
    return next((each for each in fitting if each.poles == wanted), fitting[-1 if wanted == _THREE else 0])


def _made_for_less(fitting: list[Stand], kind: str, taken: Taken, words: Words) -> Message | None:
    """Say why equipment for 120 V, or for up to 240 V, cannot be on a system that has only more."""
    plain_outlet = kind == "sockets" and not taken.shape and not taken.volts and not taken.poles
    most = words.rule("largest_to_neutral_v" if plain_outlet else "largest_charger_v")
    if plain_outlet and not any(each.poles == 1 and each.volts <= most for each in fitting):
        return Message("receptacles are for 120 V, and this supply has none: hang them on a transformer's panel")
    if kind in words.rules["single_phase"] and not any(each.volts <= most for each in fitting):
        has = sorted({each.volts for each in fitting})
        return Message(
            "such equipment is made for 208 to 240 V, and this supply has {known} (480Y/277 and 600Y/347 feed it "
            "through a transformer)",
            known=[f"{each:g} V" for each in has],
        )
    return None


def _american(fitting: list[Stand], kind: str, rating: Rating, heard: Heard) -> int:
    """Return the poles that are usual where 120 V is to neutral. Source: common practice."""
    head, taken, words = heard.head, heard.taken, heard.words
    line_v = max(each.volts for each in fitting)
    three = any(each.poles == _THREE for each in fitting)
    large = _THREE if three and line_v >= _HIGH_V else _TWO
    if kind in words.rules["outlets"]:
        alone = rating.unit == "A" and rating.value > words.rule("one_circuit_a")
        return _TWO if kind == "sockets" and alone else 1
    if words.any_of("three_phase_words", head) and three:
        return _THREE
    if kind == "motor" or rating.unit == "hp":
        return _american_motor(fitting, rating, three, words)
    to_neutral = next((each.volts for each in fitting if each.poles == 1), 0.0)
    if not to_neutral:
        return large
    if kind == "inverter":
        return _THREE if three and rating.value > words.rule("three_phase_inverter_va") else _TWO
    by_word = words.any_of("two_pole_words", head)
    if rating.unit == "A" and taken.mca:
        return large
    if rating.unit == "A":
        share = words.rule("continuous_percent") / 100 if kind in words.rules["continuous_kinds"] else 1.0
        only_device = not (taken.mca or any(each.is_what == "load" for each in taken.amps))
        device = max((each.value for each in taken.amps if each.is_what == "device"), default=0.0)
        small = 0 < device <= words.rule("one_circuit_a") and only_device
        return 1 if small or (rating.value <= words.rule("one_circuit_a") * share and not by_word) else large
    carried = to_neutral * words.rule("one_circuit_a") * words.rule("continuous_percent") / 100
    if kind == "charger":
        carried = words.rule("charger_two_poles_va") - 1
    return large if rating.value > carried else 1


def _american_motor(fitting: list[Stand], rating: Rating, three: bool, words: Words) -> int:
    large = _THREE if three else _TWO
    if not any(each.poles == 1 and each.volts <= words.rule("largest_to_neutral_v") for each in fitting):
        return large
    least = {"hp": "three_phase_motor_hp", "A": "three_phase_motor_a", "VA": "three_phase_motor_va"}[rating.unit]
    return large if rating.value >= words.rule(least) else 1


def _metric(fitting: list[Stand], kind: str, rating: Rating, heard: Heard) -> int:
    """Return the poles that are usual where single-phase circuits are line to neutral. Source: common practice."""
    words = heard.words
    if not any(each.poles == 1 for each in fitting):
        return _THREE
    if rating.unit == "A":
        return _THREE if rating.value > words.rule("usual_a") else 1
    if kind == "motor":
        most = words.rule("usual_motor_va")
    elif kind == "inverter":
        most = words.rule("usual_inverter_va")
    elif words.any_of("to_neutral_words", heard.head):
        most = words.rule("to_neutral_words_va")
    else:
        most = words.rule("usual_va")
    return _THREE if rating.value > most else 1
