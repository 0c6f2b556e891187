"""A load of what a line says: its rating or its breaker, how many of it, and how it stands."""

from __future__ import annotations

import math
from typing import NamedTuple

from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind
from voltaje.path.own_rules import own_rules_of
from voltaje.quantity import Rating, read_rating
from voltaje.speech.heard import Heard
from voltaje.speech.owned import own_of_its_kind, share_a_neutral
from voltaje.speech.plates import by_supply
from voltaje.speech.said import Choice, Item, Part, Unused
from voltaje.speech.standing import Stood, stand, stands_of
from voltaje.speech.taken import Amps, Taken
from voltaje.speech.words import Words

_SAME = 0.03  # a current within 3 % of the one that its kW draw is the same said twice
_ASKS = Message("I need a rating: kW, kVA, W, VA, A or hp")
_ASKS_METRIC = Message("I need a rating: kW, kVA, W, VA or A")
_RECEPTACLE = "any receptacle"
_THREE = 3


class _Rated(NamedTuple):
    """The rating of one, as typed, and whether it was assumed; and why."""

    typed: str
    assumed: bool = False
    doubtful: bool = False
    why: Message | None = None
    by_device: bool = False


def build(heard: Heard) -> None:
    """Fill in an item that is a load."""
    made = _made(heard)
    if isinstance(made, Message):
        heard.item.problems.append(made)


def _made(heard: Heard) -> Message | None:
    """Fill in a load; return what stands in its way."""
    item, taken, words = heard.item, heard.taken, heard.words
    kind = _kind(heard)
    if heard.head in words.lists["sources"]:
        return Message("a generator is a source with a transfer switch, and no load: it is not covered here")
    if taken.shared and taken.poles > 1 and not taken.circuits:
        taken.circuits, taken.poles = taken.poles, 1  # the poles of its breaker: a circuit each
    several = _by_supply(heard, kind)
    if several:
        return several
    sorted_out = _sort_amps(taken, kind, heard.head, words)
    if isinstance(sorted_out, Message):
        return sorted_out
    device, current = sorted_out
    rated = _rating(heard, kind, device, current)
    if isinstance(rated, Message):
        return rated
    rating = read_rating(rated.typed, heard.where.decimal)
    beyond = _beyond(rating, taken, words)
    stood = beyond or stand(heard, kind, rating)
    if isinstance(stood, Message):
        return stood
    on_plate = kind == "motor" and _is_on_plate(taken, rating, stood, current)
    guessed = 0.0 if on_plate else _against_current(taken, rating, stood, current, device, words)
    if isinstance(guessed, Message):
        return guessed
    item.load = {"kind": kind, "rating": rated.typed, **taken.load}
    if on_plate and current is not None:
        item.load["nameplate_a"] = f"{current.value:g} A"
        item.parts.append(Part("load.nameplate_a", Message("{amps} by its plate", amps=Figure(current.value, "A", 1))))
    if taken.cookers:
        item.name = item.name or "Kitchen"
        item.load["parts"] = taken.cookers
        each = [f"{cooker['kind']} {cooker['load']}" for cooker in taken.cookers]
        item.parts.append(Part("load.parts", Message("{each} on one circuit", each=each)))
    elif kind == "range" and not words.metric:
        unit = next((each for each in ("oven", "cooktop") if words.any_of(f"{each}_words", heard.head)), "")
        item.load |= {"cooking": unit} if unit else {}
    own_of_its_kind(heard, kind)
    own = own_rules_of(item.name, kind)
    if own:
        item.parts.append(Part("", Message("rules of its own, not checked here"), assumed=True))
    _parts_of_load(item, kind, rated, bool(heard.head), taken)
    _counts(heard, kind, rated, device, stood)
    _stands(heard, stood)
    _device(heard, device, guessed)
    share_a_neutral(heard)
    if kind == "lighting" and not words.metric and "continuous" not in item.load:
        item.load["continuous"] = 1
        choice = Choice(Message("not continuous"), "{line} noncontinuous")
        item.parts.append(Part("load.continuous", Message("continuous"), True, False, (choice,)))
    return None


