"""A transformer as it is wired, in words for its terminal drawing: from a quick sheet's answer, or from a path."""

from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from voltaje.books.answers import Terms, sets_of
from voltaje.books.machines import Bonds
from voltaje.design.chain import RunDesign
from voltaje.design.solution import NodeSolution
from voltaje.physics.reflection import Connection, connection
from voltaje.physics.transformer import Plate
from voltaje.systems import THREE_PHASE
from web.drawing.terminals import Side, Wired
from web.words.figures import write


class Taps(NamedTuple):
    """A winding's taps [%], the most turns first; the one in use; which winding has them."""

    all: Sequence[float] = ()
    used: float = 0.0
    on: str = "primary"


class Unit(NamedTuple):
    """A transformer as it was worked: its plate, how its windings are joined, its runs, its bonds and taps.

    neutral_v: of its secondary, None without a neutral; behind: None where nothing is fed yet
    lengths: of both runs, in words; here: whether its one bond is made at it
    """

    plate: Plate
    joined: Connection | None
    neutral_v: float | None
    before: RunDesign
    behind: RunDesign | None
    bonds: Bonds | None
    taps: Taps
    lengths: tuple[str, str]
    here: bool = True


def wired(unit: Unit, terms: Terms) -> Wired:
    """Return a transformer as it is wired."""
    plate, joined, neutral_v, before, behind, bonds, taps, lengths, here = unit
    highs = plate.phases if plate.phases == THREE_PHASE else _SINGLE
    first = Side(
        device=f"{write(before.choice.device_a)} A",
        lines=f"{highs} × {_size(before, terms)}",
        sets=before.choice.sets,
        length=lengths[0],
        ground=f"{before.earth.size} {before.earth.material}",
    )
    second = Side("", "", length=lengths[1])
    if behind is not None:
        sets = behind.choice.sets
        neutral = behind.neutral or (bonds.grounded if bonds else "")
        second = Side(
            device=f"{write(behind.choice.device_a)} A",
            lines=_size(behind, terms),
            sets=sets,
            length=lengths[1],
            neutral=sets_of(neutral, sets) if neutral_v and neutral else "",
            ground=sets_of(bonds.supply_side if bonds else behind.earth.size, sets),
        )
    electrode = ""
    if bonds:
        electrode = _("{size} Cu to electrode").format(size=next(iter(bonds.electrodes.values())))
    return Wired(
        plate.phases,
        joined.primary if joined else "",
        joined.secondary if joined else "",
        plate.primary_v,
        plate.secondary_v,
        neutral_v,
        first,
        second,
        sorted(taps.all, reverse=True),
        taps.used,
        taps.on,
        f"{bonds.jumper} Cu" if bonds else "",
        bonds.supply_side if bonds else "",
        electrode,
        here,
    )


_SINGLE = 2


def _size(design: RunDesign, terms: Terms) -> str:
    choice = design.choice
    return f"{sets_of(choice.size, choice.sets)} {terms.gauge(choice.size)} {design.run.material}"


def wired_on_path(solved: NodeSolution, lengths: tuple[str, str], terms: Terms) -> Wired | None:
    """Return a transformer of a path as it is wired; None where its primary is not sized."""
    unit, spec = solved.unit, solved.node.transformer
    if unit is None or spec is None or solved.design is None:
        return None
    behind = unit.behind[0] if unit.behind else None
    secondary = spec.secondary
    neutral_v = secondary.line_to_neutral_v if len(secondary.legs) > 1 else None
    joined = connection(spec.connection, secondary) or connection("", secondary)
    as_worked = Unit(
        unit.plate,
        joined if unit.plate.phases == THREE_PHASE else None,
        neutral_v,
        solved.design,
        behind.design if behind else None,
        behind.bonds if behind else None,
        Taps((), spec.tap, spec.taps_on),
        lengths,
        spec.bond_at == "transformer",
    )
    return wired(as_worked, terms)
