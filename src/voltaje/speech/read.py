"""The walk-through line read: parted, its quantities taken out, its words judged, and made into nodes of the file.

Nothing is guessed in silence: every digit and every word is used, or said to be unused; what was assumed is a part of
its own, with what else it might be.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from voltaje.errors import InputError
from voltaje.limits import MOST_CIRCUITS_OF_A_LINE, MOST_LINE
from voltaje.message import Message
from voltaje.path.document import FORMAT, VERSION, read_job
from voltaje.path.kinds import LOAD_KINDS, NODE_KINDS, Kind, LoadKind
from voltaje.speech import loads
from voltaje.speech.heard import Heard
from voltaje.speech.naming import Named, named
from voltaje.speech.others import OTHERS
from voltaje.speech.places import without_a_place
from voltaje.speech.said import Item, Part, Understood, Unused, Where
from voltaje.speech.spelled import in_figures
from voltaje.speech.taken import Taken
from voltaje.speech.taking import take_all
from voltaje.speech.typed import Typed
from voltaje.speech.words import Words, holds, words_of
from voltaje.systems import SYSTEMS

_NO_POWER = (Kind.BOARD, Kind.SPARE, Kind.SPACE)
_BARE_VOLTS = re.compile(r"(?<![\w.])(?P<v>\d{3})(?![\w.])")
_TOO_MANY = Message("a line makes at most {most} circuits", most=MOST_CIRCUITS_OF_A_LINE)
_SAY_WHAT = Message("say what it is and its rating, as in: kiln 11.5 kW 208 V 3ph 60 ft")
_MAIN = re.compile(r"(?:meter )?mains?(?: breaker| switch| disconnect)?|service disconnect")


def read_line(text: str, where: Where) -> Understood:
    """Return what a line says, there. It never raises: what stands in the way is among the problems."""
    found = Understood(text)
    if len(text) > MOST_LINE:
        found.items.append(Item(text, problems=[Message("a line has at most {most} characters", most=MOST_LINE)]))
        return found
    parts = [part for part in re.split(r"[;\n]+", text) if part.strip(" .,;")]
    for part in parts or [""]:
        found.items.append(_item(" ".join(part.replace("\u2019", "'").split()), where))
    if sum(item.circuits for item in found.items) > MOST_CIRCUITS_OF_A_LINE:
        found.items[-1].problems.append(_TOO_MANY)
    return found


def _item(text: str, where: Where) -> Item:
    item, words = Item(text), words_of(where.family)
    if not re.search(r"\w", text):
        item.problems.append(_SAY_WHAT)
        return item
    typed = Typed(in_figures(text, where.family))
    taken = take_all(typed, where.family, where.decimal, where.rings)
    said = _named(typed, words, taken, where)
    item.name, item.board = said.name, taken.board
    item.problems += [*taken.problems, *said.problems]
    if not item.problems:
        try:
            _build(Heard(item, taken, said, where, words))
        except InputError as error:  # an amount that no reader takes, as 9223372036854775808 A
            item.problems.append(error.message)
    _run(item, taken)
    if not item.name:
        item.name = _kind_words(item)
    item.unused += without_a_place(item.kind, taken)
    item.unused += [*taken.unused, *said.unused, *(Unused(number) for number in said.numbers)]
    if not item.problems:
        item.problems += list(_judged(item, where))
    return item


def _named(typed: Typed, words: Words, taken: Taken, where: Where) -> Named:
    """Return what the words say; a transformer's volts may stand without their unit."""
    if any(holds(typed.left, word) for word, kind in words.nodes.items() if kind == Kind.TRANSFORMER):
        typed.take(_BARE_VOLTS, taken.bare_volts)
    return named(typed, words, taken, where.rings)