def _by_supply(heard: Heard, kind: str) -> Message | None:
    """Take, of a plate's amperes for several volts, those of this supply; say what is asked where none is of it."""
    taken, where = heard.taken, heard.where
    if taken.several is None:
        return None
    own = [each.volts for each in stands_of(where.system, where.legs)]
    star = kind == "motor" and len(where.legs or where.system.legs) == _THREE
    at = by_supply([*taken.volts, *taken.pairs], taken.several, own, star)
    if at is None:
        return Message(
            "{typed}: this supply is {system}; write the amperes that it draws there",
            typed=taken.several.typed,
            system=where.system.name,
        )
    amps = taken.several.amps[at]
    taken.amps.append(Amps(amps, "load", 0, 0))
    words = Message(
        "{amps} of {typed}, by the volts of {system}",
        amps=Figure(amps, "A", 1),
        typed=taken.several.typed,
        system=where.system.name,
    )
    others = [each for each in taken.several.amps if each != amps]
    choices = tuple(
        Choice(
            Message("{amps}", amps=Figure(other, "A", 1)), heard.item.text.replace(taken.several.typed, f"{other:g} A")
        )
        for other in others
    )
    heard.item.parts.append(Part("", words, assumed=True, choices=choices))
    return None


def _kind(heard: Heard) -> str:
    head = heard.named.head
    if head is None and heard.taken.shape:
        return "sockets"
    kind = "range" if heard.taken.cookers else head.kind if head and not head.is_node else "general"
    if kind == "general" and heard.taken.mca and not heard.words.metric:
        return "cooling"  # only what has a compressor is marked so: HP-2 MCA 30.5
    if (
        kind == "general"
        and head is None
        and heard.taken.amps
        and heard.words.any_of("room_words", heard.named.name.lower())
    ):
        return "sockets"  # bdrm 15A, bathroom circuit 20A
    in_hp = any(power.rating.unit == "hp" for power in heard.taken.powers)
    return "motor" if kind == "general" and (in_hp or _is_motors_plate(heard)) else kind


def _is_motors_plate(heard: Heard) -> bool:
    """Return whether kW and amperes stand together as only a motor's plate has them: with cos φ, speed or start."""
    taken = heard.taken
    in_watts = any(power.rating.is_watts for power in taken.powers)
    currents = [each for each in taken.amps if each.is_what != "device"]
    told = taken.of_a_motor or "power_factor" in taken.load
    return heard.named.head is None and in_watts and told and bool(currents or taken.several)


# Ratings


def _sort_amps(taken: Taken, kind: str, head: str, words: Words) -> tuple[float, Amps | None] | Message:
    """Return the device [A], 0 where none was said, and the current of the load; or what contradicts itself."""
    devices = sorted({each.value for each in taken.amps if each.is_what == "device"})
    loads = [each for each in taken.amps if each.is_what == "load"]
    plain = [each for each in taken.amps if not each.is_what and each.value not in devices]
    alone = (
        kind == "general" and not taken.powers and any(each.value in words.rules["general_devices"] for each in plain)
    )
    by_kind = alone or kind in words.rules["device_kinds"] or words.any_of("device_words", head) or taken.shared
    alike = len({each.value for each in plain}) == 1 and (len(plain) == 1 or taken.shared)
    if by_kind and not devices and alike and plain[0].value in words.ratings:
        devices, plain = [plain[0].value], []
    currents = [*loads, *plain]
    if len(devices) > 1:
        return Message("two breakers: {a} and {b}; write one", a=Figure(devices[0], "A"), b=Figure(devices[1], "A"))
    if len({each.value for each in currents}) > 1:
        a, b = currents[0].value, currents[1].value
        return Message("two ratings: {a} and {b}; write one, or “20 A breaker”", a=Figure(a, "A"), b=Figure(b, "A"))
    return (devices[0] if devices else 0.0), (currents[0] if currents else None)


