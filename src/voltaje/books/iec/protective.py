"""The protective conductor of lines of a size."""

from __future__ import annotations

from functools import cache

from voltaje.books.iec.profile import PACKAGE, Profile
from voltaje.books.tables import load_table, text
from voltaje.errors import NoLawfulAnswer
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.sheet import Sheet

HALF = Formula("line / 2")


@cache
def protective_sizes() -> tuple[str, ...]:
    """Return the sizes that single protective conductors are made in [mm²]."""
    rows = load_table(PACKAGE, "drop_singles_pvc70").rows
    return tuple(text(row, "size") for row in rows)


def protective_of(size: str, label: Message, profile: Profile, sheet: Sheet, sets: int = 1) -> str:
    """Return the protective conductor by the size of the line, to the next size up [mm²]; of sets, for all together.

    Source: IEC 60364-5-54 Table 54.2: as the line up to 16 mm², 16 mm² up to 35, half above.
    """
    line, rule = float(size) * sets, profile.cite("protective")
    same_to = profile.figure("protective_same_to_mm2")
    wanted = min(line, same_to)
    because = Message("as the line up to 16 mm²") if line <= same_to else Message("16 mm² up to 35 mm²")
    if line > profile.figure("protective_16_to_mm2"):
        because = Message("half the line above 35 mm²")
        wanted = sheet.apply(HALF, Message("Half of the line"), "mm²", rule, because, line=line)
    found = next((each for each in protective_sizes() if float(each) >= wanted), None)
    if found is None:
        largest = protective_sizes()[-1]
        message = Message(
            "half of {sets} × {size} mm² is more than {largest} mm², the largest single one",
            sets=sets,
            size=size,
            largest=largest,
        )
        raise NoLawfulAnswer("sets", message, str(rule))
    sheet.read(float(found), label, "mm²", rule, because)
    return found