def _build(heard: Heard) -> None:
    item, taken, said = heard.item, heard.taken, heard.named
    head = said.head
    kind = Kind(head.kind) if head and head.is_node else Kind.LOAD
    if head is None and _is_transformer(taken):
        kind = Kind.TRANSFORMER
    if kind in _NO_POWER and taken.powers:
        # What has a rating in kW is no board: "LED panel 40 W".
        said.heads = [each for each in said.heads if not each.is_node]
        kind = Kind.LOAD
    if kind is Kind.LOAD and not said.head and _MAIN.fullmatch(item.name.lower()):
        item.problems.append(Message("a main breaker belongs to its panel: write it so, as in: panel Main 400 A"))
        return
    if kind is Kind.LOAD and taken.areas and not taken.powers and head and head.kind != "lighting":
        item.problems.append(Message("write what it draws: W or kW of the whole area"))
        return
    if kind is Kind.LOAD and taken.areas and not taken.powers:
        item.problems.append(Message("lighting by floor area is its panel's: enter the floor area there"))
        return
    if not (said.head or taken.powers or taken.amps or taken.mca or item.name):
        item.problems.append(_SAY_WHAT)
        return
    item.kind = kind
    if kind is Kind.INVERTER:
        loads.inverter(heard)
    elif kind is Kind.LOAD:
        loads.build(heard)
    else:
        OTHERS[kind](heard)


def _is_transformer(taken: Taken) -> bool:
    """Return whether a plate without a word for it is a transformer's: kVA with both sides, or with an impedance."""
    in_va = any(power.rating.unit == "VA" and not power.rating.is_watts for power in taken.powers)
    return in_va and bool(taken.sides or taken.impedance or len(set(taken.systems)) > 1)


def _run(item: Item, taken: Taken) -> None:
    """Keep how the run is made: its length, its size, its cable."""
    lengths = list(dict.fromkeys(taken.lengths))
    if len(lengths) > 1:
        item.problems.append(Message("two lengths: {a} and {b}; write one", a=lengths[0], b=lengths[1]))
    if lengths:
        item.run["length"] = lengths[0]
        item.parts.append(Part("run.length", Message("{length}", length=lengths[0])))
    if not (item.kind is Kind.LOAD and item.load.get("kind") == "sockets"):
        taken.run.pop("ring", None)
    for key, value in taken.run.items():
        item.run[key] = value
        item.parts.append(Part(f"run.{key}", _run_said(key, value), key in taken.assumed_run))
    if taken.size:
        item.run.setdefault("pins", {})["size"] = taken.size
        item.parts.append(Part("run.pins.size", Message("size {size}", size=taken.size)))
    if taken.protective:
        item.run.setdefault("pins", {})["protective"] = taken.protective
        item.parts.append(Part("run.pins.protective", Message("cpc {size} mm²", size=taken.protective)))
    if "pins" in item.run:
        item.run["pins"]["reason"] = "said in the walk-through"
    if "way" in taken.load and item.kind is Kind.LOAD:
        item.parts.append(Part("load.way", Message("circuit {way}", way=taken.load["way"])))


def _run_said(key: str, value: Any) -> Message:
    if key == "ring":
        return Message("ring final")
    if key == "rcd_ma":
        return Message("RCD {ma}", ma=value)
    return Message("type {kind}", kind=value) if key == "device_kind" else Message("{value}", value=value)


def _kind_words(item: Item) -> str:
    if item.kind is not Kind.LOAD:
        words = NODE_KINDS[item.kind].words
    else:
        words = LOAD_KINDS[LoadKind(item.load.get("kind", "general"))].words
    return words[:1].upper() + words[1:]


def nodes_of(item: Item) -> Iterator[dict[str, Any]]:
    """Yield the nodes of the open file that an item makes, one for each circuit, without id and parent.

    One after the other, as they are asked for: an item holds a count, which nobody may have judged yet.
    """
    for at in range(1, item.circuits + 1):
        name = item.name if item.circuits == 1 else f"{item.name} {at}"
        node: dict[str, Any] = {"kind": item.kind.value, "name": name, **item.more}
        if item.kind in (Kind.LOAD, Kind.INVERTER):
            node["load"] = dict(item.load)
        if item.run:
            node["run"] = {**item.run, **({"pins": dict(item.run["pins"])} if "pins" in item.run else {})}
        if item.assumed():
            node["assumed"] = item.assumed()
        yield node


def _judged(item: Item, where: Where) -> Iterator[Message]:
    """Let the open file's own reader judge what was made of the line."""
    system = where.system.name if where.system.name in SYSTEMS else next(iter(SYSTEMS))
    source = {"id": "s", "kind": "source", "system": system}
    node = {"id": "n", **next(nodes_of(item))}
    if item.kind is not Kind.SOURCE:
        node["parent"] = "s"
    try:
        read_job({"format": FORMAT, "version": VERSION, "nodes": [source, node]}, "ft")
    except InputError as error:
        yield Message("{field}: {why}", field=error.field.removeprefix("nodes[1]."), why=error.message)
