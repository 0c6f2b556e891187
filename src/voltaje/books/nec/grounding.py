"""Grounding at a service: the electrode conductor, the grounded conductor."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

from voltaje.books.answers import EarthConductor
from voltaje.books.nec.conductors import Conductor, ampacity, area_cmil, named, sizes
from voltaje.books.nec.edition import Edition
from voltaje.books.tables import named_by, text
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Citation, Sheet, off

SHARE_OF_AREA = Formula("area * percent / 100")


@dataclass(frozen=True)
class ElectrodeConductor:
    """The copper grounding electrode conductor to one kind of electrode."""

    electrode: str
    name: Message
    size: str
    rule: Citation


def electrode_conductors(line: Conductor, edition: Edition, sheet: Sheet) -> list[ElectrodeConductor]:
    """Return the copper conductor to each kind of electrode, by the largest ungrounded conductor.

    Parallel sets count by their total area. A rod, a concrete-encased electrode or a ring alone
    never needs more than its own limit.
    Source: NEC 250.66, Table 250.66.
    """
    by_table = electrode_by_table(line, edition, "Cu")
    found = [ElectrodeConductor("water_pipe", Message("water pipe"), by_table, edition.cite("electrode_water"))]
    for key, name in (
        ("rod", Message("rods, pipes or plates")),
        ("concrete_encased", Message("concrete-encased")),
        ("ring", Message("ground ring of 2 AWG")),
    ):
        topic = "electrode_concrete" if key == "concrete_encased" else f"electrode_{key}"
        most = edition.size_figure(topic)
        size = min(by_table, most, key=lambda size: area_cmil(size, edition))
        found.append(ElectrodeConductor(key, name, size, edition.cite(topic)))
    for item in found:
        label = Message("Electrode conductor, {name}: {size} AWG Cu", name=item.name, size=item.size)
        because = Message("by {line} {material}", line=named(line), material=line.material)
        sheet.read(area_cmil(item.size, edition), label, "cmil", item.rule, because)
    return found


def electrode_by_table(line: Conductor, edition: Edition, material: str) -> str:
    """Return the electrode conductor of a metal, by the largest ungrounded conductor. Source: NEC Table 250.66."""
    return text(_band(line, "electrode_conductor", edition), material.lower())


LEAST_GROUNDED, JUMPER = Message("Least grounded conductor"), Message("Main bonding jumper")


def least_grounded(
    line: Conductor, edition: Edition, sheet: Sheet, material: str = "", what: Message = LEAST_GROUNDED
) -> str:
    """Return the least grounded conductor or bonding jumper, by the largest ungrounded conductor.

    material: its own, the line's where none is said; what: it is called in the steps
    Above the table's last size it is a share of the ungrounded area, to the next size up.
    Source: NEC 250.24, Table 250.102(C)(1).
    """
    made_of = material or line.material
    row = _band(line, "grounded_conductor", edition)
    cell = text(row, made_of.lower())
    rule = edition.cite_table("grounded_conductor", row=named_by(row["cu_to"], row["al_to"]), column=made_of.lower())
    if not cell.endswith("%"):
        label = Message("{what}: {size} {material}", what=what, size=cell, material=made_of)
        because = Message("by {line} {material}", line=named(line), material=line.material)
        sheet.read(area_cmil(cell, edition), label, "cmil", rule, because)
        return cell
    percent = float(cell.removesuffix("%"))
    because = Message("{percent} of the ungrounded area", percent=Figure(percent, "%", 1))
    alike = _made_of(line, made_of, edition)
    if alike is not line:
        because = Message(
            "{percent} of the area of {line} {material}, lines of its metal that carry as much",
            percent=Figure(percent, "%", 1),
            line=named(alike),
            material=made_of,
        )
    label = Message("{what}, at least", what=what)
    area = sheet.apply(SHARE_OF_AREA, label, "cmil", rule, because, area=_area(alike, edition), percent=percent)
    known = sizes(edition)
    at = next(at for at, size in enumerate(known) if area_cmil(size, edition) >= area)
    below = known[max(at - 1, 0)]
    because = Message(
        "the next size over that: {below} has {cmil}", below=below, cmil=Figure(area_cmil(below, edition), "cmil")
    )
    label = Message("{what}: {size} {material}", what=what, size=known[at], material=made_of)
    sheet.read(area_cmil(known[at], edition), label, "cmil", rule, because)
    return known[at]


def _made_of(line: Conductor, material: str, edition: Edition) -> Conductor:
    """Return the lines as if made of another metal, carrying as much. Source: notes of Table 250.102(C)(1).

    Where no size of it carries as much the lines stand as they are.
    """
    if material == line.material:
        return line
    carried = ampacity(line.size, line.material, _EQUAL_AT_C, edition) or 0.0
    known = ((size, ampacity(size, material, _EQUAL_AT_C, edition)) for size in sizes(edition))
    found = next((size for size, each in known if each is not None and each >= carried), line.size)
    return Conductor(found, material, line.sets, line.ampacity_a, line.rule)


_EQUAL_AT_C = 75  # column in which metals are compared


def supply_side_bond(size: str, material: str, edition: Edition, sheet: Sheet) -> EarthConductor:
    """Return the bonding jumper of a raceway before the first device of a derived system.

    Source: NEC 250.30(A)(2), Table 250.102(C)(1).
    """
    rule = edition.cite("supply_bonding_jumper")
    jumper = least_grounded(Conductor(size, material, 1, 0.0, rule), edition, off())
    label = Message("Supply-side bonding jumper, each raceway: {size} {material}", size=jumper, material=material)
    because = Message("by its lines, {line} {material}", line=size, material=material)
    sheet.read(area_cmil(jumper, edition), label, "cmil", rule, because)
    return EarthConductor(jumper, material, rule)


def least_feeder_neutral(device_a: float, material: str, edition: Edition, sheet: Sheet) -> str:
    """Return the least neutral of a feeder: not under its equipment grounding conductor.

    Source: NEC 215.2, Table 250.122.
    """
    table = edition.table("equipment_conductor")
    size = text(table.round_up("demand", edition.name, "amps", device_a), material.lower())
    label = Message("Least neutral: {size} {material}", size=size, material=material)
    because = Message("as the equipment grounding conductor of {device}", device=Figure(device_a, "A"))
    sheet.read(area_cmil(size, edition), label, "cmil", edition.cite("feeder_neutral"), because)
    return size


def neutral_conductor(
    amps: float, least_each: str, line: Conductor, column_c: int, edition: Edition, sheet: Sheet
) -> Conductor:
    """Return the neutral: enough for its current, not under its least size, never larger than its line.

    least_each: least size, of all sets together
    Source: NEC 220.61, 250.24, 310.12 (neutral may be smaller than the line).
    """
    known, line_at = sizes(edition), sizes(edition).index(line.size)
    first = known.index(edition.size_figure("parallel_from")) if line.sets > 1 else 0
    rule = edition.cite("neutral")
    for size in known[first : line_at + 1]:
        each = ampacity(size, line.material, column_c, edition)
        enough = each is not None and each * line.sets >= amps
        large = area_cmil(size, edition) * line.sets >= area_cmil(least_each, edition)
        if enough and large and each is not None:
            return _neutral(Conductor(size, line.material, line.sets, each * line.sets, rule), sheet, None)
    because = Message("as large as its line: the 83 % permission carries to the neutral")
    return _neutral(Conductor(line.size, line.material, line.sets, line.ampacity_a, rule), sheet, because)


def _neutral(conductor: Conductor, sheet: Sheet, because: Message | None) -> Conductor:
    label = Message("Neutral: {size} {material}", size=named(conductor), material=conductor.material)
    sheet.read(conductor.ampacity_a, label, "A", conductor.rule, because)
    return conductor


def _area(line: Conductor, edition: Edition) -> float:
    return line.sets * area_cmil(line.size, edition)


def _limit_cmil(size: str, edition: Edition) -> float:
    """Return the area a band ends at; the tables also end bands at sizes that are not made, such as 1100 kcmil."""
    made = size in sizes(edition)
    return area_cmil(size, edition) if made else float(size) * _CMIL_IN_KCMIL


_CMIL_IN_KCMIL = 1000


def _band(line: Conductor, table: str, edition: Edition) -> dict[str, str | float | None]:
    area = _area(line, edition)
    return next(row for limit, row in _bands(edition, table, line.material) if area <= limit)


@cache
def _bands(edition: Edition, table: str, material: str) -> tuple[tuple[float, dict[str, str | float | None]], ...]:
    """Return the rows of a banded table for a metal, each with the area that it ends at; the last is open."""
    column = f"{material.lower()}_to"
    rows = edition.table(table).rows
    limits = (math.inf if row[column] is None else _limit_cmil(text(row, column), edition) for row in rows)
    return tuple(zip(limits, rows, strict=True))
