"""A pen: collects the shapes of a sketch, and writes words that stay inside it."""

from collections.abc import Iterable

from web.drawing.letters import fitted
from web.drawing.shapes import Drawing, Group, Shape
from web.drawing.symbols import breaker

WIDTH = 690.0
_EDGE = 4.0  # what words keep from the edge of the sheet


class Pen:
    """Draws one sketch."""

    def __init__(self, height: float, width: float = WIDTH) -> None:
        self.width, self.height = width, height
        self._shapes: list[Shape] = []
        self._groups: list[Group] = []

    def line(self, look: str, d: str, width: float = 0.0) -> None:
        """Draw a path."""
        self._shapes.append(Shape(look, d=d, width=width))

    def dots(self, look: str, r: float, *places: tuple[float, float]) -> None:
        """Draw circles of one size."""
        self._shapes += [Shape(look, x, y, r=r) for x, y in places]

    def box(self, look: str, x: float, y: float, wide: float, high: float) -> None:
        """Draw a rectangle."""
        self.line(look, f"M{x:g} {y:g}h{wide:g}v{high:g}h{-wide:g}Z")

    def say(self, look: str, x: float, y: float, text: str, anchor: str = "", room: float = 0.0) -> None:
        """Write words at a place; what is wider than its room, or than the sheet, is cut and kept as its title."""
        if not text:
            return
        most = {"": self.width - x, "end": x, "mid": 2 * min(x, self.width - x)}[anchor] - _EDGE
        short = fitted(text, look, min(most, room or most))
        self._shapes.append(Shape(look, x, y, text=short, title=text if short != text else "", anchor=anchor))

    def put(self, shapes: Iterable[Shape], x: float = 0.0, y: float = 0.0) -> None:
        """Draw shapes at a place."""
        self._shapes += [shape.moved(x, y) for shape in shapes]

    def breakers(self, iec: bool, x: float, ys: Iterable[float]) -> None:
        """Draw a circuit breaker in each of several wires."""
        for y in ys:
            self.put(breaker(iec), x, y)

    def wires(self, ys: Iterable[float], start: float, end: float, look: str = "core") -> None:
        """Draw conductors from one place to another."""
        self.line(look, "".join(f"M{start:g} {y:g}H{end:g}" for y in ys))

    def group(self, key: str, title: str, does: str, sets: str, pressed: bool) -> None:
        """Make what was drawn since the last group one that can be pressed."""
        self._groups.append(Group(key, title, 0, 0, tuple(self._shapes), does=does, sets=sets, pressed=pressed))
        self._shapes = []

    def behind(self) -> None:
        """Let what was drawn so far lie behind all that comes."""
        self._groups.append(Group("behind", "", 0, 0, tuple(self._shapes)))
        self._shapes = []

    def drawing(self) -> Drawing:
        """Return the sketch."""
        rest = [Group("sketch", "", 0, 0, tuple(self._shapes))] if self._shapes else []
        return Drawing(self.width, self.height, [*self._groups, *rest])
