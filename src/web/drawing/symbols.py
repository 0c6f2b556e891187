"""Symbols of single-line drawings: IEEE 315 for NEC jobs, IEC 60617 for the others (common practice where
a standard leaves a choice). Each stands around its middle, wires come from the left or from above."""

from voltaje.path.kinds import said_of
from web.drawing.shapes import Shape

R = 11.0


def _line(d: str) -> Shape:
    return Shape("line", d=d)


def _letter(text: str, y: float = 4.0) -> Shape:
    return Shape("letter", 0, y, text=text)


def _box() -> Shape:
    return Shape("open", d=f"M{-R} {-R}H{R}V{R}H{-R}Z")


def _circle() -> Shape:
    return Shape("open", r=R)


def breaker(iec: bool) -> list[Shape]:
    """A circuit breaker in a horizontal wire, 24 long."""
    gap = Shape("gap", d="M-12 -7H12V7H-12Z")
    if iec:
        # A blade that opens upward, and the cross of a breaker at its fixed contact.
        return [gap, _line("M-12 0H-8L9 -8M8 0H12"), _line("M5 -3.5L11 3.5M5 3.5L11 -3.5")]
    return [gap, _line("M-11 -1C-7 -11 7 -11 11 -1"), Shape("solid", -11, 0, r=1.8), Shape("solid", 11, 0, r=1.8)]


_UPRIGHT = {
    "M-12 -7H12V7H-12Z": "M-7 -12H7V12H-7Z",
    "M-11 -1C-7 -11 7 -11 11 -1": "M1 -11C11 -7 11 7 1 11",
    "M-12 0H-8L9 -8M8 0H12": "M0 -12V-8L-8 9M0 8V12",
    "M5 -3.5L11 3.5M5 3.5L11 -3.5": "M-3.5 5L3.5 11M3.5 5L-3.5 11",
}


def breaker_down(iec: bool) -> list[Shape]:
    """A circuit breaker in a vertical wire, 24 long."""
    turned = []
    for shape in breaker(iec):
        if shape.d:
            turned.append(Shape(shape.look, d=_UPRIGHT[shape.d]))
        else:
            turned.append(Shape(shape.look, shape.y, shape.x, r=shape.r))
    return turned


def source(_iec: bool) -> list[Shape]:
    """A supply: an alternating source."""
    return [Shape("open", r=R + 2), _line("M-7 0C-4 -7 -2 -7 0 0S4 7 7 0")]


def transformer(iec: bool) -> list[Shape]:
    """A transformer in a vertical wire, 44 tall: two circles, or two coils."""
    if iec:
        return [Shape("open", 0, -7, r=R), Shape("line", 0, 7, r=R)]
    loops = "c0 9 11 9 11 0c0 9 11 9 11 0c0 9 11 9 11 0"
    upper, lower = f"M-16.5 -12{loops}", f"M-16.5 12{loops.replace('9 ', '-9 ')}"
    return [Shape("gap", d="M-18 -16H18V16H-18Z"), _line(upper), _line(lower), _line("M-18 -1.6H18M-18 1.6H18")]


def autotransformer(iec: bool) -> list[Shape]:
    """An autotransformer in a vertical wire, 44 tall: one circle with an arc onto it, or one coil that is tapped."""
    if iec:
        return [Shape("open", 0, 2, r=R), _line(f"M0 -16C15 -16 19 -6 {R:g} 2")]
    loops = "c0 10 9 10 9 0" * 4
    return [
        Shape("gap", d="M-20 -16H20V16H-20Z"),
        _line(f"M0 -16V-12.5H-18V2{loops}"),
        _line("M-12 -4H18M-12 -7.2H18"),
        _line("M0 2V16"),
    ]


def motor(_iec: bool) -> list[Shape]:
    """A motor."""
    return [_circle(), _letter("M")]


def heater(iec: bool) -> list[Shape]:
    """A heating resistor: a zigzag in a box, or a box with bars."""
    if iec:
        return [Shape("open", d=f"M{-R} -6H{R}V6H{-R}Z"), _line("M-5.5 -6V6M0 -6V6M5.5 -6V6")]
    return [_box(), _line("M-8 0L-6 -5L-3 5L0 -5L3 5L6 -5L8 0")]


def lamp(_iec: bool) -> list[Shape]:
    """A lamp: a circle with a cross."""
    return [_circle(), _line("M-7.8 -7.8L7.8 7.8M-7.8 7.8L7.8 -7.8")]


def socket(iec: bool) -> list[Shape]:
    """A socket: a half circle on a stem, or a circle with two bars."""
    if iec:
        return [_line("M9 -9A9 9 0 0 0 9 9M0 0H-11M9 -11V11")]
    return [_circle(), _line("M-4 -11V11M4 -11V11")]


def charger(_iec: bool) -> list[Shape]:
    """A vehicle charger."""
    return [_box(), _letter("EV")]


def inverter(_iec: bool) -> list[Shape]:
    """An inverter: direct to alternating."""
    return [_box(), _line(f"M{-R} {R}L{R} {-R}"), _line("M-8 -7H-2M-8 -4H-2"), _line("M2 6C3 3 4.5 3 5.5 6S8 9 9 6")]


def dwelling(_iec: bool) -> list[Shape]:
    """A house."""
    return [Shape("open", d="M-11 11V-2L0 -12L11 -2V11Z")]


def cooler(_iec: bool) -> list[Shape]:
    """Cooling equipment."""
    return [_circle(), _line("M0 -8V8M-7 -4L7 4M-7 4L7 -4")]


def appliance(_iec: bool) -> list[Shape]:
    """Any other load."""
    return [_box()]


def earth() -> list[Shape]:
    """An earth below a wire."""
    return [_line("M0 0V7M-8 7H8M-5 11H5M-2 15H2")]


def board(_iec: bool) -> list[Shape]:
    """A board, for lists: a bar with three ways."""
    return [_line("M-8 -10V10M-8 -6H9M-8 0H9M-8 6H9")]


def windings(_iec: bool) -> list[Shape]:
    """A transformer, for lists."""
    return [Shape("line", -5, 0, r=7), Shape("line", 5, 0, r=7)]


def spare(_iec: bool) -> list[Shape]:
    """A spare, for lists: a device that feeds nothing."""
    return [_line("M-11 0H-6M-6 0L7 -7M7 0H11")]


def space(_iec: bool) -> list[Shape]:
    """A space, for lists: an empty way."""
    return [_line("M-11 0H-6M6 0H11")]


SYMBOLS = {
    "spare": spare,
    "space": space,
    "board": board,
    "transformer": windings,
    "motor": motor,
    "heater": heater,
    "lamp": lamp,
    "socket": socket,
    "charger": charger,
    "cooler": cooler,
    "inverter": inverter,
    "dwelling": dwelling,
    "source": source,
}


def symbol(kind: str, iec: bool) -> list[Shape]:
    """Return the symbol of a load by its kind."""
    return SYMBOLS.get(said_of(kind).glyph, appliance)(iec)
