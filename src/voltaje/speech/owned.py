"""What a plate has of one kind of load alone: a compressor's MCA, a welder's duty, a motor's service factor; and what
circuits that share a neutral have together.
"""

from __future__ import annotations

from voltaje.message import Figure, Message
from voltaje.speech.heard import Heard
from voltaje.speech.said import Part, Unused


def own_of_its_kind(heard: Heard, kind: str) -> None:
    """Keep what only this kind has; what belongs to another kind is told."""
    _plate_of_compressor(heard, kind)
    _duty_of_welder(heard, kind)
    _of_motors_and_chargers(heard, kind)


def share_a_neutral(heard: Heard) -> None:
    """Let circuits that were said to share a neutral do so, where a leg is there for each and the book knows it."""
    item, taken, where = heard.item, heard.taken, heard.where
    if not taken.shared:
        return
    legs = len(where.legs or where.system.legs)
    why = None
    if heard.words.metric:
        why = Message("each final circuit has a neutral of its own here")
    elif item.load["poles"] != 1:
        why = Message("only circuits to neutral share one")
    elif not 1 < item.circuits <= legs:
        why = Message("one circuit of each leg shares a neutral: {n} here", n=legs)
    if why:
        taken.unused.append(Unused("neutral", why))
        return
    item.load["neutral_group"] = item.name or "Multiwire"
    item.parts.append(Part("load.neutral_group", Message("one neutral for {n}", n=item.circuits)))


def _plate_of_compressor(heard: Heard, kind: str) -> None:
    """Keep a compressor's plate: what its conductors hold, what its device may be; of another load it is told."""
    item, taken = heard.item, heard.taken
    if kind == "cooling" and not heard.words.metric:
        mca, mop = Figure(taken.mca, "A", 1), Figure(taken.mop, "A", 1)
        said = {"mca": Message("MCA {amps}", amps=mca), "mop": Message("MOCP {amps}", amps=mop)}
        for key, value in (("mca", taken.mca), ("mop", taken.mop)):
            if value:
                item.load[key] = f"{value:g} A"
                item.parts.append(Part(f"load.{key}", said[key]))
    elif taken.mop:
        taken.unused.append(Unused(taken.mop_typed, Message("the breaker is chosen from the load: at most this one")))


def _duty_of_welder(heard: Heard, kind: str) -> None:
    """Keep a welder's duty cycle where the book counts by it; of another load it is told that all of it counts."""
    item, taken = heard.item, heard.taken
    if not taken.duty:
        return
    if kind == "welder" and not heard.words.metric and taken.duty <= 100:  # noqa: PLR2004  (per cent)
        item.load["duty_percent"] = taken.duty
        item.parts.append(Part("load.duty_percent", Message("duty {share}", share=Figure(taken.duty, "%"))))
        return
    why = Message("the full current counts: enter it times its duty factor where the rule lets you")
    taken.unused.append(Unused(taken.duty_typed, why))


def _of_motors_and_chargers(heard: Heard, kind: str) -> None:
    """Keep a motor's service factor and what a charger is held to; of another load they are told to have no place."""
    item, taken = heard.item, heard.taken
    factor, held = Figure(taken.service_factor, "", 2), Figure(taken.held_to, "A", 1)
    if taken.service_factor and kind == "motor" and not heard.words.metric:
        item.load["service_factor"] = taken.service_factor
        item.parts.append(Part("load.service_factor", Message("service factor {factor}", factor=factor)))
    elif taken.service_factor:
        taken.unused.append(Unused(f"SF {taken.service_factor:g}", Message("it is a motor's")))
    if taken.held_to and kind == "charger":
        item.load["managed_a"] = f"{taken.held_to:g} A"
        item.parts.append(Part("load.managed_a", Message("held to {amps}", amps=held)))
    elif taken.held_to:
        taken.unused.append(Unused(f"held to {taken.held_to:g} A", Message("it is a charger's")))
