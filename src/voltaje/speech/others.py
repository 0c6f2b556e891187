"""What a line makes beside loads: boards, transformers, spares and spaces, dwellings, sources."""

from __future__ import annotations

from collections.abc import Callable

from voltaje.message import Figure, Message
from voltaje.path.kinds import BOARD_WORDS, Kind
from voltaje.path.transformer import MadeAs
from voltaje.speech.heard import Heard
from voltaje.speech.plates import made_by
from voltaje.speech.said import Item, Part, Unused
from voltaje.speech.standing import not_here
from voltaje.speech.taken import Taken
from voltaje.systems import SYSTEMS

_WHICH = Message("which system does it make? Write both sides, as in: 45 kVA 480-208Y/120")
_NEAR = 0.05  # of the nominal volts of a primary
_THREE, _TWO = 3, 2


def board(heard: Heard) -> None:
    """Fill in a board: what protects its feeder, and which legs it takes where it does not take all."""
    item, taken, where, words = heard.item, heard.taken, heard.where, heard.words
    _device(item, taken)
    if taken.spaces:
        item.more["ways"] = taken.spaces
        said = Message("{n} ways", n=taken.spaces) if words.metric else Message("{n} spaces", n=taken.spaces)
        item.parts.append(Part("ways", said))
    item.circuits = taken.circuits or heard.many or 1
    off = not_here(taken, where)
    if off:
        item.problems.append(off)
        return
    three = _THREE in (taken.phases, taken.poles)
    available = where.legs or tuple(leg for leg, _angle in where.system.legs)
    if three and len(available) < _THREE:
        item.problems.append(
            Message(
                "{system} is single-phase: no three-phase {board}",
                system=where.system.name,
                board=BOARD_WORDS[where.family],
            )
        )
    elif not three and len(available) == _THREE and (taken.phases == 1 or taken.poles in (1, 2)):
        legs = list(available[: 1 if words.metric else 2])
        item.more["legs"] = taken.legs or legs
        item.parts.append(Part("legs", Message("on {legs}", legs="-".join(item.more["legs"])), not taken.legs))
    elif taken.legs:
        item.more["legs"] = taken.legs
        item.parts.append(Part("legs", Message("on {legs}", legs="-".join(taken.legs))))
    if three:
        item.parts.append(Part("", Message("3-phase")))


def transformer(heard: Heard) -> None:
    """Fill in a transformer: its kVA and the system it makes; its primary must be what it hangs on."""
    item, taken, named, where = heard.item, heard.taken, heard.named, heard.where
    if heard.head in heard.words.lists["boosts"]:
        message = Message(
            "a boost is found for its load: enter the load with the volts on its nameplate, and put a "
            "boost before it there"
        )
        item.problems.append(message)
        return
    power = next((each for each in taken.powers if each.rating.unit == "VA"), None)
    if power is None:
        item.problems.append(Message("a transformer of how many kVA?"))
        return
    secondary = made_by(taken.sides, taken.phases) if taken.sides else next(iter(taken.systems[-1:]), _WHICH)
    if isinstance(secondary, Message):
        item.problems.append(secondary)
        return
    on = where.system.line_to_line_v
    primary = min(taken.sides.primary, key=lambda volts: abs(volts / on - 1)) if taken.sides else 0.0
    primary = primary or next((SYSTEMS[name].line_to_line_v for name in taken.systems[:-1]), 0.0)
    primary = primary or next((group[0] for group in taken.volts), 0.0)
    if not primary and named.numbers:
        primary = float(named.numbers.pop(0))
    if primary and abs(primary / on - 1) > _NEAR:
        message = Message(
            "its primary is {volts}, and it would hang on {system}: put it on a {board} of {volts}",
            volts=Figure(primary, "V"),
            system=where.system.name,
            board=BOARD_WORDS[where.family],
        )
        item.problems.append(message)
        return
    item.more["transformer"] = {
        "kva": f"{power.rating.value / 1000:g}",
        "secondary": secondary,
        **_made(heard, secondary),
    }
    if taken.impedance:
        item.more["transformer"]["impedance_percent"] = f"{taken.impedance:g}"
        item.parts.append(Part("transformer.impedance_percent", Message("{z} Z", z=Figure(taken.impedance, "%", 2))))
    item.parts.append(Part("transformer.kva", Message("{kva}", kva=Figure(power.rating.value / 1000, "kVA", 1))))
    volts = Figure(primary or on, "V")
    sides = Message("{primary} to {secondary}", primary=volts, secondary=secondary)
    item.parts.append(Part("transformer.secondary", sides, not primary))
    _device(item, taken)


