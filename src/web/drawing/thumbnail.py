"""A small picture of a job's path: a trunk, its branches, their twigs."""

from dataclasses import dataclass

WIDTH, HEIGHT = 96.0, 44.0
MOST_BRANCHES = 60  # more are not told apart at this size
_LEVELS = 4
_INSET = 3.0


@dataclass(frozen=True)
class Twig:
    """A line of the picture, and how thick it is."""

    x1: float
    y1: float
    x2: float
    y2: float
    stroke: float


@dataclass(frozen=True)
class Thumbnail:
    """The lines of the picture, in a box of WIDTH by HEIGHT."""

    twigs: tuple[Twig, ...]
    width: float = WIDTH
    height: float = HEIGHT


def thumbnail(nodes: list[tuple[str, str]]) -> Thumbnail:
    """Return the picture of nodes, each with its parent, in the order of the tree."""
    children: dict[str, list[str]] = {}
    for key, parent in nodes:
        children.setdefault(parent, []).append(key)
    ends = [key for key, _parent in nodes if key not in children]
    step = (HEIGHT - 2 * _INSET) / max(len(ends) - 1, 1)
    y = {key: _INSET + at * step for at, key in enumerate(ends)}
    depth: dict[str, int] = {"": -1}
    for key, parent in nodes:
        depth[key] = depth[parent] + 1
    for key, _parent in reversed(nodes):
        if key in children:
            y[key] = y[children[key][0]]
    across = (WIDTH - 2 * _INSET) / max(max(depth.values(), default=0) + 1, _LEVELS)
    twigs = []
    for key, _parent in nodes:
        x = _INSET + depth[key] * across
        twigs.append(Twig(x, y[key], x + across, y[key], max(3.6 - depth[key], 0.9)))
        if key in children:
            last = children[key][-1]
            twigs.append(Twig(x + across, y[key], x + across, y[last], max(3.6 - depth[key], 0.9)))
    return Thumbnail(tuple(twigs))