def _rating(heard: Heard, kind: str, device: float, current: Amps | None) -> _Rated | Message:
    """Return the rating of one: as said, as its kind has it, or all that its breaker carries; or what is asked for."""
    taken, words = heard.taken, heard.words
    typed = list(dict.fromkeys(power.typed for power in taken.powers))
    if len({(power.rating.value, power.rating.unit) for power in taken.powers}) > 1:
        return Message("two ratings: {a} and {b}; write one", a=typed[0], b=typed[1])
    if words.metric and taken.powers and taken.powers[0].rating.unit == "hp":
        return Message("{typed}: motors are rated in kW here", typed=typed[0])
    if taken.output and (typed or device or current or taken.mca):
        taken.unused.append(Unused(taken.output, Message("output is not current")))
    if typed:
        return _Rated(typed[0])
    if taken.mca and words.metric:
        return Message("MCA is of American nameplates: write the rated current in A, or the input in kW")
    if taken.mca:
        why = Message("its MCA, {mca}, ÷ 1.25: the current it draws", mca=Figure(taken.mca, "A", 1))
        return _Rated(f"{taken.mca / words.rule('mca_factor'):g} A", True, True, why)
    return _Rated(f"{current.value:g} A") if current else _unrated(heard, kind, device)


def _unrated(heard: Heard, kind: str, device: float) -> _Rated | Message:
    """Return the rating of what was said without one."""
    taken, words = heard.taken, heard.words
    for_each = words.stand_for.get(heard.head)
    if for_each is None and kind == "sockets" and not words.metric and _plain_receptacle(taken, device, words):
        for_each = words.stand_for[_RECEPTACLE]
    if for_each:
        return _Rated(for_each["rating"], True, False, Message("{clause}", clause=for_each["clause"]))
    if device:
        share = words.rule("continuous_percent") / 100 if kind in words.rules["continuous_kinds"] else 1.0
        return _Rated(f"{device * share:g} A", True, True, Message("all that its breaker carries"), by_device=True)
    if taken.output:
        return _output(taken.output, words.metric)
    bare = [*heard.named.numbers, *heard.named.in_name]
    if bare:
        return Message("{number} what? Write its unit: A, kW, VA, hp, V or ft", number=bare[0])
    return _ASKS_METRIC if words.metric else _ASKS


def _output(typed: str, metric: bool) -> Message:
    if metric:
        return Message("{typed} is heating or cooling output: write the electrical input in kW or A", typed=typed)
    return Message(
        "{typed} is heating or cooling output, not current: write the nameplate's MCA, RLA or kW, "
        "as in: AC MCA 32 MOCP 50",
        typed=typed,
    )


def _plain_receptacle(taken: Taken, device: float, words: Words) -> bool:
    """Return whether a receptacle is an ordinary one, of which several are on a circuit."""
    most = words.rule("largest_to_neutral_v")
    to_neutral = all(volt <= most for group in taken.volts for volt in group) and taken.poles <= 1
    ordinary = not taken.shape or device <= words.rule("one_circuit_a")
    return to_neutral and ordinary and device <= words.rule("one_circuit_a") and taken.phases != _THREE


def _beyond(rating: Rating, taken: Taken, words: Words) -> Message | None:
    """Say where a motor is larger than the tables of motors go."""
    if rating.unit != "hp" or words.metric:
        return None
    single = taken.phases == 1 or taken.poles in (1, 2)
    most = words.rule("most_hp_single_phase" if single else "most_hp")
    if rating.value <= most:
        return None
    return Message(
        "{hp} is beyond the tables of motors, which end at {most}",
        hp=Figure(rating.value, "hp"),
        most=Figure(most, "hp"),
    )


def _is_on_plate(taken: Taken, rating: Rating, stood: Stood, current: Amps | None) -> bool:
    """Return whether amperes beside a motor's output are its plate's: about what such a motor draws."""
    if not taken.powers or current is None or current.is_what == "device":
        return False
    watts = rating.value * _W_IN_HP if rating.unit == "hp" else rating.value
    root = math.sqrt(3) if stood.stand.phases == _THREE else 1.0
    ideal = watts / (root * (stood.volts or stood.stand.volts))  # without losses, at a power factor of 1
    return _LEAST_PLATE <= current.value / ideal <= (_MOST_PLATE if watts > _SMALL_W else _MOST_OF_SMALL)


