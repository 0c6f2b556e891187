"""A load on its circuit."""

from __future__ import annotations

from voltaje.books.questions import Book
from voltaje.design.checks import HEAT_AT, otherwise_rated
from voltaje.design.circuits import common
from voltaje.design.circuits.link import Link
from voltaje.design.solution import NodeSolution
from voltaje.message import Figure, Message
from voltaje.path.load import LoadSpec


def links(solved: NodeSolution, book: Book) -> list[Link]:
    """Return the links of a load's circuit."""
    load = solved.node.load
    why = nameplate(load) if load else []
    if load and heats(load, solved):
        share = HEAT_AT.value(rated_va=100.0, volts=solved.volts, rated_v=load.volts or solved.nominal_v)
        given = {"share": Figure(share, "%"), "volts": Figure(solved.volts, "V", 1)}
        why.append(Message("heats with {share} at the {volts} it gets", **given))
    first = common.connected(solved, why, Message("nameplate"))
    sized = common.run(solved, book, Message("not sized"))
    return [
        first,
        common.demand(solved),
        common.current(solved),
        *sized,
        *common.overload(solved),
        *common.taps(solved, book),
    ]


def heats(load: LoadSpec, solved: NodeSolution) -> bool:
    """Return whether a heater's volts are worth a word: made for its supply, behind transformers or as measured."""
    off = bool(solved.inside) or solved.supply_share != 1
    return load.traits.resistive and off and not otherwise_rated(load, solved)


def nameplate(load: LoadSpec) -> list[Message]:
    """Return a load as its nameplate and its entries have it."""
    words = [Message("{rating}", rating=load.rating.typed)]
    if load.count > 1:
        words = [Message("{count} × {rating}", count=load.count, rating=load.rating.typed)]
    if load.continuous:
        share = Figure(load.continuous * 100, "%")
        words.append(Message("continuous") if load.continuous == 1 else Message("continuous {share}", share=share))
    if load.counts_as is not load.kind:
        words.append(Message("counts as a motor"))
    if load.power_factor != 1:
        words.append(Message("cos φ {cosine}", cosine=Figure(load.power_factor, "", 2)))
    return words
