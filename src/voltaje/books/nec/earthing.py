"""What a service connects to earth: grounded conductor, main bonding jumper, electrode conductors, bonds."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.books.machines import Earthing, EarthingAsked, EarthPart
from voltaje.books.nec.conductors import Conductor, area_cmil, named, sizes
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.grounding import JUMPER, electrode_by_table, electrode_conductors, least_grounded
from voltaje.books.nec.run_tables import ladder
from voltaje.errors import InputError, UnknownName
from voltaje.message import Figure, Message
from voltaje.rounding import DUST
from voltaje.sheet import Sheet, off

_COPPER = "Cu"


@dataclass(frozen=True)
class NecEarthings:
    """An edition's answers about what is connected to earth."""

    edition: Edition

    def earthing(self, asked: EarthingAsked, sheet: Sheet) -> Earthing:
        """Return what a service connects to earth.

        The grounded conductor by the table or by its load, the larger; in parallel raceways each by its own, 1/0 at
        least. Source: 250.24 (grounded conductor), 250.28(D), 250.66, 250.104(A) and (C), Table 250.102(C)(1).
        """
        edition = self.edition
        self._check(asked)
        rule = edition.cite_table("ampacity")
        whole = Conductor(asked.size, asked.material, asked.sets, 0.0, rule)
        each = Conductor(asked.size, asked.material, asked.sets // asked.raceways, 0.0, rule)
        with sheet.section("grounded"):
            by_table = self._by_table(each, sheet)
            grounded, by_load = self._grounded(asked, by_table, sheet)
            sheet.decides()
        with sheet.section("jumper"):
            jumper = least_grounded(whole, edition, sheet, _COPPER, JUMPER)
        with sheet.section("electrodes"):
            electrodes = self._electrodes(whole, asked.ring_size, sheet)
        bond = self._smaller(least_grounded(whole, edition, off(), _COPPER), edition.size_figure("pipe_bond_most"))
        with sheet.section("bonds"):
            label = Message("Bonds of water pipe and steel: {size} Cu", size=bond)
            sheet.read(
                area_cmil(bond, edition),
                label,
                "cmil",
                edition.cite("pipe_bond"),
                Message("by the same table, never larger than 3/0"),
            )
        by = Message("the table, by {lines}", lines=named(each))
        if by_load:
            by = Message("its load")
        elif grounded != by_table:
            by = Message("the rule of parallel raceways: the table alone would let {size} be", size=by_table)
        parts = (
            EarthPart(
                "grounded",
                Message("grounded conductor"),
                grounded,
                asked.material,
                edition.cite("grounded_service"),
                by,
                asked.raceways,
            ),
            EarthPart(
                "jumper",
                Message("main bonding jumper"),
                jumper,
                _COPPER,
                edition.cite("main_jumper"),
                Message("in full: a smaller strap is the usual mistake"),
                other=least_grounded(whole, edition, off(), "Al"),
            ),
            *electrodes,
            EarthPart("pipe_bond", Message("bond of water pipe"), bond, _COPPER, edition.cite("pipe_bond")),
            EarthPart("steel_bond", Message("bond of steel"), bond, _COPPER, edition.cite("steel_bond")),
        )
        return Earthing(parts, by_load)

    def _by_table(self, line: Conductor, sheet: Sheet) -> str:
        """Return the least grounded conductor beside lines [one size of theirs], never larger than they are."""
        size, own = least_grounded(line, self.edition, sheet), area_cmil(line.size, self.edition) * line.sets
        if area_cmil(size, self.edition) <= own + DUST:
            return size
        because = Message("it need not be larger than its lines")
        label = Message("Grounded conductor: {size} {material}", size=line.size, material=line.material)
        sheet.read(own, label, "cmil", self.edition.cite("grounded_service"), because)
        return line.size

    def _electrodes(self, whole: Conductor, ring_size: str, sheet: Sheet) -> list[EarthPart]:
        """Return the conductor to each electrode. In aluminum only where it lies dry, off the earth and concrete."""
        edition = self.edition
        found = {one.electrode: one for one in electrode_conductors(whole, edition, sheet)}
        pipe, other = found["water_pipe"], electrode_by_table(whole, edition, "Al")
        ring = self._smaller(pipe.size, ring_size) if ring_size else found["ring"].size
        ceiling = Message("a ceiling, where it goes to that electrode alone")
        return [
            EarthPart("water_pipe", Message("to the water pipe"), pipe.size, _COPPER, pipe.rule, other=other),
            EarthPart("steel", Message("to the building steel"), pipe.size, _COPPER, pipe.rule, other=other),
            EarthPart(
                "concrete_encased",
                Message("to the footing"),
                found["concrete_encased"].size,
                _COPPER,
                found["concrete_encased"].rule,
                ceiling,
            ),
            EarthPart("rod", Message("to the rod"), found["rod"].size, _COPPER, found["rod"].rule, ceiling),
            EarthPart("ring", Message("to the ring"), ring, _COPPER, found["ring"].rule, ceiling),
        ]

    def _check(self, asked: EarthingAsked) -> None:
        edition = self.edition
        known = tuple(ladder(edition.name, asked.material))
        for key, size in (("size", asked.size), ("ring_size", asked.ring_size)):
            if size and size not in known:
                message = Message("{size} is not in the table, which has: {known}", size=size, known=list(known))
                raise UnknownName(key, message)
        if asked.sets % asked.raceways:
            raise InputError("raceways", Message("each raceway holds as many sets"))
        least = edition.size_figure("parallel_from")
        if asked.sets > 1 and area_cmil(asked.size, edition) < area_cmil(least, edition):
            message = Message("parallel conductors begin at {least}", least=least)
            raise InputError("size", message, str(edition.cite("parallel")))

    def _grounded(self, asked: EarthingAsked, by_table: str, sheet: Sheet) -> tuple[str, bool]:
        """Return the grounded conductor in each raceway, and whether its load asks for more than the table."""
        edition = self.edition
        size, by_load = by_table, False
        if asked.raceways > 1:
            least = edition.size_figure("parallel_from")
            if area_cmil(size, edition) < area_cmil(least, edition):
                size = least
                because = Message("in parallel raceways not under 1/0")
                label = Message(
                    "Grounded conductor in each raceway: {size} {material}", size=size, material=asked.material
                )
                sheet.read(area_cmil(size, edition), label, "cmil", edition.cite("grounded_service"), because)
        if asked.neutral:
            by_load = area_cmil(asked.neutral, edition) > area_cmil(size, edition)
            return (asked.neutral if by_load else size), by_load
        if asked.neutral_a is None:
            return size, by_load
        need = asked.neutral_a / asked.raceways
        rows = ladder(edition.name, asked.material)
        enough = next((name for name, row in rows.items() if row[asked.column_c] >= need - DUST), None)
        if enough is None:
            message = Message("{amps} are more than any size carries: more raceways", amps=Figure(asked.neutral_a, "A"))
            raise InputError("neutral_a", message)
        if area_cmil(enough, edition) > area_cmil(size, edition):
            size, by_load = enough, True
        because = Message(
            "its load, {amps} in each raceway; the larger of load and table rules", amps=Figure(need, "A", 1)
        )
        label = Message("Neutral by its load: {size} {material}", size=enough, material=asked.material)
        sheet.read(need, label, "A", edition.cite("neutral"), because)
        return size, by_load

    def _smaller(self, one: str, other: str) -> str:
        known = sizes(self.edition)
        return min(one, other, key=known.index)