# A plate's amperes over those of an ideal motor: losses and power factor make them twice, of small ones, to 1½ hp,
# thrice as many (Tables 430.248 and 430.250).
_W_IN_HP, _LEAST_PLATE, _MOST_PLATE, _MOST_OF_SMALL = 746.0, 1.02, 2.1, 3.6
_SMALL_W = 1.5 * _W_IN_HP


def _against_current(
    taken: Taken, rating: Rating, stood: Stood, current: Amps | None, device: float, words: Words
) -> float | Message:
    """Return the device that a second figure in amperes is taken for, 0 for none; or what contradicts itself."""
    if not taken.powers or current is None:
        return 0.0
    drawn = 0.0
    if rating.unit == "VA":
        drawn = (
            rating.value / (stood.volts or stood.stand.volts) / (math.sqrt(3) if stood.stand.phases == _THREE else 1)
        )
    if drawn and abs(current.value - drawn) / drawn <= _SAME:
        return 0.0
    large_enough = current.value >= drawn * (1 - _SAME)
    if current.is_what != "load" and not device and current.value in words.ratings and large_enough:
        return current.value
    a, b = taken.powers[0].typed, Figure(current.value, "A")
    return Message("two ratings: {a} and {b}; write one, or say “{b} breaker”", a=a, b=b)


# What of it stands in the file


def _parts_of_load(item: Item, kind: str, rated: _Rated, known: bool, taken: Taken) -> None:
    item.parts.append(Part("load.kind", Message("{kind}", kind=kind), not known and kind == "general"))
    why = rated.why
    words = Message("{rating} ({why})", rating=rated.typed, why=why) if why else Message("{rating}", rating=rated.typed)
    item.parts.append(Part("load.rating", words, rated.assumed, rated.doubtful))
    _how_it_runs(item, taken)


def _how_it_runs(item: Item, taken: Taken) -> None:
    """Say its power factor and what of it is continuous."""
    if "power_factor" in taken.load:
        item.parts.append(
            Part("load.power_factor", Message("cos φ {pf}", pf=Figure(taken.load["power_factor"], "", 2)))
        )
    if "continuous" in taken.load:
        item.parts.append(Part("load.continuous", _continuous(taken.load["continuous"])))


def _continuous(share: float) -> Message:
    if share in (0, 1):
        return Message("continuous") if share else Message("not continuous")
    return Message("{share} continuous", share=Figure(share * 100, "%"))


