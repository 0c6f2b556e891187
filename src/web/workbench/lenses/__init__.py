"""The lenses, in the order of their keys. A new one is a module and a template, and a line here."""

from web.workbench.lenses import earth, legs, path, schedule, terminals, volts
from web.workbench.lenses.lens import Lens

LENSES: dict[str, Lens] = {
    lens.name: lens for lens in (path.LENS, legs.LENS, volts.LENS, schedule.LENS, earth.LENS, terminals.LENS)
}
FIRST = path.LENS


def find_lens(name: str, kind: str = "") -> Lens:
    """Return a lens by its name, the first where there is none of that name for that kind of node."""
    found = LENSES.get(name, FIRST)
    return found if not found.of or kind in found.of else FIRST


def lenses_for(kind: str) -> list[Lens]:
    """Return the lenses that serve where a node of that kind is chosen."""
    return [lens for lens in LENSES.values() if not lens.of or kind in lens.of]