def _made(heard: Heard, secondary: str) -> dict[str, str]:
    """Return what a transformer is made of, where a word says so; units of the volts that they need."""
    item, lists, made = heard.item, heard.words.lists, SYSTEMS[secondary]
    if heard.head in lists["autos"]:
        item.parts.append(Part("transformer.made_as", Message("autotransformer")))
        return {"made_as": MadeAs.AUTO.value}
    if heard.head not in lists["banks"]:
        return {}
    units = heard.many or _THREE
    if units not in (_TWO, _THREE):
        item.problems.append(Message("a bank is of three units, or of two in open delta"))
        return {}
    star = made.line_to_neutral_v if units == _THREE else None
    high, low = heard.where.system.line_to_line_v, star or made.line_to_line_v
    item.circuits = 1
    words = Message("{n} units, {high} to {low} each", n=units, high=Figure(high, "V"), low=Figure(low, "V"))
    item.parts.append(Part("transformer.unit_primary_v", words, assumed=True))
    return {
        "made_as": MadeAs.BANK.value,
        "units": str(units),
        "unit_primary_v": f"{high:g}",
        "unit_secondary_v": f"{low:g}",
    }


def spare(heard: Heard) -> None:
    """Fill in a spare: a breaker that feeds nothing yet."""
    item, taken = heard.item, heard.taken
    if not taken.amps:
        item.problems.append(
            Message("a spare of which size? Write its breaker, as in: spare 20 A (an empty place is a space)")
        )
        return
    _place(heard)
    _device(item, taken)


def space(heard: Heard) -> None:
    """Fill in a space: a way without a breaker."""
    item, taken = heard.item, heard.taken
    _place(heard)
    item.unused += [Unused(f"{each.value:g} A", Message("a space has no breaker")) for each in taken.amps]


def _place(heard: Heard) -> None:
    item, taken = heard.item, heard.taken
    poles = taken.poles or (_THREE if taken.phases == _THREE else 0)
    item.circuits = taken.circuits or heard.many or 1
    item.more["poles"] = poles or 1
    item.parts.append(Part("poles", Message("{poles}-pole", poles=poles or 1), not poles))
    if "way" in taken.load:
        item.more["way"] = taken.load["way"]
        item.parts.append(Part("way", Message("way {way}", way=taken.load["way"])))
    if item.circuits > 1:
        item.parts.append(Part("", Message("{n} of them", n=item.circuits)))


def dwelling(heard: Heard) -> None:
    """Fill in a dwelling: its floor area; the rest of it is its own sheet."""
    item, taken = heard.item, heard.taken
    if heard.words.metric:
        item.problems.append(Message("house loads are reckoned under the NEC alone: list its circuits here"))
        return
    if not taken.areas:
        item.problems.append(Message("how large? Write its floor area, as in: house 1,650 ft²"))
        return
    item.circuits = heard.many or 1
    item.more["dwelling"] = {"floor_area": taken.areas[0]}
    item.parts.append(Part("dwelling.floor_area", Message("{area}", area=taken.areas[0])))


def source(heard: Heard) -> None:
    """Fill in a source: the system of a supply."""
    item, taken = heard.item, heard.taken
    if not taken.systems:
        item.problems.append(
            Message("which system? Write its volts, as in: service {here}", here=heard.where.system.name)
        )
        return
    item.more["system"] = taken.systems[0]
    item.parts.append(Part("system", Message("{system}", system=taken.systems[0])))
    why = Message("the service's own breaker is its {board}'s: write it there", board=BOARD_WORDS[heard.where.family])
    item.unused += [Unused(f"{each.value:g}A", why) for each in taken.amps]


def _device(item: Item, taken: Taken) -> None:
    """Keep the breaker or fuse ahead of a node, which an ampere figure of it names."""
    values = sorted({each.value for each in taken.amps})
    if len(values) > 1:
        a, b = Figure(values[0], "A"), Figure(values[1], "A")
        item.problems.append(Message("two breakers: {a} and {b}; write one", a=a, b=b))
    elif values:
        value = values[0]
        item.run.setdefault("pins", {})["device_a"] = int(value) if value == int(value) else value
        item.parts.append(Part("run.pins.device_a", Message("{amps} breaker or fuse", amps=Figure(value, "A"))))


Build = Callable[[Heard], None]
OTHERS: dict[Kind, Build] = {
    Kind.BOARD: board,
    Kind.TRANSFORMER: transformer,
    Kind.SPARE: spare,
    Kind.SPACE: space,
    Kind.DWELLING: dwelling,
    Kind.SOURCE: source,
}