def _counts(heard: Heard, kind: str, rated: _Rated, device: float, stood: Stood) -> None:
    """Say how many of it there are: outlets on one circuit, or circuits."""
    item, taken, words, many = heard.item, heard.taken, heard.words, heard.many
    rating = read_rating(rated.typed, heard.where.decimal)
    head = heard.head
    if taken.shared and not (many or taken.circuits):
        taken.circuits = max(len(taken.amps), len(heard.where.legs or heard.where.system.legs[:2]))
    outlets = kind in words.rules["outlets"] and "device_a" not in words.stand_for.get(head, {})
    several = (outlets and (not rated.by_device or device <= words.rule("one_circuit_a"))) or taken.together
    item.circuits = taken.circuits or 1
    if many and not several:
        item.circuits *= many
        _may_share(item, many, rating, stood, words)
    elif many and rated.by_device:
        choice = Choice(Message("{n} circuits", n=many), f"{many} circuits of {{line}}")
        part = Part("load.count", Message("{n} outlets on one circuit", n=many), True, False, (choice,))
        item.parts.append(part)
    elif many:
        item.load["count"] = many
        item.parts.append(
            Part("load.count", Message("× {n} on one circuit", n=many), heard.named.mid and not taken.each)
        )
    elif kind == "sockets" and rated.assumed and not rated.by_device and outlets and not words.metric:
        fill = int(device * (stood.volts or stood.stand.volts) // rating.value) if device else 1
        item.load["count"] = fill
        said = Message("× {n}, as many as its breaker carries", n=fill) if device else Message("× {n}", n=fill)
        choices = tuple(Choice(Message("× {n}", n=n), f"{{line}} x{n}") for n in (1, 4, 8) if n != fill)
        item.parts.append(Part("load.count", said, True, True, choices))
    if item.circuits > 1 and not any(not part.place for part in item.parts):
        item.parts.append(Part("", Message("{n} circuits", n=item.circuits)))


def _may_share(item: Item, many: int, rating: Rating, stood: Stood, words: Words) -> None:
    """Say that each was given a circuit of its own, where all of them would go on one."""
    one = words.rule("one_circuit_a") * words.rule("continuous_percent") / 100
    volts = stood.volts or stood.stand.volts
    amps = rating.value / volts if rating.unit == "VA" else rating.value
    if rating.unit != "hp" and stood.stand.poles == 1 and amps * many <= one:
        choice = Choice(Message("× {n} on one circuit", n=many), "{line} on one circuit")
        item.parts.append(Part("", Message("{n} circuits", n=many), True, False, (choice,)))


def _stands(heard: Heard, stood: Stood) -> None:
    item, taken, where = heard.item, heard.taken, heard.where
    item.load["phases"], item.load["poles"] = stood.stand.phases, stood.stand.poles
    if taken.legs:
        item.load["legs"] = taken.legs
    if stood.volts is not None:
        item.load["volts"] = int(stood.volts) if stood.volts == int(stood.volts) else stood.volts
    item.parts.append(stood.part)
    if stood.volts is not None and abs(stood.volts / stood.stand.volts - 1) > 0.1:  # noqa: PLR2004
        volts = Figure(stood.volts, "V")
        words = Message("made for {volts}, on {system}", volts=volts, system=where.system.name)
        item.parts.append(Part("load.volts", words, True))
    elif stood.volts is not None and stood.volts != stood.stand.volts:
        item.parts.append(Part("load.volts", Message("{volts}", volts=Figure(stood.volts, "V"))))
    if taken.legs:
        item.parts.append(Part("load.legs", Message("on {legs}", legs="-".join(taken.legs))))


def _device(heard: Heard, device: float, guessed: float) -> None:
    item = heard.item
    by_word = float(heard.words.stand_for.get(heard.head, {}).get("device_a", 0))
    amps = device or guessed or by_word
    if not amps:
        return
    item.run.setdefault("pins", {})["device_a"] = int(amps) if amps == int(amps) else amps
    assumed = not device
    words_of_it = Message("{amps} breaker or fuse", amps=Figure(amps, "A"))
    item.parts.append(Part("run.pins.device_a", words_of_it, assumed, bool(guessed and not device)))


def inverter(heard: Heard) -> None:
    """Fill in an inverter: what it feeds back, and how it stands."""
    item, taken = heard.item, heard.taken
    current = next((each for each in taken.amps if each.is_what != "device"), None)
    if not taken.powers and current is None:
        item.problems.append(_ASKS_METRIC if heard.words.metric else _ASKS)
        return
    if len({(power.rating.value, power.rating.unit) for power in taken.powers}) > 1:
        a, b = list(dict.fromkeys(power.typed for power in taken.powers))[:2]
        item.problems.append(Message("two ratings: {a} and {b}; write one", a=a, b=b))
        return
    typed = taken.powers[0].typed if taken.powers else f"{current.value:g} A" if current else ""
    stood = stand(heard, Kind.INVERTER.value, read_rating(typed, heard.where.decimal))
    if isinstance(stood, Message):
        item.problems.append(stood)
        return
    item.load = {"kind": "general", "rating": typed, **taken.load}
    for each in taken.amps:
        if each.is_what != "device" and (taken.powers or each is not current):
            why = Message("its power is taken: write the one that is meant")
            taken.unused.append(Unused(f"{each.value:g} A", why))
    item.parts.append(Part("load.rating", Message("{rating}", rating=typed)))
    _how_it_runs(item, taken)
    item.circuits = taken.circuits or heard.many or 1
    _stands(heard, stood)
    _device(heard, next((each.value for each in taken.amps if each.is_what == "device"), 0.0), 0.0)
