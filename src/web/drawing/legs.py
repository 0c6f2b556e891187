"""How legs look: the colour of their conductors by the region's custom, and a mark that differs in shape.

Colours: common practice of the NEC family (black, red, blue; brown, orange, yellow above 300 V; white or grey neutral),
IEC 60445 for the others (brown, black, grey; blue neutral).
"""

from web.drawing.shapes import Shape

_LOW = {"L1": "black", "L2": "red", "L3": "blue", "N": "white"}
_HIGH = {"L1": "brown", "L2": "orange", "L3": "yellow", "N": "white"}
_IEC = {"L1": "brown", "L2": "black", "L3": "grey", "N": "light-blue"}
_HIGH_FROM_V = 300.0


def colour(leg: str, family: str, volts: float = 0.0) -> str:
    """Return the colour's name of a leg or the neutral; volts: between lines."""
    known = _IEC if family == "iec" else _HIGH if volts > _HIGH_FROM_V else _LOW
    return known.get(leg, "black")


MARKS = {"L1": "M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0", "L2": "M-5 -5H5V5H-5Z", "L3": "M0 -6L6 5H-6Z"}


def mark(leg: str, x: float, y: float, hue: str) -> Shape:
    """Return a leg's mark: round, square, triangle."""
    return Shape(f"fill-{hue}", x, y, d=MARKS.get(leg, MARKS["L1"]))


def arrow(look: str, x: float, y: float, dx: float, dy: float, width: float = 2.4) -> list[Shape]:
    """Return an arrow from a place, so far; its head is part of its length."""
    size = (dx * dx + dy * dy) ** 0.5
    if size < _LEAST:
        return []
    head = min(9.0, size * 0.5)
    ux, uy = dx / size, dy / size
    back_x, back_y = dx - ux * head, dy - uy * head
    tip = f"M{dx:.1f} {dy:.1f}L{back_x - uy * head * 0.45:.1f} {back_y + ux * head * 0.45:.1f}"
    tip += f"L{back_x + uy * head * 0.45:.1f} {back_y - ux * head * 0.45:.1f}Z"
    return [
        Shape(f"wire-{look}", x, y, d=f"M0 0L{back_x:.1f} {back_y:.1f}", width=width),
        Shape(f"fill-{look}", x, y, d=tip),
    ]


_LEAST = 0.8
