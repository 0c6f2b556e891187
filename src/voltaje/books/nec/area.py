"""General lighting by area on boards that are not dwellings, against what is listed by nameplate."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.books.nec.edition import Edition
from voltaje.books.tables import Row, number
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.board import AreaSpec
from voltaje.sheet import Sheet

LIGHTING = Formula("area * unit_load")
SHARE = Formula("load * percent / 100")
SUM = Formula("sum(parts)")
LARGER = Formula("max(by_area, nameplate)")


@dataclass(frozen=True)
class AreaLighting:
    """Lighting by area [VA], what of it is beyond the circuits listed, and the continuous shares of both."""

    by_area_va: float
    beyond_va: float
    listed_continuous: float
    beyond_continuous: float


def area_lighting(nameplate_va: float, spec: AreaSpec, edition: Edition, sheet: Sheet) -> AreaLighting:
    """Return the general lighting of a board by area, the larger of it and the nameplates counting.

    The nameplates are continuous. The unit loads of 2017 are continuous too; later ones hold the 125 %
    already, so that device and conductors then are for the larger of the area's load and 125 % of the
    nameplates.
    Source: NEC 220.12 (2023: 220.42), Table 220.42 (2023: 220.45), 215.2, 215.3.
    Raises: InputError for an occupancy that the edition's table lacks, or has doubtful, without a unit load.
    """
    by_area = area_demand([spec], edition, sheet)
    because = Message("the larger of area and nameplates")
    rule = edition.cite("unit_loads")
    label = Message("General lighting")
    counted = sheet.apply(LARGER, label, "VA", rule, because, by_area=by_area, nameplate=nameplate_va)
    beyond = counted - nameplate_va
    if not edition.unit_load_holds_continuous or not beyond:
        return AreaLighting(by_area, beyond, 1.0, 1.0)
    extra = edition.figure("continuous_factor") - 1
    short = max(nameplate_va * (1 + extra) - by_area, 0.0)
    listed = short / (extra * nameplate_va) if nameplate_va else 0.0
    return AreaLighting(by_area, beyond, listed, 0.0)


def area_demand(specs: Sequence[AreaSpec], edition: Edition, sheet: Sheet) -> float:
    """Return the lighting demand of areas of one kind together [VA]: their unit loads, and the steps once over them.

    Source: NEC 220.12 (2023: 220.42), Table 220.42 (2023: 220.45). Raises: as `area_lighting`.
    """
    loads, rows = [], [_row(spec, edition) for spec in specs]
    for spec, row in zip(specs, rows, strict=True):
        named = spec.occupancy or Message("unit load entered")
        loads.append(
            sheet.apply(
                LIGHTING,
                Message("General lighting by area, {occupancy}", occupancy=named),
                "VA",
                edition.cite("unit_loads"),
                Message("unit load as entered") if spec.va_per_ft2 else None,
                area=spec.floor_area_ft2,
                unit_load=spec.va_per_ft2 or number(row, edition.unit_load_column),
            )
        )
    return _demand(sum(loads), rows[0], edition, sheet) if loads else 0.0


def steps_of(spec: AreaSpec, edition: Edition) -> str:
    """Return the occupancy by whose steps an area's lighting is reduced, "" where it counts in full.

    Source: Table 220.42 (2023: 220.45).
    """
    row = _row(spec, edition)
    known = {
        each["demand"]
        for each in edition.table("lighting_demand_other").rows
        if each["set"] == edition.lighting_demand_set
    }
    return str(row["demand"]) if row["demand"] in known else ""


def _row(spec: AreaSpec, edition: Edition) -> Row:
    if not spec.occupancy and spec.va_per_ft2:
        return {"demand": None}
    table = edition.table("unit_loads")
    named = spec.occupancy.strip().lower()
    row = table.row("area.occupancy", edition.name, occupancy=_ALSO.get(named, spec.occupancy))
    doubtful = row["doubtful"] and edition.unit_load_holds_continuous
    if not spec.va_per_ft2 and (row[edition.unit_load_column] is None or doubtful):
        message = Message(
            "the unit load of {occupancy} is not sure in {table}: enter yours as va_per_ft2",
            occupancy=spec.occupancy,
            table=table.numbered(edition.name),
        )
        raise InputError("area.va_per_ft2", message, str(table.cite(edition.name)))
    return row


# What people call an occupancy that the table has by another name.
_ALSO = {"store": "retail", "stores": "retail", "shop": "retail", "shops": "retail", "mall": "retail"}


def _demand(load: float, row: Row, edition: Edition, sheet: Sheet) -> float:
    rows = [
        each
        for each in edition.table("lighting_demand_other").rows
        if each["demand"] == row["demand"] and each["set"] == edition.lighting_demand_set
    ]
    if not row["demand"] or not rows:
        return load
    rule, parts = edition.cite("unit_load_demand"), []
    for each in rows:
        over, percent = number(each, "over"), number(each, "percent")
        portion = min(load, float("inf") if each["to"] is None else number(each, "to")) - over
        if portion > 0:
            label = Message("{portion} at {percent}", portion=Figure(portion, "VA"), percent=Figure(percent, "%"))
            parts.append(sheet.apply(SHARE, label, "VA", rule, None, load=portion, percent=percent))
    return sheet.apply(SUM, Message("Lighting demand by area"), "VA", rule, None, parts=parts)
