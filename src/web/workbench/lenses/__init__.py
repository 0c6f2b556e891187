"""The lenses, in the order of their keys. A new one is a module and a template, and a line here."""

from web.workbench.lenses import path, schedule
from web.workbench.lenses.lens import Lens

LENSES: dict[str, Lens] = {lens.name: lens for lens in (path.LENS, schedule.LENS)}
FIRST = path.LENS


def find_lens(name: str) -> Lens:
    """Return a lens by its name, the first where there is none of that name."""
    return LENSES.get(name, FIRST)
